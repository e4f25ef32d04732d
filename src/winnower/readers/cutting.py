"""Many texts in one file: where each begins, found or pointed at."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from statistics import median

from winnower.core.dates import guess_day_first, parse_date
from winnower.readers.document import Document, Place, part_of
from winnower.readers.fieldlines import block_starts, label_of, read_fields
from winnower.readers.marked_lines import Marks, with_marked_lines
from winnower.readers.origin_lines import (
    COUNTER,
    dateline,
    find_origin,
    is_marked,
    origin_starts,
    parse_origin,
)

#: How a file can be cut; "line", "begins" and "counter" go by lines.
CUTS = ("file", "heading", "page", "line", "begins", "counter", "fields", "origin", "messages", "bold")
_RULE = re.compile(r"\s*([-=_*#~+·•—–])(?:\s*\1){2,}\s*$")
_MESSAGE = re.compile(
    r"\[?(\d{1,4}[./-]\d{1,2}[./-]\d{1,4})[, ]+(?:at )?(\d{1,2}:\d{2}(?::\d{2})?(?:\s?[ap]\.?m\.?)?)\]?"
    r"(?:\s+[-–]\s+|\s+|:\s+)([^:]{1,60}):\s(.*)$",
    re.IGNORECASE,
)
#: Marks of the direction of writing, which chat programs put before lines and their own words.
_DIRECTION = "\u200e\u200f\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069\u061c"
#: What a chat program writes in the place of a picture or a message that was deleted.
_PLACEHOLDER = re.compile(rf"[{_DIRECTION}].*|<[^<>]{{3,60}}>$")
_MESSAGE_LIKE = re.compile(r"\[?\d{1,4}[./-]\d{1,2}[./-]\d{1,4}[, ]+(?:at )?\d{1,2}:\d{2}")
LEAST_WORDS = 12
DIFFERENT_TITLES = 0.7
#: So much of a line is shown to point at, and compared.
SHAPE_CHARS = 160
ORIGIN, CAPITALS = "\0origin", "\0capitals"


@dataclass(frozen=True)
class Cut:
    """How files are cut; ``line`` is the separating line, one at which a text begins, or the lowest level of
    headings that begin one ("" all of them)."""

    kind: str = "file"
    line: str = ""
    #: Lines of a text that were pointed at, see marked_lines.
    marks: Marks = ()


def guess_cut(document: Document) -> Cut:
    """How a file with several texts is cut; as a whole where nothing speaks for more than one."""
    lines = document.body.split("\n")
    if _share(lines, _message) >= 0.5 and sum(map(bool, map(_message, lines))) >= 4:
        return Cut("messages")
    for cut in (Cut("fields"), Cut("counter"), Cut("origin"), *_rules(lines), Cut("bold")):
        pieces = cut_document(document, cut)
        if len(pieces) >= (2 if cut.kind in ("fields", "counter", "origin") else 3) and _are_texts(
            pieces, cut
        ):
            return cut
    return Cut()


def _message(line: str) -> re.Match[str] | None:
    """The head of a message of a chat, where a line begins one."""
    return _MESSAGE.match(line.lstrip(_DIRECTION))


def _share(lines: Sequence[str], matches: Callable[[str], object]) -> float:
    filled = [line for line in lines if line.strip()]
    return sum(bool(matches(line)) for line in filled) / max(len(filled), 1)


def _rules(lines: Sequence[str]) -> list[Cut]:
    signs: dict[str, str] = {}
    for line in lines:
        if found := _RULE.match(line):
            signs.setdefault(found[1], line.strip())
    return [Cut("line", line) for line in signs.values()]


def _are_texts(pieces: Sequence[Document], cut: Cut) -> bool:
    if cut.kind == "bold" and len({piece.title for piece in pieces}) < len(pieces) * DIFFERENT_TITLES:
        return False  # names of who speaks come again, headlines do not
    words = [len(piece.body.split()) for piece in pieces]
    least = 3 if cut.kind in ("fields", "counter") else LEAST_WORDS
    return median(words) >= least


def cut_document(document: Document, cut: Cut) -> list[Document]:
    """The texts of a file. As a whole where nothing in it is as ``cut`` says."""
    if not document.body:
        return [document]
    if cut.kind == "file":
        return [_with_marked_origin(document)]
    if cut.kind == "messages":
        return _messages(document) or [document]
    if cut.kind in ("heading", "page", "bold"):
        return _at_places(document, cut)
    starts = _starts(document.body.split("\n"), cut)
    if not starts:
        return [document]
    pieces = [_with_head(piece, cut) for piece in _at_lines(document, starts, cut) if piece.body]
    if cut.kind == "origin":  # lines of a contents page say where texts are from, too, and hold none
        pieces = [piece for piece in pieces if len(piece.body.split()) >= LEAST_WORDS] or pieces
    return pieces or [document]


def text_starts(document: Document, cut: Cut) -> list[int]:
    """Numbers of the lines, from 0, at which texts begin."""
    lines = document.body.split("\n")
    if cut.kind == "messages":
        return [at for at, line in enumerate(lines) if _message(line)]
    if cut.kind in ("heading", "page", "bold"):
        return sorted({document.body.count("\n", 0, one.start) for one in _cut_places(document, cut)})
    return [begin for begin, _ in _starts(lines, cut)]


def _starts(lines: Sequence[str], cut: Cut) -> list[tuple[int, int]]:
    """(line at which a text begins, lines to leave out there) in order."""
    if cut.kind == "fields":
        return [(at, 0) for at in block_starts(lines)]
    if cut.kind == "origin":
        return [(at, 0) for at in origin_starts(lines)]
    if cut.kind == "counter":
        found = [(at, m) for at, line in enumerate(lines) if (m := COUNTER.match(line))]
        totals = {m[2] for _, m in found}
        return [(at, 1) for at, _ in found] if len(found) > 1 and len(totals) == 1 else []
    if cut.kind == "line" and cut.line.strip():
        return [(at, 1) for at, line in enumerate(lines) if _alike(line, cut.line)]
    if cut.kind == "begins" and cut.line.strip():
        shape = line_shape(cut.line)
        return [(at, 0) for at, line in enumerate(lines) if line.strip() and line_shape(line) == shape]
    return []


def _alike(line: str, wanted: str) -> bool:
    """The same line; of lines of one sign the length does not matter."""
    rule, given = _RULE.match(line), _RULE.match(wanted)
    if rule and given:
        return rule[1] == given[1]
    return line.strip() == wanted.strip()


def line_shape(line: str) -> str:
    """What lines at which texts begin share: the label of a field, the sign of a rule, that they say outlet and date,
    that they are in capitals, a number wherever one stands, else the words."""
    text = line.strip()
    if rule := _RULE.match(text):
        return rule[1] * 3
    if (label := label_of(text)) is not None:
        return f"{label}:"
    if parse_origin(text) is not None:
        return ORIGIN
    if text.isupper() and len(text.split()) > 1 and len(text) <= SHAPE_CHARS:
        return CAPITALS
    return re.sub(r"\d+", "0", text[:SHAPE_CHARS]).casefold()


def _at_lines(document: Document, starts: Sequence[tuple[int, int]], cut: Cut) -> list[Document]:
    offsets = [0]
    for line in document.body.split("\n"):
        offsets.append(offsets[-1] + len(line) + 1)
    edges = [(offsets[at], offsets[at + leave]) for at, leave in starts] + [(len(document.body),) * 2]
    out = []
    head = document.body[: edges[0][0]].strip()
    if head and (cut.kind == "line" or _is_text(head)):
        out.append(part_of(document, 0, edges[0][0]))
    for (_, low), (high, _) in zip(edges, edges[1:], strict=False):
        out.append(part_of(document, low, high))
    return out


def _is_text(head: str) -> bool:
    """Whether what stands before the first text is one itself: long enough, and no list of contents."""
    lines = [line.strip() for line in head.split("\n") if line.strip()]
    sentences = sum(line.endswith((".", "!", "?", "”", '"')) for line in lines)
    return len(head.split()) >= LEAST_WORDS * 3 and (len(lines) < 4 or sentences * 3 >= len(lines))


def heading_levels(documents: Iterable[Document]) -> dict[int, int]:
    """How many headings there are of each level, by level, the highest first."""
    levels = Counter(p.level for one in documents for p in one.places if p.kind == "heading")
    return dict(sorted(levels.items()))


def _cut_places(document: Document, cut: Cut) -> list[Place]:
    lowest = int(cut.line) if cut.kind == "heading" and cut.line.isdecimal() else None
    return [
        place
        for place in document.places
        if place.kind == cut.kind and (lowest is None or place.level <= lowest)
    ]


def _at_places(document: Document, cut: Cut) -> list[Document]:
    kind, starts = cut.kind, _cut_places(document, cut)
    if not starts:
        return [document]
    edges = [place.start for place in starts] + [len(document.body)]
    labels = [place.label for place in starts]
    if edges[0] > 0:
        edges, labels = [0, *edges], ["", *labels]
    out = []
    for low, high, label in zip(edges, edges[1:], labels, strict=False):
        name = f"{document.title}, page {label}".lstrip(", ") if kind == "page" else label
        piece = part_of(document, low, high, name or document.title)
        if kind != "page" and piece.body.strip() == label and high < len(document.body):
            continue  # a heading over another heading is no text
        if cut.marks:
            piece = with_marked_lines(piece, cut.marks)
        out.append(_with_origin(piece) if kind != "page" and not cut.marks else piece)
    return [piece for piece in out if piece.body]


def _with_head(piece: Document, cut: Cut) -> Document:
    return with_marked_lines(piece, cut.marks) if cut.marks else _with_fields(piece)


def _with_fields(piece: Document) -> Document:
    """A text with what its field lines say; they are no words of it."""
    found = read_fields(piece.body)
    if not found.end:
        return _with_origin(piece)
    words = part_of(piece, found.end, len(piece.body))
    roles = found.roles
    others = {k.capitalize(): v for k, v in roles.items() if k in ("source", "section", "page", "language")}
    return replace(
        words,
        title=roles.get("title", ""),
        author=roles.get("author", piece.author),
        date=roles.get("date", piece.date),
        fields=tuple({**others, **found.others}.items()),
        reason="" if words.body else "There are field lines here and no text.",
    )


def _with_origin(document: Document) -> Document:
    """A text with what its line of origin says; that line and the headline beside it are no words of it."""
    found = find_origin(document.body)
    if found is None:
        return document if document.date else replace(document, date=dateline(document.body))
    words = part_of(document, found.begins, len(document.body), found.title or document.title)
    origin = found.origin
    said = {"Source": origin.source, "Page": origin.page, "Section": origin.section}
    return replace(
        words,
        date=origin.date,
        fields=tuple({name: value for name, value in said.items() if value}.items()),
        notices=document.notices,
        reason="" if words.body else "There is a line of origin here and no text.",
    )


def _with_marked_origin(document: Document) -> Document:
    """A whole file as one text; its line of origin is read where nothing else could be meant by it."""
    found = find_origin(document.body)
    if document.fields or document.date:
        return document
    if found is None or not is_marked(found, document.body):
        return replace(document, date=dateline(document.body))
    read = _with_origin(document)
    return read if read.body else document


def _messages(document: Document) -> list[Document]:
    """A text for each message of a chat, with who wrote it; lines without a sender are the program's own."""
    out: list[Document] = []
    lines: list[str] = []
    head = None
    passed = 0
    written = document.body.split("\n")
    day_first = guess_day_first(found[1] for line in written if (found := _message(line)))

    def close() -> None:
        if head is not None and (body := "\n".join(lines).strip()):
            parsed = parse_date(head[1], day_first)
            date = f"{parsed.isoformat() if parsed else head[1]} {head[2]}"
            out.append(Document(body, author=head[3].strip(), date=date))

    for line in written:
        if found := _message(line):
            close()
            head, lines = found, [found[4]]
            if _PLACEHOLDER.match(found[4]):
                passed += 1
                head = None
        elif _MESSAGE_LIKE.match(line.lstrip(_DIRECTION)):
            passed += 1
        elif head is not None:
            lines.append(line)
    close()
    if passed and out:
        told = f"{passed:,} lines of the program itself are left out."
        out[0] = replace(out[0], notices=(told,))
    return out
