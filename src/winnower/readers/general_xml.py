"""XML of no known standard as a table: the element that comes again and holds the most words is a row."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from typing import Any

from winnower.core.errors import ReadError
from winnower.readers.containers import local, parse_xml
from winnower.readers.problems import Problem
from winnower.readers.tables import MAX_COLUMNS, Batch, in_batches

#: lxml ships no types: an element of its tree.
Element = Any
#: Elements inside a row are followed so deep; what is deeper is read as words.
MAX_DEPTH = 6
JOINER, PARAGRAPHS = "; ", "\n\n"
#: Values that come again in a row are paragraphs where they are longer than this on average.
LONG = 60


class GeneralXmlReader:
    """Rows of an XML file; columns are attributes and children, by path. Raises ReadError where no element comes again."""

    delimiter = ""
    encoding = ""

    def __init__(self, content: bytes, file: str) -> None:
        self.file = file
        self.problems: list[Problem] = []
        self.notices: list[str] = []
        rows = _repeated(parse_xml(content))
        if not rows:
            raise ReadError(
                f"{file} cannot be read as a table: no element in it comes more than once and holds words."
            )
        self._rows = [(element.sourceline or 0, _cells(element)) for element in rows]
        self.header = list(dict.fromkeys(name for _, cells in self._rows for name in cells))
        if len(self.header) > MAX_COLUMNS:
            raise ReadError(
                f"{file} has {len(self.header):,} kinds of elements; at most {MAX_COLUMNS:,} can be read."
            )
        self.notices.append(f"Each <{local(rows[0])}> is read as a text.")

    def batches(self) -> Iterator[Batch]:
        """The rows in the order of the file."""
        return in_batches((line, [cells.get(name, "") for name in self.header]) for line, cells in self._rows)


def _repeated(root: Element) -> list[Element]:
    """The elements of one name under parents of one path that hold the most words, at least two; of several such, those
    that lie outermost."""
    groups: dict[tuple[str, ...], list[Element]] = defaultdict(list)

    def collect(element: Element, path: tuple[str, ...]) -> None:
        for child in element:
            if isinstance(child.tag, str):
                here = (*path, local(child))
                groups[here].append(child)
                if len(here) < MAX_DEPTH:
                    collect(child, here)

    collect(root, ())
    several = {
        path: found for path, found in groups.items() if len(found) > 1 and any(len(one) for one in found)
    }
    if not several:  # elements that hold nothing but words
        several = {path: found for path, found in groups.items() if len(found) > 1}
    if not several:
        return []
    words = {
        path: sum(len("".join(one.itertext()).split()) for one in found) for path, found in several.items()
    }
    most = max(words.values())
    best = min((path for path in several if words[path] * 10 >= most * 9 and most), key=len, default=None)
    return several[best] if best else []


def _cells(element: Element) -> dict[str, str]:
    found: dict[str, list[str]] = defaultdict(list)

    def take(one: Element, path: str, depth: int) -> None:
        for name, value in one.attrib.items():
            key = str(name).rsplit("}", 1)[-1]
            found[f"{path}.{key}" if path else key].append(str(value))
        children = [child for child in one if isinstance(child.tag, str)]
        mixed = (one.text or "").strip() or any((child.tail or "").strip() for child in children)
        if not children or mixed or depth >= MAX_DEPTH:
            if words := " ".join("".join(one.itertext()).split()):
                found[path or "text"].append(words)
            return
        for child in children:
            take(child, f"{path}.{local(child)}" if path else local(child), depth + 1)

    take(element, "", 0)
    out = {}
    for name, values in found.items():
        long = sum(map(len, values)) > LONG * len(values)
        out[name] = (PARAGRAPHS if long else JOINER).join(values)
    return out
