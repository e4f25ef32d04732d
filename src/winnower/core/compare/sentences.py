"""What a table says, in plain words."""

from __future__ import annotations

import numpy as np

from winnower.core.compare.beware import beware, remarks
from winnower.core.compare.judged import LEAST_JUDGED
from winnower.core.compare.mean_sentences import mean_statements
from winnower.core.compare.statement import (
    Statement,
    adjusted_for,
    differing_part,
    discovered,
    surest,
    untested,
    way_of,
)
from winnower.core.compare.table import Table
from winnower.core.compare.testing import LEAST_UNITS, Verdict
from winnower.core.compare.trend_sentences import trend_statements
from winnower.core.compare.wording import as_often, capitalised, level_text, names, p_text, within
from winnower.core.compare.written import number
from winnower.core.measure import (
    LEAST_HITS,
    LEAST_WITH_HIT,
    MOST_MIXED,
    MixTest,
)

#: Units that change nothing are named up to so many.
FEW = 20
#: Adjusted rates that use less of all words are warned of.
LEAST_COVERED = 0.8
#: Differences between groups of texts are seldom larger than so many times.
USUAL = 5.0


def statements(table: Table) -> list[Statement]:
    """The largest gap, the tests, and what limits them."""
    tested = mean_statements(table) if table.of_numbers else _tested(table)
    found = [*tested, *_long(table), *_held(table), *_judged(table), *_limits(table), *_weights(table)]
    found += [Statement("warning", text) for text in beware(table)]
    found += [Statement("note", text) for text in remarks(table)]
    left_out = table.texts_in_scope - table.texts_in_groups
    if left_out:
        text = "1 text has no value here and is left out."
        if left_out > 1:
            text = f"{left_out:,} texts have no value here and are left out."
        found.append(Statement("note", text))
    return found


def _weights(table: Table) -> list[Statement]:
    """What the weights cost in certainty."""
    weights, groups = table.counts.weights, table.groups
    if weights is None:
        return []
    n = len(groups.text)
    worth = float(weights.effective(np.zeros(n, np.int64), 1)[0])
    text = (
        f"Weighted by “{weights.name}”: effective sample size {worth:,.0f} of {n:,} texts "
        f"(design effect {n / worth:.2f}). Numbers of hits and texts are not weighted."
    )
    if weights.without:
        are = (
            "text of the project has no weight and is"
            if weights.without == 1
            else "texts of the project have no weight and are"
        )
        text += f" {weights.without:,} {are} left out."
    return [Statement("note", text)]


def _tested(table: Table) -> list[Statement]:
    tests = table.tests
    if tests.verdict is None:
        return [Statement("note", tests.reason or "")]
    verdict = tests.verdict
    if not np.isfinite(verdict.rates.p).any():
        many, nouns = len(table.tested_rows), table.target.nouns[1]
        few = f"None of the {many:,} {nouns} has enough hits in every group to be tested among this number of cells."
        return [Statement("note", few), *_mix(table, verdict.mix)]
    found = [
        *_gap(table, verdict),
        _rates(table, verdict),
        *_could(table, verdict),
        *_mix(table, verdict.mix),
    ]
    if verdict.trend is not None:
        found += trend_statements(table, verdict.trend)
    return found


def _gap(table: Table, verdict: Verdict) -> list[Statement]:
    gap = verdict.rates.gap
    if not verdict.rates.tried:
        few = f"{LEAST_HITS} hits in {LEAST_WITH_HIT} {table.unit.nouns}"
        return [Statement("gap", f"No two groups have enough hits to be compared: {few} each.")]
    if gap is None:
        untested = _undefined(verdict)
        differing = len(verdict.differing(table.comparison.level))
        return (
            [Statement("gap", f"No single pair of groups stands out{untested}.")]
            if differing or untested
            else []
        )
    rate, measure = table.measure("rate").value, table.named("rate")
    labels = table.groups.labels
    label, subject = table.target.rows[gap.row].label, table.target.subject(gap.row)
    if gap.second >= 0:
        second, other = labels[gap.second], measure.written(rate[gap.row, gap.second])
    else:
        second, other = (
            "all other groups together",
            measure.written(_rate_of_others(table, gap.row, gap.first)),
        )
    times = as_often(gap.ratio)
    headline = (
        f"{subject} are {times} {within(labels[gap.first])} {'as' if 'times' in times else 'than'} {within(second)} "
        f"({measure.written(rate[gap.row, gap.first])} against {other} {measure.after_values}; "
        f"{level_text(table.comparison.level)} interval of the ratio {number(gap.low)} to {number(gap.high)})."
    )
    details = (
        f"Ratio {number(gap.ratio)} after shrinkage, {number(gap.found)} observed, the largest of {verdict.rates.tried:,}; the interval "
        "is simultaneous for all of them."
    )
    return [Statement("gap", headline, (label, times), details)]


def _undefined(verdict: Verdict) -> str:
    """Of ratios that cannot be tested: few long texts hold so much that most permutations leave a side without hits."""
    undefined, tried = verdict.rates.undefined, verdict.rates.tried
    if not undefined:
        return ""
    return f"; {undefined:,} of {tried:,} ratios cannot be tested, because permutations too often leave one side with too few hits"


def _rate_of_others(table: Table, row: int, group: int) -> float:
    others = np.arange(table.groups.n_groups) != group
    others[list(table.tests.left_out)] = False
    counted = table.counts.counted
    size = counted.sizes[others].sum()
    return float(counted.totals[row, others].sum() / size * table.view.factor) if size else float("nan")


def _rates(table: Table, verdict: Verdict) -> Statement:
    rates, rows = verdict.rates, table.tested_rows
    by = f"{table.unit.name} as the unit, {way_of(rates.times, rates.further)}"
    if len(rows) == 1:
        return _rate_of_one(table, verdict, rows[0], by)
    noun, nouns = table.target.nouns
    tested = int(np.isfinite(rates.p).sum())
    by += untested(table, len(rows) - tested)
    level = table.comparison.level
    differing = verdict.differing(level)
    adjusted = f"{adjusted_for(rates, tested, nouns)} ({by}).{discovered(rates, level)}"
    if not len(differing) and rates.least_adjusted > 1 - level:
        many = f"{tested:,} {nouns} are too many to be tested at once with this number of permutations; compare fewer of them."
        return Statement("test", many)
    if not len(differing):
        least = f"Smallest {p_text(float(np.nanmin(rates.p_adjusted)))}, " if tested else ""
        return Statement(
            "test", f"No {noun} differs significantly between the groups.", details=least + adjusted
        )
    headline = f"{differing_part(len(differing), tested, nouns)} significantly between the groups"
    if len(differing) < tested:
        sure = differing[np.argsort(rates.p_adjusted[differing], kind="stable")]
        headline += f": {names([table.target.rows[at].label for at in sure])}"
    each = surest(table, differing, rates.p_adjusted, rates.least_adjusted)
    return Statement("test", f"{headline}.", details=f"{each}; {adjusted}")


def _rate_of_one(table: Table, verdict: Verdict, row: int, by: str) -> Statement:
    label, rates = table.target.rows[row].label, verdict.rates
    differs = "differs" if len(verdict.differing(table.comparison.level)) else "does not differ"
    headline = f"The rate of {label} {differs} significantly between the groups ({p_text(rates.p[row], rates.least_p)})."
    return Statement("test", headline, (label,), f"{capitalised(by)}.")


def _could(table: Table, verdict: Verdict) -> list[Statement]:
    """What could have been seen, where no difference was."""
    rates = verdict.rates
    if len(verdict.differing(table.comparison.level)) or not np.isfinite(rates.detectable).any():
        return []
    least, most = int(np.nanargmin(rates.detectable)), int(np.nanargmax(rates.detectable))
    rows = table.target.rows
    if rates.detectable[least] > USUAL:
        text = (
            f"This corpus cannot show differences of any usual size: even {USUAL:g} times as often would be missed more often "
            "than in one of five corpora like it. More texts, or wider categories, are needed."
        )
        return [Statement("test", text)]
    text = (
        "This corpus could have shown a difference of "
        f"{number(float(rates.detectable[least]))} times in {rows[least].label}"
    )
    if rates.detectable[most] > USUAL:
        text += f", in {rows[most].label} none of less than {USUAL:g} times"
    elif most != least:
        text += f", of {number(float(rates.detectable[most]))} times in {rows[most].label}"
    return [Statement("test", f"{text} between medium-sized groups (80% power); smaller ones may exist.")]


def _mix(table: Table, mix: MixTest) -> list[Statement]:
    if not np.isfinite(mix.p):
        with_hits = int((table.counted[list(table.tested_rows)].sum(1) > 0).sum())
        if with_hits <= MOST_MIXED:
            return []
        many = f"The mix of {with_hits:,} {table.target.nouns[1]} is not tested; at most {MOST_MIXED:,} are."
        return [Statement("note", many)]
    differs = "differs" if mix.p <= 1 - table.comparison.level else "does not differ"
    headline = (
        f"The mix of {table.target.nouns[1]}, their shares of all hits, {differs} significantly between the "
        f"groups ({p_text(mix.p, 1 / (mix.times + 1) if mix.times else 0)})."
    )
    return [
        Statement(
            "test", headline, details=f"{capitalised(table.unit.name)} as the unit, {way_of(mix.times)}."
        )
    ]


def _long(table: Table) -> list[Statement]:
    """What a few long units do to the result."""
    long, verdict = table.tests.long, table.tests.verdict
    if long is None or verdict is None:
        return []
    level = table.comparison.level
    one = long.units == 1
    who = (
        f"1 {table.unit.noun} of {long.least_words:,} words"
        if one
        else f"{long.units:,} {table.unit.nouns} of {long.least_words:,} words or more"
    )
    begin = (
        f"{who} {'holds' if one else 'hold'} {long.share:.0%} of all words. Without {'it' if one else 'them'}"
    )
    before, after = verdict.differing(level), long.verdict.differing(level)
    changes = []
    if set(before.tolist()) != set(after.tolist()):
        changes.append(
            f"the rate differs for {len(after):,} instead of {len(before):,} {table.target.nouns[1]}"
        )
    mixes = [one.mix.p for one in (verdict, long.verdict)]
    if np.isfinite(mixes).all() and (mixes[0] <= 1 - level) != (mixes[1] <= 1 - level):
        differs = "differs" if mixes[1] <= 1 - level else "does not differ"
        changes.append(f"the mix {differs} ({p_text(mixes[1])})")
    if not changes and long.units > FEW:
        return []
    if not changes:
        return [Statement("note", f"{begin}, the same {table.target.nouns[1]} differ.")]
    return [Statement("warning", f"{begin}, {' and '.join(changes)}.")]


def _held(table: Table) -> list[Statement]:
    """What is held equal, how much of the corpus that leaves, and that the tests are of the rates as they are."""
    held = table.view.held
    if held is None:
        return []
    found = table.view.standardised
    if not found.used.any():
        none = f"No value of {held.names} has words in every group, so no rate can be adjusted."
        return [Statement("warning", none)]
    text = (
        f"Controlling for {held.names}: adjusted rates use the {int(found.used.sum()):,} of {held.n_strata:,} values or "
        f"combinations that every group compared has words of, with {found.covered:.0%} of their words. The tests above are of the "
        "rates as they are; the model tests them controlling for these fields."
    )
    said = [Statement("note" if found.covered >= LEAST_COVERED else "warning", text)]
    if found.out.any():
        labels = [table.groups.labels[at] for at in np.flatnonzero(found.out)]
        has = "has" if len(labels) == 1 else "have"
        said.append(
            Statement(
                "note",
                f"{names(labels)} {has} no adjusted rate, because there are no words of some of these values.",
            )
        )
    return said


def _judged(table: Table) -> list[Statement]:
    """On how many verdicts a measure of verdicts stands, and where there are none."""
    judged, rows = table.view.judged, table.target.rows
    if judged is None:
        return []
    texts = table.shown.name == "missed"
    shares = judged.missed if texts else judged.precision
    what = "texts without a hit" if texts else "hits"
    given = np.flatnonzero(shares.of_row[1])
    if not len(given):
        none = f"No {what} of these {table.target.nouns[1]} were judged yet; draw a sample in the dictionary."
        return [Statement("warning", none)]
    text = f"{int(shares.of_row[1].sum()):,} verdicts on {what} of {names([rows[at].label for at in given])}"
    if table.shown.name.startswith("corrected"):
        own = int(shares.best()[2].sum())
        text += (
            f"; {own:,} of {shares.judged.size:,} cells have {LEAST_JUDGED} or more of their own and are corrected by "
            "these, the others by those of their row. The tests above are of the rates as they are"
        )
    return [Statement("note", f"{text}.")]


def _limits(table: Table) -> list[Statement]:
    found = []
    wordless = [at for at in table.tests.left_out if not table.words[at]]
    small = [at for at in table.tests.left_out if table.words[at]]
    for places, why in (
        (wordless, "no words"),
        (small, f"fewer than {LEAST_UNITS} {table.unit.nouns}"),
    ):
        if places:
            left_out = [table.groups.labels[at] for at in places]
            has, tested = ("has", "is not") if len(left_out) == 1 else ("have", "are not")
            found.append(Statement("note", f"{names(left_out)} {has} {why} and {tested} tested."))
    if alone := table.texts_alone:
        has = "text has" if alone == 1 else "texts have"
        found.append(Statement("note", f"{alone:,} {has} no {table.unit.name}; each is a unit of its own."))
    return found
