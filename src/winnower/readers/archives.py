"""Archives, also inside one another. Members are read in place or copied to nameless temporary files,
never written under their own names, so that a name cannot climb out of its folder."""

from __future__ import annotations

import lzma
import stat
import tarfile
import tempfile
import zipfile
import zlib
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import BinaryIO, cast

from winnower.core.errors import ReadError
from winnower.readers.files import (
    WEB_ARCHIVES,
    Origin,
    hidden,
    is_archive,
    kind_of,
    shown_name,
    unknown,
    watched,
)
from winnower.readers.problems import Problem
from winnower.readers.reasons import why
from winnower.readers.warc import PackedAsOne, Pages, page_at, pages_of

MAX_MEMBERS = 200_000
MAX_RATIO = 200
RATIO_FROM_BYTES = 10_000_000
MAX_NESTED = 4
DAMAGED = (zipfile.BadZipFile, tarfile.TarError, lzma.LZMAError, zlib.error, EOFError, OSError, RuntimeError)
EMPTY = "The archive is empty."
LINK = "This is a link and no file; links are not followed."
Source = Callable[[], BinaryIO]


class Unpacking:
    """Lists the members of archives into ``origins`` and ``problems`` within one limit of bytes."""

    def __init__(self, limit: int, origins: list[Origin], problems: list[Problem]) -> None:
        self.limit, self.origins, self.problems = limit, origins, problems
        self.total = 0

    def file(self, name: str, path: Path) -> None:
        """An archive that lies on disk."""
        self._archive(name, lambda: path.open("rb"), 1)

    def _archive(self, name: str, source: Source, level: int) -> None:
        if level > MAX_NESTED:
            self._refuse(name, f"Archives are nested more than {MAX_NESTED} deep here.")
            return
        try:
            if name.lower().endswith(".zip"):
                self._zip(name, source, level)
            elif name.lower().endswith(WEB_ARCHIVES):
                self._web(name, source)
            else:
                self._tar(name, source, level)
        except ReadError as error:
            self._refuse(name, error.message)
        except DAMAGED as error:
            self._refuse(name, f"The archive is damaged and cannot be opened to its end: {why(error)}.")

    def _refuse(self, name: str, reason: str) -> None:
        self.problems.append(Problem(shown_name(name), 0, reason))

    def _zip(self, name: str, source: Source, level: int) -> None:
        archive = zipfile.ZipFile(source())  # stays open for as long as a member refers to it
        members = sorted(archive.infolist(), key=lambda m: m.filename)
        if not any(not member.is_dir() for member in members):
            self._refuse(name, EMPTY)
        given = {member: _member_name(member) for member in members}
        if len(members) > MAX_MEMBERS:
            self._refuse(name, f"The archive has more than {MAX_MEMBERS:,} files.")
            return
        for member in members:
            if member.is_dir():
                continue
            if stat.S_ISLNK(member.external_attr >> 16):
                self._refuse(f"{name}/{given[member]}", LINK)
                continue
            if member.flag_bits & 1:
                self._refuse(f"{name}/{given[member]}", "This file is locked with a password.")
                continue
            packed = max(member.compress_size, 1)
            if member.file_size > RATIO_FROM_BYTES and member.file_size > MAX_RATIO * packed:
                reason = "This file expands more than any text does; it looks like a trap and is left out."
                self._refuse(f"{name}/{given[member]}", reason)
                continue
            self._member(name, given[member], member.file_size, _zip_opener(archive, member), level)

    def _tar(self, name: str, source: Source, level: int) -> None:
        """Packed archives are unpacked once to a temporary file, since they cannot be read in between."""
        if not name.lower().endswith(".tar"):
            source = self._unpacked(name, source)
        archive = tarfile.open(fileobj=source(), mode="r:")  # noqa: SIM115 - as above
        members = sorted(archive.getmembers(), key=lambda m: m.name)
        if not any(not member.isdir() for member in members):
            self._refuse(name, EMPTY)
        if len(members) > MAX_MEMBERS:
            self._refuse(name, f"The archive has more than {MAX_MEMBERS:,} files.")
            return
        for member in members:
            if member.isfile():
                self._member(name, member.name, member.size, _tar_opener(archive, member), level)
            elif not member.isdir():
                self._refuse(f"{name}/{member.name}", LINK)

    def _web(self, name: str, source: Source) -> None:
        """The pages of a web archive, under their addresses."""
        seen, found = Pages(), list[Origin]()
        try:
            for address, start, page in pages_of(source(), seen):
                self.total += len(page)
                if self.total > self.limit:
                    raise ReadError(_too_large(self.limit))
                named = shown_name(f"{name}/{address.partition('://')[2] or address}")
                opener = watched(named, partial(_page, source, start))
                found.append(Origin(named, "webarchive", len(page), opener))
        except PackedAsOne:
            self.total -= sum(origin.size for origin in found)
            found, seen = [], Pages()
            self._web(name[:-3], self._unpacked(name, source))
        finally:
            self.origins += found
            self.problems += [Problem(shown_name(name), 0, told, kept=True) for told in seen.told]

    def _unpacked(self, name: str, source: Source) -> Source:
        import bz2
        import gzip

        lower = name.lower()
        opener = gzip.open if lower.endswith("gz") else bz2.open if lower.endswith("bz2") else lzma.open
        if lower.endswith(".tbz2"):
            opener = bz2.open
        with source() as raw, opener(raw) as packed:  # type: ignore[operator]
            return self._copied(cast(BinaryIO, packed))

    def _copied(self, packed: BinaryIO) -> Source:
        """A copy in a temporary file without a name, within the limit."""
        copy = tempfile.TemporaryFile()  # noqa: SIM115 - kept open for as long as members are read
        while block := packed.read(1 << 20):
            self.total += len(block)
            if self.total > self.limit:
                copy.close()
                raise ReadError(_too_large(self.limit))
            copy.write(block)
        fd = copy.fileno()

        def again(keep=copy) -> BinaryIO:
            # a new handle with a place of its own, for as long as the copy is referred to
            return open(f"/proc/self/fd/{fd}", "rb")

        copy.flush()
        return again

    def _member(self, archive: str, given: str, size: int, source: Source, level: int) -> None:
        inner = "/".join(
            part for part in Path(given.replace("\\", "/")).parts if part not in ("..", "/", ".")
        )
        if not inner.strip():
            self._refuse(archive, "A file in it has no name and is left out.")
            return
        name = shown_name(f"{archive}/{inner}")
        if hidden(Path(inner)):
            return
        if size == 0:
            self._refuse(name, "The file is empty.")
            return
        if self.total + size > self.limit:
            self._refuse(name, _too_large(self.limit))
            return
        if is_archive(name):
            try:
                with source() as packed:
                    self._archive(name, self._copied(packed), level + 1)
            except ReadError as error:
                self._refuse(name, error.message)
            except DAMAGED as error:
                self._refuse(name, f"The archive is damaged and cannot be opened to its end: {why(error)}.")
            return
        kind = kind_of(name)
        if kind is None:
            self._refuse(name, unknown(name))
            return
        self.total += size
        self.origins.append(Origin(name, kind, size, watched(name, source)))


def _page(source: Source, start: int) -> BinaryIO:
    return page_at(source(), start)


def _member_name(member: zipfile.ZipInfo) -> str:
    """The name of a member; programs that do not say so write UTF-8 all the same."""
    if member.flag_bits & 0x800:
        return member.filename
    try:
        return member.filename.encode("cp437").decode("utf-8")
    except UnicodeError:
        return member.filename


def _too_large(limit: int) -> str:
    return f"The archive unpacks to more than {limit:,} bytes (WINNOWER_LIMIT_ARCHIVE_BYTES)."


def _zip_opener(archive: zipfile.ZipFile, member: zipfile.ZipInfo) -> Source:
    return lambda: archive.open(member)  # type: ignore[return-value]


def _tar_opener(archive: tarfile.TarFile, member: tarfile.TarInfo) -> Source:
    return lambda: archive.extractfile(member)  # type: ignore[return-value]
