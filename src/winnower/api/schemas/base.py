"""The base of all schemas, and errors."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class Model(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Problem(Model):
    """An error as in RFC 9457, with a sentence a user can act on."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    position: int | None = None
    current: dict | None = None
