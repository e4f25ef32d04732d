"""Recipes brought together with the project as it is now: what they look for, and what is found."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from winnower.core.dictionary.hits import prepared
from winnower.core.errors import WinnowerError
from winnower.core.pattern import Term, matching_texts, parse_query, terms_of, write_term
from winnower.core.pattern.term import Choice, in_a_row
from winnower.core.pattern.term import Piece as Word
from winnower.core.runs import (
    ByDictionary,
    ByExample,
    BySearch,
    BySpeakers,
    ByStructure,
    ByThemes,
    ByTone,
    ByValues,
    Found,
    Recipe,
    Target,
    find_terms,
    find_values,
)
from winnower.core.runs.recipe import MOST_TARGETS
from winnower.core.runs.speakers import checked, joined
from winnower.core.runs.stretches import find_stretches
from winnower.core.runs.values import values_of, whole_texts
from winnower.core.scope import Split
from winnower.core.tone import ToneWords
from winnower.store.dictionaries import dictionary_row, load, newest_version
from winnower.store.learning import Learnt, codes_below, learnt, measured
from winnower.store.models import CategoryRow, Project
from winnower.store.opened import OpenCorpus
from winnower.store.run_scored import (
    MOST_TRIED,
    Batches,
    Scored,
    find_learned,
    find_tone,
    tone_reasons,
)
from winnower.store.run_stretches import labels_of_kind, stretches_of
from winnower.store.tones import list_in, words_for
from winnower.store.tones import newest_version as newest_tone

SEARCH_KEY, EXAMPLE_KEY = "search", "example"
MOST_NAME = 120
#: So many telling words can be the reason of a passage.
MOST_REASONS = 2_000


@dataclass(frozen=True)
class Piece:
    """What comes under one code: by which ``key`` it is known again, what it is called, and the key of the piece
    above it."""

    key: str
    name: str
    above: str | None = None


@dataclass(frozen=True)
class Sought:
    """What a recipe looks for in the project as it is now; ``reasons`` as they are written. ``learnt`` is what was
    learned for it, ``words`` the list its tone is measured with."""

    recipe: Recipe
    pieces: tuple[Piece, ...]
    reasons: tuple[str, ...]
    targets: tuple[Target, ...] = ()
    instrument: str = ""
    version: int | None = None
    learnt: Learnt | None = None
    words: ToneWords | None = None

    @property
    def measured(self) -> dict[str, Any] | None:
        """What a learned code is worth at the threshold of the recipe."""
        finder = self.recipe.finder
        if self.learnt is None or not isinstance(finder, ByExample):
            return None
        return measured(self.learnt, finder.threshold)


def sought(
    session: Session,
    project_id: int,
    recipe: Recipe,
    corpus: OpenCorpus,
    batches: Batches[np.ndarray] | None = None,
) -> Sought:
    """With ``batches``, which is told how far it is, all is looked at; without them, as before a run, so much as can be
    waited for. Raises NotFound for an instrument that is gone, TermError for a search that cannot be read,
    WinnowerError where there is nothing to look for, or too little to learn from."""
    finder = recipe.finder
    if isinstance(finder, ByDictionary):
        found = _of_dictionary(session, project_id, recipe, finder)
    elif isinstance(finder, BySearch):
        found = _of_search(recipe, finder)
    elif isinstance(finder, BySpeakers):
        checked(finder.pattern)
        called = tuple(
            dict.fromkeys(one.called.strip()[:MOST_NAME] for one in finder.names if one.called.strip())
        )
        found = Sought(recipe, tuple(Piece(name, name) for name in called), called)
    elif isinstance(finder, ByStructure):
        labels = finder.labels or tuple(
            labels_of_kind(session, finder, _texts(recipe, corpus), MOST_TARGETS + 1)
        )
        pieces = tuple(Piece(label[:200], label[:MOST_NAME]) for label in labels)
        found = Sought(recipe, pieces, labels)
    elif isinstance(finder, ByExample):
        found = _of_examples(session, project_id, recipe, finder, corpus, batches)
    elif isinstance(finder, ByThemes):
        found = _of_themes(recipe, finder)
    elif isinstance(finder, ByTone):
        found = _of_tone(session, project_id, recipe, finder, corpus)
    else:
        found = _of_values(recipe, finder, corpus)
    if not found.pieces:
        raise WinnowerError("There is nothing to look for: choose a category with terms, a value, or a name.")
    if len(found.pieces) > MOST_TARGETS:
        raise WinnowerError(
            f"This would make {len(found.pieces):,} codes; a run can have {MOST_TARGETS:,}. Choose some of them."
        )
    return found


def _of_dictionary(session: Session, project_id: int, recipe: Recipe, finder: ByDictionary) -> Sought:
    row = dictionary_row(session, project_id, finder.dictionary)
    stored = load(session, row)
    chosen = [one.id for one in stored.categories if not finder.categories or one.id in finder.categories]
    under = _nearest_chosen(stored.categories, set(chosen))
    reasons: dict[str, int] = {}
    pieces, targets = [], []
    value = dict(zip((one.id for one in stored.categories), stored.value.categories, strict=True))
    rows = {one.id: one for one in stored.categories}
    for category in chosen:
        entries = tuple(
            entry for other, of in under.items() if of == category for entry in value[other].terms
        )
        if not entries:
            continue
        terms = prepared(entries).terms
        numbers = tuple(reasons.setdefault(write_term(term), len(reasons)) for term in terms)
        targets.append(Target(rows[category].name, terms, numbers))
        pieces.append(Piece(str(category), rows[category].name, _above(category, rows, under)))
    version, is_now = newest_version(session, row.id, stored.value)
    return Sought(
        recipe, tuple(pieces), tuple(reasons), tuple(targets), row.name, version if is_now else None
    )


def _nearest_chosen(rows: Sequence[CategoryRow], chosen: set[int]) -> dict[int, int]:
    """Each category with the chosen one its terms come under: itself, or the nearest above. Parents stand before
    their children."""
    under: dict[int, int] = {}
    for row in rows:
        if row.id in chosen:
            under[row.id] = row.id
        elif row.parent_id in under:
            under[row.id] = under[row.parent_id]
    return under


def _above(category: int, rows: dict[int, CategoryRow], under: dict[int, int]) -> str | None:
    parent = rows[category].parent_id
    found = under.get(parent) if parent is not None else None
    return None if found is None else str(found)


def _of_search(recipe: Recipe, finder: BySearch) -> Sought:
    query = parse_query(finder.query)
    terms = terms_of(query)
    if not terms and recipe.unit != "text":
        raise WinnowerError(
            "This search only says what a text must not have; it can code whole texts, nothing smaller."
        )
    reasons = tuple(write_term(term) for term in terms) or (finder.query,)
    name = " ".join(finder.query.split())[:MOST_NAME]
    target = Target(name, terms, tuple(range(len(terms))))
    return Sought(recipe, (Piece(SEARCH_KEY, name),), reasons, (target,))


def _of_values(recipe: Recipe, finder: ByValues, corpus: OpenCorpus) -> Sought:
    there = values_of(corpus.columns.fields.get(finder.field))
    values = tuple(value for value in there if not finder.values or value in finder.values)
    pieces = tuple(Piece(value[:200], value[:MOST_NAME]) for value in values)
    return Sought(recipe, pieces, values, instrument=corpus.columns.names.get(finder.field, finder.field))


def _of_examples(
    session: Session,
    project_id: int,
    recipe: Recipe,
    finder: ByExample,
    corpus: OpenCorpus,
    batches: Batches[np.ndarray] | None,
) -> Sought:
    codes = codes_below(session, project_id, finder.codes)
    project = session.get_one(Project, project_id)
    found = (
        learnt(session, project, corpus, recipe, finder)
        if batches is None
        else learnt(session, project, corpus, recipe, finder, None, batches)
    )
    reasons = ("", *(one.words for one in found.learned.telling[:MOST_REASONS] if one.weight > 0))
    name = codes[0].name if len(codes) == 1 else " or ".join(one.name for one in codes)[:MOST_NAME]
    right = int(found.examples.lesson.right.sum())
    return Sought(
        recipe, (Piece(EXAMPLE_KEY, name),), reasons, instrument=f"{right:,} examples of {name}", learnt=found
    )


def _of_themes(recipe: Recipe, finder: ByThemes) -> Sought:
    reasons: dict[str, int] = {}
    targets, pieces = [], []
    for theme in finder.themes:
        terms = tuple(dict.fromkeys(theme_term(phrase) for phrase in theme.phrases))
        numbers = tuple(reasons.setdefault(term.source, len(reasons)) for term in terms)
        name = " ".join(theme.name.split())
        targets.append(Target(name, terms, numbers, theme.least))
        pieces.append(Piece(name, name))
    return Sought(recipe, tuple(pieces), tuple(reasons), tuple(targets))


def theme_term(phrase: str) -> Term:
    """A phrase as it was found among the noun phrases: its words in a row, whatever signs they have."""
    return Term(phrase, Choice((in_a_row(tuple(Word(word) for word in phrase.split())),)))


def _of_tone(session: Session, project_id: int, recipe: Recipe, finder: ByTone, corpus: OpenCorpus) -> Sought:
    if recipe.unit != "sentence":
        raise WinnowerError("Tone is measured of sentences, so it codes sentences.")
    words = words_for(session, project_id, finder.words)
    name, version = "the English word list", None
    if finder.words is not None:
        row = list_in(session, project_id, finder.words)
        number, is_now = newest_tone(session, row)
        name, version = row.name, number if is_now else None
    if not words.weights:
        raise WinnowerError(f"{name} has no words with a weight yet.")
    pieces = tuple(Piece(band, band.capitalize()) for band in dict.fromkeys(finder.bands))
    return Sought(
        recipe, pieces, tuple(tone_reasons(corpus, words)), instrument=name, version=version, words=words
    )


def find(
    session: Session, what: Sought, corpus: OpenCorpus, batches: Batches[np.ndarray] | None = None
) -> Scored:
    """What a recipe finds in a corpus (cut down by its scope, see store/inside.py); kept for the same question.
    ``batches`` as in ``sought``."""
    finder = what.recipe.finder
    if isinstance(finder, ByExample):
        assert what.learnt is not None
        return find_learned(what.learnt, finder, corpus, what.reasons)
    if isinstance(finder, ByTone):
        return _toned(session, what, finder, corpus, batches)

    def make(corpus: OpenCorpus) -> Found:
        return _find(session, what, corpus)

    more = (finder.field,) if isinstance(finder, ByValues) else ()
    terms: tuple[tuple[Term, ...], ...] = tuple(target.terms for target in what.targets)
    found = corpus.kept(
        ("run", what.recipe, terms, what.reasons), make, corpus.scope_fields(what.recipe.texts, None, *more)
    )
    return Scored(found, 0, 0)


def _toned(
    session: Session,
    what: Sought,
    finder: ByTone,
    corpus: OpenCorpus,
    batches: Batches[np.ndarray] | None,
) -> Scored:
    words = what.words
    assert words is not None
    mask = corpus.ground(what.recipe.texts, Split()).mask
    if batches is not None:
        return find_tone(session, corpus, finder, mask, words, what.reasons, None, batches)
    return corpus.kept(
        ("tone", what.recipe, words.fingerprint()),
        lambda one: find_tone(session, one, finder, mask, words, what.reasons, MOST_TRIED),
        corpus.scope_fields(what.recipe.texts, None),
    )


def _texts(recipe: Recipe, corpus: OpenCorpus) -> np.ndarray:
    """Ids of the texts a recipe looks at."""
    found: np.ndarray = corpus.columns.text_id[corpus.ground(recipe.texts, Split()).mask]
    return found


def _find(session: Session, what: Sought, corpus: OpenCorpus) -> Found:
    recipe, finder = what.recipe, what.recipe.finder
    if isinstance(finder, (BySpeakers, ByStructure)):
        stretches = stretches_of(session, finder, _texts(recipe, corpus))
        if isinstance(finder, BySpeakers):
            stretches = joined(
                stretches, [(one.name, one.called.strip()[:MOST_NAME]) for one in finder.names]
            )
        places = corpus.places_of(stretches["text_id"].to_numpy())
        return find_stretches(stretches, places, what.reasons, corpus.index)
    mask = corpus.ground(recipe.texts, Split()).mask
    if isinstance(finder, ByValues):
        return find_values(corpus.columns.fields[finder.field], what.reasons, corpus.index, mask)
    if isinstance(finder, BySearch):
        query = parse_query(finder.query)
        mask = mask & matching_texts(query, corpus.index)
        if not terms_of(query):
            return whole_texts(corpus.index, mask)
    return find_terms(what.targets, corpus.index, mask, recipe.unit, recipe.around)
