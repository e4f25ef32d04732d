"""Names that runs can code by: who speaks in the texts, what their parts are called; lines that are fields."""

from __future__ import annotations

import numpy as np
from fastapi import APIRouter

from winnower.api.context import Desk, Reading, Writing
from winnower.api.schemas import runs as r
from winnower.api.schemas.variables import Changed
from winnower.core.errors import WinnowerError
from winnower.core.runs.speakers import names_in
from winnower.core.runs.values import values_of, yes_no
from winnower.core.scope import Scope, Split
from winnower.store import variables
from winnower.store.run_stretches import field_lines, levels_in, places_of_kind, turns_of

router = APIRouter(prefix="/projects/{project_id}/runs")
#: So many texts are looked through for names; spread over all of them.
LOOKED = 20_000
MOST_VALUES = 100


def _texts(desk: Desk, scope: Scope) -> np.ndarray:
    corpus = desk.corpus
    found: np.ndarray = corpus.columns.text_id[corpus.ground(scope, Split()).mask]
    return found


@router.post("/names")
def names(desk: Reading, asked: r.RunNamesRequest) -> r.RunNames:
    """Who speaks, or what parts of texts are called, with how often each comes. Raises WinnowerError for a pattern
    that cannot be used."""
    ids = _texts(desk, asked.texts)
    step = max(1, -(-len(ids) // LOOKED))
    some = ids[::step]
    speakers = asked.by == "speakers"
    turns = (
        turns_of(desk.session, asked.pattern, some)
        if speakers
        else places_of_kind(desk.session, asked.by, some, asked.level)
    )
    return r.RunNames(
        names=[
            r.RunName(
                name=one.name,
                turns=one.turns,
                texts=one.texts,
                words=one.words,
                field=one.field and speakers,
                like=one.like if speakers else None,
            )
            for one in names_in(turns)
        ],
        total=turns["label"].n_unique(),
        looked=len(some),
        texts=len(ids),
        levels=[
            r.HeadingLevel(level=level, headings=headings)
            for level, headings in (levels_in(desk.session, some) if asked.by == "heading" else {}).items()
        ],
    )


@router.post("/fields")
def fields(desk: Writing, given: r.RunFields) -> Changed:
    """Lines that are fields of their text ("Age: 34") become variables: one step, undone as one."""
    desk.corpus_to_change()
    ids = _texts(desk, given.texts)
    recorder = desk.recorder(f"Variables from lines of the texts: {', '.join(given.names)}"[:300])
    changed = set[int]()
    for name in given.names:
        said = field_lines(desk.session, given.pattern, name, ids)
        if not said:
            raise WinnowerError(f"No line of these texts begins with “{name}”.")
        named = variables.variables_named(desk.session, desk.project.id, name)
        known = [one for one in named if one.kind == "category" and not one.rule and not one.role]
        if named and not known:
            raise WinnowerError(f"There is a variable “{name}” of another kind. Nothing was changed.")
        variable = known[0] if known else variables.make_variable(recorder, name, "category")
        corpus = desk.corpus_within()
        places = corpus.places_of(np.asarray(list(said), np.int64))
        variables.set_values(recorder, corpus, f"v{variable.id}", places, list(said.values()))
        changed |= set(said)
    recorder.save()
    return Changed(texts=len(changed), label=recorder.label)


@router.post("/yes-no")
def as_yes_no(desk: Writing, given: r.RunYesNo) -> Changed:
    """Values of a field as variables of 0 and 1, for statistics: one step, undone as one. Texts without any value stay
    without."""
    desk.corpus_to_change()
    column = desk.corpus.columns.field(given.field)
    name = desk.corpus.columns.names.get(given.field, given.field)
    there = values_of(column)
    values = [value for value in there if not given.values or value in given.values]
    if len(values) > MOST_VALUES:
        raise WinnowerError(f"{name} has {len(values):,} values; choose at most {MOST_VALUES} of them.")
    recorder = desk.recorder(f"{name} as variables of 0 and 1")
    changed = 0
    for value in values:
        variable = variables.make_variable(recorder, f"{name}: {value}"[:200], "number")
        said = yes_no(column, value)
        places = np.flatnonzero(~np.isnan(said))
        corpus = desk.corpus_within()
        changed = max(
            changed, variables.set_values(recorder, corpus, f"v{variable.id}", places, said[places].tolist())
        )
    recorder.save()
    return Changed(texts=changed, label=recorder.label)
