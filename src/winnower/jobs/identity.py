"""Which text is which: by its key, else by its content."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from hashlib import blake2b
from typing import Any

import numpy as np

from winnower.readers.prepare import PreparedTexts

BYTES = 16


def content_hashes(texts: PreparedTexts) -> list[bytes]:
    """Hash of the body of each text: by it a known key tells whether its text has changed."""
    return [blake2b(body.encode(), digest_size=BYTES).digest() for body in texts.body]


class Identities:
    """Gives each text its identity. Texts without a key that are equal in every column are numbered.

    So a survey answer that several people gave in the same words stays several texts, and the same
    delivery a second time is still known text by text.
    """

    def __init__(self) -> None:
        self._times: Counter[bytes] = Counter()
        self.alike = 0

    def of(self, texts: PreparedTexts, contents: list[bytes]) -> list[bytes]:
        """16 bytes each."""
        columns: list[Sequence[Any]] = [texts.title, texts.source, texts.date, *texts.values.values()]
        out = []
        for at, (key, content) in enumerate(zip(texts.key, contents, strict=True)):
            if key is not None:
                out.append(blake2b(f"key\0{key}".encode(), digest_size=BYTES).digest())
                continue
            whole = repr([column[at] for column in columns]).encode() + content
            base = blake2b(whole, digest_size=BYTES, person=b"content").digest()
            times = self._times[base]
            if times:
                self.alike += 1
            self._times[base] = times + 1
            numbered = base + times.to_bytes(4, "little")
            out.append(blake2b(numbered, digest_size=BYTES).digest() if times else base)
        return out


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

    def add(self, identities: list[bytes]) -> None:
        self._sorted = np.sort(np.concatenate([self._sorted, shorten(identities)]), kind="stable")


def shorten(identities: list[bytes]) -> np.ndarray:
    """The first eight bytes as numbers."""
    return np.frombuffer(b"".join(i[:8] for i in identities), np.uint64)
