"""What a matrix says in plain words, and how it was counted."""

from __future__ import annotations

import numpy as np

from winnower.core.compare.statement import Statement
from winnower.core.compare.targets import MethodPart, Target
from winnower.core.compare.wording import p_text
from winnower.core.compare.written import number
from winnower.core.together.count import LEAST_TEXTS, Matrix
from winnower.core.together.request import UNITS, Together

#: Fewer units with both than would be expected to tell anything.
LEAST_EXPECTED = 5.0


def together_statements(
    asked: Together, rows: Target, columns: Target | None, found: Matrix
) -> list[Statement]:
    """What goes together most, how many pairs do so by more than chance, and what to beware of."""
    target = columns or rows
    if not found.of_row.any() or not found.of_column.any():
        return [Statement("note", "Nothing was found in these texts, so nothing occurs together.")]
    nouns = UNITS[asked.within][1]
    tested = int(np.isfinite(found.p).sum())
    pairs = tested // 2 if found.same else tested
    if not pairs:
        return _untested(asked, rows, target, found)
    strong = _strongest(found, asked.level, more=True)
    out = []
    if strong:
        row, column = strong[0]
        one, other = rows.rows[row].label, target.rows[column].label
        out.append(
            Statement(
                "gap",
                f"Strongest association: {one} and {other} are in the same {UNITS[asked.within][0]} "
                f"{int(found.together[row, column]):,} times, {number(float(found.lift[row, column]))} times as many as "
                f"expected if unrelated ({p_text(float(found.adjusted[row, column]))}).",
                (one, other),
            )
        )
    fewer = len(_strongest(found, asked.level, more=False))
    out.append(
        Statement(
            "test",
            f"Of {pairs:,} pairs, {len(strong):,} {'occurs' if len(strong) == 1 else 'occur'} together significantly more often and {fewer:,} significantly less often than "
            "expected if unrelated.",
            details="p adjusted for all pairs, with the text as the unit.",
        )
    )
    with np.errstate(invalid="ignore", divide="ignore"):
        few = np.isfinite(found.p) & (found.together / found.lift < LEAST_EXPECTED)
    if few.any():
        n = int(few.sum()) // (2 if found.same else 1)
        out.append(
            Statement(
                "note",
                f"{n:,} pairs would be expected in fewer than {LEAST_EXPECTED:g} {nouns} if unrelated; their lift is unreliable.",
            )
        )
    return out


def _untested(asked: Together, rows: Target, target: Target, found: Matrix) -> list[Statement]:
    counted = np.where(found.kin, -1, found.together)
    row, column = np.unravel_index(int(counted.argmax()), counted.shape)
    out = []
    if counted[row, column] > 0:
        one, other = rows.rows[row].label, target.rows[column].label
        what = {
            "overlap": f"{one} overlaps {other} most often: {int(counted[row, column]):,} times.",
            "near": f"{one} is near {other} most often: {int(counted[row, column]):,} times.",
        }.get(
            asked.within, f"{one} and {other} are together most often: {int(counted[row, column]):,} times."
        )
        out.append(Statement("gap", what, (one, other)))
    if asked.within in ("overlap", "near"):
        why = "Overlap and nearness cannot be tested, because the number of possible pairs is not known; choose “same sentence” for a test."
    elif (found.texts < 0).any():
        why = "Too much occurs together in every text for pairs to be counted one by one; nothing is tested."
    elif ((found.texts >= LEAST_TEXTS) & ~found.kin).any():
        why = f"Rows in {LEAST_TEXTS} texts or more are in every {UNITS[asked.within][0]}, or always together, so nothing can be tested."
    else:
        why = f"No pair has {LEAST_TEXTS} texts or more with each of both, so nothing is tested."
    return [*out, Statement("note", why)]


def _strongest(found: Matrix, level: float, more: bool) -> list[tuple[int, int]]:
    """Pairs that differ from chance, the furthest first; of a target with itself each once."""
    with np.errstate(invalid="ignore"):
        sure = (found.adjusted <= 1 - level) & ((found.z > 0) if more else (found.z < 0))
    if found.same:
        sure = np.triu(sure, 1)
    at = np.argwhere(sure)
    order = np.argsort(-np.abs(found.z[sure]), kind="stable")
    return [(int(row), int(column)) for row, column in at[order]]


def together_method(asked: Together, rows: Target, columns: Target | None, found: Matrix) -> list[MethodPart]:
    """How it was counted."""
    one, many = UNITS[asked.within]
    what = {
        "passage": "on the very same words",
        "overlap": "on overlapping words",
        "near": f"with at most {asked.words:,} words between them, in one text",
        "sentence": "in the same sentence",
        "paragraph": "in the same paragraph",
        "text": "in the same text",
    }[asked.within]
    counted = [part for target in (rows, columns) if target for part in target.method(found.n_texts)]
    if asked.within in ("overlap", "near"):
        sums = (
            f"Two are together where they stand {what}. A number counts the places of the row that have one of the column, so "
            "it is another one the other way round. Jaccard: the mean of both numbers over the places of either."
        )
        return [*counted, MethodPart("Together", sums, "Jaccard (1912), New Phytologist 11.")]
    base = f"{found.units:,} {many}" + (" that anything stands on" if asked.within == "passage" else "")
    return [
        *counted,
        MethodPart(
            "Together",
            f"Two are together where they stand {what}; each {one} counts once. Jaccard: {many} with both over {many} with "
            f"either. Lift: how many times as often as if each fell on {base} without knowing of the other.",
            "Jaccard (1912), New Phytologist 11.",
        ),
        MethodPart(
            "Test",
            f"Whether {many} with both are as many as chance would give. What is drawn at random is the text: {many} of one "
            f"text are alike, so the error comes from the spread between texts. Given where {LEAST_TEXTS} texts or more have each "
            "of both; p adjusted over all pairs. Going together says nothing of why.",
            "Linearised variance: Cochran (1977), ch. 6; Binder (1983), International Statistical Review 51; Holm (1979).",
        ),
    ]
