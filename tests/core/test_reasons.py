"""Why something could not be read: a person's words, with the place, never a library's."""

from __future__ import annotations

import csv
import errno
import gzip
import io
import json
import lzma
import tarfile
import zipfile
import zlib
from pathlib import Path

import orjson
import pytest
from hypothesis import given
from hypothesis import strategies as st
from lxml import etree

from winnower.core.errors import ReadError
from winnower.readers.documents import KINDS, read_document
from winnower.readers.files import Origin
from winnower.readers.open_table import open_table
from winnower.readers.reasons import why


def _raised(act) -> BaseException:
    try:
        act()
    except Exception as error:
        return error
    raise AssertionError("nothing was raised")


@pytest.mark.parametrize(
    ("act", "said"),
    [
        (lambda: orjson.loads(b'{"a": 1, x}'), "at sign 10 it does not follow the rules of JSON"),
        (lambda: json.loads('{"a":\n 1,\n x}'), "at line 3, sign 2 it does not follow the rules of JSON"),
        (lambda: orjson.loads(b'{"a": [1, 2'), "it ends before it is complete"),
        (lambda: etree.fromstring(b"<a>\n<b></a>"), "at line 2 its marks do not fit together"),
        (lambda: b"\xff".decode("utf-8"), "it holds signs that its encoding does not have"),
        (lambda: zipfile.ZipFile(io.BytesIO(b"no")), "its packing is broken"),
        (lambda: gzip.decompress(gzip.compress(b"long enough")[:-4]), "it ends before it is complete"),
        (lambda: zlib.decompress(b"no"), "its packing is broken"),
        (lambda: lzma.decompress(b"no"), "its packing is broken"),
        (lambda: tarfile.TarFile(fileobj=io.BytesIO(b"no")), "its packing is broken"),
        (lambda: next(csv.reader(['"a"b'], strict=True)), "its quotation marks or line ends do not fit"),
        (lambda: Path("/nowhere/at/all").read_bytes(), "it is no longer there"),
    ],
)
def test_what_is_said(act, said):
    assert why(_raised(act)) == said


@pytest.mark.parametrize(
    ("number", "said"),
    [
        (errno.ENOSPC, "there is no room left on the disk"),
        (errno.EACCES, "it may not be read by the application"),
        (errno.EPIPE, "it cannot be read to its end"),
    ],
)
def test_what_the_system_says(number, said):
    assert why(OSError(number, "Some words", "/a/path/of/the/machine")) == said


def test_what_is_not_known_is_said_plainly():
    assert why(KeyError("'w:p'")) == "something in it does not follow the rules of its format"
    assert why(MemoryError()) == "it needs more memory than there is"
    assert why(RecursionError()) == "it is nested too deeply"


#: Words that only a program's own errors use.
PROGRAM = (
    "Error",
    "expected ",
    "xref",
    "Traceback",
    "0x",
    "NoneType",
    "object has no",
    "codec",
    "File is not",
    "'{",
)


@given(kind=st.sampled_from(sorted(KINDS)), content=st.binary(min_size=0, max_size=400))
def test_no_document_is_refused_in_the_words_of_a_program(kind, content):
    heads = {"word": b"PK\x03\x04", "pdf": b"%PDF-1.4\n", "rtf": b"{\\rtf1 ", "epub": b"PK\x03\x04"}
    _never_a_programs_words(lambda: read_document(kind, heads.get(kind, b"") + content, "a file", 10_000))


@given(
    kind=st.sampled_from(["json", "jsonl", "xml", "table"]),
    head=st.sampled_from([b"", b"[{", b'{"a": ', b"<rss>", b'"a",', b"a,b\n1,"]),
    content=st.binary(max_size=300),
)
def test_no_table_is_refused_in_the_words_of_a_program(kind, head, content):
    content = head + content
    origin = Origin("a file", kind, len(content), lambda: io.BytesIO(content))

    def read():
        reader = open_table(origin, 10_000)
        for _ in reader.batches():
            pass
        for problem in reader.problems:
            assert not [word for word in PROGRAM if word in problem.reason], problem.reason

    _never_a_programs_words(read)


def _never_a_programs_words(act) -> None:
    try:
        act()
    except ReadError as error:
        assert not [word for word in PROGRAM if word in error.message], error.message
        assert error.message.endswith(".")
