"""Where a table's headings are, what its columns are, and numbers and dates as people write them."""

import csv
import io

import pytest
import xlsxwriter
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.dates import parse_date
from winnower.core.numbers import guess_decimal, is_name, parse_number
from winnower.readers.files import Origin
from winnower.readers.guess import guess_kind, named, split_several
from winnower.readers.headings import find_headings
from winnower.readers.lots import gather
from winnower.readers.mapping import guess_mapping
from winnower.readers.open_table import open_table
from winnower.readers.prepare import Preparer
from winnower.readers.tables import TableReader

LONG = "The lynx was seen by the upper gate and the flock was brought in before dark."


def table(content, **chosen):
    raw = content if isinstance(content, bytes) else content.encode()
    reader = TableReader(io.BytesIO(raw), "t.csv", **chosen)
    return reader.header, [row for batch in reader.batches() for row in batch.rows]


def workbook(*sheets, change=lambda book: None):
    out = io.BytesIO()
    book = xlsxwriter.Workbook(out)
    for name, rows in sheets:
        sheet = book.add_worksheet(name)
        for at, row in enumerate(rows):
            sheet.write_row(at, 0, row)
    change(book)
    book.close()
    content = out.getvalue()
    return Origin("t.xlsx", "sheets", len(content), lambda: io.BytesIO(content))


@pytest.mark.parametrize(
    ("content", "header", "rows"),
    [
        ("id,text\n1,a\n2,b\n", ["id", "text"], [["1", "a"], ["2", "b"]]),
        ("sep=;\nid;text\n1;a\n", ["id", "text"], [["1", "a"]]),
        ("Export of the board\n\nid,text\n1,a\n2,b\n", ["id", "text"], [["1", "a"], ["2", "b"]]),
        ("Export,,\nMade 3 June,,\nid,when,text\n1,2031-06-03,a\n2,2031-06-04,b\n",
         ["id", "when", "text"], [["1", "2031-06-03", "a"], ["2", "2031-06-04", "b"]]),
        (f"1,2031-06-03,{LONG}\n2,2031-06-04,{LONG}\n", ["Column 1", "Column 2", "Column 3"],
         [["1", "2031-06-03", LONG], ["2", "2031-06-04", LONG]]),
        ("Person,,Answers,\nAge,Parish,Lynx,Board\n31,Orrin,Good,None\n40,Fell,Bad,All\n",
         ["Person: Age", "Person: Parish", "Answers: Lynx", "Answers: Board"],
         [["31", "Orrin", "Good", "None"], ["40", "Fell", "Bad", "All"]]),
        ("nr,q1,q2\nNumber of answer,How old are you?,How many sheep do you keep?\n1,31,200\n2,44,0\n",
         ["nr. Number of answer", "q1. How old are you?", "q2. How many sheep do you keep?"],
         [["1", "31", "200"], ["2", "44", "0"]]),
        ("id,text\nx,?\nx,\n", ["id", "text"], [["x", "?"], ["x", ""]]),
        ("id,post\n1,Where is it?\n2,Here.\n3,Gone.\n", ["id", "post"],
         [["1", "Where is it?"], ["2", "Here."], ["3", "Gone."]]),
        ("id,text\n0,1?\n0,1\n", ["id", "text"], [["0", "1?"], ["0", "1"]]),
        ("q1,q2\nWhat is lost?,What is found?\nLambs.,Birch.\nSleep.,Deer.\n",
         ["q1. What is lost?", "q2. What is found?"], [["Lambs.", "Birch."], ["Sleep.", "Deer."]]),
        ("answer\nYes.\nNo, never.\nPerhaps, in spring.\n", ["answer"],
         [["Yes."], ["No, never."], ["Perhaps, in spring."]]),
    ],
)  # fmt: skip
def test_headings_are_found(content, header, rows):
    assert table(content) == (header, rows)


@given(st.lists(st.tuples(st.integers(0, 99).map(str), st.text("abc?.! 1,", max_size=12)), max_size=9))
def test_rows_under_known_names_are_all_values(rows):
    out = io.StringIO()
    csv.writer(out, lineterminator="\n", quoting=csv.QUOTE_ALL).writerows([["id", "text"], *rows])
    assert table(out.getvalue(), delimiter=",")[1] == [list(row) for row in rows]


def test_headings_can_be_chosen():
    content = "a,b\nc,d\ne,f\n"
    assert table(content, headings="none")[1] == [["a", "b"], ["c", "d"], ["e", "f"]]
    assert table(content, headings="2") == (["c", "d"], [["e", "f"]])
    assert table(content, headings="1-2") == (["a. c", "b. d"], [["e", "f"]])
    assert table(content, headings="9")[0] == ["e", "f"]


@given(
    st.lists(st.lists(st.text(max_size=8), max_size=5), max_size=12),
    st.sampled_from(["", "none", "2", "1-3"]),
)
def test_any_rows_have_headings_within_them(rows, choice):
    found = find_headings(rows, choice)
    assert 0 <= found.first <= max(len(rows), 0)
    assert all(at < found.first for at in found.rows)


def test_merged_cells_hold_in_each_row_and_hidden_sheets_are_known():
    def change(book):
        book.get_worksheet_by_name("posts").merge_range("A2:A3", "Hill Farmer")
        book.get_worksheet_by_name("lists").hide()

    rows = [["source", "text"], ["Hill Farmer", "One text."], [None, "Another."], ["Wire", "Third."]]
    origin = workbook(("posts", rows), ("lists", [["code", "label"], [1, "north"]]), change=change)
    lots, problems = gather([origin], 10_000)
    assert not problems
    posts, lists = lots
    assert lists.origins[0].hidden and not posts.origins[0].hidden
    reader = open_table(posts.origins[0], 10_000)
    assert [row for batch in reader.batches() for row in batch.rows] == [
        ["Hill Farmer", "One text."], ["Hill Farmer", "Another."], ["Wire", "Third."]
    ]  # fmt: skip
    assert reader.notices == ["1 cells below a merged one have its value."]


@pytest.mark.parametrize(
    ("header", "roles"),
    [
        (["Überschrift", "Datum", "Quelle", "Volltext"], "title date source text"),
        (["Titre", "Date de publication", "Source", "Texte"], "title date source text"),
        (["Título", "Fecha", "Medio", "Texto"], "title date source text"),
        (["Titolo", "Data", "Testata", "Testo"], "title date source text"),
        (["Kop", "Datum", "Krant", "Tekst"], "title date source text"),
        (["Tytuł", "Data", "Źródło", "Treść"], "title date source text"),
        (["headline", "dateOfPublication", "newspaper", "fullText"], "title date source text"),
        (["headline", "date of publication", "note", "body"], "title date variable text"),
    ],
)
def test_roles_are_known_in_several_languages(header, roles):
    rows = [[f"Head {i}", f"2031-06-{i + 1:02}", f"S{i % 3}", f"{LONG} {i}"] for i in range(12)]
    found = guess_mapping(header, rows)
    assert [target.role for target in found.targets] == roles.split()


def test_a_date_of_publication_is_no_source():
    assert not named("source", "date of publication", whole=False)
    assert named("source", "name of the newspaper", whole=False)


@pytest.mark.parametrize(
    ("values", "kind", "sign"),
    [
        (["farm, wood", "wood", "farm", "farm, coast"], "several", ","),
        (["a|b", "b|c", "a"], "several", "|"),
        (["north\nsouth", "south", "north"], "several", "\n"),
        (["#lynx #orrin", "#lynx", "#sheep #lynx"], "several", " "),
        (['["a", "b"]', "['a']", "[]"], "several", "[]"),
        (["1,5", "2,75", "3"], "number", ","),
        (["12%", "3.5 %", "7%"], "number", ";"),
        (["1.2K", "300", "4M"], "number", ";"),
        (["007", "012", "113"], "category", ";"),
        (["1780000000000000001", "1780000000000000002"], "category", ";"),
        (["1.78E+18", "1.79E+18"], "category", ";"),
        (["3. Juni 2031", "4. Mai 2031"], "date", ";"),
        (["A sentence, with a comma.", "Another one, with more, of them."], "category", ";"),
    ],
)
def test_kinds(values, kind, sign):
    assert guess_kind(values * 3) == (kind, sign)


def test_several_values_are_split():
    assert split_several('["a, b", "c"]', "[]") == ["a, b", "c"]
    assert split_several("#a  #b", " ") == ["#a", "#b"]
    assert split_several("a; b", ";") == ["a", "b"]


@pytest.mark.parametrize(
    ("written", "decimal", "value"),
    [
        ("1,234.5", ".", 1234.5), ("1.234,5", ",", 1234.5), ("1'234", ".", 1234), ("1 234 567", ".", 1234567),
        ("12 %", ".", 12), ("3.5K", ".", 3500), ("2,5 Mio.", ",", 2.5e6), ("\u22124", ".", -4), (".5", ".", 0.5),
        ("abc", ".", None), ("1.2.3", ".", None), ("12 px", ".", None), ("", ".", None), ("1e400", ".", None),
    ],
)  # fmt: skip
def test_numbers(written, decimal, value):
    assert parse_number(written, decimal) == value


@given(st.floats(-1e9, 1e9).map(lambda x: round(x, 2)), st.sampled_from([".", ","]))
def test_numbers_written_with_thousands_come_back(value, decimal):
    other = "," if decimal == "." else "."
    written = f"{value:,.2f}".translate(str.maketrans({",": other, ".": decimal}))
    assert guess_decimal([written]) == decimal
    assert parse_number(written, decimal) == pytest.approx(value)


@given(st.text(max_size=20))
def test_any_text_is_a_number_or_none(written):
    value = parse_number(written)
    assert value is None or abs(value) < 1e300
    assert is_name(written) in (True, False)


@pytest.mark.parametrize(
    "written",
    ["3. Juni 2031", "3 juin 2031", "3 de junio de 2031", "3 giugno 2031", "3 juni 2031", "3 czerwca 2031",
     "3 de junho de 2031", "3 июня 2031", "2031. június 3.", "Tue Jun 03 10:00:00 +0000 2031",
     "Dienstag, 3. Juni 2031, 10:22 Uhr", "1938211200", "1938211200000", "2031年6月3日", "03.06.2031 10:22",
     "20310603T101500Z", "3-Jun-31", "June 3rd, 2031"],
)  # fmt: skip
def test_dates_in_many_languages(written):
    assert str(parse_date(written)) == "2031-06-03"


@pytest.mark.parametrize("written", ["", "lamb", "2031-13-40", "99999999", "12", "3 lambs 2031", "9" * 90])
def test_what_is_no_date(written):
    assert parse_date(written) is None


def prepare(header, rows, **changes):
    from dataclasses import replace

    mapping = replace(guess_mapping(header, rows), **changes)
    texts = Preparer(header, mapping, 100_000).prepare(
        rows, range(1, len(rows) + 1), ["a/may.csv"] * len(rows)
    )
    return mapping, texts


def test_html_in_cells_is_cleaned_and_plain_signs_stay():
    _, texts = prepare(
        ["title", "text"],
        [["A &amp; B", f"<p>{LONG}</p><p>Two<br>lines</p>"], ["C", f"a < b and c > d. {LONG}"]],
    )
    assert texts.title[0] == "A & B"
    assert texts.body == [f"{LONG}\n\nTwo\nlines", f"a < b and c > d. {LONG}"]


@pytest.mark.parametrize(
    ("way", "source"),
    [("file", "may"), ("folder", "a"), ("domain:link", "lantern.example"), ("", None)],
)
def test_a_source_from_elsewhere(way, source):
    rows = [["https://www.lantern.example/x?y=1", LONG]]
    _, texts = prepare(["link", "text"], rows, source_from=way)
    assert texts.source == [source]
