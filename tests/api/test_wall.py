"""One wall around each project: nothing of another one is told or changed by any call, whatever ids it names."""

import hashlib
import time

import pytest
from sqlalchemy import select, text

from tests.api.bodies import bodies, operations, unlisted
from tests.api.coding_work import Coding
from tests.api.just_looked import JustLooked
from tests.api.making_runs import Runs
from tests.api.test_corpus_station import done, ids
from tests.conftest import NEWS_HEADER, NEWS_MAPPING, write_table
from winnower.api.wall import IN_PATH, TABLE_OF, named_in, table_of
from winnower.jobs.importing import ImportRun
from winnower.jobs.sources import mapping_to_plain
from winnower.store.accounts import make_account, make_project
from winnower.store.jobs import make_job
from winnower.store.models import Base
from winnower.store.wall import strangers, way_to_project

#: Stands in all that the other project holds.
SECRET = "Quorndale"
#: Numbers that name nothing: places, counts, limits, versions by their number, people.
NAMES_NOTHING = {
    "around", "at", "author", "coders", "colour", "cut_marks", "company", "cuts", "end", "first", "form", "groups", "judge",
    "last", "least", "least_chars", "least_hits", "least_texts", "length", "level", "most", "most_each", "next", "number",
    "per", "project_id", "revision", "sample", "seed", "size", "start", "strength", "texts_each", "ties", "verdict",
    "version", "window", "within", "words", "words_each", "record_id",
}  # fmt: skip
#: Goes on until it is stopped from outside.
STREAMS = "/events"


@pytest.fixture(scope="module")
def there(database, settings, app, tmp_path_factory):
    """A project of somebody else that holds one of everything; ids by table."""
    folder = tmp_path_factory.mktemp("wall")
    with database.session() as session:
        account = make_account(session, f"zeb{time.time_ns()}", f"Zeb {SECRET}", "a long password")
        project = make_project(session, account, f"{SECRET} project")
    rows = [
        [
            str(n),
            f"{SECRET} text {n}",
            f"{SECRET} Farmer",
            "2031-06-03",
            f"{SECRET} lambs and deer number {n}.",
            SECRET,
            "3",
        ]
        for n in range(1, 7)
    ]
    table = write_table(folder / f"{SECRET}.csv", rows, NEWS_HEADER)
    params = {
        "name": f"{SECRET}.csv",
        "paths": [(table.name, str(table))],
        "mapping": mapping_to_plain(NEWS_MAPPING),
    }
    with database.session() as session:
        job = make_job(session, project.id, account.id, "import", params).id
    ImportRun(database, settings, job).run()
    at = f"/api/v1/projects/{project.id}"
    with JustLooked(app, base_url="http://testserver") as client:
        client.post("/api/v1/sign-in", json={"name": account.name, "password": "a long password"})
        fill(client, at, database, settings)
    return project.id


def fill(client, at, database, settings):
    content = f"category,term\n{SECRET},lamb*\n{SECRET} > Inner,deer\n".encode()
    done(client.post(f"{at}/dictionaries/import", files={"file": (f"{SECRET}.csv", content)}), 201)
    dictionary = client.get(f"{at}/dictionaries").json()[0]["id"]
    coding = Coding(client, at)
    code = coding.make(SECRET)
    coding.code(f"{SECRET} text 1", "lambs", SECRET)
    text_id = ids(client, at)[f"{SECRET} text 1"]
    done(client.post(f"{at}/codebook/groups", json={"name": SECRET, "codes": [code]}), 201)
    done(client.put(f"{at}/texts/{text_id}/coding-done", json={"done": True}))
    done(client.post(f"{at}/questions", json={"name": SECRET, "question": {"codes": [code]}}), 201)
    note = done(client.post(f"{at}/notes", json={"body": SECRET, "title": SECRET, "text_id": text_id}), 201)
    done(
        client.post(
            f"{at}/notes/quotes",
            json={"note_id": note["id"], "places": [{"text_id": text_id, "start": 0, "end": 9}]},
        ),
        201,
    )
    words = {"start": 0, "end": 9, "words": SECRET, "body": f"{SECRET} in short"}
    done(client.post(f"{at}/texts/{text_id}/paraphrases", json=words), 201)
    view = {
        "view": "comparison",
        "comparison": {"target": {"kind": "words", "words": ["lambs"]}, "split": {"field": "source"}},
    }
    question = done(client.post(f"{at}/finding-questions", json={"words": SECRET}), 201)["id"]
    finding = done(
        client.post(f"{at}/findings", json={"view": view, "title": SECRET, "question_id": question}), 201
    )["id"]
    report = done(client.post(f"{at}/reports", json={"title": SECRET}), 201)["id"]
    pieces = [{"kind": "heading", "words": SECRET}, {"kind": "finding", "finding": finding}]
    done(client.post(f"{at}/reports/{report}/pieces", json={"pieces": pieces}), 201)
    done(client.post(f"{at}/events-in-time", json={"day": "2031-06-03", "name": SECRET}), 201)
    done(
        client.post(
            f"{at}/subcorpora", json={"name": SECRET, "scope": [{"kind": "title", "contains": SECRET}]}
        ),
        201,
    )
    done(client.post(f"{at}/sets", json={"name": SECRET, "ids": [text_id]}), 201)
    done(client.post(f"{at}/uploads", files={"files": (f"{SECRET}.csv", b"text\nx\n")}), 201)
    done(client.post(f"{at}/tone-lists", json={"name": SECRET}), 201)
    runs = Runs(client, at, database, settings, dictionary)
    runs.make(name=SECRET)
    category = client.get(f"{at}/dictionaries/{dictionary}").json()["categories"][0]["id"]
    done(client.post(f"{at}/review/category/{category}/samples", json={"kind": "hit", "size": 3}), 201)
    done(client.post(f"{at}/dictionaries/{dictionary}/versions", json={"name": SECRET}), 201)


@pytest.fixture
def id_there(there, database):
    """An id of the other project for each table."""
    with database.session() as session:
        found = {table: first_of(session, table, there) for table in named_tables()}
    assert [table for table, one in found.items() if one is None and table not in UNFILLED] == []
    return lambda table: found.get(table) or 987_654_321


#: Nothing of the kind comes of plain work: words that went with a correction.
UNFILLED = {"lost_passage"}


def named_tables():
    return {*TABLE_OF.values(), *(table for _, _, table in IN_PATH)}


def of_project(table):
    """The rows of a table that belong to a project, as SQL with ``:project``."""
    way = way_to_project(table)
    joins, here = "", table
    for column in way[:-1]:
        (key,) = column.foreign_keys
        joins += f" join `{key.column.table.name}` on `{here}`.`{column.name}` = `{key.column.table.name}`.`{key.column.name}`"
        here = key.column.table.name
    return f"from `{table}`{joins} where `{here}`.project_id = :project"


def first_of(session, table, project):
    return session.scalar(text(f"select min(`{table}`.id) {of_project(table)}"), {"project": project})


def state_of(session, project):
    """A digest of all rows of a project, by table."""
    found = {}
    for name, table in Base.metadata.tables.items():
        try:
            rows = of_project(name)
        except LookupError:
            continue
        order = ", ".join(f"`{name}`.`{column.name}`" for column in table.primary_key)
        lines = session.execute(
            text(f"select `{name}`.* {rows} order by {order}"), {"project": project}
        ).all()
        found[name] = (len(lines), hashlib.sha256(repr(lines).encode()).hexdigest())
    found["project"] = session.execute(select(Base.metadata.tables["project"]).filter_by(id=project)).all()
    return found


def test_every_number_that_names_something_is_listed():
    assert unlisted() - NAMES_NOTHING == set()
    assert NAMES_NOTHING - unlisted() - {"project_id", "record_id"} == set(), (
        "said to name nothing, and not there"
    )


def test_each_table_that_is_named_leads_to_its_project(database, there):
    with database.session() as session:
        for table in named_tables():
            one = first_of(session, table, there)
            if one is not None:
                assert strangers(session, there, {table: [one]}) == set()
                assert strangers(session, there + 100_000, {table: [one]}) == {table}
            assert strangers(session, there, {table: [987_654_321]}) == set(), "what is nowhere is nobody's"


def test_names_in_a_call_are_found_wherever_they_stand():
    at = "/api/v1/projects/1"
    body = {
        "pieces": [{"kind": "finding", "finding": 3}, {"kind": "quotes", "code": 4, "most": 5}],
        "after": 6,
    }
    assert named_in(f"{at}/reports/2/pieces", {"project_id": "1", "report_id": "2"}, body) == {
        "report": {2}, "finding": {3}, "code": {4}, "report_piece": {6},
    }  # fmt: skip
    assert named_in(f"{at}/passages/change", {}, {"passages": [7, -8]}) == {"passage": {7}, "run_place": {8}}
    assert named_in(f"{at}/runs", {}, {"codes": {"12": 9}}) == {"code": {9}}
    assert named_in(f"{at}/preferences/columns", {}, {"value": ["1"], "text_id": 4}) == {}
    assert table_of(f"{at}/finding-questions/5", "question_id") == "finding_question"
    assert table_of(f"{at}/questions/5", "question_id") == "kept_question"


def test_no_call_tells_or_changes_anything_of_another_project(client, at, filled, there, id_there, database):
    with database.session() as session:
        before = state_of(session, there)
    told, failed, asked = {}, {}, 0
    for method, path, operation in operations():
        if path.endswith(STREAMS):
            continue
        for url, kept in calls(method, path, operation, at, id_there):
            answer = client.request(method, url, **kept)
            asked += 1
            words = answer.content.decode("utf-8", "replace")
            if SECRET in words:
                told[f"{method} {path}"] = words[:300]
            if answer.status_code >= 500:
                failed[f"{method} {path}"] = (kept, words[:300])
    with database.session() as session:
        after = state_of(session, there)
    assert told == {}
    assert failed == {}
    assert [table for table in before if before[table] != after[table]] == []
    assert asked > 300


def calls(method, path, operation, at, id_there):
    """The calls of an operation with ids of the other project: in its path, and, beside a path of one's own where it
    has none, in its body."""
    url, inside = path, False
    query = {}
    for parameter in operation.get("parameters", ()):
        name = parameter["name"]
        if parameter["in"] == "path" and name != "project_id":
            table = table_of(path, name)
            if name == "subject":
                value = "run" if "run" in url else "category"
            else:
                value = id_there(table) if table else 1
                inside = inside or table is not None
            url = url.replace(f"{{{name}}}", str(value))
        elif parameter["in"] == "query" and parameter.get("required"):
            query[name] = 1 if name == "revision" else "word"
    url = url.replace("/api/v1/projects/{project_id}", at)
    content = operation.get("requestBody", {}).get("content", {})
    if "application/json" in content:
        schema = content["application/json"]["schema"]
        for body in bodies(
            schema, path.replace("{project_id}", "1").replace("{subject}", "category"), id_there
        ):
            yield url, {"params": query, "json": body}
    elif "multipart/form-data" in content:
        files = {"file": ("a.csv", b"category,term\nA,b\n"), "files": ("a.csv", b"text\nx\n")}
        data = {"into": str(id_there("category")), "take_theirs": "true"}
        yield url, {"params": query, "files": files, "data": data}
    else:
        yield url, {"params": query}
