"""Which texts have other passages since when, and how often notes changed: so that copies can follow."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any

from sqlalchemy.orm import Session

from winnower.store.fields import lock_project
from winnower.store.models import CodingChange, Project

_TABLES = {"code", "passage", "coding_run", "run_target", "run_place"}
#: Which of these say something of a text; a change of the others may be of any.
_OF_TEXTS = {"passage", "run_place", "verdict"}
#: Verdicts on this subject say which passages of runs count.
RUN = "run"
#: Verdicts on this subject say whether words come under a code; it is learned from them.
ANSWER = "code"
#: What stands beside texts and codes: whoever looks at it reads it again when it is counted on.
_NOTES = {
    "note",
    "quote",
    "paraphrase",
    "lost_passage",
    "group_of_codes",
    "code_in_group",
    "kept_question",
    "coding_done",
    "report",
    "report_piece",
}
#: A change of more texts than this counts as one of all.
MOST_TEXTS = 2_000


def note_coding(session: Session, project: Project, changes: Sequence[dict[str, Any]]) -> None:
    """Count the project's coding on where these changes of a command (store/history.py) speak of it."""
    touched = [change for change in changes if _speaks(change)]
    if not touched:
        return
    texts = set[int]()
    anywhere = False
    for change in touched:
        if "packed" in change and change["of"] in _OF_TEXTS:
            anywhere = True
        if change.get("table") in ("coding_run", "run_target"):
            anywhere = True
        if change.get("table") in _OF_TEXTS:
            texts.update(row["text_id"] for row in (change["before"], change["after"]) if row)
    lock_project(session, project)
    project.coding_revision += 1
    listed = None if anywhere or len(texts) > MOST_TEXTS else sorted(texts)
    session.add(CodingChange(project_id=project.id, revision=project.coding_revision, texts=listed))
    session.flush()


def _speaks(change: dict[str, Any]) -> bool:
    table = change.get("table") or change.get("of")
    if table == "verdict":
        rows = (change.get("before"), change.get("after"))
        return "packed" in change or any(row["subject"] in (RUN, ANSWER) for row in rows if row)
    return table in _TABLES


def note_notes(session: Session, project: Project, tables: Collection[str]) -> None:
    """Count the project's notes on where a change speaks of them or of their like."""
    if _NOTES.intersection(tables):
        lock_project(session, project)
        project.notes_revision += 1
        session.flush()
