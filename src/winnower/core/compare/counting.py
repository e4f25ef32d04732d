"""From hits to counts by group: all that rates, intervals and tests need."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from winnower.core.compare.bases import Counter, Counting
from winnower.core.compare.targets import Corpus, NumberRow, Target, numbers_of
from winnower.core.compare.weights import Weights
from winnower.core.measure import Counted
from winnower.core.places import distinct_texts
from winnower.core.scope import Ground, Groups

#: The key of the field that says who coded in a text.
CODERS = "coders"


@dataclass(frozen=True)
class Numbers:
    """The numbers of a row, less their ``centre``, in memberships that have one (see core/measure/means.py); ``member``
    int: which of all memberships."""

    counted: Counted
    member: np.ndarray
    centre: float


@dataclass(frozen=True)
class Counts:
    """Counts of K rows over the memberships of texts in G groups: as many as there are texts in groups where no
    text is in two.

    groups    of the ground
    counted   hits with words as the base (or what ``counting`` says), memberships as units
    words     float64 (G): words of each group
    hits_in   float64 (K, G): hits, whatever is counted
    counting  the unit
    numbers   of a target of numbers those of each row, else none
    weights   of the texts, None where all count alike; ``counted`` is weighted then, and ``plain`` the same without
    """

    groups: Groups
    counted: Counted
    words: np.ndarray
    hits_in: np.ndarray
    counting: Counting = "hits"
    numbers: tuple[Numbers, ...] = ()
    weights: Weights | None = None
    plain: Counted | None = None

    @property
    def unweighted(self) -> Counted:
        """What was counted, every text alike."""
        return self.counted if self.plain is None else self.plain

    @property
    def n_rows(self) -> int:
        return self.counted.n_rows

    def with_text_rates(self) -> Counted:
        """Each text's own rate, with the texts that have words as the base."""
        c = self.unweighted
        words = c.size[c.unit]
        rates = np.divide(c.hits, words, out=np.zeros(len(words)), where=words > 0)
        return _weighted(replace(c, size=(c.size > 0).astype(float), hits=rates), self.weights)

    def texts_counted(self) -> Counted:
        """Texts with a hit, with texts as the base."""
        c = self.unweighted
        return _weighted(replace(c, size=np.ones(len(c.size)), hits=np.ones(len(c.hits))), self.weights)

    @property
    def hits(self) -> np.ndarray:
        """float (K, G): what is counted: hits, or sentences with one, and so on; never weighted."""
        return self.unweighted.totals

    @property
    def with_hit(self) -> np.ndarray:
        """float (K, G): texts with a hit."""
        return self.counted.with_hit


def _weighted(counted: Counted, weights: Weights | None) -> Counted:
    """Hits and sizes times the weight of their text."""
    if weights is None:
        return counted
    of_member = weights.of_member
    return replace(counted, size=counted.size * of_member, hits=counted.hits * of_member[counted.unit])


def count_groups(
    target: Target,
    corpus: Corpus,
    ground: Ground,
    counting: Counting = "hits",
    weights: Weights | None = None,
) -> Counts:
    """Count every row of a target in every group of the scope, each text with its weight where there are some."""
    if (rows_of_numbers := numbers_of(target)) is not None:
        return _count_numbers(rows_of_numbers, corpus, ground)
    groups = ground.groups
    counter = Counter.of(counting, corpus)
    members, rows, hits = [np.empty(0, np.int32)], [np.empty(0, np.int32)], [np.empty(0)]
    hits_in = np.zeros((len(target.rows), groups.n_groups))
    for row in range(len(target.rows)):
        for texts, times, of, hits_of in _of_row(target, row, counter, ground):
            at, member = of(texts)
            members.append(member.astype(np.int32))
            rows.append(np.full(len(at), row, np.int32))
            hits.append(times[at].astype(float))
            if counting != "hits":
                at, member = of(hits_of[0])
                hits_in[row] += np.bincount(
                    groups.group[member], weights=hits_of[1][at], minlength=groups.n_groups
                )
    size = counter.sizes()[groups.text]
    counted = Counted(
        groups.group,
        size,
        np.concatenate(members),
        np.concatenate(rows),
        np.concatenate(hits),
        groups.n_groups,
        len(target.rows),
    )
    if counting == "hits":
        hits_in = counted.totals  # worked out here, so that it is weighed with what is kept
    plain = None if weights is None else counted
    return Counts(groups, _weighted(counted, weights), ground.words, hits_in, counting, (), weights, plain)


def _count_numbers(rows: Sequence[NumberRow], corpus: Corpus, ground: Ground) -> Counts:
    """Of numbers what is counted are those there are; a text in two groups stands in both."""
    groups = ground.groups
    found = [_numbers(row, corpus, groups) for row in rows]
    counted = Counted(
        groups.group,
        corpus.index.words.astype(float)[groups.text],
        np.concatenate([one.member for one in found]),
        np.repeat(np.arange(len(found), dtype=np.int32), [len(one.member) for one in found]),
        np.concatenate([one.counted.size for one in found]),
        groups.n_groups,
        len(rows),
    )
    return Counts(groups, counted, ground.words, counted.totals, "hits", tuple(found))


def _numbers(row: NumberRow, corpus: Corpus, groups: Groups) -> Numbers:
    total, size = row.by_text(corpus)
    if not (groups.disjoint and len(groups.text) == len(total)):  # else each text stands there once, in order
        total, size = total[groups.text], size[groups.text]
    member = np.flatnonzero(size).astype(np.int32)
    total, size, group = total[member], size[member], groups.group[member]
    # around their own mean, squares of numbers such as years do not cancel each other out
    centre = float(total.sum() / size.sum()) if len(member) else 0.0
    n = len(member)
    hits = total - centre * size
    # what is the same everywhere takes no memory
    size = np.broadcast_to(1.0, n) if (size == 1).all() else size
    none, at = np.broadcast_to(np.int32(0), n), np.arange(n, dtype=np.int32)
    return Numbers(Counted(group, size, at, none, hits, groups.n_groups, 1), member, centre)


_Members = Callable[[np.ndarray], tuple[np.ndarray, np.ndarray]]
_Row = tuple[np.ndarray, np.ndarray, _Members, tuple[np.ndarray, np.ndarray]]


def _of_row(target: Target, row: int, counter: Counter, ground: Ground) -> Iterator[_Row]:
    """Texts with something of a row and how much, the memberships it goes to, and the hits by text."""
    groups = ground.groups
    if not by_coder(target, ground):
        yield (*_counts(target, row, counter, ground), groups.members, _hits(target, row, counter, ground))
        return
    for group, label in enumerate(groups.labels):
        own = target.of_coder(label)  # type: ignore[attr-defined]
        place = np.full(len(ground.mask), -1, np.int64)
        here = np.flatnonzero(groups.group == group)
        place[groups.text[here]] = here

        def members(texts: np.ndarray, place: np.ndarray = place) -> tuple[np.ndarray, np.ndarray]:
            at = np.flatnonzero(place[texts] >= 0)
            return at, place[texts[at]]

        yield (*_counts(own, row, counter, ground), members, _hits(own, row, counter, ground))


def by_coder(target: Target, ground: Ground) -> bool:
    """Whether the groups are people who code, and what is counted is what each of them coded."""
    return ground.split.field == CODERS and hasattr(target, "of_coder")


def _counts(target: Target, row: int, counter: Counter, ground: Ground) -> tuple[np.ndarray, np.ndarray]:
    if counter.counting == "hits":
        return counts_of(target, row, counter.corpus, ground)
    return counter.of_places(target.places([row], counter.corpus, ground.mask))


def _hits(target: Target, row: int, counter: Counter, ground: Ground) -> tuple[np.ndarray, np.ndarray]:
    if counter.counting == "hits":
        return np.empty(0, np.int64), np.empty(0)
    return counts_of(target, row, counter.corpus, ground)


def counts_of(target: Target, row: int, corpus: Corpus, ground: Ground) -> tuple[np.ndarray, np.ndarray]:
    """Texts of the scope with a hit of a row, sorted, and the hits of each."""
    texts = target.texts_of_hits(row, corpus)
    if not ground.everything:
        texts = texts[ground.mask[texts]]
    return distinct_texts(texts, corpus.index.n_texts)
