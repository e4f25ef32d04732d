"""Texts in the open XML standards of journals, editions and parliaments: JATS, TEI, Akoma Ntoso.

Titles, dates, who wrote, who speaks and headings come from the marks; the words are those a reader sees.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from dataclasses import replace
from typing import Any

from winnower.core.errors import ReadError
from winnower.readers.containers import local, parse_xml
from winnower.readers.document import Assembler, Document, Place, Remark

#: lxml ships no types: an element of its tree.
Element = Any
_ROOT = re.compile(rb"<(?:[\w.-]+:)?(article|TEI|teiCorpus|TEI\.2|akomaNtoso)[\s>]")
#: What an article of a web feed or a list of products, which may be called the same, has none of.
_JATS = re.compile(rb"<(?:front|article-meta|body)[\s>]|article-type=|dtd-version=")
#: Deeper marks are read as words of what they stand in.
MAX_DEPTH = 150


def is_marked_up(head: bytes) -> bool:
    """Whether the first bytes of an XML file are those of one of the standards read here."""
    found = _ROOT.search(head)
    return found is not None and (found[1] != b"article" or bool(_JATS.search(head)))


def read_marked_up(content: bytes, name: str, limit_chars: int) -> list[Document]:
    """The texts of a file; a corpus holds several. Raises ReadError."""
    root = parse_xml(content)
    kind = local(root)
    if kind == "akomaNtoso":
        return [_record(root, limit_chars)]
    if kind == "article":
        return [_article(root, limit_chars)]
    texts = [one for one in root.iter() if local(one) in ("TEI", "TEI.2")]
    if not texts:
        raise ReadError("There is no text in this corpus.")
    return [_edition(one, limit_chars) for one in texts]


# names of elements


def _all(element: Element, *names: str) -> Iterator[Element]:
    """The descendants with one of these names, in order."""
    return (one for one in element.iter() if local(one) in names)


def _first(element: Element | None, *path: str) -> Element | None:
    """The first descendant at a path of names."""
    for name in path:
        if element is None:
            return None
        element = next((one for one in _all(element, name)), None)
    return element


def _words(element: Element | None, leave: frozenset[str] = frozenset()) -> str:
    """The words in an element, white space as one space; what stands in elements of ``leave`` is left out."""
    if element is None:
        return ""
    pieces: list[str] = []

    def take(one: Element, depth: int) -> None:
        if local(one) in leave or not isinstance(one.tag, str):
            return
        if depth > MAX_DEPTH:
            pieces.extend(str(part) for part in one.itertext())
            return
        pieces.append(one.text or "")
        for child in one:
            take(child, depth + 1)
            pieces.append(child.tail or "")

    take(element, 0)
    return " ".join("".join(pieces).split())


def _walk(
    element: Element,
    out: Assembler,
    handle: Callable[[Element, int], bool],
    level: int = 0,
    depth: int = 0,
) -> None:
    """Every descendant that ``handle`` does not deal with itself; elements that hold words and nothing known are
    paragraphs."""
    for child in element:
        if not isinstance(child.tag, str) or handle(child, level):
            continue
        if depth > MAX_DEPTH or not len(child) or (child.text or "").strip():
            out.paragraph(_words(child))
        else:
            _walk(child, out, handle, level + 1, depth + 1)


# JATS

_APART = frozenset({"fn", "xref-group", "object-id", "inline-graphic", "disp-formula", "tex-math"})
_SKIPPED = {
    "table-wrap",
    "fig",
    "ref-list",
    "fn-group",
    "supplementary-material",
    "label",
    "graphic",
    "media",
    "sec-meta",
}


def _article(root: Element, limit_chars: int) -> Document:
    meta = _first(root, "article-meta")
    holder = meta if meta is not None else root
    out = Assembler(limit_chars)

    def handle(child: Element, level: int) -> bool:
        name = local(child)
        if name in _SKIPPED:
            return True
        if name in ("title", "subtitle"):
            out.paragraph(_words(child, _APART), max(level, 1))
            return True
        if name in ("p", "disp-quote", "verse-line", "attrib"):
            out.paragraph(_words(child, _APART))
            return True
        return False

    body = _first(root, "body")
    if body is not None:
        _walk(body, out, handle)
    for abstract in _all(holder, "abstract"):
        out.remarks.append(
            Remark("\n\n".join(_words(p) for p in _all(abstract, "p")) or _words(abstract), "Abstract")
        )
    people = [
        " ".join(
            part for part in (_words(_first(one, "given-names")), _words(_first(one, "surname"))) if part
        )
        for one in _all(holder, "contrib")
        if one.get("contrib-type", "author") == "author"
    ]
    fields = {
        "Source": _words(_first(root, "journal-title")),
        "Authors": "; ".join(filter(None, people)),
        "DOI": next(
            (_words(one) for one in _all(holder, "article-id") if one.get("pub-id-type") == "doi"), ""
        ),
        "Keywords": "; ".join(_words(one) for one in _all(holder, "kwd")),
        "Kind of article": root.get("article-type", ""),
    }
    document = out.document(
        _words(_first(holder, "article-title"), _APART),
        (people or [""])[0],
        _jats_date(holder),
        "The article has no body.",
    )
    return _with(document, fields)


def _jats_date(meta: Element) -> str:
    """The day an article was published, as much as is said of it."""
    dates = sorted(
        _all(meta, "pub-date", "date"), key=lambda one: (local(one) != "pub-date", _first(one, "day") is None)
    )
    for one in dates:
        year, month, day = (_words(_first(one, name)) for name in ("year", "month", "day"))
        if year:
            if month.isdecimal():
                return "-".join(part.zfill(2) for part in (year, month, day) if part)
            return " ".join(part for part in (day, month, year) if part)
    return ""


# TEI

_TEI_APART = frozenset({"note", "fw", "figure", "graphic", "gap", "del"})


def _edition(root: Element, limit_chars: int) -> Document:
    header = _first(root, "teiHeader")
    out = Assembler(limit_chars)
    names = {
        one.get("{http://www.w3.org/XML/1998/namespace}id") or "": _words(_first(one, "persName"))
        or _words(one)
        for one in _all(root, "person")
    }

    def handle(child: Element, level: int) -> bool:
        name = local(child)
        if name in ("note", "fw", "figure", "graphic", "gap"):
            if name == "note":
                out.remark(_words(child), child.get("resp", "").lstrip("#"))
            return True
        if name == "pb":
            out.page(child.get("n", ""))
            return True
        if name == "head":
            out.paragraph(_words(child, _TEI_APART), max(level, 1))
            return True
        if name in (
            "p",
            "ab",
            "l",
            "quote",
            "item",
            "byline",
            "dateline",
            "opener",
            "closer",
            "trailer",
            "stage",
        ):
            _paragraph(child, out)
            return True
        if name in ("sp", "u"):
            _speech(child, out, names)
            return True
        return False

    text = _first(root, "text")
    if text is not None:
        _walk(text, out, handle)
    dated = next((one for one in _all(root, "date") if one.get("when")), None)
    date = dated.get("when", "") if dated is not None else _words(_first(header, "date"))
    author = _words(_first(header, "author"))
    fields = {
        "Source": _words(_first(header, "sourceDesc", "publisher")) or _words(_first(header, "publisher")),
        "Author": author,
    }
    document = out.document(_words(_first(header, "title")), author, date, "The edition has no text.")
    return _with(document, fields)


def _paragraph(element: Element, out: Assembler) -> None:
    """A paragraph; notes in it are remarks, pages that begin in it are noted before it."""
    for inner in _all(element, "pb"):
        out.page(inner.get("n", ""))
    for inner in _all(element, "note"):
        out.remark(_words(inner), inner.get("resp", "").lstrip("#"))
    out.paragraph(_words(element, _TEI_APART))


def _speech(element: Element, out: Assembler, names: dict[str, str]) -> None:
    """What somebody says, as a turn; the name is no word of it."""
    who = (element.get("who") or "").split(" ")[0].lstrip("#")
    name = names.get(who) or _words(_first(element, "speaker")) or who
    said = [one for one in element if isinstance(one.tag, str) and local(one) not in ("speaker", "note")]
    lines = (
        [_words(one, _TEI_APART) for one in said]
        if said and not (element.text or "").strip()
        else [_words(element, _TEI_APART)]
    )
    _turn(out, name, lines)


def _turn(out: Assembler, name: str, paragraphs: list[str]) -> None:
    starts = [start for words in paragraphs if (start := out.paragraph(words)) is not None]
    if starts and name:
        out.places.append(Place("turn", starts[0], name.rstrip(".: ")[:300]))


# Akoma Ntoso


def _record(root: Element, limit_chars: int) -> Document:
    out = Assembler(limit_chars)
    names = {one.get("eId") or one.get("id") or "": one.get("showAs", "") for one in _all(root, "TLCPerson")}

    def handle(child: Element, level: int) -> bool:
        name = local(child)
        if name in ("meta", "num"):
            return True
        if name in ("heading", "subheading", "docTitle"):
            out.paragraph(_words(child), max(level, 1))
            return True
        if name in ("speech", "question", "answer", "speechGroup") and (
            child.get("by") or _first(child, "from") is not None
        ):
            who = (child.get("by") or "").lstrip("#")
            speaker = names.get(who) or _words(_first(child, "from")) or who
            _turn(
                out,
                speaker,
                [_words(one) for one in _all(child, "p")] or [_words(child, frozenset({"from"}))],
            )
            return True
        if name in ("p", "narrative", "scene", "summary"):
            out.paragraph(_words(child))
            return True
        return False

    main = next(iter(root), root)
    _walk(main, out, handle)
    day = next((one.get("date", "") for one in _all(root, "FRBRdate") if one.get("date")), "")
    title = _words(_first(root, "docTitle")) or next(
        (one.get("value", "") for one in _all(root, "FRBRalias")), ""
    )
    session = _words(_first(root, "session")) or _words(_first(root, "legislature"))
    document = out.document(title or _words(_first(root, "heading")), "", day, "The record holds no words.")
    return _with(document, {"Kind of record": local(main), "Session": session})


def _with(document: Document, fields: dict[str, str]) -> Document:
    places = tuple(sorted(document.places, key=lambda place: place.start))
    return replace(
        document, places=places, fields=tuple((name, value) for name, value in fields.items() if value)
    )
