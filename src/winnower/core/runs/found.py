"""What a run finds, as columns; and what differs between two states of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields

import numpy as np
import polars as pl

from winnower.core.index import TokenIndex
from winnower.core.places import Places, places_in_texts

#: What tells one found stretch from another.
PLACE = ("text_id", "target", "start", "end")


@dataclass(frozen=True)
class Found:
    """Stretches a run found, in the order of texts, targets and words; columns of one length.

    text          int64, place in the index
    start, end    int64, tokens within the segment: the first, and the one after the last
    target        int32, what was found: the place of a target
    reason        int32, why: the place of a reason, such as a term
    mark, after   int64, the tokens that were the reason, within the segment; the same where no words were
    hits          int32, how many reasons lie in the stretch
    score         int16, thousandths of a tone or a probability; 0 where there is none
    """

    text: np.ndarray
    start: np.ndarray
    end: np.ndarray
    target: np.ndarray
    reason: np.ndarray
    mark: np.ndarray
    after: np.ndarray
    hits: np.ndarray
    score: np.ndarray

    def __len__(self) -> int:
        return len(self.text)

    @property
    def texts(self) -> int:
        return len(np.unique(self.text))

    def some(self, rows: np.ndarray) -> Found:
        return Found(**{one.name: getattr(self, one.name)[rows] for one in fields(self)})

    @classmethod
    def plain(cls, text: np.ndarray, *others: np.ndarray) -> Found:
        """From all columns but the score, in their order, for what has none."""
        names = [one.name for one in fields(cls)]
        columns = [text, *others, np.zeros(len(text), np.int16)]
        return cls(**dict(zip(names, columns, strict=True)))

    @property
    def nbytes(self) -> int:
        return sum(int(getattr(self, one.name).nbytes) for one in fields(self))

    @classmethod
    def joined(cls, parts: Sequence[Found]) -> Found:
        if not parts:
            parts = [cls(**{one.name: np.empty(0, np.int64) for one in fields(cls)})]
        return cls(**{one.name: np.concatenate([getattr(p, one.name) for p in parts]) for one in fields(cls)})

    def counts(self, n_targets: int, group: np.ndarray, n_groups: int) -> np.ndarray:
        """int64 (targets, groups): stretches; ``group`` int per text, -1 for none."""
        of = group[self.text]
        inside = of >= 0
        cells = self.target[inside].astype(np.int64) * n_groups + of[inside]
        found: np.ndarray = np.bincount(cells, minlength=n_targets * n_groups).reshape(n_targets, n_groups)
        return found

    def in_texts(self, index: TokenIndex) -> pl.DataFrame:
        """As they are stored: text_id, start, end, target, reason, mark_start, mark_end, hits, score; places in
        code points of the text."""
        frame = places_in_texts(Places(self.text, self.start, self.end - self.start), index)
        length = self.after - self.mark
        marks = places_in_texts(Places(self.text, self.mark, np.maximum(length, 1)), index)
        marks = marks.with_columns(end=pl.Series(np.where(length > 0, marks["end"], marks["start"])))
        return frame.with_columns(
            target=pl.Series(self.target.astype(np.int32)),
            reason=pl.Series(self.reason.astype(np.int32)),
            mark_start=marks["start"],
            mark_end=marks["end"],
            hits=pl.Series(self.hits.astype(np.int32)),
            score=pl.Series(self.score.astype(np.int16)),
        )


@dataclass(frozen=True)
class Sorted:
    """How a new state of a run differs from the stored one: rows to add, ids of those to remove, those that stay,
    and those that stay although they are found no more, since somebody judged them."""

    added: pl.DataFrame
    removed: pl.Series
    same: int
    held: int


def in_step(stored: pl.DataFrame, now: pl.DataFrame, judged: pl.DataFrame) -> Sorted:
    """What would be added and removed to bring ``stored`` (with id) to ``now``; both with the columns of PLACE.
    What people judged (columns of PLACE) is neither removed nor made anew."""
    place = list(PLACE)
    added = now.join(stored, on=place, how="anti", maintain_order="left")
    gone = stored.join(now, on=place, how="anti", maintain_order="left")
    free = gone.join(judged, on=place, how="anti", maintain_order="left")
    return Sorted(added, free["id"], len(stored) - len(gone), len(gone) - len(free))
