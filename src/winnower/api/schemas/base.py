"""The base of all schemas, and errors."""

from __future__ import annotations

import datetime as dt
from typing import Annotated

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

#: The largest number a column of the database holds.
MOST_INT = 2**63 - 1


def _with_zone(when: dt.datetime) -> dt.datetime:
    """The database keeps times in UTC, without saying so."""
    return when if when.tzinfo else when.replace(tzinfo=dt.UTC)


#: The revision a change was made on: it is refused where there has been another one since.
Revision = Annotated[int, Field(ge=0, le=MOST_INT)]
Utc = Annotated[dt.datetime, AfterValidator(_with_zone)]


class Model(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Standing(Model):
    """Who speaks where words stand, on which page and at what time of a recording; empty where the text does not say."""

    speaker: str = ""
    page: str = ""
    time: str = ""


class Problem(Model):
    """An error as in RFC 9457, with a sentence a user can act on."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    position: int | None = None
    current: dict | None = None
    command: int | None = None
    others: bool | None = None
