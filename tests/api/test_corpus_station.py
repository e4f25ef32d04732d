"""Variables, sets, corrections, notes, references, the check: as the interface uses them."""

import pytest

from tests.api.test_api import chosen, marked, problem, upload, wait_for
from tests.conftest import NEWS_ROWS, write_table

ALL = {"scope": []}


def variables(client, at):
    return {v["name"]: v for v in client.get(f"{at}/variables").json()}


def values(client, at, name):
    return {v["label"]: v["texts"] for v in variables(client, at)[name]["values"]}


def page(client, at, **asked):
    return client.post(f"{at}/texts/page", json=ALL | {"sort": "title"} | asked).json()


def ids(client, at):
    return {row["title"]: row["id"] for row in page(client, at)["rows"]}


def done(answer, status=200):
    assert answer.status_code == status, answer.text
    return answer.json()


def undo(client, at):
    return done(client.post(f"{at}/undo"))["label"]


def size(client, at, *scope):
    return client.post(f"{at}/scope", json={"scope": list(scope)}).json()["texts"]


@pytest.fixture
def news_in(client, at, deliver, news):
    deliver(news)


def set_value(client, at, field, value, **asked):
    return done(client.post(f"{at}/texts/values", json=ALL | {"field": field, "value": value} | asked))


def test_values_of_one_text_and_of_all_with_undo_and_redo(client, at, news_in):
    key = variables(client, at)["Age"]["key"]
    before = page(client, at)["rows"]
    one = ids(client, at)["Deer"]
    assert set_value(client, at, key, "61", ids=[one])["texts"] == 1
    assert set_value(client, at, "source", "Valley Wire")["texts"] == 4
    assert set_value(client, at, "date", "3 June 2031", ids=[one])["texts"] == 1
    rows = page(client, at)["rows"]
    assert {row["source"] for row in rows} == {"Valley Wire"}
    assert next(r for r in rows if r["id"] == one)["values"][key] == 61
    for _ in range(3):
        undo(client, at)
    assert page(client, at)["rows"] == before
    done(client.post(f"{at}/redo"))
    assert next(r for r in page(client, at)["rows"] if r["id"] == one)["values"][key] == 61
    problem(
        client.post(f"{at}/texts/values", json=ALL | {"field": key, "value": "old"}), 422, "is not a number"
    )


def test_a_stale_undo_changes_nothing(client, at, news_in, database, project, account):
    key = variables(client, at)["Age"]["key"]
    one = ids(client, at)["Deer"]
    set_value(client, at, key, "61", ids=[one])
    from winnower.store.models import Command

    with database.session() as session:  # as if somebody else had changed it since
        session.query(Command).filter(Command.project_id == project.id).update({"undone": 0})
        from sqlalchemy import text as sql

        session.execute(
            sql("update text_value set number = 5 where text_id = :t and number = 61"), {"t": one}
        )
        session.execute(
            sql("update field_revision set revision = revision + 1 where project_id = :p"), {"p": project.id}
        )
        session.execute(
            sql("update project set values_revision = values_revision + 1 where id = :p"), {"p": project.id}
        )
    problem(client.post(f"{at}/undo"), 409, "changed by somebody else")


def test_groups_sets_by_hand_and_by_rule_are_splits_and_scopes(client, at, news_in):
    some = ids(client, at)
    set_value(client, at, "group", "First wave", ids=[some["Deer"], some["Claims"]])
    done(client.post(f"{at}/sets", json=ALL | {"name": "Read twice", "ids": [some["Deer"]]}), 201)
    done(client.post(f"{at}/sets", json=ALL | {"name": "Read twice", "ids": [some["Claims"]]}), 201)
    rule = [{"kind": "terms", "terms": ["lamb*"]}]
    done(client.post(f"{at}/sets", json=ALL | {"name": "On lambs", "rule": rule}), 201)
    assert values(client, at, "Group") == {"First wave": 2}
    found = values(client, at, "Sets")
    assert found["Read twice"] == 2 and found["On lambs"] == size(client, at, rule[0])
    key = variables(client, at)["Sets"]["key"]
    in_set = {"kind": "values", "field": key, "values": ["On lambs"]}
    assert size(client, at, in_set) == found["On lambs"]
    fields = {f["name"]: f for f in client.get(f"{at}/fields").json()}
    assert fields["Sets"]["can_split"] and fields["Group"]["can_split"]
    problem(
        client.post(f"{at}/texts/values", json=ALL | {"field": "sets", "value": "On lambs", "mode": "add"}),
        422,
        "follows from a rule",
    )
    set_value(client, at, "sets", "Read twice", mode="remove", ids=[some["Deer"]])
    assert values(client, at, "Sets")["Read twice"] == 1


def test_a_rule_set_stays_current_with_the_next_delivery(client, at, news_in, deliver, tmp_path):
    done(
        client.post(
            f"{at}/sets", json=ALL | {"name": "Lambs", "rule": [{"kind": "terms", "terms": ["lamb"]}]}
        ),
        201,
    )
    before = values(client, at, "Sets")["Lambs"]
    deliver(
        write_table(tmp_path / "more.csv", [["9", "New", "Wire", "2031-10-01", "One lamb was seen.", "", ""]])
    )
    assert values(client, at, "Sets")["Lambs"] == before + 1


def test_derived_variables(client, at, filled):
    age, date = variables(client, at)["Age"]["key"], "date"
    make = lambda **given: done(client.post(f"{at}/variables", json=given), 201)  # noqa: E731
    make(name="Age band", rule={"derive": "bands", "field": age, "cuts": [30, 50]})
    make(name="Quarter", rule={"derive": "period", "field": date, "period": "quarter"})
    make(name="On deer", rule={"derive": "fits", "scope": [{"kind": "terms", "terms": ["deer"]}]})
    tree = client.get(f"{at}/dictionaries/{filled}").json()
    category = next(c for c in tree["categories"] if c["name"] == "Livelihood")
    make(name="Livelihood hits", rule={"derive": "category", "category_id": category["id"], "count": True})
    assert values(client, at, "Age band") == {"under 30": 1, "30 to 49": 2, "50 and over": 1}
    assert sum(values(client, at, "On deer").values()) == len(NEWS_ROWS)
    key = variables(client, at)["Livelihood hits"]["key"]
    hits = [row["values"][key] for row in page(client, at)["rows"]]
    assert sum(hits) > 0
    more_terms = {"terms": [{"source": "compensation"}]}
    done(client.post(f"{at}/dictionaries/{filled}/categories/{category['id']}/terms", json=more_terms), 201)
    more = [row["values"][key] for row in page(client, at)["rows"]]
    assert sum(more) == sum(hits) + 1, "a derived variable follows its dictionary"
    problem(
        client.post(f"{at}/texts/values", json=ALL | {"field": key, "value": "3"}), 422, "follows from a rule"
    )
    problem(
        client.post(
            f"{at}/variables", json={"name": "x", "rule": {"derive": "bands", "field": date, "cuts": [1]}}
        ),
        422,
        "is not a number",
    )


def test_rename_merge_order_and_delete_values(client, at, news_in):
    tags = variables(client, at)["Tags"]
    by_label = {v["label"]: v["id"] for v in tags["values"]}
    assert {"north", "hill"} <= set(by_label)
    done(client.patch(f"{at}/values/{by_label['hill']}", json={"label": "hillside"}))
    assert "hillside" in values(client, at, "Tags")
    before = values(client, at, "Tags")
    done(
        client.post(
            f"{at}/variables/{tags['id']}/merge", json={"ids": [by_label["hill"]], "into": by_label["north"]}
        )
    )
    assert "hillside" not in values(client, at, "Tags")
    undo(client, at)
    assert values(client, at, "Tags") == before
    order = [v["id"] for v in reversed(variables(client, at)["Tags"]["values"])]
    done(client.post(f"{at}/variables/{tags['id']}/order", json={"ids": order}))
    assert [v["id"] for v in variables(client, at)["Tags"]["values"]] == order
    done(client.delete(f"{at}/values/{by_label['north']}"))
    assert "north" not in values(client, at, "Tags")
    done(client.delete(f"{at}/variables/{tags['id']}"))
    assert "Tags" not in variables(client, at)
    undo(client, at)
    undo(client, at)
    assert values(client, at, "Tags") == before


def test_of_very_many_values_the_most_frequent_are_listed_in_their_order(client, at, news_in, monkeypatch):
    from winnower.api import variables as room

    monkeypatch.setattr(room, "MOST_VALUES", 2)
    found = variables(client, at)["Tags"]
    assert [v["label"] for v in found["values"]] == ["coast", "north"]
    assert found["different"] == 3


def test_a_variable_is_given_another_kind(client, at, news_in):
    age = variables(client, at)["Age"]
    asked = {"kind": "category", "revision": age["revision"]}
    assert done(client.post(f"{at}/variables/{age['id']}/kind", json=asked))["texts"] == 4
    assert values(client, at, "Age")["31"] == 1
    problem(client.post(f"{at}/variables/{age['id']}/kind", json=asked), 409, "in the meantime")
    asked = {"kind": "date", "revision": variables(client, at)["Age"]["revision"]}
    lost = done(client.post(f"{at}/variables/{age['id']}/kind", json=asked))
    assert lost["texts"] == 0 and lost["lost_total"] == 4
    undo(client, at)
    undo(client, at)
    assert variables(client, at)["Age"]["kind"] == "number"


def test_fill_from_a_table_by_key_reports_what_did_not_match(client, at, news_in):
    sent = upload(client, at, ("more.csv", "nr,region,weight\n1,coast,2.5\n2,hill,heavy\n99,moor,1\n"))
    asked = {
        "upload_id": sent["id"],
        "key_column": "nr",
        "columns": [
            {"column": "region", "name": "Region", "kind": "category"},
            {"column": "weight", "name": "Weight", "kind": "number"},
        ],
    }
    tried = done(client.post(f"{at}/fill", json=asked | {"try_only": True}))
    assert (tried["matched_rows"], tried["unmatched"], tried["bad_values_total"]) == (2, ["99"], 1)
    assert "Region" not in variables(client, at)
    assert done(client.post(f"{at}/fill", json=asked))["changed"] == 3
    assert values(client, at, "Region") == {"coast": 1, "hill": 1}
    undo(client, at)
    assert "Region" not in variables(client, at)


def test_a_correction_moves_hits_and_notes_with_their_words(client, at, news_in):
    one = ids(client, at)["Claims"]
    text = client.get(f"{at}/texts/{one}").json()
    start = text["body"].index("market")
    note = {"body": "Check the price.", "start": start, "end": start + len("market price")}
    done(client.post(f"{at}/notes", json=note | {"text_id": one}), 201)
    new = "At once: " + text["body"].replace("fell", "dropped")
    done(client.put(f"{at}/texts/{one}/body", json={"body": new, "revision": text["revision"]}))
    problem(
        client.put(f"{at}/texts/{one}/body", json={"body": "x", "revision": text["revision"]}),
        409,
        "corrected this text in the meantime",
    )
    after = client.get(
        f"{at}/texts/{one}",
        params={"marked": marked({"kind": "terms", "terms": [{"source": "market price"}]})},
    ).json()
    beside = client.get(f"{at}/texts/{one}/beside").json()
    place = beside["notes"][0]
    assert after["body"][place["start"] : place["end"]] == "market price"
    assert [after["body"][m["start"] : m["end"]] for m in after["marks"]] == ["market price"]
    assert (beside["edits"][0]["what"], beside["edits"][0]["added"].strip()) == ("Corrected", "At once:")
    assert size(client, at, {"kind": "terms", "terms": ["dropped"]}) == 1
    assert size(client, at, {"kind": "terms", "terms": ["fell"]}) == 1, "the other text with it stays"
    undo(client, at)
    assert client.get(f"{at}/texts/{one}").json()["body"] == text["body"]
    assert size(client, at, {"kind": "terms", "terms": ["fell"]}) == 2
    assert page(client, at)["total"] == len(NEWS_ROWS)


RIS = (
    "TY  - JOUR\nAU  - Quill, Ada\nAU  - Marsh, Ben\nTI  - Lynx and deer\nJO  - Hill Ecology\nPY  - 2029\nVL  - 3\n"
    "IS  - 2\nSP  - 10\nEP  - 20\nDO  - 10.1000/lynx\nAB  - We count deer.\nKW  - lynx\nKW  - deer\nER  - \n\n"
    "TY  - BOOK\nAU  - Fell, Cy\nTI  - The valley\nPY  - 2028\nPB  - Orrin Press\nCY  - Orrin\nER  - \n"
)


@pytest.fixture
def references(client, at):
    sent = upload(client, at, ("studies.ris", RIS))
    look = client.post(f"{at}/uploads/{sent['id']}/preview", json={}).json()
    assert look["lots"][0]["samples"][0]["placeholder"]
    job = done(client.post(f"{at}/imports", json={"upload_id": sent["id"], "lots": chosen(look)}), 201)
    assert wait_for(client, at, job["id"])["state"] == "done"
    return ids(client, at)


def test_references_become_placeholders_to_fill(client, at, references):
    assert set(references) == {"Quill and Marsh 2029: Lynx and deer", "Fell 2028: The valley"}
    one = references["Quill and Marsh 2029: Lynx and deer"]
    beside = client.get(f"{at}/texts/{one}/beside").json()
    assert beside["placeholder"] and beside["notes"][0]["body"] == "We count deer."
    assert beside["reference"]["author_date"] == (
        "Quill, A., & Marsh, B. (2029). Lynx and deer. Hill Ecology, 3(2), 10–20. https://doi.org/10.1000/lynx"
    )
    assert beside["reference"]["notes"].startswith(
        "Quill, Ada, and Ben Marsh. “Lynx and deer.” Hill Ecology 3, no. 2"
    )
    row = next(r for r in page(client, at)["rows"] if r["id"] == one)
    keyed = {v["key"]: name for name, v in variables(client, at).items()}
    named = {keyed[key]: value for key, value in row["values"].items()}
    assert named["Authors"] == ["Quill, Ada", "Marsh, Ben"] and named["Year"] == 2029
    answer = client.post(
        f"{at}/texts/{one}/attach", files=[("files", ("study.md", "# Counts\n\nThe deer are many."))]
    )
    done(answer)
    assert "The deer are many." in client.get(f"{at}/texts/{one}").json()["body"]
    assert not client.get(f"{at}/texts/{one}/beside").json()["placeholder"]
    assert size(client, at, {"kind": "terms", "terms": ["deer"]}) == 1
    two = references["Fell 2028: The valley"]
    revision = client.get(f"{at}/texts/{two}").json()["revision"]
    done(client.put(f"{at}/texts/{two}/body", json={"body": "Typed in by hand.", "revision": revision}))
    assert size(client, at, {"kind": "terms", "terms": ["typed"]}) == 1


def test_the_same_references_again_are_known_and_the_choice_is_kept(client, at, references):
    sent = upload(client, at, ("again.ris", RIS))
    look = client.post(f"{at}/uploads/{sent['id']}/preview", json={}).json()
    assert look["lots"][0]["kept"]
    found = done(client.post(f"{at}/imports/expected", json={"upload_id": sent["id"], "lots": chosen(look)}))
    assert (found["new"], found["known"], found["everything"]) == (0, 2, True)


def test_a_delivery_can_be_undone_done_again_and_imported_again(client, at, deliver, news, tmp_path):
    deliver(news)
    deliver(
        write_table(tmp_path / "more.csv", [["9", "New", "Wire", "2031-10-01", "A lynx was seen.", "", ""]])
    )
    second = client.get(f"{at}/deliveries").json()[0]
    done(client.post(f"{at}/deliveries/{second['id']}/undo"))
    assert page(client, at)["total"] == len(NEWS_ROWS)
    assert client.get(f"{at}/deliveries").json()[0]["state"] == "undone"
    undo(client, at)
    assert page(client, at)["total"] == len(NEWS_ROWS) + 1
    assert size(client, at, {"kind": "terms", "terms": ["lynx"]}) >= 1
    done(client.post(f"{at}/redo"))
    assert deliver(tmp_path / "more.csv").new == 1
    assert undo(client, at) == "Import more.csv"
    problem(client.post(f"{at}/undo"), 409, "taken the place")


def test_answers_to_several_questions(client, at):
    table = (
        "nr,parish,What worries you most about the lynx?,What do you hope the lynx will bring?\n"
        "1,Orrin,The lambs on the hill and what the winter will do to the flock after all.,"
        "That the deer will leave the young birch alone and that the wood comes back at last.\n"
        "2,Skell,Nothing worries me at all about them; I have lived here for sixty years and more.,\n"
    )
    sent = upload(client, at, ("survey.csv", table))
    look = client.post(f"{at}/uploads/{sent['id']}/preview", json={}).json()
    lots = chosen(look)
    mapping = look["lots"][0]["choice"]["mapping"]
    assert sum(t["role"] == "text" for t in mapping["targets"]) == 2
    assert len(look["lots"][0]["samples"]) == 3
    mapping = {**mapping, "layout": "sections"}
    sections = client.post(
        f"{at}/uploads/{sent['id']}/preview", json={"lots": {next(iter(lots)): {"mapping": mapping}}}
    ).json()
    assert len(sections["lots"][0]["samples"]) == 2
    job = done(client.post(f"{at}/imports", json={"upload_id": sent["id"], "lots": lots}), 201)
    wait_for(client, at, job["id"])
    assert sorted(values(client, at, "Question").values()) == [1, 2]


@pytest.fixture
def checked(client, at, deliver, tmp_path):
    story = "The valley board said on Monday that the inquiry into the lynx release will begin in May and that all may speak. "
    rows = [
        ["1", "Agency", "Wire", "2031-04-02", story * 3 + "It ends in June.", "", ""],
        ["2", "Agency late", "Lantern", "2031-04-03", story * 3 + "It ends in July, they said.", "", ""],
        ["3", "Same a", "Wire", "2031-05-01", "A short note on the bell walk.", "", ""],
        ["4", "Same b", "Lantern", "2031-05-02", "A short note on the bell walk.", "", ""],
        ["5", "Tiny", "Wire", "2031-05-02", "Yes.", "", ""],
        ["6", "Broken", "Wire", "", "The cafÃ© is closed and the lynx donâ€™t mind at all, we hear.", "", ""],
        [
            "7",
            "Fremd",
            "Wire",
            "2031-06-01",
            "Die Schafe stehen auf der Weide und der Luchs schläft im Wald.",
            "",
            "",
        ],
    ]
    deliver(write_table(tmp_path / "a.csv", rows))
    job = done(client.post(f"{at}/check", json={}), 201)
    ended = wait_for(client, at, job["id"])
    assert ended["state"] == "done", ended
    return client.get(f"{at}/check").json()


def test_the_check_finds_what_is_wrong(client, at, checked):
    assert checked["state"] == "ready"
    assert (checked["near_groups"], checked["near_texts"]) == (1, 2)
    assert (checked["same_groups"], checked["same_texts"]) == (1, 2)
    assert (checked["tiny"], checked["damaged"]) == (1, 1)
    assert {"label": "German", "texts": 1} in checked["languages"]
    assert {"key": "date", "name": "Date", "texts": 1} in checked["missing"]
    group = client.get(f"{at}/check/groups", params={"kind": "near"}).json()["groups"][0]
    assert [t["text"]["title"] for t in group["texts"]] == ["Agency", "Agency late"]
    first, second = (t["text"]["id"] for t in group["texts"])
    parts = client.get(f"{at}/check/differences", params={"first": first, "second": second}).json()["parts"]
    assert {"kind": "removed", "text": "June."} in parts


def test_groups_are_counted_once_set_aside_or_kept(client, at, checked):
    def settle(way):
        asked = {"kind": "near", "groups": [0], "way": way}
        return done(client.post(f"{at}/check/groups", json=asked))

    assert settle("once")["texts"] == 1
    assert size(client, at) == 6
    assert client.post(f"{at}/scope", json=ALL).json()["aside"] == 1
    key = variables(client, at)["Excluded"]["key"]
    assert size(client, at, {"kind": "values", "field": key, "values": ["excluded"]}) == 1
    settle("aside")
    assert size(client, at) == 5
    settle("all")
    assert size(client, at) == 7
    assert client.get(f"{at}/check/groups", params={"kind": "near"}).json()["groups"][0]["kept"]


def test_texts_nearly_alike_are_one_unit_of_a_comparison(client, at, checked):
    """Two agency copies and two equal notes in two sources: as stories they are in several groups."""
    asked = {"target": {"kind": "terms", "terms": [{"source": "lynx"}]}, "split": {"field": "source"}}
    by_text = client.post(f"{at}/compare", json=asked).json()
    by_story = client.post(f"{at}/compare", json={**asked, "unit": "story"}).json()
    assert (by_text["unit"], by_story["unit"]) == ("the text", "the story")
    assert "stories have texts in several groups" in by_story["test"]["reason"]
    assert [row["cells"] for row in by_text["rows"]] == [row["cells"] for row in by_story["rows"]]
    no_field = client.post(f"{at}/compare", json={**asked, "split": {}, "unit": "story"}).json()
    assert not any("each is a unit of its own" in one["headline"] for one in no_field["statements"])


def test_stories_need_a_check_of_the_texts_as_they_are(client, at, filled):
    asked = {"target": {"kind": "terms", "terms": [{"source": "lamb*"}]}, "unit": "story"}
    problem(client.post(f"{at}/compare", json=asked), 422, "Check the corpus first")


def test_damaged_characters_are_repaired_and_the_language_is_kept(client, at, checked):
    row = client.get(f"{at}/check/damaged").json()["rows"][0]
    assert (row["before"][0], row["after"][0]) == ("cafÃ©", "café")
    done(client.post(f"{at}/check/language"))
    assert values(client, at, "Language")["German"] == 1
    assert done(client.post(f"{at}/check/repair", json={}))["texts"] == 1
    body = client.get(f"{at}/texts/{row['text']['id']}").json()["body"]
    assert body.startswith("The café is closed and the lynx don’t mind")
    problem(client.get(f"{at}/check/damaged"), 409, "changed since the last check")
    assert client.get(f"{at}/check").json()["state"] == "stale"
    assert values(client, at, "Language")["German"] == 1, (
        "values stay with their texts when parts are rewritten"
    )


def test_the_calendar_counts_by_month_and_source(client, at, checked):
    found = client.post(f"{at}/check/calendar", json=ALL).json()
    assert (found["labels"], found["sources"]) == (["2031-04", "2031-05", "2031-06"], ["Lantern", "Wire"])
    assert found["counts"] == [[1, 1, 0], [1, 2, 1]]
    assert (found["first_days"][0], found["last_days"][0]) == ("2031-04-01", "2031-04-30")


def test_columns_are_kept_per_person(client, at):
    assert client.get(f"{at}/preferences/columns").json()["value"] is None
    client.put(f"{at}/preferences/columns", json={"value": ["v1", "words"]})
    assert client.get(f"{at}/preferences/columns").json()["value"] == ["v1", "words"]


def test_a_text_can_be_pasted_in(client, at, news_in):
    job = done(
        client.post(f"{at}/texts", json={"title": "Pasted", "body": "A lynx at dusk.", "source": "Notes"}),
        201,
    )
    assert wait_for(client, at, job["id"])["result"]["new"] == 1
    assert page(client, at, find="dusk")["total"] == 1
