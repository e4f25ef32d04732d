"""What an import asks of the database and tells it, besides the rows themselves (store/bulk.py)."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from typing import Any

import polars as pl
from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from winnower.core.limits import MAX_TITLE
from winnower.core.reference import Reference, author_year
from winnower.core.scope import TextColumn
from winnower.store.bulk import chunks
from winnower.store.corpus import natural
from winnower.store.history import Recorder
from winnower.store.models import (
    Account,
    Delivery,
    KeptMapping,
    Source,
    TextIdentity,
    TextPlace,
    TextRow,
    Upload,
    Variable,
    VariableCategory,
)
from winnower.store.opened import OpenCorpus
from winnower.store.rollback import DRAFT, remove_left_behind, remove_texts

AT_ONCE = 20_000


def sources_by_name(session: Session, project_id: int) -> dict[str, int]:
    rows = session.execute(select(Source.name, Source.id).where(Source.project_id == project_id))
    return {row.name: row.id for row in rows}


def make_sources(session: Session, project_id: int, names: Sequence[str]) -> dict[str, int]:
    """New sources with their ids."""
    rows = [Source(project_id=project_id, name=name) for name in names]
    session.add_all(rows)
    session.flush()
    return {row.name: row.id for row in rows}


def categories_by_label(session: Session, variable_id: int) -> dict[str, int]:
    rows = session.execute(
        select(VariableCategory.label, VariableCategory.id).where(VariableCategory.variable_id == variable_id)
    )
    return {row.label: row.id for row in rows}


def labels_away(session: Session, variable_id: int) -> set[str]:
    """Labels that went with an undone delivery."""
    asked = select(VariableCategory.label).where(
        VariableCategory.variable_id == variable_id, VariableCategory.away == 1
    )
    return set(session.scalars(asked))


def bring_back(session: Session, variable_id: int, labels: Collection[str]) -> None:
    """Labels that went with an undone delivery come with another one."""
    mine = (VariableCategory.variable_id == variable_id, VariableCategory.label.in_(labels))
    session.execute(update(VariableCategory).where(*mine).values(away=0))


def make_categories(session: Session, variable_id: int, labels: Sequence[str]) -> dict[str, int]:
    """New categories of a variable with their ids; where they stand is settled at the end."""
    rows = [VariableCategory(variable_id=variable_id, label=label, position=DRAFT) for label in labels]
    session.add_all(rows)
    session.flush()
    return {row.label: row.id for row in rows}


def categories_made(session: Session, project_id: int) -> list[int]:
    """Categories that an import on its way has made."""
    asked = select(VariableCategory.id).join(Variable)
    drafts = asked.where(Variable.project_id == project_id, VariableCategory.position == DRAFT)
    return list(session.scalars(drafts))


def come_with(recorder: Recorder, variables: Sequence[int], categories: Sequence[int]) -> None:
    """Note in the history that these come with a delivery, so that they go with it."""
    session = recorder.session
    # a batch that was tried again made its variables again; those of the first try are not there
    there = session.scalars(select(Variable.id).where(Variable.id.in_(variables))).all()
    for model, ids in ((Variable, there), (VariableCategory, categories)):
        for part in chunks(list(ids), AT_ONCE):
            session.execute(update(model).where(model.id.in_(part)).values(away=1))
        if ids:
            frame = pl.DataFrame({"id": list(ids)}).with_columns(pl.lit(0).alias("away"))
            recorder.update_frame(model, frame)


def add_variable(
    session: Session, project_id: int, name: str, kind: str, position: int, role: str
) -> Variable:
    row = Variable(project_id=project_id, name=name, kind=kind, position=position, role=role)
    session.add(row)
    session.flush()
    return row


def settle_positions(session: Session, project_id: int) -> None:
    """Put the categories of all variables in their natural order, new ones among the old."""
    rows = session.scalars(
        select(VariableCategory).join(Variable).where(Variable.project_id == project_id)
    ).all()
    place: dict[int, int] = {}
    for row in sorted(rows, key=lambda row: natural(row.label)):
        position = place.get(row.variable_id, 0)
        place[row.variable_id] = position + 1
        if row.position != position:
            row.position = position


def stored_contents(
    session: Session, project_id: int, identities: Sequence[bytes]
) -> dict[bytes, tuple[int, bytes]]:
    """Identity to id and content hash of texts that are part of the project; a further identity of a text is
    given too."""
    done = select(TextRow.id, TextRow.content).join(Delivery, Delivery.id == TextRow.delivery_id)
    done = done.where(TextRow.project_id == project_id, Delivery.state == "done")
    further = (
        done.add_columns(TextIdentity.identity)
        .join(TextIdentity, TextIdentity.text_id == TextRow.id)
        .where(TextIdentity.project_id == project_id, TextIdentity.identity.in_(identities))
    )
    own = done.add_columns(TextRow.identity).where(TextRow.identity.in_(identities))
    found = [*session.execute(further), *session.execute(own)]
    return {row.identity: (row.id, row.content) for row in found}


def contents_by_id(session: Session, project_id: int, text_ids: Sequence[int]) -> dict[int, bytes]:
    """Content hash by id of texts that are part of the project."""
    found = session.execute(
        select(TextRow.id, TextRow.content)
        .join(Delivery, Delivery.id == TextRow.delivery_id)
        .where(TextRow.project_id == project_id, TextRow.id.in_(text_ids), Delivery.state == "done")
    )
    return {row.id: row.content for row in found}


def contents_in(session: Session, delivery_id: int, identities: Sequence[bytes]) -> dict[bytes, bytes]:
    """Identity to content hash of texts that a delivery on its way has stored so far."""
    found = session.execute(
        select(TextRow.identity, TextRow.content)
        .join(Delivery, Delivery.id == TextRow.delivery_id)
        .where(
            TextRow.project_id == Delivery.project_id,
            TextRow.identity.in_(identities),
            Delivery.id == delivery_id,
        )
    )
    return {row.identity: row.content for row in found}


def identities_of(session: Session, project_id: int, *, finished: bool) -> Iterator[Sequence[bytes]]:
    """Identities of all texts, some at a time, and further ones; ``finished`` leaves out those of unfinished
    deliveries."""
    further = select(TextIdentity.identity).where(TextIdentity.project_id == project_id)
    yield session.scalars(further).all()
    asked = select(TextRow.identity).where(TextRow.project_id == project_id)
    if finished:
        asked = asked.join(Delivery, Delivery.id == TextRow.delivery_id).where(Delivery.state == "done")
    rows = session.scalars(asked.execution_options(stream_results=True, yield_per=AT_ONCE))
    yield from rows.partitions(AT_ONCE)


def ids_by_identity(
    session: Session, project_id: int, identities: Sequence[bytes]
) -> list[tuple[int, bytes]]:
    """Ids of the texts with these identities."""
    rows = session.execute(
        select(TextRow.id, TextRow.identity).where(
            TextRow.project_id == project_id, TextRow.identity.in_(identities)
        )
    )
    return [(row.id, row.identity) for row in rows]


def contents_of(session: Session, project_id: int) -> list[tuple[int, bytes]]:
    """Ids and content hashes of all texts with words."""
    rows = session.execute(
        select(TextRow.id, TextRow.content).where(TextRow.project_id == project_id, TextRow.placeholder == 0)
    )
    return [(row.id, row.content) for row in rows]


def drop_undone(session: Session, project_id: int) -> None:
    """Deliveries that were undone give way: their texts must count as new again."""
    undone = select(Delivery).where(Delivery.project_id == project_id, Delivery.state == "undone")
    for delivery in session.scalars(undone).all():
        remove_texts(session, delivery)
    remove_left_behind(session, project_id)


def delivery_of(session: Session, project_id: int, job_id: int, name: str, account_id: int) -> int:
    """The id of a job's delivery, made where there is none yet."""
    row = session.scalar(select(Delivery).where(Delivery.job_id == job_id))
    if row is None:
        row = Delivery(project_id=project_id, job_id=job_id, name=name[:300], made_by=account_id)
        session.add(row)
        session.flush()
    return row.id


def delivery_row(session: Session, project_id: int, delivery_id: int) -> Delivery | None:
    row = session.get(Delivery, delivery_id)
    return row if row is not None and row.project_id == project_id else None


def deliveries_done(session: Session, project_id: int) -> int:
    """How many deliveries a project has."""
    counted = select(func.count()).select_from(Delivery).where(Delivery.project_id == project_id)
    return session.scalar(counted) or 0


def deliveries_of(session: Session, project_id: int) -> list[tuple[Delivery, str]]:
    """What was imported, newest first, with who did it."""
    rows = session.execute(
        select(Delivery, Account.full_name)
        .join(Account, Account.id == Delivery.made_by)
        .where(Delivery.project_id == project_id, Delivery.state != "running")
        .order_by(Delivery.id.desc())
        .limit(200)
    )
    return [(row[0], row[1]) for row in rows]


def make_upload(session: Session, project_id: int, account_id: int) -> Upload:
    row = Upload(project_id=project_id, account_id=account_id, files=[])
    session.add(row)
    session.flush()
    return row


def upload_of(session: Session, project_id: int, upload_id: int) -> Upload | None:
    row = session.get(Upload, upload_id)
    return row if row is not None and row.project_id == project_id else None


def kept_mappings(session: Session, project_id: int) -> dict[str, dict[str, Any]]:
    """How files with the same columns were taken the last time, by their kind."""
    rows = select(KeptMapping.lot, KeptMapping.choice).where(KeptMapping.project_id == project_id)
    return {row.lot: row.choice for row in session.execute(rows)}


def keep_mappings(
    session: Session, project_id: int, account_id: int, choices: dict[str, dict[str, Any]]
) -> None:
    for lot, choice in choices.items():
        session.merge(KeptMapping(project_id=project_id, lot=lot, choice=choice, made_by=account_id))


def add_places(session: Session, text_id: int, places: Collection[tuple[int, str, int, str, int]]) -> None:
    """Where pages and sections begin: (number in order, kind, start, label, level)."""
    session.add_all(
        TextPlace(text_id=text_id, seq=seq, kind=kind, start=start, label=label[:300], level=level)
        for seq, kind, start, label, level in places
    )


def known_references(
    session: Session, corpus: OpenCorpus, wanted: Sequence[Reference]
) -> set[tuple[str, str, str]]:
    """(title, authors, year) in small letters of the references texts have, among those wanted. Looked for by the titles
    that texts get in an import, in the open corpus: the database would go through every text."""
    title = corpus.columns.fields["title"]
    assert isinstance(title, TextColumn)
    named = {name for one in wanted for name in (one.title, author_year(one.authors, one.year, one.title))}
    titles = sorted({" ".join(name.split())[:MAX_TITLE] for name in named} - {""})
    ids = corpus.columns.text_id[title.values.is_in(titles).fill_null(value=False).to_numpy()]
    found: set[tuple[str, str, str]] = set()
    for some in chunks(ids.tolist(), AT_ONCE):
        asked = select(TextRow.reference).where(TextRow.id.in_(some), TextRow.reference.is_not(None))
        for one in session.scalars(asked):
            said = [str((one or {}).get(name) or "") for name in ("title", "authors", "year")]
            found.add((said[0].casefold(), said[1].casefold(), said[2]))
    return found
