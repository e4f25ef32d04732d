"""Mail (.eml, .mbox, .msg) and pages saved as a mail archive (.mhtml): words with sender, date and subject."""

from __future__ import annotations

import codecs
import email
import mailbox
import re
import tempfile
from dataclasses import replace
from email import policy
from email.message import EmailMessage
from email.utils import parseaddr, parsedate_to_datetime
from typing import Any

from winnower.core.tokens import clean
from winnower.readers.containers import OLE_MARK
from winnower.readers.document import Assembler, Document
from winnower.readers.html import html_blocks, parse_page, read_html
from winnower.readers.plain import read_plain

_PAGES = ("text/html", "application/xhtml+xml", "text/plain")


def read_mail(content: bytes, name: str, limit_chars: int) -> list[Document]:
    """A mail, all mails of a mailbox, or the page in a mail archive."""
    if content.startswith(OLE_MARK):
        from winnower.readers.msg import read_msg

        return [read_msg(content, limit_chars)]
    if content.startswith(b"From "):
        return _mailbox(content, limit_chars)
    if name.lower().endswith((".mhtml", ".mht")):
        return [read_saved_page(content, name, limit_chars)]
    return [_mail(_parsed(content), limit_chars)]


def _parsed(content: bytes) -> EmailMessage:
    found = email.message_from_bytes(content, policy=policy.default)
    assert isinstance(found, EmailMessage)
    return found


def _mailbox(content: bytes, limit_chars: int) -> list[Document]:
    out = []
    with tempfile.NamedTemporaryFile(suffix=".mbox") as file:
        file.write(content)
        file.flush()
        box = mailbox.mbox(file.name, create=False)
        try:
            for key in box.iterkeys():
                out.append(_mail(_parsed(box.get_bytes(key)), limit_chars))
        finally:
            box.close()
    return out


def _mail(message: EmailMessage, limit_chars: int) -> Document:
    out = Assembler(limit_chars)
    part = message.get_body(preferencelist=("plain", "html"))
    if part is not None:
        words = _words(part)
        if part.get_content_type() == "text/html":
            html_blocks(parse_page(words), out)
        else:
            for paragraph in re.split(r"\n\s*\n", clean(words)[0]):
                out.paragraph(paragraph)
    attached = [one.get_filename() or "without a name" for one in message.iter_attachments()]
    if attached:
        out.notices.append(f"{len(attached):,} attached files are not read: {', '.join(attached)[:200]}.")
    sender, address = parseaddr(str(message.get("from", "")))
    to = parseaddr(str(message.get("to", "")))
    found = out.document(
        str(message.get("subject", "")), sender or address, _day(message), "There is no text in this mail."
    )
    fields = {"To": to[0] or to[1], "Address": address}
    return replace(found, fields=tuple((name, value) for name, value in fields.items() if value))


def _words(part: Any) -> str:
    """A part's text; an encoding that is unknown or not its own costs single letters."""
    try:
        return str(part.get_content())
    except (LookupError, UnicodeError, KeyError):
        raw = part.get_payload(decode=True)
        return raw.decode("utf-8", "replace") if isinstance(raw, bytes) else ""


def _day(message: EmailMessage) -> str:
    try:
        return parsedate_to_datetime(str(message.get("date", ""))).isoformat(" ", "minutes")
    except (TypeError, ValueError, IndexError):
        return str(message.get("date", ""))


def read_saved_page(content: bytes, name: str, limit_chars: int) -> Document:
    """The page in a mail archive (.mhtml) or a record of a web archive, with its address."""
    message = _parsed(content)
    for part in message.walk():
        raw = part.get_payload(decode=True)
        if part.get_content_type() in _PAGES and isinstance(raw, bytes):
            read = read_plain if part.get_content_type() == "text/plain" else read_html
            found = read(raw, name, limit_chars, _known(part.get_content_charset()))
            address = str(message.get("snapshot-content-location", "")).strip()
            fields = (("Address", address),) if address else ()
            return replace(found, date=found.date or _day(message), fields=fields)
    return Document("", reason="There is no page in this archive.")


def _known(charset: str | None) -> str | None:
    """An encoding's name, None where there is no such encoding."""
    try:
        return codecs.lookup(charset).name if charset else None
    except LookupError:
        return None
