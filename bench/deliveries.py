"""Deliveries: the first look at many files and at a large one, and a press export with many texts in one file.

Beside each the plainest way to do something like it with the same libraries.
"""

from __future__ import annotations

import csv
import re
import time
from pathlib import Path

import numpy as np
import psutil
from corpora import draw, vocabulary
from measure import row
from sqlalchemy import select

from winnower.jobs.apart import Apart
from winnower.jobs.importing import ImportRun
from winnower.jobs.reading import PiecesApart
from winnower.settings import Settings
from winnower.store.accounts import local_account, make_project
from winnower.store.database import Database
from winnower.store.jobs import make_job
from winnower.store.models import Delivery

WORDS = 850


def _texts(count: int, words: int) -> list[str]:
    rng, known = np.random.default_rng(31), vocabulary(50_000)
    tokens = known[draw(rng, count * words, len(known))]
    return [" ".join(tokens[at * words : (at + 1) * words]) for at in range(count)]


def write_press(path: Path, articles: int) -> Path:
    """A press export: field lines before each article."""
    with path.open("w", encoding="utf-8") as file:
        for at, text in enumerate(_texts(articles, WORDS)):
            day = f"{at % 28 + 1:02}.{at % 12 + 1:02}.2031"
            file.write(
                f"Headline: Article {at}\nSource: Paper {at % 9}\nDate: {day}\nBy: Ann Bore\n\n{text}\n\n"
            )
    return path


def write_mixed(folder: Path, count: int) -> list[tuple[str, Path]]:
    """Tables of several kinds and texts, each small."""
    texts = _texts(count * 5, 60)
    folder.mkdir(parents=True, exist_ok=True)
    for at in range(count):
        some = texts[at * 5 : at * 5 + 5]
        if at % 3 == 2:
            (folder / f"{at:03}.txt").write_text("\n\n".join(some))
            continue
        sign = ",;"[at % 2]
        with (folder / f"{at:03}.csv").open("w", newline="") as file:
            writer = csv.writer(file, delimiter=sign)
            writer.writerow(["id", "title", f"field {at % 7}", "text"])
            writer.writerows([number, f"T {number}", "x", text] for number, text in enumerate(some))
    return [(path.name, path) for path in sorted(folder.iterdir())]


def write_large(path: Path, size: int) -> Path:
    texts = _texts(2_000, 60)
    block = "".join(f"{at},Title {at},{text}\n" for at, text in enumerate(texts)).encode()
    with path.open("wb") as file:
        file.write(b"id,title,text\n")
        while file.tell() < size:
            file.write(block)
    return path


def _look(settings: Settings, paths: list[tuple[str, Path]]) -> tuple[float, float]:
    """Seconds of a first look, and MB by which the asking process grew."""
    apart, process = Apart(settings), psutil.Process()
    apart.call_without("look", paths[:1], settings, {}, {}, [], {})
    before, started = process.memory_info().rss, time.perf_counter()
    apart.call_without("look", paths, settings, {}, {}, [], {})
    return time.perf_counter() - started, (process.memory_info().rss - before) / 1e6


def _press(settings: Settings, database: Database, path: Path, articles: int) -> None:
    started = time.perf_counter()
    body = path.read_text()
    pieces = re.split(r"^(?=Headline:)", body, flags=re.MULTILINE)
    words = sum(len(piece.split()) for piece in pieces)
    bare = time.perf_counter() - started
    with database.session() as session:
        account = local_account(session)
        project = make_project(session, account, f"press {time.time_ns()}")
        lots = {"text": {"cut": "fields"}}
        job = make_job(
            session,
            project.id,
            account.id,
            "import",
            {"name": "press", "paths": [["press.txt", str(path)]], "lots": lots},
        )
        job_id, project_id = job.id, project.id
    started = time.perf_counter()
    report = ImportRun(database, settings, job_id, read=PiecesApart).run()
    took = time.perf_counter() - started
    with database.session() as session:
        assert session.scalar(select(Delivery.state).where(Delivery.project_id == project_id)) == "done"
    assert report.new == articles, report.new
    print(
        f"   {articles:,} articles in one file of {path.stat().st_size / 1e6:.0f} MB: {took:.1f} s ({words:,} words)"
    )
    row("press export, beside cutting and splitting it bare", f"{took / bare:.1f} times", "30 s", took < 30)


def main(settings: Settings, database: Database, folder: Path, *, small: bool) -> None:
    """Print how long looking and a press export take."""
    mixed = write_mixed(folder / "mixed", 100)
    started = time.perf_counter()
    for _, path in mixed:
        path.read_bytes().decode().split()
    bare = time.perf_counter() - started
    took, grown = _look(settings, mixed)
    print(f"   first look at 100 files: {took:.1f} s, the asking process grew by {grown:.0f} MB")
    row(
        "first look at 100 mixed files, beside reading them bare", f"{took / bare:.0f} times", "5 s", took < 5
    )
    large = write_large(folder / "large.csv", 100_000_000 if small else 1_000_000_000)
    took, grown = _look(settings, [("large.csv", large)])
    print(
        f"   first look at a file of {large.stat().st_size / 1e6:.0f} MB: {took:.1f} s, grew by {grown:.0f} MB"
    )
    row("first look at a large file", f"{took:.1f} s", "3 s", took < 3 and grown < 400)
    large.unlink()
    articles = 1_000 if small else 10_000
    path = write_press(folder / "press.txt", articles)
    took, _ = _look(settings, [("press.txt", path)])
    print(f"   first look at the press export: {took:.1f} s")
    _press(settings, database, path, articles)
