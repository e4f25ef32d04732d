"""``winnower account``."""

from __future__ import annotations

from typing import Annotated

import typer

from winnower.cli.common import desk
from winnower.store.accounts import (
    NO_PASSWORD,
    accounts_of,
    anyone_can_sign_in,
    end_account,
    make_account,
    make_first_account,
    set_password,
)

people = typer.Typer(help="Accounts to sign in with.", no_args_is_help=True)
Password = Annotated[
    str,
    typer.Option(
        prompt=True,
        hide_input=True,
        confirmation_prompt=True,
        envvar="WINNOWER_PASSWORD",
        help="Asked for when it is not given.",
    ),
]


@people.command("add")
def add(
    name: Annotated[str, typer.Argument(help="Name to sign in with.")],
    full_name: Annotated[str, typer.Option(help="As others see it.")] = "",
    password: Password = "",
) -> None:
    """Make an account; the first takes over the projects made on the command line."""
    with desk() as at, at.database.session() as session:
        make = make_account if anyone_can_sign_in(session) else make_first_account
        print(f"{make(session, name, full_name, password).name} can sign in now.")


@people.command("password")
def password(name: str, password: Password = "") -> None:
    """Give an account another password; it is signed out everywhere."""
    with desk() as at, at.database.session() as session:
        set_password(session, name, password)
        print(f"{name} has another password now.")


@people.command("end")
def end(name: str) -> None:
    """End an account: nobody signs in as it any more, from now on; what it did stays under its name."""
    with desk() as at, at.database.session() as session:
        print(end_account(session, name))


@people.command("list")
def listed() -> None:
    """List the accounts: name, full name."""
    with desk() as at, at.database.session() as session:
        for account in accounts_of(session):
            note = "\t(command line only)" if account.password_hash == NO_PASSWORD else ""
            note = note or (f"\t(ended {account.ended_at:%Y-%m-%d})" if account.ended_at else "")
            print(f"{account.name}\t{account.full_name}{note}")
