"""Automatic coding over HTTP: tried, made, judged, brought in step, taken back; always beside what people coded."""

import pytest

from tests.api.test_api import problem
from tests.api.test_corpus_station import done, ids, undo


def texts(items):
    return sorted(one["text"] for one in items)


def test_a_recipe_is_tried_before_anything_is_stored(runs, client, at, coding):
    told = runs.preview(split={"field": "source"})
    assert {one["name"]: (one["places"], one["texts"]) for one in told["pieces"]} == {
        "Livelihood": (5, 3),
        "Ecology": (3, 2),
        "Trees": (1, 1),
    }
    assert (told["places"], told["texts"], told["of_texts"]) == (9, 5, 5)
    farmer = told["labels"].index("Hill Farmer")
    assert next(one for one in told["pieces"] if one["name"] == "Livelihood")["groups"][farmer] == 4
    quote = next(one for one in told["sample"] if "forty" in one["text"])
    assert quote["text"] == "“We lost forty lambs,” she said."
    assert quote["text"][quote["mark_start"] : quote["mark_end"]] == "lambs"
    assert quote["reason"] == "lamb*"
    assert coding.codes() == {}
    assert client.get(f"{at}/runs").json() == []
    # with a seed the same sample, and a smaller scope
    assert runs.preview(seed=3, sample=4)["sample"] == runs.preview(seed=3, sample=4)["sample"]
    narrow = {**runs.recipe, "scope": [{"kind": "values", "field": "source", "values": ["Hill Farmer"]}]}
    assert runs.preview(narrow)["of_texts"] == 2


def test_units_reach_as_far_as_they_say(runs):
    def found(unit, **more):
        recipe = {"finder": {"kind": "search", "query": "forty"}, "unit": unit, **more}
        return [one["text"] for one in runs.preview(recipe)["sample"]]

    assert found("hit") == ["forty"]
    assert found("words", around=2) == ["We lost forty lambs,” she"]
    assert found("sentence") == ["“We lost forty lambs,” she said."]
    assert found("paragraph")[0].startswith("The lambs are gone")
    assert found("text")[0].endswith("A flock is a flock.")


def test_a_run_is_applied_counts_as_passages_and_is_taken_back_whole(runs, client, at, coding):
    run = runs.make(state="applied", name="Frames")
    # codes of the categories, in their tree; what lies below counts with it
    assert coding.codes()["Trees"]["parent_id"] == coding.codes()["Ecology"]["id"]
    # the wood is under both Ecology and Trees, and counts once
    assert coding.counts() == {"Livelihood": (5, 3), "Ecology": (3, 2), "Trees": (1, 1)}
    on = coding.on("Claims")
    assert on == [("Compensation for flocks and lambs", "Livelihood", "Frames")]
    assert {one["coder"] for one in coding.find(by="run")["passages"]} == {"Frames"}
    assert coding.find(by="hand")["total"] == 0
    # they are in scopes and comparisons like all passages
    scoped = [{"kind": "values", "field": "codes", "values": ["Livelihood"]}]
    assert done(client.post(f"{at}/scope", json={"scope": scoped}))["texts"] == 3
    assert undo(client, at) == "Code by a run: Frames"
    assert coding.codes() == {}
    assert coding.find()["total"] == 0
    done(client.post(f"{at}/redo"))
    assert coding.find()["total"] == 9
    assert runs.state(run, "taken back")["state"] == "taken back"
    assert coding.find()["total"] == 0
    runs.state(run, "applied")
    assert coding.find()["total"] == 9
    problem(client.delete(f"{at}/runs/{run}"), 409, "Take the run back first")
    runs.state(run, "taken back")
    done(client.delete(f"{at}/runs/{run}"))
    assert client.get(f"{at}/runs").json() == []


def test_proposals_count_when_they_are_judged_right_and_people_differ(runs, colleague, client, at, coding):
    run = runs.make(name="Frames")
    assert coding.find()["total"] == 0
    first, second, *rest = runs.items(run, order="chance", seed=5)
    assert [one["id"] for one in runs.items(run, order="chance", seed=5)][0] == first["id"]
    runs.judge(run, first, verdict=1)
    runs.judge(run, second, verdict=0)
    assert [one["text_id"] for one in coding.find()["passages"]] == [first["text_id"]]
    told = runs.get(run)["whole"]
    assert (told["right"], told["wrong"], told["open"]) == (1, 1, 7)
    assert told["precision"]["judged"] == 2
    assert len(runs.items(run)) == 7
    # of the same words another says otherwise: it is no longer right, and stands among those that differ
    there = colleague.client.post(f"{at}/runs/{run}/judge", json={"passages": [first["id"]], "verdict": 0})
    done(there)
    assert coding.find()["total"] == 0
    assert [one["id"] for one in runs.items(run, show="differ")] == [first["id"]]
    assert runs.get(run)["judges"] == sorted(runs.get(run)["judges"]) and len(runs.get(run)["judges"]) == 2
    told = runs.get(run)
    assert (told["several"], told["alike"], told["alpha"]) == (1, 0, 0.0)
    sheet = client.post(f"{at}/runs/{run}/export", json={"show": "differ"}).text.splitlines()
    assert len(sheet) == 2 and ",wrong,yes," in sheet[1]
    assert client.post(f"{at}/runs/{run}/export?form=xlsx", json={"show": "all"}).content[:2] == b"PK"
    assert "wrong" in undo(client, at)
    assert runs.get(run)["whole"]["open"] == 8
    # the rest at once, as one step
    asked = {"show": "open", "verdict": 1}
    assert done(client.post(f"{at}/runs/{run}/judge-all", json=asked))["label"].startswith("8 passages")
    assert coding.find()["total"] == 8
    undo(client, at)
    assert coding.find()["total"] == 0


def test_another_code_and_wider_words_are_coded_by_hand_instead(runs, client, at, coding):
    run = runs.make(name="Frames", state="applied")
    coding.make("Voice")
    lost = next(one for one in runs.items(run) if "forty" in one["text"])
    runs.judge(run, lost, code_id=coding.codes()["Voice"]["id"])
    mine = coding.find(by="hand")["passages"]
    assert [one["code_id"] for one in mine] == [coding.codes()["Voice"]["id"]]
    assert coding.counts()["Livelihood"][0] == 4
    gone = next(one for one in runs.items(run) if "gone" in one["text"])
    runs.judge(run, gone, widen="paragraph")
    # the wider words stand in its place: counted once
    assert coding.counts()["Livelihood"][0] == 4
    assert runs.get(run)["whole"]["right"] == 1
    undo(client, at)
    undo(client, at)
    assert coding.find(by="hand")["total"] == 0
    assert coding.counts()["Livelihood"][0] == 5
    # the same in the text itself and in the list of passages
    passage = coding.find(by="run", codes=[coding.codes()["Livelihood"]["id"]])["passages"][0]
    done(client.delete(f"{at}/passages/{passage['id']}"))
    assert coding.counts()["Livelihood"][0] == 4
    passage = coding.find(by="run", codes=[coding.codes()["Livelihood"]["id"]])["passages"][0]
    changed = done(client.patch(f"{at}/passages/{passage['id']}", json={"comment": "a clear case"}))
    assert changed["gone"] == [passage["id"]]
    assert coding.find(by="hand")["passages"][0]["comment"] == "a clear case"
    ticked = [one["id"] for one in coding.find()["passages"]]
    done(client.post(f"{at}/passages/change", json={"passages": ticked, "code_id": None}))
    assert coding.find()["total"] == 0


def test_a_run_is_brought_in_step_and_keeps_what_people_said(runs, client, at, station, coding):
    run = runs.make(name="Frames", state="applied")
    flock = next(one for one in runs.items(run) if one["text"] == "The flock slept.")
    runs.judge(run, flock, verdict=1)
    assert runs.get(run)["outdated"] is False
    term = station.term("flock*")["id"]
    assert client.delete(f"{station.here}/terms/{term}").status_code == 204
    station.add("Ecology", "slope")
    assert runs.get(run)["outdated"] is True
    told, came = runs.step(run)
    # "A flock is a flock." goes; the sentence with lambs as well stays, and the one that was judged
    assert (told["added"], told["removed"], told["held"]) == (0, 1, 1)
    assert texts(told["sample_removed"]) == ["A flock is a flock."]
    assert (came["added"], came["removed"], came["held"]) == (0, 1, 1)
    assert runs.get(run)["outdated"] is False
    assert "The flock slept" in [one["text"] for one in coding.find()["passages"]]
    assert undo(client, at) == "Bring the run Frames in step"
    assert runs.get(run)["places"] == 9
    # a category that came to the dictionary gets a code
    station.post("categories", 201, name="Quiet", parent_id=None)
    station.add("Quiet", "quiet")
    told, came = runs.step(run)
    assert told["new_codes"] == ["Quiet"]
    assert coding.counts()["Quiet"] == (1, 1)
    assert runs.get(run)["places"] == 9


def test_values_and_searches_are_coded_under_chosen_codes(runs, client, at, coding):
    coding.make("Place")
    coding.make("By the sea", "Place")
    tags = next(one["key"] for one in done(client.get(f"{at}/fields")) if one["name"] == "Tags")
    recipe = {"finder": {"kind": "values", "field": tags}, "unit": "text"}
    made = done(client.post(f"{at}/runs/yes-no", json={"field": tags, "values": ["coast", "north"]}))
    assert (made["label"], made["texts"]) == ("Tags as variables of 0 and 1", 4)
    coast = next(one for one in done(client.get(f"{at}/fields")) if one["name"] == "Tags: coast")
    assert (coast["kind"], coast["missing"]) == ("number", 1)
    high = {"kind": "numbers", "field": coast["key"], "low": 1}
    assert done(client.post(f"{at}/scope", json={"scope": [high]}))["texts"] == 2
    problem(client.post(f"{at}/runs/yes-no", json={"field": tags}), 409, "Tags: coast")
    undo(client, at)
    under = {
        "codes": {"coast": coding.codes()["By the sea"]["id"]},
        "parent_id": coding.codes()["Place"]["id"],
    }
    runs.make(recipe, state="applied", name="Tags", **under)
    assert coding.counts() == {"Place": (4, 4), "By the sea": (2, 2), "hill": (1, 1), "north": (2, 2)}
    search = {"finder": {"kind": "search", "query": "deer AND birch"}, "unit": "paragraph"}
    runs.make(search, state="applied", name="Both")
    assert coding.counts()["deer AND birch"] == (2, 1)
    without = {"finder": {"kind": "search", "query": "NOT (lamb* OR flock*)"}, "unit": "text"}
    assert runs.preview(without)["texts"] == 2
    problem(
        client.post(f"{at}/runs/preview", json={"recipe": {**without, "unit": "sentence"}}),
        422,
        "whole texts",
    )


def test_what_cannot_run_says_why_and_leaves_nothing(runs, client, at, coding, station):
    def refused(recipe, words):
        problem(client.post(f"{at}/runs/preview", json={"recipe": recipe}), 422, words)

    refused({"finder": {"kind": "search", "query": "(lamb"}}, "bracket")
    refused({"finder": {"kind": "values", "field": "title"}}, "no list of values")
    answer = client.post(
        f"{at}/runs/preview", json={"recipe": {"finder": {"kind": "dictionary", "dictionary": 9_999_999}}}
    )
    problem(answer, 404, "no such dictionary")
    nothing = {"finder": {"kind": "search", "query": "submarine"}}
    assert runs.preview(nothing)["places"] == 0
    job = done(client.post(f"{at}/runs", json={"recipe": nothing}), 201)
    with pytest.raises(Exception, match="Nothing was found"):
        runs.finish(job)
    assert client.get(f"{at}/runs").json() == []
    # a code that is deleted while the run goes
    code = coding.make("Deer")
    search = {"finder": {"kind": "search", "query": "deer"}}
    given = {"recipe": search, "state": "applied", "codes": {"search": code}}
    job = done(client.post(f"{at}/runs", json=given), 201)
    done(client.delete(f"{at}/codes/{code}"))
    assert runs.finish(job)["result"]["without_code"] == ["deer"]
    assert coding.find()["total"] == 0
    assert undo(client, at).startswith("Code by a run")


def test_codes_with_runs_are_merged_and_deleted_and_both_are_undone(runs, client, at, coding):
    run = runs.make(name="Frames", state="applied")
    coding.make("Stock")
    codes = coding.codes()
    done(client.post(f"{at}/codes/{codes['Livelihood']['id']}/merge", json={"into_id": codes["Stock"]["id"]}))
    assert coding.counts()["Stock"] == (5, 3)
    undo(client, at)
    assert coding.counts()["Livelihood"] == (5, 3)
    done(client.delete(f"{at}/codes/{codes['Livelihood']['id']}"))
    assert coding.find()["total"] == 4
    undo(client, at)
    assert coding.counts()["Livelihood"] == (5, 3)
    # what was corrected in a text takes its passages along
    text_id = ids(client, at)["Kittens"]
    body = coding.body("Kittens").replace("Three", "Twenty three small")
    revision = client.get(f"{at}/texts/{text_id}").json()["revision"]
    done(client.put(f"{at}/texts/{text_id}/body", json={"body": body, "revision": revision}))
    assert coding.on("Kittens") == [("The flock slept", "Livelihood", "Frames")]
    assert runs.get(run)["whole"]["places"] == 9


TALK = "Herd: 34\nInterviewer: How did it begin?\nUna: With a ewe. It was in April.\nUna: Then nothing."


def test_turns_of_speakers_are_coded_and_lines_that_are_fields_become_variables(runs, client, at, coding):
    text_id = ids(client, at)["Wood"]
    revision = client.get(f"{at}/texts/{text_id}").json()["revision"]
    done(client.put(f"{at}/texts/{text_id}/body", json={"body": TALK, "revision": revision}))
    found = done(client.post(f"{at}/runs/names", json={}))
    assert [(one["name"], one["turns"], one["field"]) for one in found["names"]] == [
        ("Una", 2, False),
        ("Herd", 1, True),
        ("Interviewer", 1, True),
    ]
    assert (found["looked"], found["texts"], found["total"]) == (5, 5, 3)
    finder = {
        "kind": "speakers",
        "names": [{"name": "Una", "called": "Farmers"}, {"name": "Interviewer", "called": "Moderator"}],
    }
    recipe = {"finder": finder, "unit": "paragraph"}
    told = runs.preview(recipe)
    assert {one["name"]: one["places"] for one in told["pieces"]} == {"Farmers": 2, "Moderator": 1}
    assert all(one["mark_start"] == one["mark_end"] for one in told["sample"])
    run = runs.make(recipe, state="applied", name="Speakers")
    assert [one[0] for one in coding.on("Wood") if one[1] == "Farmers"] == [
        "With a ewe. It was in April",
        "Then nothing",
    ]
    assert texts(runs.items(run)) == ["How did it begin?", "Then nothing.", "With a ewe. It was in April."]
    # what is said by one, and without what the moderator said
    inside = {"kind": "inside", "codes": ["Farmers"]}
    assert done(client.post(f"{at}/scope", json={"scope": [inside]}))["words"] == 9
    made = done(client.post(f"{at}/runs/fields", json={"names": ["Herd"]}))
    assert made["texts"] == 1
    problem(client.post(f"{at}/runs/names", json={"pattern": "("}), 422, "cannot be read")
    problem(client.post(f"{at}/runs/fields", json={"names": ["Nobody"]}), 422, "No line")
    recipe = {"finder": {"kind": "structure", "by": "heading"}, "unit": "paragraph"}
    problem(client.post(f"{at}/runs/preview", json={"recipe": recipe}), 422, "nothing to look for")


def test_headings_of_a_level_are_coded_with_what_stands_under_them(
    runs, coding, client, at, deliver, tmp_path
):
    path = tmp_path / "report.md"
    path.write_text("# Losses\n\nLambs.\n\n## North\n\nForty.\n\n# Views\n\n## North\n\nMore wolves.")
    deliver(path)
    names = f"{at}/runs/names"
    told = done(client.post(names, json={"by": "heading"}))
    assert told["levels"] == [{"level": 1, "headings": 2}, {"level": 2, "headings": 2}]
    assert {one["name"]: one["turns"] for one in told["names"]} == {"Losses": 1, "North": 2, "Views": 1}
    told = done(client.post(names, json={"by": "heading", "level": 1}))
    assert [one["name"] for one in told["names"]] == ["Losses", "Views"]
    recipe = {"finder": {"kind": "structure", "by": "heading", "level": 1}, "unit": "paragraph"}
    runs.make(recipe, state="applied", name="Chapters")
    assert [one[:2] for one in coding.on("Losses")] == [
        ("Losses\n\nLambs.\n\nNorth\n\nForty", "Losses"), ("Views\n\nNorth\n\nMore wolves", "Views")
    ]  # fmt: skip
    problem(client.post(names, json={"by": "heading", "level": 10}), 422, "level")


def test_a_run_is_set_beside_what_people_coded(runs, colleague, client, at, coding):
    coding.make("Livelihood")
    coding.code("Nine pages", "We lost forty lambs", "Livelihood")
    coding.code("Deer", "Deer fell", "Livelihood")
    code = coding.codes()["Livelihood"]["id"]
    category = next(
        one["id"]
        for one in done(client.get(f"{at}/dictionaries/{runs.recipe['finder']['dictionary']}"))["categories"]
        if one["name"] == "Livelihood"
    )
    finder = {**runs.recipe["finder"], "categories": [category]}
    run = runs.make({"finder": finder, "unit": "sentence"}, name="Frames")
    found = done(client.post(f"{at}/runs/{run}/beside", json={}))
    # two texts were coded by hand, with five sentences
    assert (found["texts"], found["units"]) == (2, 5)
    (row,) = found["codes"]
    assert (row["label"], row["both"], row["only_run"], row["only_hand"], row["neither"]) == (
        "Livelihood", 1, 2, 1, 1,
    )  # fmt: skip
    assert row["precision"]["value"] == pytest.approx(1 / 3)
    assert row["recall"]["value"] == 0.5
    assert {one["label"] for one in found["sources"]} == {"Hill Farmer", "Orrin Courier"}

    def units(which):
        asked = {"code_id": code, "which": which}
        return texts(done(client.post(f"{at}/runs/{run}/beside/units", json=asked))["items"])

    assert units("both") == ["“We lost forty lambs,” she said."]
    assert units("only by hand") == ["Deer fell on the slope."]
    assert units("only the run") == ["A flock is a flock.", "The lambs are gone."]
    # a code of another name, chosen to be held against
    coding.make("Losses by hand")
    coding.code("Nine pages", "The lambs are gone", "Losses by hand")
    losses = coding.codes()["Losses by hand"]["id"]
    held = {"matched": [{"code_id": code, "hand_id": losses}]}
    (row,) = done(client.post(f"{at}/runs/{run}/beside", json=held))["codes"]
    assert (row["label"], row["hand_id"], row["both"], row["only_run"], row["only_hand"]) == (
        "Livelihood", losses, 1, 2, 0,
    )  # fmt: skip
    asked = {"code_id": code, "which": "both"} | held
    both = done(client.post(f"{at}/runs/{run}/beside/units", json=asked))["items"]
    assert texts(both) == ["The lambs are gone."]
    gone = {"matched": [{"code_id": code, "hand_id": 99_999}]}
    problem(client.post(f"{at}/runs/{run}/beside", json=gone), 404, "code")
    # by texts, and of one coder alone
    assert done(client.post(f"{at}/runs/{run}/beside", json={"unit": "text"}))["units"] == 2
    other = colleague.code("Wood", "The wood is quiet", "Livelihood")["passages"][0]
    assert other["coder"] == "Orla Venn"
    coder = next(one["id"] for one in found["coders"])
    assert done(client.post(f"{at}/runs/{run}/beside", json={"coders": [coder]}))["texts"] == 2
    assert done(client.post(f"{at}/runs/{run}/beside", json={}))["texts"] == 3


def test_a_very_long_passage_is_shown_around_its_hit_and_exported_whole(runs, client, at):
    text_id = ids(client, at)["Wood"]
    revision = client.get(f"{at}/texts/{text_id}").json()["revision"]
    body = "hill and dale and " * 4_000 + "one heron here " + "and more of the wall " * 4_000
    done(client.put(f"{at}/texts/{text_id}/body", json={"body": body, "revision": revision}))
    recipe = {"finder": {"kind": "search", "query": "heron"}, "unit": "text"}
    (one,) = [one for one in runs.preview(recipe)["sample"] if "heron" in one["text"]]
    assert len(one["text"]) <= 1_600
    assert one["text"][one["mark_start"] : one["mark_end"]] == "heron"
    run = runs.make(recipe)
    (one,) = runs.items(run)
    assert "heron" in one["text"] and len(one["text"]) <= 1_600
    assert len(client.post(f"{at}/runs/{run}/export", json={}).text) > 140_000


def test_what_a_run_found_is_compared_like_codes_without_what_was_judged_wrong(runs, client, at):
    run = runs.make()
    asked = {"target": {"kind": "run", "run": run}, "split": {"field": "source"}, "measure": "hits"}
    found = client.post(f"{at}/compare", json=asked).json()
    rows = {row["label"]: sum(cell["hits"] for cell in row["cells"]) for row in found["rows"]}
    assert rows == {"Livelihood": 5, "Ecology": 3, "Trees": 1} and found["target"].startswith("Run “")
    wrong = next(one for one in runs.items(run) if one["name"] == "Trees")
    runs.judge(run, wrong, verdict=0)
    found = client.post(f"{at}/compare", json=asked).json()
    rows = {row["label"]: sum(cell["hits"] for cell in row["cells"]) for row in found["rows"]}
    assert rows == {"Livelihood": 5, "Ecology": 3, "Trees": 0}
    assert any("1 were judged wrong" in part["words"] for part in found["method"])
    key = found["rows"][0]["key"]
    page = client.post(f"{at}/evidence", json={"comparison": asked, "cell": {"row": key}}).json()
    assert page["hits"] == 5
    assert (
        client.post(f"{at}/compare", json={**asked, "target": {"kind": "run", "run": 99_999}}).status_code
        == 404
    )
