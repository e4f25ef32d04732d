"""Codes learned from examples: what was learned, what to look at next, and answers to it."""

from __future__ import annotations

import numpy as np
from fastapi import APIRouter

from winnower.api import schemas as s
from winnower.api.context import Desk, Reading, Writing
from winnower.api.numbers import plain
from winnower.api.run_items import items_of_frame
from winnower.api.schemas import learning as le
from winnower.api.schemas.runs import Measured, RunItem
from winnower.core.errors import WinnowerError
from winnower.core.learn import THRESHOLDS, Telling
from winnower.core.learn.learner import FEW
from winnower.core.runs import ByExample, Found, Recipe
from winnower.store.codebook import hold_codebook
from winnower.store.learning import Learnt, learnt, next_to_look
from winnower.store.learning import answer as answer_code
from winnower.store.run_scored import find_learned

router = APIRouter(prefix="/projects/{project_id}/runs")
MOST_WORDS = 60


@router.post("/learn")
def learn(desk: Reading, asked: le.LearnRequest) -> le.LearnedPublic:
    """Learn a code from what people coded, test it over texts, and tell what it would find. Nothing is stored."""
    recipe, finder = asked.recipe, asked.recipe.finder
    if not isinstance(finder, ByExample):
        raise WinnowerError("Only a recipe by example learns.")
    desk.look_at(recipe.texts)
    found = learnt(desk.session, desk.project, desk.corpus, recipe, finder)
    learned, lesson = found.learned, found.examples.lesson
    counts = found.found_from()
    curve = learned.curve
    return le.LearnedPublic(
        right=int(lesson.right.sum()),
        wrong=int((~lesson.right).sum()),
        texts=len(set(lesson.text.tolist())),
        read=found.examples.texts,
        used=found.examples.used,
        few=int(lesson.right.sum()) < FEW,
        folds=learned.folds,
        speaks_for=[_words(one) for one in learned.telling[:MOST_WORDS] if one.weight > 0],
        speaks_against=[_words(one) for one in learned.telling[: -MOST_WORDS - 1 : -1] if one.weight < 0],
        curve=[
            le.CurvePoint(
                threshold=float(threshold),
                precision=_three(curve.precision, at),
                recall=_three(curve.recall, at),
                f1=_three(curve.f1, at),
                found=counts[at],
            )
            for at, threshold in enumerate(THRESHOLDS)
        ],
        best=curve.best,
        chosen=[_three(curve.chosen.T, row) for row in range(3)],
        bins=[le.CalibrationBin(probability=p, right=r, units=n) for p, r, n in learned.bins],
        scored=len(found.at),
        of_units=found.of_units,
        next=_next(desk, recipe, finder, found, asked),
    )


def _words(one: Telling) -> le.TellingWords:
    return le.TellingWords(words=one.words, weight=one.weight, right=one.right, wrong=one.wrong)


def _three(values: np.ndarray, at: int) -> Measured:
    value, low, high = (plain(one) for one in values[:, at])
    return Measured(value=value, low=low, high=high)


def _next(
    desk: Desk, recipe: Recipe, finder: ByExample, found: Learnt, asked: le.LearnRequest
) -> list[RunItem]:
    rows = np.sort(next_to_look(found, asked.next, asked.seed))
    if not len(rows):
        return []
    some = Learnt(found.examples, found.learned, found.at[rows], found.probability[rows], found.of_units)
    reasons = ("", *(one.words for one in found.learned.telling if one.weight > 0))
    every = ByExample(finder.codes, threshold=0)
    columns: Found = find_learned(some, every, desk.corpus, reasons).found
    frame = columns.in_texts(desk.corpus.index)
    return items_of_frame(desk, frame, recipe.unit, {0: ("", None)}, reasons)


@router.post("/answers")
def answer(desk: Writing, given: le.AnswerGiven) -> s.Done:
    """Say whether words come under a code: one step. What does is coded by hand."""
    book = hold_codebook(desk.session, desk.project)
    code = book.code(given.code_id)
    desk.corpus.place_of(given.text_id)
    if given.end <= given.start:
        raise WinnowerError("These words are no stretch of a text.")
    recorder = desk.recorder(
        f"Code a passage as {code.name}" if given.right else f"A passage does not come under {code.name}"
    )
    answer_code(recorder, code, (given.text_id, given.start, given.end), given.right)
    recorder.save()
    return s.Done(label=recorder.label)
