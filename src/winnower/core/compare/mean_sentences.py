"""What a table of means says, in plain words."""

from __future__ import annotations

import numpy as np

from winnower.core.compare.mean_measures import numbers_in_units
from winnower.core.compare.statement import (
    Statement,
    adjusted_for,
    differing_part,
    surest,
    untested,
    way_of,
)
from winnower.core.compare.table import Table
from winnower.core.compare.targets import numbers_of
from winnower.core.compare.testing import LEAST_UNITS, Verdict
from winnower.core.compare.trend_sentences import trend_statements
from winnower.core.compare.wording import capitalised, level_text, names, p_text, within
from winnower.core.compare.written import number
from winnower.core.measure import Gap

#: A unit that makes up more than this part of the squared deviations of its group is told of, from so many units on.
CARRIED, LEAST_CARRIED = 0.5, 10
#: Groups of which more than this part of the texts has no value are told of.
MOST_MISSING = 0.2


def mean_statements(table: Table) -> list[Statement]:
    """The largest difference, the tests, and what limits them."""
    tests = table.tests
    notes = [Statement("note", row.note) for row in numbers_of(table.target) or () if row.note]
    if tests.verdict is None:
        return [Statement("note", tests.reason or ""), *_missing(table), *notes]
    verdict = tests.verdict
    found = [*_gap(table, verdict), _differing(table, verdict), *_could(table, verdict)]
    if verdict.trend is not None:
        found += trend_statements(table, verdict.trend)
    return [*found, *_carried(table), *_missing(table), *notes]


def _gap(table: Table, verdict: Verdict) -> list[Statement]:
    gap, nouns = verdict.rates.gap, table.unit.nouns
    if not verdict.rates.tried:
        few = f"No two groups have enough values to be compared: {LEAST_UNITS} {nouns} with one each."
        return [Statement("gap", few)]
    if gap is None:
        differing = len(verdict.differing(table.comparison.level))
        return [Statement("gap", "No single pair of groups stands out.")] if differing else []
    labels, label = table.groups.labels, table.target.rows[gap.row].label
    means = table.measure("mean").value[gap.row]
    if gap.second >= 0:
        other, against = labels[gap.second], means[gap.second]
    else:
        other, against = "all other groups together", _mean_of_others(table, gap.row, gap.first)
    more = "higher" if gap.found > 0 else "lower"
    headline = (
        f"The mean {label} is about {number(abs(gap.ratio))} {more} {within(labels[gap.first])} than {within(other)} "
        f"({number(means[gap.first])} against {number(float(against))}; {level_text(table.comparison.level)} interval of the "
        f"difference {_interval(gap)})."
    )
    details = (
        f"Difference {number(abs(gap.ratio))} after shrinkage, {number(abs(gap.found))} observed, the largest of "
        f"{verdict.rates.tried:,}; the interval is simultaneous for all of them. That is {number(abs(gap.ratio) / gap.spread)} standard "
        f"deviations of {nouns} within a group ({number(gap.spread)})."
    )
    return [Statement("gap", headline, (label, labels[gap.first]), details)]


def _interval(gap: Gap) -> str:
    low, high = sorted((abs(gap.low), abs(gap.high)))
    low = 0.0 if gap.low < 0 < gap.high else low
    return f"{number(low)} to {number(high)}"


def _mean_of_others(table: Table, row: int, group: int) -> float:
    """As in the tests, without the groups that take no part in them."""
    one = table.counts.numbers[row]
    counted = numbers_in_units(table.view, one)
    others = counted.units >= LEAST_UNITS
    others[group] = False
    size = counted.sizes[others].sum()
    return one.centre + float(counted.totals[0, others].sum() / size) if size else float("nan")


def _differing(table: Table, verdict: Verdict) -> Statement:
    rates, rows = verdict.rates, table.tested_rows
    by = f"{table.unit.name} as the unit, {way_of(rates.times, rates.further)}"
    differing = verdict.differing(table.comparison.level)
    if len(rows) == 1:
        label = table.target.rows[rows[0]].label
        differs = "differs" if len(differing) else "does not differ"
        headline = f"The mean {label} {differs} significantly between the groups ({p_text(rates.p[rows[0]], rates.least_p)})."
        return Statement("test", headline, (label,), f"{capitalised(by)}.")
    tested = int(np.isfinite(rates.p).sum())
    nouns = table.target.nouns[1]
    by += untested(table, len(rows) - tested).replace("hits", "values")
    adjusted = f"{adjusted_for(rates, tested, nouns)} ({by})."
    if not len(differing):
        least = f"Smallest {p_text(float(np.nanmin(rates.p_adjusted)))}, "
        return Statement(
            "test", "No mean differs significantly between the groups.", details=least + adjusted
        )
    labels = [table.target.rows[at].label for at in differing]
    which = "" if len(differing) == tested else f": {names(labels)}"
    one = len(differing) == 1 and tested > 1
    headline = f"The {'mean' if one else 'means'} of {differing_part(len(differing), tested, nouns).lower()} significantly between the groups{which}."
    each = surest(table, differing, rates.p_adjusted, rates.least_adjusted)
    return Statement("test", headline, details=f"{each}; {adjusted}")


def _could(table: Table, verdict: Verdict) -> list[Statement]:
    """What could have been seen, where no difference was."""
    could = verdict.rates.detectable
    if len(verdict.differing(table.comparison.level)) or not np.isfinite(could).any():
        return []
    most = float(np.nanmax(could))
    return [
        Statement(
            "test",
            f"This corpus could have shown a difference of {number(most)} standard deviations within groups between "
            "medium-sized groups (80% power); smaller ones may exist.",
        )
    ]


def _carried(table: Table) -> list[Statement]:
    """Means of groups most of whose spread is one unit's."""
    found: list[tuple[float, str]] = []
    for row, one in zip(table.target.rows, table.counts.numbers, strict=True):
        c = numbers_in_units(table.view, one)
        group, n = c.group[c.unit], c.n_groups
        with np.errstate(divide="ignore", invalid="ignore"):
            mean = np.where(c.sizes > 0, c.totals[0] / c.sizes, 0)
            off = (c.hits - mean[group] * c.size[c.unit]) ** 2
            part = off / np.bincount(group, weights=off, minlength=n)[group]
        most = np.zeros(n)
        np.maximum.at(most, group, np.nan_to_num(part))
        wide = np.flatnonzero((most > CARRIED) & (c.units >= LEAST_CARRIED))
        found += [(float(most[at]), f"{row.label} in {table.groups.labels[at]}") for at in wide]
    if not found:
        return []
    found.sort(key=lambda pair: -pair[0])
    text = (
        f"A single {table.unit.noun} makes up most of the spread of {names([f'{label} ({share:.0%})' for share, label in found])}. "
        "Look at the median as well as the mean."
    )
    return [Statement("warning", text)]


def _missing(table: Table) -> list[Statement]:
    """Groups many of whose texts have no value."""
    found = []
    texts = table.counts.counted.units
    for row, one in zip(table.target.rows, table.counts.numbers, strict=True):
        with_value = one.counted.units
        with np.errstate(divide="ignore", invalid="ignore"):
            missing = np.where(texts > 0, 1 - with_value / texts, 0)
        labels = [table.groups.labels[at] for at in np.flatnonzero(missing > MOST_MISSING)]
        if labels:
            found.append(
                Statement(
                    "warning",
                    f"Many texts of {names(labels)} have no {row.label} ({missing.max():.0%} where it is most) and are in no mean.",
                )
            )
    return found
