"""A list of words with weights, negations and intensifiers: what tone is measured with."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cache
from importlib.resources import files
from typing import Any, Literal

from winnower.core.errors import WinnowerError

Role = Literal["weight", "negation", "intensifier"]
ROLES: tuple[Role, ...] = ("weight", "negation", "intensifier")
Base = Literal["english", "none"]
#: The strongest weight a word, and the strongest change an intensifier can have.
MOST_WEIGHT, MOST_CHANGE = 4.0, 1.0
MOST_WORDS = 50_000
MOST_LETTERS = 60


@dataclass(frozen=True)
class ToneWords:
    """Words in lower case.

    weights       by word: from -4 (most negative) to 4 (most positive)
    negations     words that turn what follows within three words
    intensifiers  by word: what it adds to the strength of what follows within three words, from -1 to 1
    emoji         by sign: the words that stand for it
    idioms        by several words together: their weight, in place of that of their words
    """

    weights: Mapping[str, float]
    negations: frozenset[str]
    intensifiers: Mapping[str, float]
    emoji: Mapping[str, str] = field(default_factory=dict)
    idioms: Mapping[str, float] = field(default_factory=dict)

    def changed(self, changes: Mapping[str, Mapping[str, float | None]]) -> ToneWords:
        """With ``changes`` by role and word: another value, or None for a word that is taken out."""
        weights = _changed(self.weights, changes.get("weight", {}))
        intensifiers = _changed(self.intensifiers, changes.get("intensifier", {}))
        negations = _changed(dict.fromkeys(self.negations, 1.0), changes.get("negation", {}))
        return replace(self, weights=weights, intensifiers=intensifiers, negations=frozenset(negations))

    def content(self) -> dict[str, Any]:
        """As it is kept as a version: everything there is in it, in order."""
        return {
            "weight": dict(sorted(self.weights.items())),
            "negation": sorted(self.negations),
            "intensifier": dict(sorted(self.intensifiers.items())),
            "emoji": dict(sorted(self.emoji.items())),
            "idiom": dict(sorted(self.idioms.items())),
        }

    @classmethod
    def from_content(cls, content: Mapping[str, Any]) -> ToneWords:
        return cls(
            content["weight"],
            frozenset(content["negation"]),
            content["intensifier"],
            content["emoji"],
            content["idiom"],
        )

    def fingerprint(self) -> str:
        written = json.dumps(self.content(), ensure_ascii=False, sort_keys=True).encode()
        return hashlib.sha256(written).hexdigest()

    def value_of(self, role: Role, word: str) -> float | None:
        """What the list says of a word, None where it is not in it."""
        if role == "negation":
            return 1.0 if word in self.negations else None
        return (self.weights if role == "weight" else self.intensifiers).get(word)


def _changed(values: Mapping[str, float], changes: Mapping[str, float | None]) -> dict[str, float]:
    both = {**values, **changes}
    return {word: value for word, value in both.items() if value is not None}


@cache
def shipped(base: str) -> ToneWords:
    """The list that comes with Winnower: that of VADER (Hutto and Gilbert 2014) for "english", an empty one for
    "none"."""
    if base == "none":
        return ToneWords({}, frozenset(), {})
    from vaderSentiment.vaderSentiment import BOOSTER_DICT, NEGATE, SPECIAL_CASES

    folder = files("vaderSentiment")
    weights, emoji = {}, {}
    for line in (folder / "vader_lexicon.txt").read_text("utf-8").splitlines():
        word, _, rest = line.strip().partition("\t")
        # those with a blank or a capital are never met: texts are read word by word, in lower case
        if rest and " " not in word and word == word.lower():
            weights[word] = float(rest.partition("\t")[0])
    for line in (folder / "emoji_utf8_lexicon.txt").read_text("utf-8").splitlines():
        sign, _, meant = line.strip().partition("\t")
        emoji[sign] = meant
    return ToneWords(
        weights,
        frozenset(NEGATE),
        dict(BOOSTER_DICT),
        emoji,
        dict(SPECIAL_CASES),
    )


def checked(role: str, word: str, value: float | None) -> tuple[str, float | None]:
    """A word as it is kept, with its value. Raises WinnowerError that says what does not fit."""
    if role not in ROLES:
        raise WinnowerError(f"“{role}” is not one of weight, negation, intensifier.")
    kept = " ".join(word.split()).lower()
    if not kept:
        raise WinnowerError("Give a word.")
    if " " in kept and role != "intensifier":
        raise WinnowerError(f"“{kept}” is more than one word; only single words have a place in the list.")
    if len(kept) > MOST_LETTERS:
        raise WinnowerError(f"“{kept[:20]}…” is longer than {MOST_LETTERS} letters.")
    if value is None or role == "negation":
        return kept, value if value is None else 1.0
    most = MOST_WEIGHT if role == "weight" else MOST_CHANGE
    if not -most <= value <= most:  # not a number is none of these either
        raise WinnowerError(f"The value of “{kept}” must lie between {-most:g} and {most:g}.")
    return kept, float(value)
