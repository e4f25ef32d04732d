"""Terms while typed, word lists, concordances, suggestions, a large dictionary; each beside polars."""

from __future__ import annotations

import re
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
import polars as pl
from corpora import draw, vocabulary
from measure import row, seconds

from winnower.core.compare import Comparison, DictionaryTarget, OfGiven, compare, count_groups, look_over
from winnower.core.compare.profile import profile_term
from winnower.core.dictionary import Category, Dictionary, TermEntry, category_hits
from winnower.core.index import TokenIndex, build_lexicon, build_segment
from winnower.core.pattern import parse_term
from winnower.core.places import hits_in_texts, in_order
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
from winnower.core.suggest import build_company, in_the_same_company, variants
from winnower.core.words import count_words, neighbours, sort_hits
from winnower.store.opened import OpenCorpus

BY_SOURCE = Split("source")


def varied_terms(count: int = 200) -> list[str]:
    """Words, beginnings, endings, phrases, gaps, nearness, exclusions, expressions; common and rare."""
    rng = np.random.default_rng(12)
    words = vocabulary(20_000)

    def some(n: int) -> list[str]:
        return [str(w) for w in words[np.exp(rng.uniform(np.log(2), np.log(19_999), n)).astype(int)]]

    shapes: list[Callable[[], str]] = [
        lambda: some(1)[0],
        lambda: f"{some(1)[0]}*",
        lambda: f"{some(1)[0][:4]}*",
        lambda: f"*{some(1)[0][-4:]}",
        lambda: " ".join(some(2)),
        lambda: "{} [0-3] {}".format(*some(2)),
        lambda: "{} near:5 {}".format(*some(2)),
        lambda: "{}* near:sentence {}*".format(*some(2)),
        lambda: "{}* unless-near:4 {}".format(*some(2)),
        lambda: "{0}* unless-part-of: {0} {1}".format(*some(2)),
        lambda: "({} | {} | {}*) before:6 {}".format(*some(4)),
        lambda: f"/{some(1)[0][:3]}(a|o|i)?.*/",
    ]
    return [shapes[at % len(shapes)]() for at in range(count)]


def typing(corpus: OpenCorpus, path: Path) -> None:
    ground, lexicon = corpus.ground(Scope(), BY_SOURCE), corpus.lexicon
    took = []
    for source in varied_terms():
        began = time.perf_counter()
        profile_term(parse_term(source), corpus.index, lexicon, ground)
        took.append((time.perf_counter() - began, source))
    median = statistics.median(t for t, _ in took)
    slowest = max(took)
    texts = pl.read_csv(path, columns=["source", "text"])
    plain = [source for source in varied_terms() if re.fullmatch(r"[a-z]+\*?", source)][:10]

    def other() -> None:
        for source in plain:
            pattern = rf"(?i)\b{source.replace('*', '[a-z]*')}\b"
            texts.group_by("source").agg(pl.col("text").str.count_matches(pattern).sum())

    beside = seconds(other) / len(plain)
    row("a term while typed, median of 200", f"{median * 1000:.0f} ms", "150 ms", median <= 0.15)
    row(f"  the slowest: {slowest[1]}"[:60], f"{slowest[0] * 1000:.0f} ms", "400 ms", slowest[0] <= 0.4)
    row("  polars, one plain term", f"{beside / median:.0f} times as long", "", None)


def large_dictionary(corpus: OpenCorpus, path: Path, terms: int = 5_000) -> None:
    rng = np.random.default_rng(6)
    words = vocabulary(60_000)[rng.choice(np.arange(30, 60_000), terms, replace=False)]
    each = terms // 20
    target = Dictionary(
        "Large",
        tuple(
            Category((f"C{k}",), tuple(TermEntry(str(w)) for w in words[k * each : (k + 1) * each]))
            for k in range(20)
        ),
    )

    def ours() -> np.ndarray:
        ground = corpus.ground(Scope(), BY_SOURCE)
        return count_groups(DictionaryTarget(target), corpus, ground).hits

    def tested() -> None:
        comparison = Comparison(OfGiven(target.name, target.categories), split=BY_SOURCE)
        compare(comparison, DictionaryTarget(target), corpus, corpus.ground(Scope(), BY_SOURCE))

    first = seconds(ours)
    warm = seconds(ours, 3)
    texts = pl.read_csv(path, columns=["source", "text"])
    patterns = [r"(?i)\b(?:" + "|".join(t.source for t in c.terms) + r")\b" for c in target.categories]

    def other() -> pl.DataFrame:
        counts = [pl.col("text").str.count_matches(p).sum().alias(f"C{k}") for k, p in enumerate(patterns)]
        return texts.group_by("source").agg(counts).sort("source")

    began = time.perf_counter()
    theirs = other()
    took = time.perf_counter() - began
    labels = corpus.ground(Scope(), BY_SOURCE).groups.labels
    theirs = pl.DataFrame({"source": labels}).join(theirs, on="source", maintain_order="left")
    same = np.array_equal(ours(), theirs.select(pl.exclude("source")).to_numpy().T)
    row("5,000 terms by 20 groups, first time", f"{first * 1000:.0f} ms", "", None)
    row("  polars with expressions", f"{took / first:.0f} times as long", "20 times", took / first >= 20)
    row("  again", f"{took / warm:.0f} times as long", "20 times", took / warm >= 20)
    row("  counted and tested", f"{seconds(tested, 3) * 1000:.0f} ms", "", None)
    row("  the same counts", str(same), "", same)
    parsed = [term.parse() for category in target.categories for term in category.terms]
    looked = seconds(lambda: look_over(target, corpus.index, corpus.ground(Scope(), Split())))
    segment = corpus.index.segments[0]

    def one_by_one() -> None:
        for term in parsed[:200]:
            category_hits([term], segment)

    beside = seconds(one_by_one) * len(parsed) / 200 * len(corpus.index.segments)
    row("5,000 terms looked over", f"{looked * 1000:.0f} ms", "", None)
    row("  the hits of one term after the other", f"{beside / looked:.0f} times as long", "", None)


def word_list(n_texts: int, types: int = 300_000) -> None:
    """A corpus of its own, whose vocabulary is so large."""
    rng = np.random.default_rng(9)
    words = vocabulary(types)
    lengths = rng.integers(4, 17, n_texts)
    ranks = draw(rng, int(lengths.sum()), types)
    ranks[:types] = rng.permutation(types)  # every type at least once
    tokens = words[ranks].tolist()
    ends = np.cumsum(lengths).tolist()
    texts = [" ".join(tokens[end - size : end]) for end, size in zip(ends, lengths.tolist(), strict=True)]
    source = rng.integers(0, 20, n_texts).astype(np.int32)
    with tempfile.TemporaryDirectory() as name:
        parts = [
            build_segment(
                Path(name) / f"s{at}", range(at, min(at + 100_000, n_texts)), texts[at : at + 100_000]
            )
            for at in range(0, n_texts, 100_000)
        ]
        index = TokenIndex(parts)
        empty = pl.Series([""]).new_from_index(0, n_texts)
        fields = {
            "source": CategoryColumn(source, tuple(f"S{k}" for k in range(20))),
            "date": DateColumn(np.zeros(n_texts, np.int32)),
            "title": TextColumn(empty),
            "words": NumberColumn(index.words),
        }
        columns = Columns(index.text_id, fields, {key: key for key in fields}, 1, None)
        ground, lexicon = lay_ground(Scope(), BY_SOURCE, index, columns), build_lexicon(index)
        ours = seconds(lambda: count_words(index, lexicon, ground), 3)
        frame = pl.DataFrame({"text": texts, "source": source})

        def other() -> None:
            words = (
                frame.with_row_index("at")
                .with_columns(pl.col("text").str.to_lowercase().str.split(" "))
                .explode("text")
            )
            words.group_by("text", "source").agg(pl.len(), pl.col("at").n_unique())

        beside = seconds(other)
        row(
            f"word list of {len(lexicon):,} types by 20 groups",
            f"{ours * 1000:.0f} ms",
            "500 ms",
            ours <= 0.5,
        )
        row("  polars over the words of the texts", f"{beside / ours:.0f} times as long", "", None)


def lines_and_suggestions(corpus: OpenCorpus) -> None:
    lexicon = corpus.lexicon
    term = parse_term(str(vocabulary(40)[5]))
    hits = in_order(
        hits_in_texts((term,), corpus.index, np.ones(corpus.index.n_texts, bool)), corpus.columns, "date"
    )

    def first_page() -> None:
        found = neighbours(hits, corpus.index, lexicon)
        sort_hits(found, "right1")[:50]

    words = count_words(corpus.index, lexicon, corpus.ground(Scope(), Split()))

    def other() -> None:  # the neighbour of each hit as text, sorted
        folds = lexicon.folds.to_list()
        found = neighbours(hits, corpus.index, lexicon).at(1).tolist()
        sorted(range(len(found)), key=lambda at: folds[found[at]] if found[at] >= 0 else "\uffff")

    ours, beside = seconds(first_page, 3), seconds(other, 3)
    row(f"{hits.hits:,} hits sorted by the right neighbour", f"{ours * 1000:.0f} ms", "400 ms", ours <= 0.4)
    row("  sorting their words in Python", f"{beside / ours:.1f} times as long", "", None)
    began = time.perf_counter()
    company = build_company(corpus.index, lexicon, words.form_hits, np.empty(0, np.int64))
    row("company of words, the job", f"{time.perf_counter() - began:.0f} s", "", None)
    asked = [str(w) for w in vocabulary(3_000)[2_900:2_960]]
    left_out = np.zeros(len(lexicon), bool)

    def suggestions() -> None:
        in_the_same_company(asked, lexicon, company, words.form_hits, left_out)
        variants(asked, lexicon, words.form_hits, left_out)

    def every_pair() -> None:
        from rapidfuzz.distance import OSA

        folds = lexicon.folds.to_list()
        for word in asked[:3]:
            [fold for fold in folds if OSA.distance(word, fold, score_cutoff=2) <= 2]

    ours, beside = seconds(suggestions, 3), seconds(every_pair) * len(asked) / 3
    row("suggestions for 60 words", f"{ours * 1000:.0f} ms", "1,000 ms", ours <= 1)
    row("  one word after the other", f"{beside / ours:.0f} times as long", "", None)


def main(corpus: OpenCorpus, path: Path, n_texts: int) -> None:
    typing(corpus, path)
    large_dictionary(corpus, path)
    lines_and_suggestions(corpus)
    word_list(n_texts)
