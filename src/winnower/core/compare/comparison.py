"""The request every number comes from."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

from annotated_types import Ge, Gt, Le, Len, Lt, MaxLen
from pydantic import TypeAdapter, ValidationError

from winnower.core.compare.bases import Counting, Per, check_counting
from winnower.core.compare.measures import measure_named
from winnower.core.compare.targets import AnyTarget
from winnower.core.compare.weights import weighed
from winnower.core.errors import ComparisonError
from winnower.core.scope import Conditions, Scope, Split
from winnower.core.scope.plain import problems

#: The version of the plain form that is written, and the only one that is read.
FORM: Literal[1] = 1


@dataclass(frozen=True)
class Joined:
    """Rows of a target taken together under one name, by their keys; what several of them hit counts once."""

    name: Annotated[str, Len(1, 300)]
    rows: Annotated[tuple[str, ...], Len(1, 2_000)]

    __pydantic_config__: ClassVar = {"extra": "forbid"}


@dataclass(frozen=True)
class Comparison:
    """Scope (which texts) x target (what is counted) x split (across what) x measure (in which unit).

    ``level`` is that of intervals and tests, ``seed`` is used by whatever involves chance. ``unit`` is the key
    of the field whose values are drawn at random, "story" for texts nearly alike, None for the text itself. ``adjust`` are fields held equal between the
    groups. ``target`` names what is counted; it is looked up where the comparison is computed. ``counting`` says whether
    hits, or sentences, paragraphs or words with one are counted, ``per`` for how many words a rate of hits is given.
    ``reference`` is the label of the group the others are set against by the measures that do that; without one it is
    all other groups together. ``weight`` is the key of a field of numbers that says how much each text counts. Of the rows ``joined`` ones are one, and those in ``leave`` are left out, by their keys.
    In its plain form this is the request of the API, the address of the page, the settings in an export, the file of
    the command line, and what a finding keeps.
    """

    target: AnyTarget
    scope: Conditions = ()
    split: Split = Split()
    measure: str = "rate"
    level: Annotated[float, Gt(0.5), Lt(1)] = 0.95
    seed: Annotated[int, Ge(0), Le(2**31 - 1)] = 1
    unit: str | None = None
    adjust: Annotated[tuple[Split, ...], MaxLen(3)] = ()
    form: Literal[1] = FORM
    counting: Counting = "hits"
    per: Per = 1_000
    reference: Annotated[str, MaxLen(2_000)] | None = None
    joined: Annotated[tuple[Joined, ...], MaxLen(100)] = ()
    leave: Annotated[tuple[str, ...], MaxLen(2_000)] = ()
    weight: str | None = None

    __pydantic_config__: ClassVar = {"extra": "forbid"}

    def __post_init__(self) -> None:
        check_counting(self.counting, self.measure)
        self._check_numbers(measure_named(self.measure).needs == "numbers")
        if self.measure == "adjusted" and not self.adjust:
            raise ComparisonError("An adjusted rate needs a field to be controlled for (“adjust”).")
        self._check_weight()
        fields = [one.field for one in self.adjust]
        if len(set(fields)) < len(fields) or self.split.field in fields:
            raise ComparisonError("A field is controlled for once, and not the one that is compared across.")

    def _check_weight(self) -> None:
        if self.weight is None:
            return
        if self.target.kind == "numbers" or self.adjust:
            raise ComparisonError(
                "Weights go with rates and shares, and not with means or with other fields controlled for."
            )
        if measure_named(self.measure).needs == "judged":
            raise ComparisonError(
                "What verdicts say is not weighted; take the weights out, or another measure."
            )

    def _check_numbers(self, of_numbers: bool) -> None:
        if self.target.kind != "numbers":
            if of_numbers:
                raise ComparisonError("Means are of numbers: compare fields of numbers, or tone.")
            return
        if not of_numbers:
            raise ComparisonError(
                "Of numbers their mean is compared; ask for “mean”, “mean_difference”, “median” or “deviation”."
            )
        if self.adjust or self.joined or self.counting != "hits":
            raise ComparisonError(
                "Numbers are not counted in units, taken together in one row, or adjusted for other fields."
            )

    @property
    def texts(self) -> Scope:
        """The scope as a value of its own; where texts are weighted those with a weight."""
        return Scope(self.scope if self.weight is None else (*self.scope, weighed(self.weight)))


def usual_comparison(target: AnyTarget) -> Comparison:
    """A comparison of a target by what is usually asked of it."""
    return Comparison(target, measure="mean" if target.kind == "numbers" else "rate")


_comparison: TypeAdapter[Comparison] = TypeAdapter(Comparison)


def to_plain(comparison: Comparison) -> dict[str, Any]:
    """Plain values that ``from_plain`` takes back; ``form`` is the version of this form."""
    found: dict[str, Any] = _comparison.dump_python(comparison, mode="json")
    return found


def from_plain(plain: object) -> Comparison:
    """Raises ComparisonError that names everything that does not fit, by its place."""
    if isinstance(plain, dict) and plain.get("form", FORM) != FORM:
        raise ComparisonError(
            f"This comparison is written in form {plain['form']!r}; this version of the program reads form {FORM}."
        )
    try:
        return _comparison.validate_python(plain)
    except ValidationError as error:
        raise ComparisonError("The comparison cannot be read: " + "; ".join(problems(error)) + ".") from error
