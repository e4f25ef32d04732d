"""The codebook: codes as a tree, and how much is under each."""

from __future__ import annotations

from typing import Literal

import numpy as np
from fastapi import APIRouter, Response

from winnower.api import schemas as s
from winnower.api.context import Desk, Reading, Seen, Writing
from winnower.api.files import EXCEL, download
from winnower.api.schemas import coding as c
from winnower.core.coding import Passages, count_codes
from winnower.core.places.stretches import covered, spans_of
from winnower.core.scope import Scope, Split
from winnower.store import codebook as store
from winnower.store.coding_fields import CODES
from winnower.store.groups_of_codes import groups_of
from winnower.store.kept_conditions import codes_followed
from winnower.store.opened import OpenCorpus
from winnower.store.passages import coders_of
from winnower.writers.codebook_file import CodeEntry, codebook_csv, codebook_qdc, codebook_xlsx

router = APIRouter(prefix="/projects/{project_id}")


def passages_of(desk: Desk) -> Passages:
    """All passages of the project."""
    return desk.house.passages.open(desk.session, desk.project, desk.folder)


def texts_in(desk: Desk, scope: Scope) -> np.ndarray:
    """Ids of the texts of a scope."""
    corpus = desk.corpus
    found: np.ndarray = corpus.columns.text_id[corpus.ground(scope, Split()).mask]
    return found


@router.get("/codebook")
def codebook(desk: Reading) -> c.CodebookPublic:
    book = store.codebook_of(desk.session, desk.project.id)
    return c.CodebookPublic(
        codes=[
            c.CodePublic(
                id=row.id,
                parent_id=row.parent_id,
                depth=book.tree.depth(row.id),
                name=row.name,
                description=row.description,
                rule=row.rule,
                example=row.example,
                counter_example=row.counter_example,
                colour=row.colour,
                symbol=row.symbol,
                technical=bool(row.technical),
                revision=row.revision,
            )
            for row in book.codes
        ],
        coders=[
            c.CoderPublic(id=account_id, name=name, me=account_id == desk.account.id)
            for account_id, name in coders_of(desk.session, desk.project.id)
        ],
        revision=desk.project.coding_revision,
    )


@router.post("/codebook/counts")
def counts(desk: Reading, asked: s.Scoped) -> c.CodebookCounts:
    """How much is under each code in the texts of a scope; a code with what lies below it."""
    passages = passages_of(desk)
    within = passages.taken(np.isin(passages.text_id, texts_in(desk, asked.texts)))
    book = store.codebook_of(desk.session, desk.project.id)
    found = count_codes(within, book.below())
    return c.CodebookCounts(
        codes=[c.CodeTally(id=code, **tally._asdict()) for code, tally in found.items()],
        passages=len(within),
        texts=len(np.unique(within.text_id)),
    )


@router.post("/codebook/words")
def words(desk: Reading, asked: s.Scoped) -> list[c.CodeWords]:
    """How many words of a scope lie in passages of each code; a code with what lies below it."""
    book = store.codebook_of(desk.session, desk.project.id)
    passages, ids = passages_of(desk), texts_in(desk, asked.texts)

    def make(corpus: OpenCorpus) -> list[tuple[int, int]]:
        within = passages.taken(np.isin(passages.text_id, ids))
        places = corpus.places_of(within.text_id)
        first, after = spans_of(places, within.start, within.end, corpus.index, "words")
        under = {code: within.under(below) for code, below in book.below().items()}
        return [(code, covered(first[at], after[at])) for code, at in under.items()]

    corpus = desk.corpus
    found = corpus.kept(
        ("words under codes", asked.texts), make, corpus.scope_fields(asked.texts, None, CODES)
    )
    return [c.CodeWords(id=code, words=words) for code, words in found]


@router.post("/codebook/export")
def export(desk: Reading, asked: s.Scoped, form: Literal["csv", "xlsx", "qdc"] = "csv") -> Response:
    """The codebook with counts of a scope as CSV or Excel, or without counts in the exchange format."""
    book = store.codebook_of(desk.session, desk.project.id)
    passages = passages_of(desk)
    within = passages.taken(np.isin(passages.text_id, texts_in(desk, asked.texts)))
    tallies = count_codes(within, book.below())
    groups: dict[int, list[str]] = {}
    for group, members in groups_of(desk.session, desk.project.id):
        for code_id in members:
            groups.setdefault(code_id, []).append(group.name)
    entries = [
        CodeEntry(
            row.id, row.parent_id, book.tree.path(row.id), row.description, row.rule, row.example,
            row.counter_example, row.colour, row.symbol, bool(row.technical),
            tallies[row.id].passages, tallies[row.id].texts, tuple(groups.get(row.id, ())),
        )
        for row in book.codes
    ]  # fmt: skip
    if form == "qdc":
        return download(codebook_qdc(entries, desk.project.id), "codebook.qdc", "application/xml")
    if form == "csv":
        return download("\ufeff" + codebook_csv(entries), "codebook.csv", "text/csv; charset=utf-8")
    where = "the texts of the scope" if asked.scope else "all texts"
    return download(codebook_xlsx(entries, where), "codebook.xlsx", EXCEL)


@router.post("/codes", status_code=201)
def make_code(desk: Writing, given: c.CodeCreate) -> s.Made:
    book = store.hold_codebook(desk.session, desk.project)
    recorder = desk.recorder(f"New code {given.name[:120]}")
    row = store.make_code(recorder, book, **given.model_dump())
    recorder.save()
    return s.Made(id=row.id, label=recorder.label)


@router.patch("/codes/{code_id}")
def change_code(desk: Writing, code_id: int, given: c.CodeUpdate) -> s.Done:
    book = store.hold_codebook(desk.session, desk.project)
    values = given.model_dump(exclude={"revision"}, exclude_none=True)
    recorder = desk.recorder(f"Change code {book.code(code_id).name}")
    with codes_followed(recorder):
        store.change_code(recorder, book, code_id, values, given.revision)
    recorder.save()
    return s.Done(label=recorder.label)


@router.post("/codes/{code_id}/move")
def move_code(desk: Writing, code_id: int, given: c.CodeMove) -> s.Done:
    """Put a code under another or at the top, before a sibling or last."""
    book = store.hold_codebook(desk.session, desk.project)
    recorder = desk.recorder(f"Move code {book.code(code_id).name}")
    with codes_followed(recorder):
        store.move_code(recorder, book, code_id, given.parent_id, given.before_id, given.revision)
    recorder.save()
    return s.Done(label=recorder.label)


@router.post("/codes/{code_id}/merge")
def merge_code(desk: Writing, code_id: int, given: c.CodeMerge) -> s.Done:
    """Take a code's passages into another and remove it."""
    book = store.hold_codebook(desk.session, desk.project)
    names = [book.code(one).name for one in (code_id, given.into_id)]
    recorder = desk.recorder(f"Merge code {names[0]} into {names[1]}")
    with codes_followed(recorder, {code_id: given.into_id}):
        store.merge_codes(recorder, book, code_id, given.into_id)
    recorder.save()
    return s.Done(label=recorder.label)


@router.post("/codes/{code_id}/split", status_code=201)
def split_code(desk: Writing, code_id: int, given: c.CodeSplit) -> s.Made:
    """Take some passages of a code out into a new one beside it."""
    book = store.hold_codebook(desk.session, desk.project)
    recorder = desk.recorder(f"Split code {book.code(code_id).name}")
    row = store.split_code(recorder, book, code_id, given.name, given.passages)
    recorder.save()
    return s.Made(id=row.id, label=recorder.label)


@router.delete("/codes/{code_id}")
def delete_code(desk: Writing, code_id: int, revision: Seen) -> s.Done:
    """Remove a code with its passages and all below it; undo brings them back."""
    book = store.hold_codebook(desk.session, desk.project)
    recorder = desk.recorder(f"Delete code {book.code(code_id).name}")
    store.delete_code(recorder, book, code_id, revision)
    recorder.save()
    return s.Done(label=recorder.label)
