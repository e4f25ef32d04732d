"""Rates, intervals, tests, evenness: one function a formula, each with its source."""

from winnower.core.measure.association import log_dice, log_likelihood, mutual_information
from winnower.core.measure.contingency import (
    PearsonTest,
    adjusted_residuals,
    cramers_v,
    expected_counts,
    pearson_test,
    small_table_p,
)
from winnower.core.measure.evenness import deviation_of_proportions
from winnower.core.measure.rao_scott import AdjustedTest, rao_scott_test, share_covariance
from winnower.core.measure.rates import (
    Interval,
    mean_of_rates,
    rate_interval,
    ratio_of_rates,
    wilson_interval,
)
from winnower.core.measure.units import PER_WORDS, RATE_UNIT, per_words

__all__ = [
    "PER_WORDS",
    "RATE_UNIT",
    "AdjustedTest",
    "Interval",
    "PearsonTest",
    "adjusted_residuals",
    "cramers_v",
    "deviation_of_proportions",
    "expected_counts",
    "log_dice",
    "log_likelihood",
    "mean_of_rates",
    "mutual_information",
    "pearson_test",
    "per_words",
    "rao_scott_test",
    "rate_interval",
    "ratio_of_rates",
    "share_covariance",
    "small_table_p",
    "wilson_interval",
]
