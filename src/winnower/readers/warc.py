"""Pages in a web archive (.warc, ISO 28500), one record at a time.

Each page is handed on with its address, its time and its letters' encoding as pages saved as mail
archives have them, so that one reader (readers/mail.py) takes both.
"""

from __future__ import annotations

import base64
import io
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, BinaryIO

from winnower.core.errors import ReadError

#: A page of more bytes than this is none that anybody reads.
MOST_BYTES = 20_000_000
_CUT_OFF = "The web archive is cut off before its end; the pages before that are taken."
_PAGES = ("text/html", "application/xhtml+xml", "text/plain")


class PackedAsOne(ReadError):
    """The archive is packed as one piece: its records can only be found once it is unpacked."""


@dataclass
class Pages:
    """What a web archive holds besides pages, counted while they are read."""

    others: int = 0
    failed: int = 0
    large: int = 0

    @property
    def told(self) -> list[str]:
        """Sentences about what is left out."""
        out = []
        if self.others:
            out.append(f"Records that are no pages (pictures, styles, requests), left out: {self.others:,}.")
        if self.failed:
            out.append(f"Pages the server did not give when it was asked, left out: {self.failed:,}.")
        if self.large:
            out.append(f"Pages of more than {MOST_BYTES:,} bytes, left out: {self.large:,}.")
        return out


def pages_of(raw: BinaryIO, seen: Pages) -> Iterator[tuple[str, int, bytes]]:
    """(address, where the record begins, the page as a mail archive) in order; ``seen`` counts the rest.

    Raises ReadError, after the pages before the damage, and PackedAsOne.
    """
    from warcio.archiveiterator import ArchiveIterator

    try:
        records = ArchiveIterator(raw)
        for record in records:
            start = records.offset
            page = _page(record, seen)
            if page is not None:
                yield record.rec_headers.get_header("WARC-Target-URI") or "page", start, page
    except (ReadError, OSError, EOFError, zlib.error):
        raise
    except Exception as error:
        # files of any origin: whatever the library trips over is damage
        if "non-chunked" in str(error):
            raise PackedAsOne("The web archive is packed as one piece.") from error
        raise ReadError("The web archive is damaged and cannot be read to its end.") from error
    if records.offset < raw.tell():
        raise ReadError(_CUT_OFF)


def page_at(raw: BinaryIO, start: int) -> BinaryIO:
    """The page whose record begins at a byte, as ``pages_of`` gives it. Raises ReadError."""
    raw.seek(start)
    for _, _, page in pages_of(raw, Pages()):
        return io.BytesIO(page)
    raise ReadError("The file changed while it was read.")


def _page(record: Any, seen: Pages) -> bytes | None:
    if record.rec_type not in ("response", "resource"):
        seen.others += record.rec_type != "warcinfo"
        return None
    named = record.http_headers or record.rec_headers
    kind = (named.get_header("Content-Type") or "").lower()
    if not kind.startswith(_PAGES):
        seen.others += 1
        return None
    if record.http_headers and not (record.http_headers.get_statuscode() or "").startswith("2"):
        seen.failed += 1
        return None
    content = record.content_stream().read(MOST_BYTES + 1)
    if len(content) > MOST_BYTES:
        seen.large += 1
        return None
    if record.raw_stream.limit > 0:
        raise ReadError(_CUT_OFF)
    return _as_mail(record, kind, content)


def _as_mail(record: Any, kind: str, content: bytes) -> bytes:
    address = record.rec_headers.get_header("WARC-Target-URI") or ""
    date = record.rec_headers.get_header("WARC-Date") or ""
    lines = {
        "Snapshot-Content-Location": "".join(s for s in address if s.isascii() and s.isprintable()),
        "Date": "".join(sign for sign in date[:19] if sign in "0123456789-:T"),
        "Content-Type": "".join(sign for sign in kind if sign.isascii() and sign.isprintable()),
        "Content-Transfer-Encoding": "base64",
    }
    head = "".join(f"{name}: {value}\r\n" for name, value in lines.items())
    return head.encode("ascii") + b"\r\n" + base64.encodebytes(content)
