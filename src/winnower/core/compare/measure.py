"""What a measure is, and what it is computed from."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

from winnower.core.compare.bases import factor_of
from winnower.core.compare.counting import Counts
from winnower.core.compare.held import Held
from winnower.core.compare.judged import Judged
from winnower.core.compare.written import WRITTEN, Form
from winnower.core.errors import ComparisonError
from winnower.core.measure import PER_WORDS, Counted, Interval, Standardised, in_units, standardised


@dataclass(frozen=True)
class Measure:
    """What can be shown in a cell, and in which unit.

    label, unit   "Rate per 1,000 words", and what stands behind a value: "hits per 1,000 words"
    axis          the unit along an axis
    form          how values are written: at most three significant places, as a percentage, whole
    method        how it is counted, in sentences ({level} is that of the interval, {unit} and {units} what is
                  drawn at random), and their source
    compute       every cell with its interval, arrays (rows, groups); counts have no interval (NaN)
    needs         what a comparison must bring for it: fields held equal, verdicts, numbers, or nothing
    bare          it has no interval though it is no count
    """

    name: str
    label: str
    unit: str
    axis: str
    form: Form
    method: str
    source: str
    compute: Callable[[View], Interval]
    needs: Literal["", "held", "judged", "numbers"] = ""
    bare: bool = False

    @property
    def has_interval(self) -> bool:
        return self.form != "count" and not self.bare

    @property
    def after_values(self) -> str:
        """The unit as it follows values in a sentence, which bring their own percent sign: "of sentences"."""
        return self.axis.removeprefix("% ") if self.form == "percent" else self.axis

    def written(self, value: float) -> str:
        """A value as it stands in a sentence; "–" where it is not defined."""
        return WRITTEN[self.form](value)


@dataclass(frozen=True)
class View:
    """What a measure is computed from.

    counts   of all rows in all groups
    tested   the rows that share all hits compared
    level    of the intervals
    unit     int64 (M): the sampling unit of each membership; None: the text
    held     fields held equal, None where there are none
    judged   what verdicts say, None where they were not asked for
    per      a rate of hits is given for so many words
    reference  the group the others are set against, by place; None: each against all others
    """

    counts: Counts
    tested: tuple[int, ...]
    level: float = 0.95
    unit: np.ndarray | None = None
    held: Held | None = None
    judged: Judged | None = None
    per: int = PER_WORDS
    reference: int | None = None

    @property
    def factor(self) -> float:
        return 1.0 if self.counts.numbers else factor_of(self.counts.counting, self.per)

    @cached_property
    def standardised(self) -> Standardised:
        """Rates with the fields held equal. Raises ComparisonError where there are none."""
        if self.held is None:
            raise ComparisonError("An adjusted rate needs a field to be controlled for (“adjust”).")
        return standardised(self.counts.counted, self.held.stratum, self.held.n_strata, self.unit)

    def in_units(self, counted: Counted) -> Counted:
        return counted if self.unit is None else in_units(counted, self.unit)
