"""Data for statistics programs from a project: rows and columns of a request, with what only the database knows."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Generic, TypeVar

import numpy as np
import orjson
import polars as pl
from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.core.coding import Passages
from winnower.core.compare import OfDictionary
from winnower.core.compare.targets import Target
from winnower.core.compare.unit import unit_of
from winnower.core.dataset import (
    About,
    DataColumn,
    DataRequest,
    DataRows,
    Kind,
    Names,
    decision_rows,
    field_column,
    frame,
    looked_up_column,
    mean_touching,
    own_column,
    passage_rows,
    request_to_plain,
    sentence_rows,
    shared_value_column,
    summed_columns,
    target_columns,
    text_rows,
    texts_column,
    unit_rows,
    value_columns,
    words_columns,
)
from winnower.core.errors import ComparisonError
from winnower.core.places.units import Units, units_of
from winnower.core.scope import SeveralColumn, Split, describe_fields, scope_in_words
from winnower.core.tone import Scorer, shipped
from winnower.store.bulk import chunks
from winnower.store.codebook import codebook_of
from winnower.store.coding_fields import coders_by_name
from winnower.store.comparing import Lookup
from winnower.store.models import Account, CodingDone, Project, TextRow
from winnower.store.opened import OpenCorpus
from winnower.store.passages import AnyPassage, rows_of
from winnower.store.reading_passages import PassageCache
from winnower.store.run_scored import sentences_at
from winnower.store.texts import bodies
from winnower.store.tones import list_in, words_of

T = TypeVar("T")
ROWS_AT_ONCE = 20_000
#: Rows that need words from the database are read fewer at a time.
WORDS_AT_ONCE = 2_000
#: Fields that say something of one text: of a unit of several they are there only where they are asked for.
OF_ONE_TEXT = {"title", "words", "passages", "codes", "coders"}
ROW_NOUNS: dict[str, str] = {
    "text": "texts",
    "sentence": "sentences",
    "passage": "passages",
    "decision": "decisions",
    "unit": "units",
}


@dataclass(frozen=True)
class Data:
    """A table for statistics that is made some rows at a time."""

    rows: DataRows
    columns: list[DataColumn]
    at_once: int
    noun: str

    def frames(self) -> Iterator[pl.DataFrame]:
        """All rows in order; one frame without rows where there are none."""
        for low in range(0, max(len(self.rows), 1), self.at_once):
            yield frame(self.columns, slice(low, min(low + self.at_once, len(self.rows))))

    def first(self, most: int) -> pl.DataFrame:
        return frame(self.columns, slice(0, min(most, len(self.rows))))


class _Once(Generic[T]):
    """What several columns read for the same rows, read once."""

    def __init__(self, read: Callable[[slice], T]) -> None:
        self._read = read
        self._kept: tuple[slice, T] | None = None

    def __call__(self, some: slice) -> T:
        if self._kept is None or self._kept[0] != some:
            self._kept = (some, self._read(some))
        return self._kept[1]


@dataclass(frozen=True)
class _Desk:
    """What the columns of one request are made from."""

    session: Session
    project: Project
    corpus: OpenCorpus
    request: DataRequest
    mask: np.ndarray
    names: Names

    def about(self, label: str, kind: Kind, values: str, how: str, name: str = "") -> About:
        return About(self.names.of(name or label), label, kind, values, how)


def data_of(session: Session, project: Project, corpus: OpenCorpus, request: DataRequest) -> Data:
    """Rows and columns of a request. Raises ScopeError, NotFound or ComparisonError where it does not fit the project."""
    if corpus.cut and (request.rows != "text" or request.words or request.tone is not None):
        raise ComparisonError(
            "A scope that counts only words under codes fits rows of texts, without their words and tone. Take "
            "that condition out to have others; rows of passages name their codes."
        )
    mask = corpus.ground(request.texts, Split()).mask
    desk = _Desk(session, project, corpus, request, mask, Names())
    if request.rows == "unit":
        return _unit_data(desk)
    if request.rows == "text":
        rows = text_rows(corpus.index, mask)
    elif request.rows == "sentence":
        rows = sentence_rows(corpus.index, mask)
    else:
        rows = _coded_rows(desk)
    columns = [*_own_columns(desk, rows), *_field_columns(desk, rows), *_target_columns(desk, rows)]
    if request.tone is not None:
        columns.append(_tone_column(desk, rows))
    if request.words:
        columns.append(_words_column(desk, rows))
    reads = request.words or request.tone is not None or request.rows == "passage"
    return Data(rows, columns, WORDS_AT_ONCE if reads else ROWS_AT_ONCE, ROW_NOUNS[request.rows])


def _unit_data(desk: _Desk) -> Data:
    """A row for each value of a field, such as a respondent, with what its texts say side by side."""
    request, corpus = desk.request, desk.corpus
    key = request.unit or ""
    unit = unit_of(key, corpus)
    texts = text_rows(corpus.index, desk.mask)
    of_text = np.arange(len(texts.text)) if unit.of_text is None else unit.of_text[texts.text]
    alone = np.zeros(len(texts.text), bool) if unit.alone is None else unit.alone[texts.text]
    across = None if request.across is None else corpus.columns.field(request.across)
    units = unit_rows(texts, np.where(alone, -1, of_text), across)
    fields = [one for one in describe_fields(corpus.columns) if one.key != request.across]
    wanted = [
        one
        for one in fields
        if one.key == key
        or (one.key not in OF_ONE_TEXT if request.fields is None else one.key in request.fields)
    ]
    wanted.sort(key=lambda one: one.key != key)  # whose row it is comes first
    columns = [
        shared_value_column(desk.names.of(one.name), one, corpus.columns.fields[one.key], units)
        for one in wanted
    ]
    columns.insert(1, texts_column(desk.names, units))
    for short, target in _targets(desk):
        columns += summed_columns(desk.names, short, target, corpus, units, desk.mask, request.counted)
    if request.words:
        ids = corpus.columns.text_id[units.texts.text].tolist()
        found = {
            text_id: body
            for some in chunks(ids, WORDS_AT_ONCE)
            for text_id, body in bodies(desk.session, some).items()
        }
        columns += words_columns(desk.names, units, [found.get(one, "") for one in ids])
    return Data(units.rows, columns, ROWS_AT_ONCE, f"values of {corpus.columns.names[key]}")


def _coded_rows(desk: _Desk) -> DataRows:
    passages = PassageCache(desk.corpus.memory).open(desk.session, desk.project, desk.corpus.folder)
    text = _places(desk, passages)
    if desk.request.rows == "passage":
        return passage_rows(desk.corpus.index, passages, text)
    asked = (
        select(CodingDone.text_id, CodingDone.made_by)
        .join(TextRow, TextRow.id == CodingDone.text_id)
        .where(TextRow.project_id == desk.project.id)
    )
    found = np.array(desk.session.execute(asked).tuples().all(), np.int64).reshape(-1, 2)
    place = desk.corpus.places_of(found[:, 0])
    here = place >= 0
    here[here] = desk.mask[place[here]]
    book = codebook_of(desk.session, desk.project.id)
    below = {row.id: sorted(book.tree.below(row.id)) for row in book.codes}
    return decision_rows(desk.corpus.index, passages, text, (place[here], found[here, 1]), below)


def _places(desk: _Desk, passages: Passages) -> np.ndarray:
    """The place of each passage's text, -1 for texts out of the scope."""
    text = desk.corpus.places_of(passages.text_id)
    out = text < 0
    out[~out] = ~desk.mask[text[~out]]
    return np.where(out, -1, text)


def _own_columns(desk: _Desk, rows: DataRows) -> list[DataColumn]:
    """What tells one row from another."""
    kind, own = desk.request.rows, rows.own
    ids = desk.corpus.columns.text_id[rows.text] if len(rows) else np.empty(0, np.int64)
    found = [own_column(desk.about("text id", "whole number", "", "Number of the text in the project."), ids)]
    if kind == "sentence":
        for name, how in (
            ("sentence", "Counted within the text."),
            ("paragraph", "Counted within the text."),
        ):
            found.append(own_column(desk.about(name, "whole number", "1 and more", how), own[name]))
    if kind in ("passage", "decision"):
        found += _coding_columns(desk, rows)
    return found


def _coding_columns(desk: _Desk, rows: DataRows) -> list[DataColumn]:
    own, session = rows.own, desk.session
    book = codebook_of(session, desk.project.id)
    paths = {row.id: " > ".join(book.tree.path(row.id)) for row in book.codes}
    top = {row.id: book.tree.path(row.id)[0] for row in book.codes}
    people = {key: name for name, key in coders_by_name(session, desk.project.id).items()}
    missing = [int(key) for key in np.unique(own["coder"]) if int(key) not in people and key > 0]
    people |= dict(
        session.execute(select(Account.id, Account.full_name).where(Account.id.in_(missing))).tuples().all()
    )
    listed = ", ".join(sorted(paths.values())[:60])
    found = [
        looked_up_column(
            desk.about("code", "category", listed, "The code with those it lies in, from the top down."),
            own["code"],
            paths,
        ),
        looked_up_column(
            desk.about("top code", "category", "", "The code of the top level the code lies in."),
            own["code"],
            top,
        ),
        looked_up_column(
            desk.about("coder", "category", ", ".join(sorted(people.values())), "Who coded, or which run."),
            own["coder"],
            people,
        ),
    ]
    if desk.request.rows == "decision":
        return [
            *found,
            own_column(
                desk.about(
                    "coded", "whole number", "0, 1",
                    "1 where the coder put words of the text under the code or one below it. A coder decided on "
                    "all codes of a text in which they coded anything, or which they marked as done.",
                ),
                own["coded"],
            ),
            own_column(
                desk.about("passages under the code", "whole number", "0 and more", "Counted."), own["passages"]
            ),
        ]  # fmt: skip
    by_run = (own["coder"] < 0).astype(np.int64)
    return [
        own_column(desk.about("passage id", "whole number", "", "Number of the passage; below 0 for runs."), own["passage"]),
        *found,
        own_column(desk.about("by run", "whole number", "0, 1", "1 where a run found it, 0 where a person coded it."), by_run),
        own_column(desk.about("from", "whole number", "", "First sign of the passage in its text, from 0.", "starts"), own["start"]),
        own_column(desk.about("to", "whole number", "", "Sign after its last one.", "ends"), own["end"]),
        own_column(desk.about("strength", "whole number", "1 to 5, empty where none was given", "Given by the coder."), own["strength"], zero=False),
        *_told_columns(desk, rows),
    ]  # fmt: skip


def _told_columns(desk: _Desk, rows: DataRows) -> list[DataColumn]:
    """What the database alone knows of passages: when they were coded, and what was remarked."""
    about_made = desk.about("made", "text", "", "Day and time, UTC, at which it was coded.", "made_at")
    about_comment = desk.about("comment", "text", "", "What the coder remarked on it.")

    told = _Once(lambda some: rows_of(desk.session, rows.own["passage"][some].tolist()))

    def cells(some: slice) -> list[AnyPassage | None]:
        found = told(some)
        return [found[key][0] if key in found else None for key in rows.own["passage"][some].tolist()]

    def made(some: slice) -> pl.Series:
        times = [None if one is None else one.made_at.isoformat(" ", "seconds") for one in cells(some)]
        return pl.Series(about_made.name, times, pl.String)

    def comment(some: slice) -> pl.Series:
        remarks = [None if one is None else one.comment or None for one in cells(some)]
        return pl.Series(about_comment.name, remarks, pl.String)

    return [DataColumn(about_made, made), DataColumn(about_comment, comment)]


def _field_columns(desk: _Desk, rows: DataRows) -> list[DataColumn]:
    columns = desk.corpus.columns
    wanted = desk.request.fields
    for key in wanted or ():
        columns.field(key)
    found = []
    for field in describe_fields(columns):
        if wanted is not None and field.key not in wanted:
            continue
        column = columns.fields[field.key]
        found.append(field_column(desk.names.of(field.name), field, column, rows))
        if desk.request.spread and isinstance(column, SeveralColumn):
            found += value_columns(desk.names, field, column, rows)
    return found


def _target_columns(desk: _Desk, rows: DataRows) -> list[DataColumn]:
    found = []
    for short, target in _targets(desk):
        found += target_columns(desk.names, short, target, desk.corpus, rows, desk.mask, desk.request.counted)
    return found


def _targets(desk: _Desk) -> Iterator[tuple[str, Target]]:
    """What is counted, each with what the names of its columns begin with."""
    lookup = Lookup(desk.session, desk.project.id, desk.corpus)
    for reference in desk.request.targets:
        target = reference.resolve(lookup, desk.corpus)
        short = target.name.partition("“")[2].rstrip("”") or target.nouns[0]
        if not isinstance(reference, OfDictionary):
            short = {"codes": "code", "terms": "", "words": "", "search": "hits"}.get(reference.kind, short)
        yield short, target


def _units(corpus: OpenCorpus) -> Units:
    found: Units = corpus.kept(("units", "sentence"), lambda one: units_of(one.index, "sentence"), ())
    return found


def _sentences_of(desk: _Desk, text: np.ndarray) -> np.ndarray:
    """Numbers of all sentences of some texts (places), in order."""
    units = _units(desk.corpus)
    low = np.searchsorted(units.text, np.unique(text))
    high = np.searchsorted(units.text, np.unique(text), "right")
    parts = [np.arange(first, after) for first, after in zip(low.tolist(), high.tolist(), strict=True)]
    return np.concatenate([np.empty(0, np.int64), *parts])


def _tone_column(desk: _Desk, rows: DataRows) -> DataColumn:
    """The mean tone of the sentences a row has words in."""
    chosen = desk.request.tone
    row = list_in(desk.session, desk.project.id, chosen) if chosen else None
    scorer = Scorer(words_of(row) if row else shipped("english"))
    called = f"the word list “{row.name}”" if row else "the English word list that ships"
    about = desk.about(
        "tone", "number", "-1 to 1",
        f"Mean over the sentences of the row of their tone by {called}, 0 for sentences without any of its words; "
        "empty where there is no sentence. Irony and reported speech are not detected.",
    )  # fmt: skip
    units = _units(desk.corpus)

    def make(some: slice) -> pl.Series:
        at = _sentences_of(desk, rows.text[some])
        scores, _ = scorer.score(sentences_at(desk.session, desk.corpus, units, at))
        mean = mean_touching(scores, units.start[at], rows.low[some], rows.high[some])
        return pl.Series(about.name, np.round(mean, 6)).fill_nan(None)

    return DataColumn(about, make)


def _words_column(desk: _Desk, rows: DataRows) -> DataColumn:
    kind = desk.request.rows
    about = desk.about(
        "text", "text", "", f"The words of the {kind if kind != 'decision' else 'text'}.", "words_of_row"
    )
    makes: dict[str, Callable[[slice], list[str]]] = {
        "sentence": lambda some: _sentences(desk, rows, some),
        "passage": lambda some: _stretches(desk, rows, some),
    }

    def whole(some: slice) -> list[str]:
        ids = desk.corpus.columns.text_id[rows.text[some]].tolist()
        found = bodies(desk.session, ids)
        return [found.get(one, "") for one in ids]

    make = makes.get(kind, whole)
    return DataColumn(about, lambda some: pl.Series(about.name, make(some), pl.String))


def _sentences(desk: _Desk, rows: DataRows, some: slice) -> list[str]:
    at = _sentences_of(desk, rows.text[some])
    words = sentences_at(desk.session, desk.corpus, _units(desk.corpus), at)
    return [words[place] for place in np.searchsorted(at, rows.own["unit"][some]).tolist()]


def _stretches(desk: _Desk, rows: DataRows, some: slice) -> list[str]:
    ids = desk.corpus.columns.text_id[rows.text[some]].tolist()
    found = bodies(desk.session, ids)
    bounds = zip(ids, rows.own["start"][some].tolist(), rows.own["end"][some].tolist(), strict=True)
    return [found.get(one, "")[start:end] for one, start, end in bounds]


def described(data: Data, request: DataRequest, project: Project, corpus: OpenCorpus) -> list[str]:
    """What a table holds, in sentences for the file beside it."""
    scope = scope_in_words(request.texts, corpus.columns.names)
    return [
        f"Project: {project.name}.",
        f"{len(data.rows):,} {data.noun}, one in a row, of the texts in scope: {scope}.",
        f"{len(data.columns):,} columns; what each is stands in the list of columns.",
        "Empty cells are values that are not there. Days are written as year-month-day.",
        "Request: " + orjson.dumps(request_to_plain(request)).decode(),
    ]
