"""Why a file or a record could not be read, in words for the person who brought it."""

from __future__ import annotations

import csv
import errno
import json
import logging
import lzma
import tarfile
import zipfile
import zlib

import orjson
from lxml import etree

log = logging.getLogger("winnower")

_BY_NUMBER = {
    errno.ENOSPC: "there is no room left on the disk",
    errno.EDQUOT: "there is no room left on the disk",
    errno.EACCES: "it may not be read by the application",
    errno.EPERM: "it may not be read by the application",
    errno.ENOENT: "it is no longer there",
    errno.EIO: "the disk does not give it",
    errno.EMFILE: "too many files are open at once",
}
#: Names of errors of libraries that are loaded only where they are needed.
_BY_NAME = {
    "IncompleteJSONError": "it ends before it is complete",
    "PdfiumError": "its structure is broken",
    "XmlError": "its marks do not fit together",
    "ZipError": "its packing is broken",
    "WorksheetNotFound": "there is no sheet of that name",
}


def why(error: BaseException) -> str:
    """Part of a sentence: "at line 3, sign 17 something does not follow the rules of JSON".

    A library's own words help nobody who only brought a file, and may hold paths and names of the machine:
    they go to the log.
    """
    log.info("Not read: %s: %s", type(error).__name__, error)
    for said in (_placed(error), _of_packing(error), _of_system(error), _BY_NAME.get(type(error).__name__)):
        if said:
            return said
    return "something in it does not follow the rules of its format"


def _placed(error: BaseException) -> str | None:
    """Errors that know where they are."""
    if isinstance(error, (orjson.JSONDecodeError, json.JSONDecodeError)):
        if error.pos >= len(error.doc.rstrip()):
            return "it ends before it is complete"
        place = (
            f"at sign {error.colno:,}"
            if error.lineno == 1
            else f"at line {error.lineno:,}, sign {error.colno:,}"
        )
        return f"{place} it does not follow the rules of JSON"
    if isinstance(error, etree.XMLSyntaxError):
        return (
            f"at line {error.lineno:,} its marks do not fit together" if error.lineno else "it holds no marks"
        )
    if isinstance(error, UnicodeDecodeError):
        return "it holds signs that its encoding does not have"
    if isinstance(error, csv.Error):
        return "its quotation marks or line ends do not fit"
    return None


def _of_packing(error: BaseException) -> str | None:
    if isinstance(error, EOFError):
        return "it ends before it is complete"
    if isinstance(error, NotImplementedError):
        return "it is packed in a way that is not read here"
    if isinstance(error, (zipfile.BadZipFile, tarfile.TarError, lzma.LZMAError, zlib.error)):
        return "its packing is broken"
    if isinstance(error, RuntimeError) and "password" in str(error).lower():
        return "it is protected with a password"
    if isinstance(error, RecursionError):
        return "it is nested too deeply"
    return None


def _of_system(error: BaseException) -> str | None:
    if isinstance(error, MemoryError):
        return "it needs more memory than there is"
    if isinstance(error, OSError):
        return _BY_NUMBER.get(error.errno or 0, "it cannot be read to its end")
    return None
