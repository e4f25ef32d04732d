"""A question to the passages: by code, coder and strength, and by how they lie to passages of other codes."""

from __future__ import annotations

from collections.abc import Callable, Collection
from dataclasses import dataclass
from typing import Literal

import numpy as np

from winnower.core.coding.passages import Passages
from winnower.core.coding.relations import near, related

Unit = Literal["words", "paragraphs"]
#: Coders of passages by hand are above zero, runs below.
By = Literal["", "hand", "run"]
#: The first word (or paragraph) of each passage, and the one after its last.
Spans = Callable[[Passages, Unit], tuple[np.ndarray, np.ndarray]]


@dataclass(frozen=True)
class Beside:
    """Standing so (see relations.RELATIONS) to a passage of one of these codes, or ``without`` such a one; "near"
    is within so many words or paragraphs of it, 0 for next to it or in the same one."""

    relation: str
    codes: tuple[int, ...]
    without: bool = False
    within: int = 0
    unit: Unit = "words"


@dataclass(frozen=True)
class Question:
    """Passages of one of ``codes`` (none: any code) by one of ``coders`` (none: anybody), at least so strong
    where ``strength`` is not 0, by hand or by a run where ``by`` says so, for which all of ``beside`` hold."""

    codes: tuple[int, ...] = ()
    coders: tuple[int, ...] = ()
    strength: int = 0
    beside: tuple[Beside, ...] = ()
    by: By = ""


def answer(
    question: Question,
    passages: Passages,
    texts: np.ndarray,
    below: Callable[[Collection[int]], set[int]],
    spans: Spans,
) -> Passages:
    """The passages asked for within ``texts`` (ids), in the order of texts and words. ``below`` gives codes
    with all under them, ``spans`` where passages lie in words or paragraphs."""
    within = passages.taken(np.isin(passages.text_id, texts))
    mask = np.ones(len(within), bool)
    if question.codes:
        mask &= _under(within, below(question.codes))
    if question.coders:
        mask &= np.isin(within.made_by, question.coders)
    if question.strength:
        mask &= within.strength >= question.strength
    if question.by:
        mask &= (within.made_by > 0) == (question.by == "hand")
    found = within.taken(mask)
    for one in question.beside:
        others = within.taken(_under(within, below(one.codes)))
        holds = (
            _near(one, found, others, spans)
            if one.relation == "near"
            else related(one.relation, found, others)
        )
        found = found.taken(~holds if one.without else holds)
    return found


def _near(one: Beside, found: Passages, others: Passages, spans: Spans) -> np.ndarray:
    # only texts with both can have one near the other
    both = np.isin(found.text_id, others.text_id)
    others = others.taken(np.isin(others.text_id, found.text_id))
    some = found.taken(both)
    holds = np.zeros(len(found), bool)
    if len(some) and len(others):
        # in the same paragraph is as near as paragraphs can be
        within = one.within - (one.unit == "paragraphs")
        holds[both] = near(
            some.text_id, spans(some, one.unit), others.text_id, spans(others, one.unit), within
        )
    return holds


def _under(passages: Passages, codes: Collection[int]) -> np.ndarray:
    found = np.zeros(len(passages), bool)
    for code in codes:
        if code in passages.by_code:
            found[passages.by_code[code]] = True
    return found
