"""Zip containers and XML as documents use them, read without trusting them."""

from __future__ import annotations

import io
import re
import zipfile
import zlib
from html.entities import html5

from lxml import etree

from winnower.core.errors import ReadError
from winnower.readers.reasons import why

#: The first bytes of the older Office formats, and of encrypted new ones.
OLE_MARK = b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"
LIMIT_MEMBER_BYTES = 500_000_000
CHUNK = 1 << 20
_NAMED = re.compile(rb"&([A-Za-z][A-Za-z0-9]{1,30});")


def open_container(content: bytes, what: str) -> zipfile.ZipFile:
    """The zip container of a document. Raises ReadError."""
    if content.startswith(OLE_MARK):
        raise ReadError(
            f"This is not {what} that can be read: it is protected with a password or in the older "
            "binary format. Save it again without a password in the present format."
        )
    try:
        return zipfile.ZipFile(io.BytesIO(content))
    except (zipfile.BadZipFile, OSError, ValueError) as error:
        raise ReadError(f"This is not {what}, or it is damaged or cut off: {why(error)}.") from error


def member(container: zipfile.ZipFile, name: str, limit: int = LIMIT_MEMBER_BYTES) -> bytes | None:
    """Bytes of a member, None where there is none; never more than ``limit``. Raises ReadError."""
    try:
        info = container.getinfo(name)
    except KeyError:
        return None
    if info.flag_bits & 1:
        raise ReadError("The file is protected with a password.")
    out, size = [], 0
    try:
        with container.open(info) as file:
            while block := file.read(CHUNK):
                size += len(block)
                if size > limit:
                    raise ReadError(f"Its part {name} unpacks to more than {limit:,} bytes.")
                out.append(block)
    except (zipfile.BadZipFile, zlib.error, EOFError, OSError, NotImplementedError, RuntimeError) as error:
        raise ReadError(
            f"The file is damaged: its part {name} cannot be unpacked, as {why(error)}."
        ) from error
    return b"".join(out)


def _plain_entity(found: re.Match[bytes]) -> bytes:
    """A letter for an entity that pages know and XML does not, such as &nbsp;."""
    name = found[1].decode("ascii")
    sign = html5.get(f"{name};")
    if sign is None or name in ("amp", "lt", "gt", "quot", "apos"):
        return found[0]
    return "".join(f"&#{ord(letter)};" for letter in sign).encode("ascii")


def parse_xml(content: bytes, what: str = "XML") -> etree._Element:
    """The root of a document that brings no entities and fetches nothing. Raises ReadError."""
    parser = etree.XMLParser(
        resolve_entities=False,
        no_network=True,
        load_dtd=False,
        dtd_validation=False,
        huge_tree=True,
        collect_ids=False,
    )
    if b"<!ENTITY" not in content:
        content = _NAMED.sub(_plain_entity, content)
    try:
        root = etree.fromstring(content, parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        raise ReadError(f"The {what} is damaged: {why(error)}.") from error
    if root is None:
        raise ReadError(f"The {what} is empty.")
    doctype = root.getroottree().docinfo
    if doctype.internalDTD is not None and any(True for _ in doctype.internalDTD.iterentities()):
        raise ReadError(f"The {what} declares entities of its own; such files are not read.")
    return root


def local(element: etree._Element) -> str:
    """Tag without its namespace; empty for comments and instructions."""
    tag = element.tag
    return tag.rsplit("}", 1)[-1] if isinstance(tag, str) else ""
