"""Codes learned from what people coded: the examples there are, and what was learned from them."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import polars as pl
from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.core.coding import Passages
from winnower.core.errors import WinnowerError
from winnower.core.learn import THRESHOLDS, Curve, Learned, Lesson, Telling, learn, probabilities
from winnower.core.learn.scoring import Going
from winnower.core.places.stretches import as_places
from winnower.core.places.units import Units, units_of
from winnower.core.review import agreed
from winnower.core.runs import ByExample, Recipe
from winnower.core.scope import Split
from winnower.store.codebook import codebook_of
from winnower.store.coded import ANSWER, RUN
from winnower.store.history import Recorder
from winnower.store.models import CodeRow, CodingRun, Project, RunTarget, VerdictRow
from winnower.store.opened import OpenCorpus
from winnower.store.passages import code_stretch
from winnower.store.reading_passages import PassageCache
from winnower.store.review import VERDICT_SCHEMA, judge
from winnower.store.words import stop_words

#: So many units of people's texts are learned from; of more, those of so many texts drawn by chance.
MOST_EXAMPLES = 20_000
#: So many units are scored for what is shown before a run; the run looks at all.
MOST_TRIED = 200_000
UNITS = ("sentence", "paragraph", "text")


@dataclass(frozen=True)
class Examples:
    """``lesson`` of the units; ``read`` bool per text: people went through it. ``texts`` that were read and have units,
    ``used`` of them when they were too many."""

    units: Units
    lesson: Lesson
    read: np.ndarray
    texts: int
    used: int


@dataclass(frozen=True)
class Learnt:
    """What was learned, from what, and how likely each unit of the scope is that people did not go through: ``at``
    their numbers, of ``of_units``, and their ``probability``."""

    examples: Examples
    learned: Learned
    at: np.ndarray
    probability: np.ndarray
    of_units: int

    @property
    def nbytes(self) -> int:
        return int(self.at.nbytes + self.probability.nbytes + self.learned.weights.nbytes * 4 + 2_000_000)

    def found_from(self) -> list[int]:
        """How many units of the scope reach each threshold; reckoned from those that were scored."""
        reached = np.searchsorted(THRESHOLDS, self.probability + 1e-12, side="right")
        counts = np.bincount(reached, minlength=len(THRESHOLDS) + 1)[::-1].cumsum()[::-1][1:]
        share = self.of_units / max(len(self.at), 1)
        return [int(one) for one in np.round(counts * share)]


def codes_below(session: Session, project_id: int, codes: Sequence[int]) -> list[CodeRow]:
    """The codes a recipe names. Raises NotFound for one that is gone."""
    book = codebook_of(session, project_id)
    return [book.code(code) for code in codes]


def examples_of(
    session: Session, project: Project, corpus: OpenCorpus, recipe: Recipe, finder: ByExample
) -> Examples:
    """Units of the texts people went through (in which somebody coded anything by hand that is no answer), right where
    a passage by hand under one of the codes touches them; and units of other texts that were answered one by one:
    judged in the review of a run of these codes, or asked about."""
    if recipe.unit not in UNITS:
        raise WinnowerError("What is learned from examples codes sentences, paragraphs or whole texts.")
    codes_below(session, project.id, finder.codes)
    book = codebook_of(session, project.id)
    under = {one for code in finder.codes for one in book.tree.below(code)}
    units: Units = corpus.kept(("units", recipe.unit), lambda one: units_of(one.index, recipe.unit), ())
    passages = PassageCache(corpus.memory).open(session, project, corpus.folder)
    by_hand = passages.taken(passages.made_by > 0)
    place = corpus.places_of(by_hand.text_id)
    by_hand, place = by_hand.taken(place >= 0), place[place >= 0]
    answers = _answers(session, project.id, under)
    read = np.zeros(corpus.index.n_texts, bool)
    read[place[~_is_answer(by_hand, answers)]] = True
    right = _touched(
        corpus, units, by_hand, place, by_hand.under([one for one in under if one in by_hand.by_code])
    )
    at = np.flatnonzero(read[units.text])
    answered, said = _answered(corpus, units, answers, read)
    texts = np.unique(units.text[at])
    chosen = _drawn(units.text[at], texts, finder.seed)
    at = at[np.isin(units.text[at], chosen)]
    both = np.concatenate([at, answered])
    kinds = np.concatenate([right[at], said])
    order = np.argsort(both, kind="stable")
    lesson = Lesson(both[order], kinds[order], units.text[both[order]])
    return Examples(units, lesson, read, len(texts), len(chosen))


def _touched(
    corpus: OpenCorpus, units: Units, passages: Passages, place: np.ndarray, at: np.ndarray
) -> np.ndarray:
    places = as_places(place[at], passages.start[at], passages.end[at], corpus.index)
    return units.touched(places, corpus.index)


def _drawn(text: np.ndarray, texts: np.ndarray, seed: int) -> np.ndarray:
    """Texts, by chance, whose units are few enough."""
    if len(text) <= MOST_EXAMPLES:
        return texts
    drawn = np.random.default_rng(seed).permutation(texts)
    size = np.bincount(np.searchsorted(texts, text), minlength=len(texts))
    total = np.cumsum(size[np.searchsorted(texts, drawn)])
    return drawn[: max(int(np.searchsorted(total, MOST_EXAMPLES, "right")), 1)]


def _answers(session: Session, project_id: int, codes: Collection[int]) -> pl.DataFrame:
    """What people said of words one by one: in the review of runs, or when asked; with ``ours``, whether it was of these
    codes. See VERDICT_SCHEMA."""
    code_of = {
        target: code
        for target, code in session.execute(
            select(RunTarget.id, RunTarget.code_id)
            .join(CodingRun, CodingRun.id == RunTarget.run_id)
            .where(CodingRun.project_id == project_id)
        )
    }
    asked = select(
        VerdictRow.text_id,
        VerdictRow.start,
        VerdictRow.end,
        VerdictRow.verdict,
        VerdictRow.made_by,
        VerdictRow.subject,
        VerdictRow.subject_id,
    ).where(VerdictRow.project_id == project_id, VerdictRow.subject.in_((RUN, ANSWER)))
    rows = []
    for *place, subject, subject_id in session.execute(asked):
        code = subject_id if subject == ANSWER else code_of.get(subject_id)
        rows.append((*place, code in codes))
    return pl.DataFrame(rows, schema={**VERDICT_SCHEMA, "ours": pl.Boolean}, orient="row")


def _is_answer(by_hand: Passages, answers: pl.DataFrame) -> np.ndarray:
    """bool per passage: its person said something of its words alone, which does not mean that the text was read."""
    names = ("text_id", "start", "end", "made_by")
    hand = pl.DataFrame({name: getattr(by_hand, name) for name in names}).with_row_index("row")
    hand = hand.cast({"text_id": pl.Int64, "made_by": pl.Int64})
    both = hand.join(answers, on=["text_id", "made_by"], suffix="_said")
    over = both.filter((pl.col("start") < pl.col("end_said")) & (pl.col("start_said") < pl.col("end")))
    found = np.zeros(len(by_hand), bool)
    found[over["row"].to_numpy()] = True
    return found


def _answered(
    corpus: OpenCorpus, units: Units, answers: pl.DataFrame, read: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Units of texts nobody read that were answered, ascending; and whether they come under the codes. What one passage
    says is right is right, where another of the unit is not."""
    said = agreed(answers.filter("ours").drop("ours"))
    place = corpus.places_of(said["text_id"].to_numpy())
    said = said.with_columns(place=place).filter((place >= 0) & ~read[place])
    touched = []
    for verdict in (0, 1):
        some = said.filter(pl.col("verdict") == verdict)
        at, start, end = (some[name].to_numpy() for name in ("place", "start", "end"))
        touched.append(units.touched(as_places(at, start, end, corpus.index), corpus.index))
    answered = np.flatnonzero(touched[0] | touched[1])
    return answered, touched[1][answered]


@dataclass(frozen=True)
class _Code:
    id: int
    kind: str = ANSWER


def answer(recorder: Recorder, code: CodeRow, place: tuple[int, int, int], right: bool | None) -> None:
    """Note whether words (text, start, end) come under a code; those that do are coded by hand. None takes back what
    was said, and not the coding."""
    verdict = None if right is None else int(right)
    judge(recorder, _Code(code.id), "hit", place, verdict, found_by="", version=0)
    if right:
        code_stretch(recorder, place[0], place[1:], [code])


def learnt(
    session: Session,
    project: Project,
    corpus: OpenCorpus,
    recipe: Recipe,
    finder: ByExample,
    most: int | None = MOST_TRIED,
    going: Going = iter,
) -> Learnt:
    """What is learned for a recipe, whatever its threshold; kept until the coding or the texts change. With ``most``
    no more units of the scope are scored, spread evenly. Raises WinnowerError where there is too little."""

    def make(corpus: OpenCorpus) -> Learnt:
        examples = examples_of(session, project, corpus, recipe, finder)
        learned = learn(
            examples.lesson,
            examples.units,
            corpus.index,
            corpus.lexicon,
            struck=finder.struck,
            added=tuple((one.word, one.speaks) for one in finder.added),
            functions=corpus.lexicon.numbers_of(sorted(stop)),
            seed=finder.seed,
        )
        mask = corpus.ground(recipe.texts, Split()).mask
        if not finder.also_read:
            mask = mask & ~examples.read
        units = examples.units
        wanted = np.flatnonzero(mask[units.text])
        step = 1 if most is None else max(1, -(-len(wanted) // most))
        at = wanted[::step]
        probability = probabilities(learned, units, at, corpus.index, corpus.lexicon, going)
        return Learnt(examples, learned, at, probability, len(wanted))

    stop = stop_words(session, project.id)
    words = (finder.struck, finder.added, finder.also_read, finder.seed, stop)
    return corpus.kept(("learnt", finder.codes, words, recipe.unit, recipe.scope, most), make)


def next_to_look(found: Learnt, most: int, seed: int) -> np.ndarray:
    """Numbers into ``found.at`` of the units that would teach most: those it is least sure of, one a text (uncertainty
    sampling, Lewis and Gale 1994, SIGIR 3-12)."""
    rng = np.random.default_rng(seed)
    # a little chance, so that units alike in wording do not all come
    doubt = np.abs(found.probability - 0.5) + rng.random(len(found.at)) * 0.05
    order = np.argsort(doubt, kind="stable")[: most * 50]
    text = found.examples.units.text[found.at[order]]
    _, first = np.unique(text, return_index=True)
    return order[np.sort(first)][:most]


def _worth(curve: Curve, at: int) -> list[np.ndarray]:
    """Precision, recall and F1 at a threshold; at the best one as on texts that had no part in choosing it."""
    if at == curve.best and not np.isnan(curve.chosen).any():
        return list(curve.chosen)
    return [curve.precision[:, at], curve.recall[:, at], curve.f1[:, at]]


def measured(found: Learnt, threshold: float) -> dict[str, Any]:
    """What a run keeps of what was learned: figures at its threshold, and its most telling words."""
    curve, lesson = found.learned.curve, found.examples.lesson
    at = int(np.argmin(np.abs(THRESHOLDS - threshold)))
    figures = {
        name: {
            part: None if np.isnan(one) else round(float(one), 4)
            for part, one in zip(("value", "low", "high"), values, strict=True)
        }
        for name, values in zip(("precision", "recall", "f1"), _worth(curve, at), strict=True)
    }
    telling = found.learned.telling
    return {
        **figures,
        "right": int(lesson.right.sum()),
        "wrong": int((~lesson.right).sum()),
        "texts": int(len(np.unique(lesson.text))),
        "folds": found.learned.folds,
        "threshold": threshold,
        "speaks_for": [_told(one) for one in telling[:60] if one.weight > 0],
        "speaks_against": [_told(one) for one in telling[:-31:-1] if one.weight < 0],
    }


def _told(one: Telling) -> dict[str, Any]:
    return {"words": one.words, "weight": round(one.weight, 3)}
