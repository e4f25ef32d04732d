"""What a table for statistics would hold."""

from __future__ import annotations

from winnower.api.schemas.base import Model


class DataColumnPublic(Model):
    """A column: its name in the table, what it is called here, its kind and values, how it was made."""

    name: str
    label: str
    kind: str
    values: str
    how: str


class DataPreview(Model):
    """``rows`` in all, of which the first are shown, cell by cell; ``noun`` is what they are."""

    noun: str
    rows: int
    columns: list[DataColumnPublic]
    cells: list[list[str | float | None]]
