"""The groups of a whole split: its field or parts, what it is crossed with, what is merged and left out."""

from __future__ import annotations

import numpy as np
import polars as pl

from winnower.core.errors import ScopeError
from winnower.core.index import TokenIndex
from winnower.core.scope.columns import Columns
from winnower.core.scope.conditions import Inside, Scope, scope_mask
from winnower.core.scope.split import (
    MAX_GROUPS,
    UNDER,
    Groups,
    Merged,
    Part,
    Split,
    split_groups,
)

#: What stands between the labels of two groups that are crossed.
BETWEEN = " · "


def groups_of(split: Split, columns: Columns, mask: np.ndarray, index: TokenIndex) -> Groups:
    """The groups of the texts in ``mask`` (bool per text); see ``split_groups``. Raises ScopeError or TermError."""
    if split.codes:
        if UNDER not in columns.fields:
            raise ScopeError("The words under codes cannot be told apart here.")
        groups = split_groups(Split(UNDER), columns, mask)
    elif split.parts:
        groups = _parts(split.parts, columns, mask, index)
    else:
        groups = split_groups(split, columns, mask)
    if split.merged or split.without:
        groups = arranged(groups, split.merged, split.without)
    if split.crossed is None:
        return groups
    second = split_groups(Split(split.crossed.field, split.crossed.period), columns, mask)
    return crossed(groups, second)


def _parts(parts: tuple[Part, ...], columns: Columns, mask: np.ndarray, index: TokenIndex) -> Groups:
    texts = []
    for part in parts:
        if any(isinstance(one, Inside) for one in part.conditions):
            raise ScopeError(
                f"“{part.name}” counts only the words under a code; compare across codes instead."
            )
        asked = any(getattr(one, "field", None) == columns.aside for one in part.conditions)
        holds = scope_mask(Scope(part.conditions), columns, index, aside=not asked)
        texts.append(np.flatnonzero(holds & mask))
    number = [np.full(len(some), at, np.int32) for at, some in enumerate(texts)]
    labels = tuple(part.name for part in parts)
    return _of_members(labels, np.concatenate(texts), np.concatenate(number), len(mask))


def _of_members(
    labels: tuple[str, ...],
    text: np.ndarray,
    group: np.ndarray,
    n_texts: int,
    pairs: tuple[tuple[str, str], ...] = (),
) -> Groups:
    """Groups from memberships in any order."""
    order = np.lexsort((group, text))
    text, group = text[order].astype(np.int64), group[order].astype(np.int32)
    if len(text) and bool((np.diff(text) == 0).any()):
        return Groups(labels, text, group, False, None, pairs)
    of_text = np.full(n_texts, -1, np.int32)
    of_text[text] = group
    return Groups(labels, text, group, True, of_text, pairs)


def arranged(groups: Groups, merged: tuple[Merged, ...], without: tuple[str, ...]) -> Groups:
    """Some groups taken together, some left out; a merged group stands where its first one stood.

    Names of groups that are not there (any more) change nothing. Raises ScopeError for a name that is taken.
    """
    name_of = {label: one.name for one in merged for label in one.groups}
    gone = set(without)
    names = [None if label in gone else name_of.get(label, label) for label in groups.labels]
    kept = {label for label in groups.labels if label not in gone and label not in name_of}
    taken = [one.name for one in merged if one.name in kept]
    if taken:
        raise ScopeError(
            f"There is a group “{taken[0]}” already; give the groups taken together another name."
        )
    labels = list(dict.fromkeys(name for name in names if name is not None))
    place = {label: at for at, label in enumerate(labels)}
    new = np.asarray([-1 if name is None else place[name] for name in names], np.int32)
    group = new[groups.group]
    text, group = groups.text[group >= 0], group[group >= 0]
    if not groups.disjoint:
        both = np.unique(np.stack([text, group.astype(np.int64)]), axis=1)
        text, group = both[0], both[1].astype(np.int32)
    n_texts = len(groups.of_text) if groups.of_text is not None else int(groups.text.max(initial=-1)) + 1
    return _of_members(tuple(labels), text, group, n_texts)


def crossed(first: Groups, second: Groups) -> Groups:
    """Every group of the first by every one of the second, as far as there are texts. Raises ScopeError."""
    left = pl.DataFrame({"text": first.text, "a": first.group})
    right = pl.DataFrame({"text": second.text, "b": second.group})
    both = left.join(right, on="text", how="inner")
    key = both["a"].to_numpy().astype(np.int64) * max(second.n_groups, 1) + both["b"].to_numpy()
    used, group = np.unique(key, return_inverse=True)
    if len(used) > MAX_GROUPS:
        raise ScopeError(
            f"Crossed, that gives {len(used):,} groups; at most {MAX_GROUPS:,} can be compared. Choose longer periods, "
            "or leave groups out."
        )
    pairs = tuple(
        (first.labels[one], second.labels[other])
        for one, other in zip(*np.divmod(used, max(second.n_groups, 1)), strict=True)
    )
    labels = tuple(BETWEEN.join(pair) for pair in pairs)
    n_texts = max(int(groups.text.max(initial=-1)) + 1 for groups in (first, second))
    if first.of_text is not None:
        n_texts = len(first.of_text)
    return _of_members(labels, both["text"].to_numpy(), group, n_texts, pairs)
