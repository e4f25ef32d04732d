"""What was delivered: files, folders and zip archives, as a flat list of readable files."""

from __future__ import annotations

import zipfile
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import BinaryIO

from winnower.readers.problems import Problem

TABLE_ENDINGS = (".csv", ".tsv", ".tab")
TEXT_ENDINGS = (".txt", ".text", ".md")
MAX_MEMBERS = 200_000
MAX_RATIO = 200
RATIO_FROM_BYTES = 10_000_000


@dataclass(frozen=True)
class Origin:
    """A file that can be read: its name as delivered, ``kind`` table or text, size in bytes."""

    name: str
    kind: str
    size: int
    open: Callable[[], BinaryIO]


def list_files(
    paths: Iterable[tuple[str, Path]], limit_archive_bytes: int
) -> tuple[list[Origin], list[Problem]]:
    """Readable files among (name, path), folders and archives opened up, sorted by name."""
    origins: list[Origin] = []
    problems: list[Problem] = []
    for name, path in paths:
        if path.is_dir():
            inside = [p for p in sorted(path.rglob("*")) if p.is_file() and not _hidden(p.relative_to(path))]
            for file in inside:
                _add(
                    f"{name}/{file.relative_to(path).as_posix()}",
                    file,
                    origins,
                    problems,
                    limit_archive_bytes,
                )
            if not inside:
                problems.append(Problem(name, 0, "The folder is empty."))
        elif path.is_file():
            _add(name, path, origins, problems, limit_archive_bytes)
        else:
            problems.append(Problem(name, 0, "There is no such file."))
    return origins, problems


def kind_of(name: str) -> str | None:
    """table, text, or None for a file that is not read."""
    lower = name.lower()
    if lower.endswith(TABLE_ENDINGS):
        return "table"
    return "text" if lower.endswith(TEXT_ENDINGS) else None


def _hidden(path: Path) -> bool:
    return any(
        part == "__MACOSX" or (part.startswith(".") and part not in (".", "..")) for part in path.parts
    )


def _add(name: str, path: Path, origins: list, problems: list, limit: int) -> None:
    if name.lower().endswith(".zip"):
        _add_archive(name, path, origins, problems, limit)
        return
    kind = kind_of(name)
    if kind is None:
        problems.append(Problem(name, 0, _unknown(name)))
        return
    size = path.stat().st_size
    if size == 0:
        problems.append(Problem(name, 0, "The file is empty."))
        return
    origins.append(Origin(name, kind, size, lambda: path.open("rb")))


def _unknown(name: str) -> str:
    ending = Path(name).suffix or "no ending"
    return (
        f"This kind of file ({ending}) is not read yet; read are tables (.csv, .tsv), plain text "
        "(.txt, .md), and folders and .zip archives of these."
    )


def _add_archive(name: str, path: Path, origins: list, problems: list, limit: int) -> None:
    """Members are read in place and never written to disk, so their names cannot climb out."""
    try:
        archive = zipfile.ZipFile(path)
    except (zipfile.BadZipFile, OSError) as error:
        problems.append(Problem(name, 0, f"The archive is damaged and cannot be opened ({error})."))
        return
    total = 0
    members = sorted(archive.infolist(), key=lambda m: m.filename)
    if len(members) > MAX_MEMBERS:
        problems.append(Problem(name, 0, f"The archive has more than {MAX_MEMBERS:,} files."))
        return
    for member in members:
        inner = f"{name}/{member.filename}"
        if member.is_dir() or _hidden(Path(member.filename)):
            continue
        reason = _refusal(member, total, limit)
        if reason is None and kind_of(member.filename) is None:
            reason = _unknown(member.filename)
        if reason:
            problems.append(Problem(inner, 0, reason))
            continue
        total += member.file_size
        kind = kind_of(member.filename) or "text"
        origins.append(Origin(inner, kind, member.file_size, _opener(path, member)))


def _refusal(member: zipfile.ZipInfo, total: int, limit: int) -> str | None:
    if member.flag_bits & 1:
        return "This file is locked with a password."
    if member.file_size == 0:
        return "The file is empty."
    if total + member.file_size > limit:
        return f"The archive unpacks to more than {limit:,} bytes (WINNOWER_LIMIT_ARCHIVE_BYTES)."
    if member.file_size > RATIO_FROM_BYTES and member.file_size > MAX_RATIO * max(member.compress_size, 1):
        return "This file expands more than any text does; it looks like a trap and is left out."
    return None


def _opener(path: Path, member: zipfile.ZipInfo) -> Callable[[], BinaryIO]:
    return lambda: zipfile.ZipFile(path).open(member)  # type: ignore[return-value]
