"""Change over time: where it began, and what is smoothed."""

from winnower.core.change.points import Change, changes
from winnower.core.change.rows import (
    MOST_ROWS,
    Changes,
    change_method,
    change_statements,
    changes_of,
    smoothed,
)
from winnower.core.change.smooth import moving

__all__ = [
    "MOST_ROWS",
    "Change",
    "Changes",
    "change_method",
    "change_statements",
    "changes",
    "changes_of",
    "moving",
    "smoothed",
]
