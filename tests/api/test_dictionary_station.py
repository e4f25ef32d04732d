"""The dictionary station over HTTP: grammar, tree, care, suggestions, judging, versions, files."""

import io
import json
import random
import time

import pytest
from python_calamine import CalamineWorkbook

from tests.api.station import Station
from tests.api.test_api import problem
from tests.at_work import alone
from tests.conftest import write_table


def test_options_written_in_a_term_are_taken_out_of_it(station):
    station.add(
        "Livelihood", "exact-case: Hill", "all-forms:en lose", {"source": "café", "ignore_accents": True}
    )
    hill, lose = station.term("Hill"), station.term("lose")
    assert (hill["match_case"], lose["forms_of"]) == (True, "en")
    again = station.add("Livelihood", "any-accents: café")
    assert (again["added"], again["doubles"]) == (0, 1)
    tried = station.client.post(
        f"{station.at[: -len('/dictionaries')]}/terms/try", json={"source": "lose", "forms_of": "en"}
    )
    assert tried.json()["profile"]["forms"] == [{"form": "lost", "hits": 1, "term": "lost"}]


def test_text_and_fields_say_the_same(client, at):
    text = "(lamb* | ewe) [0-2] lost near:5 price unless-part-of: lost property"
    fields = client.post(f"{at}/terms/fields", json={"source": text}).json()
    assert fields["conditions"][1]["relation"] == "part-of"
    assert client.post(f"{at}/terms/text", json=fields).json()["source"] == text.replace("(lamb*", "(lamb*")
    body = problem(
        client.post(f"{at}/terms/fields", json={"source": "lamb near:x price"}), 422, "number of words"
    )
    assert body["position"] == 10
    problem(client.post(f"{at}/terms/text", json={"rows": [[{"text": "( lamb"}]]}), 422, "not closed")


def test_a_form_is_left_out_and_taken_in_again_by_undo(station, client, at):
    term = station.term("lamb*")
    changed = station.post(f"terms/{term['id']}/exclude", form="lambs", revision=term["revision"])
    assert changed["source"] == "lamb* unless-part-of: lambs"
    client.post(f"{at}/undo")
    assert station.term("lamb*")["revision"] > term["revision"], (
        "who saw the state between must not write over this"
    )
    stale = client.post(f"{station.here}/terms/{term['id']}/exclude", json={"form": "x", "revision": 99})
    problem(stale, 409, "Somebody changed this")


def test_ten_thousand_pasted_lines_with_doubles_and_bad_ones(station):
    lines = [f"word{n % 8000}*" for n in range(9_990)] + ["c++", "(open", "a near:x b", "*"] + [" lamb* "] * 6
    added = station.add("Livelihood", *lines)
    assert (added["added"], len(added["refused"])) == (8_000, 4)
    assert added["doubles"] == 9_990 - 8_000 + 6
    began = len(station.category("Livelihood")["terms"])
    assert began == 8_002


def test_categories_are_moved_nested_and_never_into_themselves(station, client, at):
    life, eco, trees = (station.category(name) for name in ("Livelihood", "Ecology", "Trees"))
    station.post(f"categories/{life['id']}/move", parent_id=eco["id"], revision=life["revision"])
    assert [(n, p) for n, p, _ in station.shape()] == [
        ("Ecology", None),
        ("Trees", "Ecology"),
        ("Livelihood", "Ecology"),
    ]
    for home in (eco["id"], trees["id"]):
        answer = client.post(
            f"{station.here}/categories/{eco['id']}/move",
            json={"parent_id": home, "revision": eco["revision"]},
        )
        problem(answer, 422, "cannot be moved into itself")
    life = station.category("Livelihood")
    station.post(
        f"categories/{life['id']}/move", parent_id=None, before_id=eco["id"], revision=life["revision"]
    )
    assert [n for n, _, _ in station.shape()] == ["Livelihood", "Ecology", "Trees"]
    stale = {"parent_id": None, "revision": 1}
    problem(
        client.post(f"{station.here}/categories/{life['id']}/move", json=stale), 409, "Somebody changed this"
    )
    for _ in range(2):
        client.post(f"{at}/undo")
    assert [(n, p) for n, p, _ in station.shape()] == [
        ("Livelihood", None),
        ("Ecology", None),
        ("Trees", "Ecology"),
    ]


def test_categories_are_merged_and_parted_again(station, client, at):
    before = station.shape()
    station.add("Ecology", "flock*")
    life, eco = station.category("Livelihood"), station.category("Ecology")
    station.post(f"categories/{eco['id']}/merge", into_id=life["id"])
    assert station.shape() == [
        ("Livelihood", None, ["birch", "deer", "flock*", "lamb*"]),
        ("Trees", "Livelihood", ["wood"]),
    ]
    answer = client.post(
        f"{station.here}/categories/{life['id']}/merge", json={"into_id": station.category("Trees")["id"]}
    )
    problem(answer, 422, "cannot be merged into itself")
    for _ in range(2):
        client.post(f"{at}/undo")
    assert station.shape() == before


def test_what_to_look_after_is_told(station):
    station.add("Ecology", "flock", "unicorn")
    station.add("Livelihood", "lambs")
    care = station.post("care", scope=[])
    life, eco = station.category("Livelihood")["id"], station.category("Ecology")["id"]
    assert care["overlaps"] == [{"first": life, "second": eco, "words": 3}]
    assert sorted(care["idle"]) == sorted(station.term(t)["id"] for t in ("lamb*", "lambs"))  # one of the two
    assert care["company"] == "none"
    counts = station.post("counts", scope=[])
    assert counts["empty_terms"] == [station.term("unicorn")["id"]]


def work_out_company(client, at):
    with alone():  # nobody is done with it before it is asked for again
        job = client.post(f"{at}/company").json()
        assert client.post(f"{at}/company").json()["id"] == job["id"]
    for _ in range(300):
        state = client.get(f"{at}/jobs/{job['id']}").json()["state"]
        if state not in ("queued", "running"):
            break
        time.sleep(0.1)
    assert state == "done"


def test_both_kinds_of_company_of_a_term_lead_to_their_passages(station, client, at, deliver, tmp_path):
    hill, trade = ["grazed", "flock", "dyke", "fell", "tup"], ["shares", "traders", "index", "bonds", "rose"]
    words = random.Random(4)
    rows = []
    for number in range(160):
        some = hill if number % 2 else trade
        body = " ".join([*words.sample(some, 3), "stock", *words.sample(some, 3)])
        rows.append([f"s{number}", "Stock", "Hill Farmer", "2031-06-03", body, "", ""])
    deliver(write_table(tmp_path / "stock.csv", rows))
    station.add("Livelihood", "stock")
    comparison = {"target": {"kind": "terms", "terms": [{"source": "stock"}]}}
    ask = {"comparison": comparison, "company": 0, "most": 200}
    problem(client.post(f"{at}/evidence", json=ask), 404, "not worked out")
    work_out_company(client, at)
    (mixed,) = station.post("care", scope=[])["mixed"]
    assert mixed["term_id"] == station.term("stock")["id"]
    for kind, (size, telling) in enumerate(zip(mixed["sizes"], mixed["words"], strict=True)):
        found = client.post(f"{at}/evidence", json={**ask, "company": kind}).json()
        assert found["hits"] == size == len(found["passages"])
        near = sum(any(word in one["text"] for word in telling) for one in found["passages"])
        assert near > 0.9 * size


def test_suggestions_are_added_or_dismissed_for_good(station, client, at, database, settings):
    station.add("Ecology", "tree", {"source": "grow"})
    eco = station.category("Ecology")["id"]

    def offered():
        found = station.post(f"categories/{eco}/suggestions", scope=[])
        return {one["text"]: one["reason"] for one in found["suggestions"]}

    assert offered() == {"grows": "form"}
    station.post(f"categories/{eco}/dismiss", form="Grows")
    assert offered() == {}
    client.post(f"{at}/undo")
    assert offered() == {"grows": "form"}
    station.add("Livelihood", "grows")  # what another category catches is not offered
    assert offered() == {}
    work_out_company(client, at)
    assert station.post(f"categories/{eco}/suggestions", scope=[])["company"] == "ready"


def test_versions_are_named_compared_and_gone_back_to(station, client, at):
    versions = f"{station.here}/versions"
    assert (
        client.post(versions, json={"name": "first draft", "note": "before the meeting"}).json()["label"]
        == "1"
    )
    station.add("Livelihood", "claim*", "compensat*")
    client.delete(f"{station.here}/terms/{station.term('flock*')['id']}")
    eco = station.category("Ecology")
    station.client.delete(f"{station.here}/categories/{eco['id']}")
    assert client.post(versions, json={"name": " "}).status_code == 422
    assert station.client.get(station.here).json()["version_kept"] is False
    client.get(f"{station.here}/export")
    listed = client.get(versions).json()
    assert [(v["number"], v["name"], v["terms"], v["now"]) for v in listed] == [
        (2, "", 3, True),
        (1, "first draft", 5, False),
    ]
    sides = client.post(
        f"{station.at}/side-by-side",
        json={"first": {"dictionary_id": station.id, "version": 1}, "second": {"dictionary_id": station.id}},
    ).json()
    assert sorted((t["kind"], t["after"] or t["before"]) for t in sides["terms"]) == [
        ("added", "claim*"), ("added", "compensat*"), ("removed", "birch"), ("removed", "deer"), ("removed", "flock*"), ("removed", "wood"),
    ]  # fmt: skip
    life = next(row for row in sides["rows"] if row["label"] == "Livelihood")
    assert (sum(life["hits"][0]), sum(life["hits"][1]), life["both"]) == (7, 4, 3)
    assert not next(row for row in sides["rows"] if row["label"] == "Ecology")["in_second"]
    now = station.shape()
    client.post(f"{versions}/1/back")
    assert {name for name, _, _ in station.shape()} == {"Livelihood", "Ecology", "Trees"}
    assert station.client.get(station.here).json()["version"] == 1
    client.post(f"{at}/undo")
    assert station.shape() == now
    problem(client.post(f"{versions}/77/back"), 404, "has no version 77")
    csv_of_first = client.get(f"{station.here}/export?version=1").text
    assert "birch" in csv_of_first and "claim" not in csv_of_first


@pytest.mark.parametrize("form", ["csv", "xlsx", "json"])
def test_a_dictionary_leaves_and_comes_back_the_same(station, client, form):
    station.add(
        "Livelihood",
        {"source": "Hill", "match_case": True, "note": "the name, with capital"},
        "all-forms:en lose",
    )
    content = client.get(f"{station.here}/export?form={form}").content
    if form == "json":
        assert json.loads(content)["version"] == 1
    if form == "xlsx":
        assert CalamineWorkbook.from_filelike(io.BytesIO(content)).sheet_names == ["Dictionary"]
    made = client.post(f"{station.at}/import", files={"file": (f"Copy.{form}", content)})
    assert made.status_code == 201, made.text
    copy = Station(client, station.at[: -len("/dictionaries")], made.json()["dictionary"]["id"])
    assert copy.shape() == station.shape()
    assert (copy.term("Hill")["note"], copy.term("lose")["forms_of"]) == ("the name, with capital", "en")


def test_plain_lists_and_odd_files(station, client):
    words = "lamb\n# a remark\n#lynx\n\nmarket price\nlamb\nc++\n"
    made = client.post(f"{station.at}/import", files={"file": ("Words of the hill.txt", words)}).json()
    assert (made["added"], made["doubles"]) == (3, 1) and "never part of a word" in made["refused"][0][
        "reason"
    ]
    odd = "category,term,weight,Author\nA,lamb,3,me\n"
    made = client.post(f"{station.at}/import", files={"file": ("Odd.csv", odd)}).json()
    assert [r["what"] for r in made["refused"]] == ["Column weight", "Column author"]
    problem(client.post(f"{station.at}/import", files={"file": ("Odd.csv", odd)}), 409, "already")
    problem(client.post(f"{station.at}/import", files={"file": ("x.json", "{")}), 422, "not whole JSON")
    problem(
        client.post(f"{station.at}/import", files={"file": ("x.json", '{"a": 1}')}),
        422,
        "no list of categories",
    )
    problem(client.post(f"{station.at}/import", files={"file": ("x.xlsx", "nonsense")}), 422, "damaged")
    plain = json.dumps(
        [{"path": "A", "terms": ["oak", {"term": "ash", "case": True}]}, {"name": "B", "terms": "elm"}]
    )
    made = client.post(f"{station.at}/import", files={"file": ("Trees.json", plain)}).json()
    assert made["added"] == 3


def test_a_file_is_merged_with_its_conflicts_settled(station, client, at):
    theirs = "category,term,case,description\nLivelihood,lamb*,,Income\nLivelihood,deer,,\nLivelihood,flock*,match,\nWonder,awe,,\n"

    def send(path, **more):
        return client.post(f"{station.here}/{path}", files={"file": ("Theirs.csv", theirs)}, data=more)

    plan = send("merge/preview").json()
    assert (plan["categories"], plan["terms"], plan["same"]) == (["Wonder"], 1, 1)
    assert [(c["kind"], c["source"]) for c in plan["conflicts"]] == [
        ("description", ""),
        ("category", "deer"),
        ("options", "flock*"),
    ]
    before = station.shape()
    assert (
        send(
            "merge", take_theirs=json.dumps([plan["conflicts"][1]["key"], plan["conflicts"][2]["key"]])
        ).status_code
        == 200
    )
    assert station.term("flock*")["match_case"] and station.category("Livelihood")["description"] == ""
    assert "deer" in [t["source"] for t in station.category("Livelihood")["terms"]]
    client.post(f"{at}/undo")
    assert station.shape() == before
    eco = station.category("Ecology")["id"]
    assert send("merge/preview", into=str(eco)).json()["terms"] == 2  # awe, flock* with case


def test_dictionaries_are_renamed_copied_and_kept_apart(station, client):
    row = client.get(station.at).json()[0]
    assert (
        client.patch(
            station.here,
            json={"revision": row["revision"], "name": "Frames of the year", "description": "what for"},
        ).status_code
        == 200
    )
    problem(
        client.patch(station.here, json={"revision": row["revision"], "name": "Other"}),
        409,
        "Somebody changed this",
    )
    copy = client.post(f"{station.here}/copy", json={"name": "Second"}).json()
    assert [d["name"] for d in client.get(station.at).json()] == ["Frames of the year", "Second"]
    problem(client.post(f"{station.here}/copy", json={"name": "Second"}), 409, "already")
    assert Station(client, station.at[: -len("/dictionaries")], copy["id"]).shape() == station.shape()


def test_a_term_too_common_for_its_gaps_is_told_and_hides_no_other(station, client, monkeypatch):
    station.add("Livelihood", "a* [0-20] t*")
    monkeypatch.setattr("winnower.core.pattern.find.MOST_READINGS", 1)
    life = station.category("Livelihood")["id"]
    found = station.post(f"categories/{life}/profile", scope=[])["terms"]
    assert "too common" in found[str(station.term("a* [0-20] t*")["id"])]["remark"]
    assert found[str(station.term("lamb*")["id"])]["hits"] == 3


def test_a_category_is_split_and_undone(station, client, at):
    before = station.shape()
    life = station.category("Livelihood")
    lamb = station.term("lamb*")["id"]
    path = f"categories/{life['id']}/split"
    station.post(path, 201, name="Lambs", term_ids=[lamb])
    names = [one["name"] for one in station.tree()]
    assert names.index("Lambs") == names.index("Livelihood") + 1
    assert [t["source"] for t in station.category("Lambs")["terms"]] == ["lamb*"]
    assert "lamb*" not in [t["source"] for t in station.category("Livelihood")["terms"]]
    problem(
        client.post(f"{station.here}/{path}", json={"name": "Lambs", "term_ids": [lamb]}),
        422,
        "Choose the terms",
    )
    flock = station.term("flock*")["id"]
    problem(
        client.post(f"{station.here}/{path}", json={"name": "Ecology", "term_ids": [flock]}), 409, "already"
    )
    client.post(f"{at}/undo")
    assert station.shape() == before


def test_suggestions_of_a_corpus_that_was_taken_out_again(station, client, at):
    category = station.category("Livelihood")["id"]
    delivery = client.get(f"{at}/deliveries").json()[0]["id"]
    assert client.post(f"{at}/deliveries/{delivery}/undo").status_code == 200
    found = client.post(f"{station.here}/categories/{category}/suggestions", json={})
    assert found.status_code == 200, found.text
