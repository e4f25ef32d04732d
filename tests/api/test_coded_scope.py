"""Codes in the scope and as what texts are split by, and words counted inside coded passages only."""

from tests.api.test_api import problem
from tests.api.test_corpus_station import done, ids, undo


def size(client, at, *conditions):
    found = done(client.post(f"{at}/scope", json={"scope": list(conditions)}))
    return found["texts"], found["words"]


def has(*codes, **more):
    return {"kind": "values", "field": "codes", "values": list(codes)} | more


def inside(*codes, **more):
    return {"kind": "inside", "codes": list(codes)} | more


def hits(client, at, term, *conditions):
    asked = {"target": {"kind": "terms", "terms": [{"source": term}]}, "scope": list(conditions)}
    return done(client.post(f"{at}/compare", json=asked))["rows"][0]["cells"][0]["hits"]


def fields(client, at):
    return {one["name"]: one for one in done(client.get(f"{at}/fields"))}


def coded(coding, colleague):
    coding.make("Livelihood")
    coding.make("Lambs", "Livelihood")
    coding.make("Voice")
    coding.code("Nine pages", "forty lambs", "Lambs")
    coding.code("Claims", "flocks and lambs", "Lambs", "Voice")
    colleague.code("Deer", "Birch is back", "Voice")


def test_texts_are_narrowed_and_split_by_code_coder_and_number_of_passages(coding, colleague, client, at):
    assert "Codes" not in fields(client, at)
    problem(client.post(f"{at}/scope", json={"scope": [has("Livelihood")]}), 422, "a project without codes")
    coded(coding, colleague)
    found = fields(client, at)
    assert {one["label"]: one["texts"] for one in found["Codes"]["values"]} == {
        "Livelihood": 2,
        "Livelihood > Lambs": 2,
        "Voice": 2,
    }
    assert {one["texts"] for one in found["Coders"]["values"]} == {2, 1}
    assert size(client, at, has("Livelihood"))[0] == 2
    assert size(client, at, has("Livelihood"), has("Voice", exclude=True))[0] == 1
    assert size(client, at, {"kind": "numbers", "field": "passages", "low": 2})[0] == 1
    asked = {"target": {"kind": "terms", "terms": [{"source": "lambs"}]}, "split": {"field": "codes"}}
    groups = done(client.post(f"{at}/compare", json=asked))["groups"]
    assert [one["label"] for one in groups] == [
        "Livelihood",
        "Livelihood > Lambs",
        "Voice",
    ]
    # what somebody codes afterwards counts at once, and what they take back no more
    colleague.code("Deer", "Deer fell", "Lambs")
    assert size(client, at, has("Livelihood"))[0] == 3
    undo(colleague.client, at)
    assert size(client, at, has("Livelihood"))[0] == 2
    problem(client.post(f"{at}/scope", json={"scope": [has("Birds")]}), 422, "has no value")


def test_coded_texts_are_frozen_in_a_set_but_no_rule_follows_codes(coding, colleague, client, at):
    coded(coding, colleague)
    made = done(client.post(f"{at}/sets", json={"name": "With lambs", "scope": [has("Livelihood")]}), 201)
    assert made["texts"] == 2
    rule = {"name": "Living", "rule": [has("Livelihood")]}
    problem(client.post(f"{at}/sets", json=rule), 422, "change with every act of coding")
    derived = {"name": "Coded", "kind": "category", "rule": {"derive": "fits", "scope": [has("Voice")]}}
    problem(client.post(f"{at}/variables", json=derived), 422, "no rule can follow them")


def test_only_what_is_coded_is_counted_or_only_the_rest(coding, colleague, client, at):
    coded(coding, colleague)
    everywhere = hits(client, at, "lambs")
    within, without = (hits(client, at, "lambs", inside("Livelihood", exclude=x)) for x in (False, True))
    assert within == 2 and within + without == everywhere
    texts, words = size(client, at, inside("Livelihood"))
    assert (texts, words) == (2, 5)
    assert size(client, at, inside("Livelihood", exclude=True))[1] == size(client, at)[1] - 5
    # both conditions hold: words under both codes
    assert size(client, at, inside("Livelihood"), inside("Voice")) == (1, 3)
    words = done(client.post(f"{at}/words", json={"scope": [inside("Livelihood")], "stop": False}))
    assert {row["name"]: row["hits"] for row in words["rows"]} == {
        "lambs": 2,
        "forty": 1,
        "flocks": 1,
        "and": 1,
    }
    # words that became neighbours only by what was left out are none
    coding.make("Ends")
    coding.code("Claims", "flocks", "Ends")
    coding.code("Claims", "lambs", "Ends")
    assert hits(client, at, "flocks lambs", inside("Ends")) == 0
    assert hits(client, at, "flocks and lambs", inside("Livelihood")) == 1
    problem(client.post(f"{at}/scope", json={"scope": [inside("Birds")]}), 422, "has no")


def test_hits_inside_passages_lead_to_their_place(coding, client, at):
    coding.make("End")
    body = coding.body("Claims")
    tail = body.rstrip()[-12:]
    words = tail[tail.index(" ") + 1 :]
    coding.code("Claims", words, "End")
    term = words.rstrip(".").split()[-1]
    comparison = {"target": {"kind": "terms", "terms": [{"source": term}]}, "scope": [inside("End")]}
    found = done(client.post(f"{at}/evidence", json={"comparison": comparison, "cell": {"row": term}}))
    whole = done(
        client.post(
            f"{at}/evidence",
            json={"comparison": comparison | {"scope": []}, "cell": {"row": term}},
        )
    )
    claims = ids(client, at)["Claims"]
    there = [one for one in whole["passages"] if one["text_id"] == claims]
    assert [one["paragraph"] for one in found["passages"]] == [there[-1]["paragraph"]]
    mark = found["passages"][0]["marks"][0]
    assert found["passages"][0]["text"][mark["start"] : mark["end"]] == term


def test_words_covered_are_counted_once_however_many_cover_them(coding, colleague, client, at):
    coded(coding, colleague)
    colleague.code("Claims", "and lambs", "Lambs")
    asked = {"target": {"kind": "codes", "counted": "words"}, "measure": "hits"}
    table = done(client.post(f"{at}/compare", json=asked))
    assert {row["label"]: [cell["hits"] for cell in row["cells"]] for row in table["rows"]} == {
        "Livelihood": [5],
        "Livelihood > Lambs": [5],
        "Voice": [6],
    }
    passages = done(client.post(f"{at}/compare", json=asked | {"target": {"kind": "codes"}}))
    assert sum(row["cells"][0]["hits"] for row in passages["rows"]) == 8


def test_kept_scopes_follow_a_code_that_is_renamed_moved_or_merged(coding, colleague, client, at):
    coded(coding, colleague)
    kept = [has("Livelihood > Lambs"), inside("Livelihood")]
    done(client.post(f"{at}/subcorpora", json={"name": "On lambs", "scope": kept}), 201)

    def scope():
        (found,) = client.get(f"{at}/subcorpora").json()
        return [one.get("values") or one.get("codes") for one in found["scope"]]

    codes = coding.codes()
    rename = {"name": "Living", "revision": codes["Livelihood"]["revision"]}
    done(client.patch(f"{at}/codes/{codes['Livelihood']['id']}", json=rename))
    assert scope() == [["Living > Lambs"], ["Living"]]
    done(client.post(f"{at}/codes/{codes['Lambs']['id']}/move", json={"parent_id": codes["Voice"]["id"]}))
    assert scope() == [["Voice > Lambs"], ["Living"]]
    done(client.post(f"{at}/codes/{codes['Lambs']['id']}/merge", json={"into_id": codes["Livelihood"]["id"]}))
    assert scope() == [["Living"], ["Living"]] and size(client, at, *kept_as(client, at))[0] == 2
    for _ in range(3):
        undo(client, at)
    assert scope() == [["Livelihood > Lambs"], ["Livelihood"]]


def kept_as(client, at):
    return client.get(f"{at}/subcorpora").json()[0]["scope"]
