"""Numbers as people write them: with thousands, decimal signs, percent, K and M."""

from __future__ import annotations

import re
from collections.abc import Iterable

#: Multipliers by the sign or word that follows a number, in several languages.
_FACTORS = {
    "k": 1e3, "tsd": 1e3, "mil": 1e3, "mille": 1e3, "tys": 1e3, "duizend": 1e3, "thousand": 1e3,
    "m": 1e6, "mio": 1e6, "mln": 1e6, "mill": 1e6, "million": 1e6, "millions": 1e6, "millionen": 1e6,
    "bn": 1e9, "b": 1e9, "mrd": 1e9, "md": 1e9, "mld": 1e9, "billion": 1e9, "%": 1.0,
}  # fmt: skip
_SHAPE = re.compile(
    r"([-+\u2212]?)\s*(\d[\d.,'\u2019\u00a0\u202f ]*|[.,]\d+)(?:[eE]([-+]?\d{1,3}))?\s*([^\W\d_]{1,9}\.?|%)?"
)
#: Whole numbers of more digits than this are names: a float no longer tells them apart.
EXACT_DIGITS = 15


def guess_decimal(values: Iterable[str]) -> str:
    """The decimal sign of a column, "." or ",", decided for all its values together (see DecimalEvidence)."""
    evidence = DecimalEvidence()
    evidence.see(values)
    return evidence.decimal


class DecimalEvidence:
    """What the values of a column say of its decimal sign.

    For a sign speaks that it is the last of two kinds in a value, that it stands before other than three digits, or
    after a zero; a sign that comes more than once in a value parts thousands. Where all values that have a sign have
    one before three digits (1.250), both readings fit: it is taken to part thousands, unless whole numbers of four
    digits stand there without one (1250).
    """

    def __init__(self) -> None:
        self.votes = {".": 0, ",": 0}
        self._either = {".": "", ",": ""}
        self._long_whole = False

    def see(self, values: Iterable[str]) -> None:
        """Take values into account."""
        for value in values:
            vote, either = decimal_vote(value)
            if vote:
                self.votes[vote] += 1
            elif either:
                self._either[either] = self._either[either] or value.strip()
            elif re.fullmatch(r"[-+]?\d{4,}", value.strip()):
                self._long_whole = True

    @property
    def decimal(self) -> str:
        """The sign, "." or ","."""
        if self.votes["."] != self.votes[","]:
            return "," if self.votes[","] > self.votes["."] else "."
        signs = [sign for sign, value in self._either.items() if value]
        if len(signs) == 1 and not self.votes["."] and not self._long_whole:
            return "," if signs[0] == "." else "."
        return signs[0] if len(signs) == 1 and not self.votes["."] else "."

    @property
    def unclear(self) -> str:
        """A value that could be read in two ways, empty where the column says which."""
        return "" if any(self.votes.values()) else self._either["."] or self._either[","]


def decimal_vote(value: str) -> tuple[str, str]:
    """(the decimal sign a value speaks for, the sign that could be either) of a number; empty where there is none.

    >>> decimal_vote("1.234,5"), decimal_vote("3.25"), decimal_vote("1.250"), decimal_vote("850")
    ((',', ''), ('.', ''), ('', '.'), ('', ''))
    """
    found = _SHAPE.fullmatch(value.strip())
    if not found:
        return "", ""
    digits = re.sub(r"[\s'\u2019\u00a0\u202f]", "", found[2])
    signs = [sign for sign in digits if sign in ".,"]
    if not signs:
        return "", ""
    last = signs[-1]
    after = len(digits) - digits.rindex(last) - 1
    if signs.count(last) > 1:
        return ("," if last == "." else "."), ""
    if len(set(signs)) == 2 or after != 3 or digits.startswith(("0", last)):
        return last, ""
    return "", last


def parse_number(written: str, decimal: str = ".") -> float | None:
    """A number, None where it is none.

    >>> parse_number("1,234.5"), parse_number("1.234,5", ","), parse_number("12 %"), parse_number("3.5K")
    (1234.5, 1234.5, 12.0, 3500.0)
    """
    found = _SHAPE.fullmatch(written.strip())
    if not found:
        return None
    sign, digits, power, word = found.groups()
    factor = _FACTORS.get(word.rstrip(".").lower()) if word else 1.0
    if factor is None:
        return None
    plain = re.sub(r"[\s'\u2019\u00a0\u202f]", "", digits)
    other = "," if decimal == "." else "."
    if decimal in plain and plain.count(decimal) > 1 and other not in plain:
        decimal, other = other, decimal  # a sign that comes twice parts thousands
    if other in plain and not _parts_thousands(plain.split(decimal)[0], other):
        if plain.count(other) > 1 or decimal in plain:
            return None
        decimal, other = other, decimal
    plain = plain.replace(other, "").replace(decimal, ".")
    try:
        value = float(f"{plain}e{power}" if power else plain) * factor
    except ValueError:
        return None
    value = -value if sign in ("-", "\u2212") else value
    return value if abs(value) < 1e300 else None


def _parts_thousands(whole: str, sign: str) -> bool:
    first, *rest = whole.split(sign)
    return bool(rest) and 0 < len(first) <= 3 and all(len(part) == 3 for part in rest)


def is_name(written: str) -> bool:
    """Whether digits are a name: with a leading zero, too many to be exact, or written as a power of ten by
    a spreadsheet."""
    text = written.strip()
    if re.fullmatch(r"0\d+", text):
        return True
    if re.fullmatch(r"[-+]?\d{16,}", text):
        return True
    power = re.fullmatch(r"\d(?:[.,]\d+)?[eE]\+?(\d+)", text)
    return bool(power) and int(power[1]) >= EXACT_DIGITS  # type: ignore[index]
