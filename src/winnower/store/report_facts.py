"""What a report tells of the corpus, the instruments and their review."""

from __future__ import annotations

import datetime as dt
import math
from collections.abc import Sequence

import numpy as np
from babel import Locale, UnknownLocaleError
from sqlalchemy import select

from winnower.core.coding import Passages
from winnower.core.compare.targets import OfDictionary
from winnower.core.finding.views import scope_of, targets_of
from winnower.core.report import Block
from winnower.core.report.measured import (
    Figure95,
    LearnedFact,
    SourceFact,
    VerdictsFact,
    overview_of,
    quality_of,
)
from winnower.core.report.method import (
    AlikeFact,
    CodingFact,
    CorpusFact,
    DeliveryFact,
    Facts,
    InstrumentFact,
    JudgedFact,
    RunFact,
)
from winnower.core.review import Quality, summarise
from winnower.core.runs import ByExample, ByTone, Recipe
from winnower.core.runs.review import agreement_of, tally
from winnower.core.scope import CategoryColumn, DateColumn, Scope, Split
from winnower.core.scope.columns import NO_DATE
from winnower.core.scope.conditions import missing
from winnower.core.scope.describe import describe_fields
from winnower.core.scope.spoken import scope_in_words
from winnower.store import codebook, dictionaries, review, runs
from winnower.store.answering import Room
from winnower.store.models import (
    Account,
    CategoryRow,
    CodingRun,
    Delivery,
    DictionaryRow,
    DictionaryVersion,
    Job,
    ReviewSample,
    VerdictRow,
)
from winnower.store.report_answers import Told
from winnower.store.run_review import judged_run, source_of, verdicts_of
from winnower.store.subjects import Subject, subject_of
from winnower.store.words import language_of

DEFAULT_THRESHOLD = 0.6
_EPOCH = dt.date(1970, 1, 1)
_HOW = {
    "dictionary": "it found the terms of a dictionary.",
    "search": "it found what a search finds.",
    "values": "it took whole texts by the values of a field.",
    "speakers": "it took the turns of speakers.",
    "structure": "it took parts of texts by their headings, sections, pages or items.",
    "example": "it learned from passages coded by hand (logistic regression on words, tested over texts it had not learned "
    "from).",
    "themes": "it found the phrases of themes.",
    "tone": "it measured the tone of sentences by a list of words.",
}


def corpus_fact(room: Room) -> CorpusFact:
    corpus = room.corpus
    columns = corpus.columns
    source, date = columns.fields["source"], columns.fields["date"]
    assert isinstance(source, CategoryColumn)
    assert isinstance(date, DateColumn)
    used = np.flatnonzero(np.bincount(source.codes[source.codes >= 0], minlength=len(source.labels)))
    dated = date.days[date.days != NO_DATE]
    first, last = (None, None) if not len(dated) else (_date(dated.min()), _date(dated.max()))
    return CorpusFact(
        texts=columns.n_texts,
        words=int(columns.words.sum()),
        sources=[source.labels[at] for at in used.tolist()],
        first=first,
        last=last,
        empty=int((columns.words == 0).sum()),
        language=_called(language_of(room.session, room.project.id)),
        deliveries=_deliveries(room),
        alike=_alike(room),
    )


def _called(language: str) -> str:
    """A language by its English name: "en" is English."""
    try:
        return Locale.parse(language).english_name or language if language else ""
    except (UnknownLocaleError, ValueError):
        return language


def _date(day: int) -> dt.date:
    return _EPOCH + dt.timedelta(days=int(day))


def _deliveries(room: Room) -> list[DeliveryFact]:
    asked = (
        select(Delivery)
        .where(Delivery.project_id == room.project.id, Delivery.state == "done")
        .order_by(Delivery.id)
    )
    return [
        DeliveryFact(row.name, row.made_at.date(), int((row.report or {}).get("new", 0)))
        for row in room.session.scalars(asked)
    ]


def _alike(room: Room) -> AlikeFact | None:
    found = room.corpus.findings
    if found is None:
        return None
    asked = (
        select(Job.params)
        .where(Job.project_id == room.project.id, Job.kind == "check", Job.state == "done")
        .order_by(Job.id.desc())
        .limit(1)
    )
    params = room.session.scalar(asked) or {}
    key = room.corpus.roles.get("aside")
    aside = 0 if key is None else int((~missing(room.corpus.columns.fields[key])).sum())
    groups = {kind: int(found[kind].to_numpy().max(initial=-1)) + 1 for kind in ("same", "near")}
    texts = {kind: int((found[kind] >= 0).sum()) for kind in ("same", "near")}
    return AlikeFact(
        float(params.get("threshold", DEFAULT_THRESHOLD)),
        groups["same"],
        texts["same"],
        groups["near"],
        texts["near"],
        aside,
    )


def overview(room: Room) -> list[Block]:
    """Sentences, and a table of texts and words by source, those with most texts first."""
    return overview_of(corpus_fact(room), _sources(room))


def _sources(room: Room) -> list[SourceFact]:
    columns = room.corpus.columns
    source, date = columns.fields["source"], columns.fields["date"]
    assert isinstance(source, CategoryColumn)
    assert isinstance(date, DateColumn)
    code = np.where(source.codes >= 0, source.codes, len(source.labels))
    size = len(source.labels) + 1
    texts, words = np.bincount(code, minlength=size), np.bincount(code, columns.words, minlength=size)
    first, last = np.full(size, np.iinfo(np.int64).max), np.full(size, np.iinfo(np.int64).min)
    dated = date.days != NO_DATE
    np.minimum.at(first, code[dated], date.days[dated].astype(np.int64))
    np.maximum.at(last, code[dated], date.days[dated].astype(np.int64))
    labels = [*source.labels, "no source"]
    return [
        SourceFact(
            labels[at],
            int(texts[at]),
            int(words[at]),
            *((_date(first[at]), _date(last[at])) if first[at] <= last[at] else (None, None)),
        )
        for at in np.argsort(-texts, kind="stable").tolist()
        if texts[at]
    ]


def facts_of(room: Room, passages: Passages, told: Sequence[tuple[str, Told]]) -> Facts:
    """All that the method section is written from; ``told`` are the report's findings, each with how it is called."""
    names = {field.key: field.name for field in describe_fields(room.corpus.columns, 0)}
    counted = {
        (target.dictionary, target.version)
        for _, one in told
        for target in targets_of(one.view)
        if isinstance(target, OfDictionary)
    }
    return Facts(
        corpus=corpus_fact(room),
        instruments=_instruments(room, counted),
        coding=_coding(room, passages),
        runs=[_run_fact(room, row) for row, _ in runs.runs_of(room.session, room.project.id)],
        judged=_judged_facts(room),
        scopes=[
            (label, scope_in_words(scope, names))
            for label, one in told
            if (scope := scope_of(one.view)).conditions
        ],
        counted=[(label, one.answer.method) for label, one in told],
    )


def _instruments(room: Room, counted: set[tuple[int, int | None]]) -> list[InstrumentFact]:
    versions: dict[int, list[tuple[int, str]]] = {}
    asked = (
        select(DictionaryVersion.dictionary_id, DictionaryVersion.number, DictionaryVersion.name)
        .join(DictionaryRow, DictionaryRow.id == DictionaryVersion.dictionary_id)
        .where(DictionaryRow.project_id == room.project.id)
        .order_by(DictionaryVersion.number)
    )
    for dictionary_id, number, name in room.session.execute(asked):
        if (dictionary_id, number) in counted:
            versions.setdefault(dictionary_id, []).append((number, name))
    found = []
    for row in dictionaries.dictionaries_of(room.session, room.project.id):
        value = dictionaries.load_value(room.session, row)
        terms = sum(len(category.terms) for category in value.categories)
        found.append(InstrumentFact(row.name, len(value.categories), terms, versions.get(row.id, ())))
    return found


def _coding(room: Room, passages: Passages) -> CodingFact:
    by_hand = passages.taken(passages.made_by > 0)
    by_hand = by_hand.taken(room.corpus.places_of(by_hand.text_id) >= 0)
    people = select(Account.full_name).where(Account.id.in_(np.unique(by_hand.made_by).tolist()))
    return CodingFact(
        len(codebook.codebook_of(room.session, room.project.id).codes),
        len(by_hand),
        len(np.unique(by_hand.text_id)),
        sorted(room.session.scalars(people)),
    )


def _run_fact(room: Room, row: CodingRun) -> RunFact:
    recipe: Recipe = runs.recipe_of(row)
    said = verdicts_of(room.session, row)
    how = _HOW[recipe.finder.kind]
    if row.instrument:
        how = f"{how[:-1]}, of “{row.instrument}”{f' in its version {row.version}' if row.version else ''}."
    if isinstance(recipe.finder, ByTone) and not row.instrument:
        how = f"{how[:-1]} (Hutto and Gilbert 2014, ICWSM 8)."
    judged = said.unique(["target", "text_id", "start", "end"])
    return RunFact(
        row.name,
        how,
        recipe.unit,
        row.state,
        row.places,
        len(judged),
        int(judged["verdict"].sum()),
        recipe.finder.seed if isinstance(recipe.finder, ByExample) else None,
    )


def judged_categories(room: Room) -> list[tuple[Subject, Quality]]:
    """Categories with verdicts on hits that are still there, with their precision."""
    asked = (
        select(VerdictRow.subject_id)
        .join(CategoryRow, CategoryRow.id == VerdictRow.subject_id)
        .where(VerdictRow.project_id == room.project.id, VerdictRow.subject == "category")
        .distinct()
        .order_by(VerdictRow.subject_id)
    )
    ids = list(room.session.scalars(asked))
    on = {kind: review.verdicts(room.session, "category", ids, kind) for kind in ("hit", "text")}
    corpus, found = room.corpus, []
    source = corpus.columns.fields["source"]
    assert isinstance(source, CategoryColumn)
    mask = corpus.ground(Scope(), Split()).mask
    for one in ids:
        subject = subject_of(room.session, room.project.id, "category", one)
        hits = subject.hits(corpus, Scope()) if subject.has_hits(None) else None
        said = summarise(hits, on["hit"][one], on["text"][one], corpus.index, mask, source.codes).whole
        if said.judged:
            found.append((subject, said))
    return found


def _judged_facts(room: Room) -> list[JudgedFact]:
    asked = select(ReviewSample.subject_id, ReviewSample.seed).where(
        ReviewSample.project_id == room.project.id, ReviewSample.subject == "category"
    )
    seeds: dict[int, list[int]] = {}
    for subject_id, seed in room.session.execute(asked.order_by(ReviewSample.id)):
        seeds.setdefault(subject_id, []).append(seed)
    return [
        JudgedFact(
            subject.name,
            said.judged,
            said.right,
            said.low,
            said.high,
            review.judges_of(room.session, subject),
            seeds.get(subject.id, ()),
        )
        for subject, said in judged_categories(room)
    ]


def quality(room: Room) -> list[Block]:
    """Tables of precision and agreement; a sentence where nothing was judged."""
    judged = [
        VerdictsFact(f"{subject.instrument}: {subject.name}", said, None)
        for subject, said in judged_categories(room)
    ]
    learned = []
    for run, _ in runs.runs_of(room.session, room.project.id):
        verdicts = judged_run(room.session, run, room.corpus)
        said = tally(verdicts, source_of(room.corpus, verdicts["place"].to_numpy())).precision
        if said.judged:
            judged.append(VerdictsFact(f"run: {run.name}", said, _alpha(room, run)))
        if run.measured is not None:
            measured = [run.measured[name] for name in ("precision", "recall", "f1")]
            learned.append(LearnedFact(run.name, *(_figure(one) for one in measured)))
    return quality_of(judged, learned)


def _alpha(room: Room, run: CodingRun) -> float | None:
    alpha = agreement_of(verdicts_of(room.session, run)).alpha
    return None if math.isnan(alpha) else alpha


def _figure(measured: dict[str, float | None]) -> Figure95:
    return Figure95(measured.get("value"), measured.get("low"), measured.get("high"))
