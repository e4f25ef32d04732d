"""Groups, versions and files of the codebook; kept questions; samples, progress and lost passages."""

import csv
import io

import docx
import pytest
import xlsxwriter
from lxml import etree

from tests.api.test_api import problem
from tests.api.test_corpus_station import done, ids, undo


def take(client, at, name, content, status=200, **more):
    data = content if isinstance(content, bytes) else content.encode()
    return done(client.post(f"{at}/codebook/import", params=more, files={"file": (name, data)}), status)


def groups(client, at):
    return {one["name"]: one for one in done(client.get(f"{at}/codebook/groups"))}


TABLE = """code,description,Money,Hill
Livelihood,Costs,x,
Livelihood > Losses,"Lambs, ewes",x,x
Voice,,,yes
Voice > Farmer,Keeps sheep,,
"""


def test_a_table_is_told_first_then_taken_over_as_one_step(coding, client, at):
    coding.make("Livelihood", description="Costs")
    told = take(client, at, "codes.csv", TABLE)
    assert [(one["path"][-1], one["state"]) for one in told["steps"]] == [
        ("Livelihood", "known"), ("Losses", "new"), ("Voice", "new"), ("Farmer", "new"),
    ]  # fmt: skip
    assert told["groups_new"] == ["Money", "Hill"] and list(coding.codes()) == ["Livelihood"]
    done_label = take(client, at, "codes.csv", TABLE, try_only=False)["label"]
    assert "codes.csv" in done_label
    codes = coding.codes()
    assert codes["Losses"]["parent_id"] == codes["Livelihood"]["id"]
    members = {
        name: [one for one in codes if codes[one]["id"] in group["codes"]]
        for name, group in groups(client, at).items()
    }
    assert members == {"Money": ["Livelihood", "Losses"], "Hill": ["Losses", "Voice"]}
    again = take(client, at, "codes.csv", TABLE.replace("Keeps sheep", "Keeps cattle"))
    assert [one["changes"] for one in again["steps"] if one["state"] == "changed"] == [["description"]]
    assert again["groups_known"] == ["Money", "Hill"] and not again["groups_new"]
    undo(client, at)
    assert list(coding.codes()) == ["Livelihood"] and not groups(client, at)


def test_what_is_exported_comes_back_the_same(coding, client, at):
    take(client, at, "codes.csv", TABLE, try_only=False)
    for form in ("csv", "xlsx", "qdc"):
        file = client.post(f"{at}/codebook/export?form={form}", json={}).content
        told = take(client, at, f"codebook.{form}", file)
        assert {one["state"] for one in told["steps"]} == {"known"} and not told["refused"], form
        assert told["groups_known"] == ["Money", "Hill"] and not told["groups_new"], form


def test_files_that_are_none_get_a_sentence(coding, client, at):
    def refused(name, content, words):
        answer = client.post(f"{at}/codebook/import", files={"file": (name, content)})
        problem(answer, 422, words)

    refused("codes.csv", b"", "empty")
    refused("codes.qdc", b"<CodeBook><Codes>", "not whole")
    refused("codes.qdc", b"<?xml version='1.0'?><Project/>", "no codebook")
    declared = b'<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "b">]><CodeBook><Codes><Code name="&a;"/></Codes></CodeBook>'
    refused("codes.qdc", declared, "entities")
    assert list(coding.codes()) == []


def test_a_workbook_without_a_head(coding, client, at):
    out = io.BytesIO()
    book = xlsxwriter.Workbook(out)
    sheet = book.add_worksheet()
    for at_row, row in enumerate((("Losses", "What it cost", "x"), ("Costs", "Feed", ""))):
        sheet.write_row(at_row, 0, row)
    book.close()
    told = take(client, at, "codes.xlsx", out.getvalue())
    assert [one["path"] for one in told["steps"]] == [["Losses"], ["Costs"]]
    assert take(client, at, "codes.xlsx", out.getvalue(), groups=False)["groups_new"] == []


def test_a_colour_is_given_to_all_codes_of_a_group_as_one_step(coding, client, at):
    for name in ("Losses", "Joy", "Wonder"):
        coding.make(name)
    ids = [coding.codes()[name]["id"] for name in ("Losses", "Joy", "Wonder")]
    before = {name: one["colour"] for name, one in coding.codes().items()}
    made = done(client.post(f"{at}/codebook/groups", json={"name": "Warm", "codes": ids[:2]}), 201)
    group = groups(client, at)["Warm"]
    done(
        client.patch(f"{at}/codebook/groups/{made['id']}", json={"revision": group["revision"], "colour": 9})
    )
    now = {name: one["colour"] for name, one in coding.codes().items()}
    assert now == before | {"Losses": 9, "Joy": 9} and groups(client, at)["Warm"]["codes"] == ids[:2]
    done(client.post(f"{at}/undo"))
    assert {name: one["colour"] for name, one in coding.codes().items()} == before


def test_groups_are_made_renamed_filled_and_deleted(coding, client, at):
    coding.make("Losses")
    losses = coding.codes()["Losses"]["id"]
    made = done(client.post(f"{at}/codebook/groups", json={"name": " Money ", "codes": [losses]}), 201)
    problem(client.post(f"{at}/codebook/groups", json={"name": "Money"}), 409, "already")
    problem(client.post(f"{at}/codebook/groups", json={"name": " "}), 422, "needs a name")
    group = groups(client, at)["Money"]
    url = f"{at}/codebook/groups/{made['id']}"
    done(client.patch(url, json={"revision": group["revision"], "name": "Cash", "codes": []}))
    assert groups(client, at)["Cash"]["codes"] == []
    problem(client.patch(url, json={"revision": group["revision"], "name": "Late"}), 409, "Somebody")
    undo(client, at)
    assert groups(client, at)["Money"]["codes"] == [losses]
    done(client.delete(f"{at}/codes/{losses}"))
    assert groups(client, at)["Money"]["codes"] == []
    undo(client, at)
    done(client.delete(url))
    assert not groups(client, at) and "Losses" in coding.codes()


def test_versions_are_kept_told_apart_and_put_back(coding, client, at):
    take(client, at, "codes.csv", TABLE, try_only=False)
    url = f"{at}/codebook/versions"
    problem(client.post(url, json={"name": " "}), 422, "Give the version a name")
    assert done(client.post(url, json={"name": "First"}), 201)["number"] == 1
    assert done(client.post(url, json={"name": "Again"}), 201)["number"] == 1, "nothing changed since"
    losses = coding.codes()["Losses"]
    done(
        client.patch(
            f"{at}/codes/{losses['id']}", json={"revision": losses["revision"], "description": "All"}
        )
    )
    coding.make("Birds")
    coding.code("Deer", "Birch is back", "Birds")
    done(client.delete(f"{at}/codes/{coding.codes()['Farmer']['id']}"))
    told = done(client.get(f"{url}/1/differences"))
    assert sorted((one["path"][-1], one["state"]) for one in told["steps"] if one["state"] != "known") == [
        ("Birds", "gone"), ("Farmer", "new"), ("Losses", "changed"),
    ]  # fmt: skip
    done(client.post(f"{url}/1/put-back"))
    codes = coding.codes()
    assert codes["Losses"]["description"] == "Lambs, ewes" and "Birds" not in codes and "Farmer" in codes
    assert [one["now"] for one in done(client.get(url))] == [False, True]
    undo(client, at)
    assert "Birds" in coding.codes() and len(coding.on("Deer")) == 1
    problem(client.get(f"{url}/9/differences"), 404, "no version 9")


def test_questions_are_kept_under_a_name(coding, client, at):
    coding.make("Losses")
    asked = {"codes": [coding.codes()["Losses"]["id"]], "group": "source"}
    done(client.post(f"{at}/questions", json={"name": "Costs by source", "question": asked}), 201)
    done(
        client.post(f"{at}/questions", json={"name": "Costs by source", "question": asked | {"group": ""}}),
        201,
    )
    (kept,) = done(client.get(f"{at}/questions"))
    assert (kept["name"], kept["question"]["group"]) == ("Costs by source", "")
    undo(client, at)
    (kept,) = done(client.get(f"{at}/questions"))
    assert kept["question"]["group"] == "source"
    done(client.delete(f"{at}/questions/{kept['id']}?revision={kept['revision']}"))
    assert done(client.get(f"{at}/questions")) == []
    problem(client.post(f"{at}/questions", json={"name": " ", "question": {}}), 422, "a name")


@pytest.fixture
def coded(coding, colleague):
    for name in ("Losses", "Voice"):
        coding.make(name)
    coding.code("Nine pages", "forty lambs", "Losses")
    coding.code("Claims", "flocks and lambs", "Losses", "Voice")
    colleague.code("Deer", "Birch is back", "Voice")
    return coding


def test_passages_are_grouped_by_code_text_and_field(coded, client, at):
    def grouped(by):
        page = coded.find(group=by)
        names = [page["groups"][str(one["group"])]["label"] for one in page["passages"]]
        return list(zip(names, (one["text"] for one in page["passages"]), strict=True)), page

    by_code, page = grouped("code")
    assert [name for name, _ in by_code] == ["Losses", "Losses", "Voice", "Voice"]
    assert set(by_code) == {
        ("Losses", "forty lambs"), ("Losses", "flocks and lambs"), ("Voice", "flocks and lambs"),
        ("Voice", "Birch is back"),
    }  # fmt: skip
    assert (page["total"], page["rows"]) == (4, 4)
    by_source, _ = grouped("source")
    assert [name for name, _ in by_source] == sorted(name for name, _ in by_source)
    # a text in two sets has its passages in both
    for name in ("One", "Two"):
        done(client.post(f"{at}/sets", json={"name": name, "ids": [ids(client, at)["Deer"]]}), 201)
    sets = next(one["key"] for one in done(client.get(f"{at}/fields")) if one["name"] == "Sets")
    by_set, page = grouped(sets)
    assert by_set[:2] == [("One", "Birch is back"), ("Two", "Birch is back")]
    assert {name for name, _ in by_set[2:]} == {"no value"} and (page["total"], page["rows"]) == (4, 5)
    problem(client.post(f"{at}/passages/find", json={"group": "nonsense"}), 422, "no field")


def test_near_in_words_and_paragraphs(coded, client, at):
    coded.make("Other")
    coded.code("Claims", "lambs", "Other")
    known = coded.codes()

    def near(within, unit="words", of="Voice", to="Other"):
        beside = {"relation": "near", "codes": [known[to]["id"]], "within": within, "unit": unit}
        return coded.find(codes=[known[of]["id"]], beside=[beside])["total"]

    assert near(0) == 1 and near(0, "paragraphs") == 1
    assert near(0, of="Losses") == 1 and near(10_000, "paragraphs", of="Losses") == 1
    without = {"relation": "near", "codes": [known["Other"]["id"]], "within": 0, "without": True}
    assert [
        one["title"] for one in coded.find(codes=[known["Voice"]["id"]], beside=[without])["passages"]
    ] == ["Deer"]


def test_all_a_question_finds_is_coded_moved_or_taken_off_as_one_step(coded, client, at):
    coded.make("All")
    known = coded.codes()
    url = f"{at}/passages/all/change"
    losses = {"codes": [known["Losses"]["id"]]}
    added = done(client.post(url, json=losses | {"way": "add", "code_id": known["All"]["id"]}))
    assert added["texts"] == 2 and coded.counts()["All"] == (2, 2) and coded.counts()["Losses"] == (2, 2)
    assert done(client.post(url, json=losses | {"way": "add", "code_id": known["All"]["id"]}))["texts"] == 0
    undo(client, at)
    assert coded.counts()["All"] == (0, 0)
    done(client.post(url, json=losses | {"way": "move", "code_id": known["All"]["id"]}))
    assert coded.counts()["Losses"] == (0, 0) and coded.counts()["All"] == (2, 2)
    done(client.post(url, json={"way": "take off"}))
    assert coded.find()["total"] == 0
    undo(client, at)
    assert coded.find()["total"] == 4
    problem(client.post(url, json={"way": "move"}), 422, "Choose the code")


def test_passages_leave_for_word_under_their_groups(coded, client, at):
    file = client.post(f"{at}/passages/export?form=docx", json={"group": "code"}).content
    words = [(p.style.name, p.text) for p in docx.Document(io.BytesIO(file)).paragraphs]
    heads = [text for style, text in words if style == "Heading 1"]
    assert heads == ["Losses", "Voice"]
    assert ("Quote", "forty lambs") in words and any(
        "paragraph" in text and "Losses" in text for _, text in words
    )
    sheet = client.post(f"{at}/passages/export?form=csv", json={"group": "code"}).text
    rows = list(csv.DictReader(io.StringIO(sheet.lstrip("\ufeff"))))
    assert rows[0]["group"] == "Losses"


def test_a_sample_is_drawn_tried_and_kept_as_a_set(coded, client, at):
    asked = {"split": {"field": "source"}, "texts_each": 1, "name": "Round one"}
    tried = done(client.post(f"{at}/coding/sample", json=asked | {"try_only": True}))
    assert tried["label"] == "" and all(group["texts"] <= 1 for group in tried["groups"])
    kept = done(client.post(f"{at}/coding/sample", json=asked | {"seed": tried["seed"]}))
    assert [g["words"] for g in kept["groups"]] == [g["words"] for g in tried["groups"]]
    sets = next(one for one in done(client.get(f"{at}/fields")) if one["name"] == "Sets")
    assert sets["values"] == [{"label": "Round one", "texts": kept["texts"]}]
    problem(client.post(f"{at}/coding/sample", json=asked), 422, "already")
    words = done(client.post(f"{at}/coding/sample", json={"words_each": 5, "try_only": True}))
    assert words["texts"] == 1 and words["words"] >= 5
    problem(client.post(f"{at}/coding/sample", json={}), 422, "how many words")
    undo(client, at)
    assert "Round one" not in str(done(client.get(f"{at}/fields")))


def test_how_far_coding_is_and_what_comes_next(coded, colleague, client, at):
    texts = ids(client, at)
    order = [row["id"] for row in client.post(f"{at}/texts/page", json={"scope": [], "find": "", "sort": "date", "descending": False, "start": 0, "most": 50}).json()["rows"]]  # fmt: skip

    def following(text_id, **scope):
        return done(client.post(f"{at}/texts/{text_id}/next-to-code", json=scope))

    assert following(order[0])["text_id"] == order[1]
    done(client.put(f"{at}/texts/{order[1]}/coding-done", json={"done": True}))
    done(colleague.client.put(f"{at}/texts/{order[1]}/coding-done", json={"done": True}))
    assert following(order[0]) == {"text_id": order[2], "left": len(order) - 1, "total": len(order)}
    assert following(order[-1])["text_id"] == order[0], "and round to the first"
    told = {one["text_id"]: one for one in done(client.post(f"{at}/coding/progress", json={"texts": order}))}
    assert told[texts["Claims"]]["passages"] == 2 and told[order[1]]["mine"]
    assert len(told[order[1]]["done"]) == 2 and not told[order[0]]["done"]
    undo(client, at)
    assert following(order[0])["text_id"] == order[1]


def test_passages_without_words_are_listed_and_put_elsewhere(coded, client, at):
    claims = ids(client, at)["Claims"]
    text = client.get(f"{at}/texts/{claims}").json()
    body = text["body"].replace("flocks and lambs", "beasts")
    done(client.put(f"{at}/texts/{claims}/body", json={"body": body, "revision": text["revision"]}))
    lost = done(client.get(f"{at}/lost-passages"))
    assert [(one["code"], one["words"], one["title"]) for one in lost] == [
        ("Losses", "flocks and lambs", "Claims"), ("Voice", "flocks and lambs", "Claims"),
    ]  # fmt: skip
    start = body.index("beasts")
    place = {"text_id": claims, "start": start, "end": start + 6, "words": "beasts"}
    done(client.post(f"{at}/lost-passages/{lost[0]['id']}/place", json=place))
    assert [one[:2] for one in coded.on("Claims")] == [("beasts", "Losses")]
    done(client.delete(f"{at}/lost-passages/{lost[1]['id']}"))
    assert done(client.get(f"{at}/lost-passages")) == []
    problem(client.delete(f"{at}/lost-passages/{lost[1]['id']}"), 404, "no longer listed")
    for _ in range(3):
        undo(client, at)
    assert len(coded.on("Claims")) == 2 and done(client.get(f"{at}/lost-passages")) == []


def test_words_under_codes_count_once(coded, colleague, client, at):
    colleague.code("Claims", "and lambs", "Losses")
    names = {one["id"]: name for name, one in coded.codes().items()}
    found = {names[one["id"]]: one["words"] for one in done(client.post(f"{at}/codebook/words", json={}))}
    assert found == {"Losses": 5, "Voice": 6}


def test_the_exchange_format_holds_groups(coding, client, at):
    take(client, at, "codes.csv", TABLE, try_only=False)
    root = etree.fromstring(client.post(f"{at}/codebook/export?form=qdc", json={}).content)
    sets = root.findall(".//{*}Set")
    assert [one.get("name") for one in sets] == ["Money", "Hill"]
    known = {one.get("guid"): one.get("name") for one in root.findall(".//{*}Code")}
    assert [known[one.get("guid")] for one in sets[1]] == ["Losses", "Voice"]


def test_a_new_code_for_chosen_passages_or_all_found_is_made_in_the_same_step(coded, client, at):
    losses = {"codes": [coded.codes()["Losses"]["id"]]}
    found = coded.find(**losses)["passages"]
    done(
        client.post(f"{at}/passages/change", json={"passages": [one["id"] for one in found], "new": " Gone "})
    )
    assert coded.counts()["Gone"] == (2, 2) and coded.counts()["Losses"] == (0, 0)
    undo(client, at)
    assert "Gone" not in coded.codes() and coded.counts()["Losses"] == (2, 2)
    url = f"{at}/passages/all/change"
    assert done(client.post(url, json=losses | {"way": "add", "new": "Both"}))["texts"] == 2
    assert coded.counts()["Both"] == (2, 2) and coded.counts()["Losses"] == (2, 2)
    undo(client, at)
    assert "Both" not in coded.codes()
    problem(client.post(url, json=losses | {"way": "move", "new": "  "}), 422, "Choose the code")
    problem(client.post(url, json=losses | {"way": "move", "new": "Losses"}), 409, "Losses")
    assert coded.counts()["Losses"] == (2, 2)
