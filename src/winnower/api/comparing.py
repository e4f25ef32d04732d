"""Comparisons, their export, and the passages under their numbers."""

from __future__ import annotations

from typing import Literal

from fastapi import APIRouter, Response

from winnower.api import schemas as s
from winnower.api.context import Desk, Reading
from winnower.api.evidence import evidence_page, hits_asked
from winnower.api.instruments import download, loaded, plain
from winnower.core.compare import (
    MEASURES,
    Comparison,
    Table,
    compare,
    how_counted,
    statements,
)
from winnower.store.dictionaries import StoredDictionary, version_of
from winnower.writers.tables import comparison_csv, comparison_xlsx, test_values

router = APIRouter(prefix="/projects/{project_id}")


def _table(desk: Desk, asked: s.CompareRequest) -> tuple[Table, StoredDictionary]:
    stored = loaded(desk, asked.dictionary_id)
    version = version_of(desk.session, stored, desk.account.id)
    comparison = Comparison(asked.scope_value(), stored.value, asked.split.value(), asked.measure, version)
    corpus = desk.corpus
    ground = corpus.ground(comparison.scope, comparison.split)
    return compare(comparison, corpus.index, corpus.columns, ground), stored


@router.post("/compare")
def compare_categories(desk: Reading, asked: s.CompareRequest) -> s.ComparisonPublic:
    """Categories of a dictionary across a field: counts, measures with intervals, tests."""
    table, stored = _table(desk, asked)
    return s.ComparisonPublic(
        dictionary=stored.row.name,
        version=table.comparison.version or 0,
        measure=asked.measure,
        unit=MEASURES[asked.measure],
        groups=[
            s.Group(label=label, texts=int(table.texts[at]), words=int(table.words[at]))
            for at, label in enumerate(table.groups.labels)
        ],
        rows=_rows(table, stored),
        statements=[
            s.StatementPublic(kind=v.kind, text=v.text, strong=list(v.strong)) for v in statements(table)
        ],
        test=test_values(table),
        method=[s.MethodPart(heading=h, words=w, source=c) for h, w, c in how_counted(table)],
        texts_in_scope=table.texts_in_scope,
    )


def _rows(table: Table, stored: StoredDictionary) -> list[s.CompareRow]:
    measured = table.measure(table.comparison.measure)
    hits, texts = table.hits, table.texts_with_hit
    rows = []
    for at, (row, category) in enumerate(zip(stored.categories, stored.value.categories, strict=True)):
        cells = [
            s.Cell(
                value=plain(measured.value[at, group]),
                low=plain(measured.low[at, group]),
                high=plain(measured.high[at, group]),
                hits=int(hits[at, group]),
                texts=int(texts[at, group]),
                residual=plain(table.residuals[at, group]),
            )
            for group in range(table.groups.n_groups)
        ]
        rows.append(
            s.CompareRow(
                category_id=row.id,
                label=category.label,
                name=category.name,
                depth=category.depth,
                colour=category.colour,
                tested=at in table.tested_rows,
                evenness=plain(table.evenness[at]),
                cells=cells,
            )
        )
    return rows


@router.post("/compare/export")
def export(desk: Reading, asked: s.CompareRequest, form: Literal["csv", "xlsx"] = "csv") -> Response:
    """The numbers of a comparison as CSV or Excel."""
    table, stored = _table(desk, asked)
    name = f"{stored.row.name} v{table.comparison.version} by {asked.split.field or 'all'}.{form}"
    if form == "csv":
        return download("\ufeff" + comparison_csv(table), name, "text/csv; charset=utf-8")
    excel = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return download(comparison_xlsx(table), name, excel)


@router.post("/evidence")
def evidence(desk: Reading, asked: s.EvidenceRequest) -> s.EvidencePage:
    """The passages under a number, a page at a time."""
    return evidence_page(desk, hits_asked(desk, asked), asked, asked.form)
