"""Comparisons, their export, and the passages under their numbers."""

from __future__ import annotations

from typing import Literal

import orjson
from fastapi import APIRouter, Response

from winnower.api import schemas as s
from winnower.api.context import AccountDep, Desk, Reading
from winnower.api.evidence import evidence_page, looked_up, places_found
from winnower.api.files import EXCEL, download
from winnower.api.numbers import plain
from winnower.core.compare import (
    MEASURES,
    Comparison,
    Measure,
    Modelled,
    Statement,
    Table,
    how_counted,
    influence_statements,
    model_statements,
    number_of,
    statements,
    texts_of,
    to_plain,
)
from winnower.core.compare.spoken import measure_in
from winnower.core.measure import PER_WORDS
from winnower.core.scope import split_name
from winnower.store.comparing import Asked, influence, keep_state, modelled, table_of
from winnower.writers.tables import comparison_csv, comparison_xlsx, method_text, test_values

router = APIRouter(prefix="/projects/{project_id}")
measures_router = APIRouter()


@measures_router.get("/measures")
def list_measures(_: AccountDep) -> list[s.MeasurePublic]:
    """All measures a comparison can show."""
    return [_measure(measure_in(name, "hits", PER_WORDS, "all other groups")) for name in MEASURES]


def _measure(one: Measure) -> s.MeasurePublic:
    return s.MeasurePublic(
        name=one.name,
        label=one.label,
        unit=one.unit,
        axis=one.axis,
        form=one.form,
        has_interval=one.has_interval,
        needs=one.needs,
    )


@router.post("/compare")
def compare(desk: Reading, comparison: Comparison) -> s.TablePublic:
    """Rows of a target across the groups of a split: counts, measures with intervals, tests."""
    asked = looked_up(desk, comparison)
    table = table_of(desk.corpus, asked)
    return s.TablePublic(
        comparison=asked.comparison,
        target=table.target.name,
        version=table.target.version,
        noun=table.target.nouns[0],
        nouns=table.target.nouns[1],
        across=split_name(comparison.split, desk.corpus.columns),
        measure=_measure(table.shown),
        unit=table.unit.name,
        groups=[
            s.Group(
                label=label,
                texts=int(table.texts[at]),
                words=int(table.words[at]),
                pair=list(table.groups.pairs[at]) if table.groups.pairs else [],
            )
            for at, label in enumerate(table.groups.labels)
        ],
        rows=_rows(table),
        statements=[_statement(one) for one in statements(table)],
        test=test_values(table),
        method=[s.MethodPart(heading=h, words=w, source=c) for h, w, c in how_counted(table)],
        texts_in_scope=table.texts_in_scope,
    )


@router.post("/compare/model")
def model(desk: Reading, comparison: Comparison) -> s.ModelPublic:
    """The rate of each row by the groups and the fields held equal at once, in ratios to the largest of each."""
    found = modelled(desk.corpus, looked_up(desk, comparison))
    return s.ModelPublic(
        statements=[_statement(one) for one in model_statements(found)],
        fields=[_field(found, at) for at in range(len(found.fields))],
    )


@router.post("/compare/terms")
def single_terms(desk: Reading, comparison: Comparison) -> s.SingleTerms:
    """What single terms with much of a category's hits do to the result: its test without each of them."""
    table, found = influence(desk.corpus, looked_up(desk, comparison))
    rows = table.target.rows
    return s.SingleTerms(
        statements=[_statement(one) for one in influence_statements(table, found)],
        terms=[
            s.SingleTerm(
                row=rows[one.row].key,
                label=rows[one.row].label,
                colour=rows[one.row].colour,
                term=one.term,
                share=one.share,
                p=plain(one.p),
                p_without=plain(one.p_without),
                between=plain(one.between),
                between_without=plain(one.between_without),
                turns=one.turns,
            )
            for one in found
        ],
    )


def _field(found: Modelled, at: int) -> s.ModelField:
    field, rows = found.fields[at], found.table.target.rows
    return s.ModelField(
        name=field.name,
        reference=field.reference,
        levels=[
            s.ModelLevel(
                label=label,
                words=int(field.words[n]),
                condition=None if field.conditions is None else field.conditions[n],
            )
            for n, label in enumerate(field.labels)
        ],
        rows=[
            s.ModelRow(
                key=rows[row].key,
                label=rows[row].label,
                colour=rows[row].colour,
                reason=one.reason,
                p=plain(field.p[row]),
                cells=[]
                if (effect := found.effect(row, at)) is None
                else [
                    s.ModelCell(
                        ratio=plain(effect.ratio[n]), low=plain(effect.low[n]), high=plain(effect.high[n])
                    )
                    for n in range(len(field.labels))
                ],
            )
            for row, one in found.models.items()
        ],
    )


def _statement(one: Statement) -> s.StatementPublic:
    return s.StatementPublic(
        kind=one.kind, headline=one.headline, strong=list(one.strong), details=one.details
    )


def _rows(table: Table) -> list[s.TableRow]:
    measured = table.measure(table.comparison.measure)
    hits, texts, evenness = table.hits, table.texts_with_hit, table.evenness
    counted = table.counted
    verdict = table.tests.verdict
    return [
        s.TableRow(
            key=row.key,
            label=row.label,
            name=row.name,
            depth=row.depth,
            colour=row.colour,
            tested=at in table.tested_rows,
            p=None if verdict is None else plain(verdict.rates.p_adjusted[at]),
            evenness=plain(evenness[at]),
            cells=[
                s.TableCell(
                    value=plain(measured.value[at, group]),
                    low=plain(measured.low[at, group]),
                    high=plain(measured.high[at, group]),
                    hits=int(hits[at, group]),
                    texts=int(texts[at, group]),
                    counted=int(counted[at, group]),
                    distance=plain(table.residuals[at, group]),
                    stands_out=int(table.stands_out[at, group]),  # type: ignore[arg-type]
                )
                for group in range(table.groups.n_groups)
            ],
        )
        for at, row in enumerate(table.target.rows)
    ]


@router.post("/compare/export")
def export(
    desk: Reading, comparison: Comparison, form: Literal["csv", "xlsx", "txt", "json"] = "csv"
) -> Response:
    """The numbers of a comparison as CSV or Excel, how they were counted as text, or the comparison itself as JSON,
    to be asked again.

    What leaves the project names the state it was counted with: that is kept as a version.
    """
    asked = _kept(desk, comparison)
    version = "" if asked.target.version is None else f" v{asked.target.version}"
    what = asked.target.name.replace("“", "").replace("”", "")
    name = f"{what}{version} by {comparison.split.field or 'all'}.{form}"
    if form == "json":
        plain_form = orjson.dumps(to_plain(asked.comparison), option=orjson.OPT_INDENT_2)
        return download(plain_form, name, "application/json")
    table = table_of(desk.corpus, asked)
    if form == "csv":
        return download("\ufeff" + comparison_csv(table), name, "text/csv; charset=utf-8")
    found = modelled(desk.corpus, asked) if asked.comparison.adjust else None
    if form == "txt":
        return download(method_text(table, found), name, "text/plain; charset=utf-8")
    return download(comparison_xlsx(table, found), name, EXCEL)


def _kept(desk: Desk, comparison: Comparison) -> Asked:
    asked = looked_up(desk, comparison)
    return keep_state(desk.session, desk.project.id, desk.account.id, desk.corpus, asked)


@router.post("/evidence")
def evidence(desk: Reading, asked: s.EvidenceRequest) -> s.EvidencePage:
    """The passages under a number, a page at a time."""
    found = looked_up(desk, asked.comparison)
    number = number_of(asked.cell, found.target)
    page = evidence_page(desk, places_found(desk, asked, found), asked, asked.form, number)
    if number is not None:
        wanted = texts_of(asked.cell, found.ground(desk.corpus))
        page.wordless = number.without_words(desk.corpus, wanted)
    return page
