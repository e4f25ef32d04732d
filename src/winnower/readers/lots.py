"""Files that are read alike: tables with the same columns, documents of one kind."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass, field, replace
from hashlib import blake2b

from winnower.core.errors import ReadError
from winnower.readers.cutting import Cut
from winnower.readers.documents import HEADER, KINDS
from winnower.readers.files import TABLE_KINDS, Origin
from winnower.readers.open_table import RowReader, open_table
from winnower.readers.problems import Problem
from winnower.readers.sniff import no_text, true_kind

#: Tables beyond so many are read with the columns of their lot, unseen, and refused later if they differ.
MAX_PEEKED = 2_000


@dataclass
class Lot:
    """Files that are read alike. ``key`` is the same for the next delivery with the same columns."""

    key: str
    kind: str
    label: str
    header: list[str]
    encoding: str = ""
    delimiter: str = ""
    headings: tuple[int, ...] = ()
    #: Fields of a JSON file whose lists of objects could be texts of their own.
    lists: list[str] = field(default_factory=list)
    origins: list[Origin] = field(default_factory=list)

    @property
    def is_table(self) -> bool:
        return self.kind in TABLE_KINDS

    @property
    def is_references(self) -> bool:
        return self.label == "References"


@dataclass(frozen=True)
class LotChoice:
    """What somebody chose for a lot besides the mapping. ``headings`` says where those of a table stand
    (readers/headings.py), ``records`` which list of a JSON file holds the texts; ``cut`` and ``cut_line`` (readers/cutting.py) and whether
    ``speakers`` are kept as turns are for documents, as is ``keep_lines``: lines that were wrapped are joined without."""

    encoding: str | None = None
    delimiter: str | None = None
    headings: str = ""
    records: str = ""
    cut: str = "file"
    cut_line: str = ""
    #: Numbers of the lines of a text that say its headline, outlet or date, by role (readers/marked_lines.py).
    cut_marks: dict[str, int] = field(default_factory=dict)
    speakers: bool = False
    keep_lines: bool = False
    #: Names of the lines at the top of texts that are taken as what they say; None takes all.
    head_fields: list[str] | None = None
    leave_out: bool = False

    @property
    def how(self) -> Cut:
        """How documents are cut."""
        return Cut(self.cut, self.cut_line, tuple(sorted(self.cut_marks.items())))


def lot_key(kind: str, header: Sequence[str]) -> str:
    return blake2b("\0".join([kind, *header]).encode(), digest_size=8).hexdigest()


def gather(
    origins: Sequence[Origin], limit_chars: int, choices: dict[str, LotChoice] | None = None
) -> tuple[list[Lot], list[Problem]]:
    """Lots in the order in which their first file was dropped; files that are not what they seem."""
    lots: dict[str, Lot] = {}
    problems: list[Problem] = []
    peeked = 0
    last: dict[str, Lot] = {}
    for named in origins:
        if what := no_text(named):
            reason = f"By its content this is {what}, not a text; it is left out."
            problems.append(Problem(named.name, 0, reason))
            continue
        origin, notice = true_kind(named)
        if notice:
            problems.append(Problem(origin.name, 0, notice, kept=True))
        if not origin.is_table:
            label = KINDS[origin.kind][0]
            lot = lots.setdefault(origin.kind, Lot(origin.kind, origin.kind, label, list(HEADER)))
            lot.origins.append(origin)
            continue
        peeked += 1
        if peeked > MAX_PEEKED and origin.kind in last:
            last[origin.kind].origins.append(origin)
            continue
        for one in _sheets(origin, problems):
            found = _peek(one, limit_chars, choices or {}, problems)
            if found is not None:
                last[origin.kind] = lots.setdefault(found.key, found)
                last[origin.kind].origins.append(one)
    return list(lots.values()), problems


def _sheets(origin: Origin, problems: list[Problem]) -> list[Origin]:
    """A workbook as one origin a sheet."""
    if origin.kind != "sheets":
        return [origin]
    from python_calamine import SheetVisibleEnum

    from winnower.readers.sheets import open_workbook

    try:
        book = open_workbook(origin)
        names = book.sheet_names
        hidden = {one.name for one in book.sheets_metadata if one.visible != SheetVisibleEnum.Visible}
    except ReadError as error:
        problems.append(Problem(origin.name, 0, error.message))
        return []
    size = max(origin.size // max(len(names), 1), 1)
    return [replace(origin, sheet=name, size=size, hidden=name in hidden) for name in names]


def _peek(
    origin: Origin, limit_chars: int, choices: dict[str, LotChoice], problems: list[Problem]
) -> Lot | None:
    """The lot of a table by its column names. A choice of signs is looked up by what was found first."""
    try:
        reader = open_table(origin, limit_chars)
        key = lot_key(origin.kind, reader.header)
        choice = choices.get(key)
        lists = list(getattr(reader, "lists", ()))
        if choice and (choice.encoding or choice.delimiter or choice.headings or choice.records):
            # a choice that does not fit is told where the table is read; the lot stays, to choose again
            with suppress(ReadError):
                reader = open_chosen(origin, limit_chars, choice)
    except ReadError as error:
        problems.append(Problem(_name(origin), 0, error.message))
        return None
    label = _label(origin, reader.header)
    found = getattr(reader, "headings", None)
    rows = found.rows if found else ()
    return Lot(key, origin.kind, label, reader.header, reader.encoding, reader.delimiter, rows, lists)


def open_chosen(
    origin: Origin, limit_chars: int, choice: LotChoice, count: Callable[[int], None] = lambda size: None
) -> RowReader:
    """A reader for a table as somebody chose to have it read. Raises ReadError."""
    return open_table(
        origin,
        limit_chars,
        encoding=choice.encoding,
        delimiter=choice.delimiter,
        headings=choice.headings,
        records=choice.records,
        count=count,
    )


def _label(origin: Origin, header: list[str]) -> str:
    if origin.kind == "xml":
        from winnower.readers.feeds import HEADER as FEED
        from winnower.readers.reference_lists import HEADER as REFERENCES

        if header == FEED:
            return "Feeds"
        return "References" if header == REFERENCES else "XML"
    return TABLE_KINDS[origin.kind][0]


def _name(origin: Origin) -> str:
    return f"{origin.name}, sheet {origin.sheet}" if origin.sheet else origin.name
