"""Generated requests to every route: no answer of the server's own failure, none that is not documented, and
a sentence with every refusal."""

import json
import os
import re
import time
from pathlib import Path

import jsonschema_rs
import pytest
import schemathesis
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, Phase, given, settings

from tests.faults.driver import Fault, table
from winnower.jobs.importing import ImportRun
from winnower.store.accounts import make_account, make_project

EXAMPLES = int(os.environ.get("WINNOWER_FUZZ", 4))
DOCUMENT = json.loads((Path(__file__).parents[2] / "web" / "openapi.json").read_text())
SCHEMA = schemathesis.openapi.from_dict(DOCUMENT)
#: Ends sessions, makes more accounts, or goes on until a job has ended.
LEFT_OUT = re.compile(r"(sign-out|sign-in|/start|/password|sessions/end-others|/events)$")
OPERATIONS = [found.ok() for found in SCHEMA.get_all_operations() if not LEFT_OUT.search(found.ok().path)]
CALM = settings(
    max_examples=EXAMPLES,
    deadline=None,
    derandomize=True,
    database=None,
    phases=[Phase.explicit, Phase.generate],
    suppress_health_check=list(HealthCheck),
)


@pytest.fixture(scope="module")
def asked(database, settings, app, tmp_path_factory):
    """A signed-in client, and numbers that exist, so that requests get further than "there is no such thing"."""
    with database.session() as session:
        account = make_account(session, f"fuzz{time.time_ns()}", "Fuzz", "a long password")
        project = make_project(session, account, "Fuzzed")
    texts = table(tmp_path_factory.mktemp("fuzz") / "a.csv", 40)
    fault = Fault(database, settings, account.id, project.id)
    ImportRun(database, settings, fault.make_import(texts)).run()
    with TestClient(app, base_url="http://testserver") as client:
        client.post("/api/v1/sign-in", json={"name": account.name, "password": "a long password"})
        content = b"category,term\nLivelihood,lamb*\nEcology,hill\n"
        at = f"/api/v1/projects/{project.id}"
        client.post(f"{at}/dictionaries/import", files={"file": ("Frames.csv", content)})
        yield (
            client,
            {"project_id": project.id, "dictionary_id": client.get(f"{at}/dictionaries").json()[0]["id"]},
        )


@pytest.mark.parametrize("operation", OPERATIONS, ids=lambda one: f"{one.method.upper()} {one.path[7:]}")
def test_no_request_brings_more_than_a_refusal(operation, asked):
    client, known = asked

    @given(operation.as_strategy())
    @CALM
    def run(case):
        for name, value in known.items():
            if name in (case.path_parameters or {}):
                case.path_parameters[name] = value
        sent = case.as_transport_kwargs(base_url="http://testserver")
        kept = {key: sent[key] for key in ("params", "json", "data", "files") if sent.get(key) is not None}
        headers = {k: v for k, v in dict(sent["headers"]).items() if k.lower() == "content-type"}
        if isinstance(kept.get("data"), (bytes, str)):
            kept["content"] = kept.pop("data")
        answer = client.request(sent["method"], sent["url"], headers=headers, **kept)
        told = f"{sent['method']} {sent['url']} {kept}: {answer.status_code} {answer.text[:500]}"
        assert answer.status_code < 500 or answer.status_code == 503, told
        documented = operation.definition.raw["responses"]
        assert str(answer.status_code) in documented, told
        _fits(documented[str(answer.status_code)], answer, told)

    run()


def _fits(documented, answer, told):
    """The answer is of a documented kind, and as its schema says."""
    if not answer.content:
        return
    kind = answer.headers["content-type"]
    named = documented.get("$ref", "").rsplit("/", 1)[-1]
    kinds = (DOCUMENT["components"]["responses"].get(named) or documented).get("content", {})
    assert kind in kinds, f"{kind} is not among {list(kinds)}: {told}"
    if "json" in kind and "attachment" not in answer.headers.get("content-disposition", ""):
        schema = {**kinds[kind]["schema"], "components": DOCUMENT["components"]}
        jsonschema_rs.validator_for(schema).validate(answer.json())
    if answer.status_code >= 400:
        assert answer.json()["detail"].strip(), told
