"""Asking for passages across texts: found, grouped, changed together, taken along."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from fastapi import APIRouter, Response

from winnower.api.codebook import passages_of, texts_in
from winnower.api.context import Desk, Reading, Writing
from winnower.api.evidence import origin_of, standing_public
from winnower.api.files import EXCEL, WORD, download
from winnower.api.passage_tables import with_variables
from winnower.api.passages import values_of
from winnower.api.schemas import coding as c
from winnower.api.schemas.variables import Changed
from winnower.core.coding import Beside, Passages, Question, Standing, answer, origin_in_words, paragraph_at
from winnower.core.coding.grouping import Grouped, in_groups, memberships
from winnower.core.coding.ordering import SortBy, in_order
from winnower.core.coding.question import Unit
from winnower.core.errors import WinnowerError
from winnower.core.places.stretches import spans_of
from winnower.core.scope import NO_DATE, DateColumn, Split
from winnower.store import codebook, passages, run_review
from winnower.store.codebook import Codebook
from winnower.store.history import Recorder
from winnower.store.models import CodeRow
from winnower.store.reading import standings_in
from winnower.store.texts import bodies
from winnower.writers.flow import Piece, escaped, pieces_docx
from winnower.writers.listing import Column, listing_csv, listing_xlsx

router = APIRouter(prefix="/projects/{project_id}")
AROUND = 120
MOST_EXPORTED = 50_000
MOST_IN_WORD = 5_000
NO_GROUP = "no value"
SORTED: dict[SortBy, str] = {
    "text": "in the order of the texts",
    "date": "by date, earliest first",
    "length": "by length, longest first",
    "strength": "by strength, strongest first",
    "coder": "by coder",
}
#: What a group is called, by its number.
Labels = Callable[[int], str]


@dataclass(frozen=True)
class _Found:
    """What a question finds, in the order of texts and words or, where it is grouped, of its groups."""

    passages: Passages
    label: Labels
    grouped: Grouped | None

    def rows(self) -> int:
        return len(self.passages if self.grouped is None else self.grouped.passage)

    def ids(self, start: int, most: int) -> list[int]:
        at = slice(start, start + most)
        found: list[int] = (
            self.passages.id[at] if self.grouped is None else self.passages.id[self.grouped.passage[at]]
        ).tolist()
        return found

    def groups(self, start: int, most: int) -> list[int | None]:
        if self.grouped is None:
            return [None] * len(self.passages.id[start : start + most])
        found: list[int | None] = self.grouped.group[start : start + most].tolist()
        return found


@router.post("/passages/find")
def find(desk: Reading, asked: c.PassagesRequest) -> c.PassagesPage:
    """Passages of the scope that a question asks for, a page at a time."""
    found = answered(desk, asked)
    groups = found.groups(asked.start, asked.most)
    counts = found.grouped.counts if found.grouped is not None else np.empty(0)
    shown = _public(desk, found.ids(asked.start, asked.most), groups)
    return c.PassagesPage(
        total=len(found.passages),
        rows=found.rows(),
        texts=len(np.unique(found.passages.text_id)),
        start=asked.start,
        groups={
            at: c.PassageGroup(label=found.label(at), passages=int(counts[at]))
            for at in dict.fromkeys(groups)
            if at is not None
        },
        passages=shown,
    )


def answered(desk: Desk, asked: c.PassagesRequest) -> _Found:
    """What a question finds in the scope."""
    book = codebook.codebook_of(desk.session, desk.project.id)
    question = Question(
        codes=tuple(asked.codes),
        coders=tuple(asked.coders),
        strength=asked.strength,
        by=asked.by,
        beside=tuple(
            Beside(one.relation, tuple(one.codes), one.without, one.within, one.unit) for one in asked.beside
        ),
    )
    # a code that is gone has nothing under it
    known = set(book.tree.node)
    corpus = desk.corpus

    def spans(of: Passages, unit: Unit) -> tuple[np.ndarray, np.ndarray]:
        return spans_of(corpus.places_of(of.text_id), of.start, of.end, corpus.index, unit)

    texts = texts_in(desk, asked.texts)
    found = answer(
        question,
        passages_of(desk),
        texts if asked.text_id is None else texts[texts == asked.text_id],
        lambda codes: {one for code in codes if code in known for one in book.tree.below(code)},
        spans,
    )
    found = _sorted(desk, found, asked.sort)
    label, grouped = _grouped(desk, asked, book, found) if asked.group else (str, None)
    return _Found(found, label, grouped)


def _sorted(desk: Desk, found: Passages, sort: SortBy) -> Passages:
    """Passages by the dates of the corpus and the coders of the project (see ``in_order``)."""

    def days(of: Passages) -> np.ndarray:
        column = desk.corpus.columns.fields["date"]
        assert isinstance(column, DateColumn)
        places = desk.corpus.places_of(of.text_id)
        of_each = column.days[np.maximum(places, 0)]
        return np.where((places >= 0) & (of_each != NO_DATE), of_each.astype(np.float64), np.nan)

    def coders() -> list[int]:
        return [coder for coder, _ in passages.coders_of(desk.session, desk.project.id)]

    return in_order(found, sort, days, coders)


def _grouped(desk: Desk, asked: c.PassagesRequest, book: Codebook, found: Passages) -> tuple[Labels, Grouped]:
    """What each group is called, and the passages in the order of their groups."""
    everything = np.arange(len(found))
    if asked.group == "code":
        at = {row.id: place for place, row in enumerate(book.codes)}
        group = np.asarray([at.get(code, -1) for code in found.code_id.tolist()], np.int64)
        codes = [row.id for row in book.codes]
        return (
            lambda one: " > ".join(book.tree.path(codes[one])) if one < len(codes) else NO_GROUP,
            in_groups(everything, group, len(codes)),
        )
    corpus = desk.corpus
    if asked.group == "text":
        ids, group = np.unique(found.text_id, return_inverse=True)
        places = corpus.places_of(ids)
        return (
            lambda one: origin_of(desk, int(places[one]))[0] or "untitled",
            in_groups(everything, group, len(ids)),
        )
    column = corpus.columns.field(asked.group)
    split = Split(asked.group, "month" if isinstance(column, DateColumn) else None)
    groups = corpus.ground(asked.texts, split).groups
    distinct, of_passage = np.unique(corpus.places_of(found.text_id), return_inverse=True)
    passage, group = memberships(of_passage, *groups.expand(distinct), len(distinct))
    return (
        lambda one: groups.labels[one] if one < groups.n_groups else NO_GROUP,
        in_groups(passage, group, groups.n_groups),
    )


def _public(desk: Desk, ids: Sequence[int], groups: Sequence[int | None]) -> list[c.FoundPassage]:
    """Passages with their words, in the order of ``ids``."""
    rows = passages.rows_of(desk.session, ids)
    texts = sorted({row.text_id for row, _ in rows.values()})
    body = bodies(desk.session, texts)
    places = dict(zip(texts, desk.corpus.places_of(np.asarray(texts, np.int64)).tolist(), strict=True))
    standings = standings_in(desk.session, texts)
    out = []
    for one, group in zip(ids, groups, strict=True):
        if one not in rows:
            continue
        row, who = rows[one]
        text, title = body[row.text_id], origin_of(desk, places[row.text_id])
        out.append(
            c.FoundPassage(
                **values_of(desk, row, who),
                text_id=row.text_id,
                title=title[0],
                source=title[1],
                date=title[2],
                before=text[max(row.start - AROUND, 0) : row.start].replace("\n", " "),
                text=text[row.start : row.end],
                after=text[row.end : row.end + AROUND].replace("\n", " "),
                paragraph=paragraph_at(text, row.start),
                standing=standing_public(standings.at(row.text_id, row.start)),
                group=group,
            )
        )
    return out


@router.get("/passages/{passage_id}")
def one(desk: Reading, passage_id: int) -> c.FoundPassage:
    """A passage with its words and where it stands, by hand or of a run that counts. Raises NotFound."""
    if passage_id < 0:
        run_review.passage_in(desk.session, desk.project.id, passage_id)
    else:
        passages.passage_of(desk.session, desk.project.id, passage_id)
    return _public(desk, [passage_id], [None])[0]


@router.post("/passages/change")
def change_many(desk: Writing, given: c.PassagesChange) -> Changed:
    """Move passages under another code, or take them off: one step, undone as one."""
    book = codebook.hold_codebook(desk.session, desk.project)
    recorder = desk.recorder("")
    code = _wanted_code(recorder, book, given.code_id, given.new)
    recorder.label = f"Move passages to {code.name}" if code else f"Take {len(given.passages):,} passages off"
    changed = run_review.change_any(recorder, desk.project.id, given.passages, code)
    recorder.save()
    return Changed(texts=changed, label=recorder.label)


def _wanted_code(recorder: Recorder, book: Codebook, code_id: int | None, new: str) -> CodeRow | None:
    """The code that passages are to come under, made where only a name is given; None where neither is."""
    if code_id is not None:
        return book.code(code_id)
    return codebook.make_code(recorder, book, new) if new.strip() else None


@router.post("/passages/all/change")
def change_all(desk: Writing, given: c.AllChange) -> Changed:
    """All passages that a question finds put under a code as well, moved under it, or taken off: one step."""
    book = codebook.hold_codebook(desk.session, desk.project)
    if given.way != "take off" and given.code_id is None and not given.new.strip():
        raise WinnowerError("Choose the code these passages are to come under.")
    found = answered(desk, given.model_copy(update={"group": "", "sort": "text"})).passages
    many = f"{len(found):,} passages"
    recorder = desk.recorder("")
    code = None if given.way == "take off" else _wanted_code(recorder, book, given.code_id, given.new)
    if code is not None and given.way == "add":
        recorder.label = f"Code {many} as {code.name}"
        changed = passages.code_many(recorder, found, code.id)
    else:
        recorder.label = f"Move {many} to {code.name}" if code else f"Take {many} off"
        changed = run_review.change_any(recorder, desk.project.id, found.id.tolist(), code)
    recorder.save()
    return Changed(texts=changed, label=recorder.label)


@router.post("/passages/export")
def export(desk: Reading, asked: c.PassagesRequest, form: Literal["csv", "xlsx", "docx"] = "csv") -> Response:
    """The passages of a question with origin and paragraph: at most 50,000 as a table, 5,000 in Word."""
    found = answered(desk, asked)
    book = codebook.codebook_of(desk.session, desk.project.id)
    path = {row.id: " > ".join(book.tree.path(row.id)) for row in book.codes}
    texts = len(np.unique(found.passages.text_id))
    said = f"{len(found.passages):,} passages in {texts:,} texts"
    if form == "docx":
        return download(_word(desk, found, path, said), "passages.docx", WORD)
    names = (
        "source", "date", "title", "speaker", "page", "time", "paragraph", "code", "passage", "coder", "strength", "comment", "made",
        "from", "to", *(["group"] if asked.group else []),
    )  # fmt: skip
    parts: list[list[Any]] = [[] for _ in names]
    texts_of_rows: list[int] = []
    for first in range(0, min(found.rows(), MOST_EXPORTED), 1_000):
        for one in _public(desk, found.ids(first, 1_000), found.groups(first, 1_000)):
            row = (
                one.source, one.date, one.title, one.standing.speaker, one.standing.page, one.standing.time,
                one.paragraph, path[one.code_id], one.text, one.coder,
                one.strength, one.comment, one.made_at.isoformat(" ", "minutes"), one.start, one.end,
                *([found.label(one.group)] if one.group is not None else []),
            )  # fmt: skip
            texts_of_rows.append(one.text_id)
            for part, cell in zip(parts, row, strict=True):
                part.append(cell)
    columns = with_variables(
        desk, [Column(name, cells) for name, cells in zip(names, parts, strict=True)], texts_of_rows
    )
    if form == "csv":
        return download("\ufeff" + listing_csv(columns), "passages.csv", "text/csv; charset=utf-8")
    order = f"{'by group, then ' if asked.group else ''}{SORTED[asked.sort]}"
    cut = f" The first {MOST_EXPORTED:,} rows are here." if found.rows() > MOST_EXPORTED else ""
    return download(
        listing_xlsx(columns, [("Passages", f"{said}, {order}.{cut}", "")]), "passages.xlsx", EXCEL
    )


def _word(desk: Desk, found: _Found, path: dict[int, str], said: str) -> bytes:
    """Groups as headings, each passage as a quote with its origin."""
    pieces: list[Piece] = []
    now: int | None = None
    lines: list[str] = []
    rows = min(found.rows(), MOST_IN_WORD)
    for first in range(0, rows, 1_000):
        for one in _public(desk, found.ids(first, 1_000), found.groups(first, 1_000)):
            if one.group != now and lines:
                pieces.append(Piece("" if now is None else found.label(now), (), "\n\n".join(lines)))
                lines = []
            now = one.group
            quote = "\n".join(f"> {escaped(line)}" for line in one.text.split("\n"))
            standing = Standing(**one.standing.model_dump())
            origin = origin_in_words(standing, one.source, one.date, one.title, one.paragraph)
            comment = f"\n\n{escaped(one.comment)}" if one.comment else ""
            lines.append(
                f"{quote}\n\n{escaped(origin)}. *{escaped(path[one.code_id])}*, {escaped(one.coder)}{comment}"
            )
    if lines:
        pieces.append(Piece("" if now is None else found.label(now), (), "\n\n".join(lines)))
    more = f". The first {rows:,} are here; a table holds more." if rows < found.rows() else ""
    return pieces_docx("Passages", [Piece("", (said + more,), ""), *pieces])
