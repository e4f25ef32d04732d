"""What a table says of lines through its periods, of rates and of means alike."""

from __future__ import annotations

import numpy as np

from winnower.core.compare.statement import Statement, periods_of
from winnower.core.compare.table import Table
from winnower.core.compare.wording import NAMED, p_text
from winnower.core.measure import LEAST_PERIODS, Trend, holm


def trend_statements(table: Table, trend: Trend) -> list[Statement]:
    """What rises or falls over the periods, as a straight line."""
    means, periods = table.of_numbers, periods_of(table)
    if not np.isfinite(trend.p).any():
        what = "values" if means else "words"
        few = f"With fewer than {LEAST_PERIODS} {periods} that have {what}, no line through them is tested."
        return [Statement("note", few)]
    adjusted = holm(trend.p)
    with np.errstate(invalid="ignore"):
        moving = np.flatnonzero(adjusted <= 1 - table.comparison.level)
    n = int(np.isfinite(trend.p).sum())
    noun, nouns = table.target.nouns
    end = f"Straight line, p adjusted for {n:,} {noun if n == 1 else nouns}; {periods} next to each other may be alike."
    if not len(moving):
        row = "mean" if means else noun
        return [Statement("test", f"Over time no {row} rises or falls significantly.", details=end)]
    measure = table.named("mean" if means else "rate")
    said = []
    for at in moving[np.argsort(adjusted[moving], kind="stable")][:NAMED]:
        first, last = (float(part[at]) * table.view.factor for part in (trend.first, trend.last))
        turn = "rises" if last > first else "falls"
        label = table.target.rows[at].label
        said.append(
            f"{label} {turn} from {measure.written(first)} to {measure.written(last)} ({p_text(float(adjusted[at]))})"
        )
    more = f" and {len(moving) - NAMED:,} more" if len(moving) > NAMED else ""
    lines = f"{', '.join(said)}{more}"
    told = f"the mean of {lines}" if means else f"{lines} {measure.after_values}"
    return [Statement("test", f"Over time {told}.", details=end)]
