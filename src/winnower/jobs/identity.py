"""Which text is which: by its key, else by its content."""

from __future__ import annotations

from collections import Counter
from hashlib import blake2b
from typing import Any, NamedTuple

import numpy as np

from winnower.readers.mapping import Mapping
from winnower.readers.prepare import PreparedTexts

BYTES = 16


def content_hashes(texts: PreparedTexts) -> list[bytes]:
    """Hash of the body of each text: by it a known key tells whether its text has changed."""
    return [blake2b(body.encode(), digest_size=BYTES).digest() for body in texts.body]


class Agreeing(NamedTuple):
    """Two rows (file, row) that agree in what tells texts apart, and how their text begins; ``other`` where
    they have the same key and another text."""

    first: tuple[str, int]
    second: tuple[str, int]
    start: str
    other: bool = False


#: So many are shown.
MOST_AGREEING = 5
START_CHARS = 120


class Identities:
    """Gives each text its identity, by the rule of its mapping (readers/mapping.py).

    Texts without a key that agree in what tells them apart are numbered: equal answers of several people
    stay several texts, and the same delivery a second time is still known text by text. With ``examples``
    the first that agree are kept to be shown.
    """

    def __init__(self, examples: bool = False) -> None:
        self._times: Counter[bytes] = Counter()
        #: By identity, the one the same text had when names of files were part of it.
        self.former: dict[bytes, bytes] = {}
        self._former_times: Counter[bytes] = Counter()
        self._places: dict[bytes, tuple[str, int]] | None = {} if examples else None
        self.alike = 0
        self.agreeing: list[Agreeing] = []

    def of(self, texts: PreparedTexts, contents: list[bytes], mapping: Mapping) -> list[bytes]:
        """16 bytes each."""
        rule, line = mapping.rule, mapping.line or ""
        scope = f"{line}\0" if line else ""
        who = [texts.values[name] for name in mapping.identifying if name in texts.values]
        out = []
        for at, (key, content) in enumerate(zip(texts.key, contents, strict=True)):
            if key is not None and rule == "key":
                out.append(key_identity(key, line))
            elif key is not None and rule == "key-file":
                out.append(_hash(f"key\0{scope}{texts.file[at]}\0{key}"))
            elif rule == "place":
                told = [texts.file[at], question_of(texts, mapping, at)]
                out.append(self._numbered(repr(tuple(told)), content, texts, at))
            else:
                told = [texts.title[at], texts.source[at], texts.date[at], *(column[at] for column in who)]
                told.append(question_of(texts, mapping, at))
                # the same export under another name is the same; a text without words has nothing but its name
                if at < len(texts.named_by_file) and texts.named_by_file[at] and texts.body[at]:
                    former = _counted(self._former_times, repr(told), content)[0]
                    told[0] = ""
                    out.append(self._numbered(repr(told), content, texts, at))
                    self.former[out[-1]] = former
                else:
                    out.append(self._numbered(repr(told), content, texts, at))
        return out

    def _numbered(self, told: str, content: bytes, texts: PreparedTexts, at: int) -> bytes:
        """The identity of a text without a key; the second one alike has another."""
        identity, base, times = _counted(self._times, told, content)
        if times:
            self.alike += 1
        if self._places is not None and len(self.agreeing) < MOST_AGREEING:
            first = self._places.setdefault(base, (texts.file[at], texts.line[at]))
            if times:
                second = (texts.file[at], texts.line[at])
                self.agreeing.append(Agreeing(first, second, texts.body[at][:START_CHARS]))
        return identity


def _counted(seen: Counter[bytes], told: str, content: bytes) -> tuple[bytes, bytes, int]:
    """(identity, what the identities of all texts alike are made from, how many came before)."""
    base = blake2b(told.encode() + content, digest_size=BYTES, person=b"content").digest()
    times = seen[base]
    seen[base] = times + 1
    numbered = base + times.to_bytes(4, "little")
    return (blake2b(numbered, digest_size=BYTES).digest() if times else base), base, times


def question_of(texts: PreparedTexts, mapping: Mapping, at: int) -> Any:
    """The question a text answers, where a row has several."""
    target = next((t for t in mapping.variables if t.role == "question"), None)
    return texts.values[target.name][at] if target else None


def key_identity(key: str, line: str) -> bytes:
    """Identity of a text by its key in a line of deliveries; empty for keys of the whole project."""
    return _hash(f"key\0{line}\0{key}" if line else f"key\0{key}")


def _hash(written: str) -> bytes:
    return blake2b(written.encode(), digest_size=BYTES).digest()


class KnownIdentities:
    """Identities seen so far, eight bytes each; a match must be confirmed by the caller."""

    def __init__(self, identities: np.ndarray) -> None:
        self._sorted = np.sort(identities)

    def maybe(self, identities: list[bytes]) -> np.ndarray:
        """bool per identity: possibly known."""
        short = shorten(identities)
        if not len(self._sorted):
            return np.zeros(len(short), bool)
        at = np.minimum(np.searchsorted(self._sorted, short), len(self._sorted) - 1)
        found: np.ndarray = self._sorted[at] == short
        return found

    def __len__(self) -> int:
        return len(self._sorted)

    def candidates(self, identities: list[bytes], former: dict[bytes, bytes]) -> list[bytes]:
        """Identities that are possibly known, as they are or as they were once."""
        maybe = self.maybe(identities)
        if former:
            maybe |= self.maybe([former.get(one, one) for one in identities])
        return [identities[at] for at in np.flatnonzero(maybe)]

    def add(self, identities: list[bytes]) -> None:
        self._sorted = np.sort(np.concatenate([self._sorted, shorten(identities)]), kind="stable")


def shorten(identities: list[bytes]) -> np.ndarray:
    """The first eight bytes as numbers."""
    return np.frombuffer(b"".join(i[:8] for i in identities), np.uint64)
