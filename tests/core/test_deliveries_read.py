"""Documents, archives and names as they come from old and careless programs."""

import io
import zipfile

import pytest

from winnower.core.coding import differences
from winnower.readers.containers import parse_xml
from winnower.readers.cutting import Cut, cut_document, guess_cut, line_shape, text_starts
from winnower.readers.document import Document
from winnower.readers.documents import read_document
from winnower.readers.fieldlines import read_fields
from winnower.readers.files import Origin, list_files
from winnower.readers.lots import gather
from winnower.readers.reference_lists import ReferenceReader
from winnower.readers.speakers import find_speakers, with_turns
from winnower.readers.tables import TableReader

LONG = "The lynx was seen by the upper gate, and the flock was brought in before dark."


def origin(name, kind, content):
    return Origin(name, kind, len(content), lambda: io.BytesIO(content))


@pytest.mark.parametrize(
    ("name", "kind", "content", "what"),
    [
        ("a.txt", "text", b"\x89PNG\r\n\x1a\n" + b"\0" * 50, "an image"),
        ("a.csv", "table", b"\xff\xd8\xff\xe0" + b"\0" * 50, "an image"),
        ("a.html", "html", b"MZ\x90\0" + b"\0" * 50, "a program"),
        ("a.json", "json", b"\0\0\0\x18ftypmp42", "a film recording"),
    ],
)
def test_files_that_are_no_texts_are_refused_under_any_name(name, kind, content, what):
    lots, problems = gather([origin(name, kind, content)], 1000)
    assert not lots and f"this is {what}" in problems[0].reason


def test_names_in_old_archives_are_read(tmp_path):
    path = tmp_path / "a.zip"
    with zipfile.ZipFile(path, "w") as packed:
        packed.writestr("x.txt", LONG)
    raw = path.read_bytes().replace(b"x.txt", "ä.tx".encode()[:5])
    path.write_bytes(raw)  # UTF-8 without the mark that says so
    origins, problems = list_files([("a.zip", path)], 10**9)
    assert "ä.tx" in (problems[0].file if problems else origins[0].name)


def test_entities_of_pages_are_letters_in_xml():
    assert (
        parse_xml(b"<a>x&nbsp;y &eacute; &amp; &bogus2;</a>".replace(b"&bogus2;", b"")).text
        == "x\xa0y \xe9 & "
    )


def test_breaks_part_words_and_nested_tables_come_once():
    page = f"<html><body><article><p>{LONG}<br>Second line</p><p>{LONG}</p><table><tr><td>outer<table><tr><td>inner cell</td></tr></table></td></tr></table></article></body></html>"
    body = read_document("html", page.encode(), "a.html", 10_000).body
    assert "dark.Second" not in body and "Second line" in body
    assert body.count("inner cell") == 1


def test_field_lines_need_to_be_a_block():
    assert read_fields("Date: 3 June 2031\nSource: Wire\n\nWords.").roles == {
        "date": "3 June 2031",
        "source": "Wire",
    }
    assert read_fields("He said: no.\nWords.").end == 0
    assert read_fields("Remember: the date: is near.").end == 0
    found = read_fields("A long night\nBy Ann Bore\nDate: 3 June 2031\nLength: 210 words\n\nWords.")
    assert found.roles["title"] == "A long night" and found.roles["author"] == "Ann Bore"
    assert found.others == {"Length": "210 words"}


def test_a_line_is_pointed_at_and_all_like_it_begin_a_text():
    body = "\n".join(f"Letter {n} to the board\n{LONG} {n}" for n in range(1, 4))
    document = Document(body, "letters")
    assert guess_cut(document) == Cut()
    cut = Cut("begins", "Letter 2 to the board")
    assert [piece.body[:8] for piece in cut_document(document, cut)] == ["Letter 1", "Letter 2", "Letter 3"]
    assert text_starts(document, cut) == [0, 2, 4]
    assert line_shape("----") == line_shape("- - - - -") and line_shape("Headline: A") == line_shape(
        "HEADLINE: B"
    )


def test_what_is_no_transcript_stays_as_it_is():
    recipe = Document("Note: take lamb.\nThen: wait.\nWords follow here and go on.")
    assert find_speakers(recipe) == [] and with_turns(recipe) is recipe
    minutes = Document("\n".join(f"Point {n}: {LONG}" for n in range(30)))
    assert find_speakers(minutes) == []


def test_differences_are_shown_around_the_change():
    before = f"{LONG} " * 5 + "ten lambs " + f"{LONG} " * 5
    found = differences(before, before.replace("ten", "nine"))
    assert [part.text for part in found if part.kind in ("gone", "new")] == ["ten", "nine"]
    assert len("".join(part.text for part in found)) < 300
    shown = [part.text for part in found if part.kind == "same"]
    assert all(piece.strip().split()[0] in before.split() for piece in shown)


NBIB = """PMID- 12345
DP  - 2031 Jun
TI  - Sheep and lynx in
      the upper valley
LID - 10.1/abc [doi]
AB  - We counted 50% of lambs.
FAU - Fell, Cy
FAU - Bore, Ann
JT  - Hill studies

PMID- 12346
TI  - Another
FAU - Fell, Cy
DP  - 2030
"""


def references(content, form):
    found = ReferenceReader(io.BytesIO(content), f"a.{form}", form=form)
    return [dict(zip(found.header, row, strict=True)) for batch in found.batches() for row in batch.rows]


def test_lists_of_medical_databases_and_per_cent_signs():
    first, second = references(NBIB.encode(), "ris")
    assert first["title"] == "Sheep and lynx in the upper valley" and first["year"] == "2031"
    assert (first["authors"], first["doi"], first["container"]) == (
        "Fell, Cy; Bore, Ann",
        "10.1/abc",
        "Hill studies",
    )
    assert second["title"] == "Another"
    (book,) = references(b"% a list\n@book{a, title={50% of lambs}, note={20\\% more}}", "bibtex")
    assert (book["title"], book["note"]) == ("50% of lambs", "20% more")


def test_lines_in_another_encoding_are_repaired_and_told_one_by_one():
    rows = [f"{at},Sch\u00e4fer zahlen f\u00fcr H\u00f6fe" for at in range(6)]
    lines = [row.encode("cp1252" if at in (1, 4) else "utf-8") for at, row in enumerate(rows)]
    reader = TableReader(io.BytesIO(b"\n".join([b"id,text", *lines])), "a.csv")
    read = [",".join(row) for batch in reader.batches() for row in batch.rows]
    assert read == rows
    assert [(problem.row, problem.kept) for problem in reader.problems] == [(3, True), (6, True)]
    assert reader.notices[0].startswith("6 bytes are not UTF-8")
