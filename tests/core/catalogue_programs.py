"""A press digest, an interview, an article and a table as several programs write them (files/programs/PROGRAM-WHAT)."""

from __future__ import annotations

from pathlib import Path

from tests.core.catalogue import BODIES, DAYS, HEADS, PAPERS, Case

FOLDER = Path(__file__).parents[1] / "files" / "programs"
#: The second paragraph of each article.
MORE = (
    "The parish met again in the evening. It was agreed that the gate on the lower road stays shut until the autumn, "
    "and that the herders are paid for the hours they wait there."
)
SPEAKERS = ("Interviewer", "Ada Brock") * 3
DIGEST = tuple(f"{body}\n\n{MORE}" for body in BODIES)


def programs() -> list[Case]:
    """A case for each file; its name says what is in it."""
    return [_case(path) for path in sorted(FOLDER.iterdir())]


def _case(path: Path) -> Case:
    program, what = path.name.split(".")[0].split("-")
    name, content = path.name, path.read_bytes()
    if what == "digest":
        return Case(name, content, texts=DIGEST, titles=HEADS, sources=PAPERS, dates=DAYS)
    if what == "talk":
        return Case(name, content, texts=("",), turns=(SPEAKERS,), holds=BODIES)
    if what == "article":
        return Case(name, content, texts=("",), titles=HEADS[:1], dates=DAYS[:1], holds=(BODIES[0], MORE))
    return Case(name, content, titles=HEADS, sources=PAPERS, dates=DAYS)


CASES = programs()
PROGRAMS = {case.name.split("-")[0] for case in CASES}
