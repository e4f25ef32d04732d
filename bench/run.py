"""All benches, each beside another way in the same run: ``./winnower bench``.

A folder and a database of its own are made and removed again. ``--small`` runs at a tenth of the size.
"""

from __future__ import annotations

import argparse
import csv
import os
import sys
import tempfile
from dataclasses import replace
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent))

import adjusting  # noqa: E402
import assisting  # noqa: E402
import coding  # noqa: E402
import comparing  # noqa: E402
import counting  # noqa: E402
import deliveries  # noqa: E402
import describing  # noqa: E402
import documents  # noqa: E402
import history  # noqa: E402
import import_texts  # noqa: E402
import learning  # noqa: E402
import levels  # noqa: E402
import load  # noqa: E402
import mean_levels  # noqa: E402
import reporting  # noqa: E402
import runs  # noqa: E402
import serving  # noqa: E402
import wording  # noqa: E402
import writing  # noqa: E402

import faults  # noqa: E402
from winnower.cli.common import Desk, database_in_use  # noqa: E402
from winnower.settings import load_settings  # noqa: E402
from winnower.store.accounts import local_account  # noqa: E402


def write_dictionary(path: Path) -> Path:
    with path.open("w", newline="", encoding="utf-8") as file:
        writer = csv.writer(file)
        writer.writerow(["category", "term"])
        for category in counting.dictionary().categories:
            writer.writerows([category.label, term.source] for term in category.terms)
    return path


def main() -> None:
    options = argparse.ArgumentParser()
    options.add_argument("--small", action="store_true", help="a tenth of the size")
    options.add_argument(
        "--only",
        choices=(
            "texts",
            "documents",
            "deliveries",
            "words",
            "runs",
            "learning",
            "comparing",
            "writing",
            "reporting",
            "assisting",
            "history",
            "coding",
            "load",
            "faults",
            "levels",
        ),
        help="one part",
    )
    given = options.parse_args()
    if given.only in (None, "levels"):
        levels.main(100 if given.small else 1_000)
        mean_levels.main(100 if given.small else 1_000)
        adjusting.main(50 if given.small else 500)
    if given.only == "levels":
        return
    if given.only in (None, "learning"):
        learning.main(20_000 if given.small else 200_000)
    if given.only == "learning":
        return
    if given.only in (None, "comparing"):
        comparing.main(80_000 if given.small else 800_000)
    if given.only == "comparing":
        return
    if given.only in (None, "writing"):
        with tempfile.TemporaryDirectory(prefix="winnower-bench-") as name:
            writing.main(Path(name), 80_000 if given.small else 800_000)
    if given.only in (None, "reporting"):
        reporting.main()
    if given.only in (None, "assisting"):
        with tempfile.TemporaryDirectory(prefix="winnower-bench-") as name:
            assisting.main(Path(name), 80_000 if given.small else 800_000)
    if given.only in ("writing", "reporting", "assisting"):
        return
    short, long = (80_000, 6_000) if given.small else (800_000, 60_000)
    with tempfile.TemporaryDirectory(prefix="winnower-bench-") as name:
        folder = Path(name)
        os.environ["WINNOWER_DATA"] = str(folder / "data")
        settings = replace(load_settings(), data=folder / "data", database_url=None)
        with database_in_use(settings) as database:
            if given.only in (None, "load"):
                load.main(settings, database, 40 if given.small else 180)
            if given.only in (None, "faults"):
                faults.main(settings, database, folder, 20 if given.small else 200)
            if given.only in ("load", "faults"):
                return
            if given.only in (None, "history"):
                history.main(database, 100_000 if given.small else 1_000_000)
            if given.only == "history":
                return
            if given.only in (None, "coding"):
                coding.main(database, folder, 100_000 if given.small else 1_000_000)
            if given.only == "coding":
                return
            if given.only in (None, "deliveries"):
                deliveries.main(settings, database, folder, small=given.small)
            if given.only == "deliveries":
                return
            if given.only in (None, "documents"):
                documents.main(folder, *((1_000, 200) if given.small else (10_000, 2_000)))
            if given.only == "documents":
                return
            import_texts.main(database.url, folder, short, 0 if given.only in ("words", "runs") else long)
            with database.session() as session:
                account = local_account(session)
            if given.only in (None, "runs"):
                runs.main(database, settings, f"short {short}", folder / "short.csv")
            if given.only == "runs":
                return
            desk = Desk(settings, database, account)
            wording.main(desk.corpus(desk.project(f"short {short}")), folder / "short.csv", short)
            if given.only == "words":
                return
            counting.main(desk.corpus(desk.project(f"short {short}")), folder / "short.csv")
            describing.main(database, settings, folder, f"short {short}", given.small)
            serving.main(database, f"short {short}", write_dictionary(folder / "bench.csv"))


if __name__ == "__main__":
    main()
