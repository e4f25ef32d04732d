"""Tone of many sentences at once, as VADER scores one.

The rules are those of C. J. Hutto and E. Gilbert, VADER: A parsimonious rule-based model for sentiment analysis of
social media text, ICWSM 2014: weights of words, negation within three words, intensifiers that fade with distance,
words in capitals, exclamation and question marks, "but". They are carried out over all words of a batch together;
what is rare (an idiom, a "but") one sentence at a time. The scores are the same as those of the reference
implementation, oddities included, so that published values can be compared.
"""

from __future__ import annotations

import string
import threading
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, fields

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from winnower.core.tone.words import ToneWords

NEGATED = -0.74
CAPITALS = 0.733
FADING = (1.0, 0.95, 0.9)
ALPHA = 15
AT_ONCE, THREADS = 50_000, 2
#: Words the rules speak of by name, each a bit of ``_Known.named``.
_NAMED = {
    name: 1 << at
    for at, name in enumerate(
        ("no", "or", "nor", "least", "at", "very", "never", "so", "this", "without", "doubt", "but", "kind", "of")
    )
}  # fmt: skip


@dataclass(frozen=True)
class Weighed:
    """A word that counted, where it stands in its sentence (code points), and what it came to."""

    start: int
    end: int
    word: str
    value: float


@dataclass(frozen=True)
class _Known:
    """What is known of each different word of a batch; arrays by its number.

    weight    float64, 0 where it has none; ``listed`` whether it has one
    change    float64, of intensifiers; ``intensifies`` whether it is one
    negates   bool
    upper     bool, in capitals
    named     int64, bits of _NAMED
    rare      bool, part of an idiom
    """

    lower: list[str]
    weight: np.ndarray
    listed: np.ndarray
    change: np.ndarray
    intensifies: np.ndarray
    negates: np.ndarray
    upper: np.ndarray
    named: np.ndarray
    rare: np.ndarray

    def and_more(self, others: _Known) -> _Known:
        names = [one.name for one in fields(self)][1:]
        columns = {name: np.concatenate([getattr(self, name), getattr(others, name)]) for name in names}
        return _Known(self.lower + others.lower, **columns)


@dataclass(frozen=True)
class _Batch:
    """Words of a batch: ``word`` numbers into ``known``, ``of`` the sentence of each, ``at`` its place in it,
    ``left`` how many words follow."""

    known: _Known
    word: np.ndarray
    of: np.ndarray
    at: np.ndarray
    left: np.ndarray
    capitals_tell: np.ndarray

    def near(self, tokens: np.ndarray, step: int) -> np.ndarray:
        """Numbers of the words ``step`` further on; any word where there is none."""
        found: np.ndarray = self.word[np.clip(tokens + step, 0, len(self.word) - 1)]
        return found


class Scorer:
    """Scores sentences by one list; what it learns of a word once it need not learn again."""

    def __init__(self, words: ToneWords) -> None:
        self.words = words
        self._number: dict[str, int] = {}
        self._known = _known([], words)
        self._lock = threading.Lock()

    def score(self, sentences: Sequence[str]) -> tuple[np.ndarray, list[str]]:
        """float64 per sentence, from -1 to 1, 0 where no word has a weight; and for each the word that came to most,
        "" where none did."""
        parts = [sentences[first : first + AT_ONCE] for first in range(0, len(sentences), AT_ONCE)]
        if len(parts) < 2:
            found = [self._scored(one) for one in parts]
        else:  # most of the work is done by numpy and Arrow, which let others go on meanwhile
            with ThreadPoolExecutor(THREADS) as pool:
                found = list(pool.map(self._scored, parts))
        scores = [np.empty(0), *(one for one, _ in found)]
        return np.concatenate(scores), [word for _, strongest in found for word in strongest]

    def _scored(self, some: Sequence[str]) -> tuple[np.ndarray, list[str]]:
        texts = _in_words(some, self.words)
        batch = self.batch(texts)
        tokens, value = _values(batch, self.words)
        scores = _summed(batch, tokens, value, texts, len(some))
        return scores, _strongest(batch, tokens, value, len(some))

    def batch(self, texts: list[str]) -> _Batch:
        """Sentences as numbers of words."""
        split = pc.utf8_split_whitespace(pa.array(texts, pa.large_string()))
        of = pc.list_parent_indices(split).to_numpy()
        encoded = pc.list_flatten(split).dictionary_encode()
        there: list[str] = encoded.dictionary.to_pylist()
        with self._lock:
            number, known = self._numbers(there), self._known
        word = number[encoded.indices.to_numpy(zero_copy_only=False)]
        if "" in there:  # what stands before a first blank
            stay = word != self._number[""]
            word, of = word[stay], of[stay]
        length = np.bincount(of, minlength=len(texts))
        at = np.arange(len(word)) - (np.cumsum(length) - length)[of]
        capitals = np.bincount(of, weights=known.upper[word], minlength=len(texts))
        tell = (capitals > 0) & (capitals < length)
        return _Batch(known, word, of, at, length[of] - 1 - at, tell)

    def _numbers(self, there: list[str]) -> np.ndarray:
        new = [one for one in there if one not in self._number]
        if new:
            self._number.update(zip(new, range(len(self._number), len(self._number) + len(new)), strict=True))
            self._known = self._known.and_more(_known(new, self.words))
        return np.fromiter((self._number[one] for one in there), np.int64, len(there))


def score(sentences: Sequence[str], words: ToneWords) -> tuple[np.ndarray, list[str]]:
    """As ``Scorer.score``, once."""
    return Scorer(words).score(sentences)


def weighed(sentence: str, words: ToneWords) -> list[Weighed]:
    """The words of a sentence that make its score, in their order; an emoji is the words that stand for it."""
    batch = Scorer(words).batch(_in_words([sentence], words))
    tokens, value = _values(batch, words)
    out, reached = [], 0
    for token, came_to in zip(tokens.tolist(), value.tolist(), strict=True):
        word = batch.known.lower[batch.word[token]]
        start = sentence.lower().find(word, reached)
        if came_to == 0 or start < 0:
            continue
        reached = start + len(word)
        out.append(Weighed(start, reached, word, came_to))
    return out


def _in_words(sentences: Sequence[str], words: ToneWords) -> list[str]:
    """Sentences with the words that stand for their emoji."""
    if not words.emoji:
        return [one.strip() for one in sentences]
    signs = frozenset(words.emoji)
    return [
        (one if one.isascii() or signs.isdisjoint(one) else _without_emoji(one, words)).strip()
        for one in sentences
    ]


def _without_emoji(sentence: str, words: ToneWords) -> str:
    out, after_blank = [], True
    for sign in sentence:
        meant = words.emoji.get(sign)
        if meant is None:
            out.append(sign)
            after_blank = sign == " "
        else:
            out.append(meant if after_blank else f" {meant}")
            after_blank = False
    return "".join(out)


def _known(there: list[str], words: ToneWords) -> _Known:
    plain = [_plain(one) for one in there]
    lower = [one.lower() for one in plain]
    weights, changes = words.weights, words.intensifiers
    rare = {max(phrase.split(), key=len) for phrase in [*words.idioms, *changes] if " " in phrase}

    def each(values: list[object], kind: type) -> np.ndarray:
        return np.array(values, kind) if values else np.empty(0, kind)

    return _Known(
        lower,
        each([weights.get(one, 0.0) for one in lower], float),
        each([one in weights for one in lower], bool),
        each([changes.get(one, 0.0) for one in lower], float),
        each([one in changes for one in lower], bool),
        each([one in words.negations or bool(words.negations and "n't" in one) for one in lower], bool),
        each([one.isupper() for one in plain], bool),
        each([_NAMED.get(one, 0) for one in lower], np.int64),
        each([one in rare for one in lower], bool),
    )


def _plain(word: str) -> str:
    """Without the signs around it, unless it is made of signs, as :) is."""
    plain = word.strip(string.punctuation)
    return word if len(plain) <= 2 else plain


def _values(batch: _Batch, words: ToneWords) -> tuple[np.ndarray, np.ndarray]:
    """Tokens with a weight, ascending, and what each comes to within its sentence; float64."""
    known = batch.known
    own = known.listed[batch.word] & ~known.intensifies[batch.word]
    kind = (known.named[batch.word] & _NAMED["kind"]) > 0
    tokens = np.flatnonzero(own)
    own_kind = kind[tokens] & (batch.left[tokens] > 0)
    own_kind &= _is(batch, tokens, 1, "of")
    tokens = tokens[~own_kind]
    word, at = batch.word[tokens], batch.at[tokens]
    value = _after_no(batch, tokens, known.weight[word])
    loud = known.upper[word] & batch.capitals_tell[batch.of[tokens]]
    value = np.where(loud, np.where(value > 0, value + CAPITALS, value - CAPITALS), value)
    for distance in (1, 2, 3):
        before = batch.near(tokens, -distance)
        counts = (at >= distance) & ~known.listed[before]
        value = np.where(counts, value + _intensified(batch, tokens, before, value, distance), value)
        value = np.where(counts, value * _turned(batch, tokens, before, distance), value)
        if distance == 3:
            value = _idioms(batch, tokens, counts, value, words)
    return tokens, value * _least(batch, tokens)


def _is(batch: _Batch, tokens: np.ndarray, step: int, *names: str) -> np.ndarray:
    """bool: the word ``step`` further on is one of those the rules name; that there is one is for others to ask."""
    bits = sum(_NAMED[name] for name in names)
    found: np.ndarray = (batch.known.named[batch.near(tokens, step)] & bits) > 0
    return found


def _after_no(batch: _Batch, tokens: np.ndarray, weight: np.ndarray) -> np.ndarray:
    """Weights where "no" stands before: it turns the next word with a weight, and has then none of its own."""
    at = batch.at[tokens]
    followed = (batch.left[tokens] > 0) & batch.known.listed[batch.near(tokens, 1)]
    value = np.where(_is(batch, tokens, 0, "no") & followed, 0.0, weight)
    turned = (at > 0) & _is(batch, tokens, -1, "no")
    turned |= (at > 1) & _is(batch, tokens, -2, "no")
    turned |= (at > 2) & _is(batch, tokens, -3, "no") & _is(batch, tokens, -1, "or", "nor")
    return np.where(turned, weight * NEGATED, value)


def _intensified(
    batch: _Batch, tokens: np.ndarray, before: np.ndarray, value: np.ndarray, distance: int
) -> np.ndarray:
    """What a word before adds to the value of a token."""
    known = batch.known
    change = np.where(value < 0, -known.change[before], known.change[before])
    loud = known.upper[before] & batch.capitals_tell[batch.of[tokens]]
    change = np.where(loud, np.where(value > 0, change + CAPITALS, change - CAPITALS), change)
    return np.where(known.intensifies[before], change * FADING[distance - 1], 0.0)


def _turned(batch: _Batch, tokens: np.ndarray, before: np.ndarray, distance: int) -> np.ndarray:
    """By what a negation this far before multiplies the value of a token."""
    factor = np.where(batch.known.negates[before], NEGATED, 1.0)
    if distance == 1:
        return factor
    never, without = _is(batch, tokens, -distance, "never"), _is(batch, tokens, -distance, "without")
    if distance == 2:
        more = never & _is(batch, tokens, -1, "so", "this")
        doubt = without & _is(batch, tokens, -1, "doubt")
    else:
        more = (never & _is(batch, tokens, -2, "so", "this")) | _is(batch, tokens, -1, "so", "this")
        doubt = without & (_is(batch, tokens, -2, "doubt") | _is(batch, tokens, -1, "doubt"))
    return np.where(more, 1.25, np.where(doubt, 1.0, factor))


def _least(batch: _Batch, tokens: np.ndarray) -> np.ndarray:
    """By what "least" right before multiplies the value of a token: "at least" and "very least" do not turn it."""
    at, before = batch.at[tokens], batch.near(tokens, -1)
    least = (at > 0) & _is(batch, tokens, -1, "least") & ~batch.known.listed[before]
    excused = (at > 1) & _is(batch, tokens, -2, "at", "very")
    return np.where(least & ~excused, NEGATED, 1.0)


def _idioms(
    batch: _Batch, tokens: np.ndarray, counts: np.ndarray, value: np.ndarray, words: ToneWords
) -> np.ndarray:
    """Values where several words together have one of their own, or together intensify what follows."""
    near = np.zeros(len(tokens), bool)
    for step in (-3, -2, -1, 0, 1, 2):
        near |= batch.known.rare[batch.near(tokens, step)]
    out = value.copy()
    for number in np.flatnonzero(near & counts).tolist():
        token = int(tokens[number])
        lower = [batch.known.lower[one] for one in batch.word[token - 3 : token + 3].tolist()]
        out[number] = _idiom(lower, int(batch.left[token]), float(value[number]), words)
    return out


def _idiom(lower: list[str], left: int, value: float, words: ToneWords) -> float:
    """``lower`` are the three words before a token, the token, and up to two after it, of which ``left`` are of the
    same sentence."""
    three, two, one, own = lower[:4]
    for phrase in (
        f"{one} {own}",
        f"{two} {one} {own}",
        f"{two} {one}",
        f"{three} {two} {one}",
        f"{three} {two}",
    ):
        if phrase in words.idioms:
            value = words.idioms[phrase]
            break
    if left > 0:
        value = words.idioms.get(f"{own} {lower[4]}", value)
    if left > 1:
        value = words.idioms.get(f"{own} {lower[4]} {lower[5]}", value)
    for phrase in (f"{three} {two} {one}", f"{three} {two}", f"{two} {one}"):
        value += words.intensifiers.get(phrase, 0.0)
    return value


def _summed(
    batch: _Batch, tokens: np.ndarray, value: np.ndarray, texts: list[str], n_sentences: int
) -> np.ndarray:
    """The scores of sentences from what their words come to."""
    of = batch.of[tokens]
    value = _with_but(batch, tokens, value)
    total = np.bincount(of, weights=value, minlength=n_sentences)
    marks = _emphasis(texts)
    total = np.where(total > 0, total + marks, np.where(total < 0, total - marks, total))
    found: np.ndarray = np.round(total / np.sqrt(total * total + ALPHA), 4)
    return found


def _emphasis(texts: list[str]) -> np.ndarray:
    """What exclamation and question marks add."""
    array = pa.array(texts, pa.large_string())
    cries = pc.count_substring(array, "!").to_numpy()
    asks = pc.count_substring(array, "?").to_numpy()
    asked = np.where(asks > 3, 0.96, np.where(asks > 1, asks * 0.18, 0.0))
    found: np.ndarray = np.minimum(cries, 4) * 0.292 + asked
    return found


def _with_but(batch: _Batch, tokens: np.ndarray, value: np.ndarray) -> np.ndarray:
    """Values in sentences with "but": half as much before it, half as much again after it."""
    buts = np.flatnonzero((batch.known.named[batch.word] & _NAMED["but"]) > 0)
    sentences, first = np.unique(batch.of[buts], return_index=True)
    of = batch.of[tokens]
    low, high = np.searchsorted(of, sentences), np.searchsorted(of, sentences, "right")
    out = value.copy()
    for start, end, but in zip(low.tolist(), high.tolist(), batch.at[buts[first]].tolist(), strict=True):
        if start < end:
            places = batch.at[tokens[start:end]].tolist()
            out[start:end] = _halved(value[start:end].tolist(), places, but)
    return out


def _halved(values: list[float], places: list[int], but: int) -> list[float]:
    """As the reference does it, which looks each value up by its first place in the sentence: of equal ones it may
    change the same one twice. Zeros stay what they are."""
    there = list(values)
    for number in range(len(there)):
        seen = there[number]
        if seen == 0:
            continue
        first = there.index(seen)
        if places[first] < but:
            there[first] = seen * 0.5
        elif places[first] > but:
            there[first] = seen * 1.5
    return there


def _strongest(batch: _Batch, tokens: np.ndarray, value: np.ndarray, n_sentences: int) -> list[str]:
    """The word of each sentence that came to most, the first of equal ones."""
    out = [""] * n_sentences
    order = np.lexsort((-np.abs(value), batch.of[tokens]))  # tokens ascend, and stay so among equal ones
    of = batch.of[tokens][order]
    first = np.flatnonzero(np.diff(of, prepend=-1))
    lower = batch.known.lower
    word = batch.word[tokens[order[first]]]
    for sentence, number in zip(of[first].tolist(), word.tolist(), strict=True):
        out[sentence] = lower[number]
    return out
