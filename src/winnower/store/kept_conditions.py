"""Conditions that are kept in plain values name codes and values of variables by what they are called: they follow
when those are called otherwise."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from typing import Any

from winnower.store.codebook import codebook_of
from winnower.store.history import Recorder
from winnower.store.soft_references import holders_of

#: Keys under which a condition or a split lists values of its field.
_LISTS = ("values", "groups", "without", "codes")


def follow_names(recorder: Recorder, field: str, names: Mapping[str, str]) -> None:
    """Give the values of a field their new ``names`` (old to new) in all that is kept of a project: scopes of subcorpora
    and sets, questions, findings, parts of reports, recipes of runs. Part of the recorder's change."""
    if not names:
        return
    for row, column in holders_of(recorder.session, recorder.project_id):
        value = getattr(row, column)
        renamed = with_names(value, field, names)
        if renamed != value:
            recorder.update(row, {column: renamed})


def with_names(value: Any, field: str, names: Mapping[str, str], inside: bool = False) -> Any:
    """A plain value in which conditions and splits on a field name its values as they are called now; ``inside`` one of
    these what names no field of its own is of this one."""
    if isinstance(value, list):
        return [with_names(one, field, names, inside) for one in value]
    if not isinstance(value, dict):
        return value
    of_field = value["field"] == field if "field" in value else inside
    of_field |= field == "codes" and value.get("kind") == "inside"
    return {
        key: list(dict.fromkeys(names.get(one, one) if isinstance(one, str) else one for one in part))
        if of_field
        and key in _LISTS
        and isinstance(part, list)
        and not any(isinstance(one, dict) for one in part)
        else with_names(part, field, names, of_field)
        for key, part in value.items()
    }


@contextmanager
def codes_followed(recorder: Recorder, merged: Mapping[int, int] | None = None) -> Iterator[None]:
    """Around a change of the codebook: what is kept goes on naming the same codes, those that were ``merged`` (by id)
    the code they came into."""
    before = _paths(recorder)
    yield
    after = _paths(recorder)
    names: dict[str, str] = {}
    for code_id, path in before.items():
        now = after.get((merged or {}).get(code_id, code_id))
        if now is not None and now != path:
            names[path] = now
    follow_names(recorder, "codes", names)


def _paths(recorder: Recorder) -> dict[int, str]:
    recorder.session.flush()
    book = codebook_of(recorder.session, recorder.project_id)
    return {row.id: " > ".join(book.tree.path(row.id)) for row in book.codes}
