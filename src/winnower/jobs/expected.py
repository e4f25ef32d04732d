"""What an import would do, counted without storing anything."""

from __future__ import annotations

import time
from dataclasses import dataclass
from typing import Any

import numpy as np

from winnower.jobs.identity import Identities, KnownIdentities, content_hashes, shorten
from winnower.jobs.sources import Pieces
from winnower.settings import Settings
from winnower.store.database import Database
from winnower.store.imports import identities_of, stored_contents

SECONDS = 8.0


@dataclass
class Expected:
    """Counts of texts as an import's report would give them; ``everything`` unless time was over."""

    new: int = 0
    placeholders: int = 0
    known: int = 0
    changed: int = 0
    refused: int = 0
    everything: bool = True
    share: float = 1.0


def expect_import(
    database: Database, settings: Settings, project_id: int, params: dict[str, Any]
) -> Expected:
    """Read the files as the import will, for at most SECONDS."""
    out = Expected()
    deadline = time.monotonic() + SECONDS
    pieces = Pieces(params, settings)
    identities, seen = Identities(), dict[bytes, bytes]()
    known = KnownIdentities(_stored(database, project_id))
    for piece in pieces:
        contents = content_hashes(piece.texts)
        ids = identities.of(piece.texts, contents)
        maybe = known.maybe(ids)
        stored: dict[bytes, bytes] = {}
        if maybe.any():
            with database.session() as session:
                stored = stored_contents(session, project_id, [ids[i] for i in np.flatnonzero(maybe)])
        for at, (identity, content) in enumerate(zip(ids, contents, strict=True)):
            before = seen.get(identity) or stored.get(identity)
            if before is None:
                out.new += 1
                out.placeholders += not piece.texts.body[at]
                seen[identity] = content
            elif before == content or piece.texts.key[at] is None:
                out.known += 1
            else:
                out.changed += 1
        out.refused += sum(not problem.kept for problem in piece.problems)
        if time.monotonic() > deadline:
            out.share = pieces.bytes_done / max(pieces.bytes_total, 1)
            out.everything = out.share >= 1
            break
    return out


def _stored(database: Database, project_id: int) -> np.ndarray:
    with database.session() as session:
        parts = [shorten(list(part)) for part in identities_of(session, project_id, finished=True)]
    return np.concatenate(parts) if parts else np.empty(0, np.uint64)
