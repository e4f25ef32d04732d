"""What the method section and the tables of a report say, after work of every kind in a project."""

import pytest

from tests.api.making_runs import Runs
from tests.api.test_corpus_station import ids
from tests.api.test_reports import Reports
from tests.conftest import NEWS_MAPPING, write_table


@pytest.fixture
def reports(client, at):
    return Reports(client, f"{at}/reports", at)


def told(reports, *kinds):
    report = reports.begin()
    reports.add(report, *({"kind": kind} for kind in kinds))
    return [part["blocks"] for part in reports.read(report)["parts"]]


def words_of(blocks):
    return " ".join(one.get("html", "") for one in blocks)


def test_verdicts_on_hits_and_runs_are_in_the_tables_and_in_the_method(
    client, at, station, filled, database, settings, reports
):
    life = station.category("Livelihood")["id"]
    sample = station.judge(life, "samples", 201, size=50, seed=7)
    items = client.get(f"{station.review}/samples/{sample['id']}").json()["items"]
    for at_item, item in enumerate(items[:4]):
        place = {name: item[name] for name in ("text_id", "start", "end")}
        station.judge(life, "judge", **place, verdict=int(at_item > 0))
    runs = Runs(client, at, database, settings, filled)
    made = runs.make(name="Frames found")
    first, second, *_ = runs.items(made)
    runs.judge(made, first, verdict=1)
    runs.judge(made, second, verdict=0)
    (quality,), method = told(reports, "quality", "method")
    rows = {row[0]: row[1:] for row in quality["rows"]}
    judged = [name for name in rows if name.endswith(": Livelihood")]
    assert rows[judged[0]][:2] == ["4", "3"] and rows["run: Frames found"][:2] == ["2", "1"]
    said = words_of(method)
    for part in (
        "“Frames found”: it found the terms of a dictionary",
        "Of 2 that were judged, 1 was right.",
        "drawn with the seed 7",
    ):
        assert part in said, said


def test_deliveries_hands_and_versions_are_named(client, at, coding, filled, deliver, tmp_path, reports):
    coding.make("Losses")
    coding.code("Nine pages", "forty lambs", "Losses")
    rows = [["99", "Late", "Late Paper", "2032-01-05", "Nobody asked the valley about lambs.", "", ""]]
    deliver(write_table(tmp_path / "second.csv", rows), NEWS_MAPPING)
    overview, method = told(reports, "overview", "method")
    by_source = {row[0]: row[1:] for row in overview[1]["rows"]}
    assert by_source["Late Paper"] == ["1", "6", "6", "2032-01-05 to 2032-01-05"]
    assert sum(int(row[0]) for row in by_source.values()) == len(ids(client, at)) == 6
    said = words_of(method)
    for part in (
        "The corpus has 6 texts",
        "Dated texts run from",
        "to 5 January 2032",
        "The delivery “second.csv”",
        "brought 1 new text",
        "The codebook has 1 code. One passage in 1 text is coded by hand by",
        "Nobody has looked for copies among the texts yet.",
    ):
        assert part in said, said
