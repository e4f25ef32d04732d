"""All checks, in the order of how soon they tell: style, rooms, generated client, web, Python."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from contextlib import ExitStack
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
BIN = Path(sys.executable).parent


def step(name: str, command: list[str], folder: Path = ROOT) -> None:
    """Run one check; the first that fails ends the run with its code."""
    print(f"== {name}", flush=True)
    started = time.monotonic()
    done = subprocess.run(command, cwd=folder)
    print(f"   {time.monotonic() - started:.0f} s", flush=True)
    if done.returncode:
        sys.exit(done.returncode)


def side_by_side(name: str, lanes: list[list[str]]) -> None:
    """Run pytest over several folders at a time; each lane has a database of its own."""
    print(f"== {name}", flush=True)
    started = time.monotonic()
    with ExitStack() as stack:
        running = []
        for lane in lanes:
            said = stack.enter_context(tempfile.TemporaryFile("w+"))
            command = [sys.executable, "-m", "pytest", *lane]
            process = subprocess.Popen(command, cwd=ROOT, stdout=said, stderr=subprocess.STDOUT)
            running.append((lane, said, process))
        codes = []
        for lane, said, process in running:
            codes.append(process.wait())
            said.seek(0)
            print(f"-- {' '.join(lane)}\n{said.read()}", flush=True)
    print(f"   {time.monotonic() - started:.0f} s", flush=True)
    if any(codes):
        sys.exit(max(codes))


def main() -> None:
    only = sys.argv[1:]
    if not only:
        step("Style", [str(BIN / "ruff"), "check", "src", "tests", "bench", "docs", "demo"])
        step("Rooms", [str(BIN / "lint-imports"), "--config", "pyproject.toml"])
        step("Client matches the API", [sys.executable, "tests/check_client.py"])
        step("Web types", ["npm", "run", "--silent", "check"], ROOT / "web")
        step("Web tests", ["npm", "run", "--silent", "test"], ROOT / "web")
    if only:
        step("Python tests", [sys.executable, "-m", "pytest", *only])
    else:
        side_by_side("Python tests", [["tests/browser"], ["tests/core", "tests/store", "tests/api"]])


if __name__ == "__main__":
    main()
