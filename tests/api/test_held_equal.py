"""Fields held equal, as they are asked for over HTTP: adjusted rates, the model, evidence, exports."""

import io
import random

import pytest
from python_calamine import CalamineWorkbook

from tests.conftest import write_table
from winnower.readers import Mapping, Target

SECTIONS = ("letters", "news")
HEADER = ["id", "title", "source", "date", "text", "section", "also"]
MAPPING = Mapping(
    (
        Target("id", "key"),
        Target("title", "title"),
        Target("source", "source"),
        Target("date", "date"),
        Target("text", "text"),
        Target("section", "variable", "Section", "category"),
        Target("also", "variable", "Tags", "several", ";"),
    )
)


@pytest.fixture
def mixed(client, at, deliver, tmp_path):
    """120 texts; letters speak of lambs four times as often as news, and the Hill Farmer has many letters: nothing else
    makes its rate higher. The dictionary's id."""
    rng, rows = random.Random(3), []
    for n in range(120):
        source = ("Hill Farmer", "Valley Wire")[n % 2]
        letters = rng.random() < (0.75 if source == "Hill Farmer" else 0.25)
        words = ["the", "hill", "was", "green"] * rng.randint(5, 40)
        for _ in range(rng.randint(0, 2) * (4 if letters else 1)):
            words[rng.randrange(len(words))] = "lamb"
        day = f"2031-0{rng.randint(3, 4)}-{rng.randint(1, 28):02d}"
        rows.append([f"{n}", f"Text {n}", source, day, " ".join(words), SECTIONS[not letters], "a; b"])
    deliver(write_table(tmp_path / "mixed.csv", rows, HEADER), MAPPING)
    content = b"category,term\nLivelihood,lamb*\nEcology,hill\n"
    client.post(f"{at}/dictionaries/import", files={"file": ("Frames.csv", content)})
    return client.get(f"{at}/dictionaries").json()[0]["id"]


def asked(dictionary, field, **more):
    return {
        "target": {"kind": "dictionary", "dictionary": dictionary},
        "split": {"field": "source"},
        "measure": "adjusted",
        "adjust": [{"field": field}],
        **more,
    }


@pytest.fixture
def keys(client, at, mixed):
    return {f["name"]: f["key"] for f in client.get(f"{at}/fields").json()}


def rates(table):
    return [cell["value"] for cell in table["rows"][0]["cells"]]


def test_an_adjusted_rate_takes_out_what_the_field_explains(client, at, mixed, keys):
    plain = client.post(f"{at}/compare", json=asked(mixed, keys["Section"], measure="rate")).json()
    table = client.post(f"{at}/compare", json=asked(mixed, keys["Section"])).json()
    before, after = rates(plain)[0] / rates(plain)[1], rates(table)[0] / rates(table)[1]
    assert before > 1.25 * after
    assert table["measure"]["label"] == "Adjusted rate"
    assert any("Controlling for “Section”" in one["headline"] for one in table["statements"])
    assert any(part["heading"] == "Controlling for other fields" for part in table["method"])


def test_the_model_says_which_field_tells_anything(client, at, mixed, keys):
    model = client.post(f"{at}/compare/model", json=asked(mixed, keys["Section"])).json()
    by_source, by_section = model["fields"]
    assert (by_source["name"], by_section["name"]) == ("Source", "Section")
    assert [row["label"] for row in by_source["rows"]] == ["Livelihood", "Ecology"]
    assert by_section["rows"][0]["p"] <= 0.05 < by_source["rows"][0]["p"]
    labels = [level["label"] for level in by_section["levels"]]
    cells = dict(zip(labels, by_section["rows"][0]["cells"], strict=True))
    assert cells[labels[by_section["reference"]]]["ratio"] == 1
    ratio = cells["letters"]["ratio"] / cells["news"]["ratio"]
    assert 2 < ratio < 6
    assert sum("ontrolling for" in one["headline"] for one in model["statements"]) == 2


def test_a_ratio_opens_the_passages_of_its_texts(client, at, mixed, keys):
    request = asked(mixed, keys["Section"])
    model = client.post(f"{at}/compare/model", json=request).json()
    found = {}
    for level in model["fields"][1]["levels"]:
        narrowed = {**request, "scope": [level["condition"]]}
        page = client.post(
            f"{at}/evidence",
            json={"comparison": narrowed, "cell": {"row": model["fields"][1]["rows"][0]["key"]}},
        )
        found[level["label"]] = page.json()["hits"]
    whole = client.post(f"{at}/compare", json=request).json()["rows"][0]["cells"]
    assert sum(found.values()) == sum(cell["hits"] for cell in whole)
    assert found["letters"] > found["news"]


@pytest.mark.parametrize("field", ["words", "date"])
def test_numbers_are_cut_into_bands_and_dates_into_periods(client, at, mixed, keys, field):
    model = client.post(f"{at}/compare/model", json=asked(mixed, field)).json()
    levels = model["fields"][1]["levels"]
    assert len(levels) == (5 if field == "words" else 2)
    texts = 0
    for level in levels:
        page = client.post(f"{at}/texts/page", json={"scope": [level["condition"]], "most": 1}).json()
        texts += page["total"]
    assert texts == 120
    assert sum(level["words"] for level in levels) == client.get(at).json()["words"]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"adjust": []}, "needs a field to be controlled for"),
        ({"adjust": [{"field": "source"}]}, "not the one that is compared across"),
        ({"adjust": [{"field": "words"}, {"field": "words"}]}, "controlled for once"),
        ({"adjust": [{"field": "gone"}]}, "no field “gone”"),
        ({"adjust": [{"field": "title"}]}, "free text"),
        ({"adjust": [{"field": None}]}, "which field"),
        ({"adjust": [{"field": f} for f in ("words", "date", "a", "b")]}, "adjust"),
    ],
)
def test_what_cannot_be_held_equal_says_why(client, at, mixed, change, words):
    for path in ("compare", "compare/model"):
        answer = client.post(f"{at}/{path}", json={**asked(mixed, "words"), **change})
        assert answer.status_code == 422, answer.text
        assert words in answer.json()["detail"]


def test_fields_with_several_values_are_refused_on_either_side(client, at, mixed, keys):
    several = client.post(f"{at}/compare", json=asked(mixed, keys["Tags"]))
    assert "several values a text" in several.json()["detail"]
    across = client.post(f"{at}/compare", json=asked(mixed, "words", split={"field": keys["Tags"]}))
    assert "several groups" in across.json()["detail"]


def test_without_a_field_held_equal_there_is_no_model(client, at, mixed):
    answer = client.post(f"{at}/compare/model", json=asked(mixed, "words", adjust=[], measure="rate"))
    assert (answer.status_code, "no model" in answer.json()["detail"]) == (422, True)


def test_the_model_leaves_with_the_workbook_and_the_method_as_text(client, at, mixed, keys):
    request = asked(mixed, keys["Section"])
    excel = client.post(f"{at}/compare/export?form=xlsx", json=request)
    assert excel.content == client.post(f"{at}/compare/export?form=xlsx", json=request).content
    book = CalamineWorkbook.from_filelike(io.BytesIO(excel.content))
    assert book.sheet_names == ["Comparison", "All numbers", "Tests", "Model", "How it was counted"]
    rows = book.get_sheet_by_name("Model").to_python()
    assert rows[0][:5] == ["Field", "Value", "Against", "Category", "Ratio"]
    assert {row[0] for row in rows[1:9]} == {"Source", "Section"}
    text = client.post(f"{at}/compare/export?form=txt", json=request).text
    for words in ("Controlling for “Section”", "Direct standardising", "Freedman and Lane", '"adjust": ['):
        assert words in text
    csv = client.post(f"{at}/compare/export?form=csv", json=request).text
    assert "adjusted rate low" in csv.splitlines()[0]
    plain = client.post(
        f"{at}/compare/export?form=csv", json={**request, "adjust": [], "measure": "rate"}
    ).text
    assert "adjusted rate" not in plain.splitlines()[0]


def test_single_terms_are_left_out_one_at_a_time(client, at, mixed):
    client.post(
        f"{at}/dictionaries/import",
        files={"file": ("Two.csv", b"category,term\nLivelihood,lamb*\nLivelihood,green\nEcology,hill\n")},
    )
    two = next(d["id"] for d in client.get(f"{at}/dictionaries").json() if d["name"] == "Two")
    request = asked(two, "words", measure="rate", adjust=[])
    found = client.post(f"{at}/compare/terms", json=request).json()
    assert {one["term"]["source"] for one in found["terms"]} == {"green"}
    assert found["terms"][0]["label"] == "Livelihood" and 0.2 < found["terms"][0]["share"] < 1
    assert len(found["statements"]) == 1
    search = {"kind": "search", "query": "lamb*"}
    none = client.post(f"{at}/compare/terms", json={**request, "target": search}).json()
    assert none == {"statements": [], "terms": []}


def test_verdicts_correct_the_rates_of_their_category(client, at, mixed):
    tree = client.get(f"{at}/dictionaries/{mixed}").json()["categories"]
    life = next(one["id"] for one in tree if one["name"] == "Livelihood")
    review = f"{at}/review/category/{life}"
    sample = client.post(f"{review}/samples", json={"kind": "hit", "size": 40, "seed": 1}).json()
    items = client.get(f"{at}/review/samples/{sample['id']}").json()["items"]
    for n, item in enumerate(items):
        place = {name: item[name] for name in ("text_id", "start", "end")}
        answer = client.post(f"{review}/judge", json={"kind": "hit", "verdict": int(n % 4 > 0), **place})
        assert answer.status_code == 200, answer.text
    request = {"target": {"kind": "dictionary", "dictionary": mixed}, "split": {"field": "source"}}
    plain = client.post(f"{at}/compare", json=request).json()
    corrected = client.post(f"{at}/compare", json={**request, "measure": "corrected"}).json()
    shown = client.post(f"{at}/compare", json={**request, "measure": "precision"}).json()
    for group in range(2):
        share = shown["rows"][0]["cells"][group]["value"]
        assert 0.5 < share < 1
        expected = plain["rows"][0]["cells"][group]["value"] * share
        assert corrected["rows"][0]["cells"][group]["value"] == pytest.approx(expected)
    assert corrected["rows"][1]["cells"][0]["value"] is None
    assert any("verdicts on hits of Livelihood" in one["headline"] for one in corrected["statements"])
    other = client.post(
        f"{at}/compare",
        json={**request, "target": {"kind": "search", "query": "lamb*"}, "measure": "precision"},
    )
    assert (other.status_code, "have verdicts" in other.json()["detail"]) == (422, True)
    csv = client.post(f"{at}/compare/export?form=csv", json={**request, "measure": "corrected"}).text
    assert "corrected rate low" in csv.splitlines()[0]
