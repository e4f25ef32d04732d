"""Numbers in a sentence that say how many or how much there is of something."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator
from dataclasses import dataclass

from winnower.core.assist.wordlists import (
    ABOUT,
    BETWEEN,
    CALENDAR,
    MEASURES,
    NONE,
    OF_AGE,
    OF_MEASURE,
    TELLS,
    Measure,
)
from winnower.core.tokens.forms import fold

_UNITS = {word: at for at, word in enumerate(
    ["zero", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve", "thirteen", "fourteen", "fifteen", "sixteen", "seventeen", "eighteen", "nineteen"])}  # fmt: skip
_TENS = {word: 10 * at for at, word in enumerate(
    ["twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety"], 2)}  # fmt: skip
_LARGE = {"hundred": 100, "thousand": 1_000, "million": 1_000_000, "dozen": 12}
_OTHERS = {
    "zwei": 2, "drei": 3, "vier": 4, "fünf": 5, "sechs": 6, "sieben": 7, "acht": 8, "neun": 9, "zehn": 10, "elf": 11, "zwölf": 12,
    "deux": 2, "trois": 3, "quatre": 4, "cinq": 5, "sept": 7, "huit": 8, "neuf": 9, "dix": 10, "onze": 11, "douze": 12,
    "dos": 2, "tres": 3, "cuatro": 4, "cinco": 5, "seis": 6, "siete": 7, "ocho": 8, "nueve": 9, "diez": 10, "once": 11, "doce": 12,
    "due": 2, "tre": 3, "quattro": 4, "cinque": 5, "sei": 6, "sette": 7, "otto": 8, "nove": 9, "dieci": 10, "dodici": 12,
    "twee": 2, "drie": 3, "vijf": 5, "zes": 6, "zeven": 7, "negen": 9, "tien": 10, "twaalf": 12,
}  # fmt: skip
_BOUNDS = ("more than", "close on", "close to", "well over", "less than", "fewer than", "at least", "at most", "up to", "no more than", "no fewer than", "mehr als",
           "weniger als", "mindestens", "plus de", "moins de", "más de", "menos de", "più di", "meno di", "meer dan", "minder dan")  # fmt: skip
FRACTIONS = {"half": 1 / 2, "third": 1 / 3, "quarter": 1 / 4, "fifth": 1 / 5, "tenth": 1 / 10}
BEFORE, AFTER, NEXT_TO = 5, 7, 4
_TOKEN = re.compile(
    r"\d+(?:[.,’' \u00a0\u202f]\d{3})*(?:[.,]\d+)?|[^\W\d_](?:[\w'’-]*\w)?|[£€$%:(=;.!?,)“”„«»\"]"
)


@dataclass(frozen=True)
class Amount:
    """A number as it is said: ``value`` for ordering, ``said`` with its bound and unit ("more than 44", "9 months")."""

    value: float
    said: str


@dataclass(frozen=True)
class _Number:
    """A number among the tokens: of ``first`` up to ``after``."""

    value: float
    first: int
    after: int


def amounts(words: str, measure: Measure, counted: Collection[str], others: Collection[str]) -> list[Amount]:
    """Numbers of a sentence that may answer how many or how much, each once, in their order.

    ``measure`` tells what a number must be of; "" counts things: ``counted`` are the folded forms of what is counted
    (empty where the sentence before named it), ``others`` those of the other words of the question. A number counts
    where it stands before the thing or is said of it ("the number of claims rose to 93"), or right before another word
    of the question ("one died").
    """
    tokens = _TOKEN.findall(words)
    folds = [fold(token) for token in tokens]
    found: dict[str, Amount] = {}
    for number in _numbers(tokens, folds):
        if measure == "age":
            if _is_age(folds, number, others):
                _take(found, folds, number, "")
        elif measure:
            unit = _unit(folds, number, measure)
            if unit is not None:
                _take(found, folds, number, unit)
        elif _is_of(folds, number, counted, others):
            _take(found, folds, number, "")
    if measure in ("share", "any"):
        for amount in _fractions(folds):
            found.setdefault(amount.said, amount)
    return list(found.values())


def _fractions(folds: list[str]) -> Iterator[Amount]:
    """Shares said without a number: half, a third, two thirds, three quarters."""
    for at, word in enumerate(folds):
        part = FRACTIONS.get(word.removesuffix("s") if word != "halves" else "half")
        if part is None:
            continue
        before = folds[at - 1] if at else ""
        times = _UNITS.get(before, 1)
        if word == "half" or before in ("a", "one") or (before in _UNITS and word.endswith("s")):
            said = word if word == "half" else f"{before} {word}"
            yield Amount(times * part, said)


def _take(found: dict[str, Amount], folds: list[str], number: _Number, unit: str) -> None:
    value = f"{number.value:,.10g}" if number.value != int(number.value) else f"{int(number.value):,}"
    bound = _bound(folds, number.first)
    value = "none" if not number.value else value
    value = f"{unit}{value}" if unit and not unit.isascii() or unit == "$" else f"{value} {unit}"
    said = f"{bound} {value}".strip()
    found.setdefault(said, Amount(number.value, said))


def _numbers(tokens: list[str], folds: list[str]) -> list[_Number]:
    found, at = [], 0
    while at < len(tokens):
        if tokens[at][0].isdecimal():
            value, after = _digits(tokens[at]), at + 1
            if after < len(folds) and folds[after] in _LARGE:
                value, after = value * _LARGE[folds[after]], after + 1
            found.append(_Number(value, at, after))
            at = after
            continue
        spelled = _spelled(folds, at)
        if spelled is not None:
            found.append(spelled)
            at = spelled.after
        else:
            if folds[at] in NONE:
                found.append(_Number(0, at, at + 1))
            at += 1
    return found


def _digits(token: str) -> float:
    plain = re.sub(r"[’' \u00a0\u202f]", "", token)
    if re.fullmatch(r"\d{1,3}(?:[.,]\d{3})+", plain):
        return float(re.sub(r"[.,]", "", plain))
    return float(plain.replace(",", "."))


def _spelled(folds: list[str], at: int) -> _Number | None:
    """A number in words that begins here: "two hundred and forty-one"."""
    if (
        folds[at] in ("a", "an")
        and folds[at + 1 : at + 2]
        and folds[at + 1] in MEASURES
        and folds[at + 1] not in FRACTIONS
    ):
        return _Number(1, at, at + 1)  # "a kilogram of meat"
    total, part, place = 0, 0, at
    while place < len(folds):
        word = folds[place]
        pieces = word.split("-")
        if all(piece in _UNITS or piece in _TENS for piece in pieces):
            part += sum(_UNITS.get(piece, 0) + _TENS.get(piece, 0) for piece in pieces)
        elif word in _OTHERS and place == at:
            return _Number(_OTHERS[word], at, at + 1)
        elif word in _LARGE and place > at:
            part = max(part, 1) * _LARGE[word]
            if _LARGE[word] >= 1_000:
                total, part = total + part, 0
        elif word == "and" and place > at and folds[place - 1] in _LARGE and place + 1 < len(folds) and (
            folds[place + 1].split("-")[0] in _UNITS or folds[place + 1].split("-")[0] in _TENS
        ):  # fmt: skip
            pass
        elif word in ("a", "hundred", "dozen", "half") and place == at and _begins_large(folds, at):
            part = 1
            if word != "a":
                part = _LARGE.get(word, 1)
        else:
            break
        place += 1
    return _Number(total + part, at, place) if place > at else None


def _begins_large(folds: list[str], at: int) -> bool:
    return folds[at] in ("hundred", "dozen") or (
        folds[at] == "a" and at + 1 < len(folds) and folds[at + 1] in _LARGE
    )


def _bound(folds: list[str], first: int) -> str:
    if first and folds[first - 1] in "£€$":
        first -= 1
    for size in (3, 2, 1):
        before = " ".join(folds[max(first - size, 0) : first])
        if before in _BOUNDS or (size == 1 and before in ABOUT):
            return before
    return ""


def _unit(folds: list[str], number: _Number, measure: Measure) -> str | None:
    """The unit a number is of; None where it is of none that was asked for."""
    before = folds[number.first - 1] if number.first else ""
    after = folds[number.after] if number.after < len(folds) else ""
    units = OF_MEASURE[measure]
    if measure == "share":
        if after == "per" or after in units:
            return "per cent" if after in ("per", "percent", "%", "prozent", "pour") else after
        ten = number.after + 1 < len(folds) and after in ("in", "of", "out") and not number.value > 100
        return f"{after} {folds[number.after + 1]}" if ten and _is_number(folds[number.after + 1]) else None
    if measure == "duration" and after in OF_MEASURE["length"]:
        return after  # "how long" asks for both
    if measure == "any":
        return None if _is_date(folds, number) else after if after.isalpha() else ""
    if after in units:
        return after
    return before if before in units and not before.isalpha() else None


def _is_age(folds: list[str], number: _Number, others: Collection[str]) -> bool:
    """Whether a number is the age of what is asked about: it follows with nothing but "who is" or "aged" between."""
    for word in reversed(folds[: number.first]):
        if word in others:
            return True
        if word not in OF_AGE:
            return False
    return False


def _is_number(word: str) -> bool:
    return word[:1].isdecimal() or word in _UNITS or word in _TENS


def _is_date(folds: list[str], number: _Number) -> bool:
    near = folds[max(number.first - 1, 0) : number.first] + folds[number.after : number.after + 1]
    whole = number.value == int(number.value)
    year = (
        whole
        and 1500 <= number.value < 2100
        and number.after == number.first + 1
        and folds[number.first].isdecimal()
    )
    return bool(CALENDAR.intersection(near)) or year


def _is_of(folds: list[str], number: _Number, counted: Collection[str], others: Collection[str]) -> bool:
    ahead = folds[number.after : number.after + BEFORE]
    for word in ahead:
        if word in counted:
            return not _is_date(folds, number) or word == ahead[0]  # "1600 lambs"
        if word in ';:.!?“”„«»"' or _is_number(word):
            break
    if _is_date(folds, number):
        return False
    for word in folds[number.after : number.after + NEXT_TO]:
        if word in others:
            return True
        if word not in BETWEEN:
            break
    if folds[max(number.first - 1, 0)] == "of" and number.first > 1 and folds[number.first - 2] in others:
        return not ahead or not ahead[0][0].isalpha()  # "a list of 90."
    if not counted:
        return ahead[:1] == ["of"] or ahead[:1] in (
            ["were"],
            ["was"],
            ["are"],
            ["is"],
            ["have"],
            ["had"],
            ["has"],
        )
    start = max(number.first - AFTER, 0)
    behind = folds[start : number.first]
    while behind and (behind[-1] in ABOUT or " ".join(behind[-2:]) in _BOUNDS):
        behind = behind[:-1]
    alone = not ahead or not ahead[0][0].isalpha() or len(ahead[0]) <= 3
    return bool(behind) and behind[-1] in TELLS and alone and any(word in counted for word in behind)
