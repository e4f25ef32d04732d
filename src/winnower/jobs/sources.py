"""The files of an import as a stream of prepared texts."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from dataclasses import asdict, dataclass, field, replace
from pathlib import Path
from typing import Any

from winnower.core.errors import ReadError
from winnower.jobs.documents import TOO_MUCH_MEMORY, read_documents
from winnower.readers import Lot, LotChoice, Mapping, Problem, Target, gather, list_files
from winnower.readers.archives import DAMAGED
from winnower.readers.document import Document
from winnower.readers.documents import cut_rows, document_header
from winnower.readers.files import Origin
from winnower.readers.lots import open_chosen
from winnower.readers.mapping import guess_documents
from winnower.readers.prepare import PreparedTexts, Preparer
from winnower.readers.reasons import why
from winnower.readers.tables import is_full
from winnower.settings import Settings

FILES_AT_ONCE = 300
#: Bytes of documents that are read for one batch: a PDF of a megabyte takes a good part of a second.
BYTES_AT_ONCE = 16_000_000


@dataclass
class Piece:
    """A batch of texts with the mapping that made them, and what could not be taken on the way."""

    texts: PreparedTexts
    mapping: Mapping
    problems: list[Problem] = field(default_factory=list)
    notices: list[str] = field(default_factory=list)


class Pieces:
    """Files of an import job as batches; ``bytes_done`` grows while they are read.

    ``params`` holds ``paths`` and, by the key of a lot, ``lots`` with ``mapping`` and the fields of
    LotChoice. ``mapping`` and ``text_mapping`` stand for tables and documents nobody chose for, ``without``
    names files that are left out and why. Files in ``passed`` are not read; ``tell`` hears of each that is
    "begun" and "read", ``counted`` of the bytes read so far.
    """

    def __init__(
        self,
        params: dict[str, Any],
        settings: Settings,
        passed: Collection[str] = (),
        tell: Callable[[str, str], None] = lambda what, file: None,
        counted: Callable[[int], None] = lambda done: None,
    ) -> None:
        self._passed, self._tell, self._counted = passed, tell, counted
        paths = [(name, Path(path)) for name, path in params["paths"]]
        self.params, self.settings = params, settings
        self.choices = choices_from_plain(params)
        origins, self._unreadable = list_files(paths, settings.limit_archive_bytes, params.get("without"))
        self.lots, problems = gather(origins, settings.limit_text_chars, self.choices)
        self._unreadable += problems
        self.lots = [lot for lot in self.lots if not self.choices.get(lot.key, LotChoice()).leave_out]
        self.files = len(origins)
        self.bytes_total = sum(origin.size for lot in self.lots for origin in lot.origins)
        self.bytes_done = 0

    def __iter__(self) -> Iterator[Piece]:
        """Lot by lot; the same pieces in the same order each time."""
        yield from self._of("", lambda: iter([nothing_but(self._unreadable)] if self._unreadable else ()))
        for lot in self.lots:
            if lot.is_table:
                yield from self._tables(lot)
            else:
                yield from self._of(lot.key, lambda lot=lot: self._documents(lot))  # type: ignore[misc]

    def _of(self, file: str, pieces: Callable[[], Iterator[Piece]]) -> Iterator[Piece]:
        """The pieces of a file (documents: of their lot), unless it is passed over; told before and after."""
        if file in self._passed:
            return
        self._tell("begun", file)
        yield from pieces()
        self._tell("read", file)

    def mapping_of(self, lot: Lot) -> Mapping | None:
        """The mapping chosen for a lot, None where nobody said how to take a table."""
        given = (self.params.get("lots") or {}).get(lot.key, {}).get("mapping")
        if given is None:
            given = self.params.get("mapping" if lot.is_table else "text_mapping")
        if given is not None:
            mapping = mapping_from_plain(given)
        elif lot.is_table:
            return None
        else:
            mapping = guess_documents(lot.kind)
        return replace(mapping, line=lot.key) if mapping.line is None else mapping

    def lines(self) -> dict[str, tuple[str, dict[str, Any]]]:
        """By token, the kinds of deliveries whose keys tell texts apart here: a name, and the mapping."""
        out: dict[str, tuple[str, dict[str, Any]]] = {}
        for lot in self.lots:
            mapping = self.mapping_of(lot)
            if mapping is not None and mapping.rule == "key" and mapping.line:
                name = lot.origins[0].name.rsplit("/", 1)[-1]
                out.setdefault(mapping.line, (name, mapping_to_plain(mapping)))
        return out

    def _count(self, size: int) -> None:
        self.bytes_done = min(self.bytes_done + size, self.bytes_total)
        self._counted(self.bytes_done)

    def _tables(self, lot: Lot) -> Iterator[Piece]:
        mapping = self.mapping_of(lot)
        for origin in lot.origins:
            yield from self._of(
                f"{origin.name}\0{origin.sheet}",
                lambda origin=origin: self._one_table(lot, origin, mapping),  # type: ignore[misc]
            )

    def _one_table(self, lot: Lot, origin: Origin, mapping: Mapping | None) -> Iterator[Piece]:
        """A table's pieces; whatever is wrong with it is told and stops no other."""
        if mapping is None:
            yield nothing_but([Problem(origin.name, 0, "Nobody said which column holds the text.")])
            return
        try:
            yield from self._table(lot, origin, mapping)
        except ReadError as error:
            yield nothing_but([Problem(origin.name, 0, error.message)])
        except MemoryError:
            yield nothing_but([Problem(origin.name, 0, TOO_MUCH_MEMORY)])
        except (*DAMAGED, UnicodeError) as error:
            yield nothing_but([Problem(origin.name, 0, f"The file cannot be read to its end: {why(error)}.")])

    def _table(self, lot: Lot, origin: Origin, mapping: Mapping) -> Iterator[Piece]:
        limit = self.settings.limit_text_chars
        choice = self.choices.get(
            lot.key, LotChoice(encoding=self.params.get("encoding"), delimiter=self.params.get("delimiter"))
        )
        reader = open_chosen(origin, limit, choice, self._count)
        name = getattr(reader, "file", origin.name)
        preparer = Preparer(reader.header, mapping, limit, lot.is_references)
        for batch in reader.batches():
            texts = preparer.prepare(batch.rows, batch.lines, [name] * len(batch.rows))
            yield Piece(texts, mapping, _drain(reader.problems, preparer.problems))
        notices = [f"{name}: {notice}" for notice in reader.notices]
        yield nothing_but(_drain(reader.problems), notices)

    def _documents(self, lot: Lot) -> Iterator[Piece]:
        mapping = self.mapping_of(lot)
        assert mapping is not None
        choice = self.choices.get(lot.key, LotChoice(encoding=self.params.get("encoding")))
        limit = self.settings.limit_text_chars
        header = document_header([target.column for target in mapping.targets])
        preparer = Preparer(header, mapping, limit)
        rows: list[list[str]] = []
        documents: list[Document] = []
        files: list[str] = []
        lines: list[int] = []
        problems: list[Problem] = []
        chars = size = complete = 0

        def piece() -> Piece:
            nonlocal rows, documents, files, lines, chars
            texts = preparer.prepare(rows, lines, files, documents)
            rows, documents, files, lines, chars = [], [], [], [], 0
            return Piece(texts, mapping, _drain(problems, preparer.problems))

        for found in read_documents(lot, choice, limit, self.settings.limit_file_seconds):
            self._count(found.origin.size)
            size += found.origin.size
            problems += found.problems
            for number, (row, document) in enumerate(cut_rows(found.documents, found.origin.name, header), 1):
                rows.append(row)
                documents.append(document)
                files.append(found.origin.name)
                lines.append(number if len(found.documents) > 1 else 0)
                chars += len(document.body)
            if size > BYTES_AT_ONCE or is_full(len(rows), chars, complete, FILES_AT_ONCE):
                yield piece()
                complete, size = complete + 1, 0
        yield piece()


def nothing_but(problems: list[Problem], notices: list[str] | None = None) -> Piece:
    """A piece without texts."""
    return Piece(PreparedTexts(), Mapping(()), problems, notices or [])


def _drain(*lists: list[Problem]) -> list[Problem]:
    out = [problem for problems in lists for problem in problems]
    for problems in lists:
        problems.clear()
    return out


def choices_from_plain(params: dict[str, Any]) -> dict[str, LotChoice]:
    """What was chosen for each lot, from the parameters of a job."""
    names = LotChoice.__dataclass_fields__
    return {
        key: LotChoice(**{name: value for name, value in given.items() if name in names})
        for key, given in (params.get("lots") or {}).items()
    }


def mapping_to_plain(mapping: Mapping) -> dict[str, Any]:
    return asdict(mapping)


def mapping_from_plain(values: dict[str, Any]) -> Mapping:
    known = {name: values[name] for name in Mapping.__dataclass_fields__ if name in values}
    known["targets"] = tuple(Target(**target) for target in values["targets"])
    known["notes"] = tuple(values.get("notes", ()))
    return Mapping(**known)
