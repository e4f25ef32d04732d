"""Import end to end beside a bare SQLAlchemy bulk insert of the same rows, and memory by size."""

from __future__ import annotations

import csv
import os
import time
from pathlib import Path

from corpora import HEADER, long_texts, short_texts, write_csv
from measure import PYTHON, row, run_watched
from sqlalchemy import BigInteger, Column, MetaData, String, Table, create_engine
from sqlalchemy.dialects.mysql import LONGTEXT

COLUMNS = [
    "--text",
    "text",
    "--title",
    "title",
    "--source",
    "source",
    "--date",
    "date",
    "--key",
    "id",
    "--variables",
    "region,age",
]


def bare_insert(url: str, path: Path) -> float:
    """Seconds to read the file and insert its rows with SQLAlchemy core, 5,000 at a time."""
    engine = create_engine(url)
    metadata = MetaData()
    columns = [Column(name, String(300)) for name in HEADER[:-1]]
    table = Table(
        "bare", metadata, Column("number", BigInteger, primary_key=True), *columns, Column("text", LONGTEXT)
    )
    metadata.drop_all(engine)
    metadata.create_all(engine)
    started = time.perf_counter()
    with path.open(newline="", encoding="utf-8") as file, engine.begin() as connection:
        rows = []
        for cells in csv.DictReader(file):
            rows.append(cells)
            if len(rows) == 5_000:
                connection.execute(table.insert(), rows)
                rows = []
        if rows:
            connection.execute(table.insert(), rows)
    took = time.perf_counter() - started
    metadata.drop_all(engine)
    engine.dispose()
    return took


def import_project(name: str, path: Path) -> tuple[float, float]:
    """Seconds and peak MB of ``winnower import`` into a new project."""
    environment = dict(os.environ)
    run_watched([PYTHON, "-m", "winnower", "project", "new", name], environment)
    took, peak, _ = run_watched([PYTHON, "-m", "winnower", "import", name, str(path), *COLUMNS], environment)
    return took, peak


def main(url: str, folder: Path, short: int, long: int) -> None:
    small = write_csv(folder / "short-quarter.csv", short_texts(short // 4))
    large = write_csv(folder / "short.csv", short_texts(short))
    quarter_s, quarter_mb = import_project(f"short {short // 4}", small)
    whole_s, whole_mb = import_project(f"short {short}", large)
    bare_s = bare_insert(url, large)
    row(
        f"import of {short:,} short texts over a bare insert",
        f"{whole_s / bare_s:.2f} x",
        "at most 2.2 x",
        whole_s <= 2.2 * bare_s,
    )
    print(f"   ({whole_s:.0f} s against {bare_s:.0f} s; a quarter of the rows {quarter_s:.0f} s)")
    row("peak memory of the importing process", f"{whole_mb:,.0f} MB", "under 1,000 MB", whole_mb < 1000)
    row(
        f"peak memory, {short:,} over {short // 4:,} rows",
        f"{whole_mb / quarter_mb:.2f} x",
        "flat (under 1.25 x)",
        whole_mb < 1.25 * quarter_mb,
    )
    if not long:
        return
    longer = write_csv(folder / "long.csv", long_texts(long))
    long_s, long_mb = import_project(f"long {long}", longer)
    bare_long_s = bare_insert(url, longer)
    row(
        f"import of {long:,} longer texts over a bare insert",
        f"{long_s / bare_long_s:.2f} x",
        "at most 3 x",
        long_s <= 3 * bare_long_s,
    )
    print(f"   ({long_s:.0f} s against {bare_long_s:.0f} s, peak {long_mb:,.0f} MB)")
