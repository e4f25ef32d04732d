"""What every request passes before anything of it is read: from where it comes, how large it is, who sends it.

A body is limited before it is read, and a large one is read only from somebody who is signed in. JSON is
looked at once for what no part of the program could take: depth without end, numbers that are none, halves
of characters. Every answer, refusals too, gets the headers that keep it private.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from http.cookies import CookieError, SimpleCookie
from urllib.parse import urlsplit

from anyio import to_thread
from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from winnower.api.errors import problem
from winnower.api.json_body import TOO_LARGE_A_NUMBER, BadBody, read_json
from winnower.api.schemas.base import MOST_INT
from winnower.core.errors import DiskFull

SAFE_METHODS = {"GET", "HEAD", "OPTIONS"}
#: Bytes of a JSON request; files come as forms and have their own limit.
JSON_BYTES = 8_000_000
#: Bytes that are read of somebody who is not signed in.
STRANGER_BYTES = 64_000
#: Bytes of JSON that are read on the spot.
READ_AT_ONCE = 32_000
#: Under this key a request carries the value of its JSON body.
BODY_VALUE = "winnower.body"
_LONG_NUMBER = re.compile(rb"\d{19,}")
#: A request whose rows another one wanted in the other order is carried out again, so often at most.
TRIES = 4
AGAIN = "x-again"
_HEADERS = {
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Content-Security-Policy": (
        "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
        "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
    ),
    "Cross-Origin-Opener-Policy": "same-origin",
}


def cookie_name(scope: Scope) -> str:
    """The session's cookie; browsers part cookies by host alone, so the port is in its name."""
    server = scope.get("server") or ("", 0)
    return f"winnower_{server[1]}"


def session_token(scope: Scope) -> str | None:
    """The token in the session's cookie, None where there is none."""
    return _cookie(scope, cookie_name(scope))


def browser_name(scope: Scope) -> str:
    """The cookie by which a browser is known in which somebody signed in before."""
    return f"{cookie_name(scope)}_browser"


def browser_token(scope: Scope) -> str | None:
    """The token of a known browser, None where there is none."""
    return _cookie(scope, browser_name(scope))


def _cookie(scope: Scope, name: str) -> str | None:
    try:
        found = SimpleCookie(Headers(scope=scope).get("cookie", "")).get(name)
    except CookieError:
        return None
    return found.value if found else None


class Gate:
    """ASGI middleware; ``hosts`` are the names under which this may be asked, ``signed_in`` tells whether a
    session's token is good, ``require_room`` raises DiskFull where so many bytes of files cannot be received."""

    def __init__(
        self,
        app: ASGIApp,
        hosts: tuple[str, ...],
        form_bytes: int,
        signed_in: Callable[[str], bool],
        require_room: Callable[[int], None],
    ) -> None:
        self.app, self.hosts, self.form_bytes, self.signed_in = app, hosts, form_bytes, signed_in
        self.require_room = require_room

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        sent = _dressed(scope, send)
        refusal = self._refused(scope)
        if refusal is not None:
            await problem(*refusal)(scope, receive, sent)
            return
        if scope["method"] in SAFE_METHODS:
            await self.app(scope, receive, sent)
            return
        await self._change(scope, receive, sent)

    def _refused(self, scope: Scope) -> tuple[int, str, str] | None:
        headers = Headers(scope=scope)
        host = headers.get("host", "")
        if "*" not in self.hosts and _name(host) not in self.hosts:
            return 421, "Not here", "This address is not known here. Use the one the program printed."
        origin = headers.get("origin")
        elsewhere = headers.get("sec-fetch-site") == "cross-site" or (
            origin and not _same_place(origin, host)
        )
        if scope["method"] not in SAFE_METHODS and elsewhere:
            return 403, "Not allowed", "This request came from another site and was not carried out."
        asked = scope["path"].encode() + b"?" + scope.get("query_string", b"")
        if any(int(number) > MOST_INT for number in _LONG_NUMBER.findall(asked)):
            return 422, "Not understood", TOO_LARGE_A_NUMBER
        return None

    async def _change(self, scope: Scope, receive: Receive, send: Send) -> None:
        headers = Headers(scope=scope)
        kind = headers.get("content-type", "application/json")
        is_form = kind.startswith("multipart/")
        length = headers.get("content-length", "")
        size = int(length) if length.isdecimal() else None
        most = self.form_bytes if is_form else JSON_BYTES
        if size is None or size > STRANGER_BYTES:
            token = session_token(scope)
            if token is None or not await to_thread.run_sync(self.signed_in, token):
                most = STRANGER_BYTES
        if size is not None and size > most:
            await _too_large(most)(scope, receive, send)
        elif is_form and (full := await to_thread.run_sync(self._full, size or 0)):
            await full(scope, receive, send)
        elif is_form:
            await self._form(scope, receive, send, most)
        else:
            await self._body(scope, receive, send, most, is_json="json" in kind)

    def _full(self, size: int) -> ASGIApp | None:
        """The refusal of files for which there is no room, before anything of them is read."""
        try:
            self.require_room(size)
        except DiskFull as full:
            return problem(507, "Disk full", full.message)
        return None

    async def _form(self, scope: Scope, receive: Receive, send: Send, most: int) -> None:
        read, over = 0, False

        async def limited() -> Message:
            nonlocal read, over
            message = await receive()
            read += len(message.get("body", b""))
            if read > most:
                over = True
                return {"type": "http.disconnect"}
            return message

        async def answered(message: Message) -> None:
            if not over:
                await send(message)

        try:
            await self.app(scope, limited, answered)
        except Exception:
            if not over:
                raise
        if over:
            await _too_large(most)(scope, receive, send)

    async def _body(self, scope: Scope, receive: Receive, send: Send, most: int, *, is_json: bool) -> None:
        body = b""
        more = True
        while more:
            message = await receive()
            if message["type"] == "http.disconnect":
                return
            body += message.get("body", b"")
            more = message.get("more_body", False)
            if len(body) > most:
                await _too_large(most)(scope, receive, send)
                return
        if is_json and body:
            try:
                # a long one is read beside the loop, so that others are answered meanwhile
                read = len(body) <= READ_AT_ONCE
                scope[BODY_VALUE] = read_json(body) if read else await to_thread.run_sync(read_json, body)
            except BadBody as wrong:
                await problem(422, "Not understood", str(wrong))(scope, receive, send)
                return
        for attempt in range(TRIES):
            if await self._once(scope, receive, send, body, last=attempt == TRIES - 1):
                return

    async def _once(self, scope: Scope, receive: Receive, send: Send, body: bytes, *, last: bool) -> bool:
        """Carry the request out; False where it should be carried out again and nothing was sent."""
        handed_over = again = False

        async def given() -> Message:
            nonlocal handed_over
            if handed_over:
                return await receive()
            handed_over = True
            return {"type": "http.request", "body": body, "more_body": False}

        async def answered(message: Message) -> None:
            nonlocal again
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                again = not last and AGAIN in headers
                del headers[AGAIN]
            if not again:
                await send(message)

        await self.app(dict(scope), given, answered)
        return not again


def _same_place(origin: str, host: str) -> bool:
    """Whether an origin is this host, name and port; whatever is no address of a page is elsewhere."""
    try:
        there = urlsplit(origin)
        port = there.port or {"http": 80, "https": 443}.get(there.scheme)
    except ValueError:
        return False
    if there.scheme not in {"http", "https"} or there.username or there.path or there.query:
        return False
    named = urlsplit(f"{there.scheme}://{host}")
    try:
        here = named.port or {"http": 80, "https": 443}[there.scheme]
    except ValueError:
        return False
    return (there.hostname, port) == (named.hostname, here)


def _name(host: str) -> str:
    """The host without its port."""
    return host.rsplit(":", 1)[0] if not host.endswith("]") else host


def _too_large(most: int) -> ASGIApp:
    size = f"{most / 1e6:,.0f} MB" if most >= 1e6 else f"{most / 1e3:,.0f} kB"
    return problem(413, "Too large", f"The request is too large; the limit here is {size}.")


def _dressed(scope: Scope, send: Send) -> Send:
    private = scope["path"].startswith("/api/")

    async def dressed(message: Message) -> None:
        if message["type"] == "http.response.start":
            headers = MutableHeaders(scope=message)
            for name, value in _HEADERS.items():
                headers.setdefault(name, value)
            if private:
                headers.setdefault("Cache-Control", "no-store")
        await send(message)

    return dressed
