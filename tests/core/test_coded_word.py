"""Texts as Word files with comments: the words are whole, each comment is on its own words, and another office program
opens them."""

import datetime as dt
import io
import subprocess
import zipfile

import docx
from docx.oxml.ns import qn
from hypothesis import given, settings
from hypothesis import strategies as st
from lxml import etree

from winnower.writers.coded_word import CodedText, Remark, coded_docx

DAY = dt.datetime(2031, 6, 3, 12, 30)


def remark(start, end, *lines):
    return Remark(start, end, "Ada Wray", DAY, lines or ("Loss",))


def read(content):
    """The paragraphs of a file, and for each comment its author, its lines and the words between its ends."""
    document = docx.Document(io.BytesIO(content))
    words, open_, found = [], {}, {}
    for paragraph in document.element.body.iter(qn("w:p")):
        line = ""
        for element in paragraph.iter():
            number = element.get(qn("w:id"))
            if element.tag == qn("w:commentRangeStart"):
                open_[number] = ""
            elif element.tag == qn("w:commentRangeEnd"):
                found[number] = open_.pop(number)
            elif element.tag == qn("w:t"):
                line += element.text or ""
                open_ = {key: said + (element.text or "") for key, said in open_.items()}
        words.append(line)
    assert not open_, "every comment ends"
    said = {str(one.comment_id): (one.author, [p.text for p in one.paragraphs]) for one in document.comments}
    assert said.keys() == found.keys()
    return words, [(*said[number], found[number]) for number in sorted(found, key=int)]


def test_comments_overlap_reach_over_paragraphs_and_keep_their_lines():
    body = "The lambs are gone.\n\nWe lost forty 🐑 lambs."
    remarks = (
        remark(4, 9, "Herds"),
        remark(0, 34, "Loss", "Forty: compare with the ledger."),
        remark(29, 36, "Numbers"),
        remark(35, 200, "To the end"),
    )
    words, found = read(coded_docx("Texts", [CodedText("Nine pages", "Hill Farmer", body, remarks)]))
    assert words == ["Nine pages", "Hill Farmer", "The lambs are gone.", "We lost forty 🐑 lambs."]
    by = {lines[0]: (author, lines[1:], on) for author, lines, on in found}
    assert by["Herds"] == ("Ada Wray", [], "lambs")
    assert by["Loss"] == ("Ada Wray", ["Forty: compare with the ledger."], "The lambs are gone.We lost forty")
    assert by["Numbers"][2] == "forty 🐑" and by["To the end"][2] == "🐑 lambs."


@settings(max_examples=40)
@given(
    body=st.text(st.sampled_from("ab \n🐑é"), min_size=1, max_size=40),
    spans=st.lists(st.tuples(st.integers(0, 40), st.integers(0, 40)), max_size=5),
)
def test_the_words_are_whole_and_every_comment_is_on_its_own(body, spans):
    spans = [(low, high) for low, high in spans if low < high <= len(body)]
    remarks = tuple(remark(low, high, f"{at}") for at, (low, high) in enumerate(spans))
    words, found = read(coded_docx("T", [CodedText("T", "", body, remarks)]))
    lines = body.split("\n")
    kept = [line if line.strip() or at == len(lines) - 1 else "" for at, line in enumerate(lines)]
    assert "".join(words[1:]) == "".join(kept)
    gone = set()
    at = 0
    for line, shown in zip(body.split("\n"), kept, strict=True):
        gone |= set(range(at, at + len(line))) if not shown and line else set()
        gone.add(at + len(line))
        at += len(line) + 1
    for _, (number, *_rest), on in found:
        low, high = spans[int(number)]
        own = "".join(body[i] for i in range(low, high) if i not in gone)
        assert on == own or not own, "a comment on gaps alone stands on the words beside them"


def test_what_word_cannot_hold_and_what_is_too_long():
    long = "x" * 25_000
    content = coded_docx("a\x00b", [CodedText("\x01", "", "x\x0by", (remark(0, 3, long),))])
    words, found = read(content)
    assert words == ["Untitled", "xy"]
    assert found[0][1][-1] == "(cut: 5,000 more signs)"


def test_another_office_program_opens_it_with_its_comments(tmp_path):
    texts = [
        CodedText(
            f"Text {at}",
            "Hill Farmer, 2031",
            "The lambs are gone.\n\nWe lost forty 🐑 مرحبا 你好.",
            (remark(4, 30, "Loss", "“n”"),),
        )
        for at in range(3)
    ]
    path = tmp_path / "coded.docx"
    path.write_bytes(coded_docx("Texts", texts))
    with zipfile.ZipFile(path) as packed:
        assert packed.testzip() is None
    subprocess.run(
        ["soffice", "--headless", f"-env:UserInstallation=file://{tmp_path}/office", "--convert-to", "fodt", "--outdir", tmp_path, path],
        check=True,
        capture_output=True,
        timeout=240,
    )  # fmt: skip
    opened = etree.parse(tmp_path / "coded.fodt")
    spaces = {
        "office": "urn:oasis:names:tc:opendocument:xmlns:office:1.0",
        "dc": "http://purl.org/dc/elements/1.1/",
    }
    comments = opened.findall(".//office:annotation", spaces)
    assert [one.findtext("dc:creator", None, spaces) for one in comments] == ["Ada Wray"] * 3
    assert "مرحبا 你好" in " ".join(opened.getroot().itertext())
