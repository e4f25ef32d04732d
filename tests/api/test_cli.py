"""The command line as scripts use it, each command a process of its own."""

import csv
import json
import os
import subprocess
import sys

import pytest
from typer.testing import CliRunner

from tests.conftest import NEWS_ROWS, write_table
from winnower.cli.main import app

DICTIONARY = "category,term\nLivelihood,lamb*\nLivelihood,flock*\nEcology,deer\nEcology,birch\n"


@pytest.fixture(scope="module")
def files(tmp_path_factory):
    folder = tmp_path_factory.mktemp("files")
    write_table(folder / "news.csv", NEWS_ROWS)
    (folder / "frames.csv").write_text(DICTIONARY)
    return folder


COLUMNS = (
    "--text",
    "text",
    "--title",
    "title",
    "--source",
    "source",
    "--date",
    "date",
    "--key",
    "id",
    "--variables",
    "tags,age",
)


@pytest.fixture(scope="module")
def imported(winnower, files):
    winnower("project", "new", "Lynx")
    return json.loads(winnower("import", "Lynx", files / "news.csv", *COLUMNS, "--report", "json").stdout)


def test_import_reports_what_was_new_and_the_second_time_known(winnower, files, imported):
    assert (imported["new"], imported["refused"]) == (5, 0)
    again = json.loads(winnower("import", "Lynx", files / "news.csv", *COLUMNS, "--report", "json").stdout)
    assert (again["new"], again["known"]) == (0, 5)


def test_count_gives_groups_hits_and_tests(winnower, files, imported):
    out = json.loads(
        winnower(
            "count",
            "Lynx",
            "--dictionary",
            files / "frames.csv",
            "--by",
            "source",
            "--measure",
            "rate",
            "--format",
            "json",
        ).stdout
    )
    assert out["groups"] == ["Hill Farmer", "Orrin Courier", "Valley Wire"]
    assert out["rows"] == ["Livelihood", "Ecology"]
    assert out["hits"] == [[6, 0, 1], [0, 4, 0]]
    assert out["texts_with_hit"] == [[2, 0, 1], [0, 2, 0]]
    assert out["texts"] == [2, 2, 1]
    assert out["values"][0][0] == pytest.approx(1000 * 6 / out["words"][0])
    assert "Fewer than two groups" in out["test"]["reason"]
    assert (
        set(out["test"]["customary"]) == {"chi2", "df", "p", "cramers_v"}
        and out["test"]["customary"]["df"] == 2
    )


def test_a_comparison_is_computed_from_its_plain_form(winnower, files, imported, tmp_path):
    terms = [{"source": "lamb*"}, {"source": "deer"}]
    plain = {"target": {"kind": "terms", "terms": terms}, "split": {"field": "source"}, "measure": "hits"}
    request = tmp_path / "request.json"
    request.write_text(json.dumps(plain))
    out = json.loads(winnower("compare", "Lynx", "--request", request, "--format", "json").stdout)
    assert (out["rows"], out["groups"][0]) == (["lamb*", "deer"], "Hill Farmer")
    assert [sum(row) for row in out["hits"]] == [3, 2] and out["comparison"]["form"] == 1
    request.write_text(json.dumps(out["comparison"]))  # what comes back asks for the same
    table = winnower("compare", "Lynx", "--request", request, "--format", "csv").stdout
    assert list(csv.reader(table.splitlines()))[1][0] == "lamb*"
    book = tmp_path / "numbers.xlsx"
    said = winnower("compare", "Lynx", "--request", request, "--format", "xlsx", "--out", book).stdout
    assert "2 rows by 3 groups" in said and book.read_bytes()[:2] == b"PK"


def test_count_as_csv_and_by_a_period(winnower, files, imported):
    out = winnower(
        "count", "Lynx", "--dictionary", files / "frames.csv", "--by", "date:quarter", "--format", "csv"
    ).stdout
    assert list(csv.reader(out.splitlines())) == [
        ["category", "2031-Q2", "2031-Q3", "2031-Q4"],
        ["Livelihood", "4", "2", "1"],
        ["Ecology", "3", "0", "0"],
    ]


def test_concordance_gives_every_hit_in_its_line(winnower, imported):
    out = json.loads(winnower("concordance", "Lynx", "lamb*", "--format", "json").stdout)
    assert (out["hits"], out["texts"], len(out["lines"])) == (3, 2, 3)
    assert [line["hit"] for line in out["lines"]] == ["lambs", "lambs", "lambs"]
    assert out["lines"][1]["sentence"] == "“We lost forty lambs,” she said."


def test_texts_are_listed_with_bodies(winnower, imported):
    rows = [json.loads(line) for line in winnower("texts", "Lynx", "--format", "jsonl").stdout.splitlines()]
    assert [row["title"] for row in rows] == [row[1] for row in NEWS_ROWS]
    assert [row["body"] for row in rows] == [row[4] for row in NEWS_ROWS]
    assert rows[0]["variables"] == {"tags": ["coast", "north"], "age": 31.0} or rows[0]["variables"] == {
        "tags": ["north", "coast"],
        "age": 31.0,
    }


def test_dictionaries_go_in_and_out(winnower, files, imported, tmp_path):
    assert winnower("dictionary", "import", "Lynx", files / "frames.csv").stdout.startswith(
        "4 terms in 2 categories"
    )
    winnower("dictionary", "export", "Lynx", tmp_path / "out.csv")
    with (tmp_path / "out.csv").open(encoding="utf-8-sig") as file:
        assert [(r["category"], r["term"]) for r in csv.DictReader(file)] == [
            tuple(line.split(",")) for line in DICTIONARY.splitlines()[1:]
        ]


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (("count", "Nowhere", "--dictionary", "{files}/frames.csv"), "no project “Nowhere”"),
        (("count", "Lynx", "--dictionary", "{files}/frames.csv", "--by", "colour"), "no field “colour”"),
        (("count", "Lynx", "--dictionary", "{files}/frames.csv", "--by", "source:month"), "is no date"),
        (("count", "Lynx", "--dictionary", "{files}/gone.csv"), "cannot be read"),
        (("count", "Lynx", "--dictionary", "{files}/frames.csv", "--measure", "middle"), "no measure"),
        (("concordance", "Lynx", "*"), "every word"),
        (("import", "Lynx", "{files}/news.csv", "--text", "body"), "no column “body”"),
        (("import", "Lynx", "{files}/gone.csv", "--text", "body"), "no such file"),
        (("project", "new", "x" * 300), "at most 200 characters"),
        (("project", "new", "Lynx"), "already"),
    ],
)
def test_errors_are_one_clear_line_and_a_code(winnower, files, imported, arguments, words):
    # in this process: nine starts of the interpreter would tell nothing more
    environment = {"WINNOWER_DATA": str(winnower.data), "WINNOWER_DATABASE_URL": None}
    done = CliRunner().invoke(app, [a.format(files=files) for a in arguments], env=environment)
    assert done.exit_code == 1, done.output
    last = done.stderr.strip().splitlines()[-1]
    assert last.startswith("winnower: ") and words in last
    assert "Traceback" not in done.stderr


def test_the_database_is_started_and_stopped_where_none_runs(tmp_path, files):
    environment = {**os.environ, "WINNOWER_DATA": str(tmp_path / "own")}
    environment.pop("WINNOWER_DATABASE_URL", None)
    for arguments in (["project", "new", "One"], ["project", "list"]):
        done = subprocess.run(
            [sys.executable, "-m", "winnower", *arguments], capture_output=True, text=True, env=environment
        )
        assert done.returncode == 0, done.stderr
    assert done.stdout.strip().endswith("\tOne")
    assert not (tmp_path / "own" / "mariadb" / "pid").exists()


def test_a_look_shows_how_files_would_be_read_and_stores_nothing(winnower, files, imported):
    shown = winnower("import", "Lynx", files / "news.csv", "--look").stdout
    assert "text: text" in shown and "date: date (day first)" in shown and "5 texts looked at" in shown
    plain = json.loads(winnower("import", "Lynx", files / "news.csv", "--look", "--report", "json").stdout)
    (lot,) = plain["lots"].values()
    assert {t["column"]: t["role"] for t in lot["mapping"]["targets"]}["title"] == "title"
    again = json.loads(winnower("import", "Lynx", files / "news.csv", *COLUMNS, "--report", "json").stdout)
    assert (again["new"], again["known"]) == (0, 5)


def test_a_mapping_is_kept_and_taken_for_the_next_delivery(winnower, files, imported, tmp_path):
    rows = [
        [str(n + 20), f"More {n}", "Hill Farmer", "2031-10-01", f"The flock is back, {n}.", "", ""]
        for n in range(3)
    ]
    more, kept = write_table(tmp_path / "more.csv", rows), tmp_path / "kept.json"
    winnower("import", "Lynx", more, *COLUMNS, "--look", "--keep-mapping", kept)
    lots = json.loads(kept.read_text())["lots"]
    (mapping,) = (lot["mapping"] for lot in lots.values())
    mapping["source_name"] = "Hill Farmer Weekly"
    kept.write_text(json.dumps({"lots": lots}))
    report = json.loads(winnower("import", "Lynx", more, "--mapping", kept, "--report", "json").stdout)
    assert report["new"] == 3
    sources = winnower("texts", "Lynx", "--format", "jsonl").stdout
    assert "Hill Farmer Weekly" in sources


def test_damaged_files_end_no_command_with_a_trace(winnower, files, imported, tmp_path):
    (tmp_path / "damaged.xlsx").write_bytes(b"PK\x03\x04 and nothing more")
    (tmp_path / "deep.json").write_bytes(b"[" * 100_000)
    rows = [
        [str(n + 40), f"Again {n}", "Hill Farmer", "2031-11-01", f"The wolf is back, {n}.", "", ""]
        for n in range(2)
    ]
    good = write_table(tmp_path / "good.csv", rows)
    done = winnower(
        "import", "Lynx", tmp_path / "damaged.xlsx", tmp_path / "deep.json", good, "--report", "json"
    )
    report = json.loads(done.stdout)
    assert report["new"] == 2 and report["refused"] == 2
    assert {place["file"] for place in report["refusals"]} == {"damaged.xlsx", "deep.json"}


@pytest.mark.parametrize("content", ["{}", "[1]", "no json", '{"lots": [1]}'])
def test_a_mapping_that_is_none_is_a_sentence(winnower, files, imported, tmp_path, content):
    (tmp_path / "kept.json").write_text(content)
    done = winnower("import", "Lynx", files / "news.csv", "--mapping", tmp_path / "kept.json", code=1)
    assert "is no mapping kept by --keep-mapping" in done.stderr


def test_columns_are_named_for_the_table_that_has_them_and_the_others_are_left_out(winnower, files, tmp_path):
    winnower("project", "new", "Two tables")
    rows = [
        [str(n), f"Head {n}", "Hill Farmer", "2031-11-01", f"The wolf is back, {n}.", "", ""]
        for n in range(2)
    ]
    good = write_table(tmp_path / "good.csv", rows)
    (tmp_path / "other.csv").write_text("name,amount\nlamb,3\newe,4\n")
    done = winnower("import", "Two tables", tmp_path / "other.csv", good, *COLUMNS, "--report", "json")
    assert json.loads(done.stdout)["new"] == 2


def test_a_column_whose_role_another_one_was_given_stays_as_a_variable(winnower, files):
    plain = json.loads(
        winnower("import", "Lynx", files / "news.csv", "--title", "tags", "--look", "--report", "json").stdout
    )
    (lot,) = plain["lots"].values()
    roles = {target["column"]: target["role"] for target in lot["mapping"]["targets"]}
    assert (roles["tags"], roles["title"], roles["text"]) == ("title", "variable", "text")
