"""A row for each respondent, author or other unit that several texts belong to: what its texts say, side by side."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import polars as pl

from winnower.core.compare.targets import Corpus, Target
from winnower.core.dataset.columns import (
    About,
    DataColumn,
    Names,
    described_field,
    target_columns,
    values_at,
)
from winnower.core.dataset.request import Counted
from winnower.core.dataset.rows import DataRows
from winnower.core.errors import ComparisonError
from winnower.core.scope import FieldDescription
from winnower.core.scope.columns import Column

#: So many values of a field stand side by side.
MOST_ACROSS = 100
PARAGRAPHS = "\n\n"


@dataclass(frozen=True)
class UnitRows:
    """Units as rows, and the texts they are made of.

    texts   a row for each text that belongs to a unit
    unit    int64 per text: its unit, numbered in the order of their first texts
    across  int64 per text: which of the ``labels`` it has, -1 for none; None where nothing stands side by side
    """

    texts: DataRows
    unit: np.ndarray
    across: np.ndarray | None
    labels: tuple[str, ...]

    @property
    def rows(self) -> DataRows:
        """The first text of each unit stands for it."""
        _, first = np.unique(self.unit, return_index=True)
        return DataRows(self.texts.text[first], self.texts.low[first], self.texts.high[first])

    def __len__(self) -> int:
        return int(self.unit.max(initial=-1)) + 1

    def parts(self) -> list[tuple[str, np.ndarray]]:
        """What stands side by side: (label, bool per text); one part with all texts where nothing does."""
        if self.across is None:
            return [("", np.ones(len(self.unit), bool))]
        return [(label, self.across == at) for at, label in enumerate(self.labels)]


def unit_rows(texts: DataRows, codes: np.ndarray, across: Column | None) -> UnitRows:
    """``codes`` int per text of ``texts``: which unit it belongs to, below 0 for none: such texts are left out. Raises
    ComparisonError for a field with too many values to stand side by side."""
    kept = codes >= 0
    texts = DataRows(texts.text[kept], texts.low[kept], texts.high[kept])
    _, first, of = np.unique(codes[kept], return_index=True, return_inverse=True)
    order = np.empty(len(first), np.int64)
    order[np.argsort(first, kind="stable")] = np.arange(len(first))
    if across is None:
        return UnitRows(texts, order[of], None, ())
    values = values_at(across, texts.text).cast(pl.String)
    labels = values.drop_nulls().unique(maintain_order=True).to_list()
    if len(labels) > MOST_ACROSS:
        raise ComparisonError(
            f"This field has {len(labels):,} values here; at most {MOST_ACROSS} stand side by side. Choose another."
        )
    at = values.replace_strict(
        {label: n for n, label in enumerate(labels)}, default=None, return_dtype=pl.Int64
    )
    return UnitRows(texts, order[of], at.fill_null(-1).to_numpy(), tuple(labels))


def _ready(about: About, values: pl.Series) -> DataColumn:
    series = values.alias(about.name)
    return DataColumn(about, lambda some: series[some])


def shared_value_column(name: str, field: FieldDescription, column: Column, units: UnitRows) -> DataColumn:
    """What a field says of a unit: the value of those of its texts that have one, empty where they differ: one of several
    values would say of the unit what is true of a text only."""
    kind, values = described_field(field, column)
    found = (
        pl.DataFrame({"unit": units.unit, "value": values_at(column, units.texts.text)})
        .drop_nulls("value")
        .group_by("unit")
        .agg(pl.col("value").first(), differs=pl.col("value").n_unique() > 1)
    )
    differ = int(found["differs"].sum())
    found = found.filter(~pl.col("differs")).drop("differs")
    whole = pl.DataFrame({"unit": np.arange(len(units))}).join(
        found, on="unit", how="left", maintain_order="left"
    )
    how = "The value of the row’s texts."
    if differ:
        how += f" Empty in {differ:,} {'row' if differ == 1 else 'rows'} whose texts differ."
    return _ready(About(name, field.name, kind, values, how), whole["value"])


def texts_column(names: Names, units: UnitRows) -> DataColumn:
    """How many texts a unit has."""
    counts = np.bincount(units.unit, minlength=len(units))
    return _ready(
        About(
            names.of("texts"),
            "texts",
            "whole number",
            "1 and more",
            "Counted: texts of the row in the scope.",
        ),
        pl.Series(counts.astype(np.int64)),
    )


def summed_columns(
    names: Names,
    short: str,
    target: Target,
    corpus: Corpus,
    units: UnitRows,
    mask: np.ndarray,
    counted: Counted = "hits",
) -> list[DataColumn]:
    """For each row of a target its hits in the texts of a unit (or what else is ``counted``), for each of the values side
    by side: empty where the unit has no such text."""
    of_texts = target_columns(Names(), short, target, corpus, units.texts, mask, counted)
    found = []
    for column in of_texts:
        hits = column.make(slice(0, len(units.unit))).to_numpy()
        for label, part in units.parts():
            there = np.bincount(units.unit[part], minlength=len(units)) > 0
            sums = np.bincount(units.unit[part], weights=hits[part], minlength=len(units)).astype(np.int64)
            if counted == "flags":
                sums = np.minimum(sums, 1)
            about = About(
                names.of(f"{label} {column.about.name}" if label else column.about.name),
                f"{column.about.label}: {label}" if label else column.about.label,
                "whole number",
                column.about.values,
                f"In the row’s texts of “{label}”: {column.about.how}"
                if label
                else f"In the row’s texts: {column.about.how}",
            )
            found.append(_ready(about, pl.Series(sums).set(pl.Series(~there), None)))
    return found


def words_columns(names: Names, units: UnitRows, bodies: Sequence[str]) -> list[DataColumn]:
    """The words of a unit's texts (``bodies``, as the texts stand), for each of the values side by side."""
    found = []
    for label, part in units.parts():
        told = (
            pl.DataFrame({"unit": units.unit[part], "body": pl.Series(bodies).filter(pl.Series(part))})
            .group_by("unit", maintain_order=True)
            .agg(pl.col("body").str.join(PARAGRAPHS))
        )
        whole = pl.DataFrame({"unit": np.arange(len(units))}).join(
            told, on="unit", how="left", maintain_order="left"
        )
        about = About(
            names.of(label or "words of row"),
            label or "text",
            "text",
            "",
            "The words of its texts, one after the other.",
        )
        found.append(_ready(about, whole["body"]))
    return found
