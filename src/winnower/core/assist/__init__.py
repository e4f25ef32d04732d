"""The assistant that ships: it draws on the texts themselves, by rule, and gives the same answer each time.

Whatever it says rests on numbered passages (reply.py); whoever else writes statements is held to the same check.
"""

from winnower.core.assist.reply import NOT_TOLD, Cited, Proposal, Reply, Statement, checked, renumbered
from winnower.core.assist.tasks import (
    AnyTask,
    Codings,
    GroupsOfCodes,
    Question,
    Summary,
    Themes,
    TopicName,
    Viewpoints,
    Wordings,
)

__all__ = [
    "NOT_TOLD",
    "AnyTask",
    "Cited",
    "GroupsOfCodes",
    "Codings",
    "Proposal",
    "Question",
    "Reply",
    "Statement",
    "Summary",
    "Themes",
    "TopicName",
    "Viewpoints",
    "Wordings",
    "checked",
    "renumbered",
]
