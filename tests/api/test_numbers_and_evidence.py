"""A number and what it opens are the same number of the same thing, for each kind of number."""

import random

import pytest

from tests.api.test_corpus_station import done
from tests.conftest import write_table

WORDS = ("lamb", "flock", "wolf", "market", "board", "gate", "night", "claim")
SOURCES = ("Hill Farmer", "Orrin Courier", "Valley Wire")


@pytest.fixture(params=[1, 2])
def some_texts(request, deliver, tmp_path):
    """Texts of a few words that come again and again, in sentences and paragraphs."""
    rng = random.Random(request.param)
    rows = []
    for number in range(25):
        paragraphs = [
            " ".join(f"{' '.join(rng.choices(WORDS, k=rng.randint(2, 7))).capitalize()}." for _ in range(3))
            for _ in range(rng.randint(1, 4))
        ]
        source, day = rng.choice(SOURCES), f"2031-0{rng.randint(1, 9)}-11"
        rows.append([f"R{number}", f"Random {number}", source, day, "\n\n".join(paragraphs), "", ""])
    deliver(write_table(tmp_path / "random.csv", rows))
    return rng


def evidence(client, at, comparison, **cell):
    found = done(client.post(f"{at}/evidence", json={"comparison": comparison, "cell": cell, "most": 200}))
    return found["hits"], found["texts"]


def test_hits_of_a_comparison(client, at, some_texts):
    comparison = {"target": {"kind": "words", "words": list(WORDS)}, "split": {"field": "source"}}
    table = done(client.post(f"{at}/compare", json=comparison))
    for row in table["rows"]:
        assert evidence(client, at, comparison, row=row["key"])[0] == sum(
            cell["hits"] for cell in row["cells"]
        )
        for group, cell in zip(table["groups"], row["cells"], strict=True):
            shown = evidence(client, at, comparison, row=row["key"], group=group["label"])
            assert shown == (cell["hits"], cell["texts"]), (row["key"], group["label"])


@pytest.mark.parametrize("within", ["sentence", "paragraph", "text"])
def test_cells_of_a_matrix(client, at, some_texts, within):
    asked = {"rows": {"kind": "words", "words": list(WORDS)}, "within": within}
    found = done(client.post(f"{at}/together", json=asked))
    for row, cells in zip(found["rows"], found["cells"], strict=True):
        for column, cell in zip(found["columns"], cells, strict=True):
            if cell["kin"]:
                continue
            given = {"asked": asked, "row": row["key"], "column": column["key"]}
            page = done(client.post(f"{at}/together/evidence", json=given))
            assert (page["units"], page["texts"]) == (cell["together"], cell["texts"])
            assert page["hits"] >= page["units"] or not cell["together"]


def test_codes_and_runs(client, at, some_texts, runs, coding):
    coding.make("Stock")
    coding.make("Wild", under="Stock")
    for number in range(25):
        words = coding.body(f"Random {number}").split(". ")[0]
        coding.code(f"Random {number}", words, some_texts.choice(["Stock", "Wild"]))
    recipe = {"finder": {"kind": "search", "query": "wolf"}, "unit": "sentence"}
    run = runs.make(recipe, state="applied", name="Wolves")
    codes, counts = coding.codes(), coding.counts()
    for name, (passages, texts) in counts.items():  # with what lies under them
        found = coding.find(codes=[codes[name]["id"]])
        assert (found["total"], found["texts"]) == (passages, texts), name
    whole = runs.get(run)
    for target in whole["targets"]:
        page = done(
            client.post(f"{at}/runs/{run}/passages", json={"show": "all", "target": target["number"]})
        )
        assert page["total"] == target["places"]
    assert whole["whole"]["places"] == sum(one["places"] for one in whole["targets"])
