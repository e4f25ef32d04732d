"""The folds of a whole corpus, numbered in alphabetical order over all its segments."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import polars as pl

from winnower.core.index.segment import Segment
from winnower.core.index.token_index import TokenIndex

#: What a token can be; a place in this list is its code.
KINDS = ("word", "number", "hashtag", "mention", "emoji", "address")
_ADDRESS = r"^(?:https?://|www\.)|.@"
_NUMBER = r"^\p{N}+(?:[.,]\p{N}+)*$"


@dataclass(frozen=True)
class Lexicon:
    """folds   all folds, ascending; the number of a fold is its place
    places  for each segment: int32 per fold of the segment, its number here
    kinds   uint8 per fold: place in KINDS
    """

    folds: pl.Series
    places: tuple[np.ndarray, ...]
    kinds: np.ndarray

    def __len__(self) -> int:
        return len(self.folds)

    def number_of(self, fold: str) -> int:
        """The number of a fold, -1 where the corpus does not have it."""
        at = int(self.folds.search_sorted(fold, side="left"))
        return at if at < len(self.folds) and self.folds[at] == fold else -1

    def numbers_of(self, folds: list[str]) -> np.ndarray:
        """Numbers of those of the folds that the corpus has."""
        if not folds:
            return np.empty(0, np.int64)
        return np.flatnonzero(self.folds.is_in(folds).to_numpy())

    def of_tokens(self, segment: Segment, at: int, positions: np.ndarray) -> np.ndarray:
        """int32 numbers of the tokens at these positions of segment number ``at``."""
        found: np.ndarray = self.places[at][segment.fold_of[segment.codes[positions]]]
        return found


def build_lexicon(index: TokenIndex) -> Lexicon:
    parts = [segment.folds for segment in index.segments]
    if len(parts) == 1:
        folds = parts[0]
        places: tuple[np.ndarray, ...] = (np.arange(len(folds), dtype=np.int32),)
    else:
        whole = pl.concat(parts) if parts else pl.Series("fold", [], dtype=pl.String)
        folds = whole.unique().sort()
        numbered = pl.DataFrame({"fold": folds}).with_row_index("number")
        places = tuple(
            part.rename("fold")
            .to_frame()
            .join(numbered, on="fold", how="left", maintain_order="left")["number"]
            .to_numpy()
            .astype(np.int32)
            for part in parts
        )
    return Lexicon(folds, places, kinds_of(folds))


def brought_together(index: TokenIndex, lexicon: Lexicon, language: str, way: str) -> pl.Series:
    """For each fold the lemma or stem that stands for it (see tokens/lemmas.py)."""
    names = np.full(len(lexicon), "", object)
    for at, segment in enumerate(index.segments):
        first = np.flatnonzero(np.diff(segment.fold_of, prepend=-1))
        names[lexicon.places[at]] = segment.brought_together(language, way).gather(first).to_list()
    return pl.Series("form", names.tolist(), dtype=pl.String)


def kinds_of(folds: pl.Series) -> np.ndarray:
    """uint8 per fold: place in KINDS."""
    kinds = np.zeros(len(folds), np.uint8)
    first = folds.str.slice(0, 1)
    no_letter = ~folds.str.contains(r"[\p{L}\p{N}]")
    for kind, found in (
        ("emoji", no_letter),
        ("number", folds.str.contains(_NUMBER)),
        ("address", folds.str.contains(_ADDRESS)),
        ("hashtag", first == "#"),
        ("mention", first == "@"),
    ):
        kinds[found.fill_null(False).to_numpy()] = KINDS.index(kind)
    keycaps = folds.str.contains(r"\x{20E3}").to_numpy()
    kinds[keycaps] = KINDS.index("emoji")
    return kinds
