"""The corpus: scope, fields, table of texts, one text, subcorpora, Go to."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from fastapi import APIRouter, Path, Query
from pydantic import ValidationError

from winnower.api import schemas as s
from winnower.api.context import Desk, Reading, Seen, Writing
from winnower.api.evidence import looked_up
from winnower.core.compare import Cell, rows_of, usual_comparison
from winnower.core.errors import ComparisonError
from winnower.core.places import passages
from winnower.core.scope import (
    Finds,
    InTitle,
    Scope,
    Split,
    TextColumn,
    scope_from_plain,
    value_at,
)
from winnower.core.scope.conditions import missing
from winnower.core.scope.plain import problems
from winnower.store import overview
from winnower.store.coding_fields import described
from winnower.store.models import Subcorpus
from winnower.store.opened import OpenCorpus
from winnower.store.texts import text_of

router = APIRouter(prefix="/projects/{project_id}")
MOST_MARKS = 5_000


@router.post("/scope")
def scope_size(desk: Reading, asked: s.Scoped) -> s.ScopeSize:
    """How much is in a scope."""
    all_words = int(desk.corpus.columns.words.sum())
    desk.look_at(asked.texts)
    corpus = desk.corpus
    ground = corpus.ground(asked.texts, Split())
    words, aside = corpus.columns.words, corpus.columns.aside
    return s.ScopeSize(
        texts=int(ground.mask.sum()),
        words=int(words[ground.mask].sum()),
        all_texts=corpus.columns.n_texts,
        all_words=all_words,
        aside=int((~missing(corpus.columns.fields[aside])).sum()) if aside else 0,
    )


@router.get("/fields")
def fields(desk: Reading) -> list[s.FieldInfo]:
    """What the texts can be narrowed and split by."""
    found = described(desk.corpus)
    return [
        s.FieldInfo(
            key=f.key,
            name=f.name,
            kind=f.kind,  # type: ignore[arg-type]
            can_split=f.can_split,
            missing=f.missing,
            different=f.different,
            values=[s.FieldValue(label=label, texts=texts) for label, texts in f.values],
            low=f.low,
            high=f.high,
        )
        for f in found
    ]


@router.post("/texts/page")
def page(desk: Reading, asked: s.PageRequest) -> s.TextPage:
    """A stretch of the table of texts in any order; any stretch is equally quick."""
    corpus = desk.corpus
    scope = asked.texts
    if asked.find.strip():
        scope = Scope((*scope.conditions, Finds(asked.find)))
    places, total = corpus.page(scope, asked.sort, asked.descending, asked.start, asked.most)
    return s.TextPage(total=total, start=asked.start, rows=[line(corpus, int(place)) for place in places])


def line(corpus: OpenCorpus, place: int) -> s.TextLine:
    columns = corpus.columns
    title = columns.fields["title"]
    assert isinstance(title, TextColumn)
    return s.TextLine(
        id=int(columns.text_id[place]),
        title=title.values[place],
        source=value_at(columns.fields["source"], place),  # type: ignore[arg-type]
        date=value_at(columns.fields["date"], place),  # type: ignore[arg-type]
        words=int(columns.words[place]),
        values={
            key: value_at(columns.fields[key], place)
            for key in columns.fields
            if key.startswith("v") or key == "subcorpora"
        },
    )


@router.get("/texts/{text_id}")
def text(
    desk: Reading,
    text_id: int,
    marked: Annotated[str | None, Query(max_length=20_000)] = None,
) -> s.TextPublic:
    """A text to read; the hits of what is ``marked``, a comparison's target with the key of one of its rows or
    none as JSON, are given as code point offsets."""
    row, body, source = text_of(desk.session, desk.project.id, text_id)
    corpus = desk.corpus
    place = corpus.place_of(text_id)
    segment, local = corpus.index.locate(place)
    first, last = int(segment.text_start[local]), int(segment.text_start[local + 1])
    starts = segment.paragraph_start
    of_text = starts[np.searchsorted(starts, first) : np.searchsorted(starts, last)]
    columns = corpus.columns
    return s.TextPublic(
        id=row.id,
        title=row.title,
        source=source,
        date=row.date.isoformat() if row.date else None,
        words=row.words,
        origin=row.origin,
        revision=row.revision,
        body=body,
        # a paragraph begins with its line: quotes and signs before its first word belong to it
        paragraphs=[body.rfind("\n", 0, int(segment.char_start[token])) + 1 for token in of_text],
        values=[
            s.NamedValue(name=columns.names[key], value=value_at(columns.fields[key], place))
            for key in columns.fields
            if key.startswith("v")
        ],
        marks=_marks(desk, place, marked),
    )


@router.post("/texts/{text_id}/around")
def around(desk: Reading, text_id: int, asked: s.AroundRequest) -> s.Around:
    """The texts before and after one in the order of the table; from outside the scope the first of it is next."""
    corpus = desk.corpus
    place = corpus.place_of(text_id)
    places = corpus.ordered(asked.texts, asked.sort, asked.descending)
    at = np.flatnonzero(places == place)
    ids = corpus.columns.text_id
    if not len(at):
        first = int(ids[places[0]]) if len(places) else None
        return s.Around(position=None, total=len(places), previous=None, next=first)
    here = int(at[0])
    return s.Around(
        position=here + 1,
        total=len(places),
        previous=int(ids[places[here - 1]]) if here else None,
        next=int(ids[places[here + 1]]) if here + 1 < len(places) else None,
    )


def _marks(desk: Desk, place: int, marked: str | None) -> list[s.Mark]:
    if marked is None:
        return []
    try:
        given = s.Marked.model_validate_json(marked)
    except ValidationError as error:
        raise ComparisonError(
            "What is to be marked cannot be read: " + "; ".join(problems(error)) + "."
        ) from error
    corpus, target = desk.corpus, looked_up(desk, usual_comparison(given.target)).target
    wanted = np.zeros(corpus.index.n_texts, bool)
    wanted[place] = True
    hits = target.places(rows_of(Cell(given.row), target), corpus, wanted)
    found, _ = passages(hits, corpus.index, 0, MOST_MARKS)
    return [s.Mark(start=low, end=high) for passage in found for low, high in passage.marks]


@router.get("/subcorpora")
def subcorpora(desk: Reading) -> list[s.SubcorpusPublic]:
    return [_subcorpus(row) for row in overview.subcorpora_of(desk.session, desk.project.id)]


def _subcorpus(row: Subcorpus) -> s.SubcorpusPublic:
    return s.SubcorpusPublic(
        id=row.id, name=row.name, scope=scope_from_plain(row.scope).conditions, revision=row.revision
    )


@router.post("/subcorpora", status_code=201)
def keep_subcorpus(desk: Writing, given: s.SubcorpusCreate) -> s.SubcorpusPublic:
    """Keep a scope under a name."""
    name = " ".join(given.name.split())
    recorder = desk.recorder(f"Keep subcorpus {name}")
    row = overview.keep_subcorpus(recorder, name, Scope(given.scope))
    recorder.save()
    return _subcorpus(row)


@router.delete("/subcorpora/{subcorpus_id}", status_code=204)
def drop_subcorpus(desk: Writing, subcorpus_id: int, revision: Seen) -> None:
    row = overview.subcorpus_of(desk.session, desk.project.id, subcorpus_id)
    recorder = desk.recorder(f"Delete subcorpus {row.name}")
    recorder.delete(row, revision)
    recorder.save()


@router.get("/go-to")
def go_to(desk: Reading, q: Annotated[str, Query(max_length=200)] = "") -> list[s.GoToHit]:
    """Texts, categories, terms, subcorpora and sources whose name contains the words."""
    wanted = q.strip()
    if not wanted:
        return []
    named = overview.named_like(desk.session, desk.project.id, wanted)
    found = [s.GoToHit(**one._asdict()) for one in named]
    places, total = desk.corpus.page(Scope((InTitle(wanted),)), "title", False, 0, 8)
    for place in places:
        text = line(desk.corpus, int(place))
        detail = ", ".join(part for part in (text.source, text.date) if part)
        found.append(s.GoToHit(kind="text", label=text.title, detail=detail, id=text.id))
    return found


@router.get("/preferences/{name}")
def preference(desk: Reading, name: Annotated[str, Path(max_length=40)]) -> s.PreferenceValue:
    """What this person chose for a view; an empty list where nothing was."""
    kept = overview.preference(desk.session, desk.project.id, desk.account.id, name)
    return s.PreferenceValue(value=kept)


@router.put("/preferences/{name}")
def keep_preference(
    desk: Reading, name: Annotated[str, Path(max_length=40)], given: s.PreferenceValue
) -> s.PreferenceValue:
    overview.keep_preference(desk.session, desk.project.id, desk.account.id, name, given.value or [])
    return given
