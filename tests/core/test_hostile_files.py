"""Files that mean harm or mean nothing: each is met with its own sentence, and what lies beside it is read."""

import io
import stat
import tarfile
import zipfile

import pytest

from winnower.jobs.preview import first_look
from winnower.readers.html import words_of_html
from winnower.settings import load_settings

GOOD = "Compensation for nine lambs was asked for at the market in Orrin.\n"
DEEP = 50_000


def zipped(*members):
    """(name, content, mode) each."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content, mode in members:
            info = zipfile.ZipInfo(name)
            info.external_attr = mode << 16
            archive.writestr(info, content)
    return out.getvalue()


def tarred(*members):
    """(name, kind) each; files hold GOOD."""
    out = io.BytesIO()
    with tarfile.open(fileobj=out, mode="w") as archive:
        for name, kind in members:
            info = tarfile.TarInfo(name)
            info.type = kind
            info.linkname = "/etc/hostname" if kind != tarfile.REGTYPE else ""
            info.size = len(GOOD) if kind == tarfile.REGTYPE else 0
            archive.addfile(info, io.BytesIO(GOOD.encode()) if info.size else None)
    return out.getvalue()


def looping_pdf():
    """A list of pages that holds itself."""
    objects = [b"<</Type/Catalog/Pages 2 0 R>>", b"<</Type/Pages/Kids[2 0 R 2 0 R]/Count 100000>>"]
    out, places = b"%PDF-1.4\n", []
    for number, one in enumerate(objects, 1):
        places.append(len(out))
        out += b"%d 0 obj\n" % number + one + b"\nendobj\n"
    table = b"".join(b"%010d 00000 n \n" % place for place in places)
    start = len(out)
    out += b"xref\n0 3\n0000000000 65535 f \n" + table + b"trailer <</Size 3/Root 1 0 R>>\n"
    return out + b"startxref\n%d\n%%%%EOF" % start


FILES = {
    "empty.zip": (zipped(), "The archive is empty."),
    "folders.zip": (zipped(("a/", b"", 0o40755)), "The archive is empty."),
    "empty.tar": (tarred(), "The archive is empty."),
    "link.zip": (zipped(("l.txt", "/etc/hostname", stat.S_IFLNK | 0o777)), "links are not followed"),
    "links.tar": (tarred(("l.txt", tarfile.SYMTYPE), ("h.txt", tarfile.LNKTYPE)), "links are not followed"),
    "nameless.tar": (tarred(("", tarfile.REGTYPE), ("ok.txt", tarfile.REGTYPE)), "has no name"),
    "list.json": (b"[]", "It holds no records"),
    "lists.json": (b"[[], []]", "It holds no records"),
    "nothing.json": (b"{}", "It holds no records"),
    "deep.json": (b"[" * DEEP + b"]" * DEEP, "nested more than"),
    "loop.pdf": (looping_pdf(), "None of its pages can be read"),
    "empty.ris": (b"", "empty"),
}


@pytest.mark.parametrize("name", FILES)
def test_each_has_its_sentence_and_the_file_beside_it_is_read(tmp_path, name):
    content, sentence = FILES[name]
    (tmp_path / name).write_bytes(content)
    (tmp_path / "good.txt").write_text(GOOD)
    paths = [(one, tmp_path / one) for one in (name, "good.txt")]
    found = first_look(paths, load_settings())
    assert any(sentence in problem.reason for problem in found.problems), found.problems
    assert len(found.problems) <= 2
    bodies = [body for lot in found.lots for body in lot.samples.body]
    assert GOOD.strip() in bodies
    assert set(bodies) <= {GOOD.strip()}


def test_a_page_nested_too_deeply_keeps_its_words(tmp_path):
    page = f"<html><body><p>Before.</p>{'<div>' * DEEP}{GOOD}{'</div>' * DEEP}<script>x()</script><p>After &amp; all.</p>"
    (tmp_path / "deep.html").write_text(page)
    found = first_look([("deep.html", tmp_path / "deep.html")], load_settings())
    assert found.lots[0].samples.body == [f"Before.\n\n{GOOD.strip()}\n\nAfter & all."]
    assert "nested very deeply" in found.problems[0].reason


def test_a_cell_nested_too_deeply_keeps_its_words():
    assert words_of_html("<b>" * DEEP + "word" + "</b>" * DEEP + "<br>next") == "word\n\nnext"
