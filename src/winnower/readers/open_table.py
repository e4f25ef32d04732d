"""Whatever reads as a table, opened: one way in for all kinds."""

from __future__ import annotations

import codecs
import io
from collections.abc import Callable, Iterator
from typing import Any, BinaryIO, Protocol

from winnower.core.errors import ReadError
from winnower.readers.archives import DAMAGED
from winnower.readers.files import Origin, read_up_to
from winnower.readers.problems import Problem
from winnower.readers.reasons import why
from winnower.readers.tables import Batch, TableReader

REFERENCES = ("ris", "bibtex", "xml")


class RowReader(Protocol):
    """A table read once from front to end; ``problems`` and ``notices`` grow on the way."""

    header: list[str]
    problems: list[Problem]
    notices: list[str]
    encoding: str
    delimiter: str

    def batches(self) -> Iterator[Batch]: ...


class _Recoded(io.RawIOBase):
    """A file in UTF-16 as UTF-8."""

    def __init__(self, raw: BinaryIO) -> None:
        self._raw = raw
        self._begin()

    def _begin(self) -> None:
        self._raw.seek(0)
        self._left, self._at = b"", 0
        self._decode = codecs.getincrementaldecoder("utf-16")("replace").decode

    def readable(self) -> bool:
        return True

    def seekable(self) -> bool:
        return True

    def tell(self) -> int:
        return self._at

    def seek(self, at: int, whence: int = 0) -> int:
        """To the beginning only: that is where readers go back to."""
        if (at, whence) == (0, 0):
            self._begin()
        elif (whence, at) != (1, 0):
            raise io.UnsupportedOperation("This file can only be read again from its beginning.")
        return self._at

    def readinto(self, buffer) -> int:
        while not self._left and (block := self._raw.read(1 << 16)):
            self._left = self._decode(block).encode()
        data, self._left = self._left[: len(buffer)], self._left[len(buffer) :]
        buffer[: len(data)] = data
        self._at += len(data)
        return len(data)


def _unmarked(raw: io.BufferedReader) -> io.BufferedReader:
    """The file as UTF-8 without a byte order mark."""
    head = raw.peek(4)[:3]
    if head.startswith(codecs.BOM_UTF8):
        raw.read(3)
    elif head.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return io.BufferedReader(_Recoded(raw), 1 << 18)
    return raw


class _Counted(io.RawIOBase):
    """A binary file that counts what was read of it."""

    def __init__(self, raw: BinaryIO, count: Callable[[int], None]) -> None:
        self._raw, self._count = raw, count

    def readable(self) -> bool:
        return True

    def seekable(self) -> bool:
        return self._raw.seekable()

    def seek(self, at: int, whence: int = 0) -> int:
        return self._raw.seek(at, whence)

    def tell(self) -> int:
        return self._raw.tell()

    def close(self) -> None:
        self._raw.close()
        super().close()

    def readinto(self, buffer) -> int:
        data = self._raw.read(len(buffer))
        buffer[: len(data)] = data
        self._count(len(data))
        return len(data)


def open_table(
    origin: Origin,
    limit_chars: int,
    *,
    encoding: str | None = None,
    delimiter: str | None = None,
    headings: str = "",
    records: str = "",
    count: Callable[[int], None] = lambda size: None,
) -> RowReader:
    """A reader for a table of any kind. Raises ReadError."""
    if origin.kind == "sheets":
        from winnower.readers.sheets import SheetReader, open_workbook

        return SheetReader(origin, open_workbook(origin), origin.sheet, headings, count)
    try:
        raw = io.BufferedReader(_Counted(origin.open(), count), 1 << 18)
        if origin.kind in ("json", "jsonl"):
            return _json(origin, raw, records)
        return _open(origin, raw, limit_chars, encoding, delimiter, headings)
    except DAMAGED as error:
        raise ReadError(f"The file cannot be read: {why(error)}.") from error


def _json(origin: Origin, raw: Any, records: str) -> RowReader:
    from winnower.readers.json_tables import JsonReader

    raw = _unmarked(raw)
    lines = origin.kind == "jsonl" or _one_object_a_line(raw.peek(64_000))
    return JsonReader(raw, origin.name, lines=lines, records=records)


def _open(
    origin: Origin, raw, limit_chars: int, encoding: str | None, delimiter: str | None, headings: str
) -> RowReader:
    if origin.kind == "xml":
        from winnower.readers.feeds import looks_like_feed

        if looks_like_feed(raw.peek(4000)[:4000]):
            return _feed(raw, origin.name)
        return _xml(raw, origin.name, encoding)
    if origin.kind == "htmltable":
        from winnower.readers.html_tables import HtmlTableReader

        return HtmlTableReader(raw, origin.name, encoding=encoding, headings=headings)
    if origin.kind == "feed":
        return _feed(raw, origin.name)
    if origin.kind in REFERENCES:
        from winnower.readers.reference_lists import ReferenceReader

        return ReferenceReader(raw, origin.name, form=origin.kind, encoding=encoding)
    return TableReader(
        raw, origin.name, encoding=encoding, delimiter=delimiter, limit_chars=limit_chars, headings=headings
    )


def _xml(raw: BinaryIO, name: str, encoding: str | None) -> RowReader:
    """A list of references where it is one, else rows of whatever comes again."""
    from winnower.readers.general_xml import GeneralXmlReader
    from winnower.readers.reference_lists import MAX_BYTES, ReferenceReader, is_reference_list

    content = read_up_to(raw, MAX_BYTES)
    if is_reference_list(content):
        return ReferenceReader(io.BytesIO(content), name, form="xml", encoding=encoding)
    return GeneralXmlReader(content, name)


def _feed(raw: BinaryIO, name: str) -> RowReader:
    from winnower.readers.feeds import FeedReader

    return FeedReader(raw, name)


def _one_object_a_line(head: bytes) -> bool:
    """Whether a .json file is JSON Lines in truth: its first line is a whole object, and another follows."""
    import orjson

    first, _, rest = head.lstrip().partition(b"\n")
    if not first.strip().startswith(b"{") or not rest.lstrip().startswith(b"{"):
        return False
    try:
        orjson.loads(first)
    except orjson.JSONDecodeError:
        return False
    return True
