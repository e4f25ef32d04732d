"""Kept scopes name codes by their path: when a code is called or lies otherwise, they follow."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from sqlalchemy import select

from winnower.store.codebook import Codebook, codebook_of
from winnower.store.history import Recorder
from winnower.store.models import Subcorpus

_LISTS = {"values": "values", "inside": "codes"}


@contextmanager
def scopes_follow(recorder: Recorder, book: Codebook, into: dict[int, int] | None = None) -> Iterator[None]:
    """What is done to the codebook within, kept scopes follow, as part of the same step. ``into`` says which code
    takes the place of one that goes."""
    before = {row.id: _path(book, row.id) for row in book.codes}
    yield
    now = codebook_of(recorder.session, recorder.project_id)
    there = {row.id: _path(now, row.id) for row in now.codes}
    places = {code: (into or {}).get(code, code) for code in before}
    called = {path: there[places[code]] for code, path in before.items() if places[code] in there}
    if all(old == new for old, new in called.items()):
        return
    kept = select(Subcorpus).where(Subcorpus.project_id == recorder.project_id)
    for row in recorder.session.scalars(kept).all():
        scope = [_followed(condition, called) for condition in row.scope]
        if scope != row.scope:
            recorder.update(row, {"scope": scope})


def _path(book: Codebook, code_id: int) -> str:
    return " > ".join(book.tree.path(code_id))


def _followed(condition: dict[str, Any], called: dict[str, str]) -> dict[str, Any]:
    name = _LISTS.get(str(condition.get("kind")))
    if name is None or condition.get("field", "codes") != "codes":
        return condition
    values = [called.get(one, one) if isinstance(one, str) else one for one in condition[name]]
    return {**condition, name: list(dict.fromkeys(values))}
