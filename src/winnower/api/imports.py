"""Import: upload, first look, job, progress, report."""

from __future__ import annotations

import asyncio
import csv
import io
import shutil
from collections.abc import AsyncIterator, Sequence
from dataclasses import asdict
from pathlib import Path, PurePosixPath
from typing import Annotated, BinaryIO

import orjson
from fastapi import APIRouter, Depends, Query, Request, Response
from fastapi.responses import StreamingResponse
from starlette.datastructures import UploadFile

from winnower.api import schemas as s
from winnower.api.context import Desk, House, OfOthers, Reading, Writing
from winnower.api.files import download
from winnower.api.import_preview import lot_preview
from winnower.core.cells import harmless_row
from winnower.core.errors import NotFound, Unavailable, WinnowerError
from winnower.jobs.delivery import import_params, known_of, look_at_delivery
from winnower.jobs.expected import Expected
from winnower.store import imports as store
from winnower.store import jobs
from winnower.store.accounts import utc_now
from winnower.store.deliveries import leaving, take_out
from winnower.store.disk_space import (
    IMPORT_FACTOR,
    disk_full,
    is_full,
    require_room_for_upload,
    require_space,
)
from winnower.store.models import Job, Upload
from winnower.store.work_of_others import heed_others

router = APIRouter(prefix="/projects/{project_id}")
CHUNK = 1 << 20
MOST_FILES = 100_000


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


def too_large_an_upload(limit: int) -> str:
    return f"An upload can have at most {limit:,} bytes (WINNOWER_LIMIT_UPLOAD_BYTES)."


Received = Annotated[list[tuple[str, UploadFile]], Depends(received)]


def keep_upload(desk: Desk, files: Sequence[tuple[str, BinaryIO]]) -> Upload:
    """Keep received files under numbers until they are imported. Raises WinnowerError over the limit."""
    row = store.make_upload(desk.session, desk.project.id, desk.account.id)
    limit = desk.house.settings.limit_upload_bytes
    folder = desk.house.settings.uploads / str(row.id)
    folder.mkdir(parents=True, exist_ok=True)
    names, total = [], 0
    try:
        for at, (given, file) in enumerate(files):
            parts = PurePosixPath(given.replace("\\", "/")).parts
            with (folder / f"{at:06d}").open("wb") as out:
                while block := file.read(CHUNK):
                    total += len(block)
                    if total > limit:
                        raise WinnowerError(too_large_an_upload(limit))
                    out.write(block)
            names.append("/".join(part for part in parts if part not in ("..", "/")) or f"file {at + 1}")
    except OSError as error:
        shutil.rmtree(folder, ignore_errors=True)
        if is_full(error):
            raise disk_full(folder, total) from error
        raise Unavailable(f"The files could not be kept ({error.strerror}). Nothing was changed.") from error
    except WinnowerError:
        shutil.rmtree(folder, ignore_errors=True)
        raise
    row.files = names
    return row


@router.get("/uploads/room", status_code=204)
def room_for_upload(desk: Writing, size: Annotated[int, Query(ge=0)]) -> None:
    """Whether files of so many bytes could be received, asked before they are sent: a browser that is refused in the
    middle of sending does not hear why."""
    limit = desk.house.settings.limit_upload_bytes
    if size > limit:
        raise WinnowerError(too_large_an_upload(limit))
    require_room_for_upload(desk.house.settings, size)


@router.post("/uploads", status_code=201)
def upload(desk: Writing, files: Received) -> s.UploadPublic:
    """Receive files (form fields ``files`` and, beside them, ``paths``) for a first look."""
    row = keep_upload(desk, [(name, file.file) for name, file in files])
    folder = desk.house.settings.uploads / str(row.id)
    return s.UploadPublic(
        id=row.id, files=row.files, bytes=sum(path.stat().st_size for path in folder.iterdir())
    )


def upload_paths(desk: Desk, upload_id: int) -> list[tuple[str, Path]]:
    """Names and places of what was received. Raises NotFound."""
    row = store.upload_of(desk.session, desk.project.id, upload_id)
    folder = desk.house.settings.uploads / str(row.id) if row else None
    if row is None or folder is None or not folder.is_dir():  # an import took them, or they were too old
        raise NotFound("These files are no longer here. Drop them again.")
    return [(name, folder / f"{at:06d}") for at, name in enumerate(row.files)]


def _lots(given: dict[str, s.LotChoiceModel]) -> dict:
    """Choices by lot as the job's parameters hold them."""
    return {key: choice.model_dump(exclude_none=True) for key, choice in given.items()}


@router.post("/uploads/{upload_id}/preview")
def preview(desk: Writing, upload_id: int, asked: s.PreviewRequest) -> s.Preview:
    """How the files would be read, and what would not go in."""
    look = look_at_delivery(
        desk.house.apart,
        desk.house.settings,
        desk.session,
        desk.project.id,
        upload_paths(desk, upload_id),
        _lots(asked.lots),
    )
    lines = known_of(desk.session, desk.project.id).lines
    return s.Preview(
        lots=[lot_preview(one, lines) for one in look.lots],
        problems=[s.Place(file=p.file, row=p.row, reason=p.reason, kept=p.kept) for p in look.problems],
        problems_total=look.problems_total,
        checked=look.checked,
        everything=look.everything,
        notices=look.notices,
    )


def _params(desk: Desk, given: s.ExpectedRequest) -> dict:
    params = import_params(upload_paths(desk, given.upload_id), _lots(given.lots))
    return params | {"upload_id": given.upload_id}


@router.post("/imports/expected")
def expected(desk: Writing, given: s.ExpectedRequest) -> s.ExpectedPublic:
    """What will be new, known, changed and refused, before anything is stored."""
    house, params = desk.house, _params(desk, given)
    found: Expected = house.apart.call_without(
        "expect", house.database.url, house.settings, desk.project.id, params, {}
    )
    return s.ExpectedPublic(**_expected(found))


def _expected(found: Expected) -> dict:
    plain = asdict(found)
    plain["fields"] = [{"name": n, "other": o, "empty": e} for n, (o, e) in found.fields.items()]
    for at, one in enumerate(found.agreeing):
        places = [dict(zip(("file", "row"), place, strict=True)) for place in (one.first, one.second)]
        plain["agreeing"][at] = {
            "first": places[0],
            "second": places[1],
            "start": one.start,
            "other": one.other,
        }
    for example in plain["examples"]:
        names = ("name", "before", "after")
        example["values"] = [dict(zip(names, one, strict=True)) for one in example["values"]]
        example["words"] = [{"kind": kind, "text": text} for kind, text in example["words"]]
    for perhaps in plain["perhaps"]:
        perhaps["words"] = [{"kind": kind, "text": text} for kind, text in perhaps["words"]]
    return plain


@router.post("/imports", status_code=201)
def start_import(desk: Writing, given: s.ImportRequest, request: Request) -> s.JobPublic:
    """Begin to import what was uploaded; once it is in, how each lot was taken is kept for the next delivery."""
    params = _params(desk, given) | {"again": given.again.model_dump()}
    settings = desk.house.settings
    size = sum(Path(path).stat().st_size for _, path in params["paths"])
    require_space(settings.data, IMPORT_FACTOR * size, settings.reserve_bytes)
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
    return [
        s.DeliveryPublic(
            id=row.id,
            name=row.name,
            made_at=row.made_at,
            made_by=who,
            report=row.report or {},
            state=row.state,  # type: ignore[arg-type]
        )
        for row, who in store.deliveries_of(desk.session, desk.project.id)
    ]


@router.get("/deliveries/{delivery_id}/leaving")
def leaving_with(desk: Reading, delivery_id: int) -> s.LeavingPublic:
    """What would go if a delivery were undone, and what would stay."""
    row = store.delivery_row(desk.session, desk.project.id, delivery_id)
    if row is None or row.state != "done":
        raise NotFound("There is no such delivery, or it was undone already.")
    return s.LeavingPublic(**asdict(leaving(desk.session, desk.corpus, row)))


@router.post("/deliveries/{delivery_id}/undo")
def undo_delivery(desk: Writing, delivery_id: int, others: OfOthers = "refuse") -> s.Done:
    """Take a whole delivery out of the project; the report stays, and undo brings the texts back. ``others`` says what
    becomes of texts others have worked on."""
    desk.may_take(others)
    desk.corpus_to_change()
    row = store.delivery_row(desk.session, desk.project.id, delivery_id)
    if row is None or row.state != "done":
        raise NotFound("There is no such delivery, or it was undone already.")
    recorder = desk.recorder(f"Undo delivery {row.name}")
    heed_others(desk.session, row, desk.account.id, others, row.name, None)
    take_out(recorder, desk.corpus_within, desk.folder, row)
    desk.clear_up()
    return s.Done(label=recorder.label)


@router.get("/deliveries/{delivery_id}/report")
def delivery_report(desk: Reading, delivery_id: int) -> Response:
    """What was not taken or not as given, as CSV."""
    row = store.delivery_row(desk.session, desk.project.id, delivery_id)
    if row is None:
        raise NotFound("There is no such delivery.")
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["outcome", "file", "row", "reason"])
    report = row.report or {}
    for outcome, name in (("refused", "refusals"), ("changed", "changes"), ("kept with a remark", "remarks")):
        for place in report.get(name, []):
            writer.writerow(harmless_row((outcome, place["file"], place["row"], place["reason"])))
    return download("\ufeff" + out.getvalue(), f"{row.name} report.csv", "text/csv; charset=utf-8")
