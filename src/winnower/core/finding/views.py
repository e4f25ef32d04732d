"""Every view that can be kept, repeated and handed on, in one plain form."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Annotated, Any, ClassVar, Literal

from annotated_types import Ge, Le, MaxLen
from pydantic import Discriminator, TypeAdapter, ValidationError

from winnower.core.compare import Comparison
from winnower.core.compare.targets import AnyTarget, OfCodes, OfDictionary, OfNumbers, OfRun
from winnower.core.errors import ComparisonError
from winnower.core.keyness import Keywords
from winnower.core.network import Network
from winnower.core.scope import Conditions, Scope, Split
from winnower.core.scope.plain import problems
from winnower.core.together import Together


@dataclass(frozen=True)
class ComparisonView:
    """A comparison as it is."""

    comparison: Comparison
    view: Literal["comparison"] = "comparison"

    __pydantic_config__: ClassVar = {"extra": "forbid"}


@dataclass(frozen=True)
class MapView:
    """A comparison as a map of rows and groups."""

    comparison: Comparison
    view: Literal["map"] = "map"

    __pydantic_config__: ClassVar = {"extra": "forbid"}


@dataclass(frozen=True)
class ChangesView:
    """A comparison over time: where the rates of its rows (by their keys; without names those that are tested)
    changed, and their moving average over ``window`` periods (1: none)."""

    comparison: Comparison
    rows: Annotated[tuple[str, ...], MaxLen(50)] = ()
    window: Annotated[int, Ge(1), Le(400)] = 1
    view: Literal["changes"] = "changes"

    __pydantic_config__: ClassVar = {"extra": "forbid"}


AnyView = Annotated[
    ComparisonView | MapView | ChangesView | Keywords | Together | Network, Discriminator("view")
]
_view: TypeAdapter[Any] = TypeAdapter(AnyView)


def view_to_plain(view: AnyView) -> dict[str, Any]:
    """Plain values that ``view_from_plain`` takes back."""
    found: dict[str, Any] = _view.dump_python(view, mode="json")
    return found


def view_from_plain(plain: object) -> AnyView:
    """Also takes the plain form of a comparison alone. Raises ComparisonError that names what does not fit."""
    if isinstance(plain, dict) and "view" not in plain:
        plain = {"view": "comparison", "comparison": plain}
    try:
        found: AnyView = _view.validate_python(plain)
    except ValidationError as error:
        raise ComparisonError("The request cannot be read: " + "; ".join(problems(error)) + ".") from error
    return found


def request_of(view: AnyView) -> Comparison | Keywords | Together | Network:
    """The part of a view that says which texts are looked at."""
    return view.comparison if isinstance(view, ComparisonView | MapView | ChangesView) else view


def scope_of(view: AnyView) -> Scope:
    return request_of(view).texts


def split_of(view: AnyView) -> Split:
    request = request_of(view)
    return Split() if isinstance(request, Together) else request.split


def rescoped(view: AnyView, scope: Conditions) -> AnyView:
    """The same question of other texts."""
    if isinstance(view, ComparisonView | MapView | ChangesView):
        return replace(view, comparison=replace(view.comparison, scope=scope))
    return replace(view, scope=scope)


def targets_of(view: AnyView) -> list[AnyTarget]:
    """What is counted; of words and networks nothing that has a state of its own."""
    request = request_of(view)
    if isinstance(request, Comparison):
        return [request.target]
    if isinstance(request, Together):
        return [request.rows, *([request.columns] if request.columns else [])]
    return []


def with_targets(view: AnyView, change: Callable[[AnyTarget], AnyTarget]) -> AnyView:
    """The view with its targets changed one by one."""
    if isinstance(view, ComparisonView | MapView | ChangesView):
        return replace(view, comparison=replace(view.comparison, target=change(view.comparison.target)))
    if isinstance(view, Together):
        columns = None if view.columns is None else change(view.columns)
        return replace(view, rows=change(view.rows), columns=columns)
    return view


def followed(view: AnyView) -> AnyView:
    """The view of instruments as they are now, whatever state of them was counted."""
    return with_targets(view, _as_it_is_now)


def _as_it_is_now(target: AnyTarget) -> AnyTarget:
    if isinstance(target, OfDictionary):
        return replace(target, version=None, fingerprint=None)
    if isinstance(target, OfCodes | OfRun | OfNumbers):
        return replace(target, revision=None)
    return target
