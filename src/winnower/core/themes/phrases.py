"""Noun phrases of a corpus, counted under their heads.

A head is the last noun of a row of nouns and describing words within a sentence (Justeson and Katz 1995, Natural
Language Engineering 1, 9-27, whose pattern this is, without prepositions); a phrase is the head with one or two words
before it. Words are counted by their lemmas. Without a word list a phrase is a row of words between function words,
gathered under the one of them that is most frequent in the texts.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import polars as pl

from winnower.core.index import Lexicon, TokenIndex
from winnower.core.measure.evenness import deviation_of_proportions
from winnower.core.scope import Ground
from winnower.core.themes.classes import NOUN, OTHER, WordClasses

MOST_HEADS, MOST_PHRASES = 400, 24
LEAST_HITS = 3
MOST_FORMS = 12
#: Three numbers below this fit into one of 64 bits.
MOST_FOLDS = 2_000_000
#: Texts are put together in so many parts for evenness, in their order.
PARTS = 40


@dataclass(frozen=True)
class Phrase:
    """``words`` as they are counted, ``forms`` as they stand in the texts, the most frequent first. ``hits`` and ``texts`` in the scope; ``groups`` hits per group; ``covered`` how many hits
    lie in passages that are coded already; ``evenness`` Gries' DP over parts of the corpus, 0 even, NaN unknown."""

    words: str
    hits: int
    texts: int
    groups: tuple[int, ...]
    covered: int
    evenness: float
    forms: tuple[str, ...] = ()


@dataclass(frozen=True)
class Head:
    """A head word with all its hits, and the phrases it is the head of, the most frequent first."""

    whole: Phrase
    phrases: tuple[Phrase, ...]


@dataclass(frozen=True)
class _Hits:
    """Phrases where they stand: head and phrase by number, ``form`` as it stands there, the text, and whether it is
    coded; one length."""

    head: np.ndarray
    key: np.ndarray
    form: np.ndarray
    text: np.ndarray
    covered: np.ndarray


def find_themes(
    index: TokenIndex,
    lexicon: Lexicon,
    classes: WordClasses,
    ground: Ground,
    coded: Sequence[np.ndarray],
) -> list[Head]:
    """The most frequent heads of the scope with their phrases. ``coded`` bool per token of each segment: it lies in a
    coded passage."""
    names, number = np.unique(np.asarray(classes.names, object).astype(str), return_inverse=True)
    parts = []
    often = _frequency(index, lexicon, number, len(names))
    for at, segment in enumerate(index.segments):
        base = int(index.base[at])
        if not segment.n_tokens:
            continue
        inside = ground.mask[base : base + segment.n_texts][segment.text_of]
        fold = lexicon.of_tokens(segment, at, np.arange(segment.n_tokens))
        kind = np.where(inside, classes.of[fold], OTHER)
        breaks = np.zeros(segment.n_tokens + 1, bool)
        breaks[segment.sentence_start] = breaks[-1] = True
        token, length = _rows(kind, breaks, whole=not classes.from_list)
        where = segment.text_of.astype(np.int64) + base, coded[at]
        parts.append(_counted(token, length, number[fold], fold, often, where, by_last=classes.from_list))
    hits = _joined(parts)
    return _gathered(hits, names, lexicon, ground, index)


def _frequency(index: TokenIndex, lexicon: Lexicon, number: np.ndarray, n: int) -> np.ndarray:
    """int64 per lemma: tokens."""
    total = np.zeros(n, np.int64)
    for at, segment in enumerate(index.segments):
        of_form = np.diff(segment.form_start)
        np.add.at(total, number[lexicon.places[at][segment.fold_of]], of_form)
    return total


def _rows(kind: np.ndarray, breaks: np.ndarray, *, whole: bool) -> tuple[np.ndarray, np.ndarray]:
    """Where phrases end, and how many words may stand in each (1 to 3). With ``whole`` a phrase is the end of a row
    whatever its words are."""
    part = kind != OTHER
    noun = kind == NOUN
    following = np.append(part[1:] if whole else noun[1:], False) & ~breaks[1:]
    token = np.flatnonzero(noun & ~following)
    length = np.ones(len(token), np.int64)
    reaching = np.ones(len(token), bool)
    for step in (1, 2):
        before = token - step
        reaching &= (before >= 0) & ~breaks[before + 1] & part[np.maximum(before, 0)]
        length += reaching
    return token, length


def _counted(
    token: np.ndarray,
    length: np.ndarray,
    name: np.ndarray,
    fold: np.ndarray,
    often: np.ndarray,
    where: tuple[np.ndarray, np.ndarray],
    *,
    by_last: bool,
) -> _Hits:
    """Each head alone, and with one and two words before it; ``name`` and ``fold`` of each token."""
    heads, keys, forms, tokens = [], [], [], []
    for words in (1, 2, 3):
        at = token[length >= words]
        row = np.stack([name[at - back] for back in range(words - 1, -1, -1)], 1).astype(np.int64)
        stands = np.stack([fold[at - back] for back in range(words - 1, -1, -1)], 1).astype(np.int64)
        heads.append(row[:, -1] if by_last else row[np.arange(len(at)), np.argmax(often[row], 1)])
        keys.append(_one_number(row, len(often)))
        forms.append(_one_number(stands, MOST_FOLDS))
        tokens.append(at)
    at = np.concatenate(tokens)
    text, coded = where
    return _Hits(np.concatenate(heads), np.concatenate(keys), np.concatenate(forms), text[at], coded[at])


def _one_number(rows: np.ndarray, n: int) -> np.ndarray:
    """Each row of numbers below ``n`` as one number."""
    out = np.zeros(len(rows), np.int64)
    for column in rows.T:
        out = out * (n + 1) + column + 1
    return out


def _numbers(key: int, n: int) -> list[int]:
    """The numbers a row was made of."""
    out = []
    while key:
        key, number = divmod(key, n + 1)
        out.append(number - 1)
    return out[::-1]


def _joined(parts: list[_Hits]) -> _Hits:
    if not parts:
        none = np.empty(0, np.int64)
        return _Hits(none, none, none, none, none.astype(bool))
    names = ("head", "key", "form", "text", "covered")
    return _Hits(*(np.concatenate([getattr(one, name) for one in parts]) for name in names))


def _gathered(
    hits: _Hits, names: np.ndarray, lexicon: Lexicon, ground: Ground, index: TokenIndex
) -> list[Head]:
    n = len(names)
    frame = pl.DataFrame(
        {"head": hits.head, "key": hits.key, "text": hits.text, "covered": hits.covered.astype(np.int64)}
    )
    by_key = frame.group_by("key").agg(
        pl.col("head").first(),
        pl.len().alias("hits"),
        pl.col("text").n_unique().alias("texts"),
        pl.col("covered").sum(),
    )
    single = by_key.filter(pl.col("key") <= n, pl.col("hits") >= LEAST_HITS)
    heads = single.sort(["hits", "key"], descending=[True, False]).head(MOST_HEADS)
    more = (
        by_key.filter(
            pl.col("key") > n, pl.col("hits") >= LEAST_HITS, pl.col("head").is_in(heads["head"].implode())
        )
        .sort(["hits", "key"], descending=[True, False])
        .group_by("head", maintain_order=True)
        .head(MOST_PHRASES)
    )
    wanted = np.sort(np.concatenate([heads["key"].to_numpy(), more["key"].to_numpy()]))
    groups, evenness = _spread(hits, wanted, ground, index)
    forms = _forms(hits, wanted, lexicon)

    def phrase(row: tuple[int, int, int, int, int]) -> Phrase:
        key, _, times, texts, covered = row
        at = int(np.searchsorted(wanted, key))
        words = " ".join(str(names[one]) for one in _numbers(key, n))
        return Phrase(
            words, times, texts, tuple(groups[at].tolist()), covered, float(evenness[at]), forms.get(key, ())
        )

    columns = ["key", "head", "hits", "texts", "covered"]
    under: dict[int, list[Phrase]] = {}
    for row in more.select(columns).iter_rows():
        under.setdefault(row[1], []).append(phrase(row))
    return [Head(phrase(row), tuple(under.get(row[1], ()))) for row in heads.select(columns).iter_rows()]


def _forms(hits: _Hits, wanted: np.ndarray, lexicon: Lexicon) -> dict[int, tuple[str, ...]]:
    """As wanted phrases stand in the texts."""
    counted = (
        pl.DataFrame({"key": hits.key, "form": hits.form})
        .filter(pl.col("key").is_in(pl.Series(wanted).implode()))
        .group_by("key", "form")
        .len()
        .sort(["key", "len", "form"], descending=[False, True, False])
        .group_by("key", maintain_order=True)
        .head(MOST_FORMS)
    )
    out: dict[int, tuple[str, ...]] = {}
    for key, form in counted.select("key", "form").iter_rows():
        written = " ".join(lexicon.folds[one] for one in _numbers(form, MOST_FOLDS))
        out[key] = (*out.get(key, ()), written)
    return out


def _spread(
    hits: _Hits, wanted: np.ndarray, ground: Ground, index: TokenIndex
) -> tuple[np.ndarray, np.ndarray]:
    """Hits by group (phrases, groups), and evenness over parts of the corpus, for the wanted keys."""
    at = np.minimum(np.searchsorted(wanted, hits.key), max(len(wanted) - 1, 0))
    there = wanted[at] == hits.key if len(wanted) else np.zeros(0, bool)
    row, text = at[there], hits.text[there]
    n_groups = ground.groups.n_groups
    group = np.full(index.n_texts, -1, np.int64)
    group[ground.groups.text[::-1]] = ground.groups.group[::-1]
    of = group[text]
    known = of >= 0
    by_group = np.bincount(row[known] * n_groups + of[known], minlength=len(wanted) * n_groups)
    texts = np.flatnonzero(ground.mask)
    part = np.zeros(index.n_texts, np.int64)
    part[texts] = np.arange(len(texts)) * PARTS // max(len(texts), 1)
    by_part = np.bincount(row * PARTS + part[text], minlength=len(wanted) * PARTS).reshape(-1, PARTS)
    words = np.bincount(part[texts], weights=index.words[texts], minlength=PARTS)
    return by_group.reshape(len(wanted), n_groups), deviation_of_proportions(by_part, words)
