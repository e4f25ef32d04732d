"""Comparisons over an open corpus: the target looked up, counts and places kept between questions."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from sqlalchemy.orm import Session

from winnower.core.coding import Passages
from winnower.core.compare import (
    STORY,
    Cell,
    Comparison,
    Modelled,
    OfDictionary,
    RowVerdicts,
    Table,
    Target,
    TermInfluence,
    Tests,
    compare,
    counted_by,
    evidence,
    influence_of_terms,
    is_dated,
    measure_named,
    model_of,
    run_tests,
    viewed,
)
from winnower.core.compare.targets import CodeNode, RunFound, arranged_rows
from winnower.core.dictionary import Dictionary
from winnower.core.errors import ComparisonError
from winnower.core.places import Places
from winnower.core.scope import Ground, split_name
from winnower.store import review
from winnower.store.codebook import codebook_of
from winnower.store.coding_fields import coders_by_name
from winnower.store.dictionaries import dictionary_row, keep_version, kept_version, load, load_value
from winnower.store.models import Project
from winnower.store.opened import OpenCorpus
from winnower.store.reading_passages import PassageCache
from winnower.store.run_review import found_by_run
from winnower.store.versions import as_dictionary, version_numbered


@dataclass(frozen=True)
class Lookup:
    """What references to targets may look up in a project (see core's ``Known``)."""

    session: Session
    project_id: int
    corpus: OpenCorpus

    def codes(self) -> tuple[tuple[CodeNode, ...], Passages, int]:
        project = self.session.get_one(Project, self.project_id)
        book = codebook_of(self.session, self.project_id)
        nodes = tuple(CodeNode(row.id, book.tree.path(row.id), row.colour) for row in book.codes)
        passages = PassageCache(self.corpus.memory).open(self.session, project, self.corpus.folder)
        return nodes, passages, project.coding_revision

    def coders(self) -> dict[str, int]:
        return coders_by_name(self.session, self.project_id)

    def run(self, run_id: int) -> RunFound:
        return found_by_run(self.session, self.project_id, run_id, self.corpus)

    def dictionary(self, dictionary_id: int, version: int | None) -> tuple[Dictionary, int | None]:
        row = dictionary_row(self.session, self.project_id, dictionary_id)
        if version is not None:
            return as_dictionary(row, version_numbered(self.session, row, version)), version
        value = load_value(self.session, row)
        return value, kept_version(self.session, row.id, value)


@dataclass(frozen=True)
class Asked:
    """A comparison with its target looked up; ``comparison`` names the very state of it that is counted;
    ``verdicts`` of its rows, where its measure needs them."""

    comparison: Comparison
    target: Target
    verdicts: Mapping[str, RowVerdicts] | None = None

    def ground(self, corpus: OpenCorpus) -> Ground:
        return corpus.ground(self.comparison.texts, self.comparison.split)


def look_up(session: Session, project_id: int, corpus: OpenCorpus, comparison: Comparison) -> Asked:
    """Raises NotFound, TermError, Conflict or ComparisonError where there is no such target."""
    if comparison.split.codes and comparison.target.kind in ("codes", "run"):
        raise ComparisonError("How codes relate to each other is shown by “Co-occurrence”.")
    if comparison.split.codes and comparison.target.kind == "numbers":
        raise ComparisonError(
            "Numbers are those of whole texts, not of the words under a code: narrow to the code, and compare across a field."
        )
    resolved = comparison.target.resolve(Lookup(session, project_id, corpus), corpus)
    joined = {one.name: one.rows for one in comparison.joined}
    target = arranged_rows(resolved, joined, comparison.leave)
    verdicts = None
    if measure_named(comparison.measure).needs == "judged":
        verdicts = _verdicts_of(session, project_id, comparison)
    return Asked(replace(comparison, target=comparison.target.pinned(resolved)), target, verdicts)


def _verdicts_of(session: Session, project_id: int, comparison: Comparison) -> dict[str, RowVerdicts]:
    """By the label of the category as it is called now. Raises ComparisonError for other targets."""
    if not isinstance(comparison.target, OfDictionary):
        raise ComparisonError("Only categories of a dictionary that is kept here have verdicts.")
    stored = load(session, dictionary_row(session, project_id, comparison.target.dictionary))
    ids = [row.id for row in stored.categories]
    on_hits, on_texts = (review.verdicts(session, "category", ids, kind) for kind in ("hit", "text"))
    return {
        category.label: RowVerdicts(on_hits[row.id], on_texts[row.id])
        for row, category in zip(stored.categories, stored.value.categories, strict=True)
        if len(on_hits[row.id]) or len(on_texts[row.id])
    }


def table_of(corpus: OpenCorpus, asked: Asked) -> Table:
    """The answer. Raises ScopeError or TermError where the comparison does not fit the corpus."""
    c, ground, target = asked.comparison, asked.ground(corpus), asked.target
    counts = corpus.kept(
        ("counts", *_counted(c)),
        lambda corpus: counted_by(c, target, corpus, ground),
        corpus.scope_fields(c.texts, c.split, *target.fields),
    )

    def tested(corpus: OpenCorpus) -> Tests:
        unit, view = viewed(c, target, corpus, counts)
        return run_tests(view, target, unit, c.seed, is_dated(c, corpus))

    tests = corpus.kept(
        ("tests", *_counted(c), c.level, c.seed, c.unit, _checked(corpus, c)),
        tested,
        corpus.scope_fields(c.texts, c.split, *target.fields, *([c.unit] if c.unit else [])),
    )
    return compare(c, target, corpus, ground, counts, tests, asked.verdicts)


def _counted(comparison: Comparison) -> tuple[object, ...]:
    """What tells the counts of one comparison from those of another."""
    c = comparison
    return (c.target, c.joined, c.leave, c.texts, c.split, c.counting, c.weight)


def _checked(corpus: OpenCorpus, comparison: Comparison) -> int:
    """Which check of the corpus the units of a comparison come from, 0 where they come from none."""
    return corpus.checked if comparison.unit == STORY else 0


def modelled(corpus: OpenCorpus, asked: Asked) -> Modelled:
    """The rate model of a comparison with fields held equal. Raises ScopeError, TermError or ComparisonError."""
    c = asked.comparison
    table = table_of(corpus, asked)
    by = split_name(c.split, corpus.columns)
    fields = [one.field for one in c.adjust if one.field] + ([c.unit] if c.unit else [])
    return corpus.kept(
        ("model", *_counted(c), c.level, c.seed, c.unit, c.adjust, _checked(corpus, c)),
        lambda _: model_of(table, by),
        corpus.scope_fields(c.texts, c.split, *asked.target.fields, *fields),
    )


def influence(corpus: OpenCorpus, asked: Asked) -> tuple[Table, tuple[TermInfluence, ...]]:
    """What single terms do to the result of a comparison. Raises ScopeError or TermError."""
    c, ground = asked.comparison, asked.ground(corpus)
    table = table_of(corpus, asked)
    found = corpus.kept(
        ("influence", *_counted(c), c.level, c.seed, c.unit, _checked(corpus, c)),
        lambda corpus: influence_of_terms(table, corpus, ground),
        corpus.scope_fields(c.texts, c.split, *asked.target.fields, *([c.unit] if c.unit else [])),
    )
    return table, found


def places_of(corpus: OpenCorpus, asked: Asked, cell: Cell, order: str = "date") -> Places:
    """The places under a cell, in one of places.ORDERS. Raises NotFound."""
    c = asked.comparison
    return corpus.kept(
        places_key(asked, cell, order),
        lambda corpus: evidence(cell, asked.target, corpus, asked.ground(corpus), order),
        corpus.scope_fields(c.texts, c.split, "date", "source", *asked.target.fields),
    )


def places_key(asked: Asked, cell: Cell, order: str) -> tuple[object, ...]:
    """What tells one list of places from another: all that decides which they are."""
    c = asked.comparison
    split = c.split if cell.group is not None else None
    return ("places", c.target, c.joined, c.leave, c.texts, split, cell, order)


def keep_state(session: Session, project_id: int, account_id: int, corpus: OpenCorpus, asked: Asked) -> Asked:
    """The same, its instrument kept as a version: for what is kept or leaves the project."""
    reference = asked.comparison.target
    if not isinstance(reference, OfDictionary) or asked.target.version is not None:
        return asked
    stored = load(session, dictionary_row(session, project_id, reference.dictionary))
    keep_version(session, stored, account_id)
    return look_up(session, project_id, corpus, asked.comparison)
