"""How long a request holds the event loop: all others of its process wait for that long."""

from __future__ import annotations

import logging
import time
from collections.abc import Awaitable, Coroutine, Generator
from typing import Any

from starlette.types import ASGIApp, Receive, Scope, Send

log = logging.getLogger("winnower")
#: Seconds on the loop from which on a request is named in the log.
TOLD_FROM_S = 0.1


class Stepped(Awaitable[None]):
    """A coroutine whose steps are timed: ``longest`` is the most seconds it ran without giving way."""

    def __init__(self, running: Coroutine[Any, Any, None]) -> None:
        self.running, self.longest = running, 0.0

    def __await__(self) -> Generator[Any, Any, None]:
        given: Any = None
        thrown: BaseException | None = None
        try:
            while True:
                began = time.perf_counter()
                try:
                    wanted = self.running.send(given) if thrown is None else self.running.throw(thrown)
                except StopIteration:
                    return
                finally:
                    self.longest = max(self.longest, time.perf_counter() - began)
                given, thrown = None, None
                try:
                    given = yield wanted
                except BaseException as error:  # handed on into the coroutine, as a plain await does
                    thrown = error
        finally:
            self.running.close()


class LoopTime:
    """ASGI middleware that names requests in the log which held the loop for long."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        stepped = Stepped(self.app(scope, receive, send))  # type: ignore[arg-type]
        try:
            await stepped
        finally:
            if stepped.longest >= TOLD_FROM_S:
                log.warning(
                    "held the loop for %.0f ms: %s %s",
                    stepped.longest * 1000,
                    scope["method"],
                    scope["path"],
                )
