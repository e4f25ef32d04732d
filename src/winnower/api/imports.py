"""Import: upload, first look, job, progress, report."""

from __future__ import annotations

import asyncio
import csv
import io
import shutil
from collections.abc import AsyncIterator
from pathlib import Path, PurePosixPath
from typing import Annotated

import orjson
from fastapi import APIRouter, Depends, Request, Response
from fastapi.responses import StreamingResponse
from sqlalchemy import select
from starlette.datastructures import UploadFile

from winnower.api import schemas as s
from winnower.api.context import House, Reading, Writing
from winnower.api.instruments import download
from winnower.core.errors import NotFound, Unavailable, WinnowerError
from winnower.jobs.preview import SAMPLES, FirstLook, first_look
from winnower.jobs.sources import mapping_from_plain, mapping_to_plain
from winnower.readers import Mapping
from winnower.readers.prepare import PreparedTexts
from winnower.store import jobs
from winnower.store.accounts import utc_now
from winnower.store.models import Account, Delivery, Job, Upload

router = APIRouter(prefix="/projects/{project_id}")
CHUNK = 1 << 20
MOST_FILES = 100_000
SAMPLE_CHARS = 240


async def received(request: Request) -> list[tuple[str, UploadFile]]:
    """The files of a form with their places in a dropped folder; a folder may hold very many."""
    form = await request.form(max_files=MOST_FILES, max_fields=MOST_FILES)
    files = [file for file in form.getlist("files") if isinstance(file, UploadFile)]
    paths = [str(path) for path in form.getlist("paths")]
    if not files:
        raise WinnowerError("No file arrived. Drop the files again.")
    names = [paths[at] if at < len(paths) and paths[at] else file.filename for at, file in enumerate(files)]
    return [
        (name or f"file {at + 1}", file) for at, (name, file) in enumerate(zip(names, files, strict=True))
    ]


Received = Annotated[list[tuple[str, UploadFile]], Depends(received)]


@router.post("/uploads", status_code=201)
def upload(desk: Writing, files: Received) -> s.UploadPublic:
    """Receive files (form fields ``files`` and, beside them, ``paths``) for a first look."""
    row = Upload(project_id=desk.project.id, account_id=desk.account.id, files=[])
    desk.session.add(row)
    desk.session.flush()
    folder = desk.house.settings.uploads / str(row.id)
    folder.mkdir(parents=True, exist_ok=True)
    names, total = [], 0
    try:
        for at, (given, file) in enumerate(files):
            name = "/".join(
                part for part in PurePosixPath(given.replace("\\", "/")).parts if part not in ("..", "/")
            )
            with (folder / f"{at:06d}").open("wb") as out:
                while block := file.file.read(CHUNK):
                    total += len(block)
                    if total > desk.house.settings.limit_upload_bytes:
                        limit = desk.house.settings.limit_upload_bytes
                        raise WinnowerError(
                            f"An upload can have at most {limit:,} bytes (WINNOWER_LIMIT_UPLOAD_BYTES)."
                        )
                    out.write(block)
            names.append(name or f"file {at + 1}")
    except (WinnowerError, OSError):
        shutil.rmtree(folder, ignore_errors=True)
        raise
    row.files = names
    return s.UploadPublic(id=row.id, files=names, bytes=total)


def _paths(desk, upload_id: int) -> list[tuple[str, Path]]:
    row = desk.session.get(Upload, upload_id)
    if row is None or row.project_id != desk.project.id:
        raise NotFound("These files are no longer here. Drop them again.")
    folder = desk.house.settings.uploads / str(row.id)
    return [(name, folder / f"{at:06d}") for at, name in enumerate(row.files)]


def _mapping(given: s.MappingModel | None) -> Mapping | None:
    return mapping_from_plain(given.model_dump()) if given else None


@router.post("/uploads/{upload_id}/preview")
def preview(desk: Writing, upload_id: int, asked: s.PreviewRequest) -> s.Preview:
    """How the files would be read, and what would not go in."""
    look = first_look(
        _paths(desk, upload_id),
        desk.house.settings,
        encoding=asked.encoding,
        delimiter=asked.delimiter,
        mapping=_mapping(asked.mapping),
        text_mapping=_mapping(asked.text_mapping),
    )
    return s.Preview(
        table=_table(look),
        other_tables=look.other_tables,
        text_files=look.text_files,
        text_mapping=_mapping_model(look.text_mapping),
        samples=[sample for texts in look.samples for sample in _samples(texts)][:SAMPLES],
        problems=[s.Place(file=p.file, row=p.row, reason=p.reason, kept=p.kept) for p in look.problems],
        problems_total=look.problems_total,
        checked=look.checked,
        everything=look.everything,
        notices=look.notices,
    )


def _table(look: FirstLook) -> s.TablePreview | None:
    if look.table is None or look.mapping is None:
        return None
    cut = [[cell[:SAMPLE_CHARS] for cell in row] for row in look.rows]
    return s.TablePreview(
        file=look.table.name,
        encoding=look.encoding,
        delimiter=look.delimiter,
        header=look.header,
        rows=cut,
        mapping=_mapping_model(look.mapping),
    )


def _mapping_model(mapping: Mapping) -> s.MappingModel:
    plain = mapping_to_plain(mapping)
    return s.MappingModel(
        targets=plain["targets"], source_name=mapping.source_name, day_first=mapping.day_first
    )


def _samples(texts: PreparedTexts) -> list[s.TextSample]:
    out = []
    for at in range(min(len(texts), SAMPLES)):
        values = {name: _shown(column[at]) for name, column in texts.values.items()}
        date = texts.date[at]
        out.append(
            s.TextSample(
                title=texts.title[at],
                source=texts.source[at],
                date=date.isoformat() if date else None,
                values=values,
                start=texts.body[at][:SAMPLE_CHARS],
            )
        )
    return out


def _shown(value):
    if isinstance(value, tuple):
        return list(value)
    return value.isoformat() if hasattr(value, "isoformat") else value


@router.post("/imports", status_code=201)
def start_import(desk: Writing, given: s.ImportRequest, request: Request) -> s.JobPublic:
    """Begin to import what was uploaded."""
    paths = _paths(desk, given.upload_id)
    first = paths[0][0].split("/")[0]
    params = {
        "name": first if len(paths) == 1 else f"{first} and {len(paths) - 1:,} more",
        "paths": [(name, str(path)) for name, path in paths],
        "mapping": given.mapping.model_dump() if given.mapping else None,
        "text_mapping": given.text_mapping.model_dump() if given.text_mapping else None,
        "encoding": given.encoding,
        "delimiter": given.delimiter,
        "upload_id": given.upload_id,
    }
    job = jobs.make_job(desk.session, desk.project.id, desk.account.id, "import", params)
    desk.session.commit()
    request.app.state.runner.wake()
    return job_public(job)


def job_public(job: Job) -> s.JobPublic:
    end = job.ended_at or utc_now()
    seconds = (end - job.started_at).total_seconds() if job.started_at else 0.0
    return s.JobPublic(
        id=job.id,
        kind=job.kind,
        name=job.params.get("name", ""),
        state=job.state,  # type: ignore[arg-type]
        stage=job.stage,
        done=job.done,
        total=job.total,
        seconds=max(seconds, 0.0),
        new=((job.checkpoint or {}).get("report") or {}).get("new", 0),
        message=job.message,
        result=job.result,
    )


@router.get("/jobs")
def list_jobs(desk: Reading) -> list[s.JobPublic]:
    return [job_public(job) for job in jobs.jobs_of(desk.session, desk.project.id)]


@router.get("/jobs/{job_id}")
def get_job(desk: Reading, job_id: int) -> s.JobPublic:
    return job_public(jobs.job_of(desk.session, desk.project.id, job_id))


@router.post("/jobs/{job_id}/cancel")
def cancel_job(desk: Writing, job_id: int) -> s.JobPublic:
    """Ask it to end; nothing of it is kept."""
    job = jobs.job_of(desk.session, desk.project.id, job_id)
    jobs.request_cancel(desk.session, job)
    return job_public(job)


@router.get("/jobs/{job_id}/events")
async def job_events(desk: Reading, job_id: int, request: Request) -> StreamingResponse:
    """Progress as server-sent events, until the job has ended."""
    jobs.job_of(desk.session, desk.project.id, job_id)
    house, project_id = desk.house, desk.project.id
    return StreamingResponse(_events(house, project_id, job_id, request), media_type="text/event-stream")


async def _events(house: House, project_id: int, job_id: int, request: Request) -> AsyncIterator[bytes]:
    last = b""
    while not await request.is_disconnected():
        try:
            now = await asyncio.to_thread(_job_now, house, project_id, job_id)
        except Unavailable:
            await asyncio.sleep(2)
            continue
        data = orjson.dumps(now.model_dump())
        if data != last:
            yield b"data: " + data + b"\n\n"
            last = data
        if now.state not in ("queued", "running"):
            return
        await asyncio.sleep(0.4)


def _job_now(house: House, project_id: int, job_id: int) -> s.JobPublic:
    with house.database.session() as session:
        return job_public(jobs.job_of(session, project_id, job_id))


@router.get("/deliveries")
def deliveries(desk: Reading) -> list[s.DeliveryPublic]:
    """What was imported, by whom and when, newest first."""
    rows = desk.session.execute(
        select(Delivery, Account.full_name)
        .join(Account, Account.id == Delivery.made_by)
        .where(Delivery.project_id == desk.project.id, Delivery.state == "done")
        .order_by(Delivery.id.desc())
        .limit(200)
    )
    return [
        s.DeliveryPublic(id=row.id, name=row.name, made_at=row.made_at, made_by=who, report=row.report or {})
        for row, who in rows
    ]


@router.get("/deliveries/{delivery_id}/report")
def delivery_report(desk: Reading, delivery_id: int) -> Response:
    """What was not taken or not as given, as CSV."""
    row = desk.session.get(Delivery, delivery_id)
    if row is None or row.project_id != desk.project.id:
        raise NotFound("There is no such delivery.")
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["outcome", "file", "row", "reason"])
    report = row.report or {}
    for outcome, name in (("refused", "refusals"), ("changed", "changes"), ("kept with a remark", "remarks")):
        for place in report.get(name, []):
            writer.writerow([outcome, place["file"], place["row"], place["reason"]])
    return download("\ufeff" + out.getvalue(), f"{row.name} report.csv", "text/csv; charset=utf-8")
