"""Loads what the processes of this application need and forks them: ``python -m winnower.jobs.forking_work FD``.

It has one thread of its own and never works with data itself. It ends when nobody is left who can ask it; what
it forked goes on.
"""

from __future__ import annotations

import contextlib
import importlib
import os
import pickle
import select
import signal
import socket
import struct
import sys
import traceback
from collections.abc import Callable
from typing import NamedTuple

from winnower.jobs.forking import forks

#: What is begun here, and what such a process loads by itself only when it is at work.
LOADED = (
    "winnower.jobs.apart_work",
    "winnower.jobs.reading_work",
    "winnower.jobs.worker",
    "winnower.jobs.importing",
    "winnower.jobs.coding",
    "winnower.jobs.checking",
    "winnower.jobs.company",
    "typst",
)
_CODE = struct.Struct("<i")
MOST_BYTES, MOST_FILES = 1 << 18, 3


class Asked(NamedTuple):
    """What process is asked for; see ``Forks.begin``."""

    module: str
    argument: int | None
    stdin: bool
    own_group: bool
    silent: bool
    may_begin: bool
    environment: dict[str, str]


def main(line_fd: int) -> None:
    for module in LOADED:
        importlib.import_module(module)
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    woken, wake = os.pipe()
    os.set_blocking(wake, False)
    signal.signal(signal.SIGCHLD, lambda *_: None)
    signal.set_wakeup_fd(wake)
    lines = {line_fd: socket.socket(fileno=line_fd)}
    born: dict[int, int] = {}  # process to where its code is written
    ended: dict[int, int] = {}  # where a code was written to whose it is
    while lines:
        looked = select.poll()
        for file in (woken, *lines):
            looked.register(file, select.POLLIN)
        for file in ended:  # whoever asked has read the code, or is gone
            looked.register(file, 0)
        for file, _ in looked.poll():
            if file == woken:
                os.read(woken, 4096)
                _tell_ended(born, ended)
            elif file in ended:
                os.waitpid(ended.pop(file), 0)
                os.close(file)
            else:
                _answer(file, lines, born)


def _answer(asking: int, lines: dict[int, socket.socket], born: dict[int, int]) -> None:
    """Fork the process somebody asks for; a line whose other end is gone is closed."""
    message, files, _, _ = socket.recv_fds(lines[asking], MOST_BYTES, MOST_FILES)
    if not message:
        lines.pop(asking).close()
        return
    asked = Asked(*pickle.loads(message))
    ours, theirs = socket.socketpair(socket.AF_UNIX, socket.SOCK_SEQPACKET)
    pid = os.fork()
    if pid == 0:
        _be(asked, files, theirs)
    if asked.own_group:
        os.setpgid(pid, pid)  # here too: whoever asked may end the group at once
    born[pid] = files[0]
    for file in files[1:]:
        os.close(file)
    theirs.close()
    if asked.may_begin:
        lines[ours.fileno()] = ours
    else:
        ours.close()
    # whoever asked may be gone: its process then ends as its input does
    with contextlib.suppress(BrokenPipeError):
        lines[asking].send(_CODE.pack(pid))


def _tell_ended(born: dict[int, int], ended: dict[int, int]) -> None:
    """Tell the codes of those that ended; they keep their numbers until the code was read."""
    for pid in list(born):
        if os.waitid(os.P_PID, pid, os.WEXITED | os.WNOHANG | os.WNOWAIT) is None:
            continue
        found = os.waitid(os.P_PID, pid, os.WEXITED | os.WNOWAIT)
        assert found is not None
        code = found.si_status if found.si_code == os.CLD_EXITED else -found.si_status
        ended[file := born.pop(pid)] = pid
        with contextlib.suppress(BrokenPipeError):  # nobody waits for it any more
            os.write(file, _CODE.pack(code))


def _be(asked: Asked, files: list[int], line: socket.socket) -> None:
    """Be the process that was asked for, to its end."""
    code = 1
    try:
        code = _done(asked, files, line)
    except SystemExit as error:
        code = error.code if isinstance(error.code, int) else 1
    except BaseException:
        traceback.print_exc()
    finally:
        sys.stdout.flush()
        sys.stderr.flush()
        os._exit(code)


def _done(asked: Asked, files: list[int], line: socket.socket) -> int:
    signal.set_wakeup_fd(-1)
    signal.signal(signal.SIGCHLD, signal.SIG_DFL)
    signal.signal(signal.SIGINT, signal.default_int_handler)
    if asked.own_group:
        os.setpgid(0, 0)
    given = files[1:]
    if asked.stdin:
        os.dup2(given.pop(0), 0)
    if asked.silent:
        os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
    kept = {*given, line.fileno()} if asked.may_begin else set(given)
    for name in os.listdir("/proc/self/fd"):
        if int(name) > 2 and int(name) not in kept:
            with contextlib.suppress(OSError):  # the folder that was listed
                os.close(int(name))
    if asked.may_begin:
        forks.adopt(line)
    else:
        line.detach()
    os.environ.clear()
    os.environ.update(asked.environment)
    work: Callable[[int | None], int | None] = importlib.import_module(asked.module).main
    return work(given[0] if given else asked.argument) or 0


if __name__ == "__main__":
    main(int(sys.argv[1]))
