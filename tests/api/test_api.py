"""The HTTP interface on a real database: answers, errors as problems, roles, exports."""

import csv
import io
import json
import time
from dataclasses import replace

import pytest
from fastapi.testclient import TestClient
from python_calamine import CalamineWorkbook

from tests.conftest import NEWS_ROWS
from winnower.api.app import make_app
from winnower.store.accounts import make_account
from winnower.store.database import Database
from winnower.store.models import Member


def marked(target: dict) -> str:
    """What is marked in a text, as its address takes it."""
    return json.dumps({"target": target})


def problem(answer, status, words):
    assert answer.status_code == status, answer.text
    assert answer.headers["content-type"] == "application/problem+json"
    body = answer.json()
    assert words in body["detail"], body
    return body


def test_who_is_not_signed_in_is_told_so(app):
    with TestClient(app) as client:
        problem(client.get("/api/v1/projects"), 401, "session has ended")
        problem(
            client.post("/api/v1/sign-in", json={"name": "x", "password": "y"}), 401, "do not go together"
        )


def test_the_session_cookie_cannot_be_read_by_scripts_and_ends(client, account):
    answer = client.post("/api/v1/sign-in", json={"name": account.name, "password": "a long password"})
    cookie = answer.headers["set-cookie"]
    assert "HttpOnly" in cookie and "SameSite=strict" in cookie
    assert client.get("/api/v1/me").json()["full_name"] == account.full_name
    assert client.post("/api/v1/sign-out").status_code == 204
    problem(client.get("/api/v1/me"), 401, "session has ended")


def test_changes_from_other_sites_are_refused(client):
    answer = client.post(
        "/api/v1/projects", json={"name": "x"}, headers={"Origin": "http://elsewhere.example"}
    )
    problem(answer, 403, "another site")


@pytest.mark.parametrize(
    ("name", "words"), [("x" * 300, "at most 200 characters; this one has 300"), ("   ", "needs a name")]
)
def test_bad_project_names(client, name, words):
    problem(client.post("/api/v1/projects", json={"name": name}), 422, words)


def test_projects_are_made_once(client):
    assert client.post("/api/v1/projects", json={"name": "Twice"}).status_code == 201
    problem(client.post("/api/v1/projects", json={"name": " Twice "}), 409, "already")
    assert [p["texts"] for p in client.get("/api/v1/projects").json() if p["name"] == "Twice"] == [0]


def test_other_peoples_projects_are_not_there(client):
    problem(client.get("/api/v1/projects/999999"), 404, "not shared with you")


def test_readers_cannot_change(app, database, project, at):
    with database.session() as session:
        reader = make_account(session, f"api-reader{project.id}", "R", "secret words")
        session.add(Member(project_id=project.id, account_id=reader.id, role="reader"))
    with TestClient(app) as client:
        client.post("/api/v1/sign-in", json={"name": reader.name, "password": "secret words"})
        assert client.get(at).json()["role"] == "reader"
        problem(
            client.post(f"{at}/dictionaries", json={"name": "Mine"}),
            403,
            "Your role in this project is reader",
        )


def wait_for(client, at, job_id):
    for _ in range(1_200):
        job = client.get(f"{at}/jobs/{job_id}").json()
        if job["state"] not in ("queued", "running"):
            return job
        time.sleep(0.1)
    raise AssertionError(job)


def gone(folder):
    """Received files are removed a moment after their import is done."""
    for _ in range(100):
        if not folder.exists():
            return
        time.sleep(0.1)
    raise AssertionError(folder)


def chosen(look):
    """The choices as the first look offers them."""
    return {lot["key"]: lot["choice"] for lot in look["lots"]}


def upload(client, at, *files):
    return client.post(f"{at}/uploads", files=[("files", (name, content)) for name, content in files]).json()


TABLE = "id;headline;outlet;published;article;tags\n1;Nine pages;Hill Farmer;2031-06-03;The lambs are gone, all of them, since spring.;north\n2;Bad;Wire;someday;The deer fell and nobody knew where they went.;x\n3;Short;Wire;2031-01-01\n"


def test_upload_look_import_report(client, at, settings):
    sent = upload(client, at, ("a.csv", TABLE), ("note.xyz", "x"))
    look = client.post(f"{at}/uploads/{sent['id']}/preview", json={}).json()
    assert look["lots"][0]["delimiter"] == ";"
    assert {t["column"]: t["role"] for t in look["lots"][0]["choice"]["mapping"]["targets"]}[
        "article"
    ] == "text"
    assert [(p["row"], p["kept"]) for p in look["problems"]] == [(0, False), (3, True), (4, False)]
    assert look["lots"][0]["samples"][0]["title"] == "Nine pages"
    job = client.post(f"{at}/imports", json={"upload_id": sent["id"], "lots": chosen(look)}).json()
    done = wait_for(client, at, job["id"])
    assert (done["state"], done["result"]["new"], done["result"]["refused"]) == ("done", 2, 2)
    gone(settings.uploads / str(sent["id"]))
    summary = client.get(at).json()
    assert (summary["texts"], summary["running_jobs"]) == (2, 0)
    delivery = client.get(f"{at}/deliveries").json()[0]
    rows = list(
        csv.reader(
            io.StringIO(client.get(f"{at}/deliveries/{delivery['id']}/report").content.decode("utf-8-sig"))
        )
    )
    assert [row[0] for row in rows] == ["outcome", "refused", "refused", "kept with a remark"]


def test_job_progress_comes_as_events(client, at):
    sent = upload(client, at, ("a.csv", TABLE))
    look = client.post(f"{at}/uploads/{sent['id']}/preview", json={}).json()
    job = client.post(f"{at}/imports", json={"upload_id": sent["id"], "lots": chosen(look)}).json()
    with client.stream("GET", f"{at}/jobs/{job['id']}/events") as events:
        lines = [line for line in events.iter_lines() if line.startswith("data:")]
    assert '"state":"done"' in lines[-1]
    problem(client.get(f"{at}/jobs/999999"), 404, "no such job")


def test_a_table_without_text_column_says_what_to_do(client, at):
    sent = upload(client, at, ("a.csv", "a,b\n1,2\n"))
    look = client.post(f"{at}/uploads/{sent['id']}/preview", json={}).json()
    assert not any(t["role"] == "text" for t in look["lots"][0]["choice"]["mapping"]["targets"])
    job = client.post(f"{at}/imports", json={"upload_id": sent["id"], "lots": chosen(look)}).json()
    done = wait_for(client, at, job["id"])
    assert done["state"] == "failed" and "which column holds the text" in done["message"]


def test_names_with_paths_cannot_leave_the_upload_folder(client, at, settings):
    sent = upload(client, at, ("../../evil.txt", "The lamb."))
    assert sent["files"] == ["evil.txt"]
    assert sorted(p.name for p in (settings.uploads / str(sent["id"])).iterdir()) == ["000000"]


def test_a_folder_of_many_files_arrives_whole(client, at):
    files = [("files", (f"t{i}.txt", f"Text number {i}.")) for i in range(1500)]
    answer = client.post(
        f"{at}/uploads", files=files, data={"paths": [f"folder/t{i}.txt" for i in range(1500)]}
    )
    assert len(answer.json()["files"]) == 1500
    assert answer.json()["files"][7] == "folder/t7.txt"
    problem(client.post(f"{at}/uploads", data={"paths": "x"}), 422, "No file arrived")


def test_uploads_have_a_limit(client, at, app):
    house = app.state.house
    before = house.settings
    house.settings = replace(before, limit_upload_bytes=10)
    try:
        answer = client.post(f"{at}/uploads", files=[("files", ("a.txt", "x" * 50))])
        problem(answer, 422, "WINNOWER_LIMIT_UPLOAD_BYTES")
    finally:
        house.settings = before


def test_the_table_of_texts(client, at, filled):
    page = client.post(f"{at}/texts/page", json={"sort": "words", "descending": True, "most": 2}).json()
    assert (page["total"], len(page["rows"]), page["rows"][0]["title"]) == (5, 2, "Nine pages")
    found = client.post(f"{at}/texts/page", json={"find": "KIT"}).json()
    assert [row["title"] for row in found["rows"]] == ["Kittens"]
    scope = [
        {"kind": "values", "field": "source", "values": ["Hill Farmer"]},
        {"kind": "dates", "field": "date", "low": "2031-09-01"},
    ]
    assert client.post(f"{at}/scope", json={"scope": scope}).json()["texts"] == 1
    problem(client.post(f"{at}/texts/page", json={"sort": "nowhere"}), 422, "no field “nowhere”")


def test_a_text_is_read_with_its_hits_in_code_points(client, at, filled):
    rows = client.post(f"{at}/texts/page", json={"sort": "title"}).json()["rows"]
    kittens = next(row["id"] for row in rows if row["title"] == "Kittens")
    text = client.get(
        f"{at}/texts/{kittens}",
        params={"marked": marked({"kind": "terms", "terms": [{"source": "flock*"}, {"source": "🐾"}]})},
    ).json()
    assert [text["body"][m["start"] : m["end"]] for m in text["marks"]] == ["🐾", "flock"]
    deer = next(row["id"] for row in rows if row["title"] == "Deer")
    text = client.get(f"{at}/texts/{deer}").json()
    assert [text["body"][start:][:5] for start in text["paragraphs"]] == ["Deer ", "Birch"]
    around = client.post(f"{at}/texts/{deer}/around", json={"sort": "title"}).json()
    assert (around["position"], around["total"]) == (2, 5)
    elsewhere = [{"kind": "values", "field": "source", "values": ["Valley Wire"]}]
    around = client.post(f"{at}/texts/{deer}/around", json={"sort": "title", "scope": elsewhere}).json()
    assert around == {"position": None, "total": 1, "previous": None, "next": kittens}
    problem(
        client.get(f"{at}/texts/{deer}", params={"marked": "{"}), 422, "What is to be marked cannot be read"
    )
    problem(client.get(f"{at}/texts/99999999"), 404, "no such text")


def test_a_term_is_tried_while_typing(client, at, filled):
    tried = client.post(f"{at}/terms/try", json={"source": "lamb*"}).json()
    assert (tried["profile"]["hits"], tried["profile"]["texts"]) == (3, 2)
    assert tried["profile"]["forms"] == [{"form": "lambs", "hits": 3, "term": "lambs"}]
    assert dict(zip(tried["groups"], tried["profile"]["group_hits"], strict=True)) == {
        "Hill Farmer": 3,
        "Orrin Courier": 0,
        "Valley Wire": 0,
    }
    bad = problem(client.post(f"{at}/terms/try", json={"source": "lamb c++"}), 422, "never part of a word")
    assert bad["position"] == 6


def test_a_dictionary_is_changed_undone_and_counted(client, at, filled):
    where = f"{at}/dictionaries/{filled}"
    tree = client.get(where).json()
    assert [(c["name"], c["depth"]) for c in tree["categories"]] == [
        ("Livelihood", 0),
        ("Ecology", 0),
        ("Trees", 1),
    ]
    ecology = tree["categories"][1]
    added = client.post(
        f"{where}/categories/{ecology['id']}/terms",
        json={"terms": [{"source": "wary"}, {"source": "deer"}, {"source": "c++"}]},
    ).json()
    assert (added["added"], added["doubles"], added["refused"][0]["what"]) == (1, 1, "c++")
    assert client.get(at).json()["undo"] == "Add 2 terms"
    counts = client.post(f"{where}/counts", json={}).json()
    assert [c["hits"] for c in counts["categories"]] == [7, 6, 1]
    assert (counts["texts_matched"], counts["texts_in_scope"], counts["empty_terms"]) == (5, 5, [])
    profile = client.post(f"{where}/categories/{ecology['id']}/profile", json={}).json()
    assert sorted(p["hits"] for p in profile["terms"].values()) == [1, 2, 2]
    assert client.post(f"{at}/undo").json()["label"] == "Add 2 terms"
    assert [c["hits"] for c in client.post(f"{where}/counts", json={}).json()["categories"]] == [7, 5, 1]
    assert client.post(f"{at}/redo").status_code == 200
    stale = client.patch(f"{where}/categories/{ecology['id']}", json={"revision": 99, "colour": 3})
    assert problem(stale, 409, "in the meantime")["current"]["name"] == "Ecology"


def of(dictionary, **more):
    """A comparison of a dictionary's categories across sources."""
    target = {"kind": "dictionary", "dictionary": dictionary}
    return {"target": target, "split": {"field": "source"}, **more}


def test_unit_level_and_seed_are_in_the_request_and_come_back(client, at, filled):
    asked = of(filled, level=0.9, seed=7, unit="date")
    table = client.post(f"{at}/compare", json=asked).json()
    came = table["comparison"]
    assert (came["level"], came["seed"], came["unit"], table["unit"]) == (0.9, 7, "date", "“Date”")
    assert (table["test"]["level"], table["test"]["seed"]) == (0.9, 7)
    assert client.post(f"{at}/compare", json=came).json()["rows"] == table["rows"]
    problem(client.post(f"{at}/compare", json=of(filled, unit="nothing")), 422, "no field “nothing”")
    problem(client.post(f"{at}/compare", json=of(filled, level=1.5)), 422, "level")


def under(client, at, table, row=None, group=None, **more):
    asked = {"comparison": table["comparison"], "cell": {"row": row, "group": group}, **more}
    return client.post(f"{at}/evidence", json=asked)


def test_a_comparison_and_the_passages_under_it_agree(client, at, filled):
    table = client.post(f"{at}/compare", json=of(filled)).json()
    assert [g["label"] for g in table["groups"]] == ["Hill Farmer", "Orrin Courier", "Valley Wire"]
    for row in table["rows"]:
        for group, cell in zip(table["groups"], row["cells"], strict=True):
            found = under(client, at, table, row["key"], group["label"]).json()
            assert (found["hits"], found["texts"]) == (cell["hits"], cell["texts"])
            assert sum(len(p["marks"]) for p in found["passages"]) == cell["hits"]
    assert table["test"]["customary"]["df"] == 2
    problem(under(client, at, table, "Gone"), 404, "no category “Gone”")
    problem(under(client, at, table, None, "Gone"), 404, "no group “Gone”")


def test_weights_are_in_the_request_and_what_a_number_opens_is_not_weighted(client, at, filled):
    (age,) = (one for one in client.get(f"{at}/variables").json() if one["name"] == "Age")
    plain = client.post(f"{at}/compare", json=of(filled)).json()
    table = client.post(f"{at}/compare", json=of(filled, weight=age["key"])).json()
    assert table["comparison"]["weight"] == age["key"]
    assert any(
        one["headline"].startswith("Weighted by “Age”: effective sample size 4 of 4 texts")
        for one in table["statements"]
    )
    assert any("Weights" in one["heading"] for one in table["method"])
    values = [[cell["value"] for cell in row["cells"]] for row in table["rows"]]
    assert values != [[cell["value"] for cell in row["cells"]] for row in plain["rows"]]
    for row in table["rows"]:
        for group, cell in zip(table["groups"], row["cells"], strict=True):
            found = under(client, at, table, row["key"], group["label"]).json()
            assert (found["hits"], found["texts"]) == (cell["hits"], cell["texts"])
    problem(client.post(f"{at}/compare", json=of(filled, weight="source")), 422, "number")
    problem(client.post(f"{at}/compare", json=of(filled, weight="v999")), 422, "no field")


def test_counting_keeps_nothing_and_exporting_keeps_a_version(client, at, filled):
    versions = f"{at}/dictionaries/{filled}/versions"
    now = client.post(f"{at}/compare", json=of(filled)).json()
    assert now["version"] is None and now["comparison"]["target"]["fingerprint"]
    assert under(client, at, now).status_code == 200
    sides = {"first": {"dictionary_id": filled}, "second": {"dictionary_id": filled}}
    assert client.post(f"{at}/dictionaries/side-by-side", json=sides).status_code == 200
    assert client.get(versions).json() == []
    exported = client.post(f"{at}/compare/export?form=json", json=of(filled))
    request = exported.json()
    assert request["target"] == {
        "kind": "dictionary",
        "dictionary": filled,
        "version": 1,
        "fingerprint": None,
    }
    assert [v["number"] for v in client.get(versions).json()] == [1]
    assert client.post(f"{at}/compare", json=request).json()["version"] == 1


def test_a_number_opens_the_passages_of_the_version_it_was_counted_with(client, at, filled):
    client.post(f"{at}/dictionaries/{filled}/versions", json={"name": "First"})
    first = client.post(f"{at}/compare", json=of(filled)).json()
    tree = client.get(f"{at}/dictionaries/{filled}").json()
    ecology = next(c for c in tree["categories"] if c["name"] == "Ecology")
    terms = f"{at}/dictionaries/{filled}/categories/{ecology['id']}/terms"
    client.post(terms, json={"terms": [{"source": "the"}]})
    now = client.post(f"{at}/compare", json=of(filled)).json()
    hits = [sum(c["hits"] for c in t["rows"][1]["cells"]) for t in (first, now)]
    assert hits[0] < hits[1] and (first["version"], now["version"]) == (1, None)
    for table, expected in zip((first, now), hits, strict=True):
        assert under(client, at, table, "Ecology").json()["hits"] == expected
    client.post(terms, json={"terms": [{"source": "and"}]})
    problem(under(client, at, now, "Ecology"), 409, "changed since this was counted")
    assert under(client, at, first, "Ecology").json()["hits"] == hits[0]


def test_measures_are_told_with_their_units(client, at, filled):
    found = {one["name"]: one for one in client.get("/api/v1/measures").json()}
    assert found["rate"]["axis"] == "per 1,000 words" and not found["hits"]["has_interval"]
    for name, measure in found.items():
        if measure["needs"] == "numbers":
            continue  # tests/api/test_means.py
        held = {"adjust": [{"field": "words"}]} if measure["needs"] == "held" else {}
        table = client.post(f"{at}/compare", json=of(filled, measure=name, **held)).json()
        assert table["measure"] == measure


def test_evidence_in_line_and_in_pages(client, at, filled):
    terms = [{"source": "lamb*"}, {"source": "flock*"}]
    asked = {"comparison": {"target": {"kind": "terms", "terms": terms}}, "form": "line", "most": 3}
    first = client.post(f"{at}/evidence", json=asked).json()
    assert (first["hits"], len(first["passages"]), first["next"]) == (7, 3, 3)
    assert first["passages"][1]["text"] == "lambs" and first["passages"][1]["before"].endswith(
        "“We lost forty "
    )
    rest = client.post(f"{at}/evidence", json={**asked, "start": 3, "most": 50}).json()
    assert (len(rest["passages"]), rest["next"]) == (4, None)


def test_numbers_leave_as_csv_and_excel_and_read_back(client, at, filled):
    asked = of(filled, measure="rate")
    table = client.post(f"{at}/compare", json=asked).json()
    answer = client.post(f"{at}/compare/export?form=csv", json=asked)
    assert "v1%20by%20source.csv" in answer.headers["content-disposition"]
    rows = list(csv.DictReader(io.StringIO(answer.content.decode("utf-8-sig"))))
    assert len(rows) == 9
    first = next(r for r in rows if (r["category"], r["group"]) == ("Livelihood", "Hill Farmer"))
    assert float(first["rate per 1,000 words"]) == pytest.approx(table["rows"][0]["cells"][0]["value"])
    excel = client.post(f"{at}/compare/export?form=xlsx", json=asked)
    book = CalamineWorkbook.from_filelike(io.BytesIO(excel.content))
    assert book.sheet_names == ["Comparison", "All numbers", "Tests", "How it was counted"]
    grid = book.get_sheet_by_name("Comparison").to_python()
    assert grid[1] == ["Category", "Hill Farmer", "Orrin Courier", "Valley Wire"]
    assert grid[2][1] == pytest.approx(table["rows"][0]["cells"][0]["value"])
    about = book.get_sheet_by_name("How it was counted").to_python()
    assert any("version 1" in str(row[1]) for row in about)


def test_a_dictionary_leaves_as_csv_and_comes_back(client, at, filled):
    answer = client.get(f"{at}/dictionaries/{filled}/export")
    again = client.post(f"{at}/dictionaries/import", files={"file": ("Again.csv", answer.content)})
    assert again.json()["added"] == 5
    problem(
        client.post(f"{at}/dictionaries/import", files={"file": ("Again.csv", answer.content)}),
        409,
        "already",
    )
    problem(
        client.post(f"{at}/dictionaries/import", files={"file": ("x.csv", b"a,b\n1,2\n")}),
        422,
        "no column “category”",
    )
    problem(client.post(f"{at}/dictionaries/import", files={"file": ("x.csv", b"")}), 422, "is empty")


@pytest.mark.parametrize(
    ("change", "status", "words"),
    [
        ({"split": {"field": "gone"}}, 422, "no field"),
        ({"scope": [{"kind": "terms", "terms": ["*"]}]}, 422, "every word"),
        ({"scope": [{"kind": "values", "field": "source", "values": ["Gone"]}]}, 422, "no value “Gone”"),
        ({"target": {"kind": "dictionary", "dictionary": 10**9}}, 404, "no such dictionary"),
        ({"measure": "middle"}, 422, "measure"),
        ({"unknown": 1}, 422, "unknown"),
    ],
)
def test_comparisons_that_do_not_fit_say_why(client, at, filled, change, status, words):
    problem(client.post(f"{at}/compare", json={**of(filled), **change}), status, words)


def test_a_variable_with_several_values_splits_without_a_test(client, at, filled):
    key = next(f["key"] for f in client.get(f"{at}/fields").json() if f["name"] == "Tags")
    table = client.post(f"{at}/compare", json={**of(filled), "split": {"field": key}}).json()
    assert [g["label"] for g in table["groups"]] == ["coast", "hill", "north"]
    assert "several groups" in table["test"]["reason"]


def test_subcorpora_are_kept_found_and_undone(client, at, filled):
    scope = [{"kind": "values", "field": "source", "values": ["Hill Farmer"], "exclude": False}]
    assert client.post(f"{at}/subcorpora", json={"name": "Farm press", "scope": scope}).status_code == 201
    assert client.get(f"{at}/subcorpora").json()[0]["scope"] == scope
    kinds = {hit["kind"] for hit in client.get(f"{at}/go-to", params={"q": "farm"}).json()}
    assert kinds == {"subcorpus", "source"}
    found = client.get(f"{at}/go-to", params={"q": "kit"}).json()
    assert [(hit["kind"], hit["label"]) for hit in found] == [("text", "Kittens")]
    client.post(f"{at}/undo")
    assert client.get(f"{at}/subcorpora").json() == []


def test_help_pages_ship(client):
    assert "<h1>" in client.get("/api/v1/help/compare").json()["html"]
    problem(client.get("/api/v1/help/..%2F..%2FREADME"), 404, "")
    problem(client.get("/api/v1/nothing"), 404, "no call")


def test_the_database_gone_for_a_moment_is_told(settings, account):
    away = Database("mysql+pymysql://nobody:x@127.0.0.1:9/none")
    with TestClient(make_app(settings, away, run_jobs=False)) as client:
        problem(client.post("/api/v1/sign-in", json={"name": "a", "password": "b"}), 503, "does not answer")


def test_every_text_of_the_table_can_be_paged_through(client, at, filled):
    seen = []
    for start in range(0, 5, 2):
        seen += [
            row["title"]
            for row in client.post(
                f"{at}/texts/page", json={"sort": "title", "start": start, "most": 2}
            ).json()["rows"]
        ]
    assert seen == sorted(row[1] for row in NEWS_ROWS)
