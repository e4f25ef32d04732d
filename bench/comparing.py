"""Views of Compare on very many short texts, beside pandas, polars and scikit-learn on the same."""

from __future__ import annotations

import re
import resource
import tempfile
import time
from dataclasses import dataclass, replace
from functools import cached_property
from pathlib import Path

import numpy as np
import pandas as pd
import polars as pl
from corpora import draw, vocabulary
from measure import row, seconds
from sklearn.feature_extraction.text import CountVectorizer

from winnower.core.change import changes_of
from winnower.core.coding import Passages
from winnower.core.compare import Comparison, DictionaryTarget, OfGiven, OfTerms, compare, statements
from winnower.core.compare.cells import Cell, evidence
from winnower.core.compare.map import map_of
from winnower.core.compare.targets import CodeNode, FieldNumber, OfCodes, OfNumbers
from winnower.core.compare.targets.codes import CodesTarget
from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.core.index import Lexicon, Segment, TokenIndex, build_lexicon, build_segment
from winnower.core.keyness import keyness, occurrences
from winnower.core.network import Network, build_network
from winnower.core.places import passages
from winnower.core.scope import (
    CategoryColumn,
    Columns,
    DateColumn,
    NumberColumn,
    Scope,
    Split,
    TextColumn,
    lay_ground,
)
from winnower.core.together import count_together

GROUPS, ROWS, DAYS, CODES, NETWORK = 50, 50, 730, 100, 300


@dataclass(frozen=True)
class Corpus:
    index: TokenIndex
    columns: Columns
    stories: None = None

    @cached_property
    def lexicon(self) -> Lexicon:
        return build_lexicon(self.index)


def made(folder: Path, n: int) -> tuple[Corpus, list[str]]:
    """Texts of 4 to 16 words, in 50 groups over two years."""
    rng = np.random.default_rng(7)
    words = vocabulary()
    lengths = rng.integers(4, 17, n)
    tokens = words[draw(rng, int(lengths.sum()), len(words))].tolist()
    ends = np.cumsum(lengths)
    bodies = [
        " ".join(tokens[end - size : end]).capitalize() + "." for end, size in zip(ends, lengths, strict=True)
    ]
    parts = []
    for first in range(0, n, 200_000):
        some = bodies[first : first + 200_000]
        build_segment(folder / str(first), list(range(first, first + len(some))), some)
        parts.append(Segment(folder / str(first)))
    index = TokenIndex(parts)
    fields = {
        "source": CategoryColumn(
            rng.integers(0, GROUPS, n).astype(np.int32), tuple(f"G{at:02}" for at in range(GROUPS))
        ),
        "side": CategoryColumn(rng.integers(0, 2, n).astype(np.int32), ("one", "other")),
        "date": DateColumn((22_280 + rng.integers(0, DAYS, n)).astype(np.int32)),
        "title": TextColumn(pl.Series([""] * n)),
        "words": NumberColumn(index.words),
    }
    return Corpus(index, Columns(index.text_id, fields, {key: key for key in fields})), bodies


def dictionary(rows: int) -> Dictionary:
    words = vocabulary(20_000)[
        np.random.default_rng(5).choice(np.arange(30, 20_000), rows * 4, replace=False)
    ]
    return Dictionary(
        "Bench",
        tuple(
            Category((f"C{at:02}",), tuple(TermEntry(str(word)) for word in words[at * 4 : at * 4 + 4]))
            for at in range(rows)
        ),
    )


def groups(corpus: Corpus, bodies: list[str]) -> None:
    target = dictionary(ROWS)
    reference, counted = OfGiven(target.name, target.categories), DictionaryTarget(target)
    comparison = Comparison(reference, split=Split("source"))

    def ours() -> object:
        table = compare(comparison, counted, corpus)
        return table.measure("rate")

    ours()
    patterns = [
        r"(?i)\b(?:" + "|".join(re.escape(t.source) for t in c.terms) + r")\b" for c in target.categories
    ]
    frame = pl.DataFrame({"text": bodies, "group": corpus.columns.fields["source"].codes})  # type: ignore[union-attr]

    def other() -> pl.DataFrame:
        counts = [pl.col("text").str.count_matches(p).sum().alias(f"C{k}") for k, p in enumerate(patterns)]
        return frame.group_by("group").agg(counts)

    own, theirs = seconds(ours, 5), seconds(other)
    row(
        f"{ROWS} rows by {GROUPS} groups with intervals and tests",
        f"{own * 1000:.0f} ms",
        "400 ms",
        own <= 0.4,
    )
    row(
        "polars counting alone, with regular expressions, over ours",
        f"{theirs / own:.1f} x",
        "over 1 x",
        theirs > own,
    )
    table = compare(comparison, counted, corpus)
    mapped = seconds(lambda: map_of(table), 5)
    row("the same as a map", f"{mapped * 1000:.0f} ms", "100 ms", mapped <= 0.1)


def days(corpus: Corpus) -> None:
    reference = OfTerms(tuple(TermEntry(str(word)) for word in vocabulary(400)[100:110]))
    target = reference.resolve(None, corpus)  # type: ignore[arg-type]
    comparison = Comparison(reference, split=Split("date", "day"))
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss

    def ours() -> object:
        return compare(comparison, target, corpus).measure("rate")

    ours()
    own = seconds(ours, 5)
    grown = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024
    row(f"10 rows by day over {DAYS} days", f"{own * 1000:.0f} ms", "500 ms", own <= 0.5)
    row("memory that takes", f"{grown:.0f} MB", "200 MB", grown <= 200)
    table = compare(comparison, target, corpus)
    found = seconds(lambda: changes_of(table, None, True))
    row("where each of the 10 changed", f"{found:.1f} s", "no figure given", True)
    ground = lay_ground(Scope(), comparison.split, corpus.index, corpus.columns)

    def first_page() -> object:
        places = evidence(Cell(target.rows[0].key, ground.groups.labels[30]), target, corpus, ground)
        return passages(places, corpus.index, 0, 25, each_hit=False)

    first_page()
    page = seconds(first_page, 5)
    row("first page of the passages under a cell", f"{page * 1000:.0f} ms", "200 ms", page <= 0.2)


def means(corpus: Corpus) -> None:
    """Of three numbers with gaps, beside what pandas takes for means and variances alone."""
    rng = np.random.default_rng(11)
    n = corpus.index.n_texts
    numbers = {f"n{at}": np.where(rng.random(n) < 0.1, np.nan, rng.normal(40, 10, n)) for at in range(3)}
    fields = {**corpus.columns.fields, **{key: NumberColumn(values) for key, values in numbers.items()}}
    columns = replace(corpus.columns, fields=fields, names={key: key for key in fields})
    there = Corpus(corpus.index, columns)
    reference = OfNumbers(tuple(FieldNumber(key) for key in numbers))
    target = reference.resolve(None, there)  # type: ignore[arg-type]
    comparison = Comparison(reference, split=Split("source"), measure="mean")

    def ours() -> object:
        return statements(compare(comparison, target, there))

    ours()
    frame = pd.DataFrame({**numbers, "group": columns.fields["source"].codes})  # type: ignore[union-attr]
    own = seconds(ours, 5)
    theirs = seconds(lambda: frame.groupby("group").agg(["mean", "var", "count"]), 5)
    row(f"means of 3 numbers by {GROUPS} groups, with tests", f"{own * 1000:.0f} ms", "400 ms", own <= 0.4)
    row(
        "ours over pandas' means and variances alone",
        f"{own / theirs:.1f} x",
        "under 10 x",
        own < 10 * theirs,
    )


def keywords(corpus: Corpus, bodies: list[str]) -> None:
    codes = corpus.columns.fields["side"].codes  # type: ignore[union-attr]
    side = codes.astype(np.int8)
    everywhere = np.ones(len(side), bool)
    _ = corpus.lexicon

    def ours() -> object:
        words = occurrences(corpus.index, corpus.lexicon, everywhere)
        return keyness(words, side, corpus.index.words)

    ours()
    own = seconds(ours, 3)

    def other() -> tuple[np.ndarray, np.ndarray]:
        counted = CountVectorizer(token_pattern=r"\w+").fit_transform(bodies)
        squared = counted.multiply(counted)
        return tuple(np.asarray(part[side == at].sum(0)) for part in (counted, squared) for at in (0, 1))  # type: ignore[return-value]

    theirs = seconds(other)
    row(
        f"keywords over {len(corpus.lexicon):,} words, p adjusted",
        f"{own * 1000:.0f} ms",
        "700 ms",
        own <= 0.7,
    )
    row("scikit-learn counting the same sums, over ours", f"{theirs / own:.1f} x", "over 1 x", theirs > own)


def matrix(corpus: Corpus, n: int) -> None:
    rng = np.random.default_rng(3)
    text = np.sort(rng.integers(0, corpus.index.n_texts, n))
    start = rng.integers(0, 20, n)
    made_of = {
        "id": np.arange(n), "text_id": text, "code_id": rng.integers(1, CODES + 1, n), "start": start,
        "end": start + rng.integers(3, 30, n), "made_by": np.ones(n, np.int64), "strength": np.zeros(n, np.int8),
    }  # fmt: skip
    nodes = tuple(CodeNode(at + 1, (f"Code {at:03}",), at % 10) for at in range(CODES))
    target = CodesTarget(nodes, Passages.of(made_of), 1)
    mask = np.ones(corpus.index.n_texts, bool)

    def ours() -> object:
        return count_together(target, None, corpus, mask, "text")

    ours()
    own = seconds(ours, 3)

    def other() -> pd.DataFrame:
        frame = pd.DataFrame({"unit": text, "code": made_of["code_id"]}).drop_duplicates()
        both = frame.merge(frame, on="unit")
        return both.groupby(["code_x", "code_y"]).size().unstack()

    theirs = seconds(other)
    row(f"{CODES} codes within {n:,} passages, same text", f"{own * 1000:.0f} ms", "500 ms", own <= 0.5)
    row("pandas counting pairs alone, over ours", f"{theirs / own:.1f} x", "over 1 x", theirs > own)
    sentence = seconds(lambda: count_together(target, None, corpus, mask, "sentence"))
    row("the same in the same sentence", f"{sentence * 1000:.0f} ms", "500 ms", sentence <= 0.5)
    over = seconds(lambda: count_together(target, None, corpus, mask, "overlap"))
    row("the same overlapping", f"{over * 1000:.0f} ms", "500 ms", over <= 0.5)
    assert OfCodes().kind == "codes"


def network(corpus: Corpus) -> None:
    asked = Network(most=NETWORK, least=5, floor=0.01, stop=False)
    mask = np.ones(corpus.index.n_texts, bool)
    nothing = np.empty(0, np.int64)
    own = seconds(lambda: build_network(asked, corpus, mask, nothing, "en"), 2)
    row(f"network of {NETWORK} words with topics, gaps and places", f"{own:.1f} s", "2 s", own <= 2)


def main(texts: int) -> None:
    """Print what each view costs."""
    with tempfile.TemporaryDirectory(prefix="winnower-bench-") as name:
        began = time.perf_counter()
        corpus, bodies = made(Path(name), texts)
        row(f"{texts:,} short texts made and read", f"{time.perf_counter() - began:.0f} s", "", True)
        groups(corpus, bodies)
        days(corpus)
        means(corpus)
        keywords(corpus, bodies)
        matrix(corpus, 1_000_000 if texts >= 800_000 else texts)
        network(corpus)
