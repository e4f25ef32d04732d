"""What codes, categories, values and sources were called when a finding said what it said, so that its rows are found
again under the names of now."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from sqlalchemy import select

from winnower.core.dictionary.dictionary import LEVEL_SIGN
from winnower.core.finding import Sheet
from winnower.store.answering import Room
from winnower.store.codebook import codebook_of
from winnower.store.models import CategoryRow, DictionaryRow, Source, Variable, VariableCategory


def names_in(room: Room, sheets: Sequence[Sheet]) -> dict[str, dict[str, str]]:
    """By kind and id, the names that keys of the sheets hold."""
    held = {cell for sheet in sheets for key in sheet.keyed() for cell in key if isinstance(cell, str)}
    return {
        kind: {one: name for one, name in known.items() if name in held}
        for kind, known in _known(room).items()
    }


def renamed_since(room: Room, names: Mapping[str, Mapping[str, str]] | None) -> dict[str, str]:
    """Old names to new ones, of what is called otherwise than ``names`` say."""
    if not names:
        return {}
    known = _known(room)
    return {
        old: new
        for kind, of_kind in names.items()
        for one, old in of_kind.items()
        if (new := known.get(kind, {}).get(one)) is not None and new != old
    }


def with_new_names(sheets: Sequence[Sheet], names: Mapping[str, str]) -> tuple[Sheet, ...]:
    """Sheets whose keys are called as now."""
    if not names:
        return tuple(sheets)
    return tuple(_renamed(sheet, names) for sheet in sheets)


def _renamed(sheet: Sheet, names: Mapping[str, str]) -> Sheet:
    keys = [column.key for column in sheet.columns]
    rows = tuple(
        tuple(
            names.get(cell, cell) if key and isinstance(cell, str) else cell
            for cell, key in zip(row, keys, strict=True)
        )
        for row in sheet.rows
    )
    return replace(sheet, rows=rows)


def _known(room: Room) -> dict[str, dict[str, str]]:
    """All names by kind and id; paths as well as the last part of them."""
    session, project_id = room.session, room.project.id
    book = codebook_of(session, project_id)
    paths = {row.id: book.tree.path(row.id) for row in book.codes}
    categories: dict[int, Any] = {
        row.id: row
        for row in session.execute(
            select(CategoryRow.id, CategoryRow.parent_id, CategoryRow.name)
            .join(DictionaryRow, DictionaryRow.id == CategoryRow.dictionary_id)
            .where(DictionaryRow.project_id == project_id)
        )
    }
    sources = session.execute(select(Source.id, Source.name).where(Source.project_id == project_id))
    values = session.execute(
        select(VariableCategory.id, VariableCategory.label)
        .join(Variable, Variable.id == VariableCategory.variable_id)
        .where(Variable.project_id == project_id)
    )
    return {
        "code": {str(one): path[-1] for one, path in paths.items()},
        "code path": {str(one): " > ".join(path) for one, path in paths.items()},
        "category": {str(one): row.name for one, row in categories.items()},
        "category path": {str(one): LEVEL_SIGN.join(_path(categories, one)) for one in categories},
        "source": {str(one): name for one, name in sources},
        "value": {str(one): label for one, label in values},
    }


def _path(categories: Mapping[int, Any], one: int | None) -> list[str]:
    out: list[str] = []
    while one is not None and one in categories:
        out.insert(0, categories[one].name)
        one = categories[one].parent_id
    return out
