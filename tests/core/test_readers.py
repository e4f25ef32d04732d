import io
import zipfile

import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.dates import guess_day_first, parse_date
from winnower.core.errors import ReadError
from winnower.readers import Mapping, TableReader, Target, guess_mapping, list_files
from winnower.readers.prepare import Preparer


def read(content: str | bytes, name="t.csv", **options):
    raw = content if isinstance(content, bytes) else content.encode()
    reader = TableReader(io.BytesIO(raw), name, **options)
    rows = [row for batch in reader.batches() for row in batch.rows]
    return reader, rows


@pytest.mark.parametrize(("sign", "name"), [(",", "a.csv"), (";", "a.csv"), ("\t", "a.tsv"), ("|", "a.csv")])
def test_delimiters_are_found(sign, name):
    reader, rows = read(
        f"id{sign}text\n1{sign}lamb, ewe\n".replace("lamb, ewe", "lamb" if sign == "," else "lamb, ewe"), name
    )
    assert reader.header == ["id", "text"]
    assert len(rows) == 1


@pytest.mark.parametrize(
    ("raw", "encoding"),
    [
        ("id,text\n1,Café – “ewe”\n".encode("utf-8-sig"), "utf-8"),
        ("id,text\n1,Café – “ewe”\n".encode("cp1252"), "cp1252"),
        ("id,text\n1,Café – “ewe”\n".encode("utf-16"), "utf-16"),
        ("id,text\n1,Café – “ewe”\n".encode("utf-16-le"), "utf-16-le"),
    ],
)
def test_encodings_come_through(raw, encoding):
    reader, rows = read(raw)
    assert rows == [["1", "Café – “ewe”"]]
    assert reader.encoding == encoding
    assert reader.header == ["id", "text"]


def test_mixed_encodings_are_read_and_told():
    reader, rows = read(b"id,text\n1,caf\xc3\xa9\n2,caf\xe9\n")
    assert [row[1] for row in rows] == ["café", "café"]
    assert "1 bytes are not UTF-8" in reader.notices[0]


def test_ragged_rows_are_refused_by_line():
    reader, rows = read("id,text\n1,lamb\n2\n3,ewe,more\n4,ram,\n")
    assert rows == [["1", "lamb"], ["4", "ram"]]
    assert [(p.row, p.reason.split(";")[0]) for p in reader.problems] == [
        (3, "1 cells where the header has 2"),
        (4, "3 cells where the header has 2"),
    ]


def test_an_unclosed_quote_costs_one_row_only():
    reader, rows = read('id,text\n1,"lamb, so\n2,ewe\n3,"ram\nand tup"\n')
    assert [p.row for p in reader.problems] == [2]
    assert rows == [["2", "ewe"], ["3", "ram\nand tup"]]


def test_a_quote_inside_a_quoted_cell_costs_one_row_only():
    reader, rows = read('id,text\n1,"the "big" one"\n2,ewe\n')
    assert [(p.row, "not doubled" in p.reason) for p in reader.problems] == [(2, True)]
    assert rows == [["2", "ewe"]]


def test_zero_bytes_and_long_cells_come_through():
    reader, rows = read("id,text\n1,la\x00mb\n2," + "x" * 10_000_000 + "\n")
    assert reader.notices == ["1 NUL characters were removed."]
    assert rows[0] == ["1", "lamb"]
    assert len(rows[1][1]) == 10_000_000


@pytest.mark.parametrize(
    ("content", "words"),
    [("", "is empty"), ("\n\n", "is empty"), ('"open', "cannot be read as column names")],
)
def test_files_without_a_header_say_so(content, words):
    with pytest.raises(ReadError, match=words):
        read(content)


@given(
    st.lists(
        st.lists(
            st.text(st.characters(exclude_categories=["Cs", "Cc"]), max_size=12), min_size=2, max_size=2
        ),
        max_size=12,
    )
)
def test_what_csv_writes_is_read_back(rows):
    import csv

    rows = [[f"x{a}", b] for a, b in rows]
    out = io.StringIO()
    csv.writer(out, lineterminator="\n", quoting=csv.QUOTE_ALL).writerows([["id", "text"], *rows])
    reader, found = read(out.getvalue(), delimiter=",")
    assert found == rows
    assert not reader.problems


def test_doubled_and_missing_column_names_get_their_own():
    reader, _ = read("text,,text\na,b,c\n")
    assert reader.header == ["text", "Column 2", "text (2)"]


@pytest.mark.parametrize(
    ("written", "iso"),
    [
        ("2031-06-03", "2031-06-03"),
        ("2031/6/3", "2031-06-03"),
        ("20310603", "2031-06-03"),
        ("2031-06-03T10:00:00Z", "2031-06-03"),
        ("03/06/2031", "2031-06-03"),
        ("3.6.31", "2031-06-03"),
        ("3 June 2031", "2031-06-03"),
        ("3rd Jun 2031", "2031-06-03"),
        ("Tue, 3 Jun 2031 10:00:00 GMT", "2031-06-03"),
        ("June 3, 2031", "2031-06-03"),
        ("2031-06", "2031-06-01"),
        ("3-Jun-31", "2031-06-03"),
        ("31/02/2031", None),
        ("someday", None),
        ("", None),
        ("13", None),
        ("99999", None),
    ],
)
def test_dates_as_people_write_them(written, iso):
    found = parse_date(written)
    assert (found.isoformat() if found else None) == iso


def test_month_first_dates_are_recognised():
    assert parse_date("06/03/2031", day_first=False).isoformat() == "2031-06-03"
    assert guess_day_first(["01/02/2031", "06/28/2031"]) is False
    assert guess_day_first(["01/02/2031", "28/06/2031"]) is True


def test_columns_are_guessed_from_names_and_values():
    header = ["Post ID", "Outlet", "Published", "Headline", "Article", "Tags", "Shares"]
    rows = [
        [
            f"a{i}",
            "Courier",
            "2031-01-0" + str(i),
            f"Headline {i}",
            "A long text about lambs and ewes. " * 3,
            "north; coast" if i % 2 else "hill",
            str(i * 3),
        ]
        for i in range(1, 9)
    ]
    mapping = guess_mapping(header, rows)
    assert {t.column: t.role for t in mapping.targets} == {
        "Post ID": "key",
        "Outlet": "source",
        "Published": "date",
        "Headline": "title",
        "Article": "text",
        "Tags": "variable",
        "Shares": "variable",
    }
    kinds = {t.column: (t.kind, t.separator) for t in mapping.variables}
    assert kinds == {"Tags": ("several", ";"), "Shares": ("number", ";")}


def prepared(rows, *targets, limit=1000):
    header = [t.column for t in targets]
    preparer = Preparer(header, Mapping(targets), limit)
    return preparer.prepare(rows, list(range(2, 2 + len(rows))), ["f"] * len(rows)), preparer.problems


def test_rows_without_text_and_texts_too_long_are_refused():
    texts, problems = prepared([["  "], ["ok"], ["x" * 1001]], Target("t", "text"))
    assert texts.body == ["ok"]
    assert [(p.row, p.kept) for p in problems] == [(2, False), (4, False)]


def test_values_that_cannot_be_read_leave_the_text_in():
    texts, problems = prepared(
        [["ok", "31", "nan", "2031-01-01"], ["two", "1,5", "1,234.5", "never"]],
        Target("t", "text"),
        Target("n", "variable", "N", "number"),
        Target("m", "variable", "M", "number"),
        Target("d", "date"),
    )
    assert texts.values == {"N": [31.0, 1.5], "M": [None, 1234.5]}
    # the sign of 1,5 is not that of the column, which is told as well
    assert [(p.row, p.kept) for p in problems] == [(2, True), (3, True), (3, True)]


def test_several_values_are_parted_trimmed_and_not_doubled():
    texts, _ = prepared(
        [["x", " north ; coast;north; "], ["y", ""]],
        Target("t", "text"),
        Target("v", "variable", "V", "several", ";"),
    )
    assert texts.values["V"] == [("north", "coast"), None]


def test_a_missing_title_is_the_first_words():
    texts, _ = prepared(
        [["One two three four five six seven eight nine ten eleven\nmore"]], Target("t", "text")
    )
    assert texts.title == ["One two three four five six seven eight nine ten…"]


def test_a_mapping_for_other_columns_says_which():
    with pytest.raises(ReadError, match="no column “b”. Columns found: a"):
        Preparer(["a"], Mapping((Target("b", "text"),)), 10)
    with pytest.raises(ReadError, match="which column holds the text"):
        Preparer(["a"], Mapping((Target("a", "title"),)), 10)


def test_archives_are_read_in_place(tmp_path):
    path = tmp_path / "all.zip"
    with zipfile.ZipFile(path, "w") as archive:
        archive.writestr("north/one.txt", "First line\nThe lamb.")
        archive.writestr("../escape.txt", "Harmless: never written anywhere.")
        archive.writestr("__MACOSX/x.txt", "rubbish")
        archive.writestr("empty.txt", "")
        archive.writestr("picture.png", "x")
        archive.writestr("bomb.txt", "a" * 30_000_000, compress_type=zipfile.ZIP_DEFLATED)
    origins, problems = list_files([("all.zip", path)], 10**9)
    assert [o.name for o in origins] == ["all.zip/escape.txt", "all.zip/north/one.txt"]
    assert {p.file.split("/")[-1]: p.reason.split(";")[0][:22] for p in problems} == {
        "empty.txt": "The file is empty.",
        "picture.png": "This kind of file (.pn",
        "bomb.txt": "This file expands more",
    }
    with origins[1].open() as raw:
        assert raw.read() == b"First line\nThe lamb."
    assert not (tmp_path.parent / "escape.txt").exists()


def test_broken_archives_and_unknown_files_are_told(tmp_path):
    (tmp_path / "bad.zip").write_bytes(b"PK\x03\x04 no")
    (tmp_path / "x.xyz").write_text("x")
    origins, problems = list_files(
        [(p.name, p) for p in sorted(tmp_path.iterdir())] + [("gone.txt", tmp_path / "gone.txt")], 10
    )
    assert not origins
    assert [p.reason.split(" ")[0:3] for p in problems] == [
        ["The", "archive", "is"],
        ["This", "kind", "of"],
        ["There", "is", "no"],
    ]
