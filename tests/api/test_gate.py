"""What is refused before it is read, what an answer says beside its body, and files that would harm."""

import asyncio
import io
import json
import time
import zipfile
from dataclasses import replace

import pytest
from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st

from tests.api.test_api import problem
from winnower.api.app import make_app
from winnower.api.gate import JSON_BYTES, STRANGER_BYTES
from winnower.api.json_body import DEEPEST, MOST_VALUES, BadBody, measured, read_json
from winnower.api.loop_time import LoopTime
from winnower.jobs.apart import Apart


def test_only_known_addresses_are_answered(app):
    with TestClient(app, base_url="http://testserver") as client:
        problem(client.get("/api/v1/me", headers={"host": "elsewhere.example"}), 421, "not known here")
        refused = client.post("/api/v1/sign-in", json={}, headers={"origin": "http://elsewhere.example"})
        problem(refused, 403, "came from another site")


def test_every_answer_is_private_and_dressed_refusals_too(client, at):
    for answer in (
        client.get("/api/v1/me"),
        client.get(at),
        client.get("/api/v1/projects/999999"),
        client.get("/api/v1/me", headers={"host": "elsewhere.example"}),
        client.post(f"{at}/compare", json={"nonsense": 1}),
        client.get("/api/v1/nowhere"),
    ):
        assert answer.headers["cache-control"] == "no-store", answer.url
        policy = answer.headers["content-security-policy"]
        assert (
            "base-uri 'none'" in policy
            and "form-action 'self'" in policy
            and "frame-ancestors 'none'" in policy
        )
        assert answer.headers["x-content-type-options"] == "nosniff"


def test_a_body_is_limited_before_it_is_read(app, client, at):
    with TestClient(app, base_url="http://testserver") as stranger:
        large = b'{"name": "' + b"x" * STRANGER_BYTES + b'"}'
        problem(stranger.post("/api/v1/sign-in", content=large), 413, "the limit here is 64 kB")

        def without_length():
            for _ in range(20):
                yield b"x" * 10_000

        problem(stranger.post("/api/v1/sign-in", content=without_length()), 413, "too large")
        files = {"files": ("a.txt", b"x" * (2 * STRANGER_BYTES))}
        problem(stranger.post(f"{at}/uploads", files=files), 413, "too large")
    assert client.post(f"{at}/uploads", files=files).status_code == 201
    problem(client.post(f"{at}/compare", content=b"[" * (JSON_BYTES + 1)), 413, "8 MB")


@pytest.mark.parametrize(
    ("body", "says"),
    [
        (b'{"source": "a", "x": NaN}', "not valid JSON"),
        (b'{"source": "\\ud800"}', "not valid JSON"),
        (b"[" * (DEEPEST + 1) + b"]" * (DEEPEST + 1), "deep"),
        (b'{"source": 99999999999999999999}', "A number in the request"),
        (b'{"source": 9223372036854775808}', "A number in the request"),
        (b"{", "not valid JSON"),
    ],
)
def test_what_no_part_of_the_program_could_take_is_told(client, at, body, says):
    problem(client.post(f"{at}/terms/try", content=body), 422, says)


def test_brackets_within_texts_are_no_depth():
    for value in ({"source": "[" * 500}, {"source": "1" * 50, "n": 2**63 - 1}, {'\\"[': '\\\\"[[' * 40}):
        assert read_json(json.dumps(value).encode()) == value


@given(
    st.recursive(
        st.none() | st.integers(-9, 9) | st.text('[]{}",\\ab', max_size=8),
        lambda inner: (
            st.lists(inner, max_size=4) | st.dictionaries(st.text('[{"\\', max_size=3), inner, max_size=3)
        ),
    )
)
def test_depth_and_values_are_those_of_the_value(value):
    def depth(one):
        inside = one.values() if isinstance(one, dict) else one if isinstance(one, list) else ()
        return (1 + max(map(depth, inside), default=0)) if isinstance(one, (dict, list)) else 0

    def count(one):
        inside = one.values() if isinstance(one, dict) else one if isinstance(one, list) else ()
        return 1 + sum(map(count, inside))

    deepest, values = measured(json.dumps(value).encode())
    assert deepest == depth(value)
    assert values >= count(value)


@pytest.mark.parametrize(
    "body",
    [b"[" * 6_000_000, b"[[]," * 1_500_000, b'{"a":[' * 1_000_000, b"[" + b"1," * 3_000_000 + b"1]"],
)
def test_a_body_of_millions_of_values_is_refused_unread(body):
    before = time.process_time()
    with pytest.raises(BadBody, match="deep|values"):
        read_json(body)
    # a parser makes a value of each bracket: some seconds; counting bytes is array work
    assert time.process_time() - before < 5


def test_the_longest_lists_of_calls_are_read():
    assert MOST_VALUES > 200_000
    assert len(read_json(json.dumps({"ids": list(range(200_000))}).encode())["ids"]) == 200_000


def test_a_request_that_holds_the_loop_is_named(caplog):
    async def app(scope, receive, send):
        await asyncio.sleep(0.15)  # gives way: others are answered meanwhile
        if scope["path"] == "/slow":
            time.sleep(0.15)
        await asyncio.sleep(0)

    async def ask(path):
        await LoopTime(app)({"type": "http", "method": "POST", "path": path}, None, None)

    asyncio.run(ask("/quick"))
    assert not caplog.records
    asyncio.run(ask("/slow"))
    assert "POST /slow" in caplog.text and "held the loop" in caplog.text


@pytest.mark.parametrize(
    ("origin", "allowed"),
    [
        ("http://testserver", True),
        ("http://testserver:80", True),
        ("https://testserver", True),  # a proxy in front speaks TLS
        ("http://testserver:81", False),
        ("http://elsewhere.example//testserver", False),
        ("http://testserver.elsewhere.example", False),
        ("http://someone@testserver", False),
        ("http://testserver/path", False),
        ("null", False),
        ("http://[", False),
    ],
)
def test_an_origin_is_read_as_an_address(app, origin, allowed):
    with TestClient(app, base_url="http://testserver") as client:
        answer = client.post("/api/v1/sign-in", json={}, headers={"origin": origin})
        assert answer.status_code == (422 if allowed else 403)


def test_a_browser_that_says_cross_site_is_refused(app):
    with TestClient(app, base_url="http://testserver") as client:
        for site, status in (("cross-site", 403), ("same-origin", 422), ("none", 422)):
            assert (
                client.post("/api/v1/sign-in", json={}, headers={"sec-fetch-site": site}).status_code
                == status
            )


@pytest.mark.parametrize("number", ["9" * 19, "9" * 40, str(2**63)])
def test_numbers_out_of_range_in_addresses_are_told(client, at, number):
    for path in (f"/api/v1/projects/{number}", f"{at}/texts/{number}", f"{at}/dictionaries/{number}"):
        problem(client.get(path), 422, "larger than any")


def test_a_changed_password_ends_the_other_sessions(app, client, account):
    with TestClient(app, base_url="http://testserver") as other:
        other.post("/api/v1/sign-in", json={"name": account.name, "password": "a long password"})
        listed = client.get("/api/v1/sessions").json()
        assert [one["this"] for one in listed].count(True) == 1 and len(listed) == 2
        assert listed[0]["made_at"].endswith("Z")
        wrong = client.post("/api/v1/password", json={"old": "not it", "new": "another password"})
        problem(wrong, 403, "The current password is another one")
        changed = client.post("/api/v1/password", json={"old": "a long password", "new": "another password"})
        assert changed.json() == {"sessions": 1}
        assert other.get("/api/v1/me").status_code == 401
        assert client.get("/api/v1/me").status_code == 200
        assert (
            other.post(
                "/api/v1/sign-in", json={"name": account.name, "password": "another password"}
            ).status_code
            == 200
        )
        assert client.post("/api/v1/sessions/end-others").json() == {"sessions": 1}


def test_the_cookie_is_of_this_port_and_closed_behind_tls(app, account):
    with TestClient(app, base_url="https://testserver") as client:
        said = client.post("/api/v1/sign-in", json={"name": account.name, "password": "a long password"})
        cookie = said.headers["set-cookie"]
        assert cookie.startswith("winnower_443=") and "Secure" in cookie
    with TestClient(app, base_url="http://testserver:8123") as client:
        said = client.post("/api/v1/sign-in", json={"name": account.name, "password": "a long password"})
        assert said.headers["set-cookie"].startswith("winnower_8123=")


def far_cell():
    """A small workbook whose one cell lies at the far end of the sheet."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as book:
        book.writestr(
            "[Content_Types].xml",
            '<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">'
            '<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>'
            '<Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" '
            'ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/></Types>',
        )
        relations = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
        package = "http://schemas.openxmlformats.org/package/2006/relationships"
        book.writestr(
            "_rels/.rels",
            f'<Relationships xmlns="{package}"><Relationship Id="r1" Type="{relations}/officeDocument" '
            'Target="xl/workbook.xml"/></Relationships>',
        )
        book.writestr(
            "xl/workbook.xml",
            '<workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" '
            f'xmlns:r="{relations}"><sheets><sheet name="A" sheetId="1" r:id="r1"/></sheets></workbook>',
        )
        book.writestr(
            "xl/_rels/workbook.xml.rels",
            f'<Relationships xmlns="{package}"><Relationship Id="r1" Type="{relations}/worksheet" '
            'Target="worksheets/sheet1.xml"/></Relationships>',
        )
        book.writestr(
            "xl/worksheets/sheet1.xml",
            '<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>'
            '<row r="1"><c r="A1" t="inlineStr"><is><t>text</t></is></c></row>'
            '<row r="1048576"><c r="XFD1048576" t="inlineStr"><is><t>far out</t></is></c></row>'
            "</sheetData></worksheet>",
        )
    return out.getvalue()


BOMBS = {
    "far.xlsx": far_cell(),
    "deep.json": b'[{"text": ' + b"[" * 2_000_000 + b"]" * 2_000_000 + b"}]",
    "wide.json": b'[{"text": "a"}' + b',{"x":{"y":[]}}' * 1_500_000 + b"]",
}


@pytest.mark.parametrize("name", BOMBS)
def test_a_file_that_would_harm_costs_its_process_and_is_told(client, at, name):
    files = [("files", (name, BOMBS[name])), ("files", ("good.csv", b"text\nThe flock is safe.\n"))]
    upload = client.post(f"{at}/uploads", files=files).json()
    started = time.monotonic()
    answer = client.post(f"{at}/uploads/{upload['id']}/preview", json={})
    assert answer.status_code in (200, 422), answer.text
    assert answer.json().get("detail", "readable").strip()
    assert time.monotonic() - started < 90
    assert client.get("/api/v1/me").status_code == 200


def test_a_look_ends_with_its_limits(settings, tmp_path):
    from winnower.core.errors import ReadError

    path = tmp_path / "far.xlsx"
    path.write_bytes(far_cell())
    for change, says in (
        ({"limit_look_seconds": 0}, "takes longer"),
        ({"limit_look_bytes": 1 << 20}, "memory"),
    ):
        limited = replace(settings, **change)
        with pytest.raises(ReadError, match=says):
            Apart(limited).call("look", [("far.xlsx", path)], limited, {}, {})


def test_many_signs_in_a_term_take_no_time(client, at, filled):
    for source in ("a*" * 12, "*a" * 12 + "*", "/(a*)*b/", "/(a+)+c/"):
        started = time.monotonic()
        answer = client.post(f"{at}/terms/try", json={"source": source, "match_case": True})
        assert answer.status_code in (200, 422), answer.text
        assert time.monotonic() - started < 20


def test_a_deleted_dictionary_comes_back_with_its_versions(client, at, filled):
    here = f"{at}/dictionaries/{filled}"
    client.post(f"{here}/versions", json={"name": "Before the field", "note": "kept"})
    before = client.get(f"{here}/versions").json()
    assert before and client.delete(here).status_code == 204
    assert client.get(here).status_code == 404
    assert client.post(f"{at}/undo").status_code == 200
    assert client.get(f"{here}/versions").json() == before


def test_a_database_away_is_a_sentence_within_seconds(settings):
    from winnower.store.database import Database

    app = make_app(
        settings, Database("mysql+pymysql://x:y@localhost/none?unix_socket=/nowhere"), run_jobs=False
    )
    with TestClient(app, base_url="http://testserver") as client:
        started = time.monotonic()
        problem(client.get("/api/v1/start"), 503, "does not answer")
        assert time.monotonic() - started < 10


def test_signs_that_are_digits_to_some_are_no_numbers(client, at, filled):
    """A raised two is a digit to Python, and no number."""
    for name in ("²", "v²", "३"):
        assert client.post(f"{at}/sets", json={"name": name, "ids": []}).status_code == 201
    assert client.post(f"{at}/texts/values", json={"field": "v²", "value": "x", "ids": []}).status_code == 404
    assert client.get(f"{at}/variables").status_code == 200
    content = "category,term,colour\nOne,lamb,²\n".encode()
    sent = client.post(f"{at}/dictionaries/import", files={"file": ("Two.csv", content)})
    assert sent.status_code == 201, sent.text


def test_two_that_want_each_others_rows_are_both_answered(app, client, at, monkeypatch):
    """What the database gave up since two were in each other's way is carried out again, with the same body."""
    from sqlalchemy.exc import OperationalError

    from winnower.store import dictionaries

    make, failures = dictionaries.make_dictionary, [1, 1]

    def crossed(recorder, name):
        if failures:
            failures.pop()
            raise OperationalError("insert", {}, Exception(1213, "Deadlock found"))
        return make(recorder, name)

    monkeypatch.setattr(dictionaries, "make_dictionary", crossed)
    answer = client.post(f"{at}/dictionaries", json={"name": "Again"})
    assert answer.status_code == 201 and answer.json()["name"] == "Again"
    assert "x-again" not in answer.headers
    assert not failures
    failures += [1] * 9
    problem(
        client.post(f"{at}/dictionaries", json={"name": "Never"}), 503, "Somebody else is at the same rows"
    )


def test_a_correction_leaves_no_old_index_behind(client, at, filled, settings):
    folder = settings.index / at.rsplit("/", 1)[1]
    text = client.post(f"{at}/texts/page", json={}).json()["rows"][0]
    for number in range(3):
        body = {"body": f"Corrected {number} times.", "revision": number + 1}
        assert client.put(f"{at}/texts/{text['id']}/body", json=body).status_code == 200
        parts = [path for path in folder.iterdir() if path.is_dir()]
        assert len(parts) == len(list(folder.glob("*/segment.json"))) == 1
        assert len(list(folder.glob("manifest-*.json"))) == 1
        assert client.get(f"{at}/texts/{text['id']}").json()["body"] == f"Corrected {number} times."


def test_a_choice_that_does_not_fit_is_told_and_not_kept(client, at):
    def upload():
        files = {"files": ("a.csv", b"title,text\nOne,The flock is safe.\nTwo,Deer fell.\n")}
        return client.post(f"{at}/uploads", files=files).json()["id"]

    first = upload()
    look = client.post(f"{at}/uploads/{first}/preview", json={}).json()["lots"][0]
    bad = {look["key"]: {**look["choice"], "encoding": "utf-16"}}
    answer = client.post(f"{at}/uploads/{first}/preview", json={"lots": bad})
    assert answer.status_code in (200, 422), answer.text
    said = answer.json()
    assert said.get("detail") or said["lots"][0]["reason"] or said["problems"], said
    job = client.post(f"{at}/imports", json={"upload_id": first, "lots": bad}).json()
    for _ in range(300):
        now = client.get(f"{at}/jobs/{job['id']}").json()
        if now["state"] not in ("queued", "running"):
            break
        time.sleep(0.1)
    assert now["state"] == "failed" and "No text could be taken" in now["message"], now
    again = client.post(f"{at}/uploads/{upload()}/preview", json={}).json()["lots"][0]
    assert not again["kept"] and again["samples"] and not again["reason"]
