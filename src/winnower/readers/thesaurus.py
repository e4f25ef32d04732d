"""Synonyms from a WordNet database (the files described in its manual page wndb(5)).

Debian's wordnet-base puts it under /usr/share/wordnet. English only. Index files are sorted, so a
word is found by bisection in the mapped file; nothing is loaded.
"""

from __future__ import annotations

import mmap
from functools import cached_property
from pathlib import Path

from winnower.core.tokens.lemmas import lemma_of

PARTS = ("noun", "verb", "adj", "adv")
DEBIAN_FOLDER = Path("/usr/share/wordnet")
MOST_SENSES = 6


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
