"""Rows tested together: by approximation, or by giving the units to the groups anew; p adjusted for all that was looked at.

What is compared, rates or means, is a ``Kind``.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from scipy import special

from winnower.core.measure import permutation
from winnower.core.measure.counted import Counted
from winnower.core.measure.homogeneity import Contrasts, Scores, Sums, approximate_p, as_it_is
from winnower.core.measure.multiple import holm

#: So many states are worked out together, or as many as have so many cells.
GATHERED, MOST_GATHERED = 8, 40_000


@dataclass
class Family:
    """Rows tested in one way: p by row, p of cells and contrasts as if there were no others.

    rows       int: which of all
    found, gaps   their scores and contrasts, as they are
    critical   the contrast in standard errors that the largest of all keeps below, at the level asked for
    times, planned   states drawn, 0 where all is approximated, and how many were to be for a row that needs them
    further    states drawn beyond these for the rows that needed them
    p_largest  of rows that are permuted: p among the largest of all rows
    undefined  contrasts that more states of chance than the level allows give no value for, so that they cannot be tested
    """

    rows: np.ndarray
    found: Scores
    gaps: Contrasts
    p: np.ndarray
    z_p: np.ndarray
    gap_p: np.ndarray
    critical: float
    times: int = 0
    p_largest: np.ndarray | None = None
    planned: int = 0
    undefined: int = 0
    further: int = 0


@dataclass(frozen=True)
class Kind:
    """What is compared: how sums over units become scores and contrasts."""

    scores: Callable[[Sums], Scores]
    contrasts: Callable[[Sums, Scores], Contrasts]


def is_small(c: Counted) -> bool:
    """Whether everything can be permuted, however many units each group has."""
    return len(c.group) + 4 * len(c.unit) <= permutation.SMALL


def family_of(kind: Kind, rows: np.ndarray, c: Counted, df: np.ndarray, level: float) -> Family:
    """By approximation: Welch's for rows, Student's t for cells and contrasts, times how many there are. ``df`` (K, G) of
    the spread of each group."""
    sums = as_it_is(c)
    found = kind.scores(sums)
    gaps = kind.contrasts(sums, found)
    return Family(rows, found, gaps, *_approximated(df, found, gaps, level))


def _approximated(
    df: np.ndarray, found: Scores, ratio: Contrasts, level: float
) -> tuple[np.ndarray, np.ndarray, np.ndarray, float]:
    z = np.abs(found.z[0])
    with np.errstate(invalid="ignore", divide="ignore"):
        z_p = np.minimum(2 * special.stdtr(df, -z) * np.isfinite(z).sum(), 1)
        error = ratio.error[0] ** 2
        one = df[:, ratio.first]
        both = (
            df[:, ratio.first] if ratio.second[:1].tolist() == [-1] else np.minimum(one, df[:, ratio.second])
        )
        t = np.abs(ratio.estimate[0]) / np.sqrt(error)
        m = max(int(np.isfinite(t).sum()), 1)
        ratio_p = np.minimum(2 * special.stdtr(both, -t) * m, 1)
        critical = float(special.stdtrit(both, 1 - (1 - level) / (2 * m)).max()) if t.size else np.nan
    return approximate_p(found, df), z_p, ratio_p, critical


def permute(one: Family, kind: Kind, c: Counted, level: float, seed: int, most: int, among: int = 1) -> None:
    """Replace what is approximated by what the permutations say: p of rows and, by the largest of each state, of cells and
    contrasts. ``among``: how many rows are tested together.

    Source: Chung and Romano (2013), Annals of Statistics 41; Westfall and Young (1993), Resampling-Based Multiple Testing.
    """
    small = is_small(c)
    cost = (len(c.group) if small else 2 * len(c.unit)) + 4 * len(c.unit)
    times = permutation.times_for(cost + one.gaps.estimate.size // 2 + one.found.z.size, most)
    draw = permutation.permuted_sums if small else permutation.scattered_sums
    z, t = np.abs(one.found.z[0]), _studentised(one.gaps)[0]
    q = one.found.heterogeneity[0]
    above = np.zeros(len(q), np.int64)
    z_most, t_most, q_most = [], [], []
    # states in which a cell or a ratio has no value speak against it, not for it
    z_gone, t_gone = np.zeros(z.shape, np.int64), np.zeros(t.shape, np.int64)
    drawn = 0
    for sums in _gathered(draw(c, times, seed)):
        state = kind.scores(sums)
        above += permutation.as_extreme(state.heterogeneity, q)
        of_t = _studentised(kind.contrasts(sums, state))
        z_gone += (~np.isfinite(state.z)).sum(0)
        t_gone += (~np.isfinite(of_t)).sum(0)
        z_most.append(_most(np.abs(state.z)))
        q_most.append(_most(state.heterogeneity))
        t_most.append(_most(of_t, none=np.inf))
        drawn += len(state.z)
        if drawn >= 2 * permutation.CLEAR and _all_clear(above, z_most, z, t_most, t):
            break
    z_all, t_all = np.sort(np.concatenate(z_most)), np.sort(np.concatenate(t_most))
    one.p = np.where(np.isfinite(q), (above + 1) / (drawn + 1), np.nan)
    one.z_p = np.minimum(_among(z_all, z) + z_gone / (drawn + 1), 1)
    one.gap_p = np.minimum(_among(t_all, t) + t_gone / (drawn + 1), 1)
    one.undefined = int((np.isfinite(t) & (t_gone > (1 - level) * drawn)).sum())
    one.critical = float(t_all[min(int(np.ceil(level * (drawn + 1))) - 1, drawn - 1)])
    one.p_largest = _among(np.sort(np.concatenate(q_most)), q)
    one.times = one.planned = drawn
    if drawn == times:
        _go_further(one, kind, c, level, seed, above, among)
    one.planned = max(one.planned, times)


def _go_further(
    one: Family, kind: Kind, c: Counted, level: float, seed: int, above: np.ndarray, among: int
) -> None:
    """More states for rows that hardly any was as extreme as, where so few states cannot tell a row among so many.

    A row that goes on has p of all its states, the others keep theirs; each p holds its level, since a row only stops
    early with a p that is larger than any for which it would have gone on.

    Source: Besag and Clifford (1991), Biometrika 78, 301-304, for p of a number of states that depends on them.
    """
    drawn = one.times
    if among / (drawn + 1) <= 1 - level:
        return
    rows = np.isfinite(one.p) & (above <= permutation.FEW_AS_EXTREME)
    some = c.some(rows=rows)
    small = is_small(c)
    cost = (len(c.group) if small else 2 * len(some.unit)) + 4 * len(some.unit) + some.n_rows * c.n_groups
    times = int(np.ceil(1.5 * among / (1 - level)))
    if times * cost > permutation.FURTHER_WORK:
        return
    one.planned = times
    if not rows.any():
        return
    draw = permutation.permuted_sums if small else permutation.scattered_sums
    q, more = one.found.heterogeneity[0][rows], above[rows]
    for sums in _gathered(draw(some, times - drawn, (seed, 1))):
        more = more + permutation.as_extreme(kind.scores(sums).heterogeneity, q)
    one.p[rows] = (more + 1) / (times + 1)
    one.further = times - drawn


def _gathered(drawn: Iterator[Sums]) -> Iterator[Sums]:
    """Where states come one by one, some together: what is worked out of small tables costs as much for one as for
    several."""
    held: list[Sums] = []
    for sums in drawn:
        held.append(sums)
        states = sum(len(one.y) for one in held)
        if states >= GATHERED or states * sums.y[0].size >= MOST_GATHERED:
            yield _joined(held)
            held = []
    if held:
        yield _joined(held)


def _joined(some: Sequence[Sums]) -> Sums:
    if len(some) == 1:
        return some[0]
    return Sums(some[0].n, *(np.concatenate(part) for part in list(zip(*some, strict=True))[1:]))


def _all_clear(
    above: np.ndarray, z_most: list[np.ndarray], z: np.ndarray, t_most: list[np.ndarray], t: np.ndarray
) -> bool:
    if (above < permutation.CLEAR).any():
        return False
    return all(
        not np.isfinite(found).any() or (np.concatenate(most) >= np.nanmax(found)).sum() >= permutation.CLEAR
        for most, found in ((z_most, z), (t_most, t))
    )


def _studentised(gaps: Contrasts) -> np.ndarray:
    with np.errstate(divide="ignore", invalid="ignore"):
        found: np.ndarray = np.abs(gaps.estimate) / gaps.error
    return found


def _most(values: np.ndarray, none: float = 0.0) -> np.ndarray:
    """The largest of each state (B, ...); ``none`` where there is no value at all."""
    known = np.isfinite(values)
    flat = np.where(known, values, 0).reshape(len(values), -1)
    if not flat.shape[1]:
        return np.zeros(len(values))
    found: np.ndarray = np.where(known.reshape(len(values), -1).any(1), flat.max(1), none)
    return found


def _among(drawn: np.ndarray, found: np.ndarray) -> np.ndarray:
    """p of each value among the largest of each state, sorted; NaN stay."""
    larger = len(drawn) - np.searchsorted(drawn, found * (1 - 1e-9), side="left")
    return np.where(np.isfinite(found), (larger + 1) / (len(drawn) + 1), np.nan)


def adjusted_p(families: Sequence[Family], p: np.ndarray, level: float) -> tuple[np.ndarray, bool, float]:
    """p over all rows, whether by the largest statistic, and the least it can be.

    By Holm (1979), Scandinavian Journal of Statistics 6, as long as a p of so many states can come below the level by
    it; which is decided by how many rows and states there are, not by what they show.
    """
    tested = int(np.isfinite(p).sum())
    permuted = [one for one in families if one.p_largest is not None]
    least = max((1 / (one.times + one.further + 1) for one in permuted), default=0.0)
    if not permuted or tested / (min(one.planned for one in permuted) + 1) <= 1 - level:
        return holm(p), False, least * tested
    found = np.full(len(p), np.nan)
    for one in families:
        # several families share the level out by their number of rows
        own = int(np.isfinite(one.p).sum())
        share = max(tested / own, 1.0) if own else 1.0
        mine = holm(one.p) if one.p_largest is None else one.p_largest
        found[one.rows] = np.minimum(mine * share, 1)
        if one.p_largest is not None:
            least = max(least, share / (one.times + 1))
    return found, True, least


def part_kept(gaps: Contrasts, row: int) -> float:
    """The part of the spread of a row's contrasts that is not chance: what a chosen one is worth, on average.

    Source: DerSimonian and Laird (1986), Controlled Clinical Trials 7, 177-188; Efron and Morris (1973), JASA 68.
    """
    d, v = gaps.estimate[0][row], gaps.error[0][row] ** 2
    known = np.isfinite(d) & np.isfinite(v) & (v > 0)
    spread = float(np.mean(d[known] ** 2))
    return max(0.0, 1 - float(np.mean(v[known])) / spread) if spread > 0 else 0.0
