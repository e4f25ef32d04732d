"""Files that are sent to be kept."""

from __future__ import annotations

from urllib.parse import quote

from fastapi import Response

WORD = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"
EXCEL = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


def named(name: str) -> dict[str, str]:
    """Headers of a file to keep: its name in ASCII and in full, as RFC 6266 and RFC 8187 write them."""
    plain = "".join(c if c.isascii() and (c.isalnum() or c in " .-_") else "_" for c in name)
    return {
        "Content-Disposition": f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name, safe='')}"
    }


def download(content: str | bytes, name: str, media_type: str) -> Response:
    """A file to keep."""
    return Response(content, media_type=media_type, headers=named(name))
