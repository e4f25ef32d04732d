"""A first look at documents: how they are cut, who speaks, how they are named."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from winnower.jobs.documents import cut_all, read_documents
from winnower.jobs.look import ROWS_SHOWN, CutLine, CutLook, FirstLook, LotLook
from winnower.jobs.look_summary import LookSummary
from winnower.readers import Lot, LotChoice, Mapping
from winnower.readers.candidates import source_choices
from winnower.readers.cutting import SHAPE_CHARS, Cut, cut_document, guess_cut, heading_levels, text_starts
from winnower.readers.dated_names import are_dated
from winnower.readers.document import Document
from winnower.readers.documents import cut_rows, document_header
from winnower.readers.earlier import with_kinds
from winnower.readers.fieldlines import role_of
from winnower.readers.hard_wrap import wrap_width
from winnower.readers.head_fields import head_lines
from winnower.readers.mapping import guess_documents
from winnower.readers.marked_lines import MarkCount, count_marks
from winnower.readers.prepare import Preparer
from winnower.readers.speakers import find_speakers
from winnower.settings import Settings

DOCUMENTS_LOOKED_AT = 12
LINES_SHOWN = 400
LOOK_CHARS = 400_000
MOST_HEAD_FIELDS = 40


def look_at_documents(
    look: FirstLook,
    one: LotLook,
    settings: Settings,
    mapping: Mapping | None,
    chosen: bool,
    kinds: dict[str, str],
) -> None:
    """The first documents of a lot as they would be cut and named; ``kinds`` of the project's variables."""
    some = Lot(one.lot.key, one.lot.kind, one.lot.label, one.lot.header)
    some.origins = _first_origins(one.lot)
    limit = settings.limit_text_chars
    plain = LotChoice(encoding=one.choice.encoding)
    dated = are_dated([origin.name for origin in one.lot.origins])
    read = list(read_documents(some, plain, limit, settings.limit_file_seconds, bold=True, dated=dated))
    complete = [document for found in read for document in found.documents]
    for found in read:  # of a very long file its beginning says how it is cut
        found.documents = [beginning_of(document) for document in found.documents]
    whole = [document for found in read for document in found.documents]
    if not chosen:
        cut = next((c for document in whole if (c := guess_cut(document)).kind != "file"), Cut())
        speakers = any(find_speakers(document) for document in whole)
        if cut.kind != "file":
            mapping, one.kept = None, False
        one.choice = replace(one.choice, cut=cut.kind, cut_line=cut.line, cut_marks={}, speakers=speakers)
    cut = one.choice.how
    heads = _head_fields(whole, one.choice)
    if not chosen and heads:
        one.choice = replace(one.choice, head_fields=_likely_fields(heads, len(whole)))
    how = (cut, one.choice.speakers, one.choice.keep_lines, one.choice.head_fields)
    texts = [(found, cut_all(found.documents, *how)) for found in read]
    pieces = [piece for _, found in texts for piece in found]
    fields = dict.fromkeys(name for piece in pieces for name, _ in piece.fields)
    one.lot.header = document_header(
        [*fields, *(t.column for t in mapping.targets)] if mapping else [*fields]
    )
    one.mapping = mapping or with_kinds(guess_documents(one.lot.kind, pieces), kinds)
    rest = [document for document in complete if len(document.body) > LOOK_CHARS]
    more = sum(len(text_starts(d, cut)) - len(text_starts(beginning_of(d), cut)) for d in rest)
    one.cut = replace(
        _cut_look(whole, cut, len(pieces) + more),
        head_fields=tuple(heads),
        wrapped=0 if cut.kind == "messages" else sum(wrap_width(one.body) > 0 for one in whole),
    )
    preparer = Preparer(one.lot.header, one.mapping, limit)
    rows: list[list[str]] = []
    documents: list[Document] = []
    files: list[str] = []
    for found, cut_texts in texts:
        look.add(found.problems)
        for row, document in cut_rows(cut_texts, found.origin.name, one.lot.header):
            rows.append(row)
            documents.append(document)
            files.append(found.origin.name)
    one.sources = source_choices(one.lot, rows)
    one.rows = [[cell[:500] for cell in row] for row in rows[:ROWS_SHOWN]]
    one.samples = preparer.prepare(rows, range(1, len(rows) + 1), files, documents)
    look.add(preparer.problems)
    summary = LookSummary()
    summary.see(one.samples)
    one.numbers = summary.in_numbers
    look.checked += len(some.origins)
    look.everything &= len(some.origins) == len(one.lot.origins) and not rest


def beginning_of(document: Document) -> Document:
    """The first LOOK_CHARS of a document, to the end of a line."""
    if len(document.body) <= LOOK_CHARS:
        return document
    end = document.body.rfind("\n", 0, LOOK_CHARS)
    end = end if end > 0 else LOOK_CHARS
    places = tuple(place for place in document.places if place.start < end)
    remarks = tuple(remark for remark in document.remarks if (remark.end or 0) <= end)
    return replace(document, body=document.body[:end], places=places, remarks=remarks)


def _cut_look(whole: Sequence[Document], cut: Cut, texts: int) -> CutLook:
    """The lines of the first file, and which of them begin a text."""
    if not whole:
        return CutLook()
    first = next((one for one in whole if len(cut_document(one, cut)) > 1), whole[0])
    begins = set(text_starts(first, cut))
    lines = first.body.split("\n")
    shown = [CutLine(at, line[:SHAPE_CHARS], at in begins) for at, line in enumerate(lines) if line.strip()]
    speakers = next((names for one in whole if (names := find_speakers(one))), [])
    return CutLook(
        texts,
        len(whole),
        tuple(shown[:LINES_SHOWN]),
        tuple(speakers),
        levels=tuple(heading_levels(whole).items()),
        marks=tuple(_count_marks(whole, cut)) if cut.marks else (),
    )


def _head_fields(whole: Sequence[Document], choice: LotChoice) -> list[tuple[str, int]]:
    """Names of lines at the top of texts that are fields perhaps, and in how many texts one stands; the commonest
    first. One that comes in a single text is more likely a heading ("Interview 1: Ann")."""
    pieces: Sequence[Document] = whole
    if choice.how.kind != "file":
        if not choice.speakers:
            return []
        pieces = cut_all(whole, choice.how, False, choice.keep_lines, ())
    counted: Counter[str] = Counter()
    for piece in pieces:
        names = dict.fromkeys(line.name for line in head_lines(piece, choice.speakers) if line.name)
        counted.update(list(names))
    return counted.most_common(MOST_HEAD_FIELDS)


def _likely_fields(heads: Sequence[tuple[str, int]], documents: int) -> list[str]:
    """Names that come again in other texts, and those of known fields; of a single file those of a block of lines,
    unless they are numbered."""
    if documents == 1 and len(heads) > 1:
        return [name for name, _ in heads if not any(sign.isdigit() for sign in name)]
    return [name for name, times in heads if times > 1 or role_of(name.lower())]


def _count_marks(whole: Sequence[Document], cut: Cut) -> list[MarkCount]:
    plain = replace(cut, marks=(("", -1),))  # cut at the same lines, with every line left in
    return count_marks((piece.body for one in whole for piece in cut_document(one, plain)), cut.marks)


def _first_origins(lot: Lot) -> list[Any]:
    """Few and small enough to be read at once; at least one."""
    out: list[Any] = []
    size = 0
    for origin in lot.origins[:DOCUMENTS_LOOKED_AT]:
        if out and size + origin.size > 4_000_000:
            break
        out.append(origin)
        size += origin.size
    return out
