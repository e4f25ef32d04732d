"""Coding over HTTP: the codebook, passages, and what becomes of them."""

from io import BytesIO

import pytest
from fastapi.testclient import TestClient
from lxml import etree
from python_calamine import CalamineWorkbook

from tests.api.test_api import problem
from tests.api.test_corpus_station import done, ids, undo
from winnower.store.accounts import make_account, share
from winnower.store.models import Project


def me(client):
    return client.get("/api/v1/me").json()["full_name"]


def test_a_new_code_is_made_while_coding_and_taken_back_with_it(coding, client, at):
    coding.code("Nine pages", "We lost forty lambs", new="Losses")
    assert coding.on("Nine pages") == [("We lost forty lambs", "Losses", me(client))]
    assert client.get(at).json()["passages"] == 1
    assert "Losses" in undo(client, at)
    assert coding.codes() == {} and coding.on("Nine pages") == []
    done(client.post(f"{at}/redo"))
    assert coding.on("Nine pages")[0][1] == "Losses"


def test_several_codes_at_once_and_the_same_words_once_for_each_person(coding, colleague, client):
    for name in ("Losses", "Voice"):
        coding.make(name)
    coding.code("Nine pages", "We lost forty lambs", "Losses", "Voice")
    coding.code("Nine pages", "We lost forty lambs", "Losses")
    assert len(coding.on("Nine pages")) == 2
    colleague.code("Nine pages", "We lost forty lambs", "Losses")
    found = coding.on("Nine pages")
    assert len(found) == 3 and {who for _, _, who in found} == {me(client), "Orla Venn"}


def test_each_takes_back_only_their_own(coding, colleague, client, at):
    coding.make("Losses")
    coding.code("Nine pages", "forty lambs", "Losses")
    colleague.code("Deer", "Birch is back", "Losses")
    assert "forty lambs" in undo(client, at)
    assert coding.on("Nine pages") == [] and len(coding.on("Deer")) == 1
    # the code itself is built on by somebody else now
    refused = client.post(f"{at}/undo")
    problem(refused, 409, "Orla Venn")
    assert len(coding.on("Deer")) == 1


def test_parents_count_the_same_words_once_and_scopes_narrow(coding):
    coding.make("Livelihood")
    coding.make("Lambs", "Livelihood")
    coding.make("Market", "Livelihood")
    coding.code("Claims", "flocks and lambs", "Lambs", "Market")
    coding.code("Nine pages", "The lambs are gone", "Lambs")
    assert coding.counts() == {"Livelihood": (2, 2), "Lambs": (2, 2), "Market": (1, 1)}
    only = coding.counts(scope=[{"kind": "terms", "terms": ["compensation"]}])
    assert only["Livelihood"] == (1, 1)


def test_questions_by_code_below_coder_and_how_passages_lie(coding, colleague):
    coding.make("Livelihood")
    coding.make("Lambs", "Livelihood")
    coding.make("Voice")
    coding.code("Nine pages", "“We lost forty lambs,” she said", "Voice")
    coding.code("Nine pages", "forty lambs", "Lambs")
    coding.code("Claims", "flocks and lambs", "Lambs")
    colleague.code("Deer", "Birch is back", "Voice")
    codes = {name: one["id"] for name, one in coding.codes().items()}

    def words(**asked):
        return [one["text"] for one in coding.find(**asked)["passages"]]

    assert words(codes=[codes["Livelihood"]]) == ["forty lambs", "flocks and lambs"]
    inside = [{"relation": "inside", "codes": [codes["Voice"]]}]
    assert words(codes=[codes["Lambs"]], beside=inside) == ["forty lambs"]
    without = [{"relation": "inside", "codes": [codes["Voice"]], "without": True}]
    assert words(codes=[codes["Lambs"]], beside=without) == ["flocks and lambs"]
    coders = {one["name"]: one["id"] for one in coding.client.get(f"{coding.at}/codebook").json()["coders"]}
    assert words(coders=[coders["Orla Venn"]]) == ["Birch is back"]
    page = coding.find(most=2)
    assert (page["total"], page["texts"], len(page["passages"])) == (4, 3, 2)
    deer = next(one for one in coding.find()["passages"] if one["title"] == "Deer")
    assert deer["paragraph"] == 2 and deer["source"] == "Orrin Courier"


def test_passages_are_changed_moved_weighed_and_taken_off(coding, client, at):
    coding.make("Losses")
    coding.make("Voice")
    made = coding.code("Nine pages", "forty lambs", "Losses")["passages"][0]
    codes = {name: one["id"] for name, one in coding.codes().items()}

    def change(**values):
        return client.patch(f"{at}/passages/{made['id']}", json=values)

    done(change(end=made["end"] + 1, strength=4, comment="Hers", revision=made["revision"]))
    assert coding.on("Nine pages")[0][0] == "forty lambs,"
    problem(change(end=made["end"], revision=made["revision"]), 409, "in the meantime")
    problem(change(end=10_000), 422, "lies within its text")
    assert change(strength=9).status_code == 422
    done(change(code_id=codes["Voice"]))
    assert coding.on("Nine pages")[0][1] == "Voice"
    done(client.delete(f"{at}/passages/{made['id']}"))
    assert coding.on("Nine pages") == []
    undo(client, at)
    assert coding.on("Nine pages")[0][1] == "Voice"


def test_a_passage_moved_onto_its_like_becomes_one_with_it(coding, client, at):
    coding.make("Losses")
    coding.make("Voice")
    first = coding.code("Nine pages", "forty lambs", "Losses")["passages"][0]
    coding.code("Nine pages", "forty lambs", "Voice")
    voice = coding.codes()["Voice"]["id"]
    done(client.patch(f"{at}/passages/{first['id']}", json={"code_id": voice}))
    assert [one[1] for one in coding.on("Nine pages")] == ["Voice"]


def test_merging_and_deleting_codes_is_undone_with_their_passages(coding, client, at):
    for name in ("Losses", "Damage", "Voice"):
        coding.make(name)
    coding.make("Lambs", "Damage")
    coding.code("Nine pages", "forty lambs", "Losses", "Damage")
    coding.code("Claims", "flocks and lambs", "Damage", "Lambs")
    codes = {name: one["id"] for name, one in coding.codes().items()}
    before = coding.counts()
    done(client.post(f"{at}/codes/{codes['Damage']}/merge", json={"into_id": codes["Losses"]}))
    assert coding.counts() == {"Losses": (2, 2), "Lambs": (1, 1), "Voice": (0, 0)}
    undo(client, at)
    assert coding.counts() == before
    done(client.delete(f"{at}/codes/{codes['Damage']}"))
    assert coding.counts() == {"Losses": (1, 1), "Voice": (0, 0)}
    undo(client, at)
    assert coding.counts() == before


def test_splitting_takes_chosen_passages_out(coding, client, at):
    coding.make("Losses")
    coding.code("Nine pages", "forty lambs", "Losses")
    coding.code("Claims", "flocks and lambs", "Losses")
    losses = coding.codes()["Losses"]["id"]
    chosen = [one["id"] for one in coding.find()["passages"] if one["title"] == "Claims"]
    done(client.post(f"{at}/codes/{losses}/split", json={"name": "Claims", "passages": chosen}), 201)
    assert coding.counts() == {"Losses": (1, 1), "Claims": (1, 1)}
    undo(client, at)
    assert coding.counts() == {"Losses": (2, 2)}


def test_the_tree_is_moved_and_names_are_one_of_a_kind_among_siblings(coding, client, at):
    coding.make("A")
    coding.make("B")
    coding.make("A", "B")
    named = client.get(f"{at}/codebook").json()["codes"]
    top, b, inner = named[0]["id"], named[1]["id"], named[2]["id"]
    assert [one["depth"] for one in named] == [0, 0, 1]
    move = client.post(f"{at}/codes/{inner}/move", json={"parent_id": None})
    problem(move, 409, "merge them instead")
    problem(client.post(f"{at}/codes/{b}/move", json={"parent_id": inner}), 422, "into itself")
    done(client.post(f"{at}/codes/{b}/move", json={"parent_id": None, "before_id": top}))
    assert [one["name"] for one in client.get(f"{at}/codebook").json()["codes"]] == ["B", "A", "A"]


@pytest.mark.parametrize(
    ("name", "said"), [("   ", "needs a name"), ("x" * 500, "at most 120 characters; this one has 500")]
)
def test_names_that_are_none_get_a_sentence(coding, client, at, name, said):
    problem(client.post(f"{at}/codes", json={"name": name}), 422, said)
    assert coding.make("🐾") and "🐾" in coding.codes()


def test_corrections_keep_passages_on_their_words_and_undo_brings_lost_ones_back(coding, client, at):
    coding.make("Losses")
    coding.make("Deer")
    coding.code("Deer", "Birch is back", "Losses")
    coding.code("Deer", "Deer fell", "Deer")
    text = client.get(f"{at}/texts/{ids(client, at)['Deer']}").json()
    corrected = {
        "body": "They fell.\n\nNew: Birch is back, and the deer are wary.",
        "revision": text["revision"],
    }
    done(client.put(f"{at}/texts/{text['id']}/body", json=corrected))
    assert [one[0] for one in coding.on("Deer")] == ["fell", "Birch is back"]
    undo(client, at)
    assert [one[0] for one in coding.on("Deer")] == ["Deer fell", "Birch is back"]


def test_words_chosen_before_a_correction_are_found_again(coding, client, at):
    coding.make("Losses")
    text = client.get(f"{at}/texts/{ids(client, at)['Deer']}").json()
    start = text["body"].index("Birch is back")
    chosen = {
        "start": start,
        "end": start + 13,
        "words": "Birch is back",
        "codes": [coding.codes()["Losses"]["id"]],
    }
    body = "A word before. " + text["body"]
    done(client.put(f"{at}/texts/{text['id']}/body", json={"body": body, "revision": text["revision"]}))
    done(client.post(f"{at}/texts/{text['id']}/passages", json=chosen), 201)
    assert [one[0] for one in coding.on("Deer")] == ["Birch is back"]
    gone = chosen | {"words": "words that are nowhere"}
    refused = client.post(f"{at}/texts/{text['id']}/passages", json=gone)
    problem(refused, 409, "no longer in it")
    nothing = chosen | {"words": "   "}
    problem(client.post(f"{at}/texts/{text['id']}/passages", json=nothing), 422, "no words")


def test_a_code_deleted_in_the_moment_it_is_given(coding, colleague, client, at):
    coding.make("Losses")
    gone = coding.codes()["Losses"]["id"]
    done(client.delete(f"{at}/codes/{gone}"))
    text_id = ids(client, at)["Deer"]
    body = {"start": 0, "end": 4, "words": "Deer", "codes": [gone]}
    answer = colleague.client.post(f"{at}/texts/{text_id}/passages", json=body)
    problem(answer, 404, "no such code any more")


def test_many_passages_are_moved_or_taken_off_as_one_step(coding, client, at):
    coding.make("Losses")
    coding.make("Voice")
    coding.code("Nine pages", "forty lambs", "Losses", "Voice")
    coding.code("Claims", "flocks and lambs", "Losses")
    voice = coding.codes()["Voice"]["id"]
    chosen = [one["id"] for one in coding.find()["passages"]]
    before = coding.counts()
    done(client.post(f"{at}/passages/change", json={"passages": chosen, "code_id": voice}))
    assert coding.counts() == {"Losses": (0, 0), "Voice": (2, 2)}
    undo(client, at)
    assert coding.counts() == before
    done(client.post(f"{at}/passages/change", json={"passages": chosen}))
    assert coding.find()["total"] == 0
    undo(client, at)
    assert coding.counts() == before


def test_passages_leave_as_a_table_with_their_origin(coding, client, at):
    coding.make("Livelihood")
    coding.make("Lambs", "Livelihood")
    coding.code("Claims", "flocks and lambs", "Lambs")
    table = client.post(f"{at}/passages/export?form=csv", json={})
    lines = table.text.lstrip("\ufeff").splitlines()
    assert lines[0].startswith("source,date,title,speaker,page,time,paragraph,code,passage,coder")
    assert "Hill Farmer,2031-09-09,Claims,,,,1,Livelihood > Lambs,flocks and lambs" in lines[1]
    assert client.post(f"{at}/passages/export?form=xlsx", json={}).content[:2] == b"PK"


def test_who_only_reads_codes_nothing(coding, app, at, database, project):
    with database.session() as session:
        account = make_account(session, f"reader-{project.id}", "Rea Der", "a long password")
        share(session, session.get_one(Project, project.id), account.name, "reader")
    with TestClient(app, base_url="http://testserver") as client:
        done(
            client.post(
                "/api/v1/sign-in", json={"name": f"reader-{project.id}", "password": "a long password"}
            )
        )
        assert client.get(f"{at}/codebook").status_code == 200
        assert client.post(f"{at}/codes", json={"name": "Losses"}).status_code == 403


def test_codes_stand_in_compare_with_tests_and_evidence(coding, colleague, client, at):
    coding.make("Livelihood")
    coding.make("Lambs", "Livelihood")
    coding.make("Voice")
    asked = {"target": {"kind": "codes"}, "split": {"field": "source"}, "measure": "share_of_texts"}
    coding.code("Nine pages", "forty lambs", "Lambs", "Livelihood")
    coding.code("Claims", "flocks and lambs", "Lambs")
    colleague.code("Deer", "Birch is back", "Voice")
    table = done(client.post(f"{at}/compare", json=asked))
    rows = {row["label"]: row for row in table["rows"]}
    assert list(rows) == ["Livelihood", "Livelihood > Lambs", "Voice"]
    shown = done(
        client.post(
            f"{at}/evidence",
            json={"comparison": table["comparison"], "cell": {"row": "Livelihood", "group": "Hill Farmer"}},
        )
    )
    # the same words of one person under a code and one below it are one passage
    assert (shown["hits"], shown["texts"]) == (2, 2)
    marked = [p["text"][m["start"] : m["end"]] for p in shown["passages"] for m in p["marks"]]
    assert sorted(marked) == ["flocks and lambs", "forty lambs"]
    nothing = client.post(f"{at}/compare", json=asked | {"target": {"kind": "codes", "coders": [10**9]}})
    assert done(nothing)["rows"]


def test_a_project_without_codes_says_so_in_compare(coding, client, at):
    asked = {"target": {"kind": "codes"}, "split": {"field": "source"}}
    problem(client.post(f"{at}/compare", json=asked), 422, "codebook has no codes yet")


def test_passages_side_by_side_all_move_and_those_that_become_one_are_one(coding, client, at):
    coding.make("Losses")
    text = client.get(f"{at}/texts/{ids(client, at)['Deer']}").json()
    body = text["body"]
    for words in ("Deer", "fell"):  # the first will stand where the second is now
        coding.code("Deer", words, "Losses")
    before = coding.on("Deer")
    moved = {"body": "Four " + body, "revision": text["revision"]}
    done(client.put(f"{at}/texts/{text['id']}/body", json=moved))
    assert coding.on("Deer") == before
    undo(client, at)
    assert coding.on("Deer") == before
    coding.code("Wood", "The wood", "Losses")
    coding.code("Wood", "The wood is", "Losses")
    wood = client.get(f"{at}/texts/{ids(client, at)['Wood']}").json()
    shorter = {"body": wood["body"].replace("The wood is quiet", "The wood"), "revision": wood["revision"]}
    done(client.put(f"{at}/texts/{wood['id']}/body", json=shorter))
    assert [one[0] for one in coding.on("Wood")] == ["The wood"]
    undo(client, at)
    assert [one[0] for one in coding.on("Wood")] == ["The wood", "The wood is"]


def test_the_codebook_leaves_as_a_table_and_in_the_exchange_format(coding, client, at):
    coding.make("Livelihood", description="=Losses & costs", colour=2)
    coding.make("Lambs <small>", "Livelihood", symbol="🐑")
    coding.code("Claims", "flocks and lambs", "Lambs <small>")
    table = client.post(f"{at}/codebook/export?form=csv", json={}).text.lstrip("\ufeff").splitlines()
    assert table[0].startswith("code,level,description,rule,example,counter-example,colour")
    assert table[1].startswith("Livelihood,1,'=Losses & costs") and table[1].endswith(",1,1")
    assert table[2].startswith("Livelihood > Lambs <small>,2") and "🐑" in table[2]
    assert client.post(f"{at}/codebook/export?form=xlsx", json={}).content[:2] == b"PK"
    written = client.post(f"{at}/codebook/export?form=qdc", json={}).content
    root = etree.fromstring(written)
    space = {"q": "urn:QDA-XML:codebook:1.0"}
    (top,) = root.findall("q:Codes/q:Code", space)
    (below,) = top.findall("q:Code", space)
    assert (top.get("name"), top.get("color"), below.get("name")) == (
        "Livelihood",
        "#b4472b",
        "Lambs <small>",
    )
    assert top.findtext("q:Description", namespaces=space) == "=Losses & costs"
    assert top.get("guid") != below.get("guid")
    assert written == client.post(f"{at}/codebook/export?form=qdc", json={}).content


def test_a_passage_is_opened_by_its_number(coding, client, at):
    made = coding.code("Claims", "flocks and lambs", new="Losses")["passages"][0]
    found = done(client.get(f"{at}/passages/{made['id']}"))
    assert (found["text"], found["paragraph"], found["title"]) == ("flocks and lambs", 1, "Claims")
    problem(client.get(f"{at}/passages/9999999"), 404, "no longer there")
    problem(client.get(f"{at}/passages/-9999999"), 404, "no longer there")


def test_passages_are_sorted_by_date_length_strength_and_coder(coding, colleague, client, at):
    coding.make("Loss")
    coding.code("Nine pages", "We lost forty lambs", "Loss")
    coding.code("Deer", "Deer", "Loss")
    colleague.code("Nine pages", "A flock is a flock", "Loss")
    passages = {one["text"]: one for one in coding.find()["passages"]}
    given = {"strength": 4, "revision": passages["Deer"]["revision"]}
    assert client.patch(f"{at}/passages/{passages['Deer']['id']}", json=given).status_code == 200
    order = {sort: [one["text"] for one in coding.find(sort=sort)["passages"]] for sort in SORTS}
    assert order["length"] == ["We lost forty lambs", "A flock is a flock", "Deer"]
    assert order["strength"][0] == "Deer"
    dates = [one["date"] for one in coding.find(sort="date")["passages"]]
    assert dates == sorted(dates)
    coders = [one["coder"] for one in coding.find(sort="coder")["passages"]]
    assert coders == sorted(coders) and len(set(coders)) == 2
    assert sorted(order["date"]) == sorted(order["text"])
    table = client.post(f"{at}/passages/export?form=csv", json={"sort": "length"}).content.decode("utf-8-sig")
    assert "We lost forty lambs" in table.splitlines()[1]
    for asked, said in [
        ({"sort": "date"}, "3 passages in 2 texts, by date, earliest first."),
        (
            {"sort": "length", "group": "code"},
            "3 passages in 2 texts, by group, then by length, longest first.",
        ),
        ({}, "3 passages in 2 texts, in the order of the texts."),
    ]:
        sheets = BytesIO(client.post(f"{at}/passages/export?form=xlsx", json=asked).content)
        told = CalamineWorkbook.from_filelike(sheets).get_sheet_by_name("How it was counted").to_python()
        assert told[0][:2] == ["Passages", said]


SORTS = ("text", "date", "length", "strength", "coder")
