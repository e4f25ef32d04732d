"""The assistant: what it is asked, what it says, what is kept of it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from winnower.api.schemas.base import MOST_INT, Model
from winnower.api.schemas.scope import Scoped
from winnower.core.assist import AnyTask, Proposal, Statement

By = Literal["rules", "model"]


class AssistantAsked(Scoped):
    """A task for the texts of a scope; by the rules that ship, or by the model that is set up."""

    task: AnyTask
    by: By = "rules"


class CitedPublic(Model):
    """A passage under its number."""

    number: int
    text_id: int
    start: int
    end: int
    paragraph: int
    words: str
    origin: str


class RefusedPublic(Model):
    words: str
    reason: str


class AssistantReply(Model):
    """What it says; nothing of it is in the project yet. ``tells`` is false where the texts do not tell."""

    tells: bool
    passages: list[CitedPublic]
    statements: list[Statement]
    proposals: list[Proposal]
    refused: list[RefusedPublic]
    how: str
    by: str


class AssistantAbout(Model):
    """Who answers: the rules that ship, and a model where one is set up (its name and address)."""

    model: str | None
    address: str | None


class AssistantSends(Model):
    """What would be sent to the model, word for word."""

    address: str
    words: str
    passages: int


class KeptPlace(Model):
    text_id: int = Field(ge=1, le=MOST_INT)
    start: int = Field(ge=0, le=MOST_INT)
    end: int = Field(ge=1, le=MOST_INT)


class KeptStatement(Model):
    words: str = Field(min_length=1, max_length=5_000)
    places: list[KeptPlace] = Field(max_length=50)


class AssistantKept(Model):
    """An answer to be kept as a note: statements with their passages, and how it came about."""

    title: Annotated[str, Field(min_length=1, max_length=200)]
    statements: list[KeptStatement] = Field(min_length=1, max_length=100)
    how: str = Field(max_length=5_000)
    question_id: int | None = Field(default=None, ge=1, le=MOST_INT)
