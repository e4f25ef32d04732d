"""Topics, places and middlemen of a weighted graph, by igraph; the same seed gives the same."""

from __future__ import annotations

import random
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

import numpy as np

#: igraph takes its chance from one source for the whole process.
_lock = threading.Lock()
#: Smaller groups of words are no topic.
LEAST_WORDS = 3
#: Topics of so many words take part in gaps, which are the closest to a bridge.
LEAST_IN_GAP = 4
MOST_GAPS, MOST_BRIDGES = 12, 5
#: So much of the tie expected between two topics is still a gap.
GAP = 0.5
LAYOUT_STEPS = 600


@dataclass(frozen=True)
class Topic:
    """words   places of its words, the one with the strongest ties inside first
    inside  the part of its ties that stay inside
    """

    words: tuple[int, ...]
    inside: float


@dataclass(frozen=True)
class Gap:
    """Two topics (by place) with weaker ties between them than their sizes would give: ``ratio`` observed over
    expected; ``bridges`` are the words that go most with both."""

    first: int
    second: int
    ratio: float
    bridges: tuple[int, ...]


@dataclass(frozen=True)
class Drawn:
    """Of N words: its topic or -1, betweenness 0 to 1, and a place 0 to 1 by 0 to 1."""

    topic: np.ndarray
    betweenness: np.ndarray
    x: np.ndarray
    y: np.ndarray
    topics: tuple[Topic, ...]


def drawn(
    n: int, first: np.ndarray, second: np.ndarray, weight: np.ndarray, resolution: float, seed: int
) -> Drawn:
    """Topics by the Leiden algorithm on modularity, betweenness over distances of 1 / weight, places by
    Fruchterman and Reingold.

    Sources: Traag, Waltman and van Eck (2019), Scientific Reports 9, 5233; Brandes (2001), Journal of Mathematical
    Sociology 25; Fruchterman and Reingold (1991), Software: Practice and Experience 21.
    """
    graph = _graph(n, first, second)
    with _seeded(seed):
        member = _members(graph, weight, resolution)
        start = [(np.cos(angle), np.sin(angle)) for angle in _around(member)]
        layout = graph.layout_fruchterman_reingold(weights=weight.tolist(), niter=LAYOUT_STEPS, seed=start)
    between = np.asarray(graph.betweenness(directed=False, weights=(1 / weight).tolist()))
    most = max((n - 1) * (n - 2) / 2, 1)
    topic, topics = _topics(member, first, second, weight)
    x, y = (_scaled(np.asarray(layout.coords)[:, axis]) for axis in (0, 1))
    return Drawn(topic, np.round(between / most, 6), x, y, topics)


def communities(
    n: int, first: np.ndarray, second: np.ndarray, weight: np.ndarray, resolution: float, seed: int
) -> np.ndarray:
    """int (N): the community of each word by the Leiden algorithm, as in ``drawn``."""
    graph = _graph(n, first, second)
    with _seeded(seed):
        return _members(graph, weight, resolution)


def _graph(n: int, first: np.ndarray, second: np.ndarray) -> Any:
    import igraph  # loaded where it is needed: workers that only count do without

    return igraph.Graph(n=n, edges=list(zip(first.tolist(), second.tolist(), strict=True)))


@contextmanager
def _seeded(seed: int) -> Iterator[None]:
    """Whatever igraph leaves to chance begins at the seed; nobody else asks it meanwhile."""
    import igraph

    with _lock:
        igraph.set_random_number_generator(random.Random(seed))
        try:
            yield
        finally:
            igraph.set_random_number_generator(random)


def _members(graph: Any, weight: np.ndarray, resolution: float) -> np.ndarray:
    found = graph.community_leiden(
        "modularity", weights=weight.tolist(), resolution=resolution, n_iterations=-1
    )
    return np.asarray(found.membership)


def _around(member: np.ndarray) -> np.ndarray:
    """An angle for each word on a circle, words of a community next to each other: a start that is no chance."""
    angle = np.empty(len(member))
    angle[np.argsort(member, kind="stable")] = np.linspace(0, 2 * np.pi, len(member), endpoint=False)
    return angle


def _scaled(values: np.ndarray) -> np.ndarray:
    low, high = values.min(), values.max()
    return np.round((values - low) / (high - low), 4) if high > low else np.full(len(values), 0.5)


def _topics(
    member: np.ndarray, first: np.ndarray, second: np.ndarray, weight: np.ndarray
) -> tuple[np.ndarray, tuple[Topic, ...]]:
    """The larger first; of a topic the words with the strongest ties inside first."""
    n = len(member)
    same = member[first] == member[second]
    inside = np.bincount(first[same], weight[same], n) + np.bincount(second[same], weight[same], n)
    whole = np.bincount(first, weight, n) + np.bincount(second, weight, n)
    topic = np.full(n, -1, np.int64)
    sizes = np.bincount(member)
    topics: list[Topic] = []
    for community in np.lexsort((np.arange(len(sizes)), -sizes)):
        words = np.flatnonzero(member == community)
        if len(words) < LEAST_WORDS:
            continue
        topic[words] = len(topics)
        ordered = words[np.argsort(-inside[words], kind="stable")]
        part = float(inside[words].sum() / whole[words].sum()) if whole[words].sum() else 0.0
        topics.append(Topic(tuple(ordered.tolist()), part))
    return topic, tuple(topics)


def gaps(
    topics: tuple[Topic, ...],
    topic: np.ndarray,
    first: np.ndarray,
    second: np.ndarray,
    weight: np.ndarray,
    near: np.ndarray,
) -> tuple[Gap, ...]:
    """Pairs of topics with weaker ties between them than expected, the weakest first.

    Expected is what the strengths of both would give, S_a S_b / 2W (the configuration model: Newman 2006, PNAS 103).
    ``near`` (N, N) is how much words go together whether that is a tie or not: of all words those bridge whose smaller
    mean over the words of both topics is largest.
    """
    large = [at for at, one in enumerate(topics) if len(one.words) >= LEAST_IN_GAP]
    strength = np.zeros(len(topics))
    between = np.zeros((len(topics), len(topics)))
    for a, b, w in zip(topic[first], topic[second], weight, strict=True):
        if a >= 0:
            strength[a] += w
        if b >= 0:
            strength[b] += w
        if a >= 0 and b >= 0 and a != b:
            between[a, b] += w
            between[b, a] += w
    total = 2 * float(weight.sum())
    out = []
    for place, a in enumerate(large):
        for b in large[place + 1 :]:
            expected = strength[a] * strength[b] / total if total else 0.0
            ratio = float(between[a, b] / expected) if expected else 0.0
            if ratio <= GAP:
                out.append(Gap(a, b, round(ratio, 6), _bridges(topics[a], topics[b], near)))
    out.sort(key=lambda gap: (gap.ratio, gap.first, gap.second))
    return tuple(out[:MOST_GAPS])


def _bridges(one: Topic, other: Topic, near: np.ndarray) -> tuple[int, ...]:
    to_one, to_other = (near[:, list(topic.words)].mean(1) for topic in (one, other))
    both = np.minimum(to_one, to_other)
    best = np.argsort(-both, kind="stable")[:MOST_BRIDGES]
    return tuple(int(at) for at in best if both[at] > 0)
