"""Synonyms from a WordNet database (the files described in its manual page wndb(5)).

Debian's wordnet-base puts it under /usr/share/wordnet. English only. Index files are sorted, so a
word is found by bisection in the mapped file; nothing is loaded.
"""

from __future__ import annotations

import mmap
from functools import cached_property
from pathlib import Path

from winnower.core.tokens.lemmas import lemma_of
from winnower.readers.word_classes import DEBIAN_FOLDER, PARTS, word_uses

MOST_SENSES = 6
#: A word is used as a noun or a verb in at least so much of its uses.
MAINLY = 0.4
#: Numbers of the files of WordNet's editors (lexnames(5WN)): groups and persons; artefacts, locations and objects.
PEOPLE_FILES = (b"14", b"18")
PLACE_FILES = (b"06", b"15", b"17")


#: Words that stand for one another in news and talk although no dictionary has them in one sense.
EVERYDAY = tuple(
    frozenset(words.split())
    for words in (
        "die kill dead death lose loss",
        "money pound euro dollar sum",
        "pay compensate compensation payment",
        "buy purchase bought",
        "begin start open",
        "end finish close",
        "child pupil kid",
        "build erect put",
        "show display",
        "reject refuse turn",
        "say tell warn argue",
        "choose elect vote appoint",
        "big large",
        "teacher schoolmistress head",
        "job work trade",
        "see sight spot watch",
        "attack bite maul injure hurt",
        "price cost charge fee",
        "town village place",
        "farmer shepherd crofter",
        "release free",
    )
)


class Thesaurus:
    """Reads a WordNet database; ``available`` says whether it is there."""

    def __init__(self, folder: Path = DEBIAN_FOLDER) -> None:
        self.folder = Path(folder)

    @property
    def available(self) -> bool:
        return all((self.folder / f"{kind}.{part}").is_file() for kind in ("index", "data") for part in PARTS)

    def synonyms(self, word: str) -> list[str]:
        """Words that share a sense with ``word`` (a lemma, lower case), most common senses first;
        several words are parted by spaces. Empty for words it does not have."""
        if not word.strip() or not self.available:
            return []
        found: dict[str, None] = {}
        for part in PARTS:
            for offset in self._senses(part, word)[:MOST_SENSES]:
                for other in self._words_at(part, offset):
                    if other.islower() and other != word:  # names have capitals
                        found.setdefault(other)
        return list(found)

    def close_to(self, word: str) -> list[str]:
        """Synonyms of the word and of the base forms it stands for; English."""
        bases = dict.fromkeys([*self.base_forms(word), lemma_of(word, "en")])
        return list(dict.fromkeys(other for base in bases for other in self.synonyms(base)))

    def closest(self, word: str) -> list[str]:
        """Synonyms by the most common sense of each base form as noun and as verb, and words used every day for the same
        (EVERYDAY); English."""
        found: dict[str, None] = {}
        for base in dict.fromkeys([*self.base_forms(word), lemma_of(word, "en")]):
            for same in EVERYDAY:
                if base in same:
                    found.update(dict.fromkeys(same))
            if self.available:
                uses = word_uses(self.folder) or {}
                seen = uses.get(base, (1.0, 1.0, 0.0, 0.0))
                for part in ("noun", "verb"):
                    if seen[PARTS.index(part)] < MAINLY * sum(seen):
                        continue  # "track" is no word for a dog
                    for offset in self._senses(part, base)[:1]:
                        found.update(
                            dict.fromkeys(one for one in self._words_at(part, offset) if one.islower())
                        )
        found.pop(word, None)
        return list(found)

    def is_person(self, word: str) -> bool:
        """Whether the most common sense of a noun is a kind of person or of people in a group; English."""
        return self._is_of(word, PEOPLE_FILES)

    def is_place(self, word: str) -> bool:
        """Whether the most common sense of a noun is a place, a thing that was made, or a part of nature; English."""
        return self._is_of(word, PLACE_FILES)

    def _is_of(self, word: str, files: tuple[bytes, ...]) -> bool:
        if not self.available:
            return True
        uses = word_uses(self.folder) or {}
        for base in dict.fromkeys([*self.base_forms(word), lemma_of(word, "en")]):
            seen = uses.get(base)
            if seen is None or seen[0] * 2 < sum(seen):
                continue  # mostly no noun
            for offset in self._senses("noun", base)[:1]:
                data = self._maps["data.noun"]
                if data[offset : offset + 11].split()[1] in files:
                    return True
        return False

    def inflections(self, word: str) -> list[str]:
        """Irregular forms of the word and of the base forms it stands for: left for leave; English."""
        return [form for base in self.base_forms(word) for form in self._irregular.get(base, ())]

    @cached_property
    def _irregular(self) -> dict[str, list[str]]:
        out: dict[str, list[str]] = {}
        for part in ("noun", "verb"):
            for form, bases in self._exceptions.get(part, {}).items():
                for base in bases:
                    out.setdefault(base, []).append(form)
        return out

    def base_forms(self, word: str) -> list[str]:
        """The word and the irregular base forms it stands for, such as mice, mouse."""
        out = {word: None}
        for part in PARTS:
            for base in self._exceptions.get(part, {}).get(word, ()):
                out.setdefault(base)
        return list(out)

    @cached_property
    def _exceptions(self) -> dict[str, dict[str, tuple[str, ...]]]:
        out: dict[str, dict[str, tuple[str, ...]]] = {}
        for part in PARTS:
            file = self.folder / f"{part}.exc"
            lines = file.read_text("utf-8").splitlines() if file.is_file() else []
            out[part] = {row[0]: tuple(row[1:]) for row in (line.split() for line in lines) if row}
        return out

    @cached_property
    def _maps(self) -> dict[str, mmap.mmap]:
        out = {}
        for kind in ("index", "data"):
            for part in PARTS:
                with (self.folder / f"{kind}.{part}").open("rb") as file:
                    out[f"{kind}.{part}"] = mmap.mmap(file.fileno(), 0, access=mmap.ACCESS_READ)
        return out

    def _senses(self, part: str, word: str) -> list[int]:
        """Offsets of the senses of a word in the data file."""
        line = self._line_of(self._maps[f"index.{part}"], word.replace(" ", "_").encode())
        if line is None:
            return []
        fields = line.split()
        senses = int(fields[2])
        return [int(offset) for offset in fields[-senses:]]

    def _line_of(self, data: mmap.mmap, word: bytes) -> bytes | None:
        """The line that begins with the word and a space; lines are in the order of their bytes."""
        low, high = 0, len(data)
        while low < high:
            middle = (low + high) // 2
            begin = data.rfind(b"\n", 0, middle) + 1
            end = data.find(b"\n", begin)
            line = data[begin : end if end >= 0 else len(data)]
            key = line.split(b" ", 1)[0]  # the licence at the top begins with spaces: an empty key
            if key == word:
                return line
            if key < word:
                low = end + 1 if end >= 0 else len(data)
            else:
                high = begin
        return None

    def _words_at(self, part: str, offset: int) -> list[str]:
        data = self._maps[f"data.{part}"]
        fields = data[offset : data.find(b"\n", offset)].split(b" ")
        count = int(fields[3], 16)
        words = [fields[4 + 2 * at].decode() for at in range(count)]
        return [word.split("(")[0].replace("_", " ") for word in words]
