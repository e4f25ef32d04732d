"""Quotes of a report: passages under a code, of a text or source, and those that were chosen for a question."""

from __future__ import annotations

import re
from collections.abc import Collection, Sequence

import numpy as np

from winnower.core.coding import Passages, Standings, origin_in_words, paragraph_at
from winnower.core.report import Block, Missing, Prose, Quote, QuotesPiece
from winnower.core.scope import CategoryColumn
from winnower.store.answering import Room
from winnower.store.codebook import codebook_of
from winnower.store.findings import question_in
from winnower.store.models import NoteRow, QuoteRow
from winnower.store.notes import QUOTE, Asked, notes_of, quotes_in
from winnower.store.reading import standings_in
from winnower.store.texts import bodies, origin_at

#: Words of a longer passage are cut.
MOST_CHARS = 1_500
SHORT_CHARS = 40
MOST_NOTES = 1_000


def quotes_of(room: Room, passages: Passages, piece: QuotesPiece) -> list[Block]:
    """The quotes a piece asks for; where there are more, a line that says so. Raises NotFound."""
    if piece.question is not None or piece.note is not None:
        return _chosen(room, piece)
    codes: Collection[int] | None = None
    if piece.code is not None:
        book = codebook_of(room.session, room.project.id)
        codes = book.tree.below(book.code(piece.code).id)
    at, total = _picked(room, passages, piece, codes)
    some = passages.taken(at)
    stretches = list(zip(some.text_id.tolist(), some.start.tolist(), some.end.tolist(), strict=True))
    blocks: list[Block] = list(_quoted(room, stretches))
    if not blocks:
        return [Missing("There is no passage to quote here yet.")]
    if total > len(blocks):
        blocks.append(Prose(f"*{len(blocks):,} of {total:,} passages are quoted.*"))
    return blocks


def _picked(
    room: Room, passages: Passages, piece: QuotesPiece, codes: Collection[int] | None
) -> tuple[np.ndarray, int]:
    """Which passages, by their place among all, and how many different ones fit."""
    rows = np.arange(len(passages)) if codes is None else np.sort(passages.under(codes))
    place = room.corpus.places_of(passages.text_id[rows])
    kept = place >= 0
    if piece.text is not None:
        kept &= passages.text_id[rows] == piece.text
    source = room.corpus.columns.fields["source"]
    assert isinstance(source, CategoryColumn)
    if piece.source is not None:
        number = source.labels.index(piece.source) if piece.source in source.labels else -2
        kept &= source.codes[np.maximum(place, 0)] == number
    rows, place = rows[kept], place[kept]
    # several coders, or several codes, on the same words are one quote
    order = np.lexsort((passages.end[rows], passages.start[rows], passages.text_id[rows]))
    rows, place = rows[order], place[order]
    fresh = np.zeros(len(rows), bool)
    fresh[:1] = True
    for column in (passages.text_id, passages.start, passages.end):
        fresh[1:] |= np.diff(column[rows]) != 0
    rows, place = rows[fresh], place[fresh]
    if piece.spread:
        # a word or two say little by themselves: they come last
        short = passages.end[rows] - passages.start[rows] < SHORT_CHARS
        in_text = _ranked(passages.text_id[rows], short)
        drawn = _drawn(passages.text_id[rows])
        order = _ranked(source.codes[place], in_text + len(rows) * short + drawn)
        rows = rows[np.lexsort((source.codes[place], order))]
    return rows[: piece.most], len(rows)


def _drawn(text_id: np.ndarray) -> np.ndarray:
    """A number from 0 to below 1 for each text, as if by chance and always the same: so quotes come from all texts and
    not from the first ones, and stay as others come. The mixing step of SplitMix64 (Steele and others 2014, OOPSLA)."""
    mixed = text_id.astype(np.uint64) * np.uint64(0x9E3779B97F4A7C15)
    mixed = (mixed ^ (mixed >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    mixed = (mixed ^ (mixed >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    return ((mixed ^ (mixed >> np.uint64(31))) >> np.uint64(11)) / float(2**53)


def _ranked(group: np.ndarray, by: np.ndarray) -> np.ndarray:
    """The rank of each within its group, by a number and then as they come."""
    order = np.lexsort((np.arange(len(group)), by, group))
    begins = np.flatnonzero(np.diff(group[order], prepend=-9)) if len(order) else order
    first = np.zeros(len(order), np.int64)
    first[begins] = begins
    rank = np.empty(len(order), np.int64)
    rank[order] = np.arange(len(order)) - np.maximum.accumulate(first)
    return rank


def _quoted(room: Room, stretches: Sequence[tuple[int, int, int]]) -> list[Quote]:
    ids = sorted({text_id for text_id, _, _ in stretches})
    body = bodies(room.session, ids)
    places = dict(zip(ids, room.corpus.places_of(np.asarray(ids, np.int64)).tolist(), strict=True))
    standings = standings_in(room.session, ids)
    return [
        _quote(room, places[text_id], text_id, body[text_id], (start, end), standings)
        for text_id, start, end in stretches
        if places[text_id] >= 0 and text_id in body
    ]


def _quote(
    room: Room, place: int, text_id: int, body: str, stretch: tuple[int, int], standings: Standings
) -> Quote:
    """Words with who says them and where they are from."""
    title, source, date = origin_at(room.corpus, place)
    paragraph = paragraph_at(body, stretch[0])
    origin = origin_in_words(standings.at(text_id, stretch[0]), source, date, title, paragraph)
    return Quote(cut(body[stretch[0] : stretch[1]]), origin, text_id, paragraph)


def cut(words: str) -> str:
    """Words that fit a quote; a longer one ends at a word, with an ellipsis."""
    words = words.strip()
    if len(words) <= MOST_CHARS:
        return words
    return re.sub(r"\s+\S*$", "", words[:MOST_CHARS]) + " …"


def _chosen(room: Room, piece: QuotesPiece) -> list[Block]:
    """Quotes in the notes that hang on a question, or in one note, in the order they were pulled in."""
    if piece.question is not None:
        question_in(room.session, room.project.id, piece.question)
    asked = Asked(question_id=piece.question, sort="oldest")
    if piece.question is None:
        asked = Asked(ids=(piece.note or 0,))
    notes = [one.row for one in notes_of(room.session, room.project.id, asked, 0, MOST_NOTES)[0]]
    of = quotes_in(room.session, notes)
    rows = [row for note in notes for row in in_order(note, of[note.id])]
    blocks: list[Block] = list(of_rows(room, rows[: piece.most]))
    if not blocks:
        return [Missing("No quote was chosen here yet.")]
    if len(rows) > len(blocks):
        blocks.append(Prose(f"*{len(blocks):,} of {len(rows):,} chosen quotes are shown.*"))
    return blocks


def in_order(note: NoteRow, rows: Sequence[QuoteRow]) -> list[QuoteRow]:
    """Quotes in the order in which they stand in their note."""
    by_id = {row.id: row for row in rows}
    return [by_id[int(one)] for one in QUOTE.findall(note.body) if int(one) in by_id]


def of_rows(room: Room, rows: Sequence[QuoteRow]) -> list[Quote]:
    """Quotes with the words their texts have now; those of the day where text or words are gone."""
    ids = sorted({row.text_id for row in rows if row.text_id is not None})
    body = bodies(room.session, ids)
    places = dict(zip(ids, room.corpus.places_of(np.asarray(ids, np.int64)).tolist(), strict=True))
    standings = standings_in(room.session, ids)
    found = []
    for row in rows:
        place = places.get(row.text_id or 0, -1)
        if place < 0 or row.text_id is None:
            found.append(Quote(cut(row.words), "the text is no longer in the corpus"))
        elif row.start is None or row.end is None:
            title, source, date = origin_at(room.corpus, place)
            said = [part for part in (source, date, title) if part]
            found.append(Quote(cut(row.words), ", ".join([*said, "these words are no longer in the text"])))
        else:
            stretch = (row.start, row.end)
            found.append(_quote(room, place, row.text_id, body[row.text_id], stretch, standings))
    return found
