"""All passages of a project as columns in memory, kept up to date."""

from __future__ import annotations

from collections.abc import Collection
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
from sqlalchemy import select
from sqlalchemy import text as sql
from sqlalchemy.orm import Session

from winnower.core.coding.passages import KINDS, NAMES, Passages, empty
from winnower.core.derived_file import keep_derived
from winnower.store.bulk import chunks
from winnower.store.memory import Memory
from winnower.store.models import CodingChange, Project
from winnower.store.run_places import passages_of_runs

#: So many ids are read by one statement.
IDS_AT_ONCE = 200_000
TEXTS_AT_ONCE = 1_000
#: Fewer passages are read from the database as quickly.
KEPT_FROM = 20_000
_COLUMNS = "p.id, p.text_id, p.code_id, p.start, p.`end`, p.made_by, coalesce(p.strength, 0)"


class PassageCache:
    """The passages of a project at a state of its coding, brought up to date from what changed since.

    They are kept in memory, and in a file beside the index so that a start need not read all of them from the
    database; like the index it can be deleted at any time.
    """

    def __init__(self, memory: Memory) -> None:
        self._memory = memory

    def open(self, session: Session, project: Project, folder: Path) -> Passages:
        """All passages of the project, those of texts that are not part of it now included."""
        revision = project.coding_revision
        before: int | None = self._memory.peek(("coding at", project.id))

        def make() -> Passages:
            old: Passages | None = None
            if before is not None and before < revision:
                old = self._memory.peek(("coding", project.id, before))
            since = before if old is not None else None
            if old is None:
                since, old = _from_file(folder, revision)
            changed = (
                None if old is None or since is None else changed_texts(session, project.id, since, revision)
            )
            if old is not None and changed is not None:
                return (
                    old.with_texts(changed, read_passages(session, project.id, changed)) if changed else old
                )
            found = read_passages(session, project.id)
            _to_file(folder, revision, found)
            return found

        found = self._memory.kept(("coding", project.id, revision), make)
        if before != revision:
            self._memory.put(("coding at", project.id), revision)
        return found


def _from_file(folder: Path, revision: int) -> tuple[int | None, Passages | None]:
    """What was kept last, and the state it is of; files of a later state are of another past."""
    kept = {int(file.stem.partition("-")[2]): file for file in folder.glob("coding-*.arrow")}
    for at in sorted((at for at in kept if at <= revision), reverse=True):
        try:
            frame = pl.read_ipc(kept[at])
            return at, Passages(**{name: frame[name].to_numpy() for name in NAMES})
        except (OSError, pl.exceptions.PolarsError):
            kept[at].unlink(missing_ok=True)  # made again from the database
    return None, None


def _to_file(folder: Path, revision: int, passages: Passages) -> None:
    if len(passages) < KEPT_FROM:
        return
    for old in folder.glob("coding-*.arrow"):
        old.unlink(missing_ok=True)
    keep_derived(
        folder / f"coding-{revision}.arrow",
        lambda draft: pl.DataFrame(passages.columns()).write_ipc(draft, compression="lz4"),
    )


def changed_texts(session: Session, project_id: int, since: int, until: int) -> set[int] | None:
    """Texts whose passages changed between two states; None where that may be any."""
    asked = select(CodingChange.texts).where(
        CodingChange.project_id == project_id, CodingChange.revision > since, CodingChange.revision <= until
    )
    out: set[int] = set()
    for texts in session.scalars(asked):
        if texts is None:
            return None
        out.update(texts)
    return out


def read_passages(
    session: Session,
    project_id: int,
    texts: Collection[int] | None = None,
    codes: Collection[int] | None = None,
) -> Passages:
    """Passages of some texts, of the whole project, or, by hand alone, of some codes.

    The server puts the columns into lines of text itself, which is several times as fast as fetching rows.
    """
    connection = session.connection()
    connection.execute(sql("set session group_concat_max_len = 1073741824"))
    of_project = "passage p join code c on c.id = p.code_id where c.project_id = :project"
    parts: list[str] = []
    if codes is not None:
        listed = ", ".join(str(int(one)) for one in codes)
        parts.append(_lines(connection, f"{of_project} and p.code_id in ({listed})", project=project_id))
    elif texts is not None:
        for some in chunks(sorted(texts), TEXTS_AT_ONCE):
            listed = ", ".join(str(int(one)) for one in some)
            parts.append(_lines(connection, f"{of_project} and p.text_id in ({listed})", project=project_id))
    else:
        low, high = connection.execute(
            sql(f"select min(p.id), max(p.id) from {of_project}"), {"project": project_id}
        ).one()
        for first in range(low or 0, (high or -1) + 1, IDS_AT_ONCE):
            within = f"{of_project} and p.id between :low and :high"
            parts.append(
                _lines(connection, within, project=project_id, low=first, high=first + IDS_AT_ONCE - 1)
            )
    by_hand = _columns("\n".join(part for part in parts if part))
    of_runs = passages_of_runs(session, project_id, by_hand, texts) if codes is None else None
    if of_runs is not None:
        for name in NAMES:
            by_hand[name] = np.concatenate([by_hand[name], of_runs[name].to_numpy().astype(KINDS[name])])
    return Passages.of(by_hand)


def _columns(written: str) -> dict[str, np.ndarray]:
    if not written:
        return empty().columns()
    frame = pl.read_csv(written.encode(), has_header=False, new_columns=list(NAMES))
    return {name: frame[name].to_numpy().astype(KINDS[name]) for name in NAMES}


def _lines(connection: Any, where: str, **values: int) -> str:
    asked = f"select group_concat(concat_ws(',', {_COLUMNS}) separator '\\n') from {where}"
    return connection.execute(sql(asked), values).scalar() or ""
