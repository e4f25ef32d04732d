"""Any view over an open corpus: what it answers, and the places under it; computed once and kept in the memory."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from sqlalchemy.orm import Session

from winnower.core.change import Changes, changes_of
from winnower.core.compare import Comparison, Table, is_dated, usual_comparison
from winnower.core.compare.map import Map, map_of
from winnower.core.compare.targets import AnyTarget, Target
from winnower.core.errors import NotFound
from winnower.core.finding import (
    Answer,
    AnyView,
    ChangesView,
    MapView,
    answer_changes,
    answer_comparison,
    answer_keywords,
    answer_map,
    answer_network,
    answer_together,
    request_of,
)
from winnower.core.finding.views import scope_of, split_of, with_targets
from winnower.core.keyness import Keyness, Keywords, Occurrences, Sides, keyness, occurrences, sides_of
from winnower.core.network import Network, WordNetwork, build_network, topic_places
from winnower.core.places import Places, in_order
from winnower.core.scope import Ground, Split
from winnower.core.together import Matrix, Together, count_together, places_together
from winnower.store.comparing import Lookup, keep_state, look_up, table_of
from winnower.store.inside import looked_at
from winnower.store.models import Project
from winnower.store.opened import OpenCorpus
from winnower.store.words import language_of, stop_words


@dataclass(frozen=True)
class Room:
    """A project with its corpus as a view looks at it, and who asks."""

    session: Session
    project: Project
    corpus: OpenCorpus

    def looking(self, view: AnyView) -> Room:
        """The same with the words and texts a view counts. Raises ScopeError."""
        found = looked_at(self.session, self.project, self.corpus, scope_of(view), split_of(view))
        return replace(self, corpus=found)


@dataclass(frozen=True)
class Typical:
    """Keywords with all that tells where they are."""

    asked: Keywords
    ground: Ground
    sides: Sides
    words: Occurrences
    found: Keyness
    language: str


@dataclass(frozen=True)
class Pairs:
    """A matrix with its targets looked up; ``asked`` names the very state of them."""

    asked: Together
    rows: Target
    columns: Target | None
    found: Matrix


def stop_numbers(session: Session, project: Project, corpus: OpenCorpus) -> np.ndarray:
    """Numbers of the folds on the stop list."""
    words = stop_words(session, project.id)
    return corpus.kept(("stop", words), lambda corpus: corpus.lexicon.numbers_of(list(words)), ())


def keywords(room: Room, asked: Keywords) -> Typical:
    """Raises ScopeError or WinnowerError."""
    corpus = room.corpus
    language = language_of(room.session, room.project.id)
    stop = stop_numbers(room.session, room.project, corpus) if asked.stop else np.empty(0, np.int64)
    ground = corpus.ground(asked.texts, asked.split)
    fields = corpus.scope_fields(asked.texts, asked.split)

    def make(corpus: OpenCorpus) -> Typical:
        sides = sides_of(asked, ground.groups, corpus.index.n_texts)
        words = occurrences(
            corpus.index, corpus.lexicon, sides.side >= 0, unit=asked.unit, length=asked.length, merge=asked.merge,
            language=language, stop=stop, least_hits=asked.least_hits,
        )  # fmt: skip
        if asked.unit == "word":
            words = _of_kinds(words, asked)
        found = keyness(words, sides.side, corpus.index.words, asked.least_hits, asked.least_texts)
        return Typical(asked, ground, sides, _without_pairs(words), found, language)

    return corpus.kept(("keywords", asked, stop.tobytes(), language), make, fields)


def _of_kinds(words: Occurrences, asked: Keywords) -> Occurrences:
    from winnower.core.index import KINDS

    fits = np.isin(words.kinds, [KINDS.index(kind) for kind in asked.kinds])
    if fits.all():
        return words
    kept = fits[words.row]
    return replace(words, row=words.row[kept], text=words.text[kept], hits=words.hits[kept])


def _without_pairs(words: Occurrences) -> Occurrences:
    """What is kept of occurrences once they are counted: the names."""
    nothing = np.empty(0, np.int64)
    return replace(words, row=nothing, text=nothing, hits=nothing)


def together(room: Room, asked: Together) -> Pairs:
    """Raises NotFound, TermError, ScopeError or ComparisonError."""
    lookup = Lookup(room.session, room.project.id, room.corpus)
    rows = asked.rows.resolve(lookup, room.corpus)
    columns = None if asked.columns is None else asked.columns.resolve(lookup, room.corpus)
    pinned = replace(
        asked,
        rows=asked.rows.pinned(rows),
        columns=None if asked.columns is None or columns is None else asked.columns.pinned(columns),
    )
    more = {*rows.fields, *(columns.fields if columns else ())}
    mask = room.corpus.ground(asked.texts, Split()).mask
    found = room.corpus.kept(
        ("together", pinned),
        lambda corpus: count_together(rows, columns, corpus, mask, asked.within, asked.words),
        room.corpus.scope_fields(asked.texts, None, *more),
    )
    return Pairs(pinned, rows, columns, found)


def network(room: Room, asked: Network) -> WordNetwork:
    """Raises ScopeError, ComparisonError or WinnowerError."""
    corpus = room.corpus
    language = language_of(room.session, room.project.id)
    stop = stop_numbers(room.session, room.project, corpus) if asked.stop else np.empty(0, np.int64)
    mask = network_mask(corpus, asked)
    return corpus.kept(
        ("network", asked, stop.tobytes(), language),
        lambda corpus: build_network(asked, corpus, mask, stop, language),
        corpus.scope_fields(asked.texts, asked.split),
    )


def network_mask(corpus: OpenCorpus, asked: Network) -> np.ndarray:
    """bool per text: the scope, or one group of it. Raises NotFound."""
    ground = corpus.ground(asked.texts, asked.split)
    if asked.group is None:
        return ground.mask
    groups = ground.groups
    if asked.group not in groups.labels:
        raise NotFound(f"There is no group “{asked.group}” in this split any more.")
    mask = np.zeros(len(ground.mask), bool)
    mask[groups.text[groups.group == groups.labels.index(asked.group)]] = True
    return mask


def changes(room: Room, view: ChangesView) -> Changes:
    """Raises ComparisonError where the comparison is not over time."""
    asked = look_up(room.session, room.project.id, room.corpus, view.comparison)
    table = table_of(room.corpus, asked)
    c = asked.comparison
    return room.corpus.kept(
        (
            "changes",
            c.target,
            c.joined,
            c.leave,
            c.texts,
            c.split,
            c.counting,
            c.weight,
            c.level,
            c.seed,
            view.rows,
        ),
        lambda corpus: changes_of(table, view.rows or None, is_dated(c, corpus)),
        room.corpus.scope_fields(c.texts, c.split, *asked.target.fields),
    )


def answered(room: Room, view: AnyView) -> tuple[AnyView, Answer]:
    """The answer of any view, and the view with the very states that were counted. ``room`` looks at the view.

    Raises what its parts do: NotFound, TermError, ScopeError, ComparisonError.
    """
    request = request_of(view)
    if isinstance(request, Comparison):
        asked = look_up(room.session, room.project.id, room.corpus, request)
        table = table_of(room.corpus, asked)
        pinned = with_targets(view, lambda _: asked.comparison.target)
        return pinned, _of_table(room, view, table)
    if isinstance(request, Keywords):
        typical = keywords(room, request)
        return view, answer_keywords(request, typical.sides, typical.words, typical.found, typical.language)
    if isinstance(request, Together):
        pairs = together(room, request)
        return pairs.asked, answer_together(request, pairs.rows, pairs.columns, pairs.found)
    language = language_of(room.session, room.project.id)
    return view, answer_network(request, network(room, request), language)


def _of_table(room: Room, view: AnyView, table: Table) -> Answer:
    if isinstance(view, MapView):
        return answer_map(map_of(table))
    if isinstance(view, ChangesView):
        return answer_changes(changes(room, view), view.window)
    return answer_comparison(table)


def mapped(room: Room, comparison: Comparison) -> Map:
    """Raises ComparisonError where there is too little for a map."""
    return map_of(table_of(room.corpus, look_up(room.session, room.project.id, room.corpus, comparison)))


def kept_state(room: Room, account_id: int, view: AnyView) -> AnyView:
    """The same view, its dictionaries kept as versions where they are none yet: for what is kept or leaves."""

    def kept(target: AnyTarget) -> AnyTarget:
        asked = look_up(room.session, room.project.id, room.corpus, usual_comparison(target))
        return keep_state(room.session, room.project.id, account_id, room.corpus, asked).comparison.target

    return with_targets(view, kept)


def pair_places(room: Room, pairs: Pairs, row: str, column: str, order: str) -> Places:
    """The places of both under a cell, where they are together. Raises NotFound for a row that is gone."""
    asked, target = pairs.asked, pairs.columns or pairs.rows
    at, to = _place(pairs.rows, row), _place(target, column)
    mask = room.corpus.ground(asked.texts, Split()).mask

    def make(corpus: OpenCorpus) -> Places:
        found = places_together(at, pairs.rows, to, pairs.columns, corpus, mask, asked.within, asked.words)
        return in_order(found, corpus.columns, order)

    fields = {*pairs.rows.fields, *target.fields}
    return room.corpus.kept(
        ("pair places", asked, row, column, order),
        make,
        room.corpus.scope_fields(asked.texts, None, "date", "source", *fields),
    )


def pair_units(pairs: Pairs, row: str, column: str) -> int:
    """In how many units both of a cell are together, as the matrix tells it."""
    at, to = _place(pairs.rows, row), _place(pairs.columns or pairs.rows, column)
    return int(pairs.found.together[at, to])


def _place(target: Target, key: str) -> int:
    for at, row in enumerate(target.rows):
        if row.key == key:
            return at
    raise NotFound(f"{target.name} has no {target.nouns[0]} “{key}” any more.")


def places_of_topic(room: Room, asked: Network, words: list[str], order: str) -> Places:
    """Where two different words of a topic or more stand in one unit; words by their names in the network."""
    found = network(room, asked)
    forms = [found.forms[found.names.index(word)] if word in found.names else (word,) for word in words]
    mask = network_mask(room.corpus, asked)

    def make(corpus: OpenCorpus) -> Places:
        return in_order(topic_places(forms, corpus, mask, asked.within), corpus.columns, order)

    return room.corpus.kept(
        ("topic places", asked, tuple(words), order),
        make,
        room.corpus.scope_fields(asked.texts, asked.split, "date", "source"),
    )
