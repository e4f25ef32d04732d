"""What is asked for when data are handed to a statistics program, as a value with a plain form."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, Literal

from annotated_types import MaxLen
from pydantic import TypeAdapter

from winnower.core.compare.targets import AnyTarget
from winnower.core.errors import ComparisonError
from winnower.core.scope import Conditions, Scope

#: What a row is: a text, a sentence, a coded passage, or what one coder decided on one code in one text.
RowsOf = Literal["text", "sentence", "passage", "decision"]
MOST_TARGETS = 20
MOST_FIELDS = 1_000


@dataclass(frozen=True)
class DataRequest:
    """Rows of the texts in ``scope`` with ``fields`` (all where None) and a column of counts for each row of each of
    the ``targets``; with ``spread`` a field of several values has a column of 0 and 1 for each of them as well. With
    ``words`` the text of a row stands in a column, with ``tone`` the mean tone of its
    sentences (by a word list of the project, 0 for the English one)."""

    rows: RowsOf = "text"
    fields: Annotated[tuple[Annotated[str, MaxLen(80)], ...], MaxLen(MOST_FIELDS)] | None = None
    targets: Annotated[tuple[AnyTarget, ...], MaxLen(MOST_TARGETS)] = ()
    words: bool = False
    spread: bool = False
    tone: int | None = None
    scope: Conditions = ()
    version: Literal[1] = 1

    def __post_init__(self) -> None:
        if any(one.kind == "numbers" for one in self.targets):
            raise ComparisonError("Numbers are columns of their own: choose their fields, or tone.")

    @property
    def texts(self) -> Scope:
        return Scope(self.scope)


_request: TypeAdapter[DataRequest] = TypeAdapter(DataRequest)


def request_to_plain(request: DataRequest) -> dict[str, Any]:
    found: dict[str, Any] = _request.dump_python(request, mode="json")
    return found
