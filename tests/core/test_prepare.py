"""From rows to texts: several text columns, sections, notes, placeholders, names, encodings."""

import io

import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.errors import ReadError
from winnower.core.tokens import clean
from winnower.readers.document import Document, Place, Remark, tidy
from winnower.readers.encoding import guess_encoding, open_text, stray_notice
from winnower.readers.guess import guess_kind
from winnower.readers.mapping import Mapping, Target, guess_documents, guess_mapping
from winnower.readers.prepare import Preparer

HEADER = ["id", "q1", "q2", "note", "when", "n"]
ROWS = [
    ["1", "Lambs fell.", "Deer rose.", "check", "2031-01-02", "3"],
    ["2", "", "Only this.", "", "never", "x"],
    ["3", "  ", "", "a note alone", "", ""],
]


def mapping(*targets, **options):
    return Mapping(tuple(Target(*target) for target in targets), **options)


QUESTIONS = (("id", "key"), ("q1", "text", "Worries"), ("q2", "text", "Hopes"), ("note", "note", "Remark"))


def prepare(chosen, rows=ROWS, header=HEADER, **options):
    preparer = Preparer(header, chosen, 10_000, **options)
    return preparer.prepare(rows, range(2, 2 + len(rows)), ["a.csv"] * len(rows)), preparer.problems


def test_one_text_for_each_answer():
    texts, problems = prepare(mapping(*QUESTIONS, question_name="Asked"))
    assert texts.body == ["Lambs fell.", "Deer rose.", "Only this."]
    assert texts.values == {"Asked": ["Worries", "Hopes", "Hopes"]}
    assert texts.key == ["1\0Worries", "1\0Hopes", "2\0Hopes"]
    assert [(p.row, p.reason) for p in problems] == [(4, "There is no text in this row.")]


def test_one_text_with_a_section_for_each():
    texts, _ = prepare(mapping(*QUESTIONS, layout="sections"))
    assert texts.body == ["Worries\n\nLambs fell.\n\nHopes\n\nDeer rose.", "Hopes\n\nOnly this."]
    for body, extra in zip(texts.body, texts.extra, strict=True):
        for place in extra.places:
            assert body[place.start :].startswith(place.label)
    assert texts.key == ["1", "2"]


def test_notes_and_placeholders():
    texts, problems = prepare(mapping(*QUESTIONS[:2], QUESTIONS[3], placeholders=True))
    assert texts.body == ["Lambs fell.", "", ""] and not problems
    assert [[r.body for r in extra.remarks] for extra in texts.extra] == [["check"], [], ["a note alone"]]
    assert texts.title == ["Lambs fell.", "Without title", "Without title"]


def test_without_a_text_column_placeholders_must_be_wanted():
    with pytest.raises(ReadError, match="Say which column holds the text"):
        prepare(mapping(("id", "title")))
    texts, _ = prepare(mapping(("id", "title"), placeholders=True))
    assert texts.title == ["1", "2", "3"]


def test_values_that_cannot_be_read_are_left_out_and_told():
    texts, problems = prepare(
        mapping(("q2", "text"), ("when", "date"), ("n", "variable", "N", "number"), placeholders=True)
    )
    assert [str(day) for day in texts.date] == ["2031-01-02", "None", "None"]
    assert texts.values["N"] == [3.0, None, None]
    assert [(p.row, p.kept) for p in problems] == [(3, True), (3, True)]


def test_groups_and_sets_from_columns():
    header = ["t", "g", "s"]
    texts, _ = prepare(
        mapping(("t", "text"), ("g", "group"), ("s", "sets", "", "", "|")),
        [["x", "North", "a | b|a"]],
        header,
    )
    assert texts.values == {"Group": ["North"], "Sets": [("a", "b")]}


def test_places_and_remarks_of_documents_come_along():
    document = Document("One.\n\nTwo.", places=(Place("page", 6, "2"),), remarks=(Remark("why", "J", 0, 3),))
    row = ["a", "", "T", "", "", "One.", document.body]
    from winnower.readers.documents import HEADER as DOCUMENTS

    preparer = Preparer(DOCUMENTS, guess_documents("word"), 10_000)
    texts = preparer.prepare([row], [0], ["a.docx"], [document])
    assert (texts.title, texts.extra[0].places, texts.extra[0].remarks) == (
        ["T"],
        document.places,
        document.remarks,
    )


def test_a_document_without_text_is_refused_with_its_own_reason_or_kept_to_fill():
    document = Document("", reason="The PDF holds pictures of 2 pages and no text.")
    row = ["a", "", "T", "", "", "", ""]
    from winnower.readers.documents import HEADER as DOCUMENTS

    refusing = Preparer(DOCUMENTS, guess_documents("word"), 10_000)
    assert not len(refusing.prepare([row], [0], ["a.pdf"], [document]))
    assert refusing.problems[0].reason == document.reason
    keeping = Preparer(DOCUMENTS, guess_documents("pdf"), 10_000)
    assert keeping.prepare([row], [0], ["a.pdf"], [document]).extra[0].reason == document.reason


@pytest.mark.parametrize(
    ("values", "kind", "sign"),
    [
        (["north; coast", "coast", "hill", "north"], "several", ";"),
        (["a|b", "b|c", "a"], "several", "|"),
        (["1", "2.5", "3,5"], "number", ";"),
        (["2031-01-02", "3 June 2031"], "date", ";"),
        (["yes", "no", "yes", "yes"], "category", ";"),
        ([f"a long sentence about nothing that is number {n} of many" for n in range(50)], "text", ";"),
        ([], "text", ";"),
    ],
)
def test_kinds_are_guessed_from_values(values, kind, sign):
    assert guess_kind(values) == (kind, sign)


def test_two_plain_columns_are_not_taken_for_questions():
    header = ["headline", "article", "summary"]
    rows = [
        [
            f"H{n}",
            "An article that goes on for quite a while. " * 5,
            "A summary that is long too. " * 4 + str(n),
        ]
        for n in range(5)
    ]
    assert [t.column for t in guess_mapping(header, rows).texts] == ["article"]


ENCODED = "Der Löwe läßt größere Schäden an Zäunen übrig; Ängste für Öfen und Bäume, später Grüße."


@pytest.mark.parametrize(
    "encoding", ["utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "cp1252", "iso-8859-15"]
)
def test_encodings_are_told_apart_by_their_bytes(encoding):
    opened = open_text(io.BytesIO(ENCODED.encode(encoding)))
    assert opened.lines.read().lstrip("\ufeff") == ENCODED
    assert stray_notice(opened) is None


def test_an_eastern_encoding_is_recognised():
    text = "Жители долины спорят о возвращении рыси, и никто не знает, что будет с овцами и ягнятами весной."
    assert guess_encoding(text.encode("cp1251")) == "cp1251"


def test_signs_alone_are_not_taken_for_letters():
    said = "“It isn’t fair – not at all…”, she said. " * 40
    assert guess_encoding(said.encode("cp1252")) == "cp1252"
    # within words the same bytes are letters
    letters = "Sie übte über Äpfel, und „Größe“ sei schön. " * 20
    assert guess_encoding(letters.encode("mac-roman")) == "mac_roman"


def test_signs_that_were_lost_earlier_do_not_make_another_encoding_of_utf_8():
    text = "“The lambs\ufffd are gone,\ufffd\ufffd she said.\ufffd\n" * 30
    assert guess_encoding(text.encode()) == "utf-8"
    opened = open_text(io.BytesIO(text.encode()))
    assert opened.lines.read() == text and stray_notice(opened) is None


def test_bytes_that_do_not_fit_a_chosen_encoding_are_counted():
    opened = open_text(io.BytesIO("caf\xe9".encode("latin-1")), "utf-16-le")
    opened.lines.read()
    opened = open_text(io.BytesIO(b"caf\xff\xfe\xe9"), "ascii")
    assert opened.lines.read().count("\ufffd") == 3
    assert "3 bytes do not fit ascii" in stray_notice(opened)


@given(st.text(max_size=200))
def test_a_tidy_paragraph_is_clean_and_stays_so(text):
    once = tidy(text)
    assert tidy(once) == once == clean(once)[0]
    assert once == once.strip() and "  " not in once and "\n\n" not in once


@given(st.binary(max_size=300))
def test_any_bytes_can_be_read_as_text(content):
    opened = open_text(io.BytesIO(content))
    assert isinstance(opened.lines.read(), str)
