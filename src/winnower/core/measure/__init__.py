"""Rates, intervals, tests, evenness: one function a formula, each with its source."""

from winnower.core.measure.association import log_dice, log_likelihood, mutual_information
from winnower.core.measure.contingency import PearsonTest, cramers_v, expected_counts, pearson_test
from winnower.core.measure.correspondence import Correspondence, Points, correspondence
from winnower.core.measure.counted import Counted, in_units, units_across_groups
from winnower.core.measure.differences import Gap, RateTests, rate_tests
from winnower.core.measure.evenness import deviation_of_proportions
from winnower.core.measure.homogeneity import LEAST_HITS, against_others
from winnower.core.measure.mean_tests import mean_tests
from winnower.core.measure.means import Means, mean_differences, mean_interval, means_of
from winnower.core.measure.mix import MOST_MIXED, NO_MIX, MixTest, mix_test
from winnower.core.measure.mix import MOST_TIMES as MOST_MIX_TIMES
from winnower.core.measure.model import Effect, Factor, RateModel, rate_models
from winnower.core.measure.multiple import holm
from winnower.core.measure.permutation import MOST as MOST_TIMES
from winnower.core.measure.rao_scott import AdjustedTest, cross_products, rao_scott_test, share_covariance
from winnower.core.measure.rates import (
    LEAST_WITH_HIT,
    Interval,
    Rates,
    rate_interval,
    rates_of,
    wilson_interval,
)
from winnower.core.measure.reference import difference_from, ratio_to, reference_rates
from winnower.core.measure.standard import Standardised, standardised
from winnower.core.measure.trend import LEAST_PERIODS, Trend, trend_test
from winnower.core.measure.units import PER_WORDS, RATE_UNIT, per_words

__all__ = [
    "Correspondence",
    "Points",
    "correspondence",
    "difference_from",
    "ratio_to",
    "reference_rates",
    "LEAST_HITS",
    "LEAST_PERIODS",
    "LEAST_WITH_HIT",
    "MOST_MIXED",
    "MOST_MIX_TIMES",
    "MOST_TIMES",
    "NO_MIX",
    "PER_WORDS",
    "RATE_UNIT",
    "AdjustedTest",
    "Counted",
    "Effect",
    "Factor",
    "Gap",
    "Interval",
    "Means",
    "MixTest",
    "PearsonTest",
    "RateModel",
    "RateTests",
    "Rates",
    "Standardised",
    "Trend",
    "against_others",
    "cramers_v",
    "cross_products",
    "deviation_of_proportions",
    "expected_counts",
    "holm",
    "in_units",
    "log_dice",
    "log_likelihood",
    "mean_differences",
    "mean_interval",
    "mean_tests",
    "means_of",
    "mix_test",
    "mutual_information",
    "pearson_test",
    "per_words",
    "rao_scott_test",
    "rate_interval",
    "rate_models",
    "rate_tests",
    "rates_of",
    "share_covariance",
    "standardised",
    "trend_test",
    "units_across_groups",
    "wilson_interval",
]
