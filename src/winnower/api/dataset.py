"""Data for statistics programs: what a table would hold, and the table as a file."""

from __future__ import annotations

import tempfile
from dataclasses import replace
from pathlib import Path

from fastapi import APIRouter, Response
from fastapi.responses import FileResponse
from starlette.background import BackgroundTask

from winnower.api.context import Desk, Reading
from winnower.api.files import EXCEL, named
from winnower.api.numbers import plain
from winnower.api.schemas import dataset as d
from winnower.core.compare import usual_comparison
from winnower.core.compare.targets import AnyTarget
from winnower.core.dataset import DataRequest
from winnower.store.comparing import keep_state, look_up
from winnower.store.dataset import Data, data_of, described
from winnower.writers.dataset import Form, write_data

router = APIRouter(prefix="/projects/{project_id}/data")
SHOWN = 20
SHOWN_SIGNS = 300
_MEDIA = dict.fromkeys(("csv", "parquet", "sav", "dta"), "application/zip")


def _data(desk: Desk, asked: DataRequest) -> Data:
    desk.look_at(asked.texts)
    return data_of(desk.session, desk.project, desk.corpus, asked)


@router.post("/preview")
def preview(desk: Reading, asked: DataRequest) -> d.DataPreview:
    """The columns of a table for statistics and its first rows; long words are cut."""
    data = _data(desk, asked)
    first = data.first(SHOWN)
    return d.DataPreview(
        noun=data.noun,
        rows=len(data.rows),
        columns=[
            d.DataColumnPublic(
                name=one.about.name,
                label=one.about.label,
                kind=one.about.kind,
                values=one.about.values,
                how=one.about.how,
            )
            for one in data.columns
        ],
        cells=[[_shown(cell) for cell in row] for row in first.iter_rows()],
    )


def _shown(cell: object) -> str | float | None:
    if isinstance(cell, (int, float)):
        return plain(cell)
    return None if cell is None else str(cell)[:SHOWN_SIGNS]


@router.post("/export")
def export(desk: Reading, asked: DataRequest, form: Form = "csv") -> Response:
    """The table with the description of its columns: a zip of CSV or Parquet with both, or a workbook. What leaves the
    project names the state of the dictionaries it was counted with: they are kept as versions."""
    asked = replace(asked, targets=tuple(_kept(desk, asked)))
    data = _data(desk, asked)
    with tempfile.NamedTemporaryFile(suffix=f".{form}", delete=False) as file:
        path = Path(file.name)
    try:
        write_data(
            path,
            form,
            [one.about for one in data.columns],
            len(data.rows),
            data.frames(),
            described(data, asked, desk.project, desk.corpus),
        )
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    name = f"{desk.project.name} {data.noun}.{'xlsx' if form == 'xlsx' else 'zip'}"
    return FileResponse(
        path, media_type=_MEDIA.get(form, EXCEL), headers=named(name), background=BackgroundTask(path.unlink)
    )


def _kept(desk: Desk, asked: DataRequest) -> list[AnyTarget]:
    corpus = desk.corpus
    found: list[AnyTarget] = []
    for target in asked.targets:
        looked = look_up(desk.session, desk.project.id, corpus, usual_comparison(target))
        found.append(
            keep_state(desk.session, desk.project.id, desk.account.id, corpus, looked).comparison.target
        )
    return found
