"""One wall around each project: whatever a request names by id is of its project, or the request is refused.

Every call of a project comes through here before anything of it is carried out (``api/context.py``), so that no
repository can forget to ask. Ids are known by their names in the path and in the body. A test holds that every
number of the API document that names something is listed here, or said to name nothing.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from winnower.core.errors import NotFound
from winnower.store.database import Session
from winnower.store.soft_references import NAMED
from winnower.store.wall import strangers

#: What a name in a path or body names, as a table; beside the names that stored values have.
TABLE_OF: dict[str, str] = NAMED | {
    "parent_id": "code", "before_id": "code", "into_id": "code", "hand_id": "code",
    "lost_id": "lost_passage",
    "paraphrase_id": "paraphrase", "paraphrases": "paraphrase",
    "value_id": "variable_category",
    "subcorpus_id": "subcorpus",
    "term_id": "term", "term_ids": "term", "part": "term",
    "target": "run_target",
    "report_id": "report",
    "piece_id": "report_piece", "pieces": "report_piece", "after": "report_piece",
    "event_id": "event",
    "upload_id": "upload",
    "job_id": "job",
    "delivery_id": "delivery",
    "group_id": "group_of_codes",
    "sample_id": "review_sample",
    "command_id": "command",
}  # fmt: skip
#: The same name may name other things in some calls: (part of the path, name, table).
IN_PATH: tuple[tuple[str, str, str], ...] = (
    ("/dictionaries", "parent_id", "category"),
    ("/dictionaries", "before_id", "category"),
    ("/dictionaries", "into_id", "category"),
    ("/dictionaries", "into", "category"),
    ("/variables", "into", "variable_category"),
    ("/variables", "ids", "variable_category"),
    ("/texts/values", "ids", "text"),
    ("/sets", "ids", "text"),
    ("/check/repair", "ids", "text"),
    ("/notes", "ids", "note"),
    ("/findings/order", "id", "finding"),
    ("/reports/", "seen", "report_piece"),
    ("/questions/", "question_id", "kept_question"),
    ("/finding-questions/", "question_id", "finding_question"),
    ("/review/category/", "subject_id", "category"),
    ("/review/run/", "subject_id", "run_target"),
)
#: What people call a row of a table, where it is not the table's own name.
CALLED = {
    "lost_passage": "passage",
    "finding_question": "question",
    "kept_question": "question",
    "variable_category": "value",
    "coding_run": "run",
    "run_target": "code of a run",
    "tone_list": "word list",
    "report_piece": "part of a report",
    "group_of_codes": "group of codes",
    "review_sample": "sample",
    "command": "change",
}
Named = dict[str, set[int]]


def table_of(path: str, name: str) -> str | None:
    """The table that a name in a call names rows of; None where it names none. The last rule that fits decides."""
    fitting = [table for part, named, table in IN_PATH if named == name and part in path]
    return fitting[-1] if fitting else TABLE_OF.get(name)


def named_in(path: str, path_params: Mapping[str, object], body: object) -> Named:
    """Ids named in a call, by table. Free values kept for somebody (preferences) name nothing."""
    found: Named = {}
    for name, value in path_params.items():
        if name != "project_id" and isinstance(value, str) and value.isdecimal():
            _note(found, table_of(path, name), int(value))
    if "/preferences/" not in path:
        for name, value in _numbers(body, ""):
            _note(found, table_of(path, name), value)
    return found


def _note(found: Named, table: str | None, value: int) -> None:
    if table == "passage" and value < 0:
        table, value = "run_place", -value  # passages of runs have their place's number below zero
    if table is not None and value > 0:
        found.setdefault(table, set()).add(value)


def _numbers(value: object, name: str) -> Iterator[tuple[str, int]]:
    """Whole numbers of a JSON value with the nearest name above them. Its depth is limited at the gate."""
    if isinstance(value, dict):
        for key, inside in value.items():
            # ``codes`` by the key of a piece: the numbers are of codes, whatever the keys
            yield from _numbers(inside, name if name == "codes" and isinstance(inside, int) else key)
    elif isinstance(value, list):
        for inside in value:
            yield from _numbers(inside, name)
    elif isinstance(value, int) and not isinstance(value, bool):
        yield name, value


def hold(session: Session, project_id: int, named: Named) -> None:
    """Raises NotFound where something named belongs to another project; says no more than that it is not here."""
    if outside := strangers(session, project_id, named):
        table = min(outside)
        raise NotFound(f"There is no such {CALLED.get(table, table)} in this project.")
