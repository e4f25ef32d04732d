"""Sentences about a table, and the parts of them that several need."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from winnower.core.compare.table import Table
from winnower.core.compare.wording import NAMED, p_text


@dataclass(frozen=True)
class Statement:
    """A sentence about a table. ``kind`` is gap, test, note or warning; ``strong`` parts stand out."""

    kind: str
    text: str
    strong: tuple[str, ...] = ()


def surest(table: Table, rows: np.ndarray, p: np.ndarray, least: float) -> str:
    """The first of some rows by their p, each with it, and how many more; ``least`` as in ``p_text``."""
    ordered = rows[np.argsort(p[rows], kind="stable")]
    named = [f"{table.target.rows[at].label} ({p_text(float(p[at]), least)})" for at in ordered[:NAMED]]
    more = f" and {len(rows) - NAMED:,} more" if len(rows) > NAMED else ""
    return f"{', '.join(named)}{more}"


def untested(table: Table, rows: int) -> str:
    """Rows without a test, at the end of what is said of the others."""
    return f"; {rows:,} without hits, or with too few, are not tested" if rows else ""


def periods_of(table: Table) -> str:
    return f"{table.comparison.split.period or 'month'}s"


def way_of(times: int) -> str:
    return f"{times:,} permutations" if times else "approximated"
