"""Judging over HTTP: samples, verdicts, what they say, and the list of them."""

import csv
import io
from concurrent.futures import ThreadPoolExecutor

import pytest
from fastapi.testclient import TestClient
from python_calamine import CalamineWorkbook

from tests.api.test_api import problem
from winnower.store.accounts import make_account
from winnower.store.models import Member


def test_hits_are_judged_and_verdicts_survive_edits(station, client, at):
    life = station.category("Livelihood")["id"]
    sample = station.judge(life, "samples", 201, size=50, seed=7)
    again = station.judge(life, "samples", 201, size=50, seed=7)
    items = client.get(f"{station.review}/samples/{sample['id']}").json()["items"]
    assert [(i["text_id"], i["start"]) for i in items] == [
        (i["text_id"], i["start"])
        for i in client.get(f"{station.review}/samples/{again['id']}").json()["items"]
    ]
    assert len(items) == 7 and all(i["passage"]["marks"] for i in items)
    for item in items:
        mark = item["passage"]["marks"][0]
        word = item["passage"]["text"][mark["start"] : mark["end"]].lower()
        place = {name: item[name] for name in ("text_id", "start", "end")}
        station.judge(life, "judge", **place, verdict=int(word.startswith("lamb")))

    def quality():
        return station.judge(life, "quality", scope=[])

    found = quality()
    lamb, flock = station.term("lamb*"), station.term("flock*")
    assert (found["whole"]["judged"], found["whole"]["right"]) == (7, 3)
    assert found["parts"][str(lamb["id"])]["share"] == 1 and found["parts"][str(flock["id"])]["share"] == 0
    station.client.patch(
        f"{station.here}/terms/{lamb['id']}", json={"source": "lamb | lambs", "revision": lamb["revision"]}
    )
    assert quality()["parts"][str(lamb["id"])]["judged"] == 3
    station.post(f"terms/{flock['id']}/exclude", form="flocks", revision=flock["revision"])
    assert quality()["parts"][str(flock["id"])]["judged"] == 3  # flocks is no hit any more
    client.post(f"{at}/undo")
    station.judge(life, "judge", **place, verdict=None)
    assert quality()["whole"]["judged"] == 6
    client.post(f"{at}/undo")
    assert quality()["whole"]["judged"] == 7
    listed = client.get(f"{station.review}/category/{life}/samples").json()
    assert [(one["seed"], one["judged"], one["version"]) for one in listed] == [(7, 7, 1), (7, 7, 1)]


def test_two_judges_who_differ_are_told(station, app, database, project, client):
    life = station.category("Livelihood")["id"]
    sample = station.judge(life, "samples", 201, size=1, seed=3)
    item = client.get(f"{station.review}/samples/{sample['id']}").json()["items"][0]
    place = {name: item[name] for name in ("text_id", "start", "end")}
    station.judge(life, "judge", **place, verdict=1)
    with database.session() as session:
        other = make_account(session, f"judge{project.id}", "Second Judge", "a long password")
        session.add(Member(project_id=project.id, account_id=other.id, role="coder"))
    with TestClient(app) as second:
        second.post("/api/v1/sign-in", json={"name": f"judge{project.id}", "password": "a long password"})
        answer = second.post(f"{station.review}/category/{life}/judge", json={**place, "verdict": 0})
        assert answer.status_code == 200
    found = station.judge(life, "quality", scope=[])
    assert found["disagreements"] == 1 and "Second Judge" in found["judges"]
    assert (found["whole"]["judged"], found["whole"]["right"]) == (1, 0)
    verdicts = client.get(f"{station.review}/samples/{sample['id']}").json()["items"][0]["verdicts"]
    assert [(v["mine"], v["verdict"], v["by"] == "Second Judge") for v in verdicts] == [
        (True, 1, False),
        (False, 0, True),
    ]


def test_verdicts_are_listed_filtered_and_taken_along(station, client, app, database, project, account):
    life, flock = station.category("Livelihood")["id"], station.term("flock*")
    sample = station.judge(life, "samples", 201, size=50, seed=7)
    items = client.get(f"{station.review}/samples/{sample['id']}").json()["items"]
    places = [{name: item[name] for name in ("text_id", "start", "end")} for item in items]
    says = [
        int("amb" in item["passage"]["text"][item["passage"]["marks"][0]["start"] :][:4]) for item in items
    ]
    for place, says_so in zip(places, says, strict=True):
        station.judge(life, "judge", **place, verdict=says_so, found_by="lamb*")
    with database.session() as session:
        other = make_account(session, f"lister{project.id}", "Ida Second", "a long password")
        session.add(Member(project_id=project.id, account_id=other.id, role="coder"))
    with TestClient(app) as second:
        second.post("/api/v1/sign-in", json={"name": f"lister{project.id}", "password": "a long password"})
        for place in places[:2]:  # says the contrary of the first two
            given = {**place, "verdict": 1 - says[places.index(place)]}
            second.post(f"{station.review}/category/{life}/judge", json=given)

    def listed(**asked):
        return station.judge(life, "verdicts", **asked)

    found = listed()
    right = sum(says[2:])  # where two are even, it does not fit
    assert found["sizes"] == {"all": 7, "right": right, "wrong": 7 - right, "differ": 2, "idle": 0}
    quality = station.judge(life, "quality", scope=[])
    assert (quality["whole"]["judged"], quality["whole"]["right"]) == (7, right)
    assert [(one["name"], one["verdicts"], one["yes"]) for one in found["judges"]] == [
        ("Ida Second", 2, 2 - sum(says[:2])),
        (account.full_name, 7, sum(says)),
    ]
    order = [(one["text_id"], one["start"]) for one in found["items"]]
    assert order == sorted(order) and all(one["passage"]["marks"] for one in found["items"])
    page = listed(start=5, most=1)
    assert (page["next"], [(one["text_id"], one["start"]) for one in page["items"]]) == (6, order[5:6])
    assert [len(one["verdicts"]) for one in listed(show="differ")["items"]] == [2, 2]
    ida = found["judges"][0]["id"]
    assert listed(judge=ida)["sizes"]["all"] == 2
    assert listed(judge=ida)["sizes"]["right"] == 2 - sum(says[:2])
    assert listed(part=flock["id"])["sizes"]["all"] == 7 - listed(part=flock["id"])["sizes"]["idle"] < 7
    # outside the scope, and where the words are no hit any more, they are kept but do not count
    narrow = [{"kind": "values", "field": "source", "values": ["Hill Farmer"], "exclude": False}]
    sizes = listed(scope=narrow)["sizes"]
    assert sizes["all"] + sizes["idle"] == 7 and sizes["idle"] > 0
    client.delete(f"{station.here}/terms/{flock['id']}")
    assert listed()["sizes"]["idle"] == len(listed(show="idle")["items"]) > 0


def test_verdicts_as_files(station, client):
    life = station.category("Livelihood")["id"]
    sample = station.judge(life, "samples", 201, size=3, seed=7)
    for item in client.get(f"{station.review}/samples/{sample['id']}").json()["items"]:
        place = {name: item[name] for name in ("text_id", "start", "end")}
        station.judge(life, "judge", **place, verdict=1, found_by="lamb*")
    export = f"{station.review}/category/{life}/verdicts/export"
    answer = client.post(export, json={})
    assert "Verdicts%20on%20Livelihood.csv" in answer.headers["content-disposition"]
    rows = list(csv.DictReader(io.StringIO(answer.text.lstrip("\ufeff"))))
    assert len(rows) == 3
    for row in rows:
        assert row["words"] in row["passage"] and row["verdict"] == "fits" and row["counts now"] == "yes"
        assert row["judge"].startswith("Tester") and row["dictionary version"] == "1"
    assert len(client.post(export, json={"show": "wrong"}).text.splitlines()) == 1
    book = client.post(f"{export}?form=xlsx", json={})
    sheet = CalamineWorkbook.from_filelike(io.BytesIO(book.content)).get_sheet_by_name("List")
    assert [row[5] for row in sheet.to_python()[1:]] == [row["words"] for row in rows]
    eco = station.category("Ecology")["id"]
    drawn = station.judge(eco, "samples", 201, kind="text", size=1, seed=2)
    (item,) = client.get(f"{station.review}/samples/{drawn['id']}").json()["items"]
    station.judge(eco, "judge", kind="text", text_id=item["text_id"], verdict=0)
    texts = client.post(f"{station.review}/category/{eco}/verdicts/export", json={"kind": "text"}).text
    assert "correctly without" in texts and texts.count("\n") == 2
    assert station.judge(eco, "verdicts", kind="text")["sizes"]["all"] == 1
    station.add("Ecology", "the")  # every text has a hit now
    assert station.judge(eco, "verdicts", kind="text")["sizes"] == {
        "all": 0, "right": 0, "wrong": 0, "differ": 0, "idle": 1,
    }  # fmt: skip


def test_texts_without_a_hit_estimate_what_is_missed(station, client):
    eco = station.category("Ecology")["id"]
    sample = station.judge(eco, "samples", 201, kind="text", size=10, seed=2)
    items = client.get(f"{station.review}/samples/{sample['id']}").json()["items"]
    assert len(items) == 3 and all(i["passage"]["text"] for i in items)
    for at_item, item in enumerate(items):
        station.judge(eco, "judge", kind="text", text_id=item["text_id"], verdict=int(at_item == 0))
    missed = station.judge(eco, "quality", scope=[])["missed"]
    assert (missed["share"]["judged"], missed["share"]["right"], missed["without_hit"]) == (3, 1, 3)
    assert missed["texts"][0] == pytest.approx(1)
    station.add("Ecology", "the")  # now they have hits: their verdicts no longer speak of misses
    assert station.judge(eco, "quality", scope=[])["missed"]["share"]["judged"] < 3


def test_samples_that_cannot_be_drawn(station, client):
    empty = station.post("categories", 201, name="Empty")["label"]
    problem(client.post(f"{station.review}/category/{empty}/samples", json={}), 422, "no terms yet")
    station.add("Empty", "unicorn")
    problem(client.post(f"{station.review}/category/{empty}/samples", json={}), 422, "no hit in this scope")
    problem(client.get(f"{station.review}/samples/999999"), 404, "no such sample")


def test_quick_verdicts_on_one_hit_come_one_after_the_other(station, app, client):
    life = station.category("Livelihood")["id"]
    sample = station.judge(life, "samples", 201, size=1, seed=3)
    item = client.get(f"{station.review}/samples/{sample['id']}").json()["items"][0]
    place = {name: item[name] for name in ("text_id", "start", "end")}

    def send(verdict):
        return client.post(
            f"{station.review}/category/{life}/judge", json={**place, "verdict": verdict}
        ).status_code

    with ThreadPoolExecutor(6) as pool:
        assert set(pool.map(send, [1, None, 0, None, 1, 0, 1, None, 1] * 3)) == {200}
    send(0)
    assert station.judge(life, "quality", scope=[])["whole"]["judged"] == 1
