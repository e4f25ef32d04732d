"""Whatever table passages leave in, the variables of their texts go along."""

import csv
import io

import pytest

from tests.api.test_corpus_station import done

#: Of the five texts, by title.
AGES = {"Nine pages": "31", "Deer": "40", "Kittens": "", "Claims": "52", "Wood": "28"}
TAGS = {"Nine pages": "north; coast", "Deer": "coast", "Kittens": "", "Claims": "north", "Wood": "hill"}


def table(answer):
    assert answer.status_code == 200, answer.text
    return list(csv.DictReader(io.StringIO(answer.content.decode("utf-8-sig"))))


@pytest.fixture
def tables(client, at, coding, runs, filled):
    coding.make("Loss")
    coding.code("Nine pages", "forty lambs", "Loss")
    coding.code("Kittens", "kittens", "Loss")
    run = runs.make()
    words = {"kind": "words", "words": ["lambs", "kittens", "deer"]}
    return {
        "passages": lambda: client.post(f"{at}/passages/export", json={}),
        "concordance": lambda: client.post(
            f"{at}/concordance/export", json={"comparison": {"target": words, "scope": []}, "sort": "date"}
        ),
        "run": lambda: client.post(f"{at}/runs/{run}/export", json={"show": "all"}),
    }


@pytest.mark.parametrize("which", ["passages", "concordance", "run"])
def test_each_row_has_the_variables_of_its_text(tables, which):
    rows = table(tables[which]())
    assert len({row["title"] for row in rows}) >= 2
    for row in rows:
        assert (row["Age"], row["Tags"]) == (AGES[row["title"]], TAGS[row["title"]])


def test_a_variable_called_as_a_column_is_told_from_it(client, at, coding):
    done(client.post(f"{at}/variables", json={"name": "code"}), 201)
    coding.make("Loss")
    coding.code("Deer", "deer", "Loss")
    (row,) = table(client.post(f"{at}/passages/export", json={}))
    assert row["code"] == "Loss" and row["code (variable)"] == ""
