"""Rows of a delivery that are in the project already: the same, with other values, or with another text."""

from __future__ import annotations

from collections.abc import Mapping as AnyMapping
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl

from winnower.readers.mapping import Mapping
from winnower.readers.prepare import PreparedTexts
from winnower.store.again import BODY, IDENTITY, TAKEN, StoredTexts, stored_texts, written_value
from winnower.store.database import Session
from winnower.store.imports import stored_contents

#: What is done with another text, and with other values.
TEXTS = ("keep", "take")
VALUES = ("fill", "take", "keep")


@dataclass(frozen=True)
class Again:
    """What was chosen for rows that are there already: for their texts, for their values ("fill" gives
    values only to texts without one), and one by one (identity in hex: "take" or "keep")."""

    texts: str = "keep"
    values: str = "fill"
    each: dict[str, str] = field(default_factory=dict)
    #: New rows that correct a text that is there, and those that are left out, by identity in hex.
    corrects: dict[str, int] = field(default_factory=dict)
    left_out: list[str] = field(default_factory=list)

    @classmethod
    def from_plain(cls, plain: dict[str, Any] | None) -> Again:
        given = dict(plain or {})
        rows = given.pop("corrects", None) or []
        corrects = {one["identity"]: one["text_id"] for one in rows} if isinstance(rows, list) else rows
        return cls(**given, corrects=corrects)

    def takes_text(self, met: Met) -> bool:
        chosen = self.each.get(met.identity.hex(), self.texts)
        return met.other_text and (chosen == "take" or met.identity.hex() in self.corrects)

    def takes_value(self, met: Met, name: str) -> bool:
        chosen = self.each.get(met.identity.hex(), self.values)
        return chosen == "take" or (chosen == "fill" and met.values[name][0] is None)


@dataclass(frozen=True)
class Known:
    """A row that is in the project: where it stands in its batch, and what is stored."""

    at: int
    text_id: int
    identity: bytes
    content: bytes


@dataclass(frozen=True)
class Met:
    """How such a row differs; ``values`` are (stored, delivered) by field."""

    at: int
    text_id: int
    identity: bytes
    other_text: bool
    corrected: bool
    values: dict[str, tuple[Any, Any]]

    @property
    def same(self) -> bool:
        return not self.other_text and not self.values


def find_stored(
    session: Session, project_id: int, identities: Sequence[bytes], former: AnyMapping[bytes, bytes]
) -> dict[bytes, tuple[int, bytes]]:
    """Identity to id and content hash of texts that are part of the project, also under a former identity."""
    found = stored_contents(session, project_id, identities)
    missing = {former[one]: one for one in identities if one not in found and one in former}
    if missing:
        before = stored_contents(session, project_id, list(missing))
        found |= {missing[old]: stored for old, stored in before.items()}
    return found


def compare(
    session: Session,
    project_id: int,
    texts: PreparedTexts,
    contents: Sequence[bytes],
    known: Sequence[Known],
    mapping: Mapping,
) -> list[Met]:
    """How known rows differ from what is stored. A cell that is empty says nothing; a text that was corrected
    here is the same as long as it is delivered as it was."""
    if not known:
        return []
    names = list(texts.values)
    stored = stored_texts(session, project_id, [one.text_id for one in known], names)
    out = []
    for one in known:
        delivered = stored.delivered.get(one.text_id)
        content = contents[one.at]
        other = content not in (one.content, delivered) and bool(texts.body[one.at])
        values = _differing(texts, one, stored, mapping)
        out.append(Met(one.at, one.text_id, one.identity, other, delivered is not None, values))
    return out


def _differing(
    texts: PreparedTexts, one: Known, stored: StoredTexts, mapping: Mapping
) -> dict[str, tuple[Any, Any]]:
    at = one.at
    out: dict[str, tuple[Any, Any]] = {}
    fixed = stored.fixed[one.text_id]
    by_file = at < len(texts.named_by_file) and texts.named_by_file[at]
    if mapping.column("title") and not by_file and texts.title[at] != fixed.title:
        out["title"] = (fixed.title, texts.title[at])
    if texts.source[at] is not None and texts.source[at] != fixed.source:
        out["source"] = (fixed.source, texts.source[at])
    if texts.date[at] is not None and texts.date[at] != fixed.date:
        out["date"] = (fixed.date, texts.date[at])
    for name, column in texts.values.items():
        value = column[at]
        before = stored.values.get(name, {}).get(one.text_id)
        if value is not None and value != before:
            out[name] = (before, value)
    return out


def taken_frame(texts: PreparedTexts, met: Sequence[Met], again: Again, mapping: Mapping) -> pl.DataFrame:
    """What is taken over from rows that are there already: text_id, field with its kind, value in plain
    form."""
    kinds = {target.name or target.column: target.kind for target in mapping.variables}
    rows: list[tuple[int, str, str, str]] = []
    for one in met:
        if again.takes_text(one):
            rows.append((one.text_id, BODY, "", texts.body[one.at]))
        if one.identity.hex() in again.corrects:
            rows.append((one.text_id, IDENTITY, "", one.identity.hex()))
        for name, (_, value) in one.values.items():
            if again.takes_value(one, name):
                rows.append((one.text_id, name, kinds.get(name, name), written_value(value)))
    return pl.DataFrame(rows, schema=TAKEN, orient="row")


def keep_brought(folder: Path, name: str, known: Sequence[int], taken: pl.DataFrame) -> list[str]:
    """Lay aside, until the delivery is brought in, which texts a batch brought again and what is taken over;
    the names of what was laid aside."""
    if not known:
        return []
    place = folder / name
    place.mkdir(parents=True, exist_ok=True)
    np.save(place / "known.npy", np.asarray(known, np.int64))
    taken.write_ipc(place / "taken.arrow", compression="lz4")
    return [name]


def read_brought(folder: Path, names: Sequence[str]) -> tuple[np.ndarray, pl.DataFrame]:
    """Text ids, and what is taken over (columns of TAKEN), of all batches."""
    known = [np.load(folder / name / "known.npy") for name in names]
    taken = [pl.read_ipc(folder / name / "taken.arrow") for name in names]
    ids = np.concatenate(known) if known else np.empty(0, np.int64)
    return ids, pl.concat(taken) if taken else pl.DataFrame(schema=TAKEN)
