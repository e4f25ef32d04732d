"""Room that is set aside for the database on its disk, and let go of when somebody else has filled it.

A database whose disk is full can neither write its log nor start again; with a little room it goes on answering who
reads and who signs in, until people have made more.
"""

from __future__ import annotations

import os
from pathlib import Path

from winnower.store.disk_space import free_bytes

BALLAST_BYTES = 48 * 2**20
#: The ballast goes where less than this is left, and comes back where there is plenty.
LET_GO_BELOW, TAKE_BACK_ABOVE = 16 * 2**20, 256 * 2**20
#: Changes are refused where less than this is left: the ballast is for what must go on.
CHANGES_BELOW = 64 * 2**20


def tend_ballast(home: Path) -> bool:
    """Let the ballast go or take it back, as the disk is; whether it is there now. Raises OSError."""
    ballast, free = home / "ballast", free_bytes(home)
    if ballast.exists():
        if free < LET_GO_BELOW:
            ballast.unlink(missing_ok=True)
            return False
        return True
    if free < TAKE_BACK_ABOVE:
        return False
    draft = home / "ballast.draft"
    with draft.open("wb") as out:
        os.posix_fallocate(out.fileno(), 0, BALLAST_BYTES)
    os.replace(draft, ballast)
    return True


def is_low(home: Path) -> bool:
    """Whether the disk of the database has no room for changes any more."""
    return free_bytes(home) < CHANGES_BELOW
