"""Describing a corpus: values of many texts, sets by rule, near duplicates."""

from __future__ import annotations

import random
import time
from pathlib import Path

import numpy as np
import polars as pl
from measure import row, seconds

from winnower.core.check import near_duplicates
from winnower.core.index import TokenIndex, build_segment
from winnower.core.scope import Finds, HasTerm, HasValue, Scope, scope_mask
from winnower.settings import Settings
from winnower.store.accounts import local_account, project_named
from winnower.store.corpus import CorpusCache, with_new_values
from winnower.store.database import Database
from winnower.store.fields import lock_project
from winnower.store.history import Recorder
from winnower.store.models import Project
from winnower.store.reindex import follow
from winnower.store.undo import undo
from winnower.store.variables import make_variable, set_values


def values(database: Database, settings: Settings, name: str, texts: int) -> None:
    """Setting a variable for many texts, and taking it back, as a person would wait for it."""
    cache = CorpusCache(settings.index)
    with database.session() as session:
        account = local_account(session)
        project_id = project_named(session, account, name).id
        recorder = Recorder(session, project_id, account.id, "new")
        variable = make_variable(recorder, f"Wave {time.time_ns()}", "category")
        recorder.save()
        field = f"v{variable.id}"
        cache.open(session, session.get_one(Project, project_id))
    started = time.perf_counter()
    with database.session() as session:
        project = session.get_one(Project, project_id)
        lock_project(session, project)
        corpus = with_new_values(session, project, cache.open(session, project))
        recorder = Recorder(session, project_id, account.id, "set")
        places = np.arange(texts) * (corpus.columns.n_texts // texts)
        set_values(recorder, corpus, field, places, ["first"] * texts)
        recorder.save()
    with database.session() as session:
        cache.open(session, session.get_one(Project, project_id))
    took = time.perf_counter() - started
    row(f"a variable set for {texts:,} texts, and counted with", f"{took:.2f} s", "under 3 s", took < 3)
    started = time.perf_counter()
    with database.session() as session:
        project = session.get_one(Project, project_id)
        base = cache.open(session, project)
        effects = undo(session, project, account.id, lambda: with_new_values(session, project, base))
        follow(session, project, cache.folder(project), effects.bodies, effects.deliveries)
    print(f"   (taken back in {time.perf_counter() - started:.2f} s)")


def rule_sets(database: Database, settings: Settings, name: str) -> None:
    """A set by rule over the whole corpus, beside polars over the same texts."""
    cache = CorpusCache(settings.index)
    with database.session() as session:
        project = project_named(session, local_account(session), name)
        corpus = cache.open(session, project)
    label = corpus.columns.fields["source"].labels[0]  # type: ignore[union-attr]
    rules = {
        "words": Scope((HasTerm(("kalo*", "miren")),)),
        "words and source": Scope((HasTerm(("kalo*",)), HasValue("source", (label,)))),
        "title or words": Scope((Finds("text 77"),)),
    }
    worst = max(
        seconds(lambda r=rule: scope_mask(r, corpus.columns, corpus.index), 5) for rule in rules.values()
    )
    row(
        f"a set by rule over {corpus.columns.n_texts:,} texts, slowest of {len(rules)}",
        f"{worst * 1000:.0f} ms",
        "under 300 ms",
        worst < 0.3,
    )


def alike_texts(count: int, seed: int = 5) -> list[str]:
    """Texts of 40 to 300 words; one in twenty is another one with small edits."""
    rng, draw_one = np.random.default_rng(seed), random.Random(seed)
    from corpora import draw, vocabulary

    words = vocabulary(60_000)
    out: list[list[str]] = []
    for _ in range(count):
        if len(out) > 100 and draw_one.random() < 0.05:
            copy = list(draw_one.choice(out))
            for _ in range(max(1, len(copy) // 60)):
                copy[draw_one.randrange(len(copy))] = str(words[draw_one.randrange(2_000)])
            out.append(copy)
        else:
            out.append(words[draw(rng, int(rng.integers(40, 300)), len(words))].tolist())
    return [" ".join(text) for text in out]


def exact_pairs(texts: list[str], threshold: float) -> int:
    """Another way: all pairs of a few texts compared outright, as sets of five-word runs."""
    sets = []
    for text in texts:
        words = text.split()
        sets.append({tuple(words[at : at + 5]) for at in range(len(words) - 4)})
    pairs = 0
    for at, one in enumerate(sets):
        pairs += sum(len(one & two) / len(one | two) >= threshold for two in sets[at + 1 :] if one and two)
    return pairs


def near(folder: Path, count: int) -> None:
    texts = alike_texts(count)
    ids = list(range(count))
    segments = [
        build_segment(folder / f"near-{low}", ids[low : low + 20_000], pl.Series(texts[low : low + 20_000]))
        for low in range(0, count, 20_000)
    ]
    index = TokenIndex(segments)
    started = time.perf_counter()
    found = near_duplicates(index, 0.6)
    took = time.perf_counter() - started
    row(f"near duplicates among {count:,} texts", f"{took:.1f} s", "under 120 s", took < 120)
    print(f"   ({found.n_groups:,} groups of {int((found.group >= 0).sum()):,} texts)")
    some = 1_500
    started = time.perf_counter()
    pairs = exact_pairs(texts[:some], 0.6)
    brute = (time.perf_counter() - started) * (count / some) ** 2
    small = near_duplicates(TokenIndex([build_segment(folder / "near-some", ids[:some], texts[:some])]), 0.6)
    sizes = np.bincount(small.group[small.group >= 0])
    print(
        f"   (comparing all pairs outright would take about {brute / 3600:,.1f} h; among the first {some:,} texts "
        f"it finds {pairs:,} pairs, this way {len(sizes):,} groups with {int((sizes * (sizes - 1) // 2).sum()):,})"
    )


def main(database: Database, settings: Settings, folder: Path, name: str, small: bool) -> None:
    values(database, settings, name, 10_000 if small else 100_000)
    rule_sets(database, settings, name)
    near(folder, 10_000 if small else 100_000)
