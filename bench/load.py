"""Thirty people at work in one project at once: waiting times by what they do, errors, and memory over time."""

from __future__ import annotations

import itertools
import random
import threading
import time
from collections import defaultdict
from collections.abc import Callable
from typing import Any

import httpx2
import numpy as np
import psutil
from measure import row
from serving import Served

from winnower.cli.demo_project import load_demo
from winnower.settings import Settings
from winnower.store.accounts import make_account
from winnower.store.database import Database
from winnower.store.memory import IDLE_S, TEND_EVERY_S
from winnower.store.models import Member

PEOPLE = 30
#: Seconds between what one person does, on average.
PAUSE_S = 1.0
#: They come one after the other within so many seconds.
ARRIVING_S = 10
#: What a process may take besides its share of the budget.
BESIDE_BYTES = 300e6
EDITING = ("term added", "note changed", "live term", "page of texts")
WORDS = (
    "lamb*",
    "flock",
    "wolf*",
    "market",
    "price*",
    "hill*",
    "deer",
    "birch",
    "compens*",
    "stock*",
)
_numbers = itertools.count(1)
Ask = Callable[..., dict[str, Any]]


class Person:
    """One person with a browser: signs in, then does one thing after the other."""

    def __init__(self, address: str, name: str, project: int, seed: int, seen: Seen) -> None:
        self.client = httpx2.Client(base_url=f"{address}/api/v1", timeout=30)
        self.name, self.at, self.rng, self.seen = name, f"/projects/{project}", random.Random(seed), seen

    def ask(self, what: str, method: str, path: str, body: Any = None) -> Any:
        started = time.perf_counter()
        try:
            answer = self.client.request(method, path, json=body)
        except httpx2.TransportError as error:
            self.seen.failed(what, repr(error))
            return None
        self.seen.took(what, time.perf_counter() - started)
        if answer.status_code >= 400 and answer.status_code != 409:
            self.seen.failed(what, f"{answer.status_code} {answer.text[:200]}")
            return None
        return answer.json() if answer.content else None

    def work(self, until: float) -> None:
        time.sleep(self.rng.uniform(0, ARRIVING_S))
        self.ask("sign in", "POST", "/sign-in", {"name": self.name, "password": "a long password"})
        dictionary = self.ask("list", "GET", f"{self.at}/dictionaries")[0]["id"]
        tree = self.ask("dictionary", "GET", f"{self.at}/dictionaries/{dictionary}")
        texts = self.ask("page of texts", "POST", f"{self.at}/texts/page", {"most": 50})["rows"]
        category = self.rng.choice(tree["categories"])["id"]
        things = (self._try, self._add, self._note, self._compare, self._page, self._words, self._evidence)
        weights = (6, 2, 1, 2, 3, 1, 2)
        while time.monotonic() < until:
            time.sleep(self.rng.expovariate(1 / PAUSE_S))
            self.rng.choices(things, weights)[0](dictionary, category, texts)

    def _try(self, *_: Any) -> None:
        for end in (3, 4, 6):  # as it is typed
            word = self.rng.choice(WORDS)[:end].strip("* ")
            self.ask("live term", "POST", f"{self.at}/terms/try", {"source": f"{word}*"})

    def _add(self, dictionary: int, category: int, _: Any) -> None:
        here = f"{self.at}/dictionaries/{dictionary}"
        source = f"word{next(_numbers)}"
        self.ask("term added", "POST", f"{here}/categories/{category}/terms", {"terms": [{"source": source}]})
        self.ask("dictionary", "GET", here)
        self.ask("header", "GET", self.at)

    def _note(self, _: int, __: int, texts: Any) -> None:
        text = self.rng.choice(texts)["id"]
        self.ask("note changed", "POST", f"{self.at}/notes", {"body": "To look at again.", "text_id": text})

    def _compare(self, dictionary: int, *_: Any) -> None:
        split = self.rng.choice(({"field": "source"}, {"field": "date", "period": "month"}, {}))
        target = {"kind": "dictionary", "dictionary": dictionary}
        self.ask("comparison", "POST", f"{self.at}/compare", {"target": target, "split": split})

    def _page(self, *_: Any) -> None:
        sort = self.rng.choice(("title", "date", "words"))
        self.ask("page of texts", "POST", f"{self.at}/texts/page", {"sort": sort, "start": 100, "most": 100})

    def _words(self, *_: Any) -> None:
        self.ask("words", "POST", f"{self.at}/words", {})

    def _evidence(self, *_: Any) -> None:
        target = {"kind": "search", "query": self.rng.choice(WORDS[:8])}
        self.ask("evidence", "POST", f"{self.at}/evidence", {"comparison": {"target": target}})


class Seen:
    """Waiting times and errors of all people."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self.times: dict[str, list[float]] = defaultdict(list)
        self.errors: list[str] = []

    def took(self, what: str, seconds: float) -> None:
        with self._lock:
            self.times[what].append(seconds)

    def failed(self, what: str, why: str) -> None:
        with self._lock:
            self.errors.append(f"{what}: {why}")

    def quantile(self, share: float, *kinds: str) -> float:
        some = [t for kind in kinds or tuple(self.times) for t in self.times.get(kind, [])]
        return float(np.quantile(some, share)) if some else 0.0


def main(settings: Settings, database: Database, seconds: int) -> None:
    """Let them work for so many seconds; print what they waited."""
    project = load_demo(settings, database, lambda _: None)
    names = [f"load{number}" for number in range(PEOPLE)]
    with database.session() as session:
        for name in names:
            account = make_account(session, name, name.capitalize(), "a long password")
            session.add(Member(project_id=project, account_id=account.id, role="coder"))
    served, seen = Served(database.url), Seen()
    until = time.monotonic() + seconds
    people = [
        Person(f"http://127.0.0.1:{served.port}", name, project, at, seen) for at, name in enumerate(names)
    ]
    threads = [threading.Thread(target=person.work, args=(until,)) for person in people]
    for thread in threads:
        thread.start()
    memory, process = [], psutil.Process(served.process.pid)
    while time.monotonic() < until:
        time.sleep(min(5, seconds / 12))
        memory.append(sum(p.memory_info().rss for p in (process, *process.children())) / 1e6)
    for thread in threads:
        thread.join(60)
    time.sleep(IDLE_S + 2 * TEND_EVERY_S)
    rested = sum(p.memory_info().rss for p in (process, *process.children())) / 1e6
    served.stop()
    _tell(seen, memory, seconds)
    n_processes = settings.processes
    most = (settings.memory_bytes + n_processes * BESIDE_BYTES) / 1e6
    row("memory, at its most", f"{max(memory):.0f} MB", f"under {most:.0f} MB", max(memory) < most)
    row("memory, after a minute of rest", f"{rested:.0f} MB", "less than at work", rested < max(memory))


def _tell(seen: Seen, memory: list[float], seconds: int) -> None:
    asked = sum(map(len, seen.times.values()))
    print(f"   {PEOPLE} people, {seconds} s: {asked:,} requests, {asked / seconds:.0f} a second")
    for what, times in sorted(seen.times.items()):
        middle, most = seen.quantile(0.5, what) * 1000, seen.quantile(0.95, what) * 1000
        print(f"   {what:<16} {len(times):>6,}  median {middle:>5.0f} ms  p95 {most:>5.0f} ms")
    editing, comparing = seen.quantile(0.95, *EDITING), seen.quantile(0.95, "comparison")
    row("editing and live terms, p95", f"{editing * 1000:.0f} ms", "under 200 ms", editing < 0.2)
    row("comparisons, p95", f"{comparing * 1000:.0f} ms", "under 500 ms", comparing < 0.5)
    row(
        "sign-in, slowest",
        f"{seen.quantile(1, 'sign in'):.1f} s",
        "under 5 s",
        seen.quantile(1, "sign in") < 5,
    )
    row("errors", f"{len(seen.errors)}", "none", not seen.errors)
    for error in seen.errors[:5]:
        print(f"      {error}")
    third = max(len(memory) // 3, 1)
    early, late = np.mean(memory[third : 2 * third]), np.mean(memory[-third:])
    grown = float(late / early) if early else 1.0
    row(
        "memory, last third beside the middle one",
        f"{grown:.2f} times, {late:.0f} MB",
        "under 1.1",
        grown < 1.1,
    )
