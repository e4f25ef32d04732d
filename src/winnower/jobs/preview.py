"""A first look at files before anything is stored."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path, PurePosixPath
from typing import Any, NamedTuple

from winnower.core.errors import ReadError
from winnower.jobs.documents import cut_all, read_documents
from winnower.jobs.sources import choices_from_plain, mapping_from_plain
from winnower.readers import Lot, LotChoice, Mapping, Problem, gather, guess_mapping, list_files
from winnower.readers.cutting import SHAPE_CHARS, Cut, cut_document, guess_cut, text_starts
from winnower.readers.document import Document
from winnower.readers.documents import cut_rows, document_header
from winnower.readers.lots import open_chosen
from winnower.readers.mapping import guess_documents, guess_feed, guess_references
from winnower.readers.prepare import PreparedTexts, Preparer, domain_of
from winnower.readers.speakers import find_speakers
from winnower.readers.tables import Batch
from winnower.settings import Settings

ROWS_SHOWN = 20
ROWS_GUESSED_FROM = 500
SAMPLES = 6
SECONDS = 1.5
DOCUMENTS_LOOKED_AT = 12
MOST_PROBLEMS = 200
#: Of one reason in one file or archive so many are listed, the others counted.
MOST_ALIKE = 10
LINES_SHOWN = 400
NOTHING_IN = {"Feeds": "The feed has no entries.", "References": "The list holds no references."}
LOOK_CHARS = 400_000


@dataclass(frozen=True)
class SourceChoice:
    """Where the source could come from, as in Mapping.source_from or "column:" and its name; some of what
    it would be."""

    way: str
    examples: tuple[str, ...]


class CutLine(NamedTuple):
    """A line of a file, its number from 0, and whether a text begins at it."""

    number: int
    text: str
    begins: bool


@dataclass(frozen=True)
class CutLook:
    """How the first ``files`` are cut: the number of ``texts`` in them, the lines of one, who speaks."""

    texts: int = 0
    files: int = 0
    lines: tuple[CutLine, ...] = ()
    speakers: tuple[str, ...] = ()


@dataclass
class LotLook:
    """How a lot would be read: its first rows and texts. ``mapping`` is None where nothing fits."""

    lot: Lot
    choice: LotChoice
    mapping: Mapping
    rows: list[list[str]] = field(default_factory=list)
    samples: PreparedTexts = field(default_factory=PreparedTexts)
    kept: bool = False
    reason: str = ""
    aside: str = ""
    sources: list[SourceChoice] = field(default_factory=list)
    cut: CutLook = field(default_factory=CutLook)


@dataclass
class FirstLook:
    """What was found; ``checked`` rows and documents were looked over within SECONDS, ``everything`` if
    those were all."""

    lots: list[LotLook] = field(default_factory=list)
    problems: list[Problem] = field(default_factory=list)
    problems_total: int = 0
    checked: int = 0
    everything: bool = True
    notices: list[str] = field(default_factory=list)
    _times: dict[tuple[str, str], int] = field(default_factory=dict)

    def add(self, problems: list[Problem]) -> None:
        self.problems_total += len(problems)
        for problem in problems:
            group = (problem.file.split("/")[0].split(", sheet ")[0], problem.reason)
            self._times[group] = self._times.get(group, 0) + 1
            if self._times[group] <= MOST_ALIKE and len(self.problems) < MOST_PROBLEMS:
                self.problems.append(problem)
        problems.clear()

    def folded(self) -> list[tuple[str, str, int]]:
        """(file or archive, reason, how many more) of what came more often than is shown."""
        return [(*group, n - MOST_ALIKE) for group, n in self._times.items() if n > MOST_ALIKE]


@dataclass(frozen=True)
class Line:
    """A kind of delivery the project has had: its mapping in plain form."""

    token: str
    name: str
    mapping: dict[str, Any]


def like_before(lot: Lot, guessed: Mapping, lines: Sequence[Line]) -> Mapping:
    """A table with the same key column and mostly the columns of an earlier delivery is taken as more of
    it; columns that are new are taken as guessed."""
    for line in lines:
        before = mapping_from_plain(line.mapping)
        columns = {target.column for target in before.targets}
        if not line.token and guessed.column("key"):
            return replace(guessed, line="")  # the project is older than kinds of deliveries
        key = before.column("key")
        shared = columns & set(lot.header)
        if key not in shared or len(shared) * 2 < max(len(columns), len(lot.header)):
            continue
        if any(t.role == "text" and t.column not in shared for t in before.targets):
            continue
        kept = {target.column: target for target in before.targets}
        fresh = {t.column: t for t in guessed.targets if t.column not in kept}
        for name, target in fresh.items():
            if target.role not in ("variable", "note", "skip"):
                fresh[name] = replace(target, role="variable", name=target.name or name)
        targets = tuple(kept.get(name) or fresh[name] for name in lot.header)
        return replace(before, targets=targets, line=line.token)
    return guessed


def guess_lot(lot: Lot, rows: Sequence[Sequence[str]]) -> Mapping:
    """How a lot is taken as long as nobody says otherwise."""
    if not lot.is_table:
        return guess_documents(lot.kind)
    if lot.is_references:
        return guess_references(lot.header)
    return guess_feed(lot.header) if lot.label == "Feeds" else guess_mapping(lot.header, rows)


def first_look(
    paths: list[tuple[str, Path]],
    settings: Settings,
    *,
    lots: dict[str, Any] | None = None,
    kept: dict[str, Any] | None = None,
    lines: Sequence[Line] = (),
    without: dict[str, str] | None = None,
) -> FirstLook:
    """Read as far as SECONDS allow, guess each mapping unless one is given, list what will not go in.

    ``lots`` holds by key what was chosen, ``kept`` what was chosen for the same columns earlier; ``lines``
    are the kinds of deliveries the project has had; files in ``without`` are left out for a reason.
    """
    look = FirstLook()
    chosen = {**(kept or {}), **(lots or {})}
    choices = choices_from_plain({"lots": chosen})
    origins, problems = list_files(paths, settings.limit_archive_bytes, without)
    look.add(problems)
    found, problems = gather(origins, settings.limit_text_chars, choices)
    look.add(problems)
    deadline = time.monotonic() + SECONDS
    for lot in found:
        given = chosen.get(lot.key, {}).get("mapping")
        mapping = mapping_from_plain(given) if given else None
        choice = choices.get(lot.key, LotChoice())
        one = LotLook(lot, choice, mapping or Mapping(()))
        one.kept = lot.key in (kept or {}) and lot.key not in (lots or {})
        look.lots.append(one)
        try:
            if lot.is_table:
                _look_at_tables(look, one, settings, deadline, mapping, lines)
            else:
                # a file cut by nothing the last time may hold many texts this time
                said = lot.key in (lots or {}) or (one.kept and choice.cut != "file")
                _look_at_documents(look, one, settings, mapping, said)
        except ReadError as error:
            one.reason = error.message
    _leave_out_helpers(look, chosen)
    look.notices += [
        f"{file}: {more:,} more, for the reason: {reason}" for file, reason, more in look.folded()
    ]
    return look


def source_choices(lot: Lot, rows: Sequence[Sequence[str]]) -> list[SourceChoice]:
    """Who texts could be from, where no column says it: columns with few values that come again, domains of
    addresses, names of files and folders."""
    out = []
    for at, name in enumerate(lot.header):
        values = [row[at].strip() for row in rows if row[at].strip()]
        different = list(dict.fromkeys(values))
        short = all(len(value) <= 60 for value in different)
        if short and 2 <= len(different) <= min(200, len(values) // 2):
            out.append(SourceChoice(f"column:{name}", tuple(different[:3])))
        domains = list(dict.fromkeys(d for v in values if "://" in v and (d := domain_of(v))))
        if len(domains) > 1:
            out.append(SourceChoice(f"domain:{name}", tuple(domains[:3])))
    paths = [PurePosixPath(origin.name) for origin in lot.origins]
    for way, names in (("file", [p.stem for p in paths]), ("folder", [p.parent.name for p in paths])):
        different = list(dict.fromkeys(name for name in names if name))
        if len(different) > 1 or (way == "file" and different):
            out.append(SourceChoice(way, tuple(different[:3])))
    return out


def _leave_out_helpers(look: FirstLook, chosen: dict[str, Any]) -> None:
    """Hidden sheets, and tables without a text beside others with one, wait to be ticked."""
    some = any(one.mapping.texts or one.mapping.placeholders for one in look.lots)
    for one in look.lots:
        if one.lot.key in chosen or not one.lot.is_table:
            continue
        hidden = bool(one.lot.origins) and all(origin.hidden for origin in one.lot.origins)
        if hidden or (some and not one.mapping.texts and not one.mapping.placeholders):
            one.choice = replace(one.choice, leave_out=True)
            one.aside = "a hidden sheet" if hidden else "no column here looks like texts"


def _look_at_tables(
    look: FirstLook,
    one: LotLook,
    settings: Settings,
    deadline: float,
    mapping: Mapping | None,
    lines: Sequence[Line],
) -> None:
    limit, lot = settings.limit_text_chars, one.lot
    keys = _Keys()
    for number, origin in enumerate(lot.origins):
        if number and time.monotonic() > deadline:
            look.everything = False
            return
        reader = open_chosen(origin, limit, one.choice)
        name = getattr(reader, "file", origin.name)
        preparer: Preparer | None = None
        for batch in reader.batches():
            if not one.rows:
                one.rows = batch.rows[:ROWS_SHOWN]
                one.sources = source_choices(lot, batch.rows[:ROWS_GUESSED_FROM])
                guessed = mapping or guess_lot(lot, batch.rows[:ROWS_GUESSED_FROM])
                one.mapping = mapping or like_before(lot, guessed, lines)
            if preparer is None and (one.mapping.texts or one.mapping.placeholders):
                preparer = Preparer(reader.header, one.mapping, limit, lot.is_references)
            if preparer:
                keys.see(name, _take_samples(one, preparer, batch, name))
                look.add(preparer.problems)
            look.add(reader.problems)
            look.checked += len(batch.rows)
            if time.monotonic() > deadline:
                look.everything = False
                break
        look.add(reader.problems)
        look.notices += [f"{name}: {notice}" for notice in reader.notices]
        if number == 0 and not one.rows:
            one.mapping = mapping or guess_lot(lot, [])
            look.add([Problem(name, 0, NOTHING_IN.get(lot.label, "The table has column names but no rows."))])
    if mapping is None and keys.count_each_file:
        one.mapping = replace(one.mapping, same="key-file")


class _Keys:
    """Whether files that are read alike number their rows each for itself: the same keys with other texts."""

    def __init__(self) -> None:
        self._seen: dict[str, tuple[str, int]] = {}
        self._same = self._other = 0

    def see(self, file: str, texts: PreparedTexts) -> None:
        for key, body in zip(texts.key, texts.body, strict=True):
            if key is None:
                continue
            before = self._seen.setdefault(key, (file, hash(body)))
            if before[0] != file:
                self._same += before[1] == hash(body)
                self._other += before[1] != hash(body)

    @property
    def count_each_file(self) -> bool:
        return self._other > self._same


def _take_samples(one: LotLook, preparer: Preparer, batch: Batch, name: str) -> PreparedTexts:
    texts = preparer.prepare(batch.rows, batch.lines, [name] * len(batch.rows))
    if not len(one.samples):
        one.samples = texts
    return texts


def _look_at_documents(
    look: FirstLook, one: LotLook, settings: Settings, mapping: Mapping | None, chosen: bool
) -> None:
    """The first documents of a lot as they would be cut and named."""
    some = Lot(one.lot.key, one.lot.kind, one.lot.label, one.lot.header)
    some.origins = _first_origins(one.lot)
    limit = settings.limit_text_chars
    plain = LotChoice(encoding=one.choice.encoding)
    read = list(read_documents(some, plain, limit, settings.limit_file_seconds, bold=True))
    complete = [document for found in read for document in found.documents]
    for found in read:  # of a very long file its beginning says how it is cut
        found.documents = [beginning_of(document) for document in found.documents]
    whole = [document for found in read for document in found.documents]
    if not chosen:
        cut = next((c for document in whole if (c := guess_cut(document)).kind != "file"), Cut())
        speakers = any(find_speakers(document) for document in whole)
        if cut.kind != "file":
            mapping, one.kept = None, False
        one.choice = replace(one.choice, cut=cut.kind, cut_line=cut.line, speakers=speakers)
    cut = Cut(one.choice.cut, one.choice.cut_line)
    texts = [(found, cut_all(found.documents, cut, one.choice.speakers)) for found in read]
    pieces = [piece for _, found in texts for piece in found]
    fields = dict.fromkeys(name for piece in pieces for name, _ in piece.fields)
    one.lot.header = document_header(
        [*fields, *(t.column for t in mapping.targets)] if mapping else [*fields]
    )
    one.mapping = mapping or guess_documents(one.lot.kind, pieces)
    rest = [document for document in complete if len(document.body) > LOOK_CHARS]
    more = sum(len(text_starts(d, cut)) - len(text_starts(beginning_of(d), cut)) for d in rest)
    one.cut = _cut_look(whole, cut, len(pieces) + more)
    preparer = Preparer(one.lot.header, one.mapping, limit)
    rows: list[list[str]] = []
    documents: list[Document] = []
    files: list[str] = []
    for found, cut_texts in texts:
        look.add(found.problems)
        for row, document in cut_rows(cut_texts, found.origin.name, one.lot.header):
            rows.append(row)
            documents.append(document)
            files.append(found.origin.name)
    one.rows = [[cell[:500] for cell in row] for row in rows[:ROWS_SHOWN]]
    one.samples = preparer.prepare(rows, range(1, len(rows) + 1), files, documents)
    look.add(preparer.problems)
    look.checked += len(some.origins)
    look.everything &= len(some.origins) == len(one.lot.origins) and not rest


def beginning_of(document: Document) -> Document:
    """The first LOOK_CHARS of a document, to the end of a line."""
    if len(document.body) <= LOOK_CHARS:
        return document
    end = document.body.rfind("\n", 0, LOOK_CHARS)
    end = end if end > 0 else LOOK_CHARS
    places = tuple(place for place in document.places if place.start < end)
    remarks = tuple(remark for remark in document.remarks if (remark.end or 0) <= end)
    return replace(document, body=document.body[:end], places=places, remarks=remarks)


def _cut_look(whole: Sequence[Document], cut: Cut, texts: int) -> CutLook:
    """The lines of the first file, and which of them begin a text."""
    if not whole:
        return CutLook()
    first = next((one for one in whole if len(cut_document(one, cut)) > 1), whole[0])
    begins = set(text_starts(first, cut))
    lines = first.body.split("\n")
    shown = [CutLine(at, line[:SHAPE_CHARS], at in begins) for at, line in enumerate(lines) if line.strip()]
    speakers = next((names for one in whole if (names := find_speakers(one))), [])
    return CutLook(texts, len(whole), tuple(shown[:LINES_SHOWN]), tuple(speakers))


def _first_origins(lot: Lot) -> list[Any]:
    """Few and small enough to be read at once; at least one."""
    out: list[Any] = []
    size = 0
    for origin in lot.origins[:DOCUMENTS_LOOKED_AT]:
        if out and size + origin.size > 4_000_000:
            break
        out.append(origin)
        size += origin.size
    return out
