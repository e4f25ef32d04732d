"""The assistant's rules over many texts: a question, a summary, themes, viewpoints."""

from __future__ import annotations

import time
from collections.abc import Callable
from functools import cached_property
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import numpy as np
import polars as pl
from comparing import Corpus, made
from corpora import vocabulary
from measure import row

from winnower.core.assist import Cited, Question, Reply, Summary, Themes, Viewpoints
from winnower.core.index import brought_together
from winnower.core.pattern import Term
from winnower.core.places import Places, find_hits
from winnower.core.scope import Ground, Scope, Split, lay_ground
from winnower.store.assisting import Concept, Looking, said
from winnower.store.questions import answer


class Opened:
    """As much of an open corpus as the rules ask for; what is made once is kept."""

    def __init__(self, corpus: Corpus) -> None:
        self.index, self.columns, self.lexicon = corpus.index, corpus.columns, corpus.lexicon
        self._kept: dict[Any, Any] = {}

    def kept(self, key: Any, make: Callable[[Any], Any], _: object = ()) -> Any:
        if key not in self._kept:
            self._kept[key] = make(self)
        return self._kept[key]

    def ground(self, scope: Scope, split: Split) -> Ground:
        return self.kept(
            ("ground", scope, split), lambda one: lay_ground(scope, split, one.index, one.columns)
        )

    def hits(self, terms: tuple[Term, ...], scope: Scope, order: str) -> Places:
        return find_hits(terms, self.index, self.columns, self.ground(scope, Split()).mask, order)


class Bench(Looking):
    """A corpus without a database: sentences are named, not read."""

    @cached_property
    def functions(self) -> np.ndarray:
        return np.arange(20)

    @cached_property
    def stems(self) -> pl.Series:
        corpus = self.room.corpus
        return brought_together(corpus.index, corpus.lexicon, "en", "stem")

    @cached_property
    def together(self) -> np.ndarray:
        return np.arange(len(self.room.corpus.lexicon))

    @property
    def stop(self) -> frozenset[str]:
        return frozenset()

    def concept(self, word: str, same: Any = ()) -> Concept:
        return Concept(word, (word, *same))

    def phrase(self, *_: Any) -> str:
        return ""

    def quote(self, units: Any) -> list[Cited]:
        return [Cited(int(one) + 1, 1, 0, 1, 1, "words", "origin") for one in units]


def asked(looking: Bench, task: Any) -> Reply:
    return answer(looking, task, None) if isinstance(task, Question) else said(looking, task)


def main(folder: Path, n: int) -> None:
    corpus = Opened(made(folder / "assisting", n)[0])
    looking = Bench(SimpleNamespace(corpus=corpus, session=None, project=None), Scope())  # type: ignore[arg-type]
    words = [str(word) for word in vocabulary(400)]
    labels = corpus.ground(Scope(), Split("source")).groups.labels
    tasks = (
        ("a question", Question(f"{words[10]} {words[20]} {words[30]}")),
        ("a question of how many", Question(f"How many {words[10]} have {words[20]}?")),
        ("a summary", Summary()),
        ("themes", Themes()),
        ("viewpoints of two sources", Viewpoints(Split("source"), labels[0], labels[1])),
    )
    for name, task in tasks:
        started = time.perf_counter()
        reply = asked(looking, task)
        first = time.perf_counter() - started
        started = time.perf_counter()
        asked(looking, task)
        again = time.perf_counter() - started
        row(
            f"{name} over {n:,} texts, first and again ({len(reply.statements)} statements)",
            f"{first:.2f}, {again:.2f} s",
            "2 s",
            first <= 2,
        )
