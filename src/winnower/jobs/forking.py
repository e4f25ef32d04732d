"""Processes that have everything loaded when they begin: forked from one that is kept for it.

Loading takes seconds, forking milliseconds. The process that is kept does nothing else, so that nothing is
under way in it when it forks (jobs/forking_work.py).
"""

from __future__ import annotations

import atexit
import contextlib
import os
import pickle
import select
import signal
import socket
import struct
import subprocess
import sys
import threading
import time
from collections.abc import Callable

#: What a process that ended without telling its code is said to have ended with.
LOST = -signal.SIGKILL
LOOK_EVERY_S = 0.02
_CODE = struct.Struct("<i")


class Forked:
    """A process at work; as much of Popen as is needed. Its input is a pipe where ``stdin`` is not None."""

    def __init__(self, pid: int, status: int, stdin: int | None) -> None:
        self.pid, self._status = pid, status
        self.stdin = None if stdin is None else os.fdopen(stdin, "wb")
        self.returncode: int | None = None

    def give(self, content: bytes) -> None:
        """Write its input, and end it. Raises BrokenPipeError where it is gone."""
        assert self.stdin is not None
        with self.stdin:
            self.stdin.write(content)

    def poll(self) -> int | None:
        """Its code once it has ended, negative for a signal as Popen has it."""
        if self.returncode is None and self._ended(0):
            self._close()
        return self.returncode

    def wait(self, timeout: float | None = None) -> int:
        """Its code. Raises subprocess.TimeoutExpired after ``timeout`` seconds."""
        ends = None if timeout is None else time.monotonic() + timeout
        while self.returncode is None:
            if self._ended(None if ends is None else max(ends - time.monotonic(), 0)):
                self._close()
            elif ends is not None and time.monotonic() >= ends:
                raise subprocess.TimeoutExpired(str(self.pid), timeout or 0)
        return self.returncode

    def send_signal(self, which: int) -> None:
        self._signal(os.kill, which)

    def terminate(self) -> None:
        self.send_signal(signal.SIGTERM)

    def kill(self) -> None:
        self.send_signal(signal.SIGKILL)

    def kill_all(self) -> None:
        """End it and what it began; for a process with a group of its own."""
        self._signal(os.killpg, signal.SIGKILL)

    def _signal(self, send: Callable[[int, int], None], which: int) -> None:
        # it keeps its number until its code was asked for, so that no other process is meant
        if self.returncode is None:
            with contextlib.suppress(ProcessLookupError):
                send(self.pid, which)

    def _ended(self, seconds: float | None) -> bool:
        ready, _, _ = select.select([self._status], [], [], seconds)
        if not ready:
            return False
        told = os.read(self._status, _CODE.size)
        if told:
            self.returncode = _CODE.unpack(told)[0]
        else:  # the process that forked it is gone, and nobody tells the code
            while _is_there(self.pid):
                if seconds is not None:
                    return False
                time.sleep(LOOK_EVERY_S)
            self.returncode = LOST
        return True

    def _close(self) -> None:
        os.close(self._status)
        if self.stdin is not None:
            with contextlib.suppress(BrokenPipeError):
                self.stdin.close()


class Forks:
    """Begins processes; its own is begun with the first, and anew when it is gone."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._process: subprocess.Popen[bytes] | None = None
        self._line: socket.socket | None = None
        self._owner = 0

    def begin(
        self,
        module: str,
        argument: int | None = None,
        *,
        give: int | None = None,
        stdin: bool = False,
        own_group: bool = False,
        silent: bool = False,
        may_begin: bool = False,
        environment: dict[str, str] | None = None,
    ) -> Forked:
        """Have ``module.main`` called with ``argument``, or with the open file ``give`` where there is one.

        ``own_group``: what it begins can be ended with it. ``silent``: what it prints goes nowhere.
        ``may_begin``: it can begin others from where it was begun itself. ``environment``: what it has beside that of this process.
        """
        read, write = os.pipe() if stdin else (None, None)
        status, told = os.pipe()
        files = [file for file in (told, read, give) if file is not None]
        environment = {**os.environ, **(environment or {})}
        asked = (module, argument, stdin, own_group, silent, may_begin, environment)
        try:
            pid = self._asked(pickle.dumps(asked), files)
        finally:
            for file in (told, read):
                if file is not None:
                    os.close(file)
        return Forked(pid, status, write)

    def warm(self) -> None:
        """Begin loading, without waiting for it."""
        with self._lock:
            self._ready()

    def close(self) -> None:
        """Let go of the process that forks; what it forked goes on."""
        with self._lock:
            if self._owner == os.getpid() and self._line is not None:
                self._line.close()
                if self._process is not None:
                    self._process.kill()
                    self._process.wait()
                self._line = self._process = None

    def adopt(self, line: socket.socket) -> None:
        """Ask the process that forked this one, over a line it left open."""
        self._owner, self._line, self._process = os.getpid(), line, None

    def _asked(self, asked: bytes, files: list[int]) -> int:
        with self._lock:
            for again in (True, False):
                line = self._ready()
                try:
                    socket.send_fds(line, [asked], files)
                    if answer := line.recv(_CODE.size):
                        return int(_CODE.unpack(answer)[0])
                except (BrokenPipeError, ConnectionResetError):
                    pass
                self._line = None
                if not again:
                    raise RuntimeError("the process that begins others does not start")
        raise AssertionError

    def _ready(self) -> socket.socket:
        if self._owner != os.getpid():  # a process that was forked itself has its own
            self._owner, self._line, self._process = os.getpid(), None, None
        if self._line is None:
            if self._process is not None:
                self._process.kill()
                self._process.wait()
            self._line, theirs = socket.socketpair(socket.AF_UNIX, socket.SOCK_SEQPACKET)
            with theirs:
                self._process = subprocess.Popen(
                    [sys.executable, "-m", "winnower.jobs.forking_work", str(theirs.fileno())],
                    stdin=subprocess.DEVNULL,
                    pass_fds=(theirs.fileno(),),
                )
        return self._line


def _is_there(pid: int) -> bool:
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    return True


#: Those of this process.
forks = Forks()
atexit.register(forks.close)
