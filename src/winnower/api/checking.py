"""The corpus check: what may be wrong with the texts, and what can be done about it."""

from __future__ import annotations

from hashlib import blake2b
from typing import Annotated, Literal

import numpy as np
import polars as pl
from fastapi import APIRouter, Query, Request

from winnower.api.context import Desk, Reading, Writing
from winnower.api.corpus import line
from winnower.api.imports import job_public
from winnower.api.schemas import checking as c
from winnower.api.schemas.imports import JobPublic
from winnower.api.schemas.scope import Scoped
from winnower.api.schemas.variables import Changed
from winnower.core.check import TINY_WORDS, calendar, differences, is_tiny, repair, settled
from winnower.core.errors import Conflict, NotFound
from winnower.core.scope import Split
from winnower.core.scope.conditions import missing
from winnower.jobs.checking import DEFAULT_THRESHOLD, earliest_first
from winnower.store import jobs, overview
from winnower.store import variables as store
from winnower.store.coding_fields import CODERS, CODES, described
from winnower.store.corrections import correct_texts
from winnower.store.opened import OpenCorpus
from winnower.store.texts import bodies, text_of

#: Fields without a value in most texts, which is as it should be.
_FOLLOW = ("subcorpora", CODES, CODERS)
router = APIRouter(prefix="/projects/{project_id}/check")
KEPT = "kept-alike"
EXCLUDED_LABEL = "excluded"
REPAIRED_AT_ONCE = 5_000


def _ready(desk: Desk) -> tuple[OpenCorpus, pl.DataFrame]:
    corpus = desk.corpus
    found = corpus.findings
    if found is None:
        raise Conflict(
            "The texts have changed since the last check, or were never checked. Check the corpus first."
        )
    return corpus, found


@router.get("")
def check(desk: Reading) -> c.CheckPublic:
    """What was found, and what is known without reading the texts."""
    corpus = desk.corpus
    found, job = corpus.findings, jobs.latest_job(desk.session, desk.project.id, "check")
    words = corpus.columns.words
    aside = _aside(corpus)
    gaps = [
        c.MissingField(key=f.key, name=f.name, texts=f.missing)
        for f in described(corpus)
        if f.missing and f.key not in (corpus.roles.get("aside"), corpus.roles.get("sets"), *_FOLLOW)
    ]
    running = job is not None and job.state in ("queued", "running")
    done = job is not None and job.state == "done"
    counts = {"same_groups": 0, "same_texts": 0, "near_groups": 0, "near_texts": 0, "damaged": 0}
    languages: list[c.LabelCount] = []
    if found is not None:
        for kind in ("same", "near"):
            counts[f"{kind}_groups"] = int(found[kind].to_numpy().max(initial=-1)) + 1
            counts[f"{kind}_texts"] = int((found[kind] >= 0).sum())
        counts["damaged"] = int(found["damaged"].sum())
        by_language = found.group_by("language").len().sort("len", descending=True)
        languages = [c.LabelCount(label=name, texts=n) for name, n in by_language.iter_rows()]
    return c.CheckPublic(
        state="ready" if found is not None else "stale" if done else "none",
        job_id=job.id if job is not None and running else None,
        threshold=float((job.params if job else {}).get("threshold", DEFAULT_THRESHOLD)),
        made_at=job.ended_at if job is not None and done else None,
        texts=corpus.columns.n_texts,
        empty=int((words == 0).sum()),
        tiny=int(is_tiny(words).sum()),
        tiny_words=TINY_WORDS,
        aside=int(aside.sum()),
        languages=languages,
        missing=gaps,
        **counts,
    )


def _aside(corpus: OpenCorpus) -> np.ndarray:
    key = corpus.roles.get("aside")
    if key is None:
        return np.zeros(corpus.columns.n_texts, bool)
    return ~missing(corpus.columns.fields[key])


@router.post("", status_code=201)
def start_check(desk: Writing, given: c.CheckStart, request: Request) -> JobPublic:
    """Look through all texts; a check that is under way is told instead of a second one begun."""
    job = jobs.latest_job(desk.session, desk.project.id, "check")
    if job is None or job.state not in ("queued", "running"):
        params = {"name": "Corpus check", "threshold": given.threshold}
        job = jobs.make_job(desk.session, desk.project.id, desk.account.id, "check", params)
    desk.session.commit()
    request.app.state.runner.wake()
    return job_public(job)


def _members(corpus: OpenCorpus, found: pl.DataFrame, kind: str) -> list[np.ndarray]:
    """Places of each group, the earliest text first."""

    def make(_: OpenCorpus) -> list[np.ndarray]:
        group = found[kind].to_numpy()
        members = np.flatnonzero(group >= 0)
        members = members[np.lexsort((earliest_first(corpus)[members], group[members]))]
        edges = np.flatnonzero(np.diff(group[members])) + 1
        return np.split(members, edges) if len(members) else []

    return corpus.kept(("check groups", kind, id(found)), make)


def _signature(corpus: OpenCorpus, places: np.ndarray) -> str:
    """Names a group by its texts, so that a choice for it outlives the next check."""
    ids = np.sort(corpus.columns.text_id[places]).astype(np.int64)
    return blake2b(ids.tobytes(), digest_size=8).hexdigest()


def _kept(desk: Desk) -> set[str]:
    """Groups that were kept on purpose; noted for the project, under who made it."""
    return set(overview.preference(desk.session, desk.project.id, desk.project.made_by, KEPT) or [])


@router.get("/groups")
def groups(
    desk: Reading,
    kind: Literal["near", "same"],
    start: Annotated[int, Query(ge=0)] = 0,
    most: Annotated[int, Query(ge=1, le=100)] = 20,
) -> c.AlikeGroups:
    """Groups of texts that are alike, the largest first."""
    corpus, found = _ready(desk)
    members = _members(corpus, found, kind)
    order = sorted(range(len(members)), key=lambda at: (-len(members[at]), at))[start : start + most]
    aside, alike = _aside(corpus), found["alike"].to_numpy()
    kept = _kept(desk)
    return c.AlikeGroups(
        total=len(members),
        groups=[
            c.AlikeGroup(
                group=at,
                kept=_signature(corpus, members[at]) in kept,
                texts=[
                    c.AlikeText(
                        text=line(corpus, int(place)),
                        alike=1.0 if kind == "same" else round(float(alike[place]), 3),
                        aside=bool(aside[place]),
                    )
                    for place in members[at][:100]
                ],
            )
            for at in order
        ],
    )


@router.post("/groups")
def settle(desk: Writing, given: c.SettleGroups) -> Changed:
    """What is to become of groups; without a list, of all that nobody settled yet."""
    desk.corpus_to_change()
    corpus, found = _ready(desk)
    members = _members(corpus, found, given.kind)
    kept = _kept(desk)
    if given.groups is None:
        settled_before = _aside(corpus)
        chosen = [m for m in members if not settled_before[m].any() and _signature(corpus, m) not in kept]
    else:
        if any(not 0 <= at < len(members) for at in given.groups):
            raise NotFound("There is no such group; check the corpus again.")
        chosen = [members[at] for at in given.groups]
    labels = {"once": "Count once", "aside": "Exclude", "all": "Keep all"}
    recorder = desk.recorder(f"{labels[given.way]}: {len(chosen):,} groups of texts that are alike")
    variable = store.role_variable(recorder, "aside")
    corpus = desk.corpus_within()
    field = f"v{variable.id}"
    places, aside = settled(chosen, given.way)
    values = [EXCLUDED_LABEL if one else None for one in aside]
    texts = store.set_values(recorder, corpus, field, places, values)
    recorder.save()
    signatures = {_signature(corpus, m) for m in chosen}
    value = sorted(kept | signatures if given.way == "all" else kept - signatures)
    overview.keep_preference(desk.session, desk.project.id, desk.project.made_by, KEPT, value)
    return Changed(texts=texts, label=recorder.label)


@router.get("/differences")
def compare(desk: Reading, first: int, second: int) -> c.DifferencesPublic:
    """Two texts side by side."""
    before, after = (text_of(desk.session, desk.project.id, text_id)[1] for text_id in (first, second))
    parts, whole = differences(before, after)
    return c.DifferencesPublic(
        parts=[c.DifferencePart(kind=p.kind, text=p.text) for p in parts],  # type: ignore[arg-type]
        whole=whole,
    )


@router.get("/texts")
def in_language(
    desk: Reading,
    language: str,
    start: Annotated[int, Query(ge=0)] = 0,
    most: Annotated[int, Query(ge=1, le=200)] = 50,
) -> c.FoundTexts:
    """Texts found to be in a language."""
    corpus, found = _ready(desk)
    places = np.flatnonzero((found["language"] == language).to_numpy())
    rows = [line(corpus, int(place)) for place in places[start : start + most]]
    return c.FoundTexts(total=len(places), rows=rows)


@router.post("/language")
def keep_language(desk: Writing) -> Changed:
    """Keep the languages found as a variable, to narrow and split by."""
    desk.corpus_to_change()
    corpus, found = _ready(desk)
    recorder = desk.recorder("Languages as a variable")
    named = [
        v for v in store.variables_named(desk.session, desk.project.id, "Language") if v.kind == "category"
    ]
    variable = named[0] if named else store.make_variable(recorder, "Language", "category")
    corpus = desk.corpus_within()
    values = found["language"].to_list()
    texts = store.set_values(recorder, corpus, f"v{variable.id}", np.arange(len(values)), values)
    recorder.save()
    return Changed(texts=texts, label=recorder.label)


@router.get("/damaged")
def damaged(
    desk: Reading, start: Annotated[int, Query(ge=0)] = 0, most: Annotated[int, Query(ge=1, le=100)] = 30
) -> c.DamagedTexts:
    """Texts with characters that went wrong, and how they would be mended."""
    corpus, found = _ready(desk)
    places = np.flatnonzero(found["damaged"].to_numpy())
    some = places[start : start + most]
    texts = bodies(desk.session, [int(i) for i in corpus.columns.text_id[some]])
    rows = []
    for place in some:
        body = texts[int(corpus.columns.text_id[place])]
        mended = repair(body)
        if mended is None:
            continue
        rows.append(
            c.DamagedText(
                text=line(corpus, int(place)),
                lost=mended.lost,
                can_repair=mended.body != body,
                before=[old for old, _ in mended.examples],
                after=[new for _, new in mended.examples],
            )
        )
    return c.DamagedTexts(total=len(places), rows=rows)


@router.post("/repair")
def repair_texts(desk: Writing, given: c.RepairTexts) -> Changed:
    """Mend damaged texts as proposed; each keeps its state before."""
    desk.corpus_to_change()
    corpus, found = _ready(desk)
    ids = corpus.columns.text_id[found["damaged"].to_numpy()]
    if given.ids is not None:
        ids = ids[np.isin(ids, given.ids)]
    texts = bodies(desk.session, [int(i) for i in ids[:REPAIRED_AT_ONCE]])
    mended = {
        text_id: fixed.body
        for text_id, body in texts.items()
        if (fixed := repair(body)) and fixed.body != body
    }
    recorder = desk.recorder(f"Repair characters in {len(mended):,} texts")
    count = correct_texts(recorder, desk.folder, mended, "Characters repaired")
    recorder.save()
    desk.clear_up()
    return Changed(texts=count, label=recorder.label)


@router.post("/calendar")
def texts_by_month(desk: Reading, asked: Scoped) -> c.CalendarPublic:
    """Texts per month and source in the scope."""
    corpus = desk.corpus
    found = calendar(corpus.columns, corpus.ground(asked.texts, Split()).mask)
    return c.CalendarPublic(
        period=found.period,
        labels=list(found.labels),
        first_days=list(found.first_days),
        last_days=list(found.last_days),
        sources=list(found.sources),
        counts=found.counts.tolist(),
    )
