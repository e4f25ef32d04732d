"""Write a segment of the token index."""

from __future__ import annotations

import json
import os
import shutil
from collections.abc import Sequence
from pathlib import Path

import numpy as np
import polars as pl
from scipy import sparse

from winnower.core.index.segment import FORMAT_VERSION, Segment
from winnower.core.tokens import bare, fold, split_texts
from winnower.core.tokens.expressions import IS_WORD


def build_segment(folder: Path, text_ids: Sequence[int], texts: Sequence[str] | pl.Series) -> Segment:
    """Tokenize texts and write them as a segment into ``folder``, which appears only when whole.

    ``text_ids`` and ``texts`` have the same length. An older folder of that name is replaced.
    """
    batch = split_texts(texts)
    vocabulary, place = describe_forms(batch.vocabulary)
    return write_segment(
        folder,
        vocabulary,
        {
            "text_id": np.asarray(text_ids, np.int64),
            "text_start": batch.text_start,
            "codes": place[batch.codes],
            "char_start": batch.char_start,
            "sentence_start": batch.sentence_start,
            "paragraph_start": batch.paragraph_start,
        },
    )


def describe_forms(surface: pl.Series) -> tuple[pl.DataFrame, np.ndarray]:
    """The vocabulary table of some surface forms, and for each of them its row in that table."""
    forms = surface.to_list()
    table = pl.DataFrame(
        {
            "surface": surface,
            "fold": pl.Series([fold(form) for form in forms], dtype=pl.String),
            "bare": pl.Series([bare(form) for form in forms], dtype=pl.String),
            "is_word": surface.str.contains(IS_WORD),
            "chars": surface.str.len_chars().cast(pl.Int32),
            "was": pl.Series(np.arange(len(forms), dtype=np.int32)),
        }
    ).sort("fold", "surface")
    place = np.empty(len(forms), np.int32)
    place[table["was"].to_numpy()] = np.arange(len(forms), dtype=np.int32)
    return table.drop("was"), place


def with_inversion(vocabulary: pl.DataFrame, arrays: dict[str, np.ndarray]) -> dict[str, np.ndarray]:
    """All arrays of a segment, from those in the order of its texts (in place)."""
    codes, text_start = arrays["codes"], arrays["text_start"]
    n_texts, n_forms = len(text_start) - 1, len(vocabulary)
    arrays["text_of"] = np.repeat(np.arange(n_texts, dtype=np.int32), np.diff(text_start))
    arrays["order"], arrays["form_start"] = invert(codes, n_forms)
    arrays["order_text"] = arrays["text_of"][arrays["order"]]
    arrays |= pair_arrays(vocabulary["fold"], codes, text_start)
    is_word = vocabulary["is_word"].to_numpy().astype(np.int64)[codes]
    seen = np.concatenate([[0], np.cumsum(is_word)])
    arrays["words"] = (seen[text_start[1:]] - seen[text_start[:-1]]).astype(np.int32)
    return arrays


def write_segment(folder: Path, vocabulary: pl.DataFrame, arrays: dict[str, np.ndarray]) -> Segment:
    """Derive the inversion, write everything beside ``folder``, then move it into place."""
    arrays = with_inversion(vocabulary, arrays)
    n_texts, n_tokens, n_forms = len(arrays["text_id"]), len(arrays["codes"]), len(vocabulary)
    folder = Path(folder)
    draft = folder.with_name(folder.name + ".part")
    shutil.rmtree(draft, ignore_errors=True)
    draft.mkdir(parents=True)
    for name, values in arrays.items():
        np.save(draft / f"{name}.npy", values)
    vocabulary.write_ipc(draft / "vocabulary.arrow", compression="uncompressed")
    meta = {"format": FORMAT_VERSION, "texts": n_texts, "tokens": n_tokens, "forms": n_forms}
    (draft / "segment.json").write_text(json.dumps(meta))
    shutil.rmtree(folder, ignore_errors=True)
    os.replace(draft, folder)
    return Segment(folder)


def invert(codes: np.ndarray, n_forms: int) -> tuple[np.ndarray, np.ndarray]:
    """Positions sorted by form, then position (int32), and where each form begins (int64).

    A counting sort in linear time: the column form of a one-row-per-token incidence matrix.
    """
    n = len(codes)
    counts = np.bincount(codes, minlength=n_forms) if n else np.zeros(n_forms, np.int64)
    form_start = np.concatenate([[0], np.cumsum(counts)]).astype(np.int64)
    if n == 0:
        return np.empty(0, np.int32), form_start
    rows = sparse.csr_matrix(
        (np.ones(n, np.int8), codes, np.arange(n + 1, dtype=np.int32)), shape=(n, n_forms)
    )
    return rows.tocsc().indices.astype(np.int32, copy=False), form_start


def pair_arrays(fold_of_form: pl.Series, codes: np.ndarray, text_start: np.ndarray) -> dict[str, np.ndarray]:
    """Which texts have which fold, and how often: what word lists are summed from."""
    changes = (fold_of_form != fold_of_form.shift()).fill_null(False).to_numpy()
    fold_of = np.cumsum(changes, dtype=np.int32)
    n_texts, n_folds = len(text_start) - 1, int(fold_of[-1]) + 1 if len(fold_of) else 0
    if not len(codes):
        empty = np.empty(0, np.int32)
        return {"fold_of": fold_of, "pair_start": np.zeros(n_folds + 1, np.int64), "pair_text": empty, "pair_hits": empty}  # fmt: skip
    by_text = sparse.csr_matrix(
        (np.ones(len(codes), np.int8), fold_of[codes], text_start.astype(np.int32)), shape=(n_texts, n_folds)
    )
    by_fold = by_text.tocsc()
    texts, starts = by_fold.indices, by_fold.indptr.astype(np.int64)
    first = np.ones(len(texts), bool)
    first[1:] = texts[1:] != texts[:-1]
    first[starts[:-1][np.diff(starts) > 0]] = True
    begins = np.flatnonzero(first)
    return {
        "fold_of": fold_of,
        "pair_start": np.concatenate([[0], np.cumsum(first)])[starts].astype(np.int64),
        "pair_text": texts[begins].astype(np.int32, copy=False),
        "pair_hits": np.diff(begins, append=len(texts)).astype(np.int32),
    }
