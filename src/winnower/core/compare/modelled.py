"""The rate model of a table: the groups and the fields held equal at once, in ratios and plain words."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from winnower.core.compare.statement import Statement, differing_part, surest, way_of
from winnower.core.compare.table import Table
from winnower.core.compare.wording import names, p_text
from winnower.core.errors import ComparisonError
from winnower.core.measure import Effect, Factor, RateModel, holm, rate_models
from winnower.core.scope import Condition


@dataclass(frozen=True)
class ModelledField:
    """A field of the model.

    name        as people call it; the groups come first
    labels      of its levels
    conditions  of the texts of each level; None for the groups, which have their cells
    words       int64 per level, of texts that have a value in every field
    reference   the level that the others are set against: the one with most words
    p           adjusted over the rows (K); NaN where it is not tested
    """

    name: str
    labels: tuple[str, ...]
    conditions: tuple[Condition, ...] | None
    words: np.ndarray
    reference: int
    p: np.ndarray


@dataclass(frozen=True)
class Modelled:
    """``models`` of the tested rows, by their place in the target; ``left_out`` texts of the groups that are in none, without
    words or without a value in one field."""

    table: Table
    fields: tuple[ModelledField, ...]
    models: dict[int, RateModel]
    left_out: int

    def effect(self, row: int, field: int) -> Effect | None:
        model = self.models.get(row)
        return model.effects[field] if model is not None and model.effects else None


def model_of(table: Table, across: str) -> Modelled:
    """The model of a table with fields held equal; ``across`` is what its groups are called. Raises ComparisonError."""
    held, counted = table.view.held, table.counts.counted
    if held is None:
        raise ComparisonError("This comparison controls for no field, so there is no model.")
    text = table.groups.text
    levels = [table.groups.group, *(field.of_text[text] for field in held.fields)]
    labels = [table.groups.labels, *(field.labels for field in held.fields)]
    inside = counted.size > 0
    for level in levels:
        inside &= level >= 0
    words = [
        np.bincount(level[inside], weights=counted.size[inside], minlength=len(of))
        for level, of in zip(levels, labels, strict=True)
    ]
    factors = [
        Factor(level, len(of), int(np.argmax(size)))
        for level, of, size in zip(levels, labels, words, strict=True)
    ]
    rows = np.zeros(counted.n_rows, bool)
    rows[list(table.tested_rows)] = True
    found = rate_models(
        counted.some(rows=rows), factors, table.view.unit, table.comparison.level, table.comparison.seed
    )
    models = dict(zip(np.flatnonzero(rows).tolist(), found, strict=True))
    names = [across, *(field.name for field in held.fields)]
    conditions = [None, *(field.conditions for field in held.fields)]
    fields = []
    for at, (name, of, condition, size, factor) in enumerate(
        zip(names, labels, conditions, words, factors, strict=True)
    ):
        p = np.full(counted.n_rows, np.nan)
        for row, model in models.items():
            if model.effects:
                p[row] = model.effects[at].p
        fields.append(
            ModelledField(name, of, condition, np.rint(size).astype(np.int64), factor.reference, holm(p))
        )
    # a text can be in several groups, and a unit of the model can be of several texts
    left_out = len(np.unique(text)) - len(np.unique(text[inside]))
    return Modelled(table, tuple(fields), models, left_out)


def model_statements(modelled: Modelled) -> list[Statement]:
    """What the model says of each field, and what it could not be made of."""
    table = modelled.table
    found = []
    for at, field in enumerate(modelled.fields):
        held = names([f"“{one.name}”" for one in modelled.fields if one is not field])
        found.append(_of_field(modelled, at, held))
    missing: dict[str, list[str]] = {}
    for row, model in modelled.models.items():
        if model.reason:
            missing.setdefault(model.reason, []).append(table.target.rows[row].label)
    for reason, labels in missing.items():
        found.append(Statement("note", f"No model of {names(labels)}: {reason}."))
    if left_out := modelled.left_out:
        texts = "1 text is" if left_out == 1 else f"{left_out:,} texts are"
        found.append(
            Statement(
                "note", f"{texts} left out of the model, without words or without a value in one field."
            )
        )
    return found


def _of_field(modelled: Modelled, at: int, held: str) -> Statement:
    table, field = modelled.table, modelled.fields[at]
    noun, nouns = table.target.nouns
    tested = int(np.isfinite(field.p).sum())
    begin = f"Controlling for {held}, "
    if not tested:
        return Statement(
            "note", f"{begin}“{field.name}” cannot be tested: there are too few texts for its values."
        )
    with np.errstate(invalid="ignore"):
        differing = np.flatnonzero(field.p <= 1 - table.comparison.level)
    effects = [modelled.effect(row, at) for row in modelled.models]
    times = max((one.times for one in effects if one is not None), default=0)
    adjusted = f"p adjusted for {tested:,} {nouns} ({way_of(times)})."
    if not len(differing):
        headline = f"{begin}no {noun} differs significantly by “{field.name}”."
        least = f"Smallest {p_text(float(np.nanmin(field.p)))}, "
        return Statement("test", headline, details=least + adjusted)
    named = surest(table, differing, field.p, tested / (times + 1) if times else 0)
    which = differing_part(len(differing), tested, nouns)
    headline = f"{begin}{which[:1].lower()}{which[1:]} significantly by “{field.name}”."
    return Statement("test", headline, details=f"{named}; {adjusted}")
