"""Means of numbers and of tone over HTTP: tables, passages by their number, findings, refusals."""

import csv
import io

import numpy as np
import pytest
from scipy import stats

from tests.api.coding_work import Coding
from tests.api.making_runs import Runs
from tests.api.test_api import problem
from tests.api.test_corpus_station import done
from tests.conftest import write_table
from tests.valley import valley_rows
from winnower.core.tone import score, shipped

SOURCE = {"field": "source"}
#: Readers of the Farmer are older; one text says nothing of it.
AGES = [str(60 + n % 5 if n % 2 == 0 else 30 + n % 7) for n in range(30)]


@pytest.fixture
def key(client, at, deliver, tmp_path):
    """Of the variable Age."""
    rows = [
        [*row[:6], age if n else ""] for n, (row, age) in enumerate(zip(valley_rows(), AGES, strict=True))
    ]
    deliver(write_table(tmp_path / "valley.csv", rows))
    fields = client.get(f"{at}/fields").json()
    return next(one["key"] for one in fields if one["name"] == "Age")


@pytest.fixture
def tone(client, at, database, settings, key):
    """A run of tone over all sentences."""
    runs = Runs(client, at, database, settings, 0)
    bands = ["strongly negative", "negative", "neutral", "positive", "strongly positive"]
    run = runs.make(
        {"finder": {"kind": "tone", "bands": bands}, "unit": "sentence"}, parent_name="Tone", state="applied"
    )
    return run, runs


def of_field(key, measure="mean", **more):
    target = {"kind": "numbers", "numbers": [{"kind": "field", "field": key}]}
    return {"target": target, "split": SOURCE, "measure": measure, **more}


def of_tone(run, **more):
    return {
        "target": {"kind": "numbers", "numbers": [{"kind": "tone", "run": run}]},
        "measure": "mean",
        **more,
    }


def compare(client, at, asked):
    return done(client.post(f"{at}/compare", json=asked))


def test_a_mean_of_a_variable_and_its_interval(client, at, key):
    found = compare(client, at, of_field(key))
    assert [group["label"] for group in found["groups"]] == ["Hill Farmer", "Orrin Courier"]
    cells = found["rows"][0]["cells"]
    some = np.array([float(age) for age in AGES[2::2]])
    low, high = stats.t.interval(0.95, len(some) - 1, some.mean(), stats.sem(some))
    assert [cells[0][name] for name in ("value", "low", "high")] == pytest.approx([some.mean(), low, high])
    assert (cells[0]["hits"], cells[0]["texts"], cells[0]["stands_out"]) == (14, 14, 1)
    assert found["measure"]["needs"] == "numbers" and found["rows"][0]["evenness"] is None
    assert found["statements"][0]["headline"].startswith("The mean Age is about ")
    assert found["test"]["gap"]["against"] == "Orrin Courier" and found["test"]["mix"] is None
    by_month = compare(client, at, of_field(key, split={"field": "date", "period": "week"}))
    assert len(by_month["groups"]) == 5
    changes = done(
        client.post(
            f"{at}/compare/changes",
            json={"comparison": of_field(key, split={"field": "date", "period": "day"}), "window": 3},
        )
    )
    assert 30 < changes["smooth"][0]["values"][0] < 65 and changes["statements"]


def test_passages_stand_by_their_number(client, at, key):
    asked = {"comparison": of_field(key), "cell": {"row": key, "group": "Hill Farmer"}}
    found = done(client.post(f"{at}/evidence", json={**asked, "order": "high", "most": 200}))
    numbers = [one["number"] for one in found["passages"]]
    assert numbers == sorted(map(float, AGES[2::2]), reverse=True) and found["hits"] == 14
    lowest = done(client.post(f"{at}/evidence", json={**asked, "order": "low", "most": 3}))
    assert [one["number"] for one in lowest["passages"]] == numbers[::-1][:3] and lowest["next"] == 3
    assert lowest["wordless"] == 0
    by_date = done(client.post(f"{at}/evidence", json=asked))
    assert [one["date"] for one in by_date["passages"]] == sorted(one["date"] for one in by_date["passages"])
    terms = {"target": {"kind": "terms", "terms": [{"source": "lamb"}]}}
    refused = client.post(f"{at}/evidence", json={"comparison": terms, "order": "high"})
    problem(refused, 422, "one number")


def test_tone_is_the_mean_of_its_sentences_without_those_judged_wrong(client, at, tone):
    run, runs = tone
    found = compare(client, at, of_tone(run))
    sentences = [one + "." for row in valley_rows() for one in row[4].removesuffix(".").split(". ")]
    scores = np.round(score(sentences, shipped("english"))[0], 3)
    cell = found["rows"][0]["cells"][0]
    assert cell["value"] == pytest.approx(scores.mean(), abs=1e-9)
    assert (cell["hits"], cell["texts"]) == (180, 30)
    asked = {"comparison": of_tone(run), "cell": {"row": f"tone {run}"}, "order": "high", "most": 200}
    best = done(client.post(f"{at}/evidence", json=asked))["passages"][0]
    assert best["text"] == "A lovely day on the road." and best["number"] == pytest.approx(scores.max())
    # a coded sentence that is judged wrong is in no mean any more, and the answer follows at once
    item = next(one for one in runs.items(run, order="score") if one["score"] > 0.5)
    runs.judge(run, item, verdict=0)
    assert compare(client, at, of_tone(run))["rows"][0]["cells"][0]["hits"] == 179


def test_a_finding_of_means_tells_what_changed_and_is_set_beside_other_texts(client, at, key, tone):
    run, runs = tone
    both = {"kind": "numbers", "numbers": [{"kind": "field", "field": key}, {"kind": "tone", "run": run}]}
    view = {"view": "comparison", "comparison": {"target": both, "split": SOURCE, "measure": "mean"}}
    kept = done(client.post(f"{at}/findings", json={"view": view, "title": "Age and tone"}), 201)
    assert done(client.get(f"{at}/findings/{kept['id']}"))["same"]
    runs.judge(run, runs.items(run)[0], verdict=0)
    listed = client.get(f"{at}/findings").json()["findings"][0]
    assert listed["changed"] == ["the coding"]
    again = done(client.get(f"{at}/findings/{kept['id']}"))
    assert not again["same"] and any(one["column"] == "values" for one in again["cells"])
    younger = [{"kind": "numbers", "field": key, "low": None, "high": 45}]
    beside = done(client.post(f"{at}/findings/{kept['id']}/beside", json={"scope": younger}))
    assert beside["unit"] == "mean" and "in both scopes" in beside["statements"][0]["headline"]
    for form in ("csv", "xlsx", "txt", "json", "svg", "png"):
        answer = client.post(f"{at}/findings/export?form={form}", json={"findings": [kept["id"]]})
        assert answer.status_code == 200, form
    table = client.post(f"{at}/compare/export?form=csv", json=view["comparison"]).content.decode("utf-8-sig")
    rows = list(csv.DictReader(io.StringIO(table)))
    assert len(rows) == 4 and rows[0]["number"] == "Age" and float(rows[0]["median"]) > 60


def test_a_number_that_is_gone_or_is_none_is_told(client, at, key, tone):
    run, runs = tone
    problem(client.post(f"{at}/compare", json=of_field("source")), 422, "does not hold numbers")
    problem(client.post(f"{at}/compare", json=of_field("v999")), 422, "no field")
    problem(client.post(f"{at}/compare", json=of_tone(999_999)), 404, "run")
    by_code = of_field(key, split={"codes": ["Tone > Negative"]})
    problem(client.post(f"{at}/compare", json=by_code), 422, "whole texts")
    problem(client.post(f"{at}/compare", json=of_field(key, measure="rate")), 422, "mean")
    other = runs.make(
        {"finder": {"kind": "search", "query": "lamb"}, "unit": "sentence"}, parent_name="Lambs"
    )
    problem(client.post(f"{at}/compare", json=of_tone(other)), 422, "did not look for tone")
    problem(client.post(f"{at}/compare/map", json=of_field(key)), 422, "numbers have none")
    pairs = {"rows": of_field(key)["target"], "within": "text"}
    problem(client.post(f"{at}/together", json=pairs), 422, "compare their means")


def test_means_by_larger_units_and_in_a_scope(client, at, key):
    whole = compare(client, at, of_field(key, unit="date"))
    assert whole["unit"] == "“Date”"
    narrowed = [{"kind": "numbers", "field": key, "low": 50, "high": None}]
    found = compare(client, at, of_field(key, scope=narrowed))
    assert [one["label"] for one in found["groups"]] == ["Hill Farmer"]
    assert found["statements"][0]["headline"] == "There is only one group, so there is nothing to test."


def test_how_many_passages_a_text_has_follows_the_coding(client, at, key):
    coding = Coding(client, at)
    coding.make("Losses")
    coding.code("Text 00", coding.body("Text 00")[:20], "Losses")

    def mean():
        cells = compare(client, at, of_field("passages"))["rows"][0]["cells"]
        return [one["value"] for one in cells]

    assert mean() == pytest.approx([1 / 15, 0])
    coding.code("Text 01", coding.body("Text 01")[:20], "Losses")
    assert mean() == pytest.approx([1 / 15, 1 / 15])
