"""A report as PDF: pages laid out by Typst from one template, with marks for headings, page numbers in the table of
contents and tags for those who listen. Nothing is fetched, and no word of a text is read as markup."""

from __future__ import annotations

import json
import tempfile
from collections.abc import Mapping
from functools import cache
from pathlib import Path
from typing import Any

from winnower.core.report import (
    Block,
    Figure,
    Grid,
    Heading,
    Missing,
    Picture,
    Prose,
    Quote,
    Report,
    labels_of,
)
from winnower.writers.flow import fit
from winnower.writers.prose import prose_nodes

TEMPLATE = Path(__file__).with_name("report.typ")
#: Those that are there are taken in this order, sign by sign; the first of each comes with Typst or matplotlib.
SERIF = ("Libertinus Serif", "FreeSerif", "Droid Sans Fallback", "Symbola", "DejaVu Sans")
SANS = ("FreeSans", "DejaVu Sans", "Droid Sans Fallback", "Symbola")
#: Headings down to this level are in the table of contents.
DEEPEST = 2


def report_pdf(report: Report, pictures: Mapping[str, Picture]) -> bytes:
    """The whole report; pictures as SVG, by the names of its drawings. The same report is the same file."""
    # who lays out pages is loaded by who wants it
    import typst

    labels = labels_of(report)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        blocks = [
            _block(block, labels.get(place, ""), place, pictures, folder)
            for place, block in enumerate(report.blocks())
        ]
        shown = [one for one in blocks if one["kind"] == "heading" and one["level"] <= DEEPEST]
        plain = {
            "title": fit(report.title),
            "lines": [fit(line) for line in report.lines],
            "contents": len(shown) > 1,
            "serif": _there(SERIF),
            "sans": _there(SANS),
            "blocks": blocks,
        }
        (folder / "report.json").write_text(json.dumps(plain))
        (folder / "report.typ").write_bytes(TEMPLATE.read_bytes())
        found: bytes = typst.compile(
            folder / "report.typ", root=folder, font_paths=_fonts(), format="pdf", timestamp=0
        )
    return found


@cache
def _fonts() -> Any:
    """Those of the machine, of Typst and of matplotlib."""
    import matplotlib as mpl
    import typst

    return typst.Fonts(font_paths=[str(Path(mpl.get_data_path()) / "fonts" / "ttf")])


def _there(names: tuple[str, ...]) -> list[str]:
    known = set(_fonts().families())
    return [name for name in names if name in known]


def _block(
    block: Block, label: str, place: int, pictures: Mapping[str, Picture], folder: Path
) -> dict[str, Any]:
    if isinstance(block, Heading):
        return {"kind": "heading", "level": min(block.level, 6), "words": fit(block.words)}
    if isinstance(block, Prose):
        return {"kind": "prose", "body": prose_nodes(fit(block.body))}
    if isinstance(block, Quote):
        return {"kind": "quote", "words": fit(block.words), "origin": fit(block.origin)}
    if isinstance(block, Missing):
        return {"kind": "missing", "words": fit(block.words)}
    said = {"label": label, "caption": fit(block.caption), "note": fit(block.note)}
    if isinstance(block, Grid):
        return said | {
            "kind": "grid",
            "columns": [{"name": fit(one.name), "number": one.number} for one in block.columns],
            "rows": [[fit(cell) for cell in row] for row in block.rows],
        }
    assert isinstance(block, Figure)
    picture = pictures.get(block.drawing, "This picture is gone.")
    if isinstance(picture, str):
        return said | {"kind": "figure", "file": None, "missing": fit(picture)}
    file = folder / f"{place}.svg"
    file.write_bytes(picture)
    return said | {"kind": "figure", "file": file.name, "missing": ""}
