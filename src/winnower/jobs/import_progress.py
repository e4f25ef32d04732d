"""How far an import is: what was read of its files, and what of that is stored."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import Future, wait
from typing import Any

from winnower.jobs.reading import PiecesApart
from winnower.jobs.run import TELL_EVERY_S, Progress
from winnower.jobs.sources import Piece, Pieces

#: Share of the way that is reading; the rest is recognising known texts, tokenizing and storing.
READING = 0.25


class ImportProgress:
    """Tells the progress of a stage that reads ``pieces`` and stores them, and looks for cancelling."""

    def __init__(self, pieces: Pieces | PiecesApart, progress: Progress) -> None:
        self._pieces, self._progress = pieces, progress
        #: Bytes of the delivery whose texts are stored.
        self.stored = 0
        if isinstance(pieces, PiecesApart):
            pieces.in_between = self._tell

    def pieces(self) -> Iterator[Piece]:
        """The pieces as they are read. Raises Cancelled, Taken."""
        for piece in self._pieces:
            self._tell(at_once=True)
            yield piece

    def wait_for(self, batch: Future[Any]) -> None:
        """Wait until a batch is stored. Raises what ended it, Cancelled, Taken."""
        while not wait([batch], timeout=TELL_EVERY_S).done:
            self._tell()
        batch.result()
        self._tell()

    def _tell(self, *, at_once: bool = False) -> None:
        read, total = self._pieces.bytes_done, max(self._pieces.bytes_total, 1)
        share = READING * read + (1 - READING) * min(self.stored, read)
        self._progress.tell(share / total, at_once=at_once)
