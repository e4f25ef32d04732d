"""How far links and topics hold: against words shuffled among the units, and over texts drawn again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy import sparse, stats

from winnower.core.network.graph import Topic, communities

#: How often the texts are drawn again, at most and at least, and entries of words by units gone through in all.
MOST_DRAWS, LEAST_DRAWS, WORK = 20, 8, 40_000_000
LEVEL = 0.05
Ties = Callable[[np.ndarray, float], tuple[np.ndarray, np.ndarray, np.ndarray]]


@dataclass(frozen=True)
class Stability:
    """Of N words and T topics.

    stronger  bool (N, N): together significantly more often than if words were shuffled among the units, each unit
              keeping its number of words and each word its number of units
    stays     float (T): of the pairs of words of a topic, the share that is in one topic again, on average over texts
              drawn again
    """

    stronger: np.ndarray
    stays: np.ndarray


def stability(
    held: sparse.csr_matrix,
    text_of: np.ndarray,
    ties: Ties,
    topics: tuple[Topic, ...],
    least: int,
    resolution: float,
    seed: int,
) -> Stability:
    """``held`` (N, U): 1 where a unit has a word; ``text_of`` int (U). ``ties`` gives both words and the weight of each link
    of a matrix of units together (N, N) among so many units; ``least`` units together are needed for one.

    The excess of a pair over what shuffled words would give is tested by its spread over texts drawn again, since words
    come in clumps; p is adjusted over all pairs by false discovery rate.

    Sources: the expectation under the configuration model, Newman (2010), Networks, ch. 13.2; texts drawn again: Efron
    (1979), Annals of Statistics 7, by Poisson weights; Benjamini and Hochberg (1995), JRSS B 57;
    stability of clusters: Hennig (2007), Computational Statistics and Data Analysis 52.
    """
    n, units = held.shape
    rng = np.random.default_rng(seed)
    draws = int(np.clip(WORK // max(held.nnz, 1), LEAST_DRAWS, MOST_DRAWS))
    texts, place = np.unique(text_of, return_inverse=True)
    of_unit = np.asarray(held.sum(0)).ravel()
    observed, _ = _excess(held, of_unit, np.ones(units))
    excesses, stays = [], np.zeros(len(topics))
    for _ in range(draws):
        weight = rng.poisson(1.0, len(texts)).astype(float)[place]
        excess, both = _excess(held, of_unit, weight)
        excesses.append(excess)
        first, second, strength = ties(both, max(float(weight.sum()), 1.0))
        member = communities(n, first, second, strength, resolution, seed)
        stays += [_together_again(member, topic) for topic in topics]
    return Stability(_stronger(observed, np.stack(excesses), held, least), stays / draws)


def _excess(
    held: sparse.csr_matrix, of_unit: np.ndarray, weight: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """(N, N) units together beyond those expected, and units together; units counted by their weight."""
    both = np.asarray((held.multiply(weight).tocsr() @ held.T).toarray(), float)
    alone = np.diag(both)
    ends = float((weight * of_unit).sum())
    pairs = float((weight * of_unit * (of_unit - 1)).sum())
    expected = np.outer(alone, alone) * (pairs / ends**2 if ends else 0.0)
    return both - expected, both


def _stronger(observed: np.ndarray, drawn: np.ndarray, held: sparse.csr_matrix, least: int) -> np.ndarray:
    """bool (N, N), symmetric; only pairs that could be linked are tested."""
    both = np.asarray((held @ held.T).toarray())
    first, second = np.nonzero(np.triu(both >= least, 1))
    out = np.zeros(observed.shape, bool)
    if not len(first):
        return out
    spread = drawn[:, first, second].std(0, ddof=1)
    with np.errstate(divide="ignore", invalid="ignore"):
        t = np.nan_to_num(observed[first, second] / spread, nan=0.0, posinf=0.0, neginf=0.0)
    adjusted = stats.false_discovery_control(stats.t.sf(t, len(drawn) - 1))
    out[first, second] = out[second, first] = adjusted <= LEVEL
    return out


def _together_again(member: np.ndarray, topic: Topic) -> float:
    """The share of pairs of a topic's words that are in one community."""
    sizes = np.bincount(member[list(topic.words)])
    words = len(topic.words)
    return float((sizes * (sizes - 1)).sum() / (words * (words - 1)))
