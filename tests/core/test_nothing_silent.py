"""Values that used to be changed without a word: encodings, signs that look like markup, objects in an object."""

import io
import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.errors import ReadError
from winnower.readers.encoding import guess_encoding, open_text
from winnower.readers.html import words_of_html
from winnower.readers.json_tables import JsonReader
from winnower.readers.reference_lists import ReferenceReader

SENTENCES = {
    "pl": "Rada powiedziała, że owce są już na łące, i że się nie boją wilków. Więcej będzie wiadomo później.",
    "cs": "Rada řekla, že ovce už jsou na louce a že se nebojí vlků. Více bude známo později, až přijde zpráva.",
    "sk": "Rada povedala, že ovce už sú na lúke a že sa neboja vlkov. Viac bude známe neskôr, keď príde správa.",
    "hu": "A tanács azt mondta, hogy a juhok már a réten vannak, és nem félnek a farkasoktól. Őszintén szólva, jó így.",
    "sl": "Svet je rekel, da so ovce že na travniku in da se ne bojijo volkov. Več bo znano pozneje, če bo mogoče.",
    "de": "Der Rat sagte, die Schafe seien schon auf der Wiese und fürchteten die Wölfe nicht. Später hören wir mehr.",
    "fr": "Le conseil a dit que les brebis étaient déjà dans le pré et n’avaient pas peur. Peut-être à la fin, après.",
    "es": "El consejo dijo que las ovejas ya están en el prado y no temen al lobo. Mañana se sabrá más, también allí.",
    "sv": "Rådet sade att fåren redan är på ängen och att de inte är rädda för vargarna. Vi får veta mer på lördag.",
    "tr": "Kurul, koyunların çoktan çayırda olduğunu ve kurtlardan korkmadığını söyledi. Daha sonra öğreneceğiz.",
}
ENCODINGS = {
    **dict.fromkeys(("pl", "cs", "sk", "hu", "sl"), ("cp1250", "iso-8859-2")),
    **dict.fromkeys(("de", "fr", "es", "sv"), ("cp1252", "iso-8859-15")),
    "tr": ("cp1254",),
}


@pytest.mark.parametrize(
    ("language", "encoding"), [(language, one) for language, all_ in ENCODINGS.items() for one in all_]
)
def test_encodings_of_europe_are_told_apart_by_the_words_they_give(language, encoding):
    written = SENTENCES[language].encode(encoding, "replace")
    assert written.decode(guess_encoding(written)) == written.decode(encoding)


def test_a_short_table_in_an_older_encoding_is_read_in_it():
    written = "id;tekst\n1;Tak, że się bała.\n2;Więc nie, już nie.\n"
    assert open_text(io.BytesIO(written.encode("cp1250"))).lines.read() == written


@pytest.mark.parametrize(
    ("written", "read"),
    [
        ("<Interviewer> And then? <laughs>", "<Interviewer> And then? <laughs>"),
        ("<b>Bold</b> and <Interviewer> asked", "Bold and <Interviewer> asked"),
        ("<A new law> for sheep &amp; wolves<br>next", "<A new law> for sheep & wolves\n\nnext"),
        ('See <a href="http://x.example/?a=1&b=2">this</a>, a < b', "See this, a < b"),
        ("R&D at AT&T, 3 < 5 <3", "R&D at AT&T, 3 < 5 <3"),
        ("<p class=x hidden>One</p><p>Two</p>", "One\n\nTwo"),
        ("before<!-- <Interviewer> said -->after", "beforeafter"),
    ],
)
def test_what_is_no_tag_stays(written, read):
    assert " ".join(words_of_html(written).split()) == " ".join(read.split())


@given(st.text(alphabet="<>abA /=\"'p", max_size=40))
def test_no_letter_outside_of_tags_is_lost(written):
    """Of words beside angle brackets all stay that stand in no tag."""
    read = words_of_html(f"xyz {written.replace('<', '< ')} end")
    assert read.startswith("xyz") and read.endswith("end")
    assert sorted(c for c in read if c in "abA") == sorted(c for c in written if c in "abA")


def test_an_ampersand_in_a_reference_stays():
    content = b"@article{k,\n title={Farmers & Sons},\n journal={Hill \\& Dale},\n year={2031},\n abstract={A & B, 50%}\n}\n"
    batch = next(ReferenceReader(io.BytesIO(content), "a.bib", form="bibtex").batches())
    row = dict(
        zip(ReferenceReader(io.BytesIO(content), "a.bib", form="bibtex").header, batch.rows[0], strict=True)
    )
    assert (row["title"], row["container"], row["abstract"]) == (
        "Farmers & Sons",
        "Hill & Dale",
        "A & B, 50%",
    )


def rows_of(value, records=""):
    reader = JsonReader(io.BytesIO(json.dumps(value).encode()), "a.json", lines=False, records=records)
    return [dict(zip(reader.header, row, strict=True)) for batch in reader.batches() for row in batch.rows]


def test_an_object_of_objects_is_one_text_each():
    one, two = {"text": "One.", "date": "2031-06-03", "c": [{"x": 1}]}, {"text": "Two.", "date": "2031-06-04"}
    assert [(row["key"], row["text"]) for row in rows_of({"a.1": one, "b": two})] == [
        ("a.1", "One."),
        ("b", "Two."),
    ]


@pytest.mark.parametrize(
    ("value", "texts"),
    [
        ({"meta": {"made": "today"}, "items": [{"text": "One."}, {"text": "Two."}]}, ["One.", "Two."]),
        ({"text": "Alone.", "author": {"name": "A"}}, ["Alone."]),
        ({"data": {"items": [{"text": "One."}]}, "links": {"next": "x"}}, ["One."]),
        ([{"text": "One."}, {"text": "Two."}], ["One.", "Two."]),
    ],
)
def test_other_shapes_are_read_as_before(value, texts):
    assert [row["text"] for row in rows_of(value)] == texts


POSTS = [
    {
        "id": 1,
        "text": "The gate is open.",
        "by": {"name": "Ann"},
        "replies": [{"id": 11, "text": "It is not."}, {"id": 12, "text": "It was.", "by": {"name": "Ben"}}],
    },
    {"id": 2, "text": "Rain.", "by": {"name": "Ben"}, "replies": []},
]


def test_a_list_of_objects_can_be_texts_of_its_own_with_what_they_are_on():
    reader = JsonReader(io.BytesIO(json.dumps(POSTS).encode()), "a.json", lines=False)
    assert reader.lists == ["replies"]
    rows = rows_of(POSTS, "replies")
    assert [row["text"] for row in rows] == ["It is not.", "It was."]
    assert [(row["of.id"], row["of.text"]) for row in rows] == [("1", "The gate is open.")] * 2
    assert [row["by.name"] for row in rows] == ["Ann", "Ben"] and rows[1]["of.by.name"] == "Ann"


def test_lists_deeper_in_and_wrong_paths():
    value = [{"post": {"text": "A.", "thread": {"answers": [{"text": "B."}, {"text": "C."}]}}}]
    reader = JsonReader(io.BytesIO(json.dumps(value).encode()), "a.json", lines=False)
    assert reader.lists == ["post.thread.answers"]
    assert [row["text"] for row in rows_of(value, "post.thread.answers")] == ["B.", "C."]
    with pytest.raises(ReadError, match="no records"):
        rows_of(value, "post.nothing")


def test_long_lists_are_told_to_be_shortened():
    value = [{"text": "A.", "replies": [{"text": str(n)} for n in range(60)]}] * 2
    reader = JsonReader(io.BytesIO(json.dumps(value).encode()), "a.json", lines=False)
    assert sum(len(batch.rows) for batch in reader.batches()) == 2
    assert "20 more were left out" in reader.notices[0]
    assert len(rows_of(value, "replies")) == 120
