"""From hits to counts by group: all that rates, intervals and tests need."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from winnower.core.compare.targets import Corpus, Target
from winnower.core.measure import Counted
from winnower.core.places import distinct_texts
from winnower.core.scope import Ground, Groups


@dataclass(frozen=True)
class Counts:
    """Counts of K rows over the memberships of texts in G groups: as many as there are texts in groups where no
    text is in two.

    groups   of the ground
    counted  hits with words as the base, memberships as units
    """

    groups: Groups
    counted: Counted

    @property
    def n_rows(self) -> int:
        return self.counted.n_rows

    def with_text_rates(self) -> Counted:
        """Each text's own rate, with the texts that have words as the base."""
        c = self.counted
        words = c.size[c.unit]
        rates = np.divide(c.hits, words, out=np.zeros(len(words)), where=words > 0)
        return replace(c, size=(c.size > 0).astype(float), hits=rates)

    def texts_counted(self) -> Counted:
        """Texts with a hit, with texts as the base."""
        c = self.counted
        return replace(c, size=np.ones(len(c.size)), hits=np.ones(len(c.hits)))

    @property
    def hits(self) -> np.ndarray:
        """float (K, G)."""
        return self.counted.totals

    @property
    def with_hit(self) -> np.ndarray:
        """float (K, G): texts with a hit."""
        return self.counted.with_hit


def count_groups(target: Target, corpus: Corpus, ground: Ground) -> Counts:
    """Count every row of a target in every group of the scope."""
    groups = ground.groups
    members, rows, hits = [np.empty(0, np.int32)], [np.empty(0, np.int32)], [np.empty(0)]
    for row in range(len(target.rows)):
        texts, times = counts_of(target, row, corpus, ground)
        at, member = groups.members(texts)
        members.append(member.astype(np.int32))
        rows.append(np.full(len(at), row, np.int32))
        hits.append(times[at].astype(float))
    counted = Counted(
        groups.group,
        corpus.index.words[groups.text].astype(float),
        np.concatenate(members),
        np.concatenate(rows),
        np.concatenate(hits),
        groups.n_groups,
        len(target.rows),
    )
    counted.totals  # noqa: B018 - worked out here, so that it is weighed with what is kept
    return Counts(groups, counted)


def counts_of(target: Target, row: int, corpus: Corpus, ground: Ground) -> tuple[np.ndarray, np.ndarray]:
    """Texts of the scope with a hit of a row, sorted, and the hits of each."""
    texts = target.texts_of_hits(row, corpus)
    if not ground.everything:
        texts = texts[ground.mask[texts]]
    return distinct_texts(texts, corpus.index.n_texts)
