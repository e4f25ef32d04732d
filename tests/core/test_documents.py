"""Documents made by other programs, and broken ones."""

import io
import re
import zipfile
from collections import Counter
from pathlib import Path

import pytest

from winnower.core.errors import ReadError
from winnower.readers.cutting import Cut, cut_document, heading_levels
from winnower.readers.document import Assembler, Document, Place, Remark
from winnower.readers.documents import read_document
from winnower.readers.html import words_of_html
from winnower.readers.pdf_layout import Line, paragraphs

FILES = Path(__file__).parents[1] / "files"
KINDS = {
    "pandoc.docx": "word",
    "office.docx": "word",
    "pandoc.odt": "opendocument",
    "office.odt": "opendocument",
    "pandoc.rtf": "rtf",
    "office.rtf": "rtf",
    "pandoc.epub": "epub",
    "office.pdf": "pdf",
}


def read(name):
    return read_document(KINDS.get(name, "pdf"), (FILES / name).read_bytes(), name, 10**7)


@pytest.mark.parametrize("name", KINDS)
def test_the_same_document_from_several_programs(name):
    document = read(name)
    words = re.sub(r"[|•\s]+", " ", document.body)
    assert "The board met at Orrin Mill on Monday." in words
    assert "Lambs are lost already. Compensation comes late. Parish Flocks Orrin 14 Skell 9" in words
    assert "The licence stands — café talk will not change it." in words
    if name != "pandoc.rtf" and name != "office.rtf":
        assert document.title == "Twelve lynx for the valley"
        labels = [place.label for place in document.places if place.kind == "heading"]
        assert labels[-2:] == ["What the farmers said", "What the board said"]
        assert "The minutes were not published." in words, "footnotes are kept"
    for place in document.places:
        if place.kind == "heading":
            assert document.body[place.start :].startswith(place.label)


def test_word_tables_become_lines():
    assert "Parish | Flocks\nOrrin | 14\nSkell | 9" in read("office.docx").body


def test_tracked_changes_are_accepted_and_comments_become_notes():
    document = read_document("word", (FILES / "tracked.docx").read_bytes(), "t.docx", 10**7)
    assert "It will hear everybody." in document.body and "They" not in document.body
    (remark,) = document.remarks
    assert (remark.body, remark.author) == ("Check the date.", "Jonas")
    assert document.body[remark.start : remark.end] == "The inquiry"


def test_text_boxes_follow_their_paragraph():
    box = (
        "<w:p><w:r><w:t>Before.</w:t></w:r><w:r><mc:AlternateContent><mc:Choice><w:drawing><w:txbxContent>"
        "<w:p><w:r><w:t>In the box.</w:t></w:r></w:p></w:txbxContent></w:drawing></mc:Choice><mc:Fallback>"
        "<w:txbxContent><w:p><w:r><w:t>In the box.</w:t></w:r></w:p></w:txbxContent></mc:Fallback>"
        "</mc:AlternateContent></w:r></w:p><w:p><w:r><w:t>After.</w:t></w:r></w:p>"
    )
    names = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main" xmlns:mc="http://schemas.openxmlformats.org/markup-compatibility/2006"'
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("word/document.xml", f"<w:document {names}><w:body>{box}</w:body></w:document>")
    assert read_document("word", out.getvalue(), "b.docx", 10**7).body == "Before.\n\nIn the box.\n\nAfter."


def test_a_two_column_pdf_is_read_in_order_with_whole_words_and_pages():
    document = read("columns.pdf")
    assert len(document.body.split()) == 2214
    sentences = set(re.split(r"(?<=\.)\s+", document.body.split("\n\n", 1)[1]))
    assert len(sentences) == 4, "every sentence came out whole, wherever lines and columns cut it"
    assert [p.label for p in document.places if p.kind == "page"] == ["1", "2", "3", "4", "5"]


def scan(pages=2):
    from reportlab.pdfgen import canvas

    out = io.BytesIO()
    drawing = canvas.Canvas(out)
    for _ in range(pages):
        drawing.rect(100, 100, 300, 500, fill=1)
        drawing.showPage()
    drawing.save()
    return out.getvalue()


def test_a_scan_says_that_it_holds_no_text():
    document = read_document("pdf", scan(), "scan.pdf", 10**7)
    assert document.body == "" and "pictures of 2 pages and no text" in document.reason


def test_a_locked_pdf_says_so():
    from reportlab.lib.pdfencrypt import StandardEncryption
    from reportlab.pdfgen import canvas

    out = io.BytesIO()
    drawing = canvas.Canvas(out, encrypt=StandardEncryption("secret", canPrint=0))
    drawing.drawString(100, 100, "The lambs.")
    drawing.save()
    with pytest.raises(ReadError, match="protected with a password"):
        read_document("pdf", out.getvalue(), "a.pdf", 10**7)


PAGE = """<html><head><title>Lynx seen | The Lantern</title><meta name="author" content="Ida Fenn">
<meta property="article:published_time" content="2031-06-03T10:00:00Z"><script>document.write('never')</script></head>
<body><nav><a href="/">Home</a><a href="/news">News</a></nav><div class="advert">Buy wool blankets now</div>
<article><h1>Lynx seen</h1><p>A lynx was seen above Orrin Mill on Monday, and the valley talked of little else.</p>
<h2>What comes next</h2><p>The board will meet in June to hear the farmers, the wardens and those who walk there.</p>
<p>Nobody was hurt, said the wardens, who ask that dogs are kept on a lead until the end of the summer.</p></article>
<div id="comments" class="comments"><p>First!</p></div><footer>All rights reserved</footer></body></html>"""


def test_a_web_page_gives_its_article_only():
    document = read_document("html", PAGE.encode(), "a.html", 10**7)
    assert document.body.startswith("A lynx was seen") and "dogs are kept" in document.body
    assert not re.search("Home|blankets|never|First!|rights reserved", document.body)
    assert (document.author, document.date) == ("Ida Fenn", "2031-06-03")
    assert [p.label for p in document.places] == ["What comes next"]


def test_a_page_in_an_older_encoding_and_one_without_an_article():
    page = '<html><head><meta charset="iso-8859-1"></head><body><p>Caf\xe9 \x96 na\xefve</p></body></html>'
    document = read_document("html", page.encode("latin-1"), "a.html", 10**7)
    assert "Café – naïve" in document.body


def test_markdown_is_read_as_its_words():
    text = "---\ntitle: Notes\ndate: 2031-06-03\n---\n# Top\n\nSee [the *board*](http://x).\n\n- one\n- two\n\n| a | b |\n|---|---|\n| 1 | 2 |\n"
    document = read_document("markdown", text.encode(), "a.md", 10**7)
    assert (document.title, document.date) == ("Notes", "2031-06-03")
    assert document.body == "Top\n\nSee the board.\n\none\n\ntwo\n\na | b\n\n1 | 2"


def test_pieces_of_pages_lose_their_scripts():
    assert (
        words_of_html("<p>One &amp; two.</p><script>x()</script><p onclick='y()'>Three.</p>")
        == "One & two.\n\nThree."
    )


@pytest.mark.parametrize("kind", ["word", "opendocument", "epub", "pdf", "rtf"])
@pytest.mark.parametrize(
    "content", [b"", b"PK\x03\x04 no", b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + b"0" * 600, b"hello"]
)
def test_files_that_are_not_what_they_seem_give_a_sentence(kind, content):
    with pytest.raises(ReadError) as found:
        read_document(kind, content, "a", 10**7)
    assert found.value.message.endswith(".") and "Traceback" not in found.value.message


@pytest.mark.parametrize("name", [*KINDS, "columns.pdf"])
@pytest.mark.parametrize("share", [0.2, 0.7, 0.95])
def test_truncated_files_never_raise_anything_else(name, share):
    content = (FILES / name).read_bytes()
    try:
        document = read_document(KINDS.get(name, "pdf"), content[: int(len(content) * share)], name, 10**7)
        assert document.body or document.reason
    except ReadError as error:
        assert error.message


def test_xml_that_declares_entities_is_refused():
    bomb = '<!DOCTYPE d [<!ENTITY a "lol"><!ENTITY b "&a;&a;">]><d>&b;</d>'
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("content.xml", bomb)
    with pytest.raises(ReadError, match="declares entities of its own"):
        read_document("opendocument", out.getvalue(), "a.odt", 10**7)


def test_a_document_is_cut_at_headings_pages_or_lines():
    out = Assembler()
    out.page("1")
    out.paragraph("Intro words.")
    out.paragraph("First", 1)
    out.paragraph("Lamb.")
    out.page("2")
    out.paragraph("Second", 1)
    out.paragraph("Ewe.")
    out.remark("Why?", "J", out.document().body.index("Ewe"), out.document().body.index("Ewe") + 3)
    whole = out.document("All")
    pieces = cut_document(whole, Cut("heading"))
    assert [piece.title for piece in pieces] == ["All", "First", "Second"]
    last = pieces[-1]
    assert last.body[last.remarks[0].start : last.remarks[0].end] == "Ewe"
    assert last.places[0] == Place("page", 0, "2")
    assert [piece.body for piece in cut_document(whole, Cut("page"))] == [
        "Intro words.\n\nFirst\n\nLamb.",
        "Second\n\nEwe.",
    ]
    lines = Document("One.\n***\nTwo.\n***\n\n", "t")
    assert [piece.body for piece in cut_document(lines, Cut("line", "***"))] == ["One.", "Two."]
    assert cut_document(lines, Cut("heading")) == [lines]


def test_an_assembler_counts_where_its_paragraphs_begin():
    out = Assembler(omit="The headline")
    assert out.paragraph("The headline") is None
    assert out.paragraph("  one\u00a0 two ") == 0
    assert out.paragraph("\n") is None
    start = out.paragraph("Cafe\u0301 three")
    document = out.document()
    assert document.body[start:] == "Café three"
    assert isinstance(Remark("x"), tuple)


def line(text, top, left=0.1, right=0.45, size=0.012):
    return Line(text, left, right, top, top + size, size)


def test_running_heads_and_page_numbers_go_but_text_stays():
    pages = [
        [line(f"The Lantern, {n}", 0.03), line("Body text goes on here.", 0.3), line(str(n), 0.96)]
        for n in (1, 2, 3)
    ]
    found = paragraphs(pages)
    assert [p.text for p in found] == ["Body text goes on here."] * 3
    assert [p.page for p in found] == [0, 1, 2]


@pytest.mark.parametrize(
    ("first", "second", "whole"),
    [
        ("The com-", "pensation came.", "The compensation came."),
        ("It is well-", "known; a well-known case.", "It is well-known; a well-known case."),
        ("The Orrin-", "Skell road.", "The Orrin- Skell road."),
    ],
)
def test_hyphens_at_line_ends(first, second, whole):
    assert paragraphs([[line(first, 0.3), line(second, 0.315)]])[0].text == whole


def test_a_paragraph_goes_on_over_the_page():
    found = paragraphs([[line("The valley argues about", 0.8)], [line("the release of lynx.", 0.2)]])
    assert [(p.text, p.page) for p in found] == [("The valley argues about the release of lynx.", 0)]


def article_pdf(lead="", sizes=(22, 15, 11), bold="Helvetica-Bold"):
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import Paragraph as Block
    from reportlab.platypus import SimpleDocTemplate

    top, middle, usual = (
        ParagraphStyle(
            f"s{size}", fontName="Helvetica", fontSize=size, leading=size * 1.3, spaceAfter=size * 0.8
        )
        for size in sizes
    )
    minor = ParagraphStyle("minor", parent=usual, fontName=bold)
    words = "The release of lynx in the valley was argued about for the whole of the summer. " * 4
    blocks = []
    for number in (1, 2):
        blocks.append(Block(f"Part {number} of the review", top))
        for name in ("Farmers", "Walkers"):
            blocks += [Block(f"{name} in part {number}", middle), Block(lead + words, usual)]
            blocks += [Block(f"What {name.lower()} asked", minor), Block(words, usual)]
    out = io.BytesIO()
    SimpleDocTemplate(out).build(blocks)
    return out.getvalue()


def test_headings_of_a_pdf_have_levels_by_their_size_and_weight():
    document = read_document("pdf", article_pdf(), "a.pdf", 10**7)
    levels = [(place.label, place.level) for place in document.places if place.kind == "heading"]
    assert levels[:3] == [
        ("Part 1 of the review", 1),
        ("Farmers in part 1", 2),
        ("What farmers asked", 3),
    ]
    assert Counter(level for _, level in levels) == {1: 2, 2: 4, 3: 4}
    assert heading_levels([document]) == {1: 2, 2: 4, 3: 4}


@pytest.mark.parametrize(("lowest", "titles"), [("1", 2), ("2", 4), ("", 8)])
def test_a_pdf_is_cut_at_its_headings_down_to_a_level(lowest, titles):
    document = read_document("pdf", article_pdf(), "a.pdf", 10**7)
    pieces = cut_document(document, Cut("heading", lowest))
    assert len(pieces) == titles
    assert all(len(piece.body.split()) > 50 for piece in pieces)


def test_bold_words_a_paragraph_of_a_pdf_begins_with_may_be_who_speaks():
    document = read_document("pdf", article_pdf("<b>Ines Varga:</b> "), "a.pdf", 10**7)
    assert [place.label for place in document.places if place.kind == "lead"] == ["Ines Varga:"] * 4


def test_where_all_is_bold_nothing_is_a_heading_for_that():
    from reportlab.pdfgen import canvas

    out = io.BytesIO()
    page = canvas.Canvas(out)
    page.setFont("Helvetica-Bold", 11)
    for at in range(20):
        page.drawString(72, 760 - at * 30, f"The meeting asked about gate {at} and the lower road")
    page.save()
    document = read_document("pdf", out.getvalue(), "a.pdf", 10**7)
    assert not [place for place in document.places if place.kind == "heading"]
