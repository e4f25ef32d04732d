"""One segment of the token index: what lies on disk, and how it is opened.

A segment is a folder; it is written once and never changed. Format version 4:

file                  dtype   one entry per          what
text_id.npy           int64   text                   the store's id of the text
text_start.npy        int64   text, and one more     first token of the text
words.npy             int32   text                   tokens that count as words
codes.npy             int32   token, in text order   form of the token: row of the vocabulary
text_of.npy           int32   token                  text (within the segment) it stands in
char_start.npy        int32   token                  code points from the start of its text
sentence_start.npy    int32   sentence               its first token
paragraph_start.npy   int32   paragraph              its first token
order.npy             int32   token                  token positions, sorted by form, then position
order_text.npy        int32   token                  the texts of ``order``
form_start.npy        int64   form, and one more     first entry in ``order`` of the form
fold_of.npy           int32   form                   its fold, numbered through
pair_start.npy        int64   fold, and one more     first entry in ``pair_text`` of the fold
pair_text.npy         int32   fold and text          a text that has the fold, ascending
pair_hits.npy         int32   fold and text          how often it has it
vocabulary.arrow      Arrow   form                   surface, fold, bare, is_word, chars

The vocabulary is sorted by fold, then surface, so that a beginning ("compens*") is one stretch of
it. Drawback: forms are repeated in every segment, so many small segments cost space and time;
``merge_segments`` joins them. Lemmas and stems are worked out when they are first asked for and lie
beside it from then on, as lemma-en.arrow.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Hashable, Mapping
from functools import cached_property
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl

from winnower.core.derived_file import keep_derived
from winnower.core.errors import IndexDamaged
from winnower.core.tokens.lemmas import brought_together

FORMAT_VERSION = 4
ARRAYS = (
    "text_id",
    "text_start",
    "words",
    "codes",
    "text_of",
    "char_start",
    "sentence_start",
    "paragraph_start",
    "order",
    "order_text",
    "form_start",
    "fold_of",
    "pair_start",
    "pair_text",
    "pair_hits",
)


#: Answers a segment keeps; a cache outside it would keep its files open after it was replaced.
MOST_REMEMBERED = 25_000


class Segment:
    """A segment opened for reading. Arrays are mapped from disk, so that opening costs no memory.

    Everything is opened at once: a segment that is removed from the folder while somebody counts
    with it stays readable for them.
    """

    text_id: np.ndarray
    text_start: np.ndarray
    words: np.ndarray
    codes: np.ndarray
    text_of: np.ndarray
    char_start: np.ndarray
    sentence_start: np.ndarray
    paragraph_start: np.ndarray
    order: np.ndarray
    order_text: np.ndarray
    form_start: np.ndarray
    fold_of: np.ndarray
    pair_start: np.ndarray
    pair_text: np.ndarray
    pair_hits: np.ndarray
    vocabulary: pl.DataFrame
    #: The segment this one is a part of, and which of its forms are used here.
    _of: tuple[Segment, np.ndarray] | None = None

    def __init__(self, folder: Path) -> None:
        self.folder = Path(folder)
        try:
            meta = json.loads((self.folder / "segment.json").read_text())
            for name in ARRAYS:
                values = np.load(self.folder / f"{name}.npy", mmap_mode="r").view(np.ndarray)
                setattr(self, name, values)
            self.vocabulary = pl.read_ipc(self.folder / "vocabulary.arrow")
            if meta["format"] != FORMAT_VERSION:
                raise IndexDamaged(f"The index part {self.folder.name} has another format.")
            self.n_texts: int = meta["texts"]
            self.n_tokens: int = meta["tokens"]
            self.n_forms: int = meta["forms"]
        except (OSError, ValueError, EOFError, KeyError, TypeError, pl.exceptions.PolarsError) as error:
            raise IndexDamaged(f"The index part {self.folder.name} cannot be read: {error}") from error
        self._begin()
        if not self._whole():
            raise IndexDamaged(f"The index part {self.folder.name} is not whole.")

    def _begin(self) -> None:
        self.n_folds = len(self.pair_start) - 1
        #: First tokens of stretches that "near" does not reach out of, None where those are the texts.
        self.stretch_start: np.ndarray | None = None
        self._together: dict[tuple[str, str], pl.Series] = {}
        self._remembered: dict[Hashable, Any] = {}

    @classmethod
    def part_of(
        cls, whole: Segment, used: np.ndarray, arrays: Mapping[str, np.ndarray], stretch_start: np.ndarray
    ) -> Segment:
        """Some tokens of a segment as one of its own, in memory: ``arrays`` as in ARRAYS, ``used`` (bool) says
        which forms are in its vocabulary."""
        part = cls.__new__(cls)
        part.folder = whole.folder
        for name in ARRAYS:
            setattr(part, name, arrays[name])
        part.vocabulary = whole.vocabulary.filter(used)
        part.n_texts, part.n_tokens = len(part.text_id), len(part.codes)
        part.n_forms = len(part.vocabulary)
        part._begin()
        part.stretch_start = stretch_start
        part._of = (whole, used)
        return part

    def _whole(self) -> bool:
        """Whether all arrays have the lengths that belong together."""
        per_text, per_token, per_form = self.n_texts, self.n_tokens, self.n_forms
        lengths = {
            "text_id": per_text, "text_start": per_text + 1, "words": per_text,
            "codes": per_token, "text_of": per_token, "char_start": per_token,
            "order": per_token, "order_text": per_token,
            "form_start": per_form + 1, "fold_of": per_form, "vocabulary": per_form,
            "pair_hits": len(self.pair_text),
        }  # fmt: skip
        same = all(len(getattr(self, name)) == length for name, length in lengths.items())
        return (
            same and int(self.text_start[-1]) == per_token and int(self.pair_start[-1]) == len(self.pair_hits)
        )

    @cached_property
    def form_chars(self) -> np.ndarray:
        """int32 code points per form."""
        return self.vocabulary["chars"].to_numpy()

    @cached_property
    def folds(self) -> pl.Series:
        """The folds of the vocabulary, ascending, each once."""
        first = np.flatnonzero(np.diff(self.fold_of, prepend=-1))
        return self.vocabulary["fold"].gather(first)

    def brought_together(self, language: str, way: str) -> pl.Series:
        """For each form the lemma or stem that stands for it (see tokens/lemmas.py); kept on disk."""
        key = (language, way)
        if key not in self._together:
            self._together[key] = self._brought_together(language, way)
        return self._together[key]

    def _brought_together(self, language: str, way: str) -> pl.Series:
        if self._of is not None:
            whole, used = self._of
            return whole.brought_together(language, way).filter(used)
        file = self.folder / f"{way}-{language}.arrow"
        found = _kept_series(file, len(self.folds))
        if found is None:
            found = pl.Series("form", brought_together(self.folds.to_list(), language, way), pl.String)
            frame = found.to_frame()
            if self.folder.exists():  # a newer part may have taken the place of this folder
                keep_derived(file, lambda draft: frame.write_ipc(draft))
        return found.gather(self.fold_of)

    def remember(self, key: Hashable, make: Callable[[], Any]) -> Any:
        """What ``make`` gives for this segment, which never changes; kept as long as the segment is open."""
        found = self._remembered.get(key)
        if found is None:
            if len(self._remembered) >= MOST_REMEMBERED:
                self._remembered.clear()
            found = self._remembered[key] = make()
        return found

    def positions_of(self, forms: np.ndarray) -> np.ndarray:
        """Token positions of any of the forms (int, unique); sorted within each form only."""
        return self.order[self._stretches(forms)]

    def texts_of(self, forms: np.ndarray) -> np.ndarray:
        """The text of each position of any of the forms, in the order of ``positions_of``."""
        return self.order_text[self._stretches(forms)]

    def count_of(self, forms: np.ndarray) -> int:
        return int((self.form_start[forms + 1] - self.form_start[forms]).sum())

    def _stretches(self, forms: np.ndarray) -> np.ndarray | slice:
        starts, ends = self.form_start[forms], self.form_start[forms + 1]
        if len(forms) == 1:
            return slice(int(starts[0]), int(ends[0]))
        if len(forms) and forms[-1] - forms[0] + 1 == len(forms) and (np.diff(forms) == 1).all():
            return slice(int(starts[0]), int(ends[-1]))
        lengths = ends - starts
        before = np.concatenate([[0], np.cumsum(lengths)[:-1]])
        found: np.ndarray | slice = np.arange(int(lengths.sum())) + np.repeat(starts - before, lengths)
        return found


def _kept_series(file: Path, length: int) -> pl.Series | None:
    """What was worked out earlier; None where it is not there, or not whole."""
    try:
        found = pl.read_ipc(file)["form"]
    except (OSError, pl.exceptions.PolarsError):
        return None
    return found if len(found) == length else None
