"""Expands the banks: {a|b} picks one, $word fills a slot, {c} and {C} a claim of the frame."""

from __future__ import annotations

import random
import re

from demo.banks import names
from demo.banks.claims import CLAIMS

FRAMES = tuple(CLAIMS)
_CHOICE = re.compile(r"\{([^{}]*)\}")
_SLOT = re.compile(r"\$([a-z]+\d?)")


class Writer:
    """Writes sentences with a seed, and sees to it that none is written too often."""

    def __init__(self, seed: int) -> None:
        self.rng = random.Random(seed)
        self.seen: dict[str, int] = {}
        self.here: set[str] = set()

    def new_text(self) -> None:
        """Begin a text: within one, no bank line is used again before the others of its bank."""
        self.here.clear()

    def vary(self, options) -> str:
        """One of the options that this text has not used yet; once all are used, any again."""
        left = [option for option in options if option not in self.here]
        if not left:
            self.here.difference_update(options)
            left = list(options)
        chosen = self.rng.choice(left)
        self.here.add(chosen)
        return chosen

    def pick(self, options):
        return self.rng.choice(options)

    def expand(
        self, template: str, frame: str, other: str | None = None, people: list[str] | None = None
    ) -> str:
        """A template with all its choices made."""
        text = template
        for name, source in (("{c2}", other or frame), ("{c}", frame)):
            while name in text:
                text = text.replace(name, self.claim(source, people), 1)
        while "{C}" in text:
            claim = self.claim(frame, people)
            text = text.replace("{C}", claim[:1].upper() + claim[1:], 1)
        return self._fill(text, people)

    def claim(self, frame: str, people: list[str] | None = None) -> str:
        return self._fill(self.vary(CLAIMS[frame]), people)

    def _fill(self, text: str, people: list[str] | None) -> str:
        while match := _CHOICE.search(text):
            text = text[: match.start()] + self.pick(match.group(1).split("|")) + text[match.end() :]
        return _SLOT.sub(lambda m: self._slot(m.group(1), people), text)

    def _slot(self, name: str, people: list[str] | None) -> str:
        rng = self.rng
        if name in ("who", "who2"):
            return rng.choice(people or names.FARMERS)
        numbers = {"n1": rng.randint(2, 19), "n2": rng.randint(12, 98), "n3": rng.randint(110, 980)}
        if name in numbers:
            return str(numbers[name])
        banks = {"place": names.PLACES, "hill": names.HILLS, "month": names.MONTHS, "weekday": names.WEEKDAYS}
        return rng.choice(banks[name])

    def fresh(
        self, templates, frame: str, other: str | None = None, people: list[str] | None = None, most: int = 2
    ) -> str:
        """A sentence that stood fewer than ``most`` times before, if one can be had in some tries."""
        for _ in range(30):
            text = tidy(self.expand(self.vary(templates), frame, other, people))
            key = re.sub(r"[^a-z ]", "", text.lower())
            if self.seen.get(key, 0) < most:
                break
        self.seen[key] = self.seen.get(key, 0) + 1
        return text


def tidy(text: str) -> str:
    """Spaces and sentence beginnings put right."""
    text = re.sub(r"\s+", " ", text).strip()
    text = re.sub(r" ([,.;:!?])", r"\1", text)
    text = re.sub(r"(^[“]?|[.!?] [“]?)([a-z])", lambda m: m.group(1) + m.group(2).upper(), text)
    return text.replace("..", ".").replace("i'm", "I'm")
