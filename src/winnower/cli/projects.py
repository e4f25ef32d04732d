"""``winnower project``."""

from __future__ import annotations

from typing import Annotated

import typer

from winnower.cli.common import desk
from winnower.store.accounts import make_project, project_named, projects_of
from winnower.store.accounts import share as share_project
from winnower.store.accounts import take_off as take_off_project

projects = typer.Typer(help="Projects.", no_args_is_help=True)


@projects.command("new")
def new(name: Annotated[str, typer.Argument(help="Name of the project.")]) -> None:
    """Make a project."""
    with desk() as at, at.database.session() as session:
        project = make_project(session, at.account, name)
        print(f"{project.id}\t{project.name}")


@projects.command("list")
def listed() -> None:
    """List the projects: number, texts, name."""
    with desk() as at, at.database.session() as session:
        for project, _, texts in projects_of(session, at.account):
            print(f"{project.id}\t{texts}\t{project.name}")


@projects.command("share")
def share(
    project: Annotated[str, typer.Argument(help="Name or number of the project.")],
    name: Annotated[str, typer.Argument(help="Account it is shared with.")],
    role: Annotated[str, typer.Argument(help="owner, coder or reader.")] = "reader",
) -> None:
    """Share a project with an account, or change its role."""
    with desk() as at, at.database.session() as session:
        print(share_project(session, project_named(session, at.account, project), name, role))


@projects.command("unshare")
def unshare(
    project: Annotated[str, typer.Argument(help="Name or number of the project.")],
    name: Annotated[str, typer.Argument(help="Account to take off it.")],
) -> None:
    """Take an account off a project, from now on; what it did there stays under its name."""
    with desk() as at, at.database.session() as session:
        print(take_off_project(session, project_named(session, at.account, project), name))
