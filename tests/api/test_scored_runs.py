"""Runs by example, by themes and by tone over HTTP: what is learned and from what, answers, word lists and their
versions, phrases as they stand in the texts."""

import pytest

from tests.api.coding_work import Coding
from tests.api.making_runs import Runs
from tests.api.test_api import problem
from tests.api.test_corpus_station import done, undo
from tests.conftest import write_table
from tests.valley import LOSS, READ, code_losses, deliver_valley
from winnower.store.models import RunPlace


@pytest.fixture
def valley(client, at, deliver, tmp_path, database, project, account):
    deliver_valley(deliver, tmp_path)
    code_losses(database, project.id, account.id)
    return Coding(client, at)


@pytest.fixture
def runs(client, at, database, settings, valley):
    return Runs(client, at, database, settings, 0)


def by_example(coding, **more):
    code = coding.codes()["Losses"]["id"]
    return {"finder": {"kind": "example", "codes": [code], **more}, "unit": "sentence"}


def passages(client, at, code):
    """How many passages are under a code, by hand or by runs."""
    ids = {one["name"]: one["id"] for one in client.get(f"{at}/codebook").json()["codes"]}
    counts = done(client.post(f"{at}/codebook/counts", json={}))["codes"]
    return next(one["passages"] for one in counts if one["id"] == ids[code])


def learned(client, at, recipe, **more):
    return done(client.post(f"{at}/runs/learn", json={"recipe": recipe, **more}))


def test_a_code_is_learned_tested_and_applied_to_texts_nobody_read(client, at, runs, valley, database):
    recipe = by_example(valley)
    told = learned(client, at, recipe)
    assert (told["right"], told["wrong"], told["texts"], told["read"]) == (24, 48, READ, READ)
    assert told["few"] and told["of_units"] == told["scored"] == 18 * 6
    words = {one["words"] for one in told["speaks_for"][:6]}
    assert words & {"lamb", "ewe"} and not words & {"hall", "road", "school", "bridge"}
    assert len(told["curve"]) == 99
    best = told["curve"][told["best"]]
    assert best["precision"]["value"] > 0.95 and best["recall"]["value"] > 0.95
    assert best["found"] == 36
    found = [one["found"] for one in told["curve"]]
    assert found == sorted(found, reverse=True)

    recipe["finder"]["threshold"] = best["threshold"]
    preview = runs.preview(recipe)
    assert (preview["places"], preview["texts"], preview["of_texts"]) == (36, 18, 30)
    assert preview["instrument"] == "24 examples of Losses"
    sample = preview["sample"][0]
    assert sample["text"] in LOSS and sample["score"] >= best["threshold"]
    assert sample["text"][sample["mark_start"] : sample["mark_end"]].lower() == sample["reason"]

    code = valley.codes()["Losses"]["id"]
    run = runs.make(recipe, codes={"example": code}, state="applied")
    kept = runs.get(run)
    assert kept["whole"]["places"] == 36 and kept["name"] == "Losses, by example"
    assert kept["learned"]["threshold"] == best["threshold"] and kept["learned"]["right"] == 24
    assert passages(client, at, "Losses") == 24 + 36
    with database.session() as session:
        scores = [one.score for one in session.query(RunPlace).filter(RunPlace.run_id == run)]
    assert min(scores) >= best["threshold"] * 1_000 and max(scores) <= 1_000
    # strongest first, and one verdict for all from a probability on
    items = runs.items(run, order="score")
    assert [one["score"] for one in items] == sorted((one["score"] for one in items), reverse=True)
    done(
        client.post(
            f"{at}/runs/{run}/judge-all",
            json={"verdict": 1, "order": "score", "least_score": items[9]["score"]},
        )
    )
    assert runs.get(run)["whole"]["right"] >= 10


def test_answers_teach_without_making_their_texts_read(client, at, valley):
    recipe = by_example(valley)
    first = learned(client, at, recipe, next=6)
    assert len({one["text_id"] for one in first["next"]}) == 6
    code = valley.codes()["Losses"]["id"]

    def answer(one, right):
        given = {
            "code_id": code,
            "text_id": one["text_id"],
            "start": one["start"],
            "end": one["end"],
            "right": right,
        }
        return done(client.post(f"{at}/runs/answers", json=given))

    yes, no = first["next"][:2]
    answer(yes, True)
    answer(no, False)
    assert passages(client, at, "Losses") == 25
    after = learned(client, at, recipe)
    assert (after["right"], after["wrong"], after["read"]) == (25, 49, READ)
    assert after["of_units"] == first["of_units"]
    answer(no, None)
    assert learned(client, at, recipe)["wrong"] == 48
    undo(client, at)
    undo(client, at)
    assert learned(client, at, recipe)["wrong"] == 48
    gone = client.post(
        f"{at}/runs/answers",
        json={"code_id": code, "text_id": yes["text_id"], "start": 4, "end": 4, "right": False},
    )
    problem(gone, 422, "no stretch")


def test_words_are_struck_out_and_added(client, at, valley):
    plain = learned(client, at, by_example(valley))
    top = plain["speaks_for"][0]["words"]
    changed = learned(
        client, at, by_example(valley, struck=[top], added=[{"word": "bridge", "speaks": True}])
    )
    words = {one["words"]: one["weight"] for one in changed["speaks_for"]}
    assert top not in words and words["bridge"] > 0


def test_what_cannot_be_learned_is_said(client, at, valley):
    empty = valley.make("Hopes")
    recipe = {"finder": {"kind": "example", "codes": [empty]}, "unit": "sentence"}
    refused = client.post(f"{at}/runs/learn", json={"recipe": recipe})
    problem(refused, 422, "There are 0 examples")
    refused = client.post(f"{at}/runs/learn", json={"recipe": {**recipe, "unit": "hit"}})
    problem(refused, 422, "sentences, paragraphs or whole texts")
    recipe["finder"]["codes"] = [999_999]
    assert client.post(f"{at}/runs/learn", json={"recipe": recipe}).status_code == 404
    tone = {"recipe": {"finder": {"kind": "tone"}}}
    problem(client.post(f"{at}/runs/learn", json=tone), 422, "by example")


def test_tone_codes_sentences_under_a_code_of_their_own(client, at, runs, valley):
    recipe = {"finder": {"kind": "tone"}, "unit": "sentence"}
    told = runs.preview(recipe)
    by_name = {one["name"]: one["places"] for one in told["pieces"]}
    assert list(by_name) == ["Strongly negative", "Negative", "Positive", "Strongly positive"]
    assert told["looked"] is None and by_name["Strongly positive"] > 0 and by_name["Strongly negative"] > 0
    lovely = next(one for one in told["sample"] if one["reason"] == "lovely")
    assert lovely["text"] == "A lovely day on the road." and lovely["score"] > 0.5
    assert [lovely["text"][one["start"] : one["end"]] for one in lovely["words"]] == ["lovely"]
    run = runs.make(recipe, parent_name="Tone", state="applied")
    codes = valley.codes()
    assert codes["Strongly positive"]["parent_id"] == codes["Tone"]["id"]
    assert runs.get(run)["name"] == "Tone"
    # a correction by hand comes before the machine
    item = runs.items(run)[0]
    other = codes["Positive"]["id"]
    runs.judge(run, item, code_id=other)
    assert runs.get(run)["whole"]["wrong"] == 1
    with_neutral = {"finder": {"kind": "tone", "bands": ["neutral"]}, "unit": "sentence"}
    total = told["places"] + runs.preview(with_neutral)["places"]
    assert total == 30 * 6
    refused = client.post(f"{at}/runs/preview", json={"recipe": {**recipe, "unit": "paragraph"}})
    problem(refused, 422, "sentences")


def test_a_word_list_is_changed_versioned_and_brings_its_runs_out_of_step(client, at, runs, valley):
    made = done(client.post(f"{at}/tone-lists", json={"name": "Hill words"}), 201)
    assert made["own"] == 0 and made["version"] is None
    taken = client.post(f"{at}/tone-lists", json={"name": "Hill words"})
    assert taken.status_code == 409

    def change(*words):
        listed = [dict(zip(("role", "word", "value"), one, strict=True)) for one in words]
        return client.post(f"{at}/tone-lists/{made['id']}/words", json={"words": listed})

    def listed():
        return next(one for one in client.get(f"{at}/tone-lists").json() if one["id"] == made["id"])

    done(change(("weight", "Wall", -2), ("weight", "lovely", None), ("negation", "hall", 1)))
    assert listed()["own"] == 3
    tried = done(client.post(f"{at}/tone-lists/{made['id']}/try", json={"sentence": "A lovely wall."}))
    assert tried["score"] < 0 and [one["value"] for one in tried["words"]] == [-2]
    recipe = {"finder": {"kind": "tone", "words": made["id"]}, "unit": "sentence"}
    run = runs.make(recipe)
    kept = runs.get(run)
    assert (kept["version"], kept["outdated"], kept["instrument"]) == (1, False, "Hill words")
    assert not any(one["reason"] == "lovely" for one in runs.items(run))
    done(change(("weight", "lovely", 3.2)))
    assert runs.get(run)["outdated"] and listed()["changed_since"]
    told, result = runs.step(run)
    assert told["added"] > 0 and result["added"] == told["added"]
    assert runs.get(run)["version"] == 2
    assert any(one["reason"] == "lovely" and one["words"] for one in runs.items(run, order="score"))
    refused = client.delete(f"{at}/tone-lists/{made['id']}")
    problem(refused, 409, "was made with this list")
    problem(change(("weight", "wall", 9)), 422, "between -4 and 4")
    assert listed()["own"] == 3
    undo(client, at)  # the step
    undo(client, at)  # the word
    assert not runs.get(run)["outdated"]


def test_words_go_out_as_a_table_and_come_back(client, at, valley):
    first = done(client.post(f"{at}/tone-lists", json={"name": "One"}), 201)["id"]
    given = {
        "words": [
            {"role": "weight", "word": "=)wow", "value": 2.5},
            {"role": "negation", "word": "neverwise", "value": 1},
        ]
    }
    done(client.post(f"{at}/tone-lists/{first}/words", json=given))
    for form in ("csv", "xlsx"):
        file = client.get(f"{at}/tone-lists/{first}/export", params={"form": form})
        assert file.status_code == 200
        other = done(client.post(f"{at}/tone-lists", json={"name": f"Back {form}", "base": "none"}), 201)[
            "id"
        ]
        sent = {"file": (f"words.{form}", file.content)}
        told = done(client.post(f"{at}/tone-lists/{other}/import", files=sent))
        assert told["refused"] == [] and told["taken"] == told["changed"] > 7_000

        def words(of, find):
            page = client.get(f"{at}/tone-lists/{of}/words", params={"find": find}).json()["words"]
            return [(one["role"], one["word"], one["value"]) for one in page]

        for find in ("=)wow", "neverwise", "lovely", "very", "kind of"):
            assert words(other, find) == words(first, find) != []
    bad = b"word,value,role\nfine,1.5,\nheavy,much,\ntwo words,1,\n,2,\nsoft,0.2,intensifier\nodd,1,mood\n"
    told = done(client.post(f"{at}/tone-lists/{first}/import?replace=true", files={"file": ("w.csv", bad)}))
    assert told["taken"] == 2
    assert [one["what"] for one in told["refused"]] == ["Row 3", "Row 4", "Row 5", "Row 7"]
    assert "“much” is no number" in told["refused"][0]["reason"]
    assert next(one["words"] for one in client.get(f"{at}/tone-lists").json() if one["id"] == first) == 2
    page = client.get(f"{at}/tone-lists/{first}/words", params={"find": "lovely"}).json()["words"]
    assert (page[0]["word"], page[0]["value"], page[0]["shipped"]) == ("lovely", None, 2.8)
    undo(client, at)
    assert (
        client.get(f"{at}/tone-lists/{first}/words", params={"find": "neverwise"}).json()["words"][0]["value"]
        == 1
    )
    nothing = client.post(f"{at}/tone-lists/{first}/import", files={"file": ("w.csv", b"\x00\x01,,\n")})
    assert nothing.status_code == 422


def test_themes_are_ticked_merged_and_coded(client, at, runs, valley):
    found = done(client.post(f"{at}/runs/themes", json={"split": {"field": "source"}}))
    assert found["by_list"] and found["language"] == "en" and found["texts"] == 30
    heads = {one["words"]: one for one in found["heads"]}
    lamb, ewe = heads["lamb"], heads["ewe"]
    assert "dead ewe" in [one["words"] for one in ewe["phrases"]]
    assert sum(lamb["groups"]) == lamb["hits"] and 0 < lamb["covered"] < lamb["hits"]
    assert heads["bridge"]["covered"] == 0
    themes = [{"name": "Animals", "phrases": [*lamb["forms"], *ewe["forms"]]}]
    recipe = {"finder": {"kind": "themes", "themes": themes}, "unit": "sentence"}
    told = runs.preview(recipe)
    assert told["places"] == lamb["hits"] + ewe["hits"]  # one a sentence here
    run = runs.make(recipe, parent_name="Themes", state="applied")
    codes = valley.codes()
    assert codes["Animals"]["parent_id"] == codes["Themes"]["id"]
    assert runs.get(run)["name"] == "Themes"
    again = done(client.post(f"{at}/runs/themes", json={}))
    assert {one["words"]: one["covered"] == one["hits"] for one in again["heads"]}["lamb"]
    nothing = {"finder": {"kind": "themes", "themes": []}, "unit": "sentence"}
    problem(client.post(f"{at}/runs/preview", json={"recipe": nothing}), 422, "nothing to look for")


def test_items_of_lists_are_coded(client, at, runs, valley, deliver, tmp_path):
    body = "What we ask:\n1. pay the claims\n2. mend the wall\n- and soon"
    deliver(write_table(tmp_path / "list.csv", [["L1", "A list", "Hill Farmer", "2031-05-01", body, "", ""]]))
    named = done(client.post(f"{at}/runs/names", json={"by": "item"}))
    assert [(one["name"], one["turns"]) for one in named["names"]] == [
        ("Items with a number", 2),
        ("Items with a dash", 1),
    ]
    recipe = {"finder": {"kind": "structure", "by": "item"}, "unit": "paragraph"}
    run = runs.make(recipe, state="applied")
    # a dash is no word, and a number is one
    assert {one["text"] for one in runs.items(run)} == {"and soon", "1. pay the claims", "2. mend the wall"}
