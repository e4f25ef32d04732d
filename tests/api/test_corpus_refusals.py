"""What the Corpus station refuses, and how it says so; what readers may not do."""

import pytest
from fastapi.testclient import TestClient

from tests.api.test_api import chosen, problem, upload, wait_for
from tests.api.test_corpus_station import ALL, done, ids, page, set_value, size, undo, values, variables
from winnower.store.accounts import make_account
from winnower.store.models import Member


@pytest.fixture
def news_in(client, at, deliver, news):
    deliver(news)


@pytest.fixture
def reader(app, database, project):
    """Somebody who may read only."""
    with database.session() as session:
        account = make_account(session, f"only-reads{project.id}", "R", "secret words")
        session.add(Member(project_id=project.id, account_id=account.id, role="reader"))
    with TestClient(app) as client:
        client.post("/api/v1/sign-in", json={"name": account.name, "password": "secret words"})
        yield client


CHANGES = [
    ("post", "variables", {"name": "x"}),
    ("post", "texts/values", {"scope": [], "field": "source", "value": "x"}),
    ("post", "sets", {"scope": [], "name": "x"}),
    ("post", "check", {}),
    ("post", "check/repair", {}),
    ("post", "check/language", {}),
    ("post", "check/groups", {"kind": "near", "way": "once"}),
    ("post", "texts", {"title": "x", "body": "y"}),
    ("post", "imports/expected", {"upload_id": 1, "lots": {}}),
    ("post", "deliveries/1/undo", {}),
    ("put", "texts/1/body", {"body": "x", "revision": 1}),
    ("put", "texts/1/reference", {}),
    ("post", "notes", {"body": "x"}),
    ("patch", "values/1", {"label": "x"}),
    ("patch", "variables/1", {"revision": 1}),
]


@pytest.mark.parametrize(("method", "path", "body"), CHANGES)
def test_readers_change_nothing(reader, at, method, path, body):
    problem(getattr(reader, method)(f"{at}/{path}", json=body), 403, "Your role in this project is reader")


def test_readers_see_all_there_is(reader, at, news_in):
    for path in ("variables", "check", "deliveries", "preferences/columns", "values?field=source"):
        assert reader.get(f"{at}/{path}").status_code == 200, path
    text = page(reader, at)["rows"][0]["id"]
    assert reader.get(f"{at}/texts/{text}/beside").json()["notes"] == []
    assert reader.post(f"{at}/check/calendar", json=ALL).status_code == 200


@pytest.mark.parametrize(
    ("method", "path", "body"),
    [
        ("put", "texts/{other}/body", {"body": "x", "revision": 1}),
        ("get", "texts/{other}/beside", None),
        ("put", "texts/{other}/reference", {}),
        ("patch", "notes/{note}", {"body": "x", "revision": 1}),
        ("delete", "notes/{note}", None),
        ("patch", "values/{value}", {"label": "x"}),
        ("delete", "values/{value}", None),
        ("delete", "variables/{variable}", None),
        ("post", "variables/{variable}/order", {"ids": []}),
        ("post", "deliveries/{delivery}/undo", None),
    ],
)
def test_nothing_of_another_project_can_be_reached(
    client, at, news_in, database, account, method, path, body
):
    from sqlalchemy import select

    from winnower.store.accounts import make_project
    from winnower.store.models import Delivery, NoteRow, Variable, VariableCategory

    text = page(client, at)["rows"][0]["id"]
    client.post(f"{at}/notes", json={"text_id": text, "body": "mine"})
    here = int(at.rsplit("/", 1)[1])
    with database.session() as session:
        elsewhere = make_project(session, account, f"Elsewhere {here}").id
        names = {
            "other": text,
            "note": session.scalar(select(NoteRow.id).where(NoteRow.text_id == text)),
            "value": session.scalar(
                select(VariableCategory.id).join(Variable).where(Variable.project_id == here)
            ),
            "variable": session.scalar(select(Variable.id).where(Variable.project_id == here)),
            "delivery": session.scalar(select(Delivery.id).where(Delivery.project_id == here)),
        }
    asked = {} if body is None else {"json": body}
    answer = client.request(method, f"/api/v1/projects/{elsewhere}/{path.format(**names)}", **asked)
    problem(answer, 404, "no such")


@pytest.mark.parametrize(
    ("asked", "status", "words"),
    [
        ({"field": "nonsense", "value": "x"}, 404, "no field “nonsense”"),
        ({"field": "v999999", "value": "x"}, 404, "no such variable"),
        ({"field": "date", "value": "someday"}, 422, "cannot be read as a date"),
        ({"field": "source", "value": "x", "ids": [987654321]}, 404, "no longer in the project"),
        ({"field": "source", "value": "x", "mode": "sideways"}, 422, ""),
    ],
)
def test_values_that_cannot_be_set(client, at, news_in, asked, status, words):
    before = page(client, at)["rows"]
    problem(client.post(f"{at}/texts/values", json=ALL | asked), status, words)
    assert page(client, at)["rows"] == before


def test_nothing_to_change_makes_no_history(client, at, news_in):
    name = client.get(at).json()["undo"]
    one = page(client, at)["rows"][0]
    assert set_value(client, at, "source", one["source"], ids=[one["id"]])["texts"] == 0
    assert client.get(at).json()["undo"] == name


def test_names_taken_and_rules_that_make_no_sense(client, at, news_in):
    problem(client.post(f"{at}/variables", json={"name": "Age"}), 409, "already")
    tags = variables(client, at)["Tags"]
    problem(
        client.patch(f"{at}/variables/{tags['id']}", json={"revision": tags["revision"], "name": "Age"}),
        409,
        "already",
    )
    problem(
        client.patch(f"{at}/variables/{tags['id']}", json={"revision": 99, "name": "Other"}),
        409,
        "in the meantime",
    )
    rule = {"derive": "period", "field": "source", "period": "month"}
    problem(client.post(f"{at}/variables", json={"name": "x", "rule": rule}), 422, "is not a date")
    gone = {"rule": {"derive": "category", "category_id": 10**9}}
    problem(client.post(f"{at}/variables/try-rule", json=gone), 422, "is gone")
    done(
        client.post(f"{at}/sets", json=ALL | {"name": "A", "rule": [{"kind": "terms", "terms": ["lamb"]}]}),
        201,
    )
    key = variables(client, at)["Sets"]["key"]
    rule = [{"kind": "values", "field": key, "values": ["A"]}]
    problem(client.post(f"{at}/sets", json=ALL | {"name": "B", "rule": rule}), 422, "cannot speak of sets")
    problem(
        client.post(f"{at}/sets", json=ALL | {"name": "A", "rule": [{"kind": "terms", "terms": ["ewe"]}]}),
        422,
        "already",
    )
    value = variables(client, at)["Sets"]["values"][0]["id"]
    other = done(client.post(f"{at}/sets", json=ALL | {"name": "By hand", "ids": []}), 201)
    assert other["texts"] == 0
    by_hand = next(v["id"] for v in variables(client, at)["Sets"]["values"] if v["label"] == "By hand")
    merge = {"ids": [value], "into": by_hand}
    sets_id = variables(client, at)["Sets"]["id"]
    problem(client.post(f"{at}/variables/{sets_id}/merge", json=merge), 422, "cannot be merged")
    age = variables(client, at)["Tags"]["values"][0]["id"]
    problem(
        client.post(f"{at}/variables/{sets_id}/merge", json={"ids": [age], "into": by_hand}),
        422,
        "different variables",
    )


def test_a_rule_cannot_reach_into_another_projects_dictionary(client, at, filled):
    tree = client.get(f"{at}/dictionaries/{filled}").json()
    rule = {"rule": {"derive": "category", "category_id": tree["categories"][0]["id"]}}
    done(client.post(f"{at}/variables/try-rule", json=rule))
    other = client.post("/api/v1/projects", json={"name": f"Other {filled}"}).json()["id"]
    problem(client.post(f"/api/v1/projects/{other}/variables/try-rule", json=rule), 404, "no such category")


def test_a_rule_whose_value_is_gone_says_so_and_comes_back_with_undo(client, at, news_in):
    tags = variables(client, at)["Tags"]
    rule = [{"kind": "values", "field": tags["key"], "values": ["coast"]}]
    done(client.post(f"{at}/sets", json=ALL | {"name": "Coast", "rule": rule}), 201)
    before = values(client, at, "Sets")["Coast"]
    coast = next(v["id"] for v in tags["values"] if v["label"] == "coast")
    done(client.delete(f"{at}/values/{coast}"))
    broken = next(v for v in variables(client, at)["Sets"]["values"] if v["label"] == "Coast")
    assert broken["texts"] == 0 and "no value “coast”" in broken["broken"]
    undo(client, at)
    assert values(client, at, "Sets")["Coast"] == before > 0


def test_subcorpora_are_a_field_to_split_by(client, at, news_in):
    scope = [{"kind": "terms", "terms": ["lamb*"]}]
    done(client.post(f"{at}/subcorpora", json={"name": "On lambs", "scope": scope}), 201)
    field = next(f for f in client.get(f"{at}/fields").json() if f["key"] == "subcorpora")
    assert field["can_split"] and field["values"] == [
        {"label": "On lambs", "texts": size(client, at, *scope)}
    ]
    assert size(client, at, {"kind": "values", "field": "subcorpora", "values": ["On lambs"]}) == size(
        client, at, *scope
    )


def test_words_are_found_in_titles_and_bodies_while_they_are_typed(client, at, news_in):
    assert page(client, at, find="kitt")["total"] == 1
    assert page(client, at, find="market pri")["total"] == 1
    assert page(client, at, find="pri market")["total"] == 0
    assert page(client, at, find="NINE PAGES")["total"] == 1
    assert (
        size(client, at, {"kind": "finds", "words": "deer", "exclude": True})
        == 5 - page(client, at, find="deer")["total"]
    )


def test_placeholders_and_attached_files_that_cannot_be(client, at, news_in):
    text = ids(client, at)["Deer"]
    files = [("files", ("a.md", b"x"))]
    problem(client.post(f"{at}/texts/{text}/attach", files=files), 422, "has words already")
    body = client.get(f"{at}/texts/{text}").json()
    done(client.put(f"{at}/texts/{text}/body", json={"body": "", "revision": body["revision"]}))
    assert client.get(f"{at}/texts/{text}/beside").json()["placeholder"]
    for name, content, words in (
        ("a.csv", b"id,text\n1,x", "Attach one document"),
        ("a.xyz", b"x", "is not read"),
        ("a.docx", b"PK no", "damaged"),
        ("a.txt", b"  ", "holds no text"),
    ):
        problem(client.post(f"{at}/texts/{text}/attach", files=[("files", (name, content))]), 422, words)
    undo(client, at)
    assert not client.get(f"{at}/texts/{text}/beside").json()["placeholder"]


def test_notes_outside_the_text_and_stale_notes(client, at, news_in):
    text = ids(client, at)["Deer"]
    for start, end in ((5, 2), (0, 10**6), (3, None)):
        note = {"body": "x", "start": start, "end": end}
        problem(client.post(f"{at}/notes", json=note | {"text_id": text}), 422, "outside the text")
    done(client.post(f"{at}/notes", json={"text_id": text, "body": "First"}), 201)
    note = client.get(f"{at}/texts/{text}/beside").json()["notes"][0]
    assert note["mine"]
    done(client.patch(f"{at}/notes/{note['id']}", json={"body": "Second", "revision": note["revision"]}))
    problem(
        client.patch(f"{at}/notes/{note['id']}", json={"body": "Third", "revision": note["revision"]}),
        409,
        "in the meantime",
    )
    done(client.delete(f"{at}/notes/{note['id']}"))
    undo(client, at)
    assert client.get(f"{at}/texts/{text}/beside").json()["notes"][0]["body"] == "Second"


def test_references_are_given_or_made(client, at, news_in):
    text = ids(client, at)["Nine pages"]
    made = client.get(f"{at}/texts/{text}/beside").json()["reference"]
    assert made["author_date"] == "Nine pages. (2031, June 3). Hill Farmer." and not made["own"]
    fields = {
        "type": "book",
        "title": "Flocks",
        "authors": "Fell, Cy",
        "year": "2030",
        "publisher": "Orrin Press",
    }
    done(client.put(f"{at}/texts/{text}/reference", json=fields))
    given = client.get(f"{at}/texts/{text}/beside").json()["reference"]
    assert given["own"] and given["author_date"] == "Fell, C. (2030). Flocks. Orrin Press."
    undo(client, at)
    assert not client.get(f"{at}/texts/{text}/beside").json()["reference"]["own"]


def test_the_check_before_it_was_made_and_of_an_empty_corpus(client, at):
    found = client.get(f"{at}/check").json()
    assert (found["state"], found["texts"], found["languages"]) == ("none", 0, [])
    problem(client.get(f"{at}/check/groups", params={"kind": "near"}), 409, "never checked")
    job = done(client.post(f"{at}/check", json={"threshold": 0.9}), 201)
    assert wait_for(client, at, job["id"])["state"] == "done"
    assert client.get(f"{at}/check").json()["state"] == "ready"
    assert client.get(f"{at}/check/groups", params={"kind": "same"}).json() == {"total": 0, "groups": []}
    problem(client.post(f"{at}/check", json={"threshold": 2}), 422, "")


def test_files_nobody_can_read_leave_a_sentence_each(client, at):
    sent = upload(
        client, at, ("a.pdf", b"%PDF-1.4 broken"), ("b.xlsx", b"PK no"), ("c.zip", b"PK no"), ("d.json", b"{")
    )
    look = client.post(f"{at}/uploads/{sent['id']}/preview", json={}).json()
    assert {p["file"] for p in look["problems"]} == {"a.pdf", "b.xlsx", "c.zip", "d.json"}
    assert all(p["reason"].endswith((".", "”")) for p in look["problems"])
    job = done(client.post(f"{at}/imports", json={"upload_id": sent["id"], "lots": chosen(look)}), 201)
    ended = wait_for(client, at, job["id"])
    assert ended["state"] == "failed" and "No text could be taken" in ended["message"]
    assert page(client, at)["total"] == 0
