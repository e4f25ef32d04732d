"""Weights of texts, such as those of the people a survey asked: how much each counts in rates, shares and tests."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from winnower.core.compare.targets import Corpus, MethodPart
from winnower.core.errors import ScopeError
from winnower.core.scope import Between, Groups, NumberColumn

#: Weights above this count; a text with none, or with 0, is left out.
LEAST = float(np.nextafter(0, 1))
#: So many groups are named with what their texts are worth.
NAMED_GROUPS = 12
_SOURCE = "Kish (1965), Survey Sampling, ch. 11.7; Cochran (1977), Sampling Techniques, ch. 6."


@dataclass(frozen=True)
class Weights:
    """``name`` of the field; ``of_member`` float64 (M): of each membership of a text in a group, 1 in the mean over all;
    ``without`` how many texts of the corpus have none."""

    name: str
    of_member: np.ndarray
    without: int = 0

    def effective(self, group: np.ndarray, n_groups: int) -> np.ndarray:
        """float64 (G): the effective sample size, (sum w)^2 / sum w^2: how many texts of equal weight would tell as much
        (Kish 1965)."""
        total = np.bincount(group, weights=self.of_member, minlength=n_groups)
        squares = np.bincount(group, weights=self.of_member**2, minlength=n_groups)
        return np.divide(total**2, squares, out=np.zeros(n_groups), where=squares > 0)


def weighed(field: str) -> Between:
    """The condition that a text has a weight to count with."""
    return Between(field, LEAST)


def weights_of(field: str, groups: Groups, corpus: Corpus) -> Weights:
    """The weights of the texts in the groups. Raises ScopeError for a field that is no number, or has one below 0, and
    where no text has a weight."""
    column = corpus.columns.field(field)
    name = corpus.columns.names[field]
    if not isinstance(column, NumberColumn):
        raise ScopeError(f"“{name}” is not a number; weights must be numbers.")
    below = int((column.values < 0).sum())
    if below:
        raise ScopeError(
            f"“{name}” is below 0 in {below:,} {'text' if below == 1 else 'texts'}: a weight says how much a text counts. "
            "Choose another field, or correct these values."
        )
    found = column.values[groups.text]
    if not len(found):
        raise ScopeError(f"No text here has a weight above 0 in “{name}”.")
    return Weights(name, found / found.mean(), int((~(column.values > 0)).sum()))


def weights_method(weights: Weights, groups: Groups, level: str) -> MethodPart:
    """What the weights do, with the design effect and what the texts of each group are worth."""
    n, everything = len(groups.text), weights.effective(np.zeros(len(groups.text), np.int64), 1)
    worth = weights.effective(groups.group, groups.n_groups)
    texts = np.bincount(groups.group, minlength=groups.n_groups)
    named = [
        f"{label} {worth[at]:,.0f} of {texts[at]:,}"
        for at, label in enumerate(groups.labels[:NAMED_GROUPS])
        if texts[at]
    ]
    each = f" By group: {', '.join(named)}." if 1 < groups.n_groups <= NAMED_GROUPS else ""
    return MethodPart(
        "Weights",
        f"Each text counts with its “{weights.name}”, in what is counted and in what it is counted over; texts without a "
        f"weight, or with 0, are left out. The design effect is {n / everything[0]:.2f}, the effective sample "
        f"size {everything[0]:,.0f} of {n:,} texts.{each} The {level} intervals of rates leave out one weighted unit at a time; "
        "those of shares of texts are Wilson’s at the effective number. Numbers of hits and texts, and what they open, are "
        "not weighted.",
        _SOURCE,
    )
