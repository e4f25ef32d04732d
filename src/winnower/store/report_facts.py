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
from winnower.core.report import Block, Grid, GridColumn, Prose
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

MOST_SOURCES = 30
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
    """Sentences, and a table of texts and words by source."""
    fact, columns = corpus_fact(room), room.corpus.columns
    span = f", dated {fact.first} to {fact.last}" if fact.first else ""
    blocks: list[Block] = [Prose(f"{fact.texts:,} texts with {fact.words:,} words{span}.")]
    source, date = columns.fields["source"], columns.fields["date"]
    assert isinstance(source, CategoryColumn)
    assert isinstance(date, DateColumn)
    if not fact.sources:
        return blocks
    code = np.where(source.codes >= 0, source.codes, len(source.labels))
    size = len(source.labels) + 1
    texts, words = np.bincount(code, minlength=size), np.bincount(code, columns.words, minlength=size)
    first, last = np.full(size, np.iinfo(np.int64).max), np.full(size, np.iinfo(np.int64).min)
    dated = date.days != NO_DATE
    np.minimum.at(first, code[dated], date.days[dated].astype(np.int64))
    np.maximum.at(last, code[dated], date.days[dated].astype(np.int64))
    labels = [*source.labels, "no source"]
    order = [at for at in np.argsort(-texts, kind="stable").tolist() if texts[at]]
    rows = tuple(
        (
            labels[at],
            f"{texts[at]:,}",
            f"{int(words[at]):,}",
            f"{words[at] / texts[at]:,.0f}",
            f"{_date(first[at])} to {_date(last[at])}" if first[at] <= last[at] else "–",
        )
        for at in order[:MOST_SOURCES]
    )
    heads = ("source", "texts", "words", "words a text", "dates")
    more = len(order) - len(rows)
    note = f"{more:,} more sources left out here." if more > 0 else ""
    columns_of = tuple(GridColumn(name, 0 < at < 4) for at, name in enumerate(heads))
    return [*blocks, Grid("Texts and words by source", columns_of, rows, note)]


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
    rows = [
        (f"{subject.instrument}: {subject.name}", *_precision(said), "–")
        for subject, said in judged_categories(room)
    ]
    learned = []
    for run, _ in runs.runs_of(room.session, room.project.id):
        judged = judged_run(room.session, run, room.corpus)
        said = tally(judged, source_of(room.corpus, judged["place"].to_numpy())).precision
        if said.judged:
            rows.append((f"run: {run.name}", *_precision(said), _alpha(room, run)))
        if run.measured is not None:
            learned.append(
                (run.name, *(_figure(run.measured[name]) for name in ("precision", "recall", "f1")))
            )
    blocks: list[Block] = []
    if rows:
        heads = ("what was judged", "judged", "right", "precision", "agreement of judges")
        note = (
            "Precision is weighted by source, with a 95% interval (Wilson 1927, JASA 22). Agreement is Krippendorff’s alpha, "
            "where two or more judged the same (Krippendorff 2011, Computing Krippendorff’s Alpha-Reliability)."
        )
        blocks.append(Grid("Verdicts on what was found", _heads(heads), tuple(rows), note))
    if learned:
        note = "Over texts that were not learned from, at the threshold of the run, with 95% intervals."
        named = _heads(("run", "precision", "recall", "F1"))
        blocks.append(Grid("What was learned by example", named, tuple(learned), note))
    return blocks or [Prose("Nothing has been judged yet, so it is not known how good the instruments are.")]


def _heads(names: Sequence[str]) -> tuple[GridColumn, ...]:
    return tuple(GridColumn(name, at > 0) for at, name in enumerate(names))


def _precision(said: Quality) -> tuple[str, str, str]:
    return (
        f"{said.judged:,}",
        f"{said.right:,}",
        f"{said.share:.0%} ({said.low:.0%} to {said.high:.0%})",
    )


def _alpha(room: Room, run: CodingRun) -> str:
    alpha = agreement_of(verdicts_of(room.session, run)).alpha
    return "–" if math.isnan(alpha) else f"{alpha:.2f}"


def _figure(measured: dict[str, float | None]) -> str:
    value, low, high = (measured.get(name) for name in ("value", "low", "high"))
    if value is None:
        return "–"
    return f"{value:.2f}" + (f" ({low:.2f} to {high:.2f})" if low is not None and high is not None else "")
