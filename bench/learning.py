"""Learning a code and scoring very many sentences, beside scikit-learn on the texts; tone beside its reference
implementation sentence by sentence; themes beside polars over the words."""

from __future__ import annotations

import re
import tempfile
import time
from pathlib import Path

import numpy as np
from corpora import vocabulary
from measure import row
from sklearn.feature_extraction.text import TfidfVectorizer
from sklearn.linear_model import LogisticRegression
from sklearn.metrics import f1_score
from vaderSentiment.vaderSentiment import SentimentIntensityAnalyzer

from winnower.core.index import Segment, TokenIndex, build_lexicon, build_segment
from winnower.core.learn import Lesson, learn, probabilities
from winnower.core.learn.curve import THRESHOLDS
from winnower.core.places.units import units_of
from winnower.core.tone import score, shipped

SENTENCES_A_TEXT = 10
ANY = 12


def made(texts: int, seed: int = 11) -> tuple[list[str], np.ndarray]:
    """Texts of ten sentences with known truth: in every tenth, on average, a few words come from a topic of 150 words
    that others have too, five times as seldom. Truth per sentence."""
    rng = np.random.default_rng(seed)
    words = vocabulary(20_000)
    share = 1 / np.arange(1, len(words) + 1)
    common = rng.choice(len(words), size=(texts * SENTENCES_A_TEXT, ANY), p=share / share.sum())
    topic = rng.choice(np.arange(300, 3_000), 150, replace=False)
    # some texts are more about it than others
    about = np.repeat(rng.beta(0.5, 4.5, texts), SENTENCES_A_TEXT)
    right = rng.random(len(common)) < about
    from_topic = rng.random(common.shape) < np.where(right, 0.3, 0.04)[:, None]
    common = np.where(from_topic, rng.choice(topic, size=common.shape), common)
    lines = [" ".join(one).capitalize() + "!" for one in words[common]]
    bodies = [" ".join(lines[at : at + SENTENCES_A_TEXT]) for at in range(0, len(lines), SENTENCES_A_TEXT)]
    return bodies, right


def learning(texts: int) -> None:
    bodies, right = made(texts)
    with tempfile.TemporaryDirectory() as folder:
        parts = []
        for first in range(0, texts, 50_000):
            some = bodies[first : first + 50_000]
            build_segment(Path(folder) / str(first), list(range(first, first + len(some))), some)
            parts.append(Path(folder) / str(first))
        index = TokenIndex([Segment(one) for one in parts])
        lexicon, units = build_lexicon(index), units_of(index, "sentence")
        assert len(units) == len(right)
        examples = np.flatnonzero(units.text < 200)
        lesson = Lesson(examples, right[examples], units.text[examples])
        began = time.perf_counter()
        learned = learn(lesson, units, index, lexicon)
        learned_s = time.perf_counter() - began
        others = np.arange(len(examples), len(units))
        probability = probabilities(learned, units, others, index, lexicon)
        whole_s = time.perf_counter() - began
    named = f"learned from {len(examples):,} examples, {len(others):,} sentences scored"
    row(named, f"{learned_s:.1f} + {whole_s - learned_s:.1f} s", "within 60 s", whole_s <= 60)
    began = time.perf_counter()
    sentences = [one for body in bodies for one in re.findall(r"[^!]+!", body)]
    weighting = TfidfVectorizer(min_df=2)
    known = weighting.fit_transform(sentences[: len(examples)])
    model = LogisticRegression(max_iter=1_000).fit(known, right[examples])
    rest = weighting.transform(sentences[len(examples) :])
    plain = model.predict(rest)
    plain_s = time.perf_counter() - began
    # it takes little where most do not fit; with both kinds weighing alike it takes more
    balanced = LogisticRegression(max_iter=1_000, class_weight="balanced").fit(known, right[examples])
    row(
        "the same by TF-IDF and logistic regression",
        f"{plain_s / whole_s:.1f} x",
        "as fast",
        plain_s > whole_s,
    )
    truth = right[len(examples) :]
    ours = f1_score(truth, probability >= THRESHOLDS[learned.curve.best])
    theirs = max(f1_score(truth, plain), f1_score(truth, balanced.predict(rest)))
    row(
        "F1 on texts never seen, and by the better of two such ways",
        f"{ours:.3f}, {theirs:.3f}",
        "at least it",
        ours >= theirs,
    )
    told = learned.curve.f1[0, learned.curve.best]
    row("F1 it told beforehand", f"{told:.3f}", "within 0.1", abs(told - ours) <= 0.1)


def toned(sentences: int) -> None:
    rng = np.random.default_rng(3)
    words = shipped("english")
    listed = np.array(sorted(word for word in words.weights if word.isalpha()))
    filler = vocabulary(30_000)
    rules = np.array(
        [
            "not",
            "never",
            "very",
            "but",
            "so",
            "no",
            "hardly",
            "without",
            "least",
            "isn't",
            "really",
            "kind",
            "of",
            "GOOD",
        ]
    )
    lengths = rng.integers(4, 24, sentences)
    pool = np.concatenate([filler, np.repeat(listed, 1), np.repeat(rules, 300)])
    drawn = pool[rng.integers(0, len(pool), int(lengths.sum()))]
    ends = np.cumsum(lengths)
    texts = [" ".join(drawn[end - n : end]) + "." for end, n in zip(ends, lengths, strict=True)]
    score(texts[:100], words)
    began = time.perf_counter()
    scores, _ = score(texts, words)
    ours_s = time.perf_counter() - began
    reference = SentimentIntensityAnalyzer()
    some = texts[:20_000]
    began = time.perf_counter()
    wanted = np.array([reference.polarity_scores(one)["compound"] for one in some])
    theirs_s = (time.perf_counter() - began) * sentences / len(some)
    row(f"tone of {sentences:,} sentences", f"{ours_s:.1f} s", "within 60 s", ours_s <= 60)
    row(
        "the same by the reference implementation",
        f"{theirs_s / ours_s:.0f} x",
        "10 x",
        theirs_s / ours_s >= 10,
    )
    same = int((scores[: len(some)] == wanted).sum())
    row("scores equal to its", f"{same:,} of {len(some):,}", "all", same == len(some))


def main(texts: int = 200_000) -> None:
    """Print what learning and tone cost for ten sentences a text."""
    learning(texts)
    toned(texts * SENTENCES_A_TEXT)


if __name__ == "__main__":
    main()
