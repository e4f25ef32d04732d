"""All checks, in the order of how soon they tell: style, rooms, generated client, web, Python."""

from __future__ import annotations

import subprocess
import sys
import time
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


def main() -> None:
    only = sys.argv[1:]
    if not only:
        step("Style", [str(BIN / "ruff"), "check", "src", "tests", "bench", "docs", "demo"])
        step("Rooms", [str(BIN / "lint-imports"), "--config", "pyproject.toml"])
        step("Client matches the API", [sys.executable, "tests/check_client.py"])
        step("Web types", ["npm", "run", "--silent", "check"], ROOT / "web")
        step("Web tests", ["npm", "run", "--silent", "test"], ROOT / "web")
    step("Python tests", [sys.executable, "-m", "pytest", *only])


if __name__ == "__main__":
    main()
