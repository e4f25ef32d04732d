"""Findings: kept, opened after changes, frozen, ordered, exported, set beside other texts; events; the command line."""

import io
import time
import zipfile

import pytest
from fastapi.testclient import TestClient
from python_calamine import CalamineWorkbook
from typer.testing import CliRunner

from tests.api.test_api import problem
from tests.api.test_corpus_station import news_in  # noqa: F401
from tests.conftest import write_table
from winnower.cli import common
from winnower.cli.main import app as command
from winnower.store.accounts import local_account, make_account, share
from winnower.store.models import Project

SOURCE = {"field": "source"}


def ask(client, at, path, status=200, **body):
    answer = client.post(f"{at}/{path}", json=body)
    assert answer.status_code == status, answer.text
    return answer.json()


def of_frames(filled, **more):
    return {
        "view": "comparison",
        "comparison": {"target": {"kind": "dictionary", "dictionary": filled}, "split": SOURCE, **more},
    }


def keep(client, at, view, title="Who writes of lambs", **more):
    return ask(client, at, "findings", 201, view=view, title=title, **more)


def opened_one(client, at, finding):
    answer = client.get(f"{at}/findings/{finding}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def listed(client, at):
    return client.get(f"{at}/findings").json()


def test_a_finding_keeps_what_it_said_and_names_the_version_that_was_counted(client, at, filled):
    kept = keep(client, at, of_frames(filled), remark="Look again in spring.", drawn={"draw": "table"})
    assert kept["changed"] == [] and kept["drawn"] == {"draw": "table"} and not kept["frozen"]
    assert "version 1" in kept["base"] and kept["request"]["comparison"]["target"]["version"] is None
    found = opened_one(client, at, kept["id"])
    assert found["same"] and found["failed"] is None and found["compared"] > 20
    sheet = found["sheets"][0]
    assert sheet["name"] == "Numbers" and len(sheet["rows"]) == 3 * 3
    assert listed(client, at)["findings"][0]["title"] == "Who writes of lambs"


def test_a_changed_dictionary_is_told_cell_by_cell_and_taken_over_or_not(client, at, station):
    kept = keep(client, at, of_frames(station.id))
    station.add("Ecology", "quiet")
    assert listed(client, at)["findings"][0]["changed"] == ["the dictionary"]
    found = opened_one(client, at, kept["id"])
    assert not found["same"] and found["changed"] >= 1
    cell = next(one for one in found["cells"] if one["column"] == "hits" and one["row"][0] == "Ecology")
    assert cell["now"] == cell["was"] + 1
    live = {tuple(row[:2]): row[2] for row in found["sheets"][0]["rows"]}
    assert live[tuple(cell["row"])] == cell["now"]
    client.patch(f"{at}/findings/{kept['id']}", json={"frozen": True})
    frozen = opened_one(client, at, kept["id"])
    assert {tuple(row[:2]): row[2] for row in frozen["sheets"][0]["rows"]}[tuple(cell["row"])] == cell["was"]
    ask(client, at, f"findings/{kept['id']}/say")
    assert opened_one(client, at, kept["id"])["same"] and listed(client, at)["findings"][0]["changed"] == []
    assert client.post(f"{at}/undo").status_code == 200
    assert not opened_one(client, at, kept["id"])["same"]


def test_what_a_finding_stood_on_can_go(client, at, coding):
    coding.make("Loss")
    coding.code("Nine pages", "The lambs", "Loss")
    view = {"view": "comparison", "comparison": {"target": {"kind": "codes"}, "split": SOURCE}}
    kept = keep(client, at, view, "Loss by source")
    client.delete(f"{at}/codes/{coding.codes()['Loss']['id']}")
    found = opened_one(client, at, kept["id"])
    assert "no codes yet" in found["failed"] and not found["same"] and found["sheets"][0]["rows"]
    assert found["finding"]["changed"] == ["the coding"]
    exported = client.post(f"{at}/findings/export?form=csv", json={"findings": [kept["id"]]})
    assert "Loss" in exported.text


def test_a_finding_follows_what_is_renamed_with_no_number_changed(client, at, coding, filled):
    coding.make("Loss")
    coding.make("Herds", under="Loss")
    coding.code("Nine pages", "The lambs", "Herds")
    coding.code("Deer", "Deer fell", "Loss")
    of_codes = {"view": "comparison", "comparison": {"target": {"kind": "codes"}, "split": SOURCE}}
    inside = [{"kind": "inside", "field": "codes", "codes": ["Loss > Herds"], "exclude": False}]
    within = of_frames(filled, scope=inside)
    kept = [keep(client, at, view, f"Finding {n}")["id"] for n, view in enumerate((of_codes, within))]
    assert all(opened_one(client, at, one)["same"] for one in kept)
    code = coding.codes()["Loss"]
    given = {"name": "Losses", "revision": code["revision"]}
    assert client.patch(f"{at}/codes/{code['id']}", json=given).status_code == 200
    for one in kept:
        found = opened_one(client, at, one)
        assert found["failed"] is None and found["same"] and found["compared"], (
            one,
            found["gone"],
            found["new"],
        )
    assert client.post(f"{at}/undo").status_code == 200
    assert all(opened_one(client, at, one)["same"] for one in kept)


def test_a_finding_follows_a_value_that_is_renamed(client, at, news_in):  # noqa: F811
    tags = next(one for one in client.get(f"{at}/variables").json() if one["name"] == "Tags")
    narrowed = [{"kind": "values", "field": tags["key"], "values": ["hill", "north"], "exclude": False}]
    search = {"target": {"kind": "search", "query": "lambs or deer"}, "split": {"field": tags["key"]}}
    kept = keep(client, at, {"view": "comparison", "comparison": {**search, "scope": narrowed}})["id"]
    assert opened_one(client, at, kept)["same"]
    hill = next(one["id"] for one in tags["values"] if one["label"] == "hill")
    assert client.patch(f"{at}/values/{hill}", json={"label": "hillside"}).status_code == 200
    found = opened_one(client, at, kept)
    assert (
        found["same"] and found["compared"] and any("hillside" in row for row in found["sheets"][0]["rows"])
    )


def test_new_texts_are_told_and_set_beside_the_old_ones(client, at, filled, deliver, tmp_path):
    kept = keep(client, at, of_frames(filled))
    problem(
        client.post(f"{at}/findings/{kept['id']}/beside", json={"since": True}),
        422,
        "No texts have come since",
    )
    more = [
        [f"N{n}", f"New {n}", "Hill Farmer", "2032-01-01", "The lambs and the flock.", "", ""]
        for n in range(6)
    ]
    time.sleep(1.1)  # the database keeps whole seconds
    deliver(write_table(tmp_path / "more.csv", more))
    found = opened_one(client, at, kept["id"])
    assert found["finding"]["changed"] == ["the corpus (5 texts then, 11 now)"] and not found["same"]
    beside = ask(client, at, f"findings/{kept['id']}/beside", since=True)
    assert (beside["first_texts"], beside["second_texts"]) == (5, 6)
    cell = next(one for one in beside["cells"] if (one["row"], one["group"]) == ("Livelihood", "Hill Farmer"))
    assert cell["second"] == pytest.approx(400) and cell["ratio"] > 1


def test_a_finding_over_another_scope(client, at, filled):
    kept = keep(client, at, of_frames(filled))
    other = [{"kind": "values", "field": "source", "values": ["Hill Farmer"]}]
    found = ask(client, at, f"findings/{kept['id']}/beside", scope=other)
    assert "2 texts are in both scopes" in found["statements"][0]["headline"]
    nothing = [{"kind": "finds", "words": "zebra"}]
    problem(client.post(f"{at}/findings/{kept['id']}/beside", json={"scope": nothing}), 422, "no texts")
    network = keep(
        client, at, {"view": "keywords", "split": SOURCE, "group": "Hill Farmer", "least_hits": 1}, "Words"
    )
    problem(client.post(f"{at}/findings/{network['id']}/beside", json={}), 422, "Only comparisons")


def test_questions_and_order_with_undo(client, at, filled):
    one, two, three = (keep(client, at, of_frames(filled), f"Finding {n}")["id"] for n in range(3))
    question = ask(client, at, "finding-questions", 201, words="Who speaks for the flock?")["id"]
    order = [{"id": three, "question_id": question}, {"id": one, "question_id": None}]
    seen = [{"id": number, "question_id": None} for number in (one, two, three)]
    given = {"findings": order, "seen": seen}
    assert client.put(f"{at}/findings/order", json=given).status_code == 200
    problem(client.put(f"{at}/findings/order", json=given), 409, "changed the order")
    found = listed(client, at)
    assert [one["id"] for one in found["findings"]] == [three, one, two]
    assert [one["question_id"] for one in found["findings"]] == [question, None, None]
    changed = client.patch(f"{at}/finding-questions/{question}", json={"words": "Who speaks for the lambs?"})
    assert changed.json()["words"].endswith("lambs?")
    assert client.delete(f"{at}/finding-questions/{question}").status_code == 200
    assert listed(client, at)["questions"] == [] and listed(client, at)["findings"][0]["question_id"] is None
    client.post(f"{at}/undo")
    assert listed(client, at)["findings"][0]["question_id"] == question
    gone = client.delete(f"{at}/findings/{one}")
    assert gone.status_code == 200 and len(listed(client, at)["findings"]) == 2
    client.post(f"{at}/undo")
    assert len(listed(client, at)["findings"]) == 3
    problem(client.get(f"{at}/findings/999999"), 404, "no such finding")
    problem(
        client.put(
            f"{at}/findings/order", json={"findings": [{"id": one, "question_id": 99_999}], "seen": []}
        ),
        404,
        "no such question",
    )


def test_titles_and_stale_writes(client, at, filled):
    kept = keep(client, at, of_frames(filled))
    where = f"{at}/findings/{kept['id']}"
    assert (
        client.patch(where, json={"title": "  Lambs   first ", "revision": kept["revision"]}).json()["title"]
        == "Lambs first"
    )
    assert client.patch(where, json={"title": "Late", "revision": kept["revision"]}).status_code == 409
    problem(client.patch(where, json={"title": "   "}), 422, "title of at most")
    problem(client.post(f"{at}/findings", json={"view": of_frames(99_999), "title": "x"}), 404, "")


def test_findings_leave_alone_and_together(client, at, filled):
    words = {"view": "keywords", "split": SOURCE, "group": "Hill Farmer", "least_hits": 1}
    ids = [
        keep(client, at, view, title)["id"]
        for view, title in ((of_frames(filled), "Frames: who?"), (words, "Words"))
    ]
    book = CalamineWorkbook.from_filelike(
        io.BytesIO(client.post(f"{at}/findings/export", json={"findings": ids}).content)
    )
    assert book.sheet_names == ["1 Numbers", "1 About", "2 Keywords", "2 About"]
    assert ["Title", "Frames: who?"] in book.get_sheet_by_name("1 About").to_python()
    archive = client.post(f"{at}/findings/export?form=csv", json={"findings": ids})
    names = zipfile.ZipFile(io.BytesIO(archive.content)).namelist()
    assert names == ["01 Frames who.csv", "02 Words.csv"]
    request = client.post(f"{at}/findings/export?form=json", json={"findings": [ids[1]]}).json()
    assert request["view"] == "keywords" and request["group"] == "Hill Farmer"


def test_a_reader_looks_and_does_not_keep(client, at, filled, app, database, project):
    kept = keep(client, at, of_frames(filled))
    with database.session() as session:
        make_account(session, f"reader-{project.id}", "Rowan Reed", "a long password")
        share(session, session.get_one(Project, project.id), f"reader-{project.id}", "reader")
    with TestClient(app, base_url="http://testserver") as reader:
        reader.post("/api/v1/sign-in", json={"name": f"reader-{project.id}", "password": "a long password"})
        assert opened_one(reader, at, kept["id"])["same"]
        assert (
            reader.post(f"{at}/findings", json={"view": of_frames(filled), "title": "x"}).status_code == 403
        )


def test_events_are_marked_changed_and_taken_back(client, at):
    made = ask(client, at, "events-in-time", 201, day="2031-05-01", name="  The  vote ")
    assert made["name"] == "The vote"
    where = f"{at}/events-in-time/{made['id']}"
    changed = client.patch(
        where, json={"day": "2031-04-30", "name": "The vote", "revision": made["revision"]}
    )
    assert changed.json()["day"] == "2031-04-30"
    assert client.delete(where).status_code == 200 and client.get(f"{at}/events-in-time").json() == []
    client.post(f"{at}/undo")
    assert [one["name"] for one in client.get(f"{at}/events-in-time").json()] == ["The vote"]
    problem(client.post(f"{at}/events-in-time", json={"day": "2031-05-01", "name": "  "}), 422, "a name")
    problem(client.delete(f"{at}/events-in-time/99999"), 404, "no such event")


@pytest.mark.parametrize("view", ["keywords", "comparison"])
def test_the_command_line_gives_the_numbers_of_the_screen(
    client, at, filled, project, settings, server, database, tmp_path, monkeypatch, view
):
    with database.session() as session:
        share(session, session.get_one(Project, project.id), local_account(session).name, "reader")
    views = {
        "keywords": {"view": "keywords", "split": SOURCE, "group": "Hill Farmer", "least_hits": 1},
        "comparison": of_frames(filled),
    }
    kept = keep(client, at, views[view])
    request = tmp_path / "request.json"
    request.write_bytes(
        client.post(f"{at}/findings/export?form=json", json={"findings": [kept["id"]]}).content
    )
    monkeypatch.setenv("WINNOWER_DATABASE_URL", server.url)
    monkeypatch.setattr(common, "load_settings", lambda: settings)
    out = tmp_path / "out.csv"
    done = CliRunner().invoke(
        command, ["compare", project.name, "--request", str(request), "--format", "csv", "--out", str(out)]
    )
    assert done.exit_code == 0, done.output
    exported = client.post(f"{at}/findings/export?form=csv", json={"findings": [kept["id"]]}).content
    assert out.read_bytes() == exported
