"""All checks, in the order of how soon they tell: style, rooms, generated client, web, Python.

With ``--checks`` it ends before the Python tests; with ``--coverage`` these also tell how much of each room they
ran through, and take half as long again.
"""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from contextlib import ExitStack
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
BIN = Path(sys.executable).parent
STRICT = ("core", "store", "jobs")


def step(name: str, command: list[str], folder: Path = ROOT) -> None:
    """Run one check; the first that fails ends the run with its code."""
    print(f"== {name}", flush=True)
    started = time.monotonic()
    done = subprocess.run(command, cwd=folder)
    print(f"   {time.monotonic() - started:.0f} s", flush=True)
    if done.returncode:
        sys.exit(done.returncode)


def side_by_side(name: str, lanes: list[list[str]], covered: bool) -> None:
    """Run pytest over several folders at a time; each lane has a database of its own."""
    print(f"== {name}", flush=True)
    started = time.monotonic()
    with ExitStack() as stack:
        running = []
        for lane in lanes:
            said = stack.enter_context(tempfile.TemporaryFile("w+"))
            watched = ["-m", "coverage", "run", "--parallel-mode"] if covered else []
            command = [sys.executable, *watched, "-m", "pytest", "--durations=15", "--durations-min=5", *lane]
            process = subprocess.Popen(command, cwd=ROOT, stdout=said, stderr=subprocess.STDOUT)
            running.append((lane, said, process))
        codes = []
        for lane, said, process in running:
            codes.append(process.wait())
            said.seek(0)
            print(f"-- {' '.join(lane)}\n{said.read()}", flush=True)
    print(f"   {time.monotonic() - started:.0f} s", flush=True)
    if covered:
        tell_coverage()
    if any(codes):
        sys.exit(max(codes))


def tell_coverage() -> None:
    """How much of each room the tests ran through; told, not judged."""
    for action in (["combine", "-q"], ["report"]):
        done = subprocess.run(
            [sys.executable, "-m", "coverage", *action], cwd=ROOT, capture_output=True, text=True
        )
    rooms: dict[str, list[int]] = {}
    for line in done.stdout.splitlines():
        parts = line.split()
        if len(parts) == 4 and parts[0].startswith("src/winnower/"):
            inside = Path(parts[0]).relative_to("src/winnower").parts
            room = "/".join(inside[:2] if inside[0] == "core" and len(inside) > 2 else inside[:1])
            counted = rooms.setdefault(room, [0, 0])
            counted[0] += int(parts[1])
            counted[1] += int(parts[2])
    print("== Coverage (lines run by the tests)", flush=True)
    for room, (lines, missed) in sorted(rooms.items()):
        print(f"   {room:<24} {lines - missed:>6} of {lines:>6}  {1 - missed / max(lines, 1):.0%}")
    (ROOT / ".coverage").unlink(missing_ok=True)


def main() -> None:
    covered = "--coverage" in sys.argv
    only = [word for word in sys.argv[1:] if word not in ("--coverage", "--checks")]
    if not only:
        python = ["src", "tests", "bench", "docs", "demo"]
        step("Style", [str(BIN / "ruff"), "check", *python])
        step("Format", [str(BIN / "ruff"), "format", "--check", *python])
        step("Types", [str(BIN / "mypy")])
        step("Strict types", [str(BIN / "mypy"), "--strict", *(f"src/winnower/{room}" for room in STRICT)])
        step("Rooms", [str(BIN / "lint-imports"), "--config", "pyproject.toml"])
        step("Wording", [sys.executable, "tests/check_words.py"])
        step("Client matches the API", [sys.executable, "tests/check_client.py"])
        step("Web style, hooks, circles", ["npm", "run", "--silent", "lint"], ROOT / "web")
        step("Web types", ["npm", "run", "--silent", "check"], ROOT / "web")
        step("Web tests", ["npm", "run", "--silent", "test"], ROOT / "web")
    if "--checks" in sys.argv:
        return
    if only:
        step("Python tests", [sys.executable, "-m", "pytest", *only])
    else:
        side_by_side(
            "Python tests",
            [["tests/browser", "tests/faults"], ["tests/core", "tests/store", "tests/api"]],
            covered,
        )


if __name__ == "__main__":
    main()
