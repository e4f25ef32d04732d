"""What is coded in each text, as columns: which codes, by whom, how many passages."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from winnower.core.coding.passages import Passages


def codes_of_texts(
    passages: Passages, text_of: np.ndarray, n_texts: int, above: Mapping[int, Sequence[int]]
) -> tuple[np.ndarray, np.ndarray]:
    """The codes of each text, as starts (n_texts + 1) and places in ``above``, ascending and each once.

    ``text_of`` is the place of each passage's text, -1 for none. ``above`` lists each code with all it lies in,
    in the order of the codebook: a text with a passage of a code has those above it, too.
    """
    codes = list(above)
    place = {code: at for at, code in enumerate(codes)}
    pairs = []
    for code, at in passages.by_code.items():
        texts = np.unique(text_of[at])
        texts = texts[texts >= 0]
        # a code that is gone in this moment has nothing above it
        pairs += [texts * len(codes) + place[one] for one in above.get(code, ())]
    return _several(pairs, n_texts, len(codes))


def people_of_texts(
    passages: Passages, text_of: np.ndarray, n_texts: int, coders: Sequence[int]
) -> tuple[np.ndarray, np.ndarray]:
    """Who coded each text, as starts (n_texts + 1) and places in ``coders``, ascending and each once."""
    pairs = []
    for at, coder in enumerate(coders):
        texts = np.unique(text_of[passages.made_by == coder])
        pairs.append(texts[texts >= 0] * len(coders) + at)
    return _several(pairs, n_texts, len(coders))


def number_in_texts(text_of: np.ndarray, n_texts: int) -> np.ndarray:
    """float64 per text: its passages."""
    return np.bincount(text_of[text_of >= 0], minlength=n_texts).astype(float)


def _several(pairs: Sequence[np.ndarray], n_texts: int, n_values: int) -> tuple[np.ndarray, np.ndarray]:
    """From numbers text * n_values + value."""
    both = np.unique(np.concatenate(pairs)) if pairs else np.empty(0, np.int64)
    if not len(both):
        return np.zeros(n_texts + 1, np.int64), np.empty(0, np.int32)
    text, value = np.divmod(both, n_values)
    start = np.concatenate([[0], np.cumsum(np.bincount(text, minlength=n_texts))]).astype(np.int64)
    return start, value.astype(np.int32)
