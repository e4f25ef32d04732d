"""Pairs of changes at the same moment, over everything that can be edited: one wins, the other is told so and
shown what is there now; nothing that was accepted is lost."""

import threading
from concurrent.futures import ThreadPoolExecutor

import pytest
from fastapi.testclient import TestClient

PAIRS = 6


@pytest.fixture
def at_once(app, client):
    """Carry out calls at the same moment, each by a client of its own; their answers."""
    clients = [TestClient(app, base_url="http://testserver", cookies=client.cookies) for _ in range(2)]

    def run(*calls):
        start = threading.Barrier(len(calls))

        def one(client, call):
            start.wait()
            return call(client)

        with ThreadPoolExecutor(len(calls)) as pool:
            return list(pool.map(one, clients, calls))

    return run


@pytest.fixture
def things(client, at, station):
    """What can be edited: for each how it reads now, and where a change of one field of it goes."""
    text = client.post(f"{at}/texts/page", json={}).json()["rows"][0]["id"]
    client.post(f"{at}/notes", json={"text_id": text, "body": "A note."})
    client.post(f"{at}/variables", json={"name": "Tone"})

    def variable():
        return next(v for v in client.get(f"{at}/variables").json() if v["name"] == "Tone")

    def dictionary():
        return client.get(station.here).json()

    def note():
        return client.get(f"{at}/texts/{text}/beside").json()["notes"][0]

    def reads():
        return client.get(f"{at}/texts/{text}").json()

    here = station.here
    return {
        "category": (
            lambda: station.category("Ecology"),
            lambda now: ("PATCH", f"{here}/categories/{now['id']}", "description"),
        ),
        "term": (lambda: station.term("deer"), lambda now: ("PATCH", f"{here}/terms/{now['id']}", "note")),
        "dictionary": (dictionary, lambda now: ("PATCH", here, "description")),
        "note": (note, lambda now: ("PATCH", f"{at}/notes/{now['id']}", "body")),
        "variable": (variable, lambda now: ("PATCH", f"{at}/variables/{now['id']}", "description")),
        "text": (reads, lambda now: ("PUT", f"{at}/texts/{text}/body", "body")),
        "reference": (reads, lambda now: ("PUT", f"{at}/texts/{text}/reference", "title")),
    }


@pytest.mark.parametrize("what", ["category", "term", "dictionary", "note", "variable", "text", "reference"])
def test_of_two_changes_one_wins_and_the_other_is_shown_it(things, at_once, what):
    read, where = things[what]
    for number in range(PAIRS):
        now = read()
        method, path, name = where(now)

        def change(client, said, now=now, method=method, path=path, name=name):
            return client.request(method, path, json={"revision": now["revision"], name: said})

        said = [f"One says {number}.", f"Two says {number}."]
        answers = at_once(*(lambda c, words=words: change(c, words) for words in said))
        codes = sorted(answer.status_code for answer in answers)
        assert codes == [200, 409], [answer.text for answer in answers]
        won = said[[answer.status_code for answer in answers].index(200)]
        lost = next(answer for answer in answers if answer.status_code == 409)
        current = lost.json()["current"]
        assert int(current["revision"]) == now["revision"] + 1
        if what != "reference":
            assert current[name] == won
        assert read()["revision"] == now["revision"] + 1


def test_the_same_name_is_given_once(client, at, station, at_once):
    making = {
        "categories": lambda c, name: c.post(f"{station.here}/categories", json={"name": name}),
        "dictionaries": lambda c, name: c.post(f"{at}/dictionaries", json={"name": name}),
        "variables": lambda c, name: c.post(f"{at}/variables", json={"name": name}),
        "subcorpora": lambda c, name: c.post(
            f"{at}/subcorpora", json={"name": name, "scope": [{"kind": "title", "contains": "a"}]}
        ),
    }
    for kind, make in making.items():
        for number in range(PAIRS):
            name = f"New {kind} {number}"
            answers = at_once(lambda c, m=make, n=name: m(c, n), lambda c, m=make, n=name: m(c, n))
            codes = sorted(answer.status_code for answer in answers)
            assert codes == [201, 409], (kind, [answer.text for answer in answers])
    terms = f"{station.here}/categories/{station.category('Ecology')['id']}/terms"
    for number in range(PAIRS):
        body = {"terms": [{"source": f"newterm{number}"}]}
        answers = at_once(lambda c, b=body: c.post(terms, json=b), lambda c, b=body: c.post(terms, json=b))
        assert sorted(answer.json()["added"] for answer in answers) == [0, 1]


def test_a_term_is_never_lost_with_a_category_that_is_deleted(client, at, station, at_once):
    for number in range(PAIRS):
        name, term = f"Short {number}", f"kept{number}"
        category = int(station.post("categories", 201, name=name)["label"])
        path = f"{station.here}/categories/{category}"
        added, deleted = at_once(
            lambda c, p=path, t=term: c.post(f"{p}/terms", json={"terms": [{"source": t}]}),
            lambda c, p=path: c.delete(f"{p}?revision=1"),
        )
        assert deleted.status_code == 204, deleted.text
        if added.status_code == 201:  # it came first, went with the category, and comes back with it
            assert client.post(f"{at}/undo").status_code == 200
            assert [one["source"] for one in station.category(name)["terms"]] == [term]
        else:
            assert added.status_code == 404, added.text


def test_two_moves_make_no_circle(client, at, station, at_once):
    for number in range(PAIRS):
        ids = [int(station.post("categories", 201, name=f"{side}{number}")["label"]) for side in "ab"]
        answers = at_once(
            *(
                lambda c, one=one, other=other: c.post(
                    f"{station.here}/categories/{one}/move", json={"revision": 1, "parent_id": other}
                )
                for one, other in (ids, ids[::-1])
            )
        )
        assert sorted(answer.status_code for answer in answers)[0] == 200
        there = {one["id"] for one in station.tree()}
        assert set(ids) <= there


def test_a_deletion_is_decided_on_what_is_there_now(client, at, station):
    category, term = station.category("Ecology"), station.term("deer")
    client.patch(
        f"{station.here}/categories/{category['id']}", json={"revision": 1, "description": "Changed since."}
    )
    client.patch(f"{station.here}/terms/{term['id']}", json={"revision": 1, "note": "Changed since."})
    for path in (f"terms/{term['id']}", f"categories/{category['id']}"):
        answer = client.delete(f"{station.here}/{path}?revision=1")
        assert answer.status_code == 409 and answer.json()["current"]["revision"] == "2"
        assert client.delete(f"{station.here}/{path}?revision=2").status_code == 204
