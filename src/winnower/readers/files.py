"""What was delivered: files, folders and archives, as a flat list of readable files."""

from __future__ import annotations

import unicodedata
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import BinaryIO

from winnower.core.errors import ReadError
from winnower.readers.documents import KINDS as DOCUMENT_KINDS
from winnower.readers.problems import Problem

TABLE_KINDS = {
    "table": ("Tables", (".csv", ".tsv", ".tab")),
    "sheets": ("Workbooks", (".xlsx", ".xlsm", ".xlsb", ".xls", ".ods")),
    "json": ("JSON", (".json", ".geojson")),
    "jsonl": ("JSON Lines", (".jsonl", ".ndjson")),
    "feed": ("Feeds", (".rss", ".atom")),
    "ris": ("References", (".ris", ".nbib")),
    "bibtex": ("References", (".bib", ".bibtex")),
    "xml": ("References", (".xml", ".mods")),
    "htmltable": ("Tables in web pages", ()),
}
WEB_ARCHIVES = (".warc", ".warc.gz")
ARCHIVES = (*WEB_ARCHIVES, ".zip", ".tar", ".tar.gz", ".tgz", ".tar.bz2", ".tbz2", ".tar.xz", ".txz")
_BY_ENDING = {
    ending: kind
    for kinds in (TABLE_KINDS, DOCUMENT_KINDS)
    for kind, (_, endings) in kinds.items()
    for ending in endings
}
_OLD = {
    ".doc": "the older Word format; save it as .docx",
    ".ppt": "a presentation; save its text as .docx or PDF",
    ".pptx": "a presentation; save its text as .docx or PDF",
    ".pages": "a format of one program only; save it as .docx or PDF",
    ".7z": "another kind of archive; pack it as .zip",
    ".rar": "another kind of archive; pack it as .zip",
}
MAX_NAME = 400


@dataclass(frozen=True)
class Origin:
    """A file that can be read: its name as delivered, its kind (see TABLE_KINDS and the documents'),
    its size in bytes, and for a workbook the sheet, ``hidden`` where its program does
    not show it."""

    name: str
    kind: str
    size: int
    open: Callable[[], BinaryIO]
    sheet: str = ""
    hidden: bool = False

    @property
    def is_table(self) -> bool:
        return self.kind in TABLE_KINDS


def read_up_to(raw: BinaryIO, most: int) -> bytes:
    """A file's bytes, at most so many. Asked for at once, the reader would set aside room for all of them."""
    blocks, left = [], most
    while left and (block := raw.read(min(left, 1 << 20))):
        blocks.append(block)
        left -= len(block)
    return b"".join(blocks)


#: Told the name of each file that is opened, so that whoever watches knows which one brought a process down.
watching: list[Callable[[str], None]] = []


def watched(name: str, source: Callable[[], BinaryIO]) -> Callable[[], BinaryIO]:
    """A way to open a file that says so first."""

    def open_it() -> BinaryIO:
        for tell in watching:
            tell(name)
        return source()

    return open_it


def elsewhere() -> BinaryIO:
    """Stands for opening a file that only another process has."""
    raise ReadError("This file is open in another process.")


def list_files(
    paths: Iterable[tuple[str, Path]], limit_archive_bytes: int, without: dict[str, str] | None = None
) -> tuple[list[Origin], list[Problem]]:
    """Readable files among (name, path), folders and archives opened up, sorted by name; those in
    ``without`` are not opened, it holds the reasons."""
    from winnower.readers.archives import Unpacking

    origins: list[Origin] = []
    problems: list[Problem] = []
    unpacking = Unpacking(limit_archive_bytes, origins, problems)
    for name, path in paths:
        if path.is_dir():
            inside = [p for p in sorted(path.rglob("*")) if p.is_file() and not hidden(p.relative_to(path))]
            for file in inside:
                _add(f"{name}/{file.relative_to(path).as_posix()}", file, origins, problems, unpacking)
            if not inside:
                problems.append(Problem(name, 0, "The folder is empty."))
        elif path.is_file():
            _add(name, path, origins, problems, unpacking)
        else:
            problems.append(Problem(name, 0, "There is no such file."))
    refused = without or {}
    problems += [Problem(o.name, 0, refused[o.name]) for o in origins if o.name in refused]
    return [origin for origin in origins if origin.name not in refused], problems


def kind_of(name: str) -> str | None:
    """The kind a file's ending speaks of, None for one that is not read."""
    lower = name.lower()
    dot = lower.rfind(".")
    return _BY_ENDING.get(lower[dot:]) if dot >= 0 else None


def is_archive(name: str) -> bool:
    return name.lower().endswith(ARCHIVES)


def hidden(path: Path) -> bool:
    return any(
        part == "__MACOSX" or (part.startswith(".") and part not in (".", "..")) or part.startswith("~$")
        for part in path.parts
    )


def shown_name(name: str) -> str:
    """A file's name without signs that turn the reading direction or cannot be seen, cut to a limit."""
    plain = "".join(sign for sign in name if unicodedata.category(sign) not in ("Cf", "Cc", "Cs", "Co"))
    plain = unicodedata.normalize("NFC", plain)
    return plain if len(plain) <= MAX_NAME else f"{plain[: MAX_NAME - 60]}…{plain[-59:]}"


def _add(name: str, path: Path, origins: list, problems: list, unpacking) -> None:
    name = shown_name(name)
    if is_archive(name):
        unpacking.file(name, path)
        return
    size = path.stat().st_size
    kind = kind_of(name)
    if kind is None:
        problems.append(Problem(name, 0, unknown(name)))
    elif size == 0:
        problems.append(Problem(name, 0, "The file is empty."))
    else:
        origins.append(Origin(name, kind, size, watched(name, lambda: path.open("rb"))))


def unknown(name: str) -> str:
    """Why a file is not read."""
    ending = Path(name).suffix.lower()
    if ending in _OLD:
        return f"This is {_OLD[ending]}."
    return (
        f"This kind of file ({ending[:20] or 'no ending'}) is not read. Read are text, Markdown, web pages, Word, "
        "OpenDocument, rich text, PDF, e-books, mail, web archives, subtitles, tables, workbooks, JSON, feeds, reference "
        "lists, and "
        "folders, .zip and .tar of these."
    )
