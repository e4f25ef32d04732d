"""Over HTTP, at the size of the short corpus: typing a term, paging the table, the first count after a restart."""

from __future__ import annotations

import itertools
import os
import statistics
import subprocess
import time
from pathlib import Path

import httpx2
import numpy as np
from corpora import vocabulary
from measure import PYTHON, row

from winnower.store.accounts import make_account, project_named
from winnower.store.database import Database
from winnower.store.models import Member
from winnower.store.server import free_port


def member(database: Database, project: str) -> tuple[int, str]:
    """An account that can sign in and is a member of the project: the project's id, the account's name."""
    from winnower.store.accounts import local_account

    with database.session() as session:
        found = project_named(session, local_account(session), project)
        bench = make_account(session, f"bench{time.time_ns()}", "Bench", "bench bench")
        session.add(Member(project_id=found.id, account_id=bench.id, role="owner"))
        return found.id, bench.name


def terms(count: int = 50) -> list[str]:
    """Words of all frequencies, beginnings, endings, inner signs and phrases."""
    rng = np.random.default_rng(3)
    words = vocabulary(20_000)
    out = []
    for at in range(count):
        one, two = (str(words[int(n)]) for n in np.exp(rng.uniform(0, np.log(20_000), 2)))
        kinds = (
            one,
            one[:4] + "*",
            "*" + one[-3:],
            one[:2] + "?" + one[3:] if len(one) > 4 else one,
            f"{one} {two}",
        )
        out.append(kinds[at % len(kinds)])
    return out


class Served:
    """The application in a process of its own."""

    def __init__(self, url: str, name: str = "") -> None:
        self.port = free_port(8610)
        environment = {**os.environ, "WINNOWER_DATABASE_URL": url}
        self.process = subprocess.Popen(
            [PYTHON, "-m", "winnower", "serve", "--port", str(self.port)],
            env=environment,
            stderr=subprocess.DEVNULL,
        )
        self.client = httpx2.Client(base_url=f"http://127.0.0.1:{self.port}/api/v1", timeout=60)
        for _ in range(300):
            try:
                self.client.get("/me")
                break
            except httpx2.TransportError:
                time.sleep(0.05)
        if name:
            self.client.post("/sign-in", json={"name": name, "password": "bench bench"}).raise_for_status()

    def ask(self, path: str, body: dict) -> tuple[float, dict]:
        started = time.perf_counter()
        answer = self.client.post(path, json=body)
        took = time.perf_counter() - started
        answer.raise_for_status()
        return took, answer.json()

    def stop(self) -> None:
        self.process.terminate()
        self.process.wait(20)


def main(database: Database, project: str, dictionary: Path) -> None:
    number, name = member(database, project)
    at = f"/projects/{number}"
    served = Served(database.url, name)
    with dictionary.open("rb") as file:
        served.client.post(f"{at}/dictionaries/import", files={"file": ("bench.csv", file)})
    chosen = served.client.get(f"{at}/dictionaries").json()[0]["id"]
    served.stop()

    served = Served(database.url, name)
    first, _ = served.ask(f"{at}/compare", {"dictionary_id": chosen})
    row("first count after a restart", f"{first:.2f} s", "within 2 s", first <= 2)
    served.ask(f"{at}/terms/try", {"source": "warm"})
    typed = [served.ask(f"{at}/terms/try", {"source": term})[0] for term in dict.fromkeys(terms())]
    median = statistics.median(typed)
    row(
        f"typing a term: median of {len(typed)} terms",
        f"{median * 1000:.0f} ms",
        "within 100 ms",
        median <= 0.1,
    )
    print(f"   (slowest {max(typed) * 1000:.0f} ms)")
    fields = served.client.get(f"{at}/fields").json()
    keys = [field["key"] for field in fields]
    for key in keys:  # orders are computed once for a revision
        served.ask(f"{at}/texts/page", {"sort": key})
    filters = (
        [],
        [{"kind": "values", "field": "source", "values": ["Source 3"]}],
        [{"kind": "dates", "field": "date", "low": "2031-03-01", "high": "2031-05-01"}],
        [{"kind": "terms", "terms": ["ka*"]}],
    )
    paged = []
    for key, down, scope in itertools.product(keys, (False, True), filters):
        paged.append(
            served.ask(f"{at}/texts/page", {"sort": key, "descending": down, "scope": scope, "start": 5_000})[
                0
            ]
        )
    find = served.ask(f"{at}/texts/page", {"sort": "title", "find": "12"})[0]
    row(
        f"a page of the table: median of {len(paged)} sorts and filters",
        f"{statistics.median(paged) * 1000:.0f} ms",
        "within 150 ms",
        statistics.median(paged) <= 0.15,
    )
    row(
        "a page of the table: slowest, each asked for the first time",
        f"{max(paged) * 1000:.0f} ms",
        "within 150 ms",
        max(paged) <= 0.15,
    )
    print(f"   (words in titles {find * 1000:.0f} ms)")
    served.stop()
