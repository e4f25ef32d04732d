"""Accounts, sessions, projects."""

from __future__ import annotations

from pydantic import Field

from winnower.api.schemas.base import Model, Utc


class SignIn(Model):
    name: str = Field(max_length=80)
    password: str = Field(max_length=500)


class Me(Model):
    id: int
    name: str
    full_name: str


class ProjectCreate(Model):
    name: str = Field(max_length=2000)


class ProjectPublic(Model):
    id: int
    name: str
    role: str
    texts: int
    made_at: Utc


class ProjectSummary(Model):
    """What the header shows of a project; ``coding`` counts changes of codes and passages,
    ``noted`` those of notes and their like."""

    id: int
    name: str
    role: str
    revision: str
    texts: int
    words: int
    terms: int
    dictionaries: int
    codes: int
    passages: int
    coding: int
    notes: int
    paraphrases: int
    noted: int
    undo: str | None
    redo: str | None
    running_jobs: int


class Start(Model):
    """``empty``: nobody can sign in yet."""

    empty: bool


class FirstAccount(Model):
    name: str = Field(min_length=1, max_length=60)
    full_name: str = Field(default="", max_length=120)
    password: str = Field(min_length=8, max_length=500)


class SessionPublic(Model):
    """A place where somebody is signed in; ``this`` is the one that asks."""

    made_at: Utc
    expires_at: Utc
    about: str
    this: bool


class PasswordChange(Model):
    old: str = Field(max_length=500)
    new: str = Field(min_length=8, max_length=500)


class Ended(Model):
    """How many sessions ended."""

    sessions: int
