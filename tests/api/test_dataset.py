"""Tables for statistics over HTTP: what they hold, read back with two libraries."""

import io
import zipfile

import pandas as pd
import polars as pl
import pyarrow.parquet as pq
import pyreadstat
import pytest
from python_calamine import CalamineWorkbook

from tests.api.test_corpus_station import done, problem, wait_for
from winnower.core.dataset import About, Names
from winnower.writers.statistics_files import write_statistics


@pytest.fixture
def data(client, at):
    def ask(**asked):
        return done(client.post(f"{at}/data/preview", json=asked))

    return ask


@pytest.fixture
def export(client, at):
    def ask(form, **asked):
        answer = client.post(f"{at}/data/export?form={form}", json=asked)
        assert answer.status_code == 200, answer.text
        return answer.content

    return ask


def unpacked(content):
    return {
        one: zipfile.ZipFile(io.BytesIO(content)).read(one)
        for one in zipfile.ZipFile(io.BytesIO(content)).namelist()
    }


def column(found, name):
    at = [one["name"] for one in found["columns"]].index(name)
    return [row[at] for row in found["cells"]]


def test_texts_with_their_values_counts_codes_and_tone(data, coding, filled):
    coding.make("Loss")
    coding.make("Herds", under="Loss")
    coding.code("Nine pages", "The lambs are gone", "Loss")
    coding.code("Nine pages", "forty lambs", "Herds")
    found = data(
        targets=[{"kind": "dictionary", "dictionary": filled}, {"kind": "codes"}], tone=0, words=True
    )
    assert (found["noun"], found["rows"]) == ("texts", 5)
    assert column(found, "title") == ["Nine pages", "Deer", "Kittens", "Claims", "Wood"]
    assert column(found, "age") == [31, 40, None, 52, 28]
    assert column(found, "tags") == ["north; coast", "coast", None, "north", "hill"]
    assert column(found, "date")[4] is None and column(found, "date")[0] == "2031-06-03"
    assert column(found, "frames_livelihood") == [4, 0, 1, 2, 0]
    assert column(found, "frames_ecology") == [0, 3, 0, 0, 2]
    assert column(found, "frames_ecology_trees") == [0, 0, 0, 0, 1]
    assert column(found, "code_loss") == [2, 0, 0, 0, 0] and column(found, "code_loss_herds") == [
        1,
        0,
        0,
        0,
        0,
    ]
    assert all(-1 <= one <= 1 for one in column(found, "tone"))
    assert column(found, "words_of_row")[4] == "The wood is quiet and the birch grows."
    told = {one["name"]: one for one in found["columns"]}
    assert told["age"]["kind"] == "whole number" and told["age"]["values"] == "28 to 52"
    assert (
        "“Livelihood”" in told["frames_livelihood"]["how"] and "several values" in told["tags"]["how"].lower()
    )


def test_codes_as_0_and_1_and_by_the_words_they_cover(data, coding, filled):
    coding.make("Loss")
    coding.make("Herds", under="Loss")
    coding.code("Nine pages", "The lambs are gone", "Loss")
    coding.code("Nine pages", "forty lambs", "Herds")
    coding.code("Nine pages", "lost forty lambs", "Herds")
    asked = {"targets": [{"kind": "codes"}]}
    loss, herds = "code_loss", "code_loss_herds"
    for counted, first in (("hits", [3, 2]), ("flags", [1, 1]), ("words", [7, 3])):
        found = data(**asked, counted=counted)
        assert [column(found, name)[0] for name in (loss, herds)] == first
        assert column(found, loss)[1:] == [0] * 4
    sentences = data(**asked, rows="sentence", counted="words")
    assert column(sentences, loss)[:2] == [4, 3]
    about = next(one for one in data(**asked, counted="flags")["columns"] if one["name"] == loss)
    assert about["values"] == "0, 1" and about["how"].startswith("1 where the row has passages of “Loss”")


def test_sentences_passages_and_decisions(data, coding, colleague, filled):
    coding.make("Loss")
    coding.make("Herds")
    coding.code("Nine pages", "The lambs are gone. “We lost forty lambs,” she said.", "Loss")
    colleague.code("Nine pages", "forty lambs", "Herds")
    found = data(rows="sentence", targets=[{"kind": "codes"}], words=True, fields=["title"])
    assert found["rows"] == 10
    assert column(found, "words_of_row")[:3] == [
        "The lambs are gone.",
        "“We lost forty lambs,” she said.",
        "A flock is a flock.",
    ]
    assert column(found, "code_loss")[:3] == [1, 1, 0] and column(found, "code_herds")[:3] == [0, 1, 0]
    assert column(found, "sentence")[:5] == [1, 2, 3, 1, 2] and column(found, "paragraph")[3:5] == [1, 2]
    found = data(rows="passage", words=True, tone=0, fields=["source"])
    assert column(found, "words_of_row") == [
        "The lambs are gone. “We lost forty lambs,” she said.",
        "forty lambs",
    ]
    assert column(found, "coder")[1] == "Orla Venn" and column(found, "by_run") == [0, 0]
    assert column(found, "source") == ["Hill Farmer"] * 2
    found = data(rows="decision", fields=[])
    rows = list(zip(column(found, "coder"), column(found, "code"), column(found, "coded"), strict=True))
    assert ("Orla Venn", "Herds", 1) in rows and ("Orla Venn", "Loss", 0) in rows and len(rows) == 4


def test_a_scope_narrows_and_nothing_is_a_table_without_rows(data, export, filled):
    only = [{"kind": "values", "field": "source", "values": ["Hill Farmer"]}]
    assert data(scope=only)["rows"] == 2
    nothing = [{"kind": "terms", "terms": ["nowhere"]}]
    for rows in ("text", "sentence", "passage", "decision"):
        found = data(scope=nothing, rows=rows, words=True, tone=0)
        assert found["rows"] == 0 and found["cells"] == []
        for form in ("csv", "xlsx", "parquet"):
            assert export(form, scope=nothing, rows=rows, words=True, tone=0)


def test_what_is_exported_is_read_back_the_same(export, data, filled, client, at):
    asked = {"targets": [{"kind": "dictionary", "dictionary": filled}], "words": True, "tone": 0}
    names = [one["name"] for one in data(**asked)["columns"]]
    files = unpacked(export("csv", **asked))
    described = pl.read_csv(files["columns.csv"])
    assert described["name"].to_list() == names and described["how it was made"].null_count() == 0
    table = pl.read_csv(files["data.csv"], try_parse_dates=True)
    assert table.columns == names and table["frames_livelihood"].to_list() == [4, 0, 1, 2, 0]
    other = pd.read_csv(io.BytesIO(files["data.csv"]))
    assert other["age"].sum() == 151 and list(other.columns) == names
    files = unpacked(export("parquet", **asked))
    parquet = pl.read_parquet(io.BytesIO(files["data.parquet"]))
    assert parquet.schema["date"] == pl.Date and parquet.equals(table.cast(dict(parquet.schema)))
    assert pd.read_parquet(io.BytesIO(files["data.parquet"]))["frames_ecology"].tolist() == [0, 3, 0, 0, 2]
    field = pq.read_schema(io.BytesIO(files["data.parquet"])).field("age")
    assert field.metadata[b"label"] == b"Age"
    book = CalamineWorkbook.from_filelike(io.BytesIO(export("xlsx", **asked)))
    assert book.sheet_names == ["Data", "Columns", "About"]
    rows, listed = (book.get_sheet_by_name(name).to_python() for name in ("Data", "Columns"))
    assert rows[0] == names and rows[1][names.index("age")] == 31
    assert [row[0] for row in listed][1:] == names
    assert "version 1" in str(listed), "what leaves is counted with a kept version"
    assert export("csv", **asked) == export("csv", **asked)


def test_cells_that_are_no_formulas(export, client, at, filled):
    done(client.post(f"{at}/variables", json={"name": "=Sum", "kind": "text"}), 201)
    text = unpacked(export("csv"))["columns.csv"].decode()
    assert "'=Sum" in text and "sum," in text


def test_what_does_not_fit_is_said(client, at, filled, coding):
    for asked, words in (
        ({"rows": "word"}, "rows"),
        ({"fields": ["v999999"]}, "no field"),
        ({"targets": [{"kind": "codes"}]}, "no codes"),
        ({"targets": [{"kind": "dictionary", "dictionary": 999_999}]}, "no such dictionary"),
        ({"tone": 999_999}, "no such word list"),
    ):
        answer = client.post(f"{at}/data/preview", json=asked)
        assert answer.status_code in (404, 422), answer.text
        problem(answer, answer.status_code, words)
    coding.make("Loss")
    coding.code("Nine pages", "The lambs are gone", "Loss")
    inside = [{"kind": "inside", "codes": ["Loss"]}]
    problem(
        client.post(f"{at}/data/preview", json={"scope": inside, "words": True}), 422, "fits rows of texts"
    )
    assert done(client.post(f"{at}/data/preview", json={"scope": inside}))["rows"] == 1


def test_several_values_are_columns_of_0_and_1(data, filled):
    found = data(spread=True)
    names = [one["name"] for one in found["columns"]]
    assert names[names.index("tags") :][:4] == ["tags", "tags_coast", "tags_hill", "tags_north"]
    assert column(found, "tags_north") == [1, 0, None, 1, 0]
    assert column(found, "tags_coast") == [1, 1, None, 0, 0]


@pytest.mark.parametrize("form", ["sav", "dta"])
def test_files_of_statistics_programs_carry_labels(export, filled, form, tmp_path):
    found = unpacked(export(form, spread=True, words=True))
    assert set(found) == {f"data.{form}", "columns.csv", "about.txt"}
    path = tmp_path / f"data.{form}"
    path.write_bytes(found[f"data.{form}"])
    read = pyreadstat.read_sav if form == "sav" else pyreadstat.read_dta
    frame, told = read(str(path))
    assert frame["title"].tolist() == ["Nine pages", "Deer", "Kittens", "Claims", "Wood"]
    assert frame["age"].tolist()[:2] == [31, 40] and frame["age"].isna().tolist()[2]
    values = told.variable_value_labels["source"]
    assert [values[one] for one in frame["source"][:2]] == ["Hill Farmer", "Orrin Courier"]
    assert told.column_names_to_labels["tags_north"].startswith("Tags: north")
    assert "Orrin Courier" in values.values()


def test_long_names_and_words_fit_files_of_statistics_programs(tmp_path):
    names = Names()
    labels = [f"{'What do you think of the lynx in the valley ' * 8}{n}" for n in range(3)]
    abouts = [About(names.of(label), label, "text", "", "Of the text.") for label in labels]
    frame = pl.DataFrame({one.name: ["ä" * 40_000, None] for one in abouts})
    for form, most in (("sav", 32_000), ("dta", 2_045)):
        told = write_statistics(tmp_path / f"a.{form}", form, abouts, 2, [frame])
        assert len(told) == 3 and f"{most:,} bytes" in told[0]
        read = pyreadstat.read_sav if form == "sav" else pyreadstat.read_dta
        found, meta = read(str(tmp_path / f"a.{form}"))
        assert len(set(found.columns)) == 3 and all(len(one) <= 60 for one in found.columns)
        assert len(found.iloc[0, 0].encode()) in (most, most - 1)
        assert all(len(one.encode()) <= 250 for one in meta.column_labels)


SURVEY = [
    ["who", "age", "What is lost?", "What next?"],
    ["R1", "31", "Lambs, and more lambs.", "Pay for the lambs."],
    ["R2", "40", "Nothing.", ""],
    ["R3", "52", "", "Count the deer."],
]


@pytest.fixture
def survey(client, at, filled):
    """Answers of three people to two questions; who answered is a key and a variable."""
    table = "\n".join(";".join(row) for row in SURVEY).encode()
    sent = client.post(f"{at}/uploads", files=[("files", ("survey.csv", table, "text/csv"))]).json()["id"]
    targets = [
        {"column": "who", "role": "key"},
        {"column": "who", "role": "variable", "name": "Respondent", "kind": "category"},
        {"column": "age", "role": "variable", "name": "Years", "kind": "number"},
        {"column": "What is lost?", "role": "text", "name": "lost"},
        {"column": "What next?", "role": "text", "name": "next"},
    ]
    looked = done(client.post(f"{at}/uploads/{sent}/preview", json={"lots": {}}))
    (lot,) = looked["lots"]
    choice = lot["choice"] | {"mapping": lot["choice"]["mapping"] | {"targets": targets, "layout": "answers"}}
    job = done(client.post(f"{at}/imports", json={"upload_id": sent, "lots": {lot["key"]: choice}}), 201)
    ended = wait_for(client, at, job["id"])
    assert ended["state"] == "done", ended
    return {one["name"]: one["key"] for one in client.get(f"{at}/variables").json()}


def test_a_respondent_is_a_row_with_answers_and_counts_side_by_side(data, export, survey):
    words = {"kind": "words", "words": ["lambs", "deer"]}
    asked = {
        "rows": "unit", "unit": survey["Respondent"], "across": survey["Question"], "targets": [words],
        "fields": [survey["Years"]], "words": True,
    }  # fmt: skip
    found = data(**asked)
    assert found["rows"] == 3 and found["noun"] == "values of Respondent"
    assert column(found, "respondent") == ["R1", "R2", "R3"]
    assert column(found, "texts") == [2, 1, 1] and column(found, "years") == [31, 40, 52]
    assert column(found, "lost_lambs") == [2, 0, None]
    assert column(found, "next_lambs") == [1, None, 0] and column(found, "next_deer") == [0, None, 1]
    assert column(found, "lost") == ["Lambs, and more lambs.", "Nothing.", None]
    together = data(**asked | {"across": None, "words": False})
    assert column(together, "lambs") == [3, 0, 0]
    questions = data(**asked | {"across": None, "words": False, "fields": [survey["Question"]]})
    assert column(questions, "question") == [None, "lost", "next"]  # R1 answered both
    told = next(one["how"] for one in questions["columns"] if one["name"] == "question")
    assert told == "The value of the row’s texts. Empty in 1 row whose texts differ."
    flags = data(**asked | {"counted": "flags"})
    assert column(flags, "lost_lambs") == [1, 0, None] and column(flags, "next_lambs") == [1, None, 0]
    frame = pl.read_csv(io.BytesIO(unpacked(export("csv", **asked))["data.csv"]))
    assert frame.height == 3 and frame["lost_lambs"].to_list() == [2, 0, None]


def test_what_cannot_be_rows_of_units_is_told(client, at, survey):
    def refused(words, **asked):
        problem(client.post(f"{at}/data/preview", json={"rows": "unit", **asked}), 422, words)

    refused("need the field")
    refused("another field", unit="source", across="source")
    refused("choose texts or sentences", unit="source", tone=0)
    refused("choose texts or sentences", unit="source", spread=True)
    refused("several values", unit=survey["Tags"])
