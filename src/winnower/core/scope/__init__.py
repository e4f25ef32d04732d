"""Which texts, and across what: variables in columns, conditions, splits."""

from winnower.core.scope.columns import (
    NO_DATE,
    CategoryColumn,
    Columns,
    DateColumn,
    NumberColumn,
    SeveralColumn,
    TextColumn,
)
from winnower.core.scope.conditions import (
    Between,
    Finds,
    HasTerm,
    HasValue,
    InTitle,
    Scope,
    scope_mask,
)
from winnower.core.scope.derive import Bands, Fits, OfTerms, Period, Rule, derive, with_rules
from winnower.core.scope.describe import FieldDescription, describe_fields, value_at
from winnower.core.scope.split import PERIODS, Groups, Split, split_groups

__all__ = [
    "NO_DATE",
    "PERIODS",
    "Bands",
    "Between",
    "CategoryColumn",
    "Columns",
    "DateColumn",
    "FieldDescription",
    "Finds",
    "Fits",
    "Groups",
    "HasTerm",
    "HasValue",
    "InTitle",
    "NumberColumn",
    "OfTerms",
    "Period",
    "Rule",
    "Scope",
    "SeveralColumn",
    "Split",
    "TextColumn",
    "derive",
    "describe_fields",
    "scope_mask",
    "split_groups",
    "value_at",
    "with_rules",
]
