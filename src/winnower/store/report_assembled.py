"""A report put together: its pieces as blocks, from the project as it is now."""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable, Sequence
from typing import Any

from winnower.core.coding import Passages, count_codes
from winnower.core.errors import NotFound, WinnowerError
from winnower.core.report import (
    AnyPiece,
    Block,
    CodebookPiece,
    DictionaryPiece,
    Drawing,
    Figure,
    FindingPiece,
    Grid,
    GridColumn,
    Heading,
    HeadingPiece,
    MethodPiece,
    Missing,
    NotePiece,
    OverviewPiece,
    Part,
    Prose,
    QualityPiece,
    QuotesPiece,
    Report,
    WordsPiece,
    method_section,
    numbers_of,
)
from winnower.core.report.markdown import escaped
from winnower.store import dictionaries, notes
from winnower.store.answering import Room
from winnower.store.codebook import codebook_of
from winnower.store.models import ReportPiece, ReportRow
from winnower.store.report_answers import Told, told
from winnower.store.report_facts import facts_of, overview, quality
from winnower.store.report_quotes import of_rows, quotes_of
from winnower.store.reports import pieces_of, value_of

#: So many of a finding's sentences, and terms of a category, stand in a report.
MOST_SENTENCES, MOST_TERMS = 6, 400
DEEPEST = 4


def assembled(room: Room, passages: Callable[[], Passages], row: ReportRow) -> Report:
    """All pieces of a report, in order. What cannot be shown is told in its place, and the others follow."""
    return Assembler(room, passages).report(row, pieces_of(room.session, row.id))


class Assembler:
    """Makes blocks of pieces; each finding is asked once."""

    def __init__(self, room: Room, passages: Callable[[], Passages]) -> None:
        self._room, self._passages = room, passages
        self._level = 1
        self._told: dict[int, Told | str] = {}
        self._findings: list[int] = []
        self._drawings: dict[str, Drawing] = {}

    def report(self, row: ReportRow, rows: Sequence[ReportPiece]) -> Report:
        pieces: list[tuple[int, AnyPiece | None]] = []
        for one in rows:
            try:
                pieces.append((one.id, value_of(one)))
            except WinnowerError:
                pieces.append((one.id, None))
        self._findings = [piece.finding for _, piece in pieces if isinstance(piece, FindingPiece)]
        parts = tuple(Part(piece_id, tuple(self._blocks(piece))) for piece_id, piece in pieces)
        day = dt.datetime.now(dt.UTC).date()
        lines = (self._room.project.name, f"{day.day} {day:%B %Y}")
        return Report(row.title, lines, parts, self._drawings)

    def _blocks(self, piece: AnyPiece | None) -> list[Block]:
        if piece is None:
            return [Missing("This part cannot be read any more.")]
        make: dict[type, Callable[[Any], list[Block]]] = {
            HeadingPiece: self._heading,
            WordsPiece: lambda one: [Prose(one.body)] if one.body.strip() else [],
            FindingPiece: self._finding,
            NotePiece: self._note,
            QuotesPiece: lambda one: quotes_of(self._room, self._passages(), one),
            OverviewPiece: lambda _: overview(self._room),
            DictionaryPiece: self._dictionary,
            CodebookPiece: lambda _: self._codebook(),
            QualityPiece: lambda _: quality(self._room),
            MethodPiece: lambda _: self._method(),
        }
        try:
            return make[type(piece)](piece)
        except NotFound as error:
            return [Missing(error.message)]
        except WinnowerError as error:
            return [Missing(f"This part could not be made: {error.message}")]

    def _heading(self, piece: HeadingPiece) -> list[Block]:
        self._level = piece.level
        return [Heading(piece.words, piece.level)] if piece.words.strip() else []

    def _below(self) -> int:
        return min(self._level + 1, DEEPEST)

    def _asked(self, finding_id: int) -> Told:
        if finding_id not in self._told:
            try:
                self._told[finding_id] = told(self._room, finding_id)
            except WinnowerError as error:
                self._told[finding_id] = error.message
        found = self._told[finding_id]
        if isinstance(found, str):
            raise NotFound(found)
        return found

    def _finding(self, piece: FindingPiece) -> list[Block]:
        one = self._asked(piece.finding)
        blocks: list[Block] = [Heading(one.row.title, self._below())]
        if one.failed:
            blocks.append(
                Missing(f"It cannot be asked now, so what it said before stands here. {one.failed}")
            )
        if one.row.remark.strip():
            blocks.append(Prose(escaped(one.row.remark)))
        if piece.says and one.answer.statements:
            said = one.answer.statements[:MOST_SENTENCES]
            blocks.append(Prose("\n".join(f"- {escaped(sentence.headline)}" for sentence in said)))
            if details := " ".join(sentence.details for sentence in said if sentence.details):
                blocks.append(Prose(f"*{escaped(details)}*"))
        if piece.picture and any(sheet.rows for sheet in one.answer.sheets):
            name, drawing = one.drawing()
            self._drawings[name] = drawing
            blocks.append(Figure(one.row.title, name, one.row.id, one.answer.base))
        if piece.numbers:
            grid = numbers_of(one.view, one.answer, one.row.title)
            blocks += [grid] if grid is not None else []
        return blocks

    def _note(self, piece: NotePiece) -> list[Block]:
        row = notes.note_of(self._room.session, self._room.project.id, piece.note)
        found, _ = notes.notes_of(self._room.session, self._room.project.id, notes.Asked(ids=(row.id,)))
        if not found:
            raise NotFound("The text this note is on is not part of the corpus now.")
        blocks: list[Block] = [Heading(row.title, self._below())] if row.title else []
        rows = notes.quotes_in(self._room.session, [row])[row.id]
        quotes = dict(zip([one.id for one in rows], of_rows(self._room, rows), strict=True))
        at = 0
        for link in notes.QUOTE.finditer(row.body):
            blocks += _prose(row.body[at : link.start()])
            quote = quotes.get(int(link[1]))
            blocks += [quote] if quote is not None else []
            at = link.end()
        return [*blocks, *_prose(row.body[at:])]

    def _dictionary(self, piece: DictionaryPiece) -> list[Block]:
        row = dictionaries.dictionary_row(self._room.session, self._room.project.id, piece.dictionary)
        value = dictionaries.load_value(self._room.session, row)
        lines = []
        for category in value.categories:
            terms = [entry.source for entry in category.terms]
            more = f"; {len(terms) - MOST_TERMS:,} more" if len(terms) > MOST_TERMS else ""
            name = " > ".join(category.path)
            lines.append((name, f"{len(terms):,}", "; ".join(terms[:MOST_TERMS]) + more))
        heads = (GridColumn("category"), GridColumn("terms", True), GridColumn("as they are written"))
        blocks: list[Block] = [Heading(f"Dictionary {row.name}", self._below())]
        if row.description.strip():
            blocks.append(Prose(escaped(row.description)))
        return [*blocks, Grid(f"Terms of {row.name}", heads, tuple(lines))]

    def _codebook(self) -> list[Block]:
        book = codebook_of(self._room.session, self._room.project.id)
        counts = count_codes(self._passages(), book.below())
        lines = tuple(
            (
                " > ".join(book.tree.path(row.id)),
                " ".join(
                    part
                    for part in (row.description, _told("Rule", row.rule), _told("Example", row.example))
                    if part
                ),
                f"{counts[row.id].passages:,}",
                f"{counts[row.id].texts:,}",
            )
            for row in book.codes
        )
        heads = (
            GridColumn("code"),
            GridColumn("definition"),
            GridColumn("passages", True),
            GridColumn("texts", True),
        )
        if not lines:
            return [Missing("There is no code in the codebook yet.")]
        return [Heading("Codebook", self._below()), Grid("Codes and how often they were given", heads, lines)]

    def _method(self) -> list[Block]:
        asked = []
        for finding in dict.fromkeys(self._findings):
            try:
                one = self._asked(finding)
            except NotFound:
                continue
            asked.append((f"“{one.row.title}”", one))
        return method_section(facts_of(self._room, self._passages(), asked))


def _told(name: str, words: str) -> str:
    return f"{name}: {words}" if words.strip() else ""


def _prose(body: str) -> list[Block]:
    return [Prose(body.strip())] if body.strip() else []
