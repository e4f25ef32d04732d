"""One text: what stands beside it, notes, reference, corrections; texts typed or pasted in."""

from __future__ import annotations

import tempfile
from pathlib import Path

from fastapi import APIRouter, Request

from winnower.api.context import Desk, Reading, Writing
from winnower.api.imports import Received, job_public, keep_upload
from winnower.api.notes import publics
from winnower.api.schemas import reading as r
from winnower.api.schemas.imports import JobPublic
from winnower.api.schemas.variables import Changed
from winnower.core.coding import Moves
from winnower.core.errors import Conflict, WinnowerError
from winnower.core.reference import Reference, cite
from winnower.jobs.sources import mapping_to_plain
from winnower.readers import Mapping, Target
from winnower.readers.document import Document
from winnower.store import jobs, notes, reading
from winnower.store.corrections import correct_texts
from winnower.store.imports import add_places
from winnower.store.models import TextRow
from winnower.store.texts import text_of

router = APIRouter(prefix="/projects/{project_id}")
AROUND = 60


@router.get("/texts/{text_id}/beside")
def beside(desk: Reading, text_id: int) -> r.Aside:
    """Pages and sections, notes, reference and corrections of a text."""
    row, body, source = text_of(desk.session, desk.project.id, text_id)
    places = reading.places_in(desk.session, text_id)
    on_text, _ = notes.notes_of(
        desk.session, desk.project.id, notes.Asked(text_id=text_id, sort="on"), most=500
    )
    return r.Aside(
        places=[r.PlacePublic(kind=p.kind, start=p.start, label=p.label) for p in places],  # type: ignore[arg-type]
        notes=publics(desk, on_text),
        reference=_reference(row, source),
        edits=_edits(desk, text_id, body),
        placeholder=bool(row.placeholder),
    )


def _reference(row: TextRow, source: str | None) -> r.ReferencePublic:
    """The given fields, else a newspaper piece made of title, source and date."""
    if row.reference:
        fields = Reference(**row.reference)
    else:
        day = row.date
        year = "" if day is None else f"{day.year}, {day:%B} {day.day}"
        fields = Reference(type="newspaper article", title=row.title, container=source or "", year=year)
    return r.ReferencePublic(
        fields=r.ReferenceFields(**fields.plain()),
        own=bool(row.reference),
        author_date=cite(fields, "author-date"),
        notes=cite(fields, "notes"),
    )


def _edits(desk: Desk, text_id: int, body: str) -> list[r.EditPublic]:
    out, after = [], body
    for edit, who in reading.edits_of(desk.session, text_id):
        removed, added = _first_change(edit.before, after)
        out.append(
            r.EditPublic(
                id=edit.id, what=edit.what, made_by=who, made_at=edit.made_at, removed=removed, added=added
            )
        )
        after = edit.before
    return out


def _first_change(before: str, after: str) -> tuple[str, str]:
    """The words that went and came at the first place where two states differ."""
    low, high_before, high_after = Moves(before, after).first_change()
    return before[low:high_before][:AROUND], after[low:high_after][:AROUND]


@router.put("/texts/{text_id}/body")
def correct(desk: Writing, text_id: int, given: r.BodyUpdate) -> Changed:
    """Correct a text, or fill a placeholder; hits and notes keep to their words."""
    desk.corpus_to_change()
    row, before, _ = text_of(desk.session, desk.project.id, text_id)
    what = "Corrected" if before else "Filled"
    recorder = desk.recorder(f"{what} “{row.title[:120]}”")
    texts = correct_texts(
        recorder,
        desk.folder,
        {text_id: given.body},
        what,
        revisions={text_id: given.revision},
        limit_chars=desk.house.settings.limit_text_chars,
    )
    recorder.save()
    desk.clear_up()
    return Changed(texts=texts, label=recorder.label)


@router.post("/texts/{text_id}/attach")
def attach(desk: Writing, text_id: int, files: Received) -> Changed:
    """Fill a placeholder from a file."""
    desk.corpus_to_change()
    row, before, _ = text_of(desk.session, desk.project.id, text_id)
    if before:
        raise WinnowerError("This text has words already. Unlock it to correct them.")
    name, file = files[0]
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "file"
        path.write_bytes(file.file.read(desk.house.settings.limit_upload_bytes))
        document: Document = desk.house.apart.call("one document", path, name, desk.house.settings)
    recorder = desk.recorder(f"Filled “{row.title[:120]}” from {name[:100]}")
    texts = correct_texts(recorder, desk.folder, {text_id: document.body}, f"Filled from {name}"[:200])
    places = [(seq, p.kind, p.start, p.label, p.level) for seq, p in enumerate(document.places, 1_000)]
    add_places(desk.session, text_id, places)
    recorder.save()
    desk.clear_up()
    return Changed(texts=texts, label=recorder.label)


@router.put("/texts/{text_id}/reference")
def set_reference(desk: Writing, text_id: int, given: r.ReferenceUpdate) -> Changed:
    row, _, _ = text_of(desk.session, desk.project.id, text_id)
    recorder = desk.recorder(f"Reference of “{row.title[:120]}”")
    fields = given.model_dump(exclude={"revision"})
    reference = {name: value for name, value in fields.items() if value}
    try:
        recorder.update(row, {"reference": reference}, given.revision)
    except Conflict as error:
        raise Conflict(error.message, {**(row.reference or {}), "revision": row.revision}) from error
    recorder.save()
    return Changed(texts=1, label=recorder.label)


@router.post("/texts", status_code=201)
def type_text(desk: Writing, given: r.TextCreate, request: Request) -> JobPublic:
    """A text typed or pasted in; it goes the way of an import of one."""
    import csv
    import io

    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(["title", "source", "date", "text"])
    writer.writerow([given.title, given.source or "", given.date or "", given.body])
    upload = keep_upload(desk, [("typed.csv", io.BytesIO(out.getvalue().encode()))])
    targets = tuple(Target(name, name) for name in ("title", "source", "date", "text"))
    params = {
        "name": given.title[:300],
        "paths": [("typed.csv", str(desk.house.settings.uploads / str(upload.id) / "000000"))],
        "mapping": mapping_to_plain(Mapping(targets)),
        "upload_id": upload.id,
    }
    job = jobs.make_job(desk.session, desk.project.id, desk.account.id, "import", params)
    desk.session.commit()
    request.app.state.runner.wake()
    return job_public(job)
