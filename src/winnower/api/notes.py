"""Notes: found, written, filled with quotes, taken along as a file."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np
from fastapi import APIRouter, Response

from winnower.api.context import Desk, Reading, Seen, Writing
from winnower.api.evidence import origin_of, standing_public
from winnower.api.files import WORD, download
from winnower.api.schemas import notes as n
from winnower.api.schemas.variables import Changed
from winnower.core.coding import Standing, Standings, origin_in_words, paragraph_at
from winnower.core.errors import WinnowerError
from winnower.store import codebook, notes
from winnower.store.findings import finding_in, question_in
from winnower.store.models import NoteRow, QuoteRow
from winnower.store.reading import standings_in
from winnower.store.texts import bodies, text_of
from winnower.writers.flow import Piece, pieces_docx, pieces_markdown, quoted

router = APIRouter(prefix="/projects/{project_id}")
MOST_EXPORTED = 1_000
WORDS_SHOWN = 300


@router.post("/notes/find")
def find(desk: Reading, asked: n.NotesRequest) -> n.NotesPage:
    """Notes by words, type, author and what they hang on, a page at a time."""
    found, total = notes.notes_of(desk.session, desk.project.id, _asked(asked), asked.start, asked.most)
    kinds, authors = notes.kinds_and_authors(desk.session, desk.project.id)
    return n.NotesPage(
        total=total,
        start=asked.start,
        notes=publics(desk, found),
        kinds=[n.KindCount(kind=kind, notes=count) for kind, count in kinds],
        authors=[n.AuthorCount(id=one, name=name, notes=count) for one, name, count in authors],
    )


def _asked(asked: n.NotesRequest) -> notes.Asked:
    values = asked.model_dump(exclude={"start", "most", "ids"})
    return notes.Asked(**values, ids=None if asked.ids is None else tuple(asked.ids))


def publics(desk: Desk, found: Sequence[notes.Note]) -> list[n.NotePublic]:
    """Notes with their quotes and the words they are on; every text is read once."""
    quotes = notes.quotes_in(desk.session, [one.row for one in found])
    texts = {one.row.text_id for one in found if one.row.start is not None}
    texts |= {quote.text_id for some in quotes.values() for quote in some}
    body = bodies(desk.session, [text_id for text_id in texts if text_id is not None])
    ids = sorted(body)
    places = dict(zip(ids, desk.corpus.places_of(np.asarray(ids, np.int64)).tolist(), strict=True))
    standings = standings_in(desk.session, ids)
    return [
        n.NotePublic(
            id=one.row.id,
            kind=one.row.kind,
            title=one.row.title,
            body=one.row.body,
            author=one.author,
            mine=one.row.made_by == desk.account.id,
            made_at=one.row.made_at,
            revision=one.row.revision,
            text_id=one.row.text_id,
            text_title=one.text_title,
            start=one.row.start,
            end=one.row.end,
            words=body.get(one.row.text_id or 0, "")[one.row.start : one.row.end][:WORDS_SHOWN]
            if one.row.start is not None
            else "",
            code_id=one.row.code_id,
            code_name=one.code_name,
            finding_id=one.row.finding_id,
            finding_title=one.finding_title,
            question_id=one.row.question_id,
            question_words=one.question_words,
            quotes=[_quote(desk, quote, body, places, standings) for quote in quotes[one.row.id]],
        )
        for one in found
    ]


def _quote(
    desk: Desk, row: QuoteRow, body: dict[int, str], places: dict[int, int], standings: Standings
) -> n.QuotePublic:
    """A quote with the words its text has now; those of the day where text or words are gone."""
    place = places.get(row.text_id or 0, -1)
    gone = place < 0 or row.text_id is None or row.start is None or row.end is None
    title, source, date = ("", None, None) if place < 0 else origin_of(desk, place)
    words, paragraph = row.words, None
    if not gone:
        words = body[row.text_id or 0][row.start : row.end]
        paragraph = paragraph_at(body[row.text_id or 0], row.start or 0)
    return n.QuotePublic(
        id=row.id,
        text_id=None if place < 0 else row.text_id,
        start=row.start,
        end=row.end,
        words=words,
        gone=gone,
        title=title,
        source=source,
        date=date,
        paragraph=paragraph,
        standing=standing_public(Standing() if gone else standings.at(row.text_id or 0, row.start or 0)),
    )


def public_note(desk: Desk, row: NoteRow) -> n.NotePublic:
    desk.session.flush()
    found, _ = notes.notes_of(desk.session, desk.project.id, notes.Asked(ids=(row.id,)))
    return publics(desk, found)[0]


@router.post("/notes", status_code=201)
def make(desk: Writing, given: n.NoteCreate) -> n.NotePublic:
    """A note on a text, words, a code, a passage or the project."""
    on = "the project"
    if given.text_id is not None:
        text, body, _ = text_of(desk.session, desk.project.id, given.text_id)
        start, end = given.start, given.end
        if (start is None) != (end is None) or (end is not None and not (start or 0) < end <= len(body)):
            raise WinnowerError("The stretch this note is on lies outside the text.")
        on = f"“{text.title[:120]}”"
    elif given.start is not None or given.end is not None:
        raise WinnowerError("A note on a stretch names its text.")
    if given.code_id is not None:
        code = codebook.codebook_of(desk.session, desk.project.id).code(given.code_id)
        on = f"{code.name} in {on}" if given.text_id is not None else f"code {code.name}"
    if given.finding_id is not None:
        on = f"finding “{finding_in(desk.session, desk.project.id, given.finding_id).title[:120]}”"
    if given.question_id is not None:
        on = f"question “{question_in(desk.session, desk.project.id, given.question_id).words[:120]}”"
    recorder = desk.recorder(f"Note on {on}")
    row = notes.make_note(recorder, desk.account.full_name, **given.model_dump())
    recorder.save()
    return public_note(desk, row)


@router.patch("/notes/{note_id}")
def change(desk: Writing, note_id: int, given: n.NoteUpdate) -> n.NotePublic:
    """Write in a note, give it another type or title, hang it on another code (0: on none)."""
    note = notes.note_of(desk.session, desk.project.id, note_id)
    values = given.model_dump(exclude={"revision"}, exclude_none=True)
    if "code_id" in values:
        values["code_id"] = values["code_id"] or None
        if values["code_id"]:
            codebook.codebook_of(desk.session, desk.project.id).code(values["code_id"])
    recorder = desk.recorder(f"Change note {note.title}".strip())
    notes.change_note(recorder, note, values, given.revision)
    recorder.save()
    return public_note(desk, note)


@router.delete("/notes/{note_id}")
def delete(desk: Writing, note_id: int, revision: Seen) -> Changed:
    note = notes.note_of(desk.session, desk.project.id, note_id)
    recorder = desk.recorder(f"Delete note {note.title}".strip())
    notes.delete_note(recorder, note, revision)
    recorder.save()
    return Changed(texts=1, label=recorder.label)


@router.post("/notes/quotes", status_code=201)
def quote(desk: Writing, given: n.QuotesCreate) -> n.NotePublic:
    """Pull words of texts into a note, at its end."""
    places = [(one.text_id, one.start, one.end) for one in given.places]
    for text_id in {text_id for text_id, _, _ in places}:
        text_of(desk.session, desk.project.id, text_id)
    recorder = desk.recorder(f"Quote {len(places)} passages" if len(places) > 1 else "Quote a passage")
    if given.note_id is None:
        note = notes.make_note(recorder, desk.account.full_name, "", title=given.title or "Quotes")
    else:
        note = notes.note_of(desk.session, desk.project.id, given.note_id)
    notes.add_quotes(recorder, note, places)
    recorder.save()
    return public_note(desk, note)


@router.post("/notes/export")
def export(desk: Reading, asked: n.NotesRequest, form: Literal["docx", "md"] = "docx") -> Response:
    """The notes asked for with their quotes as Word or Markdown, at most 1,000."""
    found, _ = notes.notes_of(desk.session, desk.project.id, _asked(asked), 0, MOST_EXPORTED)
    pieces = [_piece(one) for one in publics(desk, found)]
    title = f"Notes: {desk.project.name}"
    if form == "md":
        return download(pieces_markdown(title, pieces), "notes.md", "text/markdown; charset=utf-8")
    return download(pieces_docx(title, pieces), "notes.docx", WORD)


def _piece(note: n.NotePublic) -> Piece:
    by = ", ".join(part for part in (note.kind, note.author, f"{note.made_at:%d %B %Y}") if part)
    named = (
        note.text_title,
        note.code_name and f"code {note.code_name}",
        note.finding_title and f"finding “{note.finding_title}”",
        note.question_words and f"question “{note.question_words}”",
    )
    on = [part for part in named if part]
    said = {quote.id: quoted(quote.words, origin_line(quote)) for quote in note.quotes}
    body = notes.QUOTE.sub(lambda found: f"\n\n{said.get(int(found[1]), '')}\n\n", note.body)
    if note.words:
        body = f"> {' '.join(note.words.split())}\n\n{body}"
    return Piece(note.title, (by, f"On {', '.join(on)}" if on else ""), body)


def origin_line(quote: n.QuotePublic) -> str:
    """Who says a quote and where it is from."""
    if not quote.title and quote.gone:
        return "the text is no longer in the corpus"
    if quote.paragraph:
        standing = Standing(**quote.standing.model_dump())
        return origin_in_words(standing, quote.source, quote.date, quote.title, quote.paragraph)
    parts = (quote.source, quote.date, quote.title, "these words are no longer in the text")
    return ", ".join(part for part in parts if part)
