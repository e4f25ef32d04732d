"""Texts corrected or filled: body, counts, index, notes and places in one change that can be undone."""

from __future__ import annotations

from collections.abc import Mapping
from hashlib import blake2b
from pathlib import Path

from sqlalchemy import select

from winnower.core.coding import Moves
from winnower.core.errors import Conflict, NotFound, WinnowerError
from winnower.core.tokens import clean
from winnower.store.anchored import OnWords
from winnower.store.history import Recorder
from winnower.store.models import Delivery, TextBody, TextEdit, TextRow
from winnower.store.reindex import move_places, rewrite

HASH_BYTES = 16


def correct_texts(
    recorder: Recorder,
    folder: Path,
    bodies: Mapping[int, str],
    what: str,
    *,
    revisions: Mapping[int, int] | None = None,
    limit_chars: int = 20_000_000,
) -> int:
    """Give texts new bodies; how many changed. The project's row must be locked.

    Notes on words move with them; where all words of a note are gone it stays as a note on the whole
    text. Raises Conflict where a text is no longer at its revision.
    """
    session = recorder.session
    rows = {
        row.id: row
        for row in session.scalars(
            select(TextRow)
            .join(Delivery, Delivery.id == TextRow.delivery_id)
            .where(
                TextRow.id.in_(bodies), TextRow.project_id == recorder.project_id, Delivery.state == "done"
            )
        )
    }
    if len(rows) != len(bodies):
        raise NotFound("There is no such text in this project.")
    stored = {row.text_id: row for row in session.scalars(select(TextBody).where(TextBody.text_id.in_(rows)))}
    wanted: dict[int, str] = {}
    for text_id, given in bodies.items():
        if revisions and rows[text_id].revision != revisions[text_id]:
            raise Conflict(
                "Somebody corrected this text in the meantime. Your words are still in the field; copy them, "
                "read the text again, and put them in.",
                {"body": stored[text_id].body, "revision": rows[text_id].revision},
            )
        body = clean(given)[0].strip()
        if len(body) > limit_chars:
            raise WinnowerError(
                f"The text has {len(body):,} characters; the limit is {limit_chars:,} (WINNOWER_LIMIT_TEXT_CHARS)."
            )
        if body != stored[text_id].body:
            wanted[text_id] = body
    if not wanted:
        return 0
    words = rewrite(session, recorder.project, folder, bodies=wanted)
    on_words = OnWords(recorder, wanted)
    for text_id, body in wanted.items():
        _store(recorder, rows[text_id], stored[text_id], body, words[text_id], what, on_words)
    return len(wanted)


def _store(
    recorder: Recorder,
    row: TextRow,
    stored: TextBody,
    body: str,
    words: int,
    what: str,
    on_words: OnWords,
) -> None:
    body_before = stored.body
    recorder.insert(
        TextEdit(text_id=row.id, before=body_before, what=what[:200], made_by=recorder.account_id)
    )
    content = blake2b(body.encode(), digest_size=HASH_BYTES).digest()
    recorder.update(stored, {"body": body})
    recorder.update(row, {"content": content, "words": words, "placeholder": not body})
    moves = Moves(body_before, body)
    move_places(recorder.session, row.id, moves)
    on_words.follow(row.id, moves)
