"""``winnower serve`` and ``winnower demo``."""

from __future__ import annotations

import logging
import os
import signal
import sys
import webbrowser
from typing import Annotated

import typer

from winnower.cli.common import database_in_use, say, told
from winnower.settings import Settings, load_settings
from winnower.store.accounts import anyone_can_sign_in
from winnower.store.database import Database
from winnower.store.server import free_port

FIRST_PORT = 8410

Port = Annotated[int, typer.Option(help="Port on loopback; the next free one is taken if it is in use.")]


def serve(port: Port = FIRST_PORT) -> None:
    """Serve the web application; the first visit of an empty installation makes the first account."""
    _with_database(port, _greet, "")


def demo(
    port: Port = FIRST_PORT,
    open_browser: Annotated[bool, typer.Option("--open/--no-open", help="Open the browser.")] = True,
) -> None:
    """Serve the application with the demo project."""

    from winnower.cli.demo_project import DEMO_NAME, DEMO_PASSWORD, load_demo

    def prepare(settings: Settings, database: Database) -> str:
        project_id = load_demo(settings, database, say)
        say(f"Sign in as: {DEMO_NAME}, password: {DEMO_PASSWORD}")
        return f"/projects/{project_id}/compare"

    _with_database(port, prepare, "demo" if open_browser else "")


def _greet(settings: Settings, database: Database) -> str:
    with database.session() as session:
        if not anyone_can_sign_in(session):
            say("There is no account yet. The first visit asks for one; or: ./winnower account add NAME")
    return "/"


def _with_database(port: int, prepare, mode: str) -> None:
    settings = load_settings()
    signal.signal(signal.SIGTERM, _end)
    try:
        say("Starting the database")
        with told(), database_in_use(settings) as database:
            path = prepare(settings, database)
            _serve(settings, database, port, path, open_browser=bool(mode))
    except KeyboardInterrupt:
        pass
    say("Stopped.")


def _end(*_: object) -> None:
    raise KeyboardInterrupt


def _serve(settings: Settings, database: Database, wanted: int, path: str, *, open_browser: bool) -> None:
    port = free_port(wanted)
    if port != wanted:
        say(f"Port {wanted} is in use; taking {port}.")
    logging.basicConfig(level=logging.WARNING, format="%(asctime)s %(levelname)s %(message)s")
    address = f"http://127.0.0.1:{port}"
    from winnower.api.processes import answer

    def listening() -> None:
        say(f"Winnower is at {address}   (Ctrl-C ends it)")
        if open_browser and (
            sys.platform == "darwin" or os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")
        ):
            try:
                webbrowser.open(address + path)
            except webbrowser.Error:
                say("No browser could be opened; use the address above.")

    answer(settings, database, port, listening)
