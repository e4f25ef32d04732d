"""The one place where errors become answers (application/problem+json, RFC 9457)."""

from __future__ import annotations

import logging
import tempfile
from pathlib import Path

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from winnower.api.signing_in import TooOften
from winnower.core import errors
from winnower.store.accounts import NotAllowed, SignInError
from winnower.store.database import (
    FULL,
    NOT_THERE,
    DatabaseRefused,
    RowRefused,
    is_away,
    is_busy,
    is_crossed,
    is_unfit,
    is_without_room,
)
from winnower.store.disk_space import disk_full, is_full
from winnower.store.history import AlreadyDone
from winnower.store.undo import Stuck
from winnower.store.work_of_others import WorkOfOthers

log = logging.getLogger("winnower")

#: The first class that fits decides.
STATUS: tuple[tuple[type[errors.WinnowerError], int, str], ...] = (
    (SignInError, 401, "Sign in"),
    (NotAllowed, 403, "Not allowed"),
    (errors.NotFound, 404, "Not found"),
    (errors.Conflict, 409, "Changed or taken"),
    (errors.TermError, 422, "Term cannot be searched"),
    (errors.DiskFull, 507, "Disk full"),
    (errors.Unavailable, 503, "Away for a moment"),
    (errors.IndexDamaged, 503, "Index is being made again"),
    (errors.WinnowerError, 422, "Cannot be done"),
)
UNEXPECTED = "Something went wrong here; nothing was changed. The log has details."
DONE_BEFORE = "Already done"
BUSY = "Somebody else is at the same rows just now. Nothing was changed; try again in a moment."
UNFIT = "A number or text in the request is larger than what it is meant for. Nothing was changed."


def problem(status: int, title: str, detail: str, **more: object) -> JSONResponse:
    body = {"type": "about:blank", "title": title, "status": status, "detail": detail, **more}
    return JSONResponse(body, status, media_type="application/problem+json")


def install(app: FastAPI) -> None:
    """Register the handlers."""

    @app.exception_handler(errors.WinnowerError)
    async def ours(_: Request, error: errors.WinnowerError) -> JSONResponse:
        status, title = next((s, t) for kind, s, t in STATUS if isinstance(error, kind))
        more: dict[str, object] = {}
        if isinstance(error, errors.TermError):
            more["position"] = error.position
        if isinstance(error, errors.Conflict) and error.current:
            more["current"] = {key: str(value) for key, value in error.current.items() if value is not None}
        if isinstance(error, (Stuck, WorkOfOthers)):
            more["command"] = error.command_id
        if isinstance(error, WorkOfOthers):
            more["others"] = True
        return problem(status, title, error.message, **more)

    @app.exception_handler(TooOften)
    async def too_often(_: Request, error: TooOften) -> JSONResponse:
        wait = "a second" if error.wait == 1 else f"{error.wait} seconds"
        answer = problem(429, "Wait", f"Too many wrong passwords for this name. Try again in {wait}.")
        answer.headers["Retry-After"] = str(error.wait)
        return answer

    @app.exception_handler(AlreadyDone)
    async def done_before(_: Request, error: AlreadyDone) -> JSONResponse:
        return problem(409, DONE_BEFORE, "This was saved before.")

    @app.exception_handler(RowRefused)
    async def taken(_: Request, error: RowRefused) -> JSONResponse:
        if "command_request" in str(error.orig):  # the same request, at the same moment
            return problem(409, DONE_BEFORE, "This was saved before.")
        log.warning("integrity: %s", error.orig)
        return problem(409, "Changed or taken", "Somebody else changed this a moment ago. Load it again.")

    @app.exception_handler(DatabaseRefused)
    async def database(_: Request, error: DatabaseRefused) -> JSONResponse:
        if is_away(error):
            return problem(503, "Away for a moment", NOT_THERE)
        if is_busy(error):
            answer = problem(503, "Busy", BUSY)
            if is_crossed(error):
                answer.headers["x-again"] = "1"  # the gate carries it out again, see api/gate.py
            return answer
        if is_without_room(error):
            return problem(507, "Disk full", FULL)
        if is_unfit(error):
            return problem(422, "Cannot be done", UNFIT)
        log.error("database", exc_info=error)
        return problem(500, "Unexpected", "The database refused the request; nothing was changed.")

    @app.exception_handler(RequestValidationError)
    async def invalid(_: Request, error: RequestValidationError) -> JSONResponse:
        first = error.errors()[0]
        place = " > ".join(str(part) for part in first["loc"][1:])
        return problem(422, "Not understood", f"{place}: {first['msg']}." if place else f"{first['msg']}.")

    @app.exception_handler(HTTPException)
    async def http(_: Request, error: HTTPException) -> JSONResponse:
        return problem(
            error.status_code, "Not found" if error.status_code == 404 else "Not done", str(error.detail)
        )

    @app.exception_handler(OSError)
    async def system(_: Request, error: OSError) -> JSONResponse:
        if is_full(error):
            folder = Path(error.filename or tempfile.gettempdir())
            return problem(507, "Disk full", disk_full(folder).message)
        log.error("unexpected", exc_info=error)
        return problem(500, "Unexpected", UNEXPECTED)

    @app.exception_handler(Exception)
    async def unexpected(_: Request, error: Exception) -> JSONResponse:
        log.error("unexpected", exc_info=error)
        return problem(500, "Unexpected", UNEXPECTED)
