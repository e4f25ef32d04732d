"""A codebook from a table (CSV, Excel, OpenDocument) or the open exchange format for codebooks (.qdc)."""

from __future__ import annotations

import io
from collections.abc import Sequence
from pathlib import Path

from lxml import etree

from winnower.core.cells import as_given
from winnower.core.coding.codebook_table import (
    MAX_DEPTH,
    CodebookGiven,
    CodeGiven,
    codebook_from_rows,
)
from winnower.core.errors import ReadError, WinnowerError
from winnower.core.tree import MAX_NAME
from winnower.readers.files import Origin
from winnower.readers.tables import TableReader

WORKBOOKS = (".xlsx", ".xlsm", ".xls", ".ods")
MOST_CODES = 5_000
#: The ten colours by their hue, so that one of another program becomes the one most like it.
_COLOURS = (
    (185, 119, 14), (27, 127, 121), (180, 71, 43), (124, 74, 134), (47, 109, 168), (107, 122, 30), (161, 61, 107),
    (79, 91, 102), (122, 82, 48), (61, 139, 90),
)  # fmt: skip


def read_codebook_bytes(content: bytes, name: str, head: bool | None = None) -> CodebookGiven:
    """Read a codebook file; ``head`` says whether a table's first row names its columns, None: find out.

    Raises ReadError or WinnowerError.
    """
    if not content.strip():
        raise ReadError(f"{name} is empty.")
    ending = Path(name).suffix.lower()
    if ending == ".qdc" or content.lstrip()[:5] == b"<?xml":
        found = _from_exchange(content, name)
    else:
        reader = (
            workbook_reader(content, name) if ending in WORKBOOKS else TableReader(io.BytesIO(content), name)
        )
        rows = [
            (line, [as_given(cell) for cell in cells])
            for batch in reader.batches()
            for line, cells in zip(batch.lines, batch.rows, strict=True)
        ]
        read = codebook_from_rows(reader.header, rows, head)
        bad = [(problem.row, problem.reason) for problem in reader.problems]
        found = CodebookGiven(read.codes, tuple(sorted([*read.refused, *bad])), read.groups, read.doubles)
    if len(found.codes) > MOST_CODES:
        raise WinnowerError(
            f"The file holds {len(found.codes):,} codes; at most {MOST_CODES:,} can be taken at once."
        )
    return found


def workbook_reader(content: bytes, name: str):  # type: ignore[no-untyped-def]
    from winnower.readers.sheets import SheetReader, open_workbook

    origin = Origin(name, "sheets", len(content), lambda: io.BytesIO(content))
    book = open_workbook(origin)
    return SheetReader(origin, book, book.sheet_names[0])


def _from_exchange(content: bytes, name: str) -> CodebookGiven:
    parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False)
    try:
        root = etree.fromstring(content, parser)
    except etree.XMLSyntaxError as error:
        raise ReadError(
            f"{name} is not whole: it breaks off or is damaged near line {error.lineno}."
        ) from error
    declared = root.getroottree().docinfo.internalDTD
    if declared is not None and list(declared.iterentities()):
        raise ReadError(
            f"{name} declares entities of its own, which a codebook does not need. It was not read."
        )
    top = _child(root, "Codes")
    if etree.QName(root).localname != "CodeBook" or top is None:
        raise ReadError(f"{name} holds no codebook.")
    groups = _groups(root)
    codes: list[CodeGiven] = []
    refused: list[tuple[int, str]] = []
    _read_codes(top, (), groups, codes, refused)
    if not codes:
        raise ReadError(f"{name} holds no codes.")
    named = tuple(dict.fromkeys(group for one in codes for group in one.groups))
    once = {one.path: one for one in reversed(codes)}
    kept = tuple(one for one in codes if once.get(one.path) is one)
    return CodebookGiven(kept, tuple(refused), named, len(codes) - len(kept))


def _read_codes(
    element: etree._Element,
    above: tuple[str, ...],
    groups: dict[str, list[str]],
    codes: list[CodeGiven],
    refused: list[tuple[int, str]],
) -> None:
    waiting: list[tuple[etree._Element, tuple[str, ...]]] = [(element, above)]
    while waiting:
        parent, path_above = waiting.pop()
        inner: list[tuple[etree._Element, tuple[str, ...]]] = []
        for one in parent:
            if not isinstance(one.tag, str) or etree.QName(one).localname != "Code":
                continue
            name = " ".join((one.get("name") or "").split())
            line = int(one.sourceline or 0)
            path = (*path_above, name)
            if not name or len(name) > MAX_NAME:
                refused.append(
                    (line, f"A code has {'no name' if not name else f'a name of {len(name)} characters'}.")
                )
                continue
            if len(path) > MAX_DEPTH:
                refused.append(
                    (line, f"“{name}” lies {len(path)} levels deep; at most {MAX_DEPTH} can be kept.")
                )
                continue
            values: dict[str, object] = {}
            said = _child(one, "Description")
            if said is not None and "".join(said.itertext()).strip():
                values |= parted("".join(said.itertext()).strip())
            if (colour := _nearest(one.get("color") or "")) is not None:
                values["colour"] = colour
            codes.append(CodeGiven(path, values, tuple(groups.get(one.get("guid") or "", ()))))
            inner.append((one, path))
        waiting += reversed(inner)


def parted(said: str) -> dict[str, object]:
    """A description with its rule and examples, as our own files put them into one."""
    heads = {"Rule: ": "rule", "Example: ": "example", "Counter-example: ": "counter_example"}
    out: dict[str, list[str]] = {"description": []}
    now = "description"
    for line in said.split("\n"):
        head = next((head for head in heads if line.startswith(head)), "")
        if head and heads[head] not in out:
            now = heads[head]
            out[now] = []
            line = line[len(head) :]
        out[now].append(line)
    return {name: "\n".join(lines).strip() for name, lines in out.items() if any(lines)}


def _groups(root: etree._Element) -> dict[str, list[str]]:
    """Names of the sets each code is in, by the code's identifier."""
    out: dict[str, list[str]] = {}
    sets = _child(root, "Sets")
    for one in sets if sets is not None else ():
        name = " ".join((one.get("name") or "").split())[:MAX_NAME]
        if not isinstance(one.tag, str) or not name:
            continue
        for member in one:
            if isinstance(member.tag, str) and etree.QName(member).localname == "MemberCode":
                out.setdefault(member.get("guid") or member.get("targetGUID") or "", []).append(name)
    return out


def _child(element: etree._Element, name: str) -> etree._Element | None:
    for one in element:
        if isinstance(one.tag, str) and etree.QName(one).localname == name:
            return one
    return None


def _nearest(written: str) -> int | None:
    """The colour most like one written as #rrggbb."""
    sign = written.strip().lstrip("#")
    if len(sign) != 6 or any(c not in "0123456789abcdefABCDEF" for c in sign):
        return None
    given: Sequence[int] = [int(sign[at : at + 2], 16) for at in (0, 2, 4)]
    return min(range(10), key=lambda at: sum((a - b) ** 2 for a, b in zip(_COLOURS[at], given, strict=True)))
