"""The first look at files: guesses, samples and problems before anything is stored."""

from dataclasses import replace

import pytest

from tests.conftest import NEWS_ROWS, write_table
from winnower.jobs import look as found_look
from winnower.jobs import preview
from winnower.jobs.preview import first_look
from winnower.jobs.sources import mapping_to_plain
from winnower.readers import Mapping, Target


@pytest.fixture
def look(settings):
    def run(*paths, **options):
        return first_look([(path.name, path) for path in paths], settings, **options)

    return run


def test_a_table_is_guessed_and_sampled(look, news):
    found = look(news)
    lot = found.lots[0]
    assert {t.column: t.role for t in lot.mapping.targets} == {
        "id": "key",
        "title": "title",
        "source": "source",
        "date": "date",
        "text": "text",
        "tags": "variable",
        "age": "variable",
    }
    assert lot.samples.title[:2] == ["Nine pages", "Deer"]
    assert (found.checked, found.everything, found.problems_total) == (5, True, 0)


def chosen(look, path, mapping, **choice):
    """A look with a mapping given for the only lot."""
    key = look(path).lots[0].lot.key
    return look(path, lots={key: {"mapping": mapping_to_plain(mapping), **choice}})


def test_a_given_mapping_is_taken_and_a_kept_one_is_offered(look, news):
    mapping = Mapping((Target("text", "text"), Target("source", "variable", "Paper", "category")))
    found = chosen(look, news, mapping).lots[0]
    assert found.mapping == mapping
    assert list(found.samples.values) == ["Paper"]
    assert not found.kept
    kept = look(news, kept={found.lot.key: {"mapping": mapping_to_plain(mapping)}}).lots[0]
    assert (kept.mapping, kept.kept) == (mapping, True)


def test_problems_are_counted_beyond_those_listed(look, tmp_path, monkeypatch):
    monkeypatch.setattr(found_look, "MOST_PROBLEMS", 3)
    rows = [
        [str(i), "t", "s", "2031-01-01", "" if i % 2 else "A text about lambs.", "", ""] for i in range(20)
    ]
    found = look(write_table(tmp_path / "a.csv", rows))
    assert (len(found.problems), found.problems_total) == (3, 10)


def test_it_stops_looking_after_its_time_and_says_so(look, tmp_path, monkeypatch):
    from winnower.readers import tables

    monkeypatch.setattr(tables, "ROWS_AT_ONCE", 5)
    monkeypatch.setattr(preview, "SECONDS", -1)
    found = look(write_table(tmp_path / "a.csv", NEWS_ROWS * 5))
    assert (found.checked, found.everything) == (1, False)


def test_tables_with_the_same_columns_and_loose_files_make_lots(look, tmp_path, news):
    (tmp_path / "note.txt").write_text("A note on ewes.")
    second = write_table(tmp_path / "second.csv", NEWS_ROWS)
    found = look(news, second, tmp_path / "note.txt")
    assert [(lot.lot.label, len(lot.lot.origins)) for lot in found.lots] == [("Tables", 2), ("Plain text", 1)]
    assert found.lots[1].samples.title == ["note"]
    assert found.everything


def test_an_empty_table_a_missing_header_and_a_chosen_encoding(look, tmp_path):
    found = look(write_table(tmp_path / "a.csv", []))
    assert "no rows" in found.problems[0].reason
    (tmp_path / "b.csv").write_text("\n\n")
    assert "is empty" in look(tmp_path / "b.csv").problems[0].reason
    (tmp_path / "c.csv").write_bytes("id,text\n1,żółw i owca na wzgórzu dzisiaj\n".encode("cp1250"))
    mapping = Mapping((Target("text", "text"),))
    assert chosen(look, tmp_path / "c.csv", mapping, encoding="cp1250").lots[0].rows[0][1].startswith("żółw")


def test_a_text_that_is_too_long_is_told_before(settings, tmp_path):
    path = write_table(
        tmp_path / "a.csv",
        [["1", "t", "s", "", "x" * 500, "", ""], ["2", "t", "s", "", "A fine short text.", "", ""]],
    )
    found = first_look([("a.csv", path)], replace(settings, limit_text_chars=400))
    assert "the limit is 400" in found.problems[0].reason
