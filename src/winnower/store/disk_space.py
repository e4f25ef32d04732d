"""Room on the disks that hold a project's data: asked before much is written, told where it ran out."""

from __future__ import annotations

import errno
import shutil
import tempfile
from pathlib import Path

from winnower.core.errors import DiskFull
from winnower.settings import Settings

#: What an import takes for each byte that was uploaded: rows of the database, the index, and what both need meanwhile.
IMPORT_FACTOR = 3
_FULL = {errno.ENOSPC, errno.EDQUOT}


def is_full(error: OSError) -> bool:
    """Whether it says that there is no room."""
    return error.errno in _FULL


def require_space(folder: Path, needed: int, reserve: int) -> None:
    """Raises DiskFull where the disk of a folder has not so many bytes more than its reserve."""
    free = free_bytes(folder)
    if free < needed + reserve:
        raise disk_full(folder, needed, reserve)


def require_room_for_upload(settings: Settings, size: int) -> None:
    """Files are received in the system's temporary folder, and kept among the uploads. Raises DiskFull."""
    received, kept = Path(tempfile.gettempdir()), settings.data
    one_disk = received.stat().st_dev == kept.stat().st_dev
    require_space(kept, size * (2 if one_disk else 1), settings.reserve_bytes)
    if not one_disk:
        require_space(received, size, 0)


def free_bytes(folder: Path) -> int:
    """Bytes that are free on the disk of a folder, which need not exist yet."""
    there = next(one for one in (folder, *folder.parents) if one.exists())
    return shutil.disk_usage(there).free


def disk_full(folder: Path, needed: int = 0, reserve: int = 0) -> DiskFull:
    """The sentence: which folder, how much there is, how much is needed."""
    wants = [f"this needs about {in_words(needed)}"] if needed else []
    if reserve:
        wants.append(
            f"{in_words(reserve)} are kept free for reading and small changes (WINNOWER_RESERVE_BYTES)"
        )
    more = f"; {', and '.join(wants)}" if wants else ""
    return DiskFull(
        f"The disk with the folder {folder} has {in_words(free_bytes(folder))} left{more}. "
        "Make room on it and try again."
    )


def in_words(size: int) -> str:
    """Bytes as people say them: "340 MB", "2.1 GB"."""
    if size < 1e6:
        return f"{size / 1e3:,.0f} kB"
    return f"{size / 1e6:,.0f} MB" if size < 1e9 else f"{size / 1e9:,.1f} GB"
