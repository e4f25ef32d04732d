"""Dictionaries written and read again in every form, and files that are not as they should be."""

import io
import json

import pytest
import xlsxwriter
from hypothesis import given, settings
from hypothesis import strategies as st

from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.core.dictionary.dictionary import in_tree_order
from winnower.core.errors import DictionaryError, ReadError
from winnower.readers.dictionary_file import read_dictionary_bytes, read_dictionary_file
from winnower.writers.dictionary_file import write_dictionary_file

SOURCES = ["lamb*", "market price", "#lynxwatch", "-fold", "café", '"who?"', "stock near:5 market", "🐾", "1,5", "/sub(sid|ven).*/", "@board"]  # fmt: skip
NAMES = ["Livelihood", "Ecology", "=Sum", "Trees, old", 'So "called"', "Élan"]
notes = st.sampled_from(["", "sheep only", "a, b; c", "=HYPERLINK()", "line “one”"])
entries = st.builds(
    lambda source, kind, accents, note: TermEntry(
        source, kind == "case", accents, note, "en" if kind == "forms" else ""
    ),
    st.sampled_from(SOURCES),
    st.sampled_from(["", "case", "forms"]),
    st.booleans(),
    notes,
)
paths = st.lists(st.sampled_from(NAMES), min_size=1, max_size=3, unique=True).map(tuple)


@st.composite
def dictionaries(draw):
    found = draw(st.lists(paths, min_size=1, max_size=5, unique=True))
    categories = in_tree_order(Category(path) for path in found)
    out = []
    for at, one in enumerate(categories):
        terms = draw(st.lists(entries, max_size=3, unique_by=lambda entry: entry.key))
        out.append(Category(one.path, tuple(terms), draw(notes).replace("=HYPERLINK()", "x"), at % 10))
    return Dictionary("Frames", tuple(out))


def told(dictionary):
    """Everything a file must keep."""
    return [
        (one.path, one.description, one.colour, sorted((*term.key, term.note) for term in one.terms))
        for one in dictionary.categories
    ]


@pytest.mark.parametrize("ending", ["csv", "xlsx", "json"])
@given(given_one=dictionaries())
@settings(max_examples=40)
def test_each_form_reads_back_the_same(tmp_path_factory, ending, given_one):
    path = tmp_path_factory.mktemp("files") / f"Frames.{ending}"
    write_dictionary_file(path, given_one, version=3)
    read = read_dictionary_file(path)
    assert read.refused == () and read.doubles == 0 and read.unknown_columns == ()
    assert told(read.dictionary) == told(given_one)
    assert read.dictionary.fingerprint() == given_one.fingerprint()


def read(name, content):
    return read_dictionary_bytes(content if isinstance(content, bytes) else content.encode(), name)


def sources(found):
    return {one.label: [term.source for term in one.terms] for one in found.dictionary.categories}


def test_a_plain_list_is_one_category_and_hashtags_are_no_notes():
    found = read("Animals.txt", "# what is kept on the hill\nlamb*\n\n  ewe  \n#lynxwatch\nlamb*\n")
    assert sources(found) == {"Animals": ["lamb*", "ewe", "#lynxwatch"]}
    assert found.doubles == 1


def test_columns_in_any_order_and_case_and_unknown_ones_are_told():
    found = read("f.csv", "Weight,TERM,Category\n2,lamb*,Life\n1,deer,Wild > Hoofed\n")
    assert sources(found) == {"Life": ["lamb*"], "Wild": [], "Wild > Hoofed": ["deer"]}
    assert list(found.unknown_columns) == ["weight"]


@pytest.mark.parametrize(
    ("content", "expected"),
    [
        ({"categories": [{"name": "Life", "terms": ["lamb*", {"term": "ewe", "case": True}]}]}, ["lamb*", "ewe"]),
        ([{"category": "Life", "term": "lamb*"}, {"category": "Life", "term": "ewe"}], ["lamb*", "ewe"]),
        ({"categories": [{"path": ["Life"], "terms": "lamb*"}]}, ["lamb*"]),
    ],
)  # fmt: skip
def test_json_in_the_shapes_people_have(content, expected):
    assert sources(read("f.json", json.dumps(content))) == {"Life": expected}


def test_what_is_no_category_in_json_is_refused_alone():
    content = {"categories": ["lamb*", {"path": ["Life"], "weight": 2, "terms": ["ewe", 7]}]}
    found = read("f.json", json.dumps(content))
    assert sources(found) == {"Life": ["ewe", "7"]}
    assert len(found.refused) == 1 and list(found.unknown_columns) == ["weight"]


def workbook(*sheets):
    buffer = io.BytesIO()
    book = xlsxwriter.Workbook(buffer, {"in_memory": True})
    for name, rows in sheets:
        sheet = book.add_worksheet(name)
        for at, row in enumerate(rows):
            sheet.write_row(at, 0, row)
    book.close()
    return buffer.getvalue()


def test_the_sheet_with_the_terms_is_found_beside_others():
    about = ("About", [["Made by", "Ida"], ["When", "2031"]])
    terms = ("Terms", [["Category", "Term", "Case"], ["Life", "Hill", "match"], ["Life", "ewe", ""]])
    for sheets in ((about, terms), (("Empty", []), terms), (terms, about)):
        found = read("f.xlsx", workbook(*sheets))
        assert sources(found) == {"Life": ["Hill", "ewe"]}
        assert [term.match_case for term in found.dictionary.categories[0].terms] == [True, False]


def test_rows_that_cannot_be_read_leave_the_others():
    found = read("f.csv", 'category,term\nLife,lamb*\nLife,(ewe\n,deer\nLife,"market, price"\nLife\n')
    assert sources(found) == {"Life": ["lamb*", "market, price"]}
    lines = [line for line, _ in found.refused]
    assert lines == sorted(lines) and {3, 4} <= set(lines)
    assert "bracket" in dict(found.refused)[3]


@pytest.mark.parametrize(
    ("name", "content", "error", "words"),
    [
        ("f.csv", b" \n ", DictionaryError, "is empty"),
        ("f.json", b'{"categories": [', DictionaryError, "not whole JSON"),
        ("f.json", b'{"terms": 3}', DictionaryError, "no list of categories"),
        ("f.csv", b"a,b\n1,2\n", DictionaryError, "term"),
        ("f.xlsx", b"PK no workbook", ReadError, "damaged"),
        ("f.xlsx", workbook(("Empty", [])), ReadError, ""),
    ],
)
def test_files_without_a_dictionary_say_so(name, content, error, words):
    with pytest.raises((DictionaryError, ReadError)) as caught:
        read(name, content)
    assert isinstance(caught.value, error) and words in caught.value.message


def test_a_file_that_is_gone(tmp_path):
    with pytest.raises(ReadError, match="gone.csv cannot be read"):
        read_dictionary_file(tmp_path / "gone.csv")
