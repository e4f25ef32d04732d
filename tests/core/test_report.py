"""Reports: pieces in a plain form, tables that fit a page, a method section in sentences, four kinds of files."""

import datetime as dt
import io
import re
import subprocess
import zipfile

import docx
import pypdfium2
import pytest
from docx.oxml.ns import qn
from hypothesis import given, settings
from hypothesis import strategies as st
from lxml import html
from markdown_it import MarkdownIt

from winnower.core.compare import Comparison
from winnower.core.compare.targets import MethodPart, OfDictionary
from winnower.core.errors import WinnowerError
from winnower.core.finding import Answer, Column, ComparisonView, Sheet, sheets_to_plain, view_to_plain
from winnower.core.keyness import Keywords
from winnower.core.report import (
    Chapter,
    Drawing,
    Figure,
    FindingPiece,
    Grid,
    GridColumn,
    Heading,
    HeadingPiece,
    Missing,
    Part,
    Prose,
    Quote,
    QuotesPiece,
    Report,
    begun,
    labels_of,
    method_section,
    numbers_of,
    piece_from_plain,
    piece_to_plain,
    report_from_plain,
    report_to_plain,
)
from winnower.core.report.markdown import escaped
from winnower.core.report.method import (
    AlikeFact,
    CodingFact,
    CorpusFact,
    DeliveryFact,
    Facts,
    InstrumentFact,
    JudgedFact,
    RunFact,
)
from winnower.core.scope import Split
from winnower.writers.report_html import report_html
from winnower.writers.report_markdown import report_markdown, report_markdown_zip
from winnower.writers.report_pdf import report_pdf
from winnower.writers.report_pictures import all_drawn
from winnower.writers.report_word import report_docx

SCRIPTS = "Привет مرحبا שלום 你好 नमस्ते 🐑 é"
HEADS = (
    Column("category", "text", True),
    Column("group", "text", True),
    *(Column(f"rate per 1,000 words{end}") for end in ("", " low", " high")),
    *(Column(f"share of texts{end}", "percent") for end in ("", " low", " high")),
)


def answer(rows, groups):
    """Rates and shares that tell their row and group: 10 × row + group."""
    cells = tuple(
        (f"row {row}", f"group {group}", *(10.0 * row + group + d for d in (0, -1, 1)), 0.25, 0.2, None)
        for row in range(rows)
        for group in range(groups)
    )
    return Answer("Frames", "", (Sheet("Numbers", HEADS, cells),), (), ())


def view(**more):
    return ComparisonView(Comparison(OfDictionary(1), split=Split("source"), **more))


def test_pieces_have_one_plain_form_and_strange_ones_are_named():
    for piece in (
        HeadingPiece("Who", 2),
        FindingPiece(3, numbers=False),
        QuotesPiece(code=4, source="Hill Farmer"),
    ):
        assert piece_from_plain(piece_to_plain(piece)) == piece
    for strange, words in (
        ({"kind": "songs"}, "songs"),
        ({"kind": "quotes", "most": 0}, "most"),
        ({"kind": "heading", "words": "x", "colour": 3}, "colour"),
    ):
        with pytest.raises(WinnowerError, match=words):
            piece_from_plain(strange)


def test_a_comparison_is_one_table_of_rows_by_groups_with_what_is_left_out():
    grid = numbers_of(view(), answer(25, 9), "Frames by source")
    assert [one.name for one in grid.columns] == ["category", *(f"group {at}" for at in range(7))]
    assert len(grid.rows) == 20 and grid.rows[2][:2] == ("row 2", "20.0 (19.0 to 21.0)")
    assert "5 more rows" in grid.note and "2 more groups" in grid.note
    shares = numbers_of(view(measure="share_of_texts"), answer(1, 2), "x")
    assert shares.rows == (("row 0", "25.0%", "25.0%"),)  # without an upper end there is no interval
    assert shares.note == "Share of texts, with its interval."


def test_other_views_show_their_first_sheet_and_an_empty_one_is_no_table():
    sheet = Sheet(
        "Keywords",
        (Column("word", "text", True), Column("G2"), Column("p", "p"), Column("hits", "count")),
        (("ewe", 1234.567, 0.0002, 1200), ("hay", None, 0.04, 3)),
    )
    found = numbers_of(
        Keywords(Split("source"), "Hill Farmer"), Answer("", "", (sheet,), (), ()), "Words of Hill Farmer"
    )
    assert found.rows == (("ewe", "1,235", "< 0.001", "1,200"), ("hay", "–", "0.040", "3"))
    assert [one.number for one in found.columns] == [False, True, True, True]
    assert numbers_of(view(), answer(0, 0), "x") is None


def test_a_report_begins_with_the_texts_and_ends_with_its_instruments():
    chapters = [Chapter("Who speaks?", [7, 8], [2], QuotesPiece(question=1)), Chapter("When?")]
    kinds = [piece.kind for piece in begun(chapters, [5], codebook=True, judged=True)]
    assert kinds == [
        *("heading", "overview", "heading", "note", "finding", "finding", "quotes", "heading"),
        *("heading", "quality", "heading", "method", "heading", "dictionary", "codebook"),
    ]
    assert [piece.kind for piece in begun([], [], codebook=False, judged=False)] == [
        *("heading", "overview", "heading", "method"),
    ]


FACTS = Facts(
    corpus=CorpusFact(
        texts=1_434,
        words=428_124,
        sources=["Hill Farmer", "Valley_Wire"],
        first=dt.date(2031, 1, 1),
        last=dt.date(2031, 12, 28),
        empty=1,
        language="English",
        deliveries=[DeliveryFact("news.csv", dt.date(2031, 12, 30), 565)],
        alike=AlikeFact(0.6, 6, 18, 1, 2, 1),
    ),
    instruments=[InstrumentFact("Lynx frames", 1, 98, [(1, ""), (3, "as agreed")])],
    coding=CodingFact(12, 1, 1, ["Mira Tolland"]),
    runs=[RunFact("By example", "it learned from passages.", "sentence", "applied", 2_000, 60, 28, 20310401)],
    judged=[JudgedFact("Wonder", 40, 36, 0.77, 0.96, ["Mira Tolland"], [11, 12])],
    scopes=[("“Who”", "Source is Hill Farmer")],
    counted=[
        (
            "“Who”",
            [MethodPart("Tests", "Texts are given anew.", "Holm (1979). ; Welch (1951), Biometrika 38")],
        ),
        (
            "“When”",
            [MethodPart("Tests", "Texts are given anew.", "Holm (1979)"), MethodPart("Trend", "A line.", "")],
        ),
    ],
)


def said(blocks):
    return "\n".join(block.body if block.kind == "prose" else f"# {block.words}" for block in blocks)


def test_the_method_is_written_in_sentences_with_each_source_once():
    words = said(method_section(FACTS)).replace("\\", "")
    for sentence in (
        "The corpus has 1,434 texts with 428,124 words.",
        "They come from 2 sources: Hill Farmer and Valley_Wire.",
        "Dated texts run from 1 January 2031 to 28 December 2031.",
        "One text without a word is among them.",
        "The delivery “news.csv” of 30 December 2031 brought 565 new texts.",
        "18 texts in 6 groups are identical, 2 texts in 1 group near-duplicates",
        "One text is excluded.",
        "“Lynx frames” has 98 terms in 1 category; counted with its versions 1 and 3 (“as agreed”).",
        "The codebook has 12 codes. One passage in 1 text is coded by hand by Mira Tolland.",
        "It coded 2,000 sentence passages. What was not judged wrong counts. Of 60 that were judged, 28 were right.",
        "Its seed is 20310401.",
        "between 77% and 96% of its hits are",
        "drawn with the seeds 11 and 12",
        "“Who” looks at Source is Hill Farmer.",
        "**Tests**: Texts are given anew.",
        "**Trend** (“When”): A line.",
    ):
        assert sentence in words, sentence
    assert words.count("Holm (1979)") == 1 and words.count("Welch (1951)") == 1


def test_a_project_with_nothing_done_says_so_and_leaves_out_the_rest():
    bare = CorpusFact(1, 1, [], None, None, 0, "")
    blocks = method_section(Facts(bare))
    assert [block.words for block in blocks if block.kind == "heading"] == ["Texts"]
    assert said(blocks).endswith("1 text with 1 word. Nobody has looked for copies among the texts yet.")


@given(st.text(max_size=60))
def test_escaped_words_mean_themselves_in_markdown(words):
    words = " ".join(words.split())
    made = html.fragment_fromstring(MarkdownIt("commonmark").render("x" + escaped(words)) or "<p></p>")
    assert made.tag == "p" and not len(made)
    assert made.text_content().strip() == f"x{words}".replace("\x00", "\ufffd").strip()


# what a report comes to ----------------------------------------------------------------------------------------


def report(*more):
    drawing = Drawing("By source", view_to_plain(view()), sheets_to_plain(answer(2, 3).sheets))
    nothing = Drawing("Empty", view_to_plain(view()), sheets_to_plain(answer(0, 0).sheets))
    blocks = (
        Heading("Who / what?", 1),
        Prose("**Strong** words, ~~not~~ these\n\n- one\n- two <script>alert(1)</script>"),
        Quote(f"They said:\n{SCRIPTS} <b>", "Hill Farmer, paragraph 4", 7, 4),
        Figure("Rates by source", "d", 3, "Dictionary “Frames”."),
        Grid(
            "Texts | by source",
            (GridColumn("source"), GridColumn("texts", True)),
            (("A|B", "1,200"),),
            "All.",
        ),
        Heading("Deeper", 2),
        Figure("An empty one", "e", 4),
        Missing("The finding was deleted."),
        *more,
    )
    return Report(
        f"Who says what? {SCRIPTS}",
        ("Valley", "1 May 2032"),
        (Part(1, blocks),),
        {"d": drawing, "e": nothing},
    )


@pytest.fixture(scope="module")
def pictures():
    return all_drawn(report().drawings, "png")


@pytest.fixture(scope="module")
def outlines():
    return all_drawn(report().drawings, "svg")


def test_a_picture_that_cannot_be_drawn_has_its_reason_and_several_are_drawn_at_once(pictures):
    assert pictures["d"].startswith(b"\x89PNG") and "nothing to draw" in pictures["e"]
    one = report().drawings["d"]
    again = all_drawn({str(at): one for at in range(5)}, "png")
    assert list(again) == ["0", "1", "2", "3", "4"] and set(again.values()) == {pictures["d"]}


def test_what_a_report_comes_to_is_kept_and_read_again():
    assert report_from_plain(report_to_plain(report())) == report()
    assert sorted(labels_of(report()).values()) == ["Figure 1", "Figure 2", "Table 1"]
    with pytest.raises(WinnowerError, match="cannot be read"):
        report_from_plain({"title": 3})


def test_word_has_real_styles_captions_and_a_table_of_contents(pictures):
    document = docx.Document(io.BytesIO(report_docx(report(), pictures)))
    styled = [(one.style.name, one.text) for one in document.paragraphs]
    assert ("Title", f"Who says what? {SCRIPTS}") in styled
    assert [text for style, text in styled if style == "Heading 1"] == ["Who / what?"]
    assert [text for style, text in styled if style == "Heading 2"] == ["Deeper"]
    assert [text for style, text in styled if style == "List Bullet"] == [
        "one",
        "two <script>alert(1)</script>",
    ]
    assert [text for style, text in styled if style == "Caption"] == [
        "Figure 1. Rates by source",
        "Table 1. Texts | by source",
        "Figure 2. An empty one",
    ]
    quote = next(text for style, text in styled if style == "Quote")
    assert quote.split("\n") == ["They said:", f"{SCRIPTS} <b>", "— Hill Farmer, paragraph 4"]
    fields = [one.text for one in document.element.iter(qn("w:instrText"))]
    assert fields[0].startswith("TOC") and [one for one in fields if one.startswith("SEQ")] == [
        *("SEQ Figure \\* ARABIC", "SEQ Table \\* ARABIC", "SEQ Figure \\* ARABIC"),
    ]
    anchors = {one.get(qn("w:name")) for one in document.element.iter(qn("w:bookmarkStart"))}
    links = [one.get(qn("w:anchor")) for one in document.element.iter(qn("w:hyperlink"))]
    assert len(links) == 2 and set(links) <= anchors
    begins = [one.get(qn("w:fldCharType")) for one in document.element.iter(qn("w:fldChar"))]
    assert begins.count("begin") == begins.count("separate") == begins.count("end") == 4
    assert len(document.inline_shapes) == 1
    assert [[cell.text for cell in row.cells] for row in document.tables[0].rows] == [
        ["source", "texts"],
        ["A|B", "1,200"],
    ]


def test_another_office_program_opens_the_word_file(pictures, tmp_path):
    (tmp_path / "report.docx").write_bytes(report_docx(report(), pictures))
    subprocess.run(
        [
            "soffice",
            "--headless",
            f"-env:UserInstallation=file://{tmp_path}/profile",
            *(
                "--convert-to",
                "txt:Text (encoded):UTF8",
                "--outdir",
                str(tmp_path),
                str(tmp_path / "report.docx"),
            ),
        ],
        check=True,
        capture_output=True,
        timeout=120,
    )
    words = (tmp_path / "report.txt").read_text()
    for part in (SCRIPTS, "Figure 1. Rates by source", "The finding was deleted."):
        assert part in words


def test_html_is_one_file_that_fetches_and_runs_nothing(outlines):
    made = report_html(
        report(Prose("![x](http://far/away.png) [y](javascript:z) [w](https://x.y/)")), outlines
    )
    page = html.fromstring(made)
    assert not page.xpath("//script | //link | //iframe | //@onclick")
    assert all(one.startswith("data:image/svg+xml") for one in page.xpath("//img/@src"))
    # what would be a picture from elsewhere is a link, which nobody has to follow
    links = [one for one in page.xpath("//a/@href") if not one.startswith("#")]
    assert links == ["http://far/away.png", "https://x.y/"]
    assert page.xpath("//blockquote/p")[0].text_content() == f"They said:\n{SCRIPTS} <b>"
    assert page.xpath("string(//nav//a[1])") == "Who / what?"
    targets = {one.removeprefix("#") for one in page.xpath("//nav//a/@href")}
    assert targets <= set(page.xpath("//*/@id"))
    assert "<b>" not in page.xpath("string(//title)") and not re.search(r"url\((?!data:)", made)


PROSE = """A *word*, a **word**, `code()`, ~~gone~~ and [a place](https://x.y/z).

- one
- two
  1. deep

> said

| a | b |
|---|---|
| #raw[x] | $y$ |

---

    #import "far"

![x](file:///etc/hostname) [y](javascript:z) <script>alert(1)</script> #panic("z") @label
"""


def test_no_words_are_read_as_the_markup_of_pages(outlines):
    made = report_pdf(report(Prose(PROSE), Heading('#panic("a") *b* $', 2)), outlines)
    file = pypdfium2.PdfDocument(made)
    words = "".join(page.get_textpage().get_text_range() for page in file).replace("\r", "")
    for part in ("#raw[x]", "$y$", '#import "far"', '#panic("z") @label', "<script>", '#panic("a") *b* $'):
        assert part in words
    assert "code()" in words and "**" not in words and b"https://x.y/z" in made
    assert b"javascript" not in made and b"/etc/hostname" not in made
    assert report_pdf(report(Prose(PROSE), Heading('#panic("a") *b* $', 2)), outlines) == made


def test_what_has_no_place_to_break_stays_on_the_page_and_the_table_of_contents_has_page_numbers(outlines):
    long = "x" * 400
    made = report_pdf(
        report(
            Prose(long), Grid("Long", (GridColumn("a"), GridColumn("b", True)), ((long, "1 (0.5 to 2)"),))
        ),
        outlines,
    )
    file = pypdfium2.PdfDocument(made)
    for page in file:
        right = page.get_size()[0]
        text = page.get_textpage()
        assert all(text.get_charbox(at)[2] < right - 40 for at in range(text.count_chars()))
    assert re.search(r"Who / what\?[ .]+\d", file[0].get_textpage().get_text_range())


def test_pdf_has_its_words_its_pages_and_marks_for_its_headings(outlines):
    file = pypdfium2.PdfDocument(report_pdf(report(Prose("![x](file:///etc/hostname)")), outlines))
    words = "".join(page.get_textpage().get_text_range() for page in file)
    for part in (
        "Who says what?",
        "Привет",
        "Hill Farmer, paragraph 4",
        "Table 1. Texts | by source",
        "1,200",
    ):
        assert part in words
    marks = [one.get_title() for one in file.get_toc()]
    assert marks == ["Who / what?", "Deeper"]


def test_markdown_means_what_the_report_says(pictures):
    packed = zipfile.ZipFile(io.BytesIO(report_markdown_zip(report(), pictures)))
    assert sorted(packed.namelist()) == ["pictures/01.svg", "report.md"]
    words = packed.read("report.md").decode()
    page = html.fromstring(MarkdownIt("commonmark").enable("table").render(words))
    assert [one.text_content() for one in page.xpath("//h2 | //h3")] == ["Who / what?", "Deeper"]
    assert page.xpath("string(//td[1])") == "A|B" and page.xpath("//img/@src") == ["pictures/01.svg"]
    assert "— Hill Farmer, paragraph 4" in page.xpath("string(//blockquote)")
    assert "pictures/" not in report_markdown(report())


@settings(max_examples=15, deadline=None)
@given(st.lists(st.text(max_size=30), min_size=1, max_size=4))
def test_whatever_words_say_all_files_are_written(words):
    blocks = [
        block for one in words for block in (Heading(one, 1), Prose(one), Quote(one, one), Missing(one))
    ]
    grid = Grid(words[0], (GridColumn(words[0]),), tuple((one,) for one in words))
    whole = Report(words[0], tuple(words), (Part(1, (*blocks, grid)),))
    docx.Document(io.BytesIO(report_docx(whole, {})))
    assert html.fromstring(report_html(whole, {})).xpath("count(//blockquote/footer)") == len(words)
    assert report_markdown(whole).startswith("# ")
