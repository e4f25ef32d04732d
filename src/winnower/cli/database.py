"""``winnower db`` and ``winnower reset``."""

from __future__ import annotations

import os
import shutil
from typing import Annotated

import typer

from winnower.cli.common import say
from winnower.core.errors import WinnowerError
from winnower.settings import load_settings
from winnower.store.server import Server, account_of_system

databases = typer.Typer(help="The project's own MariaDB.", no_args_is_help=True)


@databases.command()
def start() -> None:
    """Start it and leave it running."""
    server = Server(load_settings())
    try:
        server.keep(True)
        server.start()
    except WinnowerError as error:
        server.keep(False)
        say(f"winnower: {error.message}")
        raise typer.Exit(1) from error
    print(f"MariaDB runs on the socket {server.socket}")


@databases.command()
def stop() -> None:
    """Stop it."""
    server = Server(load_settings())
    server.keep(False)
    print("MariaDB stopped." if server.stop() else "MariaDB was not running.")


@databases.command()
def shell() -> None:
    """Open a client on it."""
    server = Server(load_settings())
    if server.url is None:
        say("winnower: MariaDB is not running; start it with: winnower db start")
        raise typer.Exit(1)
    os.execvp(
        "mariadb",
        [
            "mariadb",
            "--no-defaults",
            f"--socket={server.socket}",
            f"--user={account_of_system()}",
            "winnower",
        ],
    )


def reset(
    yes: Annotated[bool, typer.Option("--yes", help="Do not ask.")] = False,
) -> None:
    """Delete all data: database, index, uploads. Refused while a server or command is at work with it."""
    settings = load_settings()
    server = Server(settings)
    if server.has_users:
        say(f"winnower: {settings.data} is in use by a running Winnower. Stop it first; nothing was deleted.")
        raise typer.Exit(1)
    if not yes:
        typer.confirm(f"Delete everything in {settings.data}?", abort=True)
    server.remove()
    for name in ("index", "uploads"):
        shutil.rmtree(settings.data / name, ignore_errors=True)
    print("All data deleted.")
