"""Measures as they are spoken of where something else than hits per 1,000 words is counted."""

from __future__ import annotations

from dataclasses import replace

from winnower.core.compare.bases import BASES, Base, Counting, spoken
from winnower.core.compare.measure import Measure
from winnower.core.compare.measures import MEASURES
from winnower.core.compare.written import Form
from winnower.core.measure import RATE_UNIT


def measure_in(name: str, counting: Counting, per: int, reference: str) -> Measure:
    """A measure as it is spoken of where hits are counted in a unit, for so many words; ``reference`` is what a group
    is set against, in words."""
    found = MEASURES[name]
    base = BASES[counting]
    if counting != "hits" and name in _OF_BASE:
        label, unit, axis, form = _OF_BASE[name]
        noun, over = base.noun, base.over
        found = replace(
            found,
            label=label.format(noun=noun, over=over),
            unit=unit.format(noun=noun, over=over, reference="{reference}"),
            axis=axis.format(noun=noun, over=over, reference="{reference}"),
            form=form or found.form,
            method=f"{base.words} {_in_base(found.method, base)}".strip(),
        )
    texts = (
        spoken(part, per).replace("{reference}", reference) for part in (found.label, found.unit, found.axis)
    )
    label, unit, axis = texts
    method = spoken(found.method, per).replace("{reference}", reference)
    return replace(found, label=label, unit=unit, axis=axis, method=method)


#: What measures are called where something else than hits is counted: label, unit, axis, and how values are written.
_OF_BASE: dict[str, tuple[str, str, str, Form | None]] = {
    "rate": ("Share of {over}", "share of {over}: {noun}", "% of {over}", "percent"),
    "adjusted": ("Adjusted share of {over}", "share of {over}, controlling for other fields", "% of {over}, adjusted", "percent"),
    "mean_rate": ("Mean share over texts", "mean over texts of the share of {over}", "% of {over}, mean over texts", "percent"),
    "share": ("Share of all {noun} compared", "share of all {noun} compared", "% of all {noun}", None),
    "difference": (
        "Difference from the others", "share of {over} more than in {reference}", "% of {over} more than in {reference}",
        "percent",
    ),
    "share_of_row": ("Share of the row", "share of all {noun} of the row", "% of the row", None),
    "share_of_all": ("Share of the whole table", "share of all {noun} in the table", "% of all {noun}", None),
    "hits": ("{noun}", "{noun}", "{noun}", None),
}  # fmt: skip


def _in_base(method: str, base: Base) -> str:
    """How a measure of hits and words is counted, said of another unit."""
    if method.startswith("A rate is"):
        rest = method.split("Words are tokens with a letter or a digit. ")[-1]
        return f"The share is all {base.noun} of a group over all its {base.over}. {rest}"
    return method.replace("hits", base.noun).replace(RATE_UNIT, f"over {base.over}")
