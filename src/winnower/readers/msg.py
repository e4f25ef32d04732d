"""Mails as .msg files: properties in a compound file, by the open specification MS-OXMSG."""

from __future__ import annotations

import datetime as dt
import io
import re
import struct
from dataclasses import replace

import olefile

from winnower.core.errors import ReadError
from winnower.core.tokens import clean
from winnower.readers.document import Assembler, Document
from winnower.readers.html import html_blocks, parse_page

#: Numbers of properties, and of the types of their values.
SUBJECT, BODY, HTML, SENDER, ADDRESS, TO, SENT = 0x0037, 0x1000, 0x1013, 0x0C1A, 0x0C1F, 0x0E04, 0x0039
_UNICODE, _NARROW, _BINARY, _TIME = 0x001F, 0x001E, 0x0102, 0x0040
_EPOCH = dt.datetime(1601, 1, 1)


def read_msg(content: bytes, limit_chars: int) -> Document:
    """A mail with its sender, date and subject. Raises ReadError."""
    with olefile.OleFileIO(io.BytesIO(content)) as file:
        if not any(len(path) == 1 and path[0].startswith("__substg1.0_") for path in file.listdir()):
            raise ReadError("This is not a mail.")
        out = Assembler(limit_chars)
        words = _text(file, BODY)
        if words:
            for paragraph in re.split(r"\n\s*\n", clean(words)[0]):
                out.paragraph(paragraph)
        elif page := _bytes(file, HTML, _BINARY).rstrip(b"\0"):
            html_blocks(parse_page(page.decode("utf-8", "replace")), out)
        sender, address = _text(file, SENDER), _text(file, ADDRESS)
        found = out.document(
            _text(file, SUBJECT), sender or address, _sent(file), "There is no text in this mail."
        )
        fields = {"To": _text(file, TO), "Address": address}
    return replace(found, fields=tuple((name, value) for name, value in fields.items() if value))


def _bytes(file: olefile.OleFileIO, number: int, kind: int) -> bytes:
    name = f"__substg1.0_{number:04X}{kind:04X}"
    if not file.exists(name):
        return b""
    found: bytes = file.openstream(name).read()
    return found


def _text(file: olefile.OleFileIO, number: int) -> str:
    wide = _bytes(file, number, _UNICODE)
    words = (
        wide.decode("utf-16-le", "replace")
        if wide
        else _bytes(file, number, _NARROW).decode("cp1252", "replace")
    )
    return words.replace("\x00", "").replace("\r\n", "\n").strip()


def _sent(file: olefile.OleFileIO) -> str:
    """When it was sent: among the properties of fixed length, 16 bytes each behind a head of 32."""
    name = "__properties_version1.0"
    data = file.openstream(name).read() if file.exists(name) else b""
    for at in range(32, len(data) - 15, 16):
        kind, number = struct.unpack_from("<HH", data, at)
        if (number, kind) == (SENT, _TIME):
            ticks = struct.unpack_from("<Q", data, at + 8)[0]
            return (_EPOCH + dt.timedelta(microseconds=ticks // 10)).isoformat(" ", "minutes")
    return ""
