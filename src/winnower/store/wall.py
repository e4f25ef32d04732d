"""Between projects: which project a row belongs to, by the keys of its table, for every kind that can be named."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from functools import cache

from sqlalchemy import Column, Select, Table, select
from sqlalchemy.orm import Session

from winnower.store.bulk import chunks
from winnower.store.models import Base

IDS_AT_ONCE = 5_000


@cache
def way_to_project(table: str) -> tuple[Column[int], ...]:
    """The key columns that lead from a table to its project, in order; the last one is a ``project_id``.

    Raises LookupError where no key leads to a project.
    """
    ways: list[tuple[Table, tuple[Column[int], ...]]] = [(Base.metadata.tables[table], ())]
    seen = {table}
    while ways:
        here, way = ways.pop(0)
        if "project_id" in here.c:
            return (*way, here.c.project_id)
        for column in here.columns:
            for key in column.foreign_keys:
                # what may be missing leads nowhere for the rows that lack it
                if not column.nullable and key.column.table.name not in seen:
                    seen.add(key.column.table.name)
                    ways.append((key.column.table, (*way, column)))
    raise LookupError(f"Rows of {table} belong to no project.")


def elsewhere(table: str, ids: Collection[int], project_id: int) -> Select[tuple[int]]:
    """Selects those of the ids whose rows belong to another project; rows that are nowhere are not among them."""
    way = way_to_project(table)
    first = Base.metadata.tables[table]
    asked = select(first.c.id).where(first.c.id.in_(ids))
    joined = first
    for column in way[:-1]:
        (key,) = column.foreign_keys
        joined = joined.join(key.column.table, column == key.column)  # type: ignore[assignment]
    return asked.select_from(joined).where(way[-1] != project_id)


def strangers(session: Session, project_id: int, named: Mapping[str, Collection[int]]) -> set[str]:
    """Tables among those named, by their ids, of which a row belongs to another project; one query a table."""
    found = set()
    for table, ids in named.items():
        for part in chunks(sorted(ids), IDS_AT_ONCE):
            if session.scalar(elsewhere(table, part, project_id).limit(1)) is not None:
                found.add(table)
    return found
