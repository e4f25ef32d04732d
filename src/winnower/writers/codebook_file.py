"""A codebook as a table, and in the open exchange format for codebooks (REFI-QDA, .qdc)."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from typing import NamedTuple

from lxml import etree

from winnower.writers.listing import Column, listing_csv, listing_xlsx
from winnower.writers.xml_text import xml_text

_SPACE = "urn:QDA-XML:codebook:1.0"
#: The ten colours as the interface shows them by day.
COLOURS = (
    "#b9770e", "#1b7f79", "#b4472b", "#7c4a86", "#2f6da8", "#6b7a1e", "#a13d6b", "#4f5b66", "#7a5230", "#3d8b5a",
)  # fmt: skip


class CodeEntry(NamedTuple):
    """A code with its counts; ``path`` are its names from the top down."""

    id: int
    parent_id: int | None
    path: tuple[str, ...]
    description: str
    rule: str
    example: str
    counter_example: str
    colour: int
    symbol: str
    technical: bool
    passages: int
    texts: int
    groups: tuple[str, ...] = ()


def _columns(codes: Sequence[CodeEntry]) -> list[Column]:
    return [
        Column("code", [" > ".join(code.path) for code in codes]),
        Column("level", [len(code.path) for code in codes]),
        Column("description", [code.description for code in codes]),
        Column("rule", [code.rule for code in codes]),
        Column("example", [code.example for code in codes]),
        Column("counter-example", [code.counter_example for code in codes]),
        Column("colour", [code.colour % 10 + 1 for code in codes]),
        Column("symbol", [code.symbol for code in codes]),
        Column("technical", ["yes" if code.technical else "" for code in codes]),
        Column("passages", [code.passages for code in codes]),
        Column("texts", [code.texts for code in codes]),
        *(Column(name, ["x" if name in one.groups else "" for one in codes]) for name in _groups(codes)),
    ]


def _groups(codes: Sequence[CodeEntry]) -> list[str]:
    """Names of the groups in the order they come up; each is a column of its own."""
    return list(dict.fromkeys(name for one in codes for name in one.groups))


def codebook_csv(codes: Sequence[CodeEntry]) -> str:
    return listing_csv(_columns(codes))


def codebook_xlsx(codes: Sequence[CodeEntry], scope: str) -> bytes:
    """With a sheet that says what was counted."""
    said = (
        f"Passages and texts of {scope}. A code counts all codes below it, the same words of one coder once."
    )
    return listing_xlsx(_columns(codes), [("Codebook", said, "")])


def codebook_qdc(codes: Sequence[CodeEntry], project_id: int) -> bytes:
    """The codes as nested elements, parents before children; the same code has the same identifier each time."""
    root = etree.Element(f"{{{_SPACE}}}CodeBook", nsmap={None: _SPACE}, origin="Winnower")
    top = etree.SubElement(root, f"{{{_SPACE}}}Codes")
    elements: dict[int | None, etree._Element] = {None: top}
    for code in codes:
        parent = elements.get(code.parent_id, top)
        element = etree.SubElement(
            parent,
            f"{{{_SPACE}}}Code",
            guid=str(uuid.uuid5(uuid.NAMESPACE_URL, f"winnower:{project_id}:code:{code.id}")),
            name=xml_text(code.path[-1]),
            isCodable="true",
            color=COLOURS[code.colour % 10],
        )
        if said := _described(code):
            etree.SubElement(element, f"{{{_SPACE}}}Description").text = xml_text(said)
        elements[code.id] = element
    sets = etree.SubElement(root, f"{{{_SPACE}}}Sets") if _groups(codes) else None
    for name in _groups(codes) if sets is not None else ():
        guid = str(uuid.uuid5(uuid.NAMESPACE_URL, f"winnower:{project_id}:group:{name}"))
        group = etree.SubElement(sets, f"{{{_SPACE}}}Set", guid=guid, name=xml_text(name))
        for one in codes:
            if name in one.groups:
                etree.SubElement(group, f"{{{_SPACE}}}MemberCode", guid=elements[one.id].get("guid"))
    return etree.tostring(root, xml_declaration=True, encoding="utf-8", pretty_print=True)


def _described(code: CodeEntry) -> str:
    parts = [
        code.description,
        code.rule and f"Rule: {code.rule}",
        code.example and f"Example: {code.example}",
        code.counter_example and f"Counter-example: {code.counter_example}",
    ]
    return "\n".join(part for part in parts if part)
