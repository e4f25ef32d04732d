"""Timing and memory for the benches."""

from __future__ import annotations

import statistics
import subprocess
import sys
import threading
import time
from collections.abc import Callable

import psutil


def seconds(work: Callable[[], object], times: int = 1) -> float:
    """Median time of a piece of work."""
    took = []
    for _ in range(times):
        started = time.perf_counter()
        work()
        took.append(time.perf_counter() - started)
    return statistics.median(took)


def run_watched(command: list[str], environment: dict[str, str]) -> tuple[float, float, str]:
    """Seconds, peak resident memory in MB, and output of a process."""
    started = time.perf_counter()
    process = subprocess.Popen(
        command, env=environment, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True
    )
    peak = [0.0]

    def watch() -> None:
        try:
            seen = psutil.Process(process.pid)
            while process.poll() is None:
                peak[0] = max(peak[0], seen.memory_info().rss / 1e6)
                time.sleep(0.05)
        except psutil.NoSuchProcess:
            return

    watcher = threading.Thread(target=watch)
    watcher.start()
    out, _ = process.communicate()
    watcher.join()
    if process.returncode:
        raise SystemExit(f"{' '.join(command)} ended with {process.returncode}")
    return time.perf_counter() - started, peak[0], out


def row(name: str, value: str, target: str, met: bool | None) -> None:
    """One line of the result."""
    sign = {True: "met", False: "NOT MET", None: ""}[met]
    print(f"{name:<62} {value:>14}   {target:<22} {sign}", flush=True)


PYTHON = sys.executable
