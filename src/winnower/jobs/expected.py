"""What an import would do, counted without storing anything."""

from __future__ import annotations

import time
from dataclasses import dataclass, field
from typing import Any, NamedTuple

import numpy as np

from winnower.core.coding import Stretch, differences
from winnower.jobs.again import Known, Met, compare, find_stored
from winnower.jobs.corrected import Nearly, NearTexts
from winnower.jobs.identity import (
    MOST_AGREEING,
    START_CHARS,
    Agreeing,
    Identities,
    KnownIdentities,
    content_hashes,
    shorten,
)
from winnower.jobs.sources import Piece, Pieces
from winnower.jobs.storing import not_into
from winnower.settings import Settings
from winnower.store.corpus import open_corpus, variables_of
from winnower.store.database import Database, Session
from winnower.store.imports import identities_of
from winnower.store.models import Project
from winnower.store.opened import OpenCorpus
from winnower.store.texts import bodies

#: Rows that differ and are shown one by one.
MOST_EXAMPLES = 300
SECONDS = 8.0


@dataclass
class Example:
    """A row that is in the project already and differs: by identity in hex, with its differences."""

    identity: str
    name: str
    file: str
    row: int
    corrected: bool
    words: list[Stretch] = field(default_factory=list)
    values: list[tuple[str, str, str]] = field(default_factory=list)


@dataclass
class Perhaps:
    """A new row that is perhaps the corrected form of a text that is there."""

    identity: str
    text_id: int
    name: str
    file: str
    row: int
    words: list[Stretch] = field(default_factory=list)


@dataclass
class Expected:
    """Counts of texts as an import's report would give them; ``everything`` unless time was over. ``fields``
    counts, by field, texts that have another value and texts that have none yet; ``examples`` are the
    first rows that differ from what is stored, ``agreeing`` rows of the delivery that agree with one another,
    ``conflicts`` say which columns cannot be taken as they are."""

    new: int = 0
    placeholders: int = 0
    known: int = 0
    other_values: int = 0
    changed: int = 0
    twice: int = 0
    alike: int = 0
    refused: int = 0
    everything: bool = True
    share: float = 1.0
    fields: dict[str, list[int]] = field(default_factory=dict)
    examples: list[Example] = field(default_factory=list)
    agreeing: list[Agreeing] = field(default_factory=list)
    conflicts: list[str] = field(default_factory=list)
    #: New rows that are nearly a text that is there, of its source and day: ``nearly`` counts, the first are shown.
    nearly: int = 0
    perhaps: list[Perhaps] = field(default_factory=list)


class _Seen(NamedTuple):
    """A text of this delivery: its content, and where it stands."""

    content: bytes
    file: str
    line: int


def expect_import(
    database: Database, settings: Settings, project_id: int, params: dict[str, Any]
) -> Expected:
    """Read the files as the import will, for at most SECONDS."""
    out = Expected()
    deadline = time.monotonic() + SECONDS
    pieces = Pieces(params, settings)
    identities, seen = Identities(examples=True), dict[bytes, _Seen]()
    known = KnownIdentities(_stored(database, project_id))
    near: NearTexts | None = None
    with database.session() as session:
        variables = {one.name: one for one in variables_of(session, project_id)}
    for piece in pieces:
        told = [
            reason
            for target in piece.mapping.variables
            if (one := variables.get((target.name or target.column)[:200]))
            and (reason := not_into(one, target))
        ]
        out.conflicts += [reason for reason in dict.fromkeys(told) if reason not in out.conflicts]
        contents = content_hashes(piece.texts)
        ids = identities.of(piece.texts, contents, piece.mapping)
        stored: dict[bytes, tuple[int, bytes]] = {}
        if wanted := known.candidates(ids, identities.former):
            with database.session() as session:
                stored = find_stored(session, project_id, wanted, identities.former)
        there, fresh = _count(out, piece, ids, contents, stored, seen)
        with database.session() as session:
            _compare(session, project_id, out, piece, contents, there)
            if fresh and len(known):
                near = near or NearTexts(_corpus(session, settings, project_id))
                _note_nearly(out, near.find(session, piece.texts, fresh), piece, ids)
        out.refused += sum(not problem.kept for problem in piece.problems)
        if time.monotonic() > deadline:
            out.share = pieces.bytes_done / max(pieces.bytes_total, 1)
            out.everything = out.share >= 1
            break
    out.alike = identities.alike
    out.agreeing = (out.agreeing + identities.agreeing)[:MOST_AGREEING]
    return out


def _count(
    out: Expected,
    piece: Piece,
    ids: list[bytes],
    contents: list[bytes],
    stored: dict[bytes, tuple[int, bytes]],
    seen: dict[bytes, _Seen],
) -> tuple[list[Known], list[int]]:
    """Count what is new or came before in this delivery; the rows that are in the project, and those that are new."""
    there, fresh = [], []
    for at, (identity, content) in enumerate(zip(ids, contents, strict=True)):
        if identity in stored:
            there.append(Known(at, stored[identity][0], identity, stored[identity][1]))
        elif identity not in seen:
            out.new += 1
            out.placeholders += not piece.texts.body[at]
            seen[identity] = _Seen(content, piece.texts.file[at], piece.texts.line[at])
            fresh.append(at)
        else:
            before, other = seen[identity], seen[identity].content != content
            out.twice += other
            out.known += not other
            if len(out.agreeing) < MOST_AGREEING:
                place = (piece.texts.file[at], piece.texts.line[at])
                start = piece.texts.body[at][:START_CHARS]
                out.agreeing.append(Agreeing((before.file, before.line), place, start, other))
    return there, fresh


def _corpus(session: Session, settings: Settings, project_id: int) -> OpenCorpus:
    project = session.get_one(Project, project_id)
    return open_corpus(session, project, settings.index / str(project_id))


def _note_nearly(out: Expected, found: list[Nearly], piece: Piece, ids: list[bytes]) -> None:
    texts = piece.texts
    out.nearly += len(found)
    for one in found[: MOST_EXAMPLES - len(out.perhaps)]:
        out.perhaps.append(
            Perhaps(
                identity=ids[one.at].hex(),
                text_id=one.text_id,
                name=texts.key[one.at] or texts.title[one.at],
                file=texts.file[one.at],
                row=texts.line[one.at],
                words=differences(one.body, texts.body[one.at]),
            )
        )


def _compare(
    session: Session,
    project_id: int,
    out: Expected,
    piece: Piece,
    contents: list[bytes],
    there: list[Known],
) -> None:
    """Count how rows that are in the project differ, and show the first of them."""
    texts = piece.texts
    shown: list[Met] = []
    for met in compare(session, project_id, texts, contents, there, piece.mapping):
        out.known += met.same
        out.changed += met.other_text
        out.other_values += bool(met.values) and not met.other_text
        for name, (before, _) in met.values.items():
            out.fields.setdefault(name, [0, 0])[before is None] += 1
        if not met.same and len(out.examples) + len(shown) < MOST_EXAMPLES:
            shown.append(met)
    stored = bodies(session, [met.text_id for met in shown if met.other_text]) if shown else {}
    for met in shown:
        out.examples.append(
            Example(
                identity=met.identity.hex(),
                name=texts.key[met.at] or texts.title[met.at],
                file=texts.file[met.at],
                row=texts.line[met.at],
                corrected=met.corrected,
                words=differences(stored[met.text_id], texts.body[met.at]) if met.other_text else [],
                values=[(name, _shown(old), _shown(new)) for name, (old, new) in met.values.items()],
            )
        )


def _shown(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, tuple):
        return "; ".join(value)
    return f"{value:.15g}" if isinstance(value, float) else str(value)[:500]


def _stored(database: Database, project_id: int) -> np.ndarray:
    with database.session() as session:
        parts = [shorten(list(part)) for part in identities_of(session, project_id, finished=True)]
    return np.concatenate(parts) if parts else np.empty(0, np.uint64)
