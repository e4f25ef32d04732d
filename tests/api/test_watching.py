"""A watched folder: what arrives is imported once, whole, and one bad file ends nothing."""

import os

import pytest

from tests.conftest import NEWS_ROWS, write_table
from winnower.cli.watching import Arrivals, watch


class Ended(Exception):
    pass


def watched(folder, *steps, fails=0):
    """What is handed over when the folder changes by ``steps``, one between two looks; the first ``fails`` times it cannot
    be taken."""
    taken, left = [], list(steps)

    def take(paths):
        taken.append([path.name for path in paths])
        return len(taken) > fails

    def wait():
        if not left:
            raise Ended
        left.pop(0)()

    with pytest.raises(Ended):
        watch(Arrivals(folder), take, wait)
    return taken


def nothing():
    pass


def test_a_file_is_handed_over_once_when_it_is_no_longer_being_written(tmp_path):
    def write(words):
        return lambda: (tmp_path / "a.csv").write_text(words)

    assert watched(tmp_path, write("a"), write("ab"), write("abc"), nothing, nothing) == [["a.csv"]]


def test_what_could_not_be_taken_for_now_is_tried_until_it_is(tmp_path):
    (tmp_path / "a.csv").write_text("a")
    assert watched(tmp_path, *[nothing] * 5, fails=2) == [["a.csv"]] * 3


def test_what_has_changed_is_handed_over_again_and_hidden_files_never(tmp_path):
    (tmp_path / ".part").write_text("x")
    (tmp_path / "~lock.csv").write_text("x")
    (tmp_path / "b.csv").write_text("x")
    (tmp_path / "in").mkdir()
    (tmp_path / "in" / "a.csv").write_text("x")

    def change():
        (tmp_path / "b.csv").write_text("longer")

    assert watched(tmp_path, nothing, change, nothing, nothing) == [["b.csv", "a.csv"], ["b.csv"]]


def test_a_folder_that_goes_is_told_once_and_looked_at_when_it_is_back(tmp_path, capsys):
    folder = tmp_path / "in"
    folder.mkdir()
    away = tmp_path / "away"

    def back():
        os.rename(away, folder)
        (folder / "a.csv").write_text("x")

    assert watched(folder, lambda: os.rename(folder, away), nothing, back, nothing) == [["a.csv"]]
    assert capsys.readouterr().err.count("is not there") == 1


def test_the_command_takes_a_delivery_skips_what_is_known_and_goes_on_after_a_bad_file(tmp_path, winnower):
    folder = tmp_path / "arrivals"
    folder.mkdir()
    winnower("project", "new", "Arriving")
    assert "Nothing has arrived" in winnower("watch", "Arriving", folder, "--once").stderr
    write_table(folder / "news.csv", NEWS_ROWS)
    first = winnower("watch", "Arriving", folder, "--once")
    assert f"new {len(NEWS_ROWS)}, known 0" in first.stdout
    (folder / "broken.xlsx").write_bytes(b"PK\x03\x04 no workbook")
    write_table(folder / "more.csv", NEWS_ROWS[:2])
    again = winnower("watch", "Arriving", folder, "--once")
    assert "broken.xlsx" in again.stdout + again.stderr
    assert f"known {len(NEWS_ROWS) + 2}" in again.stdout
