"""Words for tone from rows of a table: a word, what it is, and its value."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from winnower.core.errors import WinnowerError
from winnower.core.tone.words import MOST_WORDS, ROLES, checked

_CALLED = {
    "word": ("word", "term", "token", "form"),
    "role": ("role", "kind", "type"),
    "value": ("value", "score", "valence", "tone", "weight"),
}


@dataclass(frozen=True)
class ToneRow:
    role: str
    word: str
    value: float | None


@dataclass(frozen=True)
class ToneRows:
    """Words a file gave, of several rows for one the last; and rows that were not taken, with the reason."""

    words: tuple[ToneRow, ...]
    refused: tuple[tuple[int, str], ...]


def tone_words_from_rows(columns: Sequence[str], rows: Iterable[tuple[int, Sequence[str]]]) -> ToneRows:
    """Rows as (number, cells). Columns are known by their names; without such the first is the word and the second its
    value. A row without a role is a weight. Raises WinnowerError where no row could be taken."""
    plain = [" ".join(name.lower().split()) for name in columns]
    at = {
        role: next((plain.index(name) for name in names if name in plain), -1)
        for role, names in _CALLED.items()
    }
    if at["word"] < 0:
        rows = [(1, columns), *rows]
        at = {"word": 0, "role": -1, "value": 1}
    taken: dict[tuple[str, str], ToneRow] = {}
    refused = []
    for line, cells in rows:
        if not any(cell.strip() for cell in cells):
            continue
        try:
            one = _row(at, cells)
            taken[(one.role, one.word)] = one
            if len(taken) > MOST_WORDS:
                raise WinnowerError(f"Only {MOST_WORDS:,} words can be taken; the rest was left.")
        except WinnowerError as error:
            refused.append((line, str(error)))
            if len(taken) > MOST_WORDS:
                taken.popitem()
                break
    if not taken:
        reason = f" The first: {refused[0][1]}" if refused else ""
        raise WinnowerError(f"The file holds no words for a list of tone.{reason}")
    return ToneRows(tuple(taken.values()), tuple(refused))


def _row(at: dict[str, int], cells: Sequence[str]) -> ToneRow:
    def cell(name: str) -> str:
        place = at[name]
        return cells[place].strip() if 0 <= place < len(cells) else ""

    role = cell("role").lower() or ROLES[0]
    written = cell("value")
    if role == "negation":
        value = 1.0
    else:
        try:
            value = float(written.replace(",", ".").replace("−", "-"))
        except ValueError:
            said = f"“{written}” is no number" if written else "it has no value"
            raise WinnowerError(f"“{cell('word')[:40]}”: {said}.") from None
    word, number = checked(role, cell("word"), value)
    return ToneRow(role, word, number)
