"""200 terms in 10 categories by 20 groups, intervals included, beside regular expressions."""

from __future__ import annotations

import re
from pathlib import Path

import numpy as np
import pandas as pd
import polars as pl
from corpora import vocabulary
from measure import row, seconds

from winnower.core.compare import Comparison, DictionaryTarget, OfGiven, compare
from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.core.scope import Split, lay_ground
from winnower.store.opened import OpenCorpus


def dictionary(terms: int = 200, categories: int = 10) -> Dictionary:
    rng = np.random.default_rng(5)
    words = vocabulary(20_000)[rng.choice(np.arange(30, 20_000), terms, replace=False)]
    each = terms // categories
    return Dictionary(
        "Bench",
        tuple(
            Category((f"C{k}",), tuple(TermEntry(str(w)) for w in words[k * each : (k + 1) * each]))
            for k in range(categories)
        ),
    )


def expressions(target: Dictionary) -> list[str]:
    return [r"(?i)\b(?:" + "|".join(re.escape(t.source) for t in c.terms) + r")\b" for c in target.categories]


def main(corpus: OpenCorpus, path: Path) -> None:
    target = dictionary()
    reference = OfGiven(target.name, target.categories)
    comparison, counted = Comparison(reference, split=Split("source")), DictionaryTarget(target)
    table = compare(comparison, counted, corpus)

    def ours() -> None:
        ground = corpus.ground(comparison.scope, comparison.split)
        found = compare(comparison, counted, corpus, ground)
        found.measure("rate")
        _ = found.test

    ours()
    frame = pl.read_csv(path).select("source", "text")
    patterns = expressions(target)

    def with_polars() -> pl.DataFrame:
        counts = [pl.col("text").str.count_matches(p).sum().alias(f"C{k}") for k, p in enumerate(patterns)]
        return frame.group_by("source").agg(counts).sort("source")

    other = frame.to_pandas()
    plain = other["text"].astype(object)  # Python strings and Python's expressions

    def count_with(texts: pd.Series) -> pd.DataFrame:
        counted = pd.DataFrame({f"C{k}": texts.str.count(p) for k, p in enumerate(patterns)})
        return counted.groupby(other["source"]).sum()

    by_label = with_polars()
    labels = list(table.groups.labels)
    same = all(
        by_label.filter(pl.col("source") == label)[f"C{k}"].item() == table.hits[k, labels.index(label)]
        for label in labels
        for k in range(10)
    )
    ours_s, polars_s, pandas_s = (
        seconds(ours, 15),
        seconds(with_polars, 5),
        seconds(lambda: count_with(plain)),
    )
    row("counts equal those of the other way", "yes" if same else "no", "yes", same)
    row(
        "counting, polars with regular expressions over ours",
        f"{polars_s / ours_s:.1f} x",
        "at least 20 x",
        polars_s >= 20 * ours_s,
    )
    row(
        "counting, pandas with regular expressions over ours",
        f"{pandas_s / ours_s:.0f} x",
        "at least 300 x",
        pandas_s >= 300 * ours_s,
    )
    fresh = seconds(lambda: lay_ground(comparison.texts, comparison.split, corpus.index, corpus.columns), 5)
    print(
        f"   (ours {ours_s * 1000:.0f} ms, a new scope or split {fresh * 1000:.0f} ms more; polars {polars_s:.2f} s, pandas {pandas_s:.1f} s, pandas on Arrow strings {seconds(lambda: count_with(other['text'])):.1f} s)"
    )
