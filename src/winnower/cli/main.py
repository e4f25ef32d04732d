"""Entry of the command line."""

from __future__ import annotations

import typer

from winnower.cli import counting, database, dictionary, reading, reporting, serving
from winnower.cli.importing import import_texts
from winnower.cli.people import people
from winnower.cli.projects import projects
from winnower.cli.watching import watch_folder

app = typer.Typer(
    name="winnower",
    help="Count, compare and read large bodies of text.",
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
)
app.add_typer(projects, name="project")
app.add_typer(people, name="account")
app.add_typer(dictionary.dictionaries, name="dictionary")
app.add_typer(database.databases, name="db")
app.command("import")(import_texts)
app.command("watch")(watch_folder)
app.command("count")(counting.count)
app.command("compare")(counting.compare_request)
app.command("report")(reporting.report)
app.command("concordance")(reading.concordance)
app.command("texts")(reading.texts)
app.command("serve")(serving.serve)
app.command("demo")(serving.demo)
app.command("reset")(database.reset)
