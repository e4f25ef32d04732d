"""All measures of a cell, each with its name, unit, format, words and function. A new measure is an entry here.

No other place knows that a rate is per 1,000 words, or how a share is written.
"""

from __future__ import annotations

import numpy as np

from winnower.core.compare.judged import LEAST_JUDGED, Judged, corrected_rates, corrected_texts
from winnower.core.compare.mean_measures import MEAN_MEASURES
from winnower.core.compare.measure import Measure, View
from winnower.core.errors import ComparisonError
from winnower.core.measure import (
    LEAST_WITH_HIT,
    PER_WORDS,
    RATE_UNIT,
    Interval,
    Rates,
    difference_from,
    rate_interval,
    rates_of,
    ratio_to,
    reference_rates,
    wilson_interval,
)


def _times(interval: Interval, factor: float) -> Interval:
    return Interval(*(part * factor for part in interval))


def _rate(v: View) -> Interval:
    return _times(rate_interval(rates_of(v.in_units(v.counts.counted)), v.level), v.factor)


def _adjusted(v: View) -> Interval:
    return _times(rate_interval(v.standardised.rates, v.level), v.factor)


def _verdicts(v: View) -> Judged:
    """Raises ComparisonError where they were not asked for."""
    if v.judged is None:
        raise ComparisonError("Only categories of a dictionary that is kept here have verdicts.")
    return v.judged


def _corrected(v: View) -> Interval:
    found = corrected_rates(rates_of(v.in_units(v.counts.counted)), _verdicts(v), v.level)
    return _times(found, v.factor)


def _corrected_texts(v: View) -> Interval:
    counts = v.counts
    texts = np.broadcast_to(counts.counted.units, counts.with_hit.shape)
    return corrected_texts(counts.with_hit, texts, _verdicts(v), v.level)


def _mean_rate(v: View) -> Interval:
    return _times(rate_interval(rates_of(v.in_units(v.counts.with_text_rates())), v.level), v.factor)


def _share(v: View) -> Interval:
    """Of all hits of the tested rows in the group; units without any say nothing about shares."""
    counts, rows = v.counts, list(v.tested)
    wanted = np.zeros(counts.n_rows, bool)
    wanted[rows] = True
    shares = v.in_units(counts.counted.some(rows=wanted)).as_shares()
    found = rate_interval(rates_of(shares), v.level)
    whole = np.full((3, *counts.hits.shape), np.nan)
    whole[:, rows] = found
    return Interval(whole[0], whole[1], np.minimum(whole[2], 1))


def _share_of_texts(v: View) -> Interval:
    counts = v.counts
    if v.unit is None and counts.weights is not None:
        found = counts.texts_counted()
        worth = counts.weights.effective(found.group, found.n_groups)
        share = _divided(found.totals, found.sizes)
        trials = np.broadcast_to(worth, share.shape)
        return wilson_interval(np.minimum(np.nan_to_num(share), 1) * trials, trials, v.level)
    if v.unit is None:
        return wilson_interval(
            counts.with_hit, np.broadcast_to(counts.counted.units, counts.with_hit.shape), v.level
        )
    rates = rate_interval(rates_of(v.in_units(counts.texts_counted())), v.level)
    return Interval(rates.value, rates.low, np.minimum(rates.high, 1))


def _ratio(v: View) -> Interval:
    return ratio_to(*_both(v), v.level)


def _difference(v: View) -> Interval:
    return _times(difference_from(*_both(v), v.level), v.factor)


def _both(v: View) -> tuple[Rates, Rates]:
    counted = v.in_units(v.counts.counted)
    return rates_of(counted), reference_rates(counted, v.reference)


def _of_row(v: View) -> Interval:
    """Of all hits of the row in the groups compared."""
    hits = v.counts.counted.totals
    return _plain(_divided(hits, hits.sum(1, keepdims=True)))


def _of_all(v: View) -> Interval:
    hits = v.counts.counted.totals
    return _plain(_divided(hits, hits[list(v.tested)].sum()))


def _divided(part: np.ndarray, whole: np.ndarray) -> np.ndarray:
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(whole > 0, part / whole, np.nan)


def _plain(counts: np.ndarray) -> Interval:
    none = np.full(counts.shape, np.nan)
    return Interval(counts, none, none)


_RATIO = (
    "Ratio estimator: Cochran (1977), Sampling Techniques, ch. 6; jackknife: Tukey (1958), Annals of "
    "Mathematical Statistics 29; degrees of freedom: Satterthwaite (1946), Biometrics Bulletin 2."
)
_NO_INTERVAL = (
    f"With fewer than {LEAST_WITH_HIT} {{units}} with a hit there is none: it would cover too little."
)
MEASURES: dict[str, Measure] = {
    measure.name: measure
    for measure in (
        Measure(
            "rate",
            f"Rate {RATE_UNIT}",
            f"hits {RATE_UNIT}",
            RATE_UNIT,
            "number",
            f"A rate is all hits of a group over all its words, times {PER_WORDS:,}; it is not a mean of the "
            "texts’ rates. Words are tokens with a letter or a digit. The {level} interval takes {unit} as the "
            "sampling unit, so that one long article cannot decide the result; it is found on the log scale by "
            f"leaving out one at a time, and is wider where they are less even. {_NO_INTERVAL}",
            _RATIO,
            _rate,
        ),
        Measure(
            "adjusted",
            "Adjusted rate",
            f"hits {RATE_UNIT}, controlling for other fields",
            f"{RATE_UNIT}, adjusted",
            "number",
            "What the rate of a group would be, were it made up of the values of the control fields as all groups "
            "together are: its rates there, weighted by the words all groups have there. Only values that every group "
            "has words of are used. The {level} interval takes {unit} as the sampling unit, and leaves one at a time out of "
            f"all values at once. With fewer than {LEAST_WITH_HIT} {{units}} with a hit for each value used there is none.",
            "Direct standardising: Rothman, Greenland and Lash (2008), Modern Epidemiology, ch. 3; jackknife: Tukey "
            "(1958); degrees of freedom: Satterthwaite (1946).",
            _adjusted,
            "held",
        ),
        Measure(
            "mean_rate",
            "Mean rate over texts",
            f"mean over texts of hits {RATE_UNIT}",
            f"{RATE_UNIT}, mean over texts",
            "number",
            f"Each text’s own rate {RATE_UNIT}, averaged over the texts of the group: every text "
            f"weighs the same, however long it is. The {{level}} interval takes {{unit}} as the sampling unit. {_NO_INTERVAL}",
            _RATIO,
            _mean_rate,
        ),
        Measure(
            "share",
            "Share of all hits compared",
            "share of all hits compared in the group",
            "% of all hits compared",
            "percent",
            "Hits of a row over all hits of the compared rows in the group, with the {level} interval of a "
            f"ratio, {{unit}} being the sampling unit. {_NO_INTERVAL}",
            _RATIO,
            _share,
        ),
        Measure(
            "share_of_texts",
            "Share of texts",
            "share of texts with a hit",
            "% of texts",
            "percent",
            "Texts with at least one hit over all texts of the group, with Wilson’s {level} interval where the text "
            "is the sampling unit, else with that of a ratio over {units}.",
            "Wilson (1927), JASA 22.",
            _share_of_texts,
        ),
        Measure(
            "ratio",
            "Ratio to the others",
            "times the rate of {reference}",
            "times the rate of {reference}",
            "number",
            "The rate of a group over that of {reference}: 2 is twice as often. The {level} interval takes {unit} as the "
            f"sampling unit and is found on the log scale, where errors add up. {_NO_INTERVAL}",
            _RATIO,
            _ratio,
        ),
        Measure(
            "difference",
            "Difference from the others",
            f"hits {RATE_UNIT} more than in {{reference}}",
            f"{RATE_UNIT} more than in {{reference}}",
            "number",
            "The rate of a group less that of {reference}. The {level} interval takes {unit} as the sampling unit. "
            f"{_NO_INTERVAL}",
            _RATIO,
            _difference,
        ),
        Measure(
            "share_of_row",
            "Share of the row",
            "share of all hits of the row",
            "% of the row",
            "percent",
            "Hits in the group over hits of the row in all groups compared. It grows with the group’s size.",
            "",
            _of_row,
            bare=True,
        ),
        Measure(
            "share_of_all",
            "Share of the whole table",
            "share of all hits in the table",
            "% of all hits",
            "percent",
            "Hits of a cell over all hits of the compared rows in all groups. It grows with the group’s size.",
            "",
            _of_all,
            bare=True,
        ),
        Measure(
            "corrected",
            "Corrected rate",
            f"hits {RATE_UNIT} that were judged to fit",
            f"{RATE_UNIT}, corrected",
            "number",
            "The rate times the precision of its hits, as people judged them: that of the cell from "
            f"{LEAST_JUDGED} verdicts in it on, else that of the row in all groups, each verdict weighted by the hits of "
            "its source it stands for. The {level} interval holds what is not known of the rate, with {unit} as the "
            "sampling unit, and of the precision. What is missed is not put in, as verdicts tell it of texts, not of hits.",
            _RATIO + " Precision: Cochran (1977), ch. 5A; Kish (1965).",
            _corrected,
            "judged",
        ),
        Measure(
            "corrected_texts",
            "Corrected share of texts",
            "share of texts that should have a hit",
            "% of texts, corrected",
            "percent",
            "Of the texts with a hit those that correctly have one, and of those without the part that is missed, as people "
            f"judged both: in the cell from {LEAST_JUDGED} verdicts on, else in the row. It takes verdicts of both kinds. "
            "The {level} interval is Wilson’s, at the number of texts that would be as sure.",
            "Delta method; Wilson (1927), JASA 22.",
            _corrected_texts,
            "judged",
        ),
        Measure(
            "precision",
            "Precision of hits",
            "share of judged hits that fit",
            "% of hits that fit",
            "percent",
            "Of the hits that people judged in the group, the part that fits, each verdict weighted by the hits of its "
            "source it stands for, with Wilson’s {level} interval at the effective number of verdicts.",
            "Cochran (1977), Sampling Techniques, ch. 5A; Kish (1965), Survey Sampling; Wilson (1927), JASA 22.",
            lambda v: _verdicts(v).precision.interval,
            "judged",
        ),
        Measure(
            "missed",
            "Texts missed",
            "share of judged texts without a hit that should have one",
            "% of texts without a hit",
            "percent",
            "Of the texts without a hit that people judged in the group, the part that should have one, with Wilson’s "
            "{level} interval.",
            "Wilson (1927), JASA 22.",
            lambda v: _verdicts(v).missed.interval,
            "judged",
        ),
        Measure(
            "hits",
            "Hits",
            "hits",
            "hits",
            "count",
            "The number of hits in the group; it grows with the group’s size.",
            "",
            lambda v: _plain(v.counts.hits),
        ),
        Measure(
            "texts",
            "Texts with a hit",
            "texts with a hit",
            "texts with a hit",
            "count",
            "The number of texts with at least one hit in the group.",
            "",
            lambda v: _plain(v.counts.with_hit),
        ),
        *MEAN_MEASURES,
    )
}


def measure_named(name: str) -> Measure:
    """Raises ComparisonError, with the names there are."""
    try:
        return MEASURES[name]
    except KeyError:
        known = ", ".join(MEASURES)
        raise ComparisonError(f"“{name}” is no measure. Measures: {known}.") from None
