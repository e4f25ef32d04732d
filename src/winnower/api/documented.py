"""The OpenAPI document as the application answers: refusals are problems, exports are files."""

from __future__ import annotations

from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi

from winnower.api import schemas as s
from winnower.api.files import EXCEL, WORD

PROBLEM = "application/problem+json"
_CSV = "text/csv; charset=utf-8"
#: What exports answer with, by the end of their path.
FILES = {
    "/compare/export": (_CSV, EXCEL, "application/json"),
    "/answers/export": (_CSV, EXCEL, "application/json"),
    "/findings/export": (_CSV, EXCEL, "application/json", "application/zip", "image/svg+xml", "image/png"),
    "/data/export": ("application/zip", EXCEL),
    "/passages/commented": (WORD, "application/zip"),
    "/reports/{report_id}/export": (WORD, "text/html; charset=utf-8", "application/pdf", "application/zip"),
    "/reports/{report_id}/pictures/{piece_id}": ("image/svg+xml",),
    "/dictionaries/{dictionary_id}/export": (_CSV, EXCEL, "application/json"),
    "/words/export": (_CSV, EXCEL),
    "/concordance/export": (_CSV, EXCEL),
    "/collocates/export": (_CSV, EXCEL),
    "/verdicts/export": (_CSV, EXCEL),
    "/runs/{run_id}/export": (_CSV, EXCEL),
    "/tone-lists/{list_id}/export": (_CSV, EXCEL),
    "/passages/export": (_CSV, EXCEL, WORD),
    "/notes/export": (WORD, "text/markdown; charset=utf-8"),
    "/paraphrases/export": (_CSV, EXCEL),
    "/codebook/export": (_CSV, EXCEL, "application/xml"),
    "/side-by-side/export": (_CSV,),
    "/report": (_CSV,),
    "/events": ("text/event-stream",),
}
_SAID = {
    400: "The request cannot be read.",
    401: "Nobody is signed in.",
    403: "The role in the project, or where the request came from, does not allow it.",
    404: "It does not exist, or is not shared with this account.",
    409: "Somebody else changed it first, or the name is taken; ``current`` is what is there now.",
    413: "The request is too large.",
    415: "The request is not of a kind that is read here.",
    421: "The server is not known under this address.",
    422: "The request cannot be carried out, with the reason.",
    429: "Too many wrong passwords; ``Retry-After`` tells how long to wait.",
    503: "The database is away or busy for a moment.",
    507: "A disk is full; the sentence names the folder.",
}
#: Parts of requests that may be left out, though they have a value then: the client need not name them.
MAY_BE_LEFT_OUT: dict[str, tuple[str, ...]] = {
    "Split": ("parts", "codes", "rest", "merged", "without"),
    "Part": ("conditions",),
    "Theme": ("least",),
    "Comparison": ("counting", "per", "joined", "leave"),
    **dict.fromkeys(("Keywords", "Together", "Network", "ChangesView"), ()),
}
_PASSWORDS = ("/sign-in", "/password")


def describe(app: FastAPI) -> None:
    """Let the application's document name every status and type it answers with."""

    def openapi() -> dict[str, Any]:
        if app.openapi_schema is None:
            found = get_openapi(title=app.title, version=app.version, routes=app.routes)
            schema = s.Problem.model_json_schema(ref_template="#/components/schemas/{model}")
            found["components"]["schemas"]["Problem"] = schema
            _leave_out(found["components"]["schemas"])
            problem = {PROBLEM: {"schema": {"$ref": "#/components/schemas/Problem"}}}
            found["components"]["responses"] = {
                f"Refused{code}": {"description": said, "content": problem} for code, said in _SAID.items()
            }
            for unused in ("HTTPValidationError", "ValidationError"):
                found["components"]["schemas"].pop(unused, None)
            for path, operations in found["paths"].items():
                for method, operation in operations.items():
                    _complete(path, method, operation)
            app.openapi_schema = found
        return app.openapi_schema

    app.openapi = openapi  # type: ignore[method-assign]


def _complete(path: str, method: str, operation: dict[str, Any]) -> None:
    answers = operation["responses"]
    for end, kinds in FILES.items():
        if path.endswith(end):
            text = {"schema": {"type": "string"}}
            answers["200"]["content"] = dict.fromkeys(kinds, text)
    codes = {404, 421, 422, 503}
    if not path.endswith(("/start", "/sign-in", "/sign-out", "/measures", "/help/{topic}")):
        codes.add(401)
    if method != "get":
        codes |= {400, 403, 409, 413, 415, 507}
    if "/check/" in path or "/dictionaries/" in path or "/review/" in path:
        codes.add(409)  # what was asked about was changed since
    if path.endswith("/uploads/room"):
        codes |= {403, 507}
    if path.endswith(_PASSWORDS):
        codes |= {401, 429}
    for code in sorted(codes):
        answers[str(code)] = {"$ref": f"#/components/responses/Refused{code}"}


def _leave_out(schemas: dict[str, Any]) -> None:
    for name, properties in MAY_BE_LEFT_OUT.items():
        known = schemas.get(name, {}).get("properties", {})
        for key in properties or [key for key in known if key != "view"]:
            known[key].pop("default", None)
