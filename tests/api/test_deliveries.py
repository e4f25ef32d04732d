"""Deliveries one after the other: what a row is when something like it is there, and taking one out again."""

from tests.api.test_api import chosen, problem, upload, wait_for
from tests.api.test_corpus_station import ALL, done, ids, page, undo

HEAD = "id,headline,outlet,published,article"
ONE = f"""{HEAD}
1,Nine pages,Hill Farmer,2031-06-03,The lambs are gone and nobody has said why they went in the spring.
2,Deer,Wire,2031-06-05,Deer fell on the slope and the birch came back behind the sheepfold again.
3,Kittens,Wire,2031-06-09,Three kittens were seen near the wood and the flock slept all through it.
"""
TWO = f"""{HEAD},section
1,Nine pages,Hill Farmer,2031-06-03,The lambs are gone and nobody has said why they went in the spring.,Farm
2,Deer,Wire,2031-06-05,"Deer fell on the slope, and the birch came back behind the new sheepfold.",Wood
3,Kittens,Courier,2031-06-09,Three kittens were seen near the wood and the flock slept all through it.,Wood
4,Claims,Hill Farmer,2031-07-01,Compensation for flocks and lambs was asked for in the market town today.,Farm
"""


def look_at(client, at, *files):
    sent = upload(client, at, *files)
    look = done(client.post(f"{at}/uploads/{sent['id']}/preview", json={}))
    return sent["id"], look


def bring(client, at, *files, again=None, change=lambda lots: None):
    """Import files as the first look offers them; what was expected, and the report."""
    upload_id, look = look_at(client, at, *files)
    lots = chosen(look)
    change(lots)
    asked = {"upload_id": upload_id, "lots": lots}
    expected = done(client.post(f"{at}/imports/expected", json=asked))
    job = done(client.post(f"{at}/imports", json=asked | {"again": again or {}}), 201)
    ended = wait_for(client, at, job["id"])
    assert ended["state"] == "done", ended["message"]
    return expected, ended["result"]


def body(client, at, title):
    return client.get(f"{at}/texts/{ids(client, at)[title]}").json()["body"]


def column(client, at, name):
    """Values of a variable by title."""
    found = [v for v in client.get(f"{at}/variables").json() if v["name"] == name]
    if not found:
        return None
    rows = page(client, at)["rows"]
    return {row["title"]: row["values"].get(found[0]["key"]) for row in rows}


def test_two_tables_that_number_their_rows_lose_nothing(client, at):
    posts = "id,user,post\n" + "".join(
        f"{i},u{i},The lynx was seen again by the upper gate on day {i}.\n" for i in range(1, 16)
    )
    letters = "id,name of town,letter\n" + "".join(
        f"{i},Orrin,We write to the board about the lambs for the {i}th time.\n" for i in range(1, 16)
    )
    expected, report = bring(client, at, ("posts.csv", posts), ("letters.csv", letters))
    assert (expected["new"], report["new"], report["known"], report["changed"]) == (30, 30, 0, 0)


def test_files_that_each_count_their_rows_are_seen_to_do_so(client, at):
    months = [
        (
            f"{month}.csv",
            "nr,post\n" + "".join(f"{i},The lynx in {month} as seen for post {i}.\n" for i in range(1, 9)),
        )
        for month in ("May", "June", "July")
    ]
    _, look = look_at(client, at, *months)
    assert look["lots"][0]["rule"] == "key-file"
    _, report = bring(client, at, *months)
    assert (report["new"], report["changed"]) == (24, 0)
    assert bring(client, at, *months)[1]["known"] == 24


def test_equal_answers_and_equal_posts_of_several_people_are_several_texts(client, at):
    wave = "answer\nYes.\nNo.\nYes.\n"
    assert bring(client, at, ("wave one.csv", wave))[1]["new"] == 3
    expected, report = bring(client, at, ("wave two.csv", wave))
    assert (expected["new"], report["new"], report["known"]) == (3, 3, 0)
    assert bring(client, at, ("wave two.csv", wave))[1]["known"] == 3
    posts = "user,text\nann,So glad the lynx is back!\nbor,So glad the lynx is back!\n"
    assert bring(client, at, ("posts.csv", posts))[1]["new"] == 2
    more = "user,text\ncyd,So glad the lynx is back!\nbor,So glad the lynx is back!\n"
    _, report = bring(client, at, ("posts two.csv", more))
    assert (report["new"], report["known"]) == (1, 1)


def test_a_second_delivery_says_what_each_row_is(client, at):
    bring(client, at, ("may.csv", ONE))
    upload_id, look = look_at(client, at, ("june.csv", TWO))
    lot = look["lots"][0]
    assert [line["name"] for line in lot["lines"]] == ["may.csv"]
    assert lot["choice"]["mapping"]["line"] == lot["lines"][0]["token"]
    found = done(client.post(f"{at}/imports/expected", json={"upload_id": upload_id, "lots": chosen(look)}))
    assert (found["new"], found["known"], found["other_values"], found["changed"]) == (1, 0, 2, 1)
    assert {f["name"]: (f["other"], f["empty"]) for f in found["fields"]} == {
        "section": (0, 3), "source": (1, 0)
    }  # fmt: skip
    by_name = {one["name"]: one for one in found["examples"]}
    assert [list(one.values()) for one in by_name["3"]["values"]] == [
        ["source", "Wire", "Courier"], ["section", "", "Wood"]
    ]  # fmt: skip
    gone = [w["text"] for w in by_name["2"]["words"] if w["kind"] == "gone"]
    new = [w["text"] for w in by_name["2"]["words"] if w["kind"] == "new"]
    assert "again" in " ".join(gone) and "new" in " ".join(new)


def test_by_default_stored_texts_stay_and_a_new_column_fills(client, at):
    bring(client, at, ("may.csv", ONE))
    _, report = bring(client, at, ("june.csv", TWO))
    assert (report["new"], report["changed"], report["other_values"], report["taken"]) == (1, 1, 2, 3)
    assert "again" in body(client, at, "Deer")
    assert column(client, at, "section") == {
        "Nine pages": "Farm", "Deer": "Wood", "Kittens": "Wood", "Claims": "Farm"
    }  # fmt: skip
    assert {r["title"]: r["source"] for r in page(client, at)["rows"]}["Kittens"] == "Wire"


def test_taking_the_newer_moves_notes_and_is_undone_as_one(client, at):
    bring(client, at, ("may.csv", ONE))
    before = page(client, at)
    deer = ids(client, at)["Deer"]
    text = client.get(f"{at}/texts/{deer}").json()["body"]
    start = text.index("birch")
    done(
        client.post(
            f"{at}/notes", json={"text_id": deer, "body": "which?", "start": start, "end": start + 5}
        ),
        201,
    )
    bring(client, at, ("june.csv", TWO), again={"texts": "take", "values": "take"})
    now = client.get(f"{at}/texts/{deer}").json()
    assert "new sheepfold" in now["body"] and "again" not in now["body"]
    note = client.get(f"{at}/texts/{deer}/beside").json()["notes"][0]
    assert now["body"][note["start"] : note["end"]] == "birch"
    assert {r["title"]: r["source"] for r in page(client, at)["rows"]}["Kittens"] == "Courier"
    assert undo(client, at) == "Import june.csv"
    assert page(client, at) == before
    assert "again" in body(client, at, "Deer") and column(client, at, "section") is None
    done(client.post(f"{at}/redo"))
    assert "new sheepfold" in body(client, at, "Deer")
    assert column(client, at, "section")["Claims"] == "Farm"
    assert page(client, at)["total"] == 4


def test_rows_are_decided_one_by_one(client, at):
    bring(client, at, ("may.csv", ONE))
    upload_id, look = look_at(client, at, ("june.csv", TWO))
    found = done(client.post(f"{at}/imports/expected", json={"upload_id": upload_id, "lots": chosen(look)}))
    each = {one["identity"]: "take" for one in found["examples"] if one["name"] == "2"}
    each |= {one["identity"]: "keep" for one in found["examples"] if one["name"] == "3"}
    _, report = bring(client, at, ("june.csv", TWO), again={"each": each})
    assert report["taken"] == 2
    assert "new sheepfold" in body(client, at, "Deer")
    assert column(client, at, "section")["Kittens"] is None


def test_a_text_corrected_here_is_the_same_as_it_was_delivered(client, at):
    bring(client, at, ("may.csv", ONE))
    deer = ids(client, at)["Deer"]
    text = client.get(f"{at}/texts/{deer}").json()
    done(client.put(f"{at}/texts/{deer}/body", json={"body": "Deer.", "revision": text["revision"]}))
    expected, report = bring(client, at, ("may.csv", ONE), again={"texts": "take"})
    assert (expected["known"], report["known"], report["changed"]) == (3, 3, 0)
    assert body(client, at, "Deer") == "Deer."


def test_an_undone_delivery_leaves_what_a_later_one_brought_and_takes_what_only_it_had(client, at):
    bring(client, at, ("may.csv", ONE))
    later = TWO.replace("2,Deer", "9,Elk")
    bring(client, at, ("june.csv", later))
    second, first = client.get(f"{at}/deliveries").json()
    told = done(client.get(f"{at}/deliveries/{first['id']}/leaving"))
    assert (told["texts"], told["stay"], told["sources"]) == (1, 2, [])
    done(client.post(f"{at}/deliveries/{first['id']}/undo"))
    assert set(ids(client, at)) == {"Nine pages", "Kittens", "Elk", "Claims"}
    told = done(client.get(f"{at}/deliveries/{second['id']}/leaving"))
    assert (told["texts"], told["variables"], told["sources"]) == (4, ["section"], ["Hill Farmer", "Wire"])
    done(client.post(f"{at}/deliveries/{second['id']}/undo"))
    assert page(client, at)["total"] == 0 and column(client, at, "section") is None
    undo(client, at)
    undo(client, at)
    assert set(ids(client, at)) == {"Nine pages", "Deer", "Kittens", "Elk", "Claims"}
    assert column(client, at, "section")["Elk"] == "Wood"
    done(client.post(f"{at}/redo"))
    done(client.post(f"{at}/redo"))
    _, report = bring(client, at, ("june.csv", later))
    assert report["new"] == 4
    assert column(client, at, "section")["Elk"] == "Wood"


def test_values_changed_since_are_left_when_a_delivery_goes(client, at):
    bring(client, at, ("may.csv", ONE))
    bring(client, at, ("june.csv", TWO))
    key = next(v["key"] for v in client.get(f"{at}/variables").json() if v["name"] == "section")
    done(
        client.post(
            f"{at}/texts/values",
            json=ALL | {"field": key, "value": "Own", "ids": [ids(client, at)["Deer"]]},
        )
    )
    latest = client.get(f"{at}/deliveries").json()[0]
    done(client.post(f"{at}/deliveries/{latest['id']}/undo"))
    assert column(client, at, "section") == {"Nine pages": None, "Deer": "Own", "Kittens": None}


def test_unfit_choices_are_refused(client, at):
    upload_id, look = look_at(client, at, ("may.csv", ONE))
    asked = {"upload_id": upload_id, "lots": chosen(look), "again": {"texts": "burn"}}
    problem(client.post(f"{at}/imports", json=asked), 422, "")
    problem(client.get(f"{at}/deliveries/999999/leaving"), 404, "no such delivery")


def test_columns_take_the_kind_their_variable_has_and_what_does_not_fit_is_told_before(client, at):
    rows = [f"u{i},{i},We write to the board about the lambs for the {i}th time.\n" for i in range(1, 4)]
    bring(client, at, ("may.csv", "user,ward,text\n" + "".join(rows)), change=as_kind("ward", "category"))
    more = "user,ward,text\nu9,7,The lynx was seen again by the upper gate before the market.\n"
    upload_id, look = look_at(client, at, ("june.csv", more))
    lots = chosen(look)
    kinds = {t["column"]: t["kind"] for lot in lots.values() for t in lot["mapping"]["targets"]}
    assert kinds["ward"] == "category"
    as_kind("ward", "number")(lots)
    found = done(client.post(f"{at}/imports/expected", json={"upload_id": upload_id, "lots": lots}))
    assert len(found["conflicts"]) == 1 and "“ward” is in this project as category" in found["conflicts"][0]
    as_kind("ward", "category")(lots)
    found = done(client.post(f"{at}/imports/expected", json={"upload_id": upload_id, "lots": lots}))
    assert found["conflicts"] == []


def as_kind(column, kind):
    def change(lots):
        for lot in lots.values():
            for target in lot["mapping"]["targets"]:
                if target["column"] == column:
                    target["kind"] = kind

    return change


def test_rows_that_agree_are_shown_with_their_places(client, at):
    posts = "user,post\nann,So glad the lynx is back!\nbor,Nobody asked us.\nann,So glad the lynx is back!\n"
    expected, _ = bring(client, at, ("posts.csv", posts))
    assert expected["alike"] == 1
    (pair,) = expected["agreeing"]
    assert (pair["first"]["row"], pair["second"]["row"], pair["other"]) == (2, 4, False)
    assert pair["start"] == "So glad the lynx is back!"
    keyed = "id,post\n1,The lynx is back at the gate.\n2,Nobody asked us about it.\n1,Quite another text.\n"

    def by_id(lots):
        for lot in lots.values():
            lot["mapping"]["targets"][0]["role"] = "key"

    expected, _ = bring(client, at, ("keyed.csv", keyed), change=by_id)
    assert [one["other"] for one in expected["agreeing"]] == [True] and expected["twice"] == 1


def test_times_of_day_stay_with_their_dates(client, at):
    posts = "posted,text\n2031-06-03 14:20,The lynx was seen.\n2031-06-04 09:05,The lambs are well.\n"
    bring(client, at, ("posts.csv", posts))
    found = column(client, at, "posted, time of day")
    assert sorted(found.values()) == ["09:05", "14:20"]


def test_texts_others_worked_on_stay_as_a_delivery_of_their_own(client, colleague, at, filled):
    text = client.post(f"{at}/texts/page", json={}).json()["rows"][0]["id"]
    assert (
        colleague.client.post(f"{at}/notes", json={"body": "Look again", "text_id": text}).status_code == 201
    )
    delivery = client.get(f"{at}/deliveries").json()[0]["id"]
    refused = client.post(f"{at}/deliveries/{delivery}/undo")
    assert refused.status_code == 409 and refused.json()["others"] is True
    assert "1 note by Orla Venn" in refused.json()["detail"]
    assert colleague.client.post(f"{at}/deliveries/{delivery}/undo?others=take").status_code == 403
    assert client.post(f"{at}/deliveries/{delivery}/undo?others=keep").status_code == 200
    assert [row["id"] for row in client.post(f"{at}/texts/page", json={}).json()["rows"]] == [text]
    listed = client.get(f"{at}/deliveries")
    assert listed.status_code == 200, listed.text
    kept = next(one["id"] for one in listed.json() if one["name"].startswith("Kept of"))
    for path in (f"deliveries/{kept}/leaving", f"deliveries/{kept}/report", "check"):
        assert client.get(f"{at}/{path}").status_code == 200, path
    assert client.post(f"{at}/undo").status_code == 200
    assert len(client.post(f"{at}/texts/page", json={}).json()["rows"]) == 5
