"""Which texts, and across what: variables in columns, conditions, splits."""

from winnower.core.scope.columns import (
    NO_DATE,
    CategoryColumn,
    Columns,
    DateColumn,
    NumberColumn,
    SeveralColumn,
    TextColumn,
    same_column,
)
from winnower.core.scope.conditions import (
    Between,
    Condition,
    During,
    Finds,
    HasTerm,
    HasValue,
    Inside,
    InTitle,
    Matches,
    Scope,
    fields_of,
    scope_mask,
)
from winnower.core.scope.derive import Bands, Fits, OfTerms, Period, Rule, derive, with_rules
from winnower.core.scope.describe import FieldDescription, describe_fields, value_at
from winnower.core.scope.ground import Ground, group_sizes, lay_ground
from winnower.core.scope.levels import Levels, levels_of
from winnower.core.scope.plain import AnyCondition, Conditions, scope_from_plain, scope_to_plain
from winnower.core.scope.split import PERIODS, Groups, Split, split_groups

__all__ = [
    "AnyCondition",
    "Conditions",
    "scope_from_plain",
    "scope_to_plain",
    "Levels",
    "levels_of",
    "NO_DATE",
    "PERIODS",
    "Bands",
    "Between",
    "CategoryColumn",
    "Columns",
    "Condition",
    "DateColumn",
    "During",
    "FieldDescription",
    "Finds",
    "Fits",
    "Ground",
    "Groups",
    "HasTerm",
    "HasValue",
    "Inside",
    "InTitle",
    "Matches",
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
    "fields_of",
    "same_column",
    "group_sizes",
    "lay_ground",
    "scope_mask",
    "split_groups",
    "value_at",
    "with_rules",
]
