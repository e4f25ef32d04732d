"""A code learned from examples: beside scikit-learn's own pipeline, and what it promises of itself."""

import random

import numpy as np
import pytest
from sklearn.feature_extraction.text import CountVectorizer, TfidfTransformer
from sklearn.linear_model import LogisticRegression

from tests.core.test_words import made
from winnower.core.errors import WinnowerError
from winnower.core.index import build_lexicon
from winnower.core.learn import THRESHOLDS, Lesson, learn, probabilities, strongest
from winnower.core.learn.curve import curve_of
from winnower.core.learn.learner import STRENGTH
from winnower.core.learn.scoring import decisions
from winnower.core.learn.words import tokens_of
from winnower.core.places.units import units_of

LOSS = ["lamb", "ewe", "killed", "loss", "compensation", "paid", "price"]
TALK = ["meeting", "road", "board", "track", "school", "weather", "bridge"]
ANY = ["the", "a", "of", "was", "in", "and", "on"]


def corpus(tmp_path, n_texts=60, seed=3):
    """Texts of six sentences; of every third sentence the words are mostly those of losses. Units, lesson."""
    rng = random.Random(seed)
    texts, right = [], []
    for _ in range(n_texts):
        sentences = []
        for _ in range(6):
            loss = rng.random() < 0.33
            words = [
                rng.choice(ANY if rng.random() < 0.5 else (LOSS if loss == (rng.random() < 0.85) else TALK))
                for _ in range(8)
            ]
            sentences.append(" ".join(words).capitalize() + ".")
            right.append(loss)
        texts.append(" ".join(sentences))
    index, _, _ = made(tmp_path, texts)
    units = units_of(index, "sentence")
    assert len(units) == len(right)
    lesson = Lesson(np.arange(len(units)), np.array(right), units.text)
    return texts, index, build_lexicon(index), units, lesson


def sentences_of(texts):
    return [one.strip().lower() for text in texts for one in text.split(".") if one.strip()]


def test_scores_are_those_of_the_usual_pipeline(tmp_path):
    texts, index, lexicon, units, lesson = corpus(tmp_path)
    learned = learn(lesson, units, index, lexicon)
    counter = CountVectorizer(ngram_range=(1, 2), min_df=2, token_pattern=r"\w+")
    counts = counter.fit_transform(sentences_of(texts))
    weighting = TfidfTransformer(sublinear_tf=True).fit(counts)
    n, n_right = len(lesson.right), int(lesson.right.sum())
    weight = np.where(lesson.right, n / (2 * n_right), n / (2 * (n - n_right)))
    model = LogisticRegression(C=STRENGTH, solver="liblinear", random_state=1, max_iter=1_000)
    model.fit(weighting.transform(counts), lesson.right, sample_weight=weight)
    wanted = model.decision_function(weighting.transform(counts))
    ours = decisions(learned, learned.words.counts(tokens_of(units, lesson.at, index, lexicon), n))
    assert sorted(learned.words.names(lexicon)) == sorted(counter.get_feature_names_out())
    assert np.allclose(ours, wanted, rtol=1e-4, atol=1e-4)  # the solver stops where it is near enough
    assert learned.curve.f1[0, learned.curve.best] > 0.8


def test_batches_make_no_difference(tmp_path, monkeypatch):
    _, index, lexicon, units, lesson = corpus(tmp_path)
    learned = learn(lesson, units, index, lexicon)
    whole = probabilities(learned, units, lesson.at, index, lexicon)
    monkeypatch.setattr("winnower.core.learn.scoring.AT_ONCE", 7)
    assert np.array_equal(whole, probabilities(learned, units, lesson.at, index, lexicon))
    assert ((whole >= 0) & (whole <= 1)).all()
    column, mark, after = strongest(learned, units, lesson.at, index, lexicon)
    names = learned.words.names(lexicon)
    sure = int(np.argmax(whole))
    tokens = tokens_of(units, np.array([sure]), index, lexicon)
    words = [
        lexicon.folds[int(fold)]
        for fold, token in zip(tokens.fold, tokens.token, strict=True)
        if mark[sure] <= token < after[sure]
    ]
    assert " ".join(words) == names[column[sure]]


def test_struck_words_are_not_looked_at_and_added_ones_turn_it(tmp_path):
    _, index, lexicon, units, lesson = corpus(tmp_path)
    plain = learn(lesson, units, index, lexicon)
    first = plain.telling[0].words
    without = learn(lesson, units, index, lexicon, struck=(first.upper(),))
    assert first not in [one.words for one in without.telling]
    weight = {one.words: one.weight for one in plain.telling}
    against = learn(lesson, units, index, lexicon, added=(("Road", True), ("lamb", False), ("nowhere", True)))
    now = {one.words: one.weight for one in against.telling}
    assert now["road"] > weight["road"] + 0.3 and now["lamb"] < weight["lamb"] - 0.3


def test_what_no_word_tells_of_is_not_claimed(tmp_path):
    _, index, lexicon, units, lesson = corpus(tmp_path)
    claimed = 0
    for seed in range(6):
        right = np.random.default_rng(seed).random(len(lesson.at)) < 0.3
        try:
            learned = learn(Lesson(lesson.at, right, lesson.text), units, index, lexicon)
        except WinnowerError:
            continue
        # of its probabilities none is far from the share there is
        claimed += learned.curve.precision[0, learned.curve.best] > 0.45
    assert claimed == 0


@pytest.mark.parametrize(
    ("right", "said"),
    [
        (np.arange(360) < 3, "3 examples in 1 texts"),
        (np.ones(360, bool), "nothing to tell it from"),
        (np.zeros(360, bool), "0 examples"),
    ],
)
def test_too_little_to_learn_from_is_said(tmp_path, right, said):
    _, index, lexicon, units, lesson = corpus(tmp_path)
    with pytest.raises(WinnowerError, match=said):
        learn(Lesson(lesson.at, right, lesson.text), units, index, lexicon)


def test_the_curve_is_counted_as_by_hand():
    probability = np.array([0.9, 0.8, 0.5, 0.3, 0.1, 0.05])
    right = np.array([True, False, True, True, False, False])
    found = curve_of(probability, right, np.array([0, 0, 1, 1, 2, 2]))
    for at in (0, 4, 29, 30, 49, 79, 88, 95):
        taken = probability >= THRESHOLDS[at] - 1e-9
        both = int((taken & right).sum())
        assert found.recall[0, at] == pytest.approx(both / 3)
        if taken.any():
            assert found.precision[0, at] == pytest.approx(both / taken.sum())
        else:
            assert np.isnan(found.precision[0, at])
    # from 0.11 to 0.30 all are as good
    assert found.best == 20
    known = ~np.isnan(found.recall[1])
    assert (found.recall[1, known] <= found.recall[0, known] + 1e-9).all()


def test_a_picked_threshold_is_told_by_texts_that_had_no_part_in_picking_it():
    """Ten examples in twenty texts with weak scores: the curve’s best F1 promises more than new texts give."""
    rng = np.random.default_rng(2)

    def drawn(n):
        text = np.repeat(np.arange(n), 5)
        right = rng.random(len(text)) < 0.12
        return 1 / (1 + np.exp(-(rng.normal(size=len(text)) + 0.6 * right - 1))), right, text

    promised, told, holds, inside = [], [], [], []
    far, far_right, _ = drawn(4_000)
    for seed in range(40):
        found = curve_of(*drawn(20), seed)
        taken = far >= THRESHOLDS[found.best] - 1e-9
        true = 2 * (taken & far_right).sum() / max(taken.sum() + far_right.sum(), 1)
        promised.append(found.f1[0, found.best])
        told.append(found.chosen[2, 0])
        holds.append(true)
        inside.append(found.chosen[2, 1] <= true <= found.chosen[2, 2])
    assert np.mean(promised) > np.mean(holds) + 0.05
    assert abs(np.mean(told) - np.mean(holds)) < 0.05
    assert np.mean(inside) > 0.85


def test_tokens_of_units_leave_out_numbers_and_know_their_neighbours(tmp_path):
    index, _, _ = made(tmp_path, ["Two lambs, 40 ewes. The lambs."])
    lexicon = build_lexicon(index)
    units = units_of(index, "sentence")
    tokens = tokens_of(units, np.arange(len(units)), index, lexicon)
    words = [lexicon.folds[int(one)] for one in tokens.fold]
    assert words == ["two", "lambs", "ewes", "the", "lambs"]
    assert tokens.pair.tolist() == [True, False, False, True, False]
