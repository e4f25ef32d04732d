"""Keywords, co-occurrence, networks, maps, changes, the builder's splits and the command line, on a real database."""

import csv
import io
import json

import numpy as np
import pytest
from python_calamine import CalamineWorkbook

from tests.api.test_api import problem
from tests.conftest import NEWS_HEADER

SOURCE = {"field": "source"}
FIELD = ["wolf", "lamb", "flock", "fence", "#valley"]
TOWN = ["market", "price", "council", "vote", "budget"]


@pytest.fixture
def many(client, at, deliver, tmp_path):
    """Sixty texts of two sources over ten months: one writes of fields, one of the town; later more of wolves."""
    rng = np.random.default_rng(1)
    rows = [NEWS_HEADER]
    for number in range(60):
        field = number % 2 == 0
        own, other = (FIELD, TOWN) if field else (TOWN, FIELD)
        sentences = []
        for _ in range(6):
            words = rng.choice(own if rng.random() < 0.9 else other, 3, replace=False)
            sentences.append(("The " + " and ".join(words)).strip() + ".")
        if number > 30:
            sentences.append("Wolf wolf wolf. A wolf came.")
        source = "Hill Farmer" if field else "Valley Wire"
        rows.append(
            [
                str(number),
                f"Text {number}",
                source,
                f"2031-{number // 6 + 1:02d}-0{number % 6 + 1}",
                " ".join(sentences),
                "north" if number % 3 else "coast",
                str(20 + number % 4),
            ]
        )
    path = tmp_path / "many.csv"
    with path.open("w", newline="") as file:
        csv.writer(file).writerows(rows)
    deliver(path)
    content = b"category,term\nField,wolf\nField,lamb\nField,flock\nTown,market\nTown,council\nTown,vote\n"
    answer = client.post(f"{at}/dictionaries/import", files={"file": ("Frames.csv", content)})
    assert answer.status_code == 201
    return client.get(f"{at}/dictionaries").json()[0]["id"]


def ask(client, at, path, status=200, **body):
    answer = client.post(f"{at}/{path}", json=body)
    assert answer.status_code == status, answer.text
    return answer.json()


def dictionary(number):
    return {"kind": "dictionary", "dictionary": number}


def test_keywords_with_their_numbers_pages_and_evidence(client, at, many):
    asked = {"split": SOURCE, "group": "Hill Farmer"}
    page = ask(client, at, "keywords", asked=asked, most=5)
    names = [row["name"] for row in page["rows"]]
    assert (
        names[0] in FIELD
        and page["sides"][0]["texts"] == 30
        and page["sides"][1]["label"] == "all other groups"
    )
    assert page["rows"][0]["adjusted"] < 0.01 and page["rows"][0]["hits"][0] > page["rows"][0]["hits"][1]
    assert "Most typical of Hill Farmer" in page["statements"][0]["headline"] and page["can_merge"] == [
        "lemma",
        "stem",
    ]
    rare = ask(client, at, "keywords", asked=asked, rare=True)
    assert rare["total"] == page["other"] and rare["rows"][0]["name"] in TOWN
    assert {point["name"] for point in page["points"]} >= {names[0], rare["rows"][0]["name"]}
    found = ask(client, at, "keywords", asked=asked, find="fl*")
    assert [row["name"] for row in found["rows"]] == ["flock"]
    target = {"kind": "words", "words": [names[0]]}
    places = ask(
        client, at, "evidence", comparison={"target": target, "split": SOURCE}, cell={"group": "Hill Farmer"}
    )
    assert places["hits"] == page["rows"][0]["hits"][0]
    tags = ask(client, at, "keywords", asked={**asked, "kinds": ["hashtag"]})
    assert [row["name"] for row in tags["rows"]] == ["#valley"]
    phrases = ask(client, at, "keywords", asked={**asked, "unit": "phrase", "stop": False})
    assert all(" " in row["name"] for row in phrases["rows"]) and phrases["rows"]


@pytest.mark.parametrize(
    ("asked", "words"),
    [
        ({"split": SOURCE, "group": "Nobody"}, "no group “Nobody”"),
        ({"split": {}, "group": "x"}, "Choose across what"),
        (
            {"split": SOURCE, "group": "Hill Farmer", "scope": [{"kind": "finds", "words": "zebra"}]},
            "no group",
        ),
    ],
)
def test_keywords_of_nothing_get_a_sentence(client, at, many, asked, words):
    problem(client.post(f"{at}/keywords", json={"asked": asked}), 422, words)


def test_what_goes_with_what_and_the_passages_of_a_cell(client, at, many):
    words = {"kind": "words", "words": ["wolf", "lamb", "market", "price"]}
    found = ask(client, at, "together", rows=words)
    at_row = {row["label"]: number for number, row in enumerate(found["rows"])}
    cell = found["cells"][at_row["wolf"]][at_row["lamb"]]
    assert cell["together"] > 5 and cell["texts"] > 5 and not cell["kin"] and cell["p"] is not None
    assert found["cells"][at_row["wolf"]][at_row["wolf"]]["kin"] and found["unit"] == "sentence"
    page = ask(client, at, "together/evidence", asked={"rows": words}, row="wolf", column="lamb")
    assert page["texts"] == cell["texts"] and all(len(one["marks"]) for one in page["passages"])
    problem(
        client.post(
            f"{at}/together/evidence", json={"asked": {"rows": words}, "row": "gone", "column": "wolf"}
        ),
        404,
        "“gone”",
    )
    across = ask(
        client,
        at,
        "together",
        rows=dictionary(many),
        columns={"kind": "values", "field": "source"},
        within="text",
    )
    assert [row["label"] for row in across["columns"]] == ["Hill Farmer", "Valley Wire"] and not across[
        "same"
    ]
    problem(
        client.post(f"{at}/together", json={"rows": {"kind": "values", "field": "source"}}),
        422,
        "whole texts",
    )
    problem(client.post(f"{at}/together", json={"rows": {"kind": "codes"}}), 422, "no codes yet")


def test_a_network_its_topics_and_their_passages(client, at, many):
    asked = {"most": 20, "least": 3, "floor": 0.02}
    found = ask(client, at, "network", **asked)
    assert len(found["topics"]) >= 2 and found["units"] > 300
    names = [word["name"] for word in found["words"]]
    topic = [names[word] for word in found["topics"][0]["words"]]
    page = ask(client, at, "network/evidence", asked=asked, words=topic)
    assert page["texts"] == found["topics"][0]["texts"]
    assert ask(client, at, "network", **asked) == found
    one = ask(client, at, "network", **asked, split=SOURCE, group="Hill Farmer")
    assert one["texts"] == 30
    problem(client.post(f"{at}/network", json={**asked, "split": SOURCE, "group": "Nobody"}), 404, "Nobody")
    problem(client.post(f"{at}/network", json={"least": 9_999}), 422, "often enough")


def test_a_map_of_a_comparison(client, at, many):
    comparison = {
        "target": {"kind": "words", "words": ["wolf", "lamb", "market"]},
        "split": {"field": "date", "period": "month"},
    }
    found = ask(client, at, "compare/map", **comparison)
    assert len(found["groups"]) == 10 and len(found["rows"]) == 3
    assert sum(found["shares"]) == pytest.approx(1) and "The map shows" in found["statements"][0]["headline"]
    problem(
        client.post(f"{at}/compare/map", json={**comparison, "split": {}}),
        422,
        "at least two words and two groups",
    )


def test_where_a_change_began_and_moving_averages(client, at, many):
    comparison = {
        "target": {"kind": "words", "words": ["wolf", "market"]},
        "split": {"field": "date", "period": "month"},
    }
    found = ask(client, at, "compare/changes", comparison=comparison, window=3)
    wolf = [one for one in found["changes"] if one["row"] == "wolf"]
    assert len(wolf) == 1 and 4 <= wolf[0]["at"] <= 6 and wolf[0]["after"] > wolf[0]["before"]
    assert len(found["smooth"]) == 2 and len(found["smooth"][0]["values"]) == 10
    problem(
        client.post(f"{at}/compare/changes", json={"comparison": {**comparison, "split": SOURCE}}),
        422,
        "across a date",
    )


def test_parts_crossed_and_merged_groups_and_other_units(client, at, many):
    target = {"kind": "words", "words": ["wolf"]}
    before = {"kind": "dates", "field": "date", "high": "2031-05-31"}
    after = {"kind": "dates", "field": "date", "low": "2031-06-01"}
    parts = {"parts": [{"name": "before", "conditions": [before]}, {"name": "after", "conditions": [after]}]}
    found = ask(client, at, "compare", target=target, split=parts)
    assert [group["label"] for group in found["groups"]] == ["before", "after"] and found[
        "across"
    ] == "parts of the corpus"
    assert (
        found["rows"][0]["p"] < 0.05
        and found["rows"][0]["cells"][1]["value"] > found["rows"][0]["cells"][0]["value"]
    )
    page = ask(
        client,
        at,
        "evidence",
        comparison={"target": target, "split": parts},
        cell={"row": "wolf", "group": "after"},
    )
    assert page["hits"] == found["rows"][0]["cells"][1]["hits"]
    crossed = ask(
        client,
        at,
        "compare",
        target=target,
        split={"field": "source", "crossed": {"field": "date", "period": "year"}},
    )
    assert [group["pair"] for group in crossed["groups"]] == [
        ["Hill Farmer", "2031"],
        ["Valley Wire", "2031"],
    ]
    sentences = ask(client, at, "compare", target=target, split=SOURCE, counting="sentences")
    assert sentences["measure"]["label"] == "Share of sentences"
    for cell in sentences["rows"][0]["cells"]:
        assert cell["counted"] <= cell["hits"]
    ratio = ask(client, at, "compare", target=target, split=SOURCE, measure="ratio", reference="Valley Wire")
    assert (
        ratio["rows"][0]["cells"][1]["value"] == 1
        and ratio["measure"]["axis"] == "times the rate of Valley Wire"
    )
    problem(
        client.post(
            f"{at}/compare", json={"target": target, "split": {"parts": [{"name": "a"}, {"name": "a"}]}}
        ),
        422,
        "same name",
    )


def test_what_each_speaker_says_is_counted_in_their_words_alone(coding):
    client, at = coding.client, coding.at
    body = coding.body("Nine pages")
    coding.make("Farmer")
    coding.make("Reporter")
    coding.code("Nine pages", "The lambs are gone. “We lost forty lambs,” she said.", "Farmer")
    coding.code("Nine pages", "A flock is a flock.", "Reporter")
    assert body.endswith("A flock is a flock.")
    target = {"kind": "words", "words": ["a", "the", "flock", "lambs"]}
    codes = {"codes": ["Farmer", "Reporter"]}
    found = ask(client, at, "compare", target=target, split={**codes, "rest": True})
    assert [group["label"] for group in found["groups"]] == ["Farmer", "Reporter", "all other words"]
    plain = ask(client, at, "compare", target=target, split={})
    for row, whole in zip(found["rows"], plain["rows"], strict=True):
        assert sum(cell["hits"] for cell in row["cells"]) == whole["cells"][0]["hits"]
    assert sum(group["words"] for group in found["groups"]) == plain["groups"][0]["words"]
    lambs, flock = found["rows"][3]["cells"], found["rows"][2]["cells"]
    assert [cell["hits"] for cell in lambs][:2] == [2, 0] and [cell["hits"] for cell in flock][:2] == [0, 2]
    asked = {"comparison": {"target": target, "split": codes}, "cell": {"row": "flock", "group": "Reporter"}}
    page = ask(client, at, "evidence", **asked)
    assert page["hits"] == 2 and page["passages"][0]["title"] == "Nine pages"
    # whether a text is in scope is asked of the whole text
    scope = [{"kind": "terms", "terms": ["forty"]}]
    scoped = ask(client, at, "compare", target=target, split=codes, scope=scope)
    assert [group["texts"] for group in scoped["groups"]] == [1, 1]
    where = f"{at}/compare"
    problem(
        client.post(where, json={"target": target, "split": {"codes": ["Nobody"]}}), 422, "no code “Nobody”"
    )
    problem(client.post(where, json={"target": {"kind": "codes"}, "split": codes}), 422, "Co-occurrence")
    keywords = ask(
        client, at, "keywords", asked={"split": codes, "group": "Farmer", "least_hits": 1, "stop": False}
    )
    assert keywords["sides"][0]["texts"] == 1 and keywords["rows"]


def test_people_who_code_are_groups_of_what_each_coded(coding, colleague):
    client, at = coding.client, coding.at
    coding.make("Loss")
    coding.code("Nine pages", "The lambs", "Loss")
    coding.code("Nine pages", "forty lambs", "Loss")
    colleague.code("Nine pages", "The lambs", "Loss")
    split = {"field": "coders"}
    found = ask(client, at, "compare", target={"kind": "codes"}, split=split, measure="hits")
    labels = [group["label"] for group in found["groups"]]
    hits = {label: cell["hits"] for label, cell in zip(labels, found["rows"][0]["cells"], strict=True)}
    assert sorted(hits.values()) == [1, 2] and hits["Orla Venn"] == 1
    comparison = {"target": {"kind": "codes"}, "split": split}
    assert ask(client, at, "evidence", comparison=comparison, cell={"group": "Orla Venn"})["hits"] == 1


def test_values_across_another_field(client, at, many):
    found = ask(
        client,
        at,
        "compare",
        target={"kind": "values", "field": "source"},
        split={"field": "date", "period": "year"},
        measure="share_of_texts",
    )
    assert [row["label"] for row in found["rows"]] == ["Hill Farmer", "Valley Wire"]
    assert [cell["value"] for row in found["rows"] for cell in row["cells"]] == [0.5, 0.5]


VIEWS = [
    {"view": "keywords", "split": SOURCE, "group": "Hill Farmer"},
    {"view": "together", "rows": {"kind": "words", "words": ["wolf", "lamb", "market"]}},
    {"view": "network", "most": 20, "least": 3, "floor": 0.02},
    {
        "view": "map",
        "comparison": {
            "target": {"kind": "words", "words": ["wolf", "lamb", "market"]},
            "split": {"field": "date", "period": "month"},
        },
    },
    {
        "view": "changes",
        "comparison": {
            "target": {"kind": "words", "words": ["wolf"]},
            "split": {"field": "date", "period": "month"},
        },
        "window": 3,
    },
    {"view": "comparison", "comparison": {"target": {"kind": "words", "words": ["wolf"]}, "split": SOURCE}},
]


@pytest.mark.parametrize("view", VIEWS, ids=lambda view: view["view"])
def test_every_view_leaves_as_numbers_and_comes_back_as_a_request(client, at, many, view):
    where = f"{at}/answers/export?form="
    rows = list(csv.reader(io.StringIO(client.post(where + "csv", json=view).content.decode("utf-8-sig"))))
    assert len(rows) > 1 and len(rows[0]) == len(rows[1])
    book = CalamineWorkbook.from_filelike(io.BytesIO(client.post(where + "xlsx", json=view).content))
    assert "How it was counted" in book.sheet_names and len(book.sheet_names) >= 2
    assert "Request" in client.post(where + "txt", json=view).text
    request = json.loads(client.post(where + "json", json=view).content)
    again = client.post(where + "csv", json=request).content
    assert again == client.post(where + "csv", json=view).content
