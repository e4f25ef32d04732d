"""Values from a table whose rows are matched to texts."""

import pytest

from tests.conftest import write_table
from tests.store.test_describing import Work, said
from winnower.core.errors import ReadError
from winnower.jobs.filling import fill_from_table, table_rows
from winnower.store import undo


@pytest.fixture
def fill(database, settings, project, account, deliver, news, tmp_path):
    deliver(news)
    work = Work(database, settings, project, account)

    def run(rows, header, key, columns, by="key", name="more.csv", **options):
        path = write_table(tmp_path / name, rows, header, **options)

        def change(recorder, corpus):
            key_by = by
            if by not in ("key", "source", "title", "date"):
                key_by = next(k for k, called in corpus().columns.names.items() if called == by)
            chosen = [
                {
                    **column,
                    "field": next(
                        (k for k, n in corpus().columns.names.items() if n == column.get("field")),
                        column.get("field"),
                    ),
                }
                for column in columns
            ]
            table = table_rows((name, path), 10**7, 10**7)
            return fill_from_table(recorder, corpus, table, key, key_by, chosen)

        return work.do(change)

    run.work = work
    return run


def values(work, name):
    return {text["Title"]: text.get(name) for text in said(work.corpus()).values()}


def test_new_variables_of_every_kind_and_undo(fill):
    header = ["nr", "cat", "many", "num", "day", "free"]
    rows = [
        ["1", "a", "x; y", "1,5", "3 June 2031", "words"],
        ["2", "b", "", "", "", ""],
        ["7", "c", "", "2", "", ""],
    ]
    kinds = {"cat": "category", "many": "several", "num": "number", "day": "date", "free": "text"}
    before = said(fill.work.corpus())
    report = fill(rows, header, "nr", [{"column": c, "name": c, "kind": k} for c, k in kinds.items()])
    assert (report["rows"], report["matched_rows"], report["unmatched"]) == (3, 2, ["7"])
    assert report["changed"] == 6 and not report["bad_values"]
    assert values(fill.work, "cat")["Nine pages"] == "a" and values(fill.work, "many")["Nine pages"] == [
        "x",
        "y",
    ]
    assert values(fill.work, "day")["Nine pages"] == "2031-06-03" and values(fill.work, "cat")["Deer"] == "b"
    fill.work.step(undo.undo)
    assert said(fill.work.corpus()) == before


def test_by_a_field_many_texts_can_match_one_row(fill):
    report = fill(
        [["Hill Farmer", "trade"], ["Nobody", "x"]],
        ["paper", "kind"],
        "paper",
        [{"column": "kind", "name": "Kind"}],
        by="source",
    )
    assert report["texts"] == sum(v == "Hill Farmer" for v in values(fill.work, "Source").values())
    assert report["unmatched"] == ["Nobody"]
    report = fill([["40", "forty"]], ["age", "word"], "age", [{"column": "word", "name": "Word"}], by="Age")
    assert report["texts"] == 1 and values(fill.work, "Word")["Deer"] == "forty"


def test_known_variables_are_filled_and_bad_or_empty_cells_leave_what_is_there(fill):
    before = values(fill.work, "Age")
    report = fill(
        [["1", "seven"], ["2", ""], ["3", "8"]], ["id", "age"], "id", [{"column": "age", "field": "Age"}]
    )
    after = values(fill.work, "Age")
    assert (report["changed"], report["bad_values_total"]) == (1, 1)
    assert "Row 2: “seven” is not a number" in report["bad_values"][0]
    assert {t for t in before if before[t] != after[t]} == {"Kittens"}


def test_the_last_row_counts_where_a_key_comes_twice(fill):
    fill([["1", "old"], ["1", "new"]], ["id", "wave"], "id", [{"column": "wave", "name": "Wave"}])
    assert values(fill.work, "Wave")["Nine pages"] == "new"


def test_sources_and_dates_can_be_filled(fill):
    fill(
        [["1", "Valley Wire", "2031-12-24"]], ["id", "paper", "day"], "id",
        [{"column": "paper", "field": "source"}, {"column": "day", "field": "date"}],
    )  # fmt: skip
    text = next(t for t in said(fill.work.corpus()).values() if t["Title"] == "Nine pages")
    assert (text["Source"], text["Date"]) == ("Valley Wire", "2031-12-24")


def test_missing_columns_and_files_that_are_no_tables_are_told(fill, tmp_path):
    with pytest.raises(ReadError, match="no column “wave”. Columns: id, x"):
        fill([["1", "a"]], ["id", "x"], "id", [{"column": "wave", "name": "W"}])
    with pytest.raises(ReadError, match="not a table"):
        fill([["1"]], ["id"], "id", [{"column": "id", "name": "W"}], name="x.txt")
