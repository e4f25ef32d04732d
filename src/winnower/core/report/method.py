"""The method section of a report, written in full sentences from what was set and done."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from winnower.core.compare.targets import MethodPart
from winnower.core.report.blocks import Block, Heading, Prose
from winnower.core.report.markdown import escaped

NAMED = 12


@dataclass(frozen=True)
class DeliveryFact:
    name: str
    day: dt.date
    texts: int


@dataclass(frozen=True)
class AlikeFact:
    """What the corpus check found: groups and texts that are the same or nearly so (from this ``threshold`` of shared
    words on), and how many texts were excluded."""

    threshold: float
    same_groups: int
    same_texts: int
    near_groups: int
    near_texts: int
    aside: int


@dataclass(frozen=True)
class CorpusFact:
    """The texts as they are now; ``alike`` None where nobody looked for copies."""

    texts: int
    words: int
    sources: Sequence[str]
    first: dt.date | None
    last: dt.date | None
    empty: int
    language: str
    deliveries: Sequence[DeliveryFact] = ()
    alike: AlikeFact | None = None


@dataclass(frozen=True)
class InstrumentFact:
    """A dictionary: its size, and the versions that were counted with, by number, with their names."""

    name: str
    categories: int
    terms: int
    versions: Sequence[tuple[int, str]] = ()


@dataclass(frozen=True)
class CodingFact:
    """The codebook and what is coded by hand."""

    codes: int
    passages: int
    texts: int
    coders: Sequence[str] = ()


@dataclass(frozen=True)
class RunFact:
    """A run of automatic coding: how it found, what it coded, what people said of it. ``how`` is a sentence."""

    name: str
    how: str
    unit: str
    state: str
    places: int
    judged: int = 0
    right: int = 0
    seed: int | None = None


@dataclass(frozen=True)
class JudgedFact:
    """Verdicts on a category: precision with its interval, who judged, seeds of the samples."""

    name: str
    judged: int
    right: int
    low: float
    high: float
    judges: Sequence[str] = ()
    seeds: Sequence[int] = ()


@dataclass(frozen=True)
class Facts:
    """All that the section is written from; ``counted`` holds, by the label of each finding, how it was counted."""

    corpus: CorpusFact
    instruments: Sequence[InstrumentFact] = ()
    coding: CodingFact | None = None
    runs: Sequence[RunFact] = ()
    judged: Sequence[JudgedFact] = ()
    scopes: Sequence[tuple[str, str]] = ()
    counted: Sequence[tuple[str, Sequence[MethodPart]]] = field(default_factory=tuple)


def method_section(facts: Facts) -> list[Block]:
    """Headings and paragraphs in reading order: texts, instruments, coding, review, counting, sources."""
    blocks: list[Block] = [Heading("Texts", 2), Prose(_texts(facts.corpus))]
    if facts.instruments:
        blocks += [Heading("Dictionaries", 2), Prose(" ".join(map(_instrument, facts.instruments)))]
    if facts.coding is not None and facts.coding.codes:
        blocks += [Heading("Coding", 2), Prose(_coding(facts.coding))]
    if facts.runs:
        blocks += [Heading("Automatic coding", 2), Prose("\n\n".join(map(_run, facts.runs)))]
    if facts.judged:
        blocks += [Heading("Review", 2), Prose(" ".join(map(_judged, facts.judged)))]
    if facts.counted:
        blocks += [Heading("Counting", 2), *_counted(facts)]
    return blocks


def _texts(corpus: CorpusFact) -> str:
    said = [f"The corpus has {_many(corpus.texts, 'text')} with {_many(corpus.words, 'word')}."]
    if corpus.sources:
        said.append(f"They come from {_many(len(corpus.sources), 'source')}: {_listed(corpus.sources)}.")
    if corpus.first and corpus.last:
        said.append(f"Dated texts run from {_day(corpus.first)} to {_day(corpus.last)}.")
    if corpus.language:
        said.append(f"Word forms and the stop list are those for {corpus.language}.")
    if corpus.empty:
        said.append(
            f"{_count(corpus.empty, 'text').capitalize()} without a word {_be(corpus.empty)} among them."
        )
    for delivery in corpus.deliveries[:NAMED]:
        said.append(
            f"The delivery “{delivery.name}” of {_day(delivery.day)} brought {_many(delivery.texts, 'new text')}."
        )
    if len(corpus.deliveries) > NAMED:
        said.append(f"{len(corpus.deliveries) - NAMED:,} more deliveries brought the rest.")
    said.append(_alike(corpus.alike))
    return escaped(" ".join(said))


def _alike(alike: AlikeFact | None) -> str:
    if alike is None:
        return "Nobody has looked for copies among the texts yet."
    said = (
        f"Copies were looked for: {_many(alike.same_texts, 'text')} in {_many(alike.same_groups, 'group')} "
        f"{_be(alike.same_texts)} identical, {_many(alike.near_texts, 'text')} in "
        f"{_many(alike.near_groups, 'group')} near-duplicates (a similarity of {alike.threshold:g} or more; Broder 1997, "
        "Compression and Complexity of Sequences)."
    )
    if alike.aside:
        return f"{said} {_count(alike.aside, 'text').capitalize()} {_be(alike.aside)} excluded."
    return f"{said} None was excluded."


def _instrument(one: InstrumentFact) -> str:
    said = f"The dictionary “{one.name}” has {_many(one.terms, 'term')} in {_many(one.categories, 'category', 'categories')}"
    if not one.versions:
        return escaped(f"{said}.")
    versions = _listed([f"{number}{f' (“{name}”)' if name else ''}" for number, name in one.versions])
    return escaped(f"{said}; counted with its version{'s' if len(one.versions) > 1 else ''} {versions}.")


def _coding(one: CodingFact) -> str:
    if not one.passages:
        return escaped(f"The codebook has {_many(one.codes, 'code')}. No passage is coded by hand.")
    said = (
        f"The codebook has {_many(one.codes, 'code')}. {_count(one.passages, 'passage').capitalize()} in "
        f"{_many(one.texts, 'text')} {_be(one.passages)} coded by hand"
    )
    return escaped(f"{said} by {_listed(one.coders)}." if one.coders else f"{said}.")


def _run(one: RunFact) -> str:
    said = [f"“{one.name}”: {one.how} It coded {_many(one.places, one.unit + ' passage')}."]
    states = {
        "applied": "What was not judged wrong counts.",
        "proposals": "Only what was judged right counts.",
        "taken back": "It was taken back, and nothing of it counts.",
    }
    said.append(states.get(one.state, ""))
    if one.judged:
        said.append(
            f"Of {one.judged:,} that {_was(one.judged)} judged, {one.right:,} {_was(one.right)} right."
        )
    else:
        said.append("Nobody has judged what it found.")
    if one.seed is not None:
        said.append(f"Its seed is {one.seed}.")
    return escaped(" ".join(part for part in said if part))


def _judged(one: JudgedFact) -> str:
    said = (
        f"Of the hits of “{one.name}”, {one.judged:,} {_was(one.judged)} judged by "
        f"{_listed(one.judges) or 'nobody known'} and {one.right:,} {_was(one.right)} right: with each source weighted by its hits, between {one.low:.0%} and {one.high:.0%} "
        "of its hits are (Wilson 1927, JASA 22)"
    )
    seeds = (
        f"; samples were drawn with the {'seed' if len(one.seeds) == 1 else 'seeds'} "
        f"{_listed([str(seed) for seed in one.seeds])}"
        if one.seeds
        else ""
    )
    return escaped(f"{said}{seeds}.")


def _counted(facts: Facts) -> list[Block]:
    """How each finding was counted, what several share said once; then the sources of all."""
    blocks: list[Block] = []
    if facts.scopes:
        said = " ".join(f"{label} looks at {scope}." for label, scope in facts.scopes)
        blocks.append(Prose(escaped(said)))
    by: dict[tuple[str, str], list[str]] = {}
    sources: dict[str, None] = {}
    for label, parts in facts.counted:
        for part in parts:
            by.setdefault((part.heading, part.words), []).append(label)
            sources |= dict.fromkeys(one.strip().rstrip(".") for one in part.source.split(";") if one.strip())
    every = len(facts.counted)
    for (heading, words), labels in by.items():
        whose = "" if len(labels) == every and every > 1 else f" ({_listed(labels)})"
        blocks.append(Prose(f"**{escaped(heading)}**{escaped(whose)}: {escaped(words)}"))
    if sources:
        blocks += [
            Heading("Sources of the methods", 3),
            Prose("\n".join(f"- {escaped(one)}" for one in sources)),
        ]
    return blocks


def _many(number: int, noun: str, nouns: str = "") -> str:
    return f"{number:,} {noun if number == 1 else nouns or noun + 's'}"


def _count(number: int, noun: str) -> str:
    return _many(number, noun) if number != 1 else f"one {noun}"


def _be(number: int) -> str:
    return "is" if number == 1 else "are"


def _was(number: int) -> str:
    return "was" if number == 1 else "were"


def _day(day: dt.date) -> str:
    return f"{day.day} {day:%B %Y}"


def _listed(names: Iterable[str]) -> str:
    found = list(names)
    shown = [*found[:NAMED], *([f"{len(found) - NAMED:,} more"] if len(found) > NAMED else [])]
    return " and ".join([", ".join(shown[:-1]), shown[-1]] if len(shown) > 1 else shown)
