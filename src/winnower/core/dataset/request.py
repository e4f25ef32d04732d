"""What is asked for when data are handed to a statistics program, as a value with a plain form."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, Literal

from annotated_types import MaxLen
from pydantic import TypeAdapter

from winnower.core.compare.targets import AnyTarget
from winnower.core.errors import ComparisonError
from winnower.core.scope import Conditions, Scope

#: What a row is: a text, a sentence, a coded passage, what one coder decided on one code in one text, or a unit that
#: several texts belong to, such as a respondent.
RowsOf = Literal["text", "sentence", "passage", "decision", "unit"]
#: What stands in the column of a code, category or other row of a target: how many passages or hits, 1 and 0 for whether
#: there is one, or how many words lie in one.
Counted = Literal["hits", "flags", "words"]
MOST_TARGETS = 20
MOST_FIELDS = 1_000


@dataclass(frozen=True)
class DataRequest:
    """Rows of the texts in ``scope`` with ``fields`` (all where None) and a column of counts for each row of each of
    the ``targets``; with ``spread`` a field of several values has a column of 0 and 1 for each of them as well. With
    ``words`` the text of a row stands in a column, with ``tone`` the mean tone of its
    sentences (by a word list of the project, 0 for the English one). Rows of units are the values of the field ``unit``;
    with ``across`` what is counted, and the words, stand side by side for each value of that field, such as the question."""

    rows: RowsOf = "text"
    fields: Annotated[tuple[Annotated[str, MaxLen(80)], ...], MaxLen(MOST_FIELDS)] | None = None
    targets: Annotated[tuple[AnyTarget, ...], MaxLen(MOST_TARGETS)] = ()
    words: bool = False
    spread: bool = False
    unit: Annotated[str, MaxLen(80)] | None = None
    across: Annotated[str, MaxLen(80)] | None = None
    tone: int | None = None
    counted: Counted = "hits"
    scope: Conditions = ()
    version: Literal[1] = 1

    def __post_init__(self) -> None:
        if any(one.kind == "numbers" for one in self.targets):
            raise ComparisonError("Numbers are columns of their own: choose their fields, or tone.")
        if (self.rows == "unit") != (self.unit is not None):
            raise ComparisonError("Rows of units need the field whose values they are, and only they.")
        if self.rows == "unit" and (self.spread or self.tone is not None):
            raise ComparisonError(
                "Rows of units have no tone and no columns of 0 and 1; choose texts or sentences as rows."
            )
        if self.across is not None and self.across in (None, self.unit):
            raise ComparisonError("What stands side by side is another field than that of the rows.")

    @property
    def texts(self) -> Scope:
        return Scope(self.scope)


_request: TypeAdapter[DataRequest] = TypeAdapter(DataRequest)


def request_to_plain(request: DataRequest) -> dict[str, Any]:
    found: dict[str, Any] = _request.dump_python(request, mode="json")
    return found
