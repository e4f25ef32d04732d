"""Which encoding a file is in, and reading it without losing a character."""

from __future__ import annotations

import codecs
import io
import re
from dataclasses import dataclass, field
from typing import Any, BinaryIO, cast

from charset_normalizer import from_bytes

from winnower.core.errors import ReadError
from winnower.readers.encoding_words import encoding_by_words

SAMPLE_BYTES = 200_000
#: Encodings whose order of bytes a mark at the beginning tells, and the marks.
MARKED = ("utf-16", "utf16", "utf-32", "utf32")
MARKS = (codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE, codecs.BOM_UTF32_LE, codecs.BOM_UTF32_BE)
#: With fewer letters outside ASCII than this, one older encoding cannot be told from another.
ENOUGH_LETTERS = 20
CHOICES = (
    "utf-8", "cp1252", "utf-16", "utf-16-le", "utf-16-be", "iso-8859-15", "cp1250", "cp1251", "mac-roman",
    "iso-8859-2", "iso-8859-5", "koi8-r", "koi8-u", "cp866", "cp1253", "iso-8859-7", "cp1254", "cp1255",
    "iso-8859-8", "cp1256", "iso-8859-6", "cp1257", "iso-8859-13", "cp1258", "cp874", "cp850", "cp437",
    "gb18030", "big5", "shift_jis", "euc-jp", "iso-2022-jp", "euc-kr",
)  # fmt: skip


_STRAY = re.compile("[\udc80-\udcff]")
#: Signs of Windows-1252, and those of them that stand within a word only where they are letters of another encoding
#: (an apostrophe may).
_SIGNS = re.compile(rb"[\x00-\x7f\x80\x85\x91-\x97\x99\xa0\xab\xbb]*")
_SIGN = re.compile(rb"[\x80\x85\x91\x93-\x97]")
_SIGN_INSIDE = re.compile(rb"(?<=[A-Za-z])[\x80\x85\x91\x93-\x97](?=[a-z])")
#: Lines with bytes of another encoding that are told one by one.
MOST_LINES = 1_000


class RepairedLines:
    """Lines of UTF-8 text in which bytes that are none are read as Windows-1252, each by itself; ``lines``
    are the numbers of those it was done in, from 1."""

    def __init__(self, wrapper: io.TextIOWrapper, strays: dict[str, int]) -> None:
        self._wrapper, self._strays, self._number = wrapper, strays, 0
        self.lines: list[int] = []

    def __iter__(self) -> RepairedLines:
        return self

    def __next__(self) -> str:
        line = next(self._wrapper)
        self._number += 1
        return line if line.isascii() else self._repaired(line)

    def read(self) -> str:
        """All that is left."""
        return "".join(self)

    def _repaired(self, line: str) -> str:
        repaired, count = _STRAY.subn(_western, line)
        if count:
            self._strays["count"] = self._strays.get("count", 0) + count
            if len(self.lines) < MOST_LINES:
                self.lines.append(self._number)
        return repaired


def _western(found: re.Match[str]) -> str:
    return bytes([ord(found[0]) - 0xDC00]).decode("cp1252", "replace")


@dataclass
class DecodedFile:
    """Text of a file as it is read; ``strays`` counts bytes that were not in its encoding."""

    lines: io.TextIOWrapper | RepairedLines
    encoding: str
    strays: dict[str, int] = field(default_factory=dict)

    @property
    def repaired(self) -> list[int]:
        """Numbers of the lines so far in which bytes of another encoding were read as Windows-1252."""
        return self.lines.lines if isinstance(self.lines, RepairedLines) else []


def guess_encoding(sample: bytes) -> str:
    """utf-16 by its mark or its zero bytes; an older encoding where no letter outside ASCII is valid
    UTF-8; else utf-8, whose stray bytes are handled while reading."""
    if sample.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return "utf-16"
    head = sample[:4000]
    if len(head) >= 4:
        even, odd = head[0::2].count(0), head[1::2].count(0)
        if odd > len(head) // 2 * 0.4 and even < odd / 4:
            return "utf-16-le"
        if even > len(head) // 2 * 0.4 and odd < even / 4:
            return "utf-16-be"
    return _older(sample) or "utf-8"


def _older(sample: bytes) -> str | None:
    """The likeliest of CHOICES for bytes in which UTF-8 makes no sense at all."""
    if sample.isascii():
        return None
    read = sample.decode("utf-8", "replace")
    # some stand in the file itself: signs that were lost before it came here
    wrong = read.count("\ufffd") - sample.count("\ufffd".encode())
    right = sum(sign > "\x7f" for sign in read) - wrong
    if wrong <= max(2, right):
        return None
    if _only_signs(sample[:50_000]):
        return "cp1252"
    high = sum(byte > 127 for byte in sample[:50_000])
    matches = from_bytes(sample[:50_000], cp_isolation=list(CHOICES[1:]))
    best = matches.best()
    if best is None or high < ENOUGH_LETTERS or "cp1252" in best.could_be_from_charset:
        return encoding_by_words(sample[:50_000]) or "cp1252"
    if best.encoding.replace("_", "-") in ("cp1250", "iso8859-2", "iso-8859-2"):
        return encoding_by_words(sample[:50_000]) or best.encoding
    return best.encoding


def _only_signs(sample: bytes) -> bool:
    """Whether all that is not ASCII are quotes, dashes and the like of Windows-1252, which stand beside words: there is
    not one letter by which to tell encodings apart, and what knows letters takes quotes for them."""
    if not _SIGNS.fullmatch(sample):
        return False
    inside = len(_SIGN_INSIDE.findall(sample))
    return inside * 10 <= len(_SIGN.findall(sample))


def open_text(raw: BinaryIO, encoding: str | None = None) -> DecodedFile:
    """Read ``raw`` as text with ``\\n`` line ends, a byte order mark left out.

    In UTF-8, bytes that are not valid are read as Windows-1252 one by one and counted, so that mixed
    files come through. In a chosen encoding they become the replacement sign and are counted.
    """
    buffered: Any = raw if isinstance(raw, io.BufferedIOBase) else io.BufferedReader(cast(io.RawIOBase, raw))
    sample = _peek(buffered)
    chosen = encoding or guess_encoding(sample)
    if chosen in ("utf-8", "utf8"):
        chosen = "utf-8-sig"
    if chosen.lower().replace("_", "-") in MARKED and not sample.startswith(MARKS):
        raise ReadError(
            f"It does not begin with the mark that {chosen.upper()} needs. Choose another encoding, or "
            f"{chosen.upper()}-LE or -BE."
        )
    strays: dict[str, int] = {}
    if chosen == "utf-8-sig":
        escaped = io.TextIOWrapper(buffered, encoding=chosen, errors="surrogateescape", newline=None)
        return DecodedFile(RepairedLines(escaped, strays), "utf-8", strays)
    name = f"winnower-{id(strays)}"
    codecs.register_error(name, _fallback(strays))
    lines = io.TextIOWrapper(buffered, encoding=chosen, errors=name, newline=None)
    return DecodedFile(lines, chosen, strays)


def _peek(buffered) -> bytes:
    if hasattr(buffered, "peek"):
        return buffered.peek(SAMPLE_BYTES)[:SAMPLE_BYTES]
    at = buffered.tell()
    sample = buffered.read(SAMPLE_BYTES)
    buffered.seek(at)
    return sample


def _fallback(strays: dict[str, int]):
    def handle(error: UnicodeError):
        if not isinstance(error, UnicodeDecodeError):
            raise error
        bad = error.object[error.start : error.end]
        strays["count"] = strays.get("count", 0) + len(bad)
        return "\ufffd", error.end

    return handle


def stray_notice(decoded: DecodedFile) -> str | None:
    """What to tell about bytes that did not fit."""
    count = decoded.strays.get("count", 0)
    if not count:
        return None
    if decoded.encoding == "utf-8":
        return (
            f"{count:,} bytes are not UTF-8 and were read as Windows-1252. If letters look wrong, "
            "choose the encoding."
        )
    return f"{count:,} bytes do not fit {decoded.encoding} and show as \ufffd. Choose another encoding."
