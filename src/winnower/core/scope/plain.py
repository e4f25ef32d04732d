"""Scopes in their plain form: the one place where conditions are read and written.

A scope is a list of conditions, each with its ``kind``: in requests, addresses, subcorpora, rules and
comparisons alike.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any

from annotated_types import MaxLen
from pydantic import Discriminator, TypeAdapter, ValidationError

from winnower.core.errors import ScopeError
from winnower.core.scope.conditions import Condition, Scope

MOST_CONDITIONS = 50
AnyCondition = Annotated[Condition, Discriminator("kind")]
Conditions = Annotated[tuple[AnyCondition, ...], MaxLen(MOST_CONDITIONS)]
_conditions: TypeAdapter[tuple[Condition, ...]] = TypeAdapter(Conditions)


def scope_to_plain(scope: Scope) -> list[dict[str, Any]]:
    """Plain values that ``scope_from_plain`` takes back."""
    found: list[dict[str, Any]] = _conditions.dump_python(scope.conditions, mode="json")
    return found


def scope_from_plain(plain: object) -> Scope:
    """Raises ScopeError that names everything that does not fit, by its place."""
    try:
        return Scope(_conditions.validate_python(plain))
    except ValidationError as error:
        raise ScopeError("The scope cannot be read: " + "; ".join(problems(error)) + ".") from error


def problems(error: ValidationError, most: int = 5) -> Sequence[str]:
    """What does not fit, each with its place: "0.values: at least one is needed"."""
    found = [
        f"{'.'.join(str(part) for part in one['loc']) or 'the whole'}: {one['msg'][:1].lower()}{one['msg'][1:]}"
        for one in error.errors(include_url=False, include_input=False)
    ]
    return [*found[:most], *([f"{len(found) - most} more"] if len(found) > most else [])]
