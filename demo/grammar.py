"""Expands the banks: {a|b} picks one, $word fills a slot, {c} and {C} a claim of the frame.

$breed, $breed2 are entries of a bank, never the same twice in one sentence; $breeds its plural. Entries come from a
shuffled bank one after the other, so that all of them are used.
"""

from __future__ import annotations

import random
import re
from collections import Counter

from demo.banks import names
from demo.banks.claims import CLAIMS
from demo.banks.doings import DOINGS
from demo.banks.living import LIVING
from demo.banks.public import PUBLIC
from demo.banks.scenes import SCENES, TAILS, WHO_IS
from demo.banks.wording import WORDING

FRAMES = tuple(CLAIMS)
_CHOICE = re.compile(r"\{([^{}]*)\}")
_SLOT = re.compile(r"\$([a-z]+\d?)")
_FIRST_PERSON = re.compile(r"\b(?:I|I'm|[Mm]y|[Mm]e|[Mm]ine|[Ww]e|[Uu]s|[Oo]urs?)\b")
_WORD = re.compile(r"[a-z0-9]+(?:['’-][a-z0-9]+)*")
#: So many words in a row are written at most MOST times.
ROW, MOST = 8, 12
#: How often a clause ends on a tail, and how often somebody is described.
TAILED, DESCRIBED = 0.2, 0.3


class Writer:
    """Writes sentences with a seed, and sees to it that none is written too often."""

    def __init__(self, seed: int) -> None:
        self.rng = random.Random(seed)
        self.seen: dict[str, int] = {}
        self.here: set[str] = set()
        self.rows: Counter[tuple[str, ...]] = Counter()
        self.banks = {**LIVING, **DOINGS, **PUBLIC, **WORDING, **names.banks(self.rng)}
        self.decks: dict[str, list[str]] = {}
        self.used: set[str] = set()
        #: What a sentence is about: its frames, by the sentence.
        self.truth: dict[str, tuple[str, ...]] = {}
        #: Whether others tell what is said: nobody says "I" then.
        self.reported = False
        #: The clauses of the sentence that is being written, each with its frame.
        self.said: list[tuple[str, str]] = []

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
        for _ in range(12):
            claim = self.vary(CLAIMS[frame])
            if self.rng.random() < TAILED:
                claim = f"{claim}, {self.pick(TAILS)}"
            text = self._fill(claim, people)
            if not self.reported or not _FIRST_PERSON.search(text):
                break
        self.said.append((frame, _plain(tidy(text))[:40]))
        return text

    def draw(self, bank: str) -> str:
        """The next entry of a shuffled bank, another than those already in the sentence."""
        deck = self.decks.setdefault(bank, [])
        for _ in range(4):
            if not deck:
                deck += self.banks[bank]
                self.rng.shuffle(deck)
            found = deck.pop()
            if found not in self.used:
                break
        self.used.add(found)
        return found

    def person(self) -> str:
        return f"{self.draw('first')} {self.draw('last')}"

    def _fill(self, text: str, people: list[str] | None) -> str:
        while match := _CHOICE.search(text):
            text = text[: match.start()] + self.pick(match.group(1).split("|")) + text[match.end() :]
        while _SLOT.search(text):  # what is filled in may have slots of its own
            text = _SLOT.sub(lambda m: self._slot(m.group(1), people), text)
        return text

    def _slot(self, name: str, people: list[str] | None) -> str:
        rng = self.rng
        if name in ("who", "who2"):
            return self._who(people)
        numbers = {"n1": (2, 19), "n2": (12, 98), "n3": (110, 980)}
        if name in numbers:
            return str(rng.randint(*numbers[name]))
        plain = name.rstrip("23")
        if plain == "person":
            return self.person()
        if plain == "relative":
            return rng.choice(("daughter", "son", "widow", "brother", "niece", "grandson", "cousin"))
        if plain in self.banks:
            return self.draw(plain)
        return plural(self.draw(plain.removesuffix("s")))

    def _who(self, people: list[str] | None) -> str:
        if self.rng.random() > DESCRIBED:
            return self.rng.choice(people or names.FARMERS)
        return f"{self.person()}, {self.pick(WHO_IS)},"

    def fresh(
        self,
        templates,
        frame: str,
        other: str | None = None,
        people: list[str] | None = None,
        most: int = 2,
        *,
        of: str = "",
        reported: bool = False,
    ) -> str:
        """A sentence that stood fewer than ``most`` times before, and none of whose rows of words stood too often; a
        scene of no frame, if none can be had in some tries. ``of`` is the frame of templates without a clause;
        what is ``reported`` is told by others."""
        self.reported = reported
        for number in range(60):
            scene = number >= 40
            self.used.clear()
            self.said.clear()
            chosen = self.pick(SCENES) if scene else self.vary(templates)
            text = tidy(self.expand(chosen, frame, other, people))
            key = re.sub(r"[^a-z ]", "", text.lower())
            rows = rows_of(text)
            if self.seen.get(key, 0) < most and all(self.rows[row] < MOST for row in rows):
                break
        self.reported = False
        self.seen[key] = self.seen.get(key, 0) + 1
        self.rows.update(set(rows))
        for sentence in sentences_of(text):
            about = [frame for frame, clause in self.said if clause in _plain(sentence)]
            self.truth[sentence] = tuple(dict.fromkeys(about)) or ((of,) if of and not scene else ())
        return text

    def scene(self) -> str:
        return self.fresh(SCENES, "")


def _plain(text: str) -> str:
    """Letters alone, as they are the same before and after a text was put right; of a clause its beginning tells."""
    return re.sub(r"[^a-z]", "", text.lower())


def sentences_of(text: str) -> list[str]:
    """Its sentences, as they are looked up in what is known of them."""
    return [one for one in re.split(r"(?<=[.!?”])\s+", text) if one]


def rows_of(text: str) -> list[tuple[str, ...]]:
    """All rows of so many words."""
    words = _WORD.findall(text.lower())
    return list(zip(*(words[at:] for at in range(ROW)), strict=False))


def plural(noun: str) -> str:
    """Of one thing several, for the nouns of the banks."""
    first, of, rest = noun.partition(" of ")
    if first.endswith(("calf", "wolf")):
        first = f"{first[:-1]}ves"
    elif first.endswith(("s", "x", "ch", "sh")):
        first += "es"
    elif first.endswith("y") and first[-2] not in "aeiou":
        first = f"{first[:-1]}ies"
    elif not first.endswith(("fowl", "sheep")):
        first += "s"
    return f"{first}{of}{rest}"


def tidy(text: str) -> str:
    """Spaces, commas, articles and sentence beginnings put right."""
    text = re.sub(r"\s+", " ", text).strip()
    text = re.sub(r" ([,.;:!?])", r"\1", text)
    text = re.sub(r",([,.;:!?])", r"\1", text)
    text = re.sub(r"\b([Aa]) (?=[aeiouAEIOU])(?!one|uni|use|eu|ewe|uku)", r"\1n ", text)
    text = re.sub(r"(^[“]?|[.!?] [“]?)([a-z])", lambda m: m.group(1) + m.group(2).upper(), text)
    return text.replace("..", ".").replace("i'm", "I'm")
