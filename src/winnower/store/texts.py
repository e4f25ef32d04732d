"""Texts by id: rows and bodies."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.core.errors import NotFound
from winnower.core.scope import CategoryColumn, DateColumn, TextColumn, value_at
from winnower.store.bulk import chunks
from winnower.store.models import Delivery, Source, TextBody, TextRow
from winnower.store.opened import OpenCorpus


def bodies(session: Session, ids: Sequence[int]) -> dict[int, str]:
    """Bodies by text id, in one query."""
    rows = session.execute(select(TextBody.text_id, TextBody.body).where(TextBody.text_id.in_(set(ids))))
    return {text_id: body for text_id, body in rows}


def text_of(session: Session, project_id: int, text_id: int) -> tuple[TextRow, str, str | None]:
    """A text of a finished delivery with its body and source. Raises NotFound."""
    row = session.execute(
        select(TextRow, TextBody.body, Source.name)
        .join(TextBody, TextBody.text_id == TextRow.id)
        .join(Delivery, Delivery.id == TextRow.delivery_id)
        .outerjoin(Source, Source.id == TextRow.source_id)
        .where(TextRow.id == text_id, TextRow.project_id == project_id, Delivery.state == "done")
    ).first()
    if row is None:
        raise NotFound("There is no such text in this project.")
    return row[0], row[1], row[2]


def all_bodies(session: Session, ids: Sequence[int], at_once: int = 1_000) -> Iterator[tuple[int, str]]:
    """(id, body) in the order of ``ids``, read some at a time."""
    for part in chunks(ids, at_once):
        found = bodies(session, [int(i) for i in part])
        for text_id in part:
            yield int(text_id), found[int(text_id)]


def texts_from(session: Session, project_id: int, source: str, least_words: int) -> list[tuple[int, str]]:
    """(id, body) of the longer texts of a source, by date."""
    asked = (
        select(TextRow.id, TextBody.body)
        .join(TextBody, TextBody.text_id == TextRow.id)
        .join(Source, Source.id == TextRow.source_id)
        .where(TextRow.project_id == project_id, Source.name == source, TextRow.words > least_words)
        .order_by(TextRow.date, TextRow.id)
    )
    return [(text_id, body) for text_id, body in session.execute(asked)]


def origin_at(corpus: OpenCorpus, place: int) -> tuple[str, str | None, str | None]:
    """Title, source and date of the text at a place of an open corpus."""
    fields = corpus.columns.fields
    title, source, date = fields["title"], fields["source"], fields["date"]
    assert isinstance(title, TextColumn)
    assert isinstance(source, CategoryColumn)
    assert isinstance(date, DateColumn)
    return title.values[place] or "", _text(value_at(source, place)), _text(value_at(date, place))


def _text(value: object) -> str | None:
    return None if value is None else str(value)
