"""Names and wordings from what words stand side by side, and groups of codes from what they share."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.cluster.hierarchy import fcluster, linkage
from scipy.spatial.distance import squareform
from sklearn.feature_extraction.text import TfidfVectorizer

from winnower.core.learn.words import Tokens
from winnower.core.themes.classes import NOUN, OTHER

#: A code is in another group too where it is so nearly as close to it as to its own.
NEARLY = 0.85
#: So many codes a group has, about.
EACH_GROUP = 4
LEAST_GROUP = 2


@dataclass(frozen=True)
class CodeWords:
    """A code with what is said of it, and the texts (int64, ascending) it stands in."""

    id: int
    name: str
    parent: str
    words: str
    texts: np.ndarray


@dataclass(frozen=True)
class Grouped:
    """A group: a name, its codes by their place, and the pair of them that shares most texts."""

    name: str
    codes: tuple[int, ...]
    closest: tuple[int, int]


def grouped(codes: Sequence[CodeWords], *, several: bool) -> list[Grouped]:
    """Groups of codes that are alike in what is said of them and in the texts they stand in (complete linkage over one
    minus the mean of both cosines: Sørensen 1948, Biologiske Skrifter 5)."""
    if len(codes) < LEAST_GROUP * 2:
        return []
    near = likeness(codes)
    apart = 1 - near
    np.fill_diagonal(apart, 0)
    tree = linkage(squareform(np.clip(apart, 0, None), checks=False), "complete")
    label = fcluster(tree, max(2, round(len(codes) / EACH_GROUP)), "maxclust")
    groups = [np.flatnonzero(label == number) for number in np.unique(label)]
    groups = [group for group in groups if len(group) >= LEAST_GROUP]
    if several:
        own = {int(at): near[at][group].sum() / (len(group) - 1) for group in groups for at in group}
        groups = [_widened(near, group, own) for group in groups]
    return [
        Grouped(_called([codes[at] for at in group.tolist()]), tuple(group.tolist()), _closest(near, group))
        for group in sorted(groups, key=lambda group: (-len(group), int(group[0])))
    ]


def likeness(codes: Sequence[CodeWords]) -> np.ndarray:
    """Between 0 and 1 for each pair of codes; 0 with itself."""
    said = [f"{code.parent} {code.name} {code.words}" for code in codes]
    weights = TfidfVectorizer(analyzer="char_wb", ngram_range=(3, 4), sublinear_tf=True).fit_transform(
        [f"xx {one}" for one in said]
    )
    words = (weights @ weights.T).toarray()
    texts = np.zeros_like(words)
    for at, one in enumerate(codes):
        for other in range(at):
            shared = len(np.intersect1d(one.texts, codes[other].texts, assume_unique=True))
            size = len(one.texts) * len(codes[other].texts)
            texts[at, other] = texts[other, at] = shared / size**0.5 if size else 0.0
    near: np.ndarray = (words + texts) / 2
    np.fill_diagonal(near, 0)
    return near


def _widened(near: np.ndarray, group: np.ndarray, own: dict[int, float]) -> np.ndarray:
    more = [
        at
        for at, mean in own.items()
        if at not in group and mean > 0 and near[at][group].mean() >= NEARLY * mean
    ]
    return np.sort(np.concatenate([group, np.asarray(more, np.int64)]))


def _closest(near: np.ndarray, group: np.ndarray) -> tuple[int, int]:
    part = near[np.ix_(group, group)]
    one, other = np.unravel_index(int(part.argmax()), part.shape)
    return int(group[min(one, other)]), int(group[max(one, other)])


def _called(codes: Sequence[CodeWords]) -> str:
    """The code above most of them, else the first two by name."""
    parents = [code.parent for code in codes if code.parent]
    top = max(set(parents), key=lambda name: (parents.count(name), name)) if parents else ""
    if parents.count(top) * 2 > len(codes):
        return top
    return " and ".join(code.name for code in codes[:2])


def noun_phrase(
    tokens: Tokens, kinds: Mapping[int, int], top: np.ndarray, together: np.ndarray
) -> tuple[int, ...]:
    """The folds of a name for what some sentences share: two words side by side of which the second is a noun and one is
    among ``top``, in most of the sentences and at least in two; else the first of ``top`` that is a noun; else none.

    ``kinds`` tells of each fold that stands there what it can be (themes/classes.py); ``top`` are folds as they are
    brought ``together`` (int64 per fold), the strongest first.
    """
    kind = np.array([kinds[int(fold)] for fold in tokens.fold], np.uint8)
    first = np.flatnonzero(tokens.pair[:-1] & (kind[:-1] != OTHER) & (kind[1:] == NOUN))
    ours = np.isin(together[tokens.fold], top)
    pairs: dict[tuple[int, int], set[int]] = {}
    for at in first:
        if ours[at] or ours[at + 1]:
            pair = int(tokens.fold[at]), int(tokens.fold[at + 1])
            pairs.setdefault(pair, set()).add(int(tokens.row[at]))
    best = max(pairs, key=lambda pair: (len(pairs[pair]), pair), default=None)
    if best is not None and len(pairs[best]) > 1:
        return best
    nouns = {int(together[fold]): int(fold) for fold, one in kinds.items() if one == NOUN}
    return next(((nouns[int(one)],) for one in top if int(one) in nouns), ())


def capital(words: str) -> str:
    return words[:1].upper() + words[1:]
