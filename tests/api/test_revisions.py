"""Nothing is written over unseen: every change of something that is there names the state it was made on."""

import pytest

from tests.api.bodies import bodies, operations, resolved
from tests.api.test_api import problem
from tests.api.test_wall import fill as fill_project
from tests.api.test_wall import first_of, named_tables
from tests.conftest import NEWS_HEADER, NEWS_MAPPING, write_table
from winnower.api.wall import table_of

#: What only the person who asks has, or has set: nobody else can have changed it.
ONES_OWN = {
    "/api/v1/projects/{project_id}/preferences/{name}",
    "/api/v1/projects/{project_id}/texts/{text_id}/coding-done",
}
CHANGES = [
    (method, path, operation)
    for method, path, operation in operations()
    if method in ("patch", "put") and path not in ONES_OWN
]
#: Its words are gone with a correction: nothing is left of it to change.
GONE = {"/api/v1/projects/{project_id}/lost-passages/{lost_id}"}
DELETIONS = [path for method, path, _ in operations() if method == "delete" and path not in GONE]


def body_of(operation):
    return resolved(operation["requestBody"]["content"]["application/json"]["schema"])


def test_every_change_must_say_what_it_was_made_on():
    assert len(CHANGES) > 15
    for method, path, operation in CHANGES:
        required = set(body_of(operation).get("required", ()))
        assert required & {"revision", "seen"}, f"{method} {path} can be made on nothing"


def test_every_deletion_must_say_what_it_was_decided_on():
    assert len(DELETIONS) > 12
    for method, path, operation in operations():
        if method == "delete" and path not in GONE:
            named = {
                one["name"]: one.get("required")
                for one in operation.get("parameters", ())
                if one["in"] == "query"
            }
            assert named.get("revision") is True, path


@pytest.fixture
def full(client, at, project, deliver, database, settings, tmp_path):
    """A project with one of everything; an id of each table."""
    rows = [
        [
            str(n),
            f"Quorndale text {n}",
            "Hill Farmer",
            "2031-06-03",
            f"Quorndale lambs and deer {n}.",
            "a",
            "3",
        ]
        for n in range(1, 4)
    ]
    deliver(write_table(tmp_path / "all.csv", rows, NEWS_HEADER), NEWS_MAPPING)
    fill_project(client, at, database, settings)
    with database.session() as session:
        ids = {table: first_of(session, table, project.id) for table in named_tables()}
    return lambda table: ids.get(table) or 987_654_321


def address(path, at, id_of, **more):
    url = path.replace("/api/v1/projects/{project_id}", at)
    while "{" in url:
        name = url[url.index("{") + 1 : url.index("}")]
        url = url.replace(f"{{{name}}}", str(id_of(table_of(path.replace("{project_id}", "1"), name))))
    return url


def test_a_change_on_an_older_state_is_refused_and_shown_the_present_one(client, at, full):
    answers = {}
    for method, path, operation in CHANGES:
        if "revision" not in body_of(operation).get("properties", {}):
            continue
        body = bodies(body_of(operation), path.replace("{project_id}", "1"), full)[0]
        body.pop("rule", None)  # whether a rule fits is asked first, and says more
        answer = client.request(method, address(path, at, full), json=body | {"revision": 987_654})
        current = answer.json().get("current") or {}
        if answer.status_code != 409 or not current.get("revision"):
            answers[f"{method} {path}"] = answer.text[:200]
    assert answers == {}


def test_a_deletion_decided_on_an_older_state_is_refused_and_shown_the_present_one(client, at, full):
    answers = {}
    for path in DELETIONS:
        answer = client.request("DELETE", address(path, at, full), params={"revision": 987_654})
        current = answer.json().get("current") or {}
        if answer.status_code != 409 or not current.get("revision"):
            answers[path] = answer.text[:200]
    assert answers == {}


def test_a_value_somebody_else_gave_is_not_written_over(client, at, full, project):
    text_id = full("text")
    field = next(one["key"] for one in client.get(f"{at}/variables").json() if one["name"] == "Age")
    given = {"ids": [text_id], "field": field, "value": "40", "seen": "3"}
    assert client.post(f"{at}/texts/values", json=given).json()["texts"] == 1
    refused = client.post(f"{at}/texts/values", json=given | {"value": "41"})
    problem(refused, 409, "another value")
    assert refused.json()["current"] == {"value": "40", "seen": "40"}
    assert client.post(f"{at}/texts/values", json=given | {"value": "41", "seen": "40"}).json()["texts"] == 1
    problem(client.post(f"{at}/texts/values", json=given | {"ids": None, "seen": "41"}), 422, "one text only")


def test_undo_leads_on_and_not_back_to_a_revision_others_have_seen(client, at, full):
    note = f"{at}/notes/{full('note')}"
    assert client.patch(note, json={"body": "First"}).status_code == 200
    seen = client.post(f"{at}/notes/find", json={"find": "First"}).json()["notes"][0]["revision"]
    assert client.post(f"{at}/undo").status_code == 200
    client.patch(note, json={"body": "Second"})
    problem(client.patch(note, json={"body": "Third", "revision": seen}), 409, "in the meantime")


def test_a_request_that_comes_twice_is_carried_out_once(client, at, full):
    key = {"Idempotency-Key": "a key of the browser"}
    first = client.request("POST", f"{at}/codes", json={"name": "Once"}, headers=key)
    again = client.request("POST", f"{at}/codes", json={"name": "Once"}, headers=key)
    assert first.status_code == 201 and again.status_code == 409 and again.json()["title"] == "Already done"
    named = [one["name"] for one in client.get(f"{at}/codebook").json()["codes"]]
    assert named.count("Once") == 1
    other = client.request(
        "POST", f"{at}/codes", json={"name": "Twice"}, headers={"Idempotency-Key": "another"}
    )
    assert other.status_code == 201
