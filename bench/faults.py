"""Imports whose workers are killed and paused at random moments: what each job says is what is there."""

from __future__ import annotations

import random
import sys
from collections import Counter
from pathlib import Path

from measure import row

from winnower.settings import Settings
from winnower.store.accounts import local_account, make_project
from winnower.store.database import Database

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.faults.driver import Fault, killed_until_it_ends, paused_and_replaced, table  # noqa: E402

ROWS = 24_000
KILLS_A_JOB = 7


def main(settings: Settings, database: Database, folder: Path, kills: int) -> None:
    """Kill until there were so many kills, every fourth job paused and replaced instead."""
    chance, killed, ends = random.Random(1), 0, Counter[str]()
    path = table(folder / "faults.csv", ROWS)
    number = 0
    while killed < kills:
        number += 1
        with database.session() as session:
            account = local_account(session)
            project = make_project(session, account, f"faults {number}")
        fault = Fault(database, settings, account.id, project.id)
        job = fault.make_import(path)
        if number % 4 == 0:
            paused_and_replaced(fault, job, chance)
        else:
            killed += killed_until_it_ends(fault, job, chance, KILLS_A_JOB)
        ends[fault.agree(job, ROWS)] += 1
    told = ", ".join(f"{count} {state}" for state, count in ends.items())
    row(f"{killed} kills, {number // 4} pauses: jobs that say what is there", told, "all", True)
