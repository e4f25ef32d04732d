"""Variables, their values, sets, and texts chosen for a change."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from winnower.api.schemas.base import Model, Revision
from winnower.api.schemas.scope import Scoped, SomeConditions
from winnower.core.scope import Conditions

Kind = Literal["category", "several", "number", "date", "text"]
Period = Literal["day", "week", "month", "quarter", "year"]


class BandsRule(Model):
    derive: Literal["bands"]
    field: str
    cuts: list[float] = Field(min_length=1, max_length=50)


class PeriodRule(Model):
    derive: Literal["period"]
    field: str
    period: Period


class FitsRule(Model):
    derive: Literal["fits"]
    scope: SomeConditions


class CategoryRule(Model):
    derive: Literal["category"]
    category_id: int
    count: bool = False


Rule = Annotated[BandsRule | PeriodRule | FitsRule | CategoryRule, Field(discriminator="derive")]


class ValuePublic(Model):
    """A value of a category variable, or a set; ``rule`` holds the conditions a set follows from."""

    id: int
    label: str
    texts: int
    rule: Conditions | None
    broken: str | None
    revision: int


class VariablePublic(Model):
    """``texts`` have a value; ``values`` are the most frequent of ``different`` ones, in their order;
    ``broken`` says why a rule no longer fits the corpus."""

    id: int
    key: str
    name: str
    kind: Kind
    role: Literal["", "group", "sets", "aside"]
    description: str
    rule: Rule | None
    broken: str | None
    revision: int
    texts: int
    different: int
    values: list[ValuePublic]


class VariableCreate(Model):
    name: str = Field(min_length=1, max_length=200)
    kind: Kind = "category"
    description: str = Field(default="", max_length=2000)
    rule: Rule | None = None


class VariableUpdate(Model):
    revision: int
    name: str | None = Field(default=None, min_length=1, max_length=200)
    description: str | None = Field(default=None, max_length=2000)
    rule: Rule | None = None


class ConvertVariable(Model):
    kind: Kind
    revision: int


class Converted(Model):
    """``lost`` are values that cannot be read in the new kind, the first of ``lost_total``."""

    texts: int
    lost: list[str]
    lost_total: int
    label: str


class RulePreview(Model):
    """What a rule would give: texts by value."""

    values: list[str]
    texts: list[int]


class TryRule(Model):
    rule: Rule


class Selection(Scoped):
    """Texts chosen in the table: some by id, or all that the scope and the search find."""

    find: str = Field(default="", max_length=300)
    ids: list[int] | None = Field(default=None, max_length=200_000)


class SetValues(Selection):
    """Several values are separated by semicolons; null takes the value away. ``seen`` is the value a single text had
    when it was changed, empty for none: where it has another one by now, the change is refused."""

    field: str
    value: str | None = None
    mode: Literal["replace", "add", "remove"] = "replace"
    seen: str | None = None


class Changed(Model):
    texts: int
    label: str


class RenameValue(Model):
    revision: Revision
    label: str = Field(min_length=1, max_length=300)


class MergeValues(Model):
    ids: list[int] = Field(min_length=1, max_length=5000)
    into: int


class OrderValues(Model):
    ids: list[int] = Field(max_length=20_000)


class SetCreate(Selection):
    """A set with the selected texts in it, or one that follows from a rule."""

    name: str = Field(min_length=1, max_length=300)
    rule: Conditions | None = None


class FillColumn(Model):
    column: str
    field: str | None = None
    name: str = Field(default="", max_length=200)
    kind: Kind = "category"


class FillRequest(Model):
    """``by`` is "key" or a field; ``key_column`` the table's column that names the text."""

    upload_id: int
    key_column: str
    by: str = "key"
    columns: list[FillColumn] = Field(min_length=1, max_length=200)
    try_only: bool = False


class FillReport(Model):
    """Rows of the table by what became of them; ``unmatched`` names the first keys without a text."""

    rows: int
    matched_rows: int
    texts: int
    changed: int
    unmatched: list[str]
    unmatched_total: int
    bad_values: list[str]
    bad_values_total: int


class EarlierValues(Model):
    values: list[str]
