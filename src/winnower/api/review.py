"""Review of anything with hits: samples to judge, verdicts, and what they say of it."""

from __future__ import annotations

import datetime as dt
import secrets

import numpy as np
from fastapi import APIRouter

from winnower.api import schemas as s
from winnower.api.context import Desk, Reading, Writing
from winnower.api.evidence import origin_of, passage_public
from winnower.api.numbers import plain
from winnower.api.schemas import review as r
from winnower.core.coding import Standings
from winnower.core.errors import DictionaryError
from winnower.core.places import place_passage
from winnower.core.review import Quality, judged_hits, quality_of, sample_places, sample_texts, summarise
from winnower.core.scope import CategoryColumn, Split, scope_to_plain
from winnower.store import review as kept
from winnower.store.fields import lock_project
from winnower.store.models import ReviewSample, VerdictRow
from winnower.store.reading import standings_in
from winnower.store.subjects import Subject, subject_of
from winnower.store.texts import bodies

router = APIRouter(prefix="/projects/{project_id}/review")
BEGINNING_CHARS = 600


def subject_asked(desk: Desk, subject: str, subject_id: int) -> Subject:
    """Raises NotFound."""
    return subject_of(desk.session, desk.project.id, subject, subject_id)


@router.post("/{subject}/{subject_id}/samples", status_code=201)
def draw(desk: Writing, subject: str, subject_id: int, asked: r.SampleRequest) -> r.SamplePublic:
    """Draw a seeded sample: hits in equal numbers from each source, or texts without a hit."""
    desk.look_at(asked.texts)
    judged, corpus, scope = subject_asked(desk, subject, subject_id), desk.corpus, asked.texts
    part = "" if asked.part is None else judged.part_name(asked.part)
    if not judged.has_hits(asked.part):
        raise DictionaryError(f"“{judged.name}” has no terms yet, so there is nothing to judge.")
    seed = asked.seed or 1 + secrets.randbelow(999_999)
    found = judged.hits(corpus, scope, asked.part)
    if asked.kind == "hit":
        items = sample_places(found, _sources(desk), corpus.index, asked.size, seed)
        if not items:
            raise DictionaryError("There is no hit in this scope to judge.")
    else:
        items = sample_texts(found, corpus.ground(scope, Split()).mask, corpus.index, asked.size, seed)
        if not items:
            raise DictionaryError("Every text of this scope has a hit; nothing is left to look through.")
    row = kept.keep_sample(
        desk.session,
        ReviewSample(
            project_id=desk.project.id,
            subject=judged.kind,
            subject_id=judged.id,
            part=part[:800],
            kind=asked.kind,
            seed=seed,
            scope=scope_to_plain(scope),
            items=items,
            version=judged.keep_state(desk.account.id),
            made_by=desk.account.id,
        ),
    )
    return _sample(row, desk.account.full_name, set())


def _sources(desk: Desk) -> np.ndarray:
    """The source of every text, by number: what samples are balanced over, and verdicts weighted by."""
    source = desk.corpus.columns.fields["source"]
    assert isinstance(source, CategoryColumn)
    return source.codes


def _key(row: ReviewSample, item: list[int]) -> tuple[int, int, int]:
    return (item[0], item[1], item[2]) if row.kind == "hit" else (item[0], -1, -1)


def _sample(row: ReviewSample, by: str, judged: set[tuple[int, int, int]]) -> r.SamplePublic:
    return r.SamplePublic(
        id=row.id,
        kind=row.kind,  # type: ignore[arg-type]
        subject=row.subject,
        subject_id=row.subject_id,
        part=row.part,
        seed=row.seed,
        size=len(row.items),
        judged=sum(_key(row, item) in judged for item in row.items),
        version=row.version,
        by=by,
        made_at=row.made_at.replace(tzinfo=dt.UTC),
    )


@router.get("/{subject}/{subject_id}/samples")
def samples(desk: Reading, subject: str, subject_id: int) -> list[r.SamplePublic]:
    """Samples drawn so far, the newest first."""
    judged = subject_asked(desk, subject, subject_id)
    rows = kept.samples_of(desk.session, desk.project.id, judged)
    keys = kept.judged_keys(desk.session, [row for row, _ in rows])
    return [_sample(row, by, keys[row.id]) for row, by in rows]


@router.get("/samples/{sample_id}")
def sample(desk: Reading, sample_id: int) -> r.SampleItems:
    """A sample with its passages and the verdicts so far, in the order drawn."""
    row, by = kept.sample_in(desk.session, desk.project.id, sample_id)
    ids = sorted({item[0] for item in row.items})
    body = bodies(desk.session, ids)
    standings = standings_in(desk.session, ids)
    given: dict[tuple[int, int, int], list[r.Verdict]] = {}
    for one, who in kept.verdicts_with_names(desk.session, row.subject, row.subject_id, row.kind, ids):
        given.setdefault((one.text_id, one.start, one.end), []).append(verdict_public(desk, one, who))
    places = [_key(row, item) for item in row.items]
    return r.SampleItems(
        sample=_sample(row, by, set(given)),
        items=[
            judged_item(desk, place, body.get(place[0]), given.get(place, []), standings) for place in places
        ],
    )


@router.post("/{subject}/{subject_id}/judge")
def judge(desk: Writing, subject: str, subject_id: int, given: r.JudgeRequest) -> s.Done:
    """Give a verdict, change it, or take it back; can be undone."""
    lock_project(desk.session, desk.project)  # two quick verdicts on one hit come one after the other
    judged = subject_asked(desk, subject, subject_id)
    desk.corpus.place_of(given.text_id)
    recorder = desk.recorder(f"Judge a {given.kind} of {judged.name}")
    kept.judge(
        recorder,
        judged,
        given.kind,
        (given.text_id, given.start, given.end),
        given.verdict,
        found_by=given.found_by,
        version=judged.keep_state(desk.account.id),
    )
    recorder.save()
    return s.Done(label=recorder.label)


@router.post("/{subject}/{subject_id}/quality")
def quality(desk: Reading, subject: str, subject_id: int, asked: s.Scoped) -> r.ReviewQuality:
    """Precision of the subject and its parts from all verdicts, and what is missed."""
    desk.look_at(asked.texts)
    judged, corpus, scope = subject_asked(desk, subject, subject_id), desk.corpus, asked.texts
    on_hits = kept.verdicts(desk.session, judged.kind, [judged.id], "hit")[judged.id]
    on_texts = kept.verdicts(desk.session, judged.kind, [judged.id], "text")[judged.id]
    found = judged.hits(corpus, scope) if judged.has_hits(None) else None
    mask = corpus.ground(scope, Split()).mask
    source = _sources(desk)
    summary = summarise(found, on_hits, on_texts, corpus.index, mask, source)
    parts = {}
    for part in judged.parts if len(on_hits) else ():
        hits = judged.hits(corpus, scope, part)
        one = quality_of(judged_hits(hits, corpus.index, on_hits), source[hits.text])
        if one.judged:
            parts[part] = _quality(one)
    return r.ReviewQuality(
        whole=_quality(summary.whole),
        parts=parts,
        missed=r.MissedPublic(
            share=_quality(summary.missed.share),
            texts=[plain(v) for v in summary.missed.texts],
            recall=[plain(v) for v in summary.missed.recall],
            without_hit=summary.without_hit,
            with_hit=summary.with_hit,
        ),
        disagreements=summary.disagreements,
        judges=kept.judges_of(desk.session, judged),
    )


def _quality(found: Quality) -> r.QualityPublic:
    return r.QualityPublic(
        judged=found.judged,
        right=found.right,
        share=plain(found.share),
        low=plain(found.low),
        high=plain(found.high),
        unseen=found.unseen,
    )


def judged_item(
    desk: Desk,
    place: tuple[int, int, int],
    body: str | None,
    verdicts: list[r.Verdict],
    standings: Standings,
) -> r.SampleItem:
    """A judged place with the sentence around it, or the beginning of a text; without where they are gone."""
    text_id, start, end = place
    passage = passage_of(desk, text_id, start, end, body, standings)
    return r.SampleItem(text_id=text_id, start=start, end=end, passage=passage, verdicts=verdicts)


def passage_of(
    desk: Desk, text_id: int, start: int, end: int, body: str | None, standings: Standings
) -> s.PassagePublic | None:
    """The sentence around words, or (``start`` below 0) the beginning of a text; None where they are gone."""
    corpus = desk.corpus
    place = int(corpus.places_of(np.array([text_id]))[0])
    if place < 0 or body is None:
        return None
    if start >= 0:
        found = place_passage(place, start, end, corpus.index)
        return None if found is None else passage_public(desk, found, body, standings, "context")
    title, source, date = origin_of(desk, place)
    return s.PassagePublic(
        text_id=text_id,
        title=title,
        source=source,
        date=date,
        paragraph=1,
        standing=s.Standing(),
        start=0,
        before="",
        text=body[:BEGINNING_CHARS],
        after=body[BEGINNING_CHARS : BEGINNING_CHARS + 1],
        marks=[],
    )


def verdict_public(desk: Desk, one: VerdictRow, by: str) -> r.Verdict:
    return r.Verdict(
        by=by,
        mine=one.made_by == desk.account.id,
        verdict=one.verdict,
        version=one.version,
        made_at=one.made_at.replace(tzinfo=dt.UTC),
    )
