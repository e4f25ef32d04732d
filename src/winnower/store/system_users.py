"""Users of the operating system: who runs this, and where another one could come to."""

from __future__ import annotations

import getpass
import os
import pwd
from pathlib import Path


def account_of_system() -> str:
    """The system's name of whoever runs this."""
    try:
        return pwd.getpwuid(os.geteuid()).pw_name
    except KeyError:
        return getpass.getuser()


def has_user(name: str) -> bool:
    """Whether the system has a user of that name."""
    try:
        pwd.getpwnam(name)
    except KeyError:
        return False
    return True


def can_come_to(folder: Path, user: pwd.struct_passwd) -> bool:
    """Whether a user can pass through all folders above this one; ``folder`` itself is ours to open."""
    for above in folder.parents:
        if not above.exists():
            continue
        state = above.stat()
        owner, group = state.st_uid == user.pw_uid, state.st_gid == user.pw_gid
        if not state.st_mode & (0o100 if owner else 0o010 if group else 0o001):
            return False
    return True
