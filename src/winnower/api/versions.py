"""Versions, comparing two dictionaries, files in and out, merging."""

from __future__ import annotations

import datetime as dt
import json
from typing import Annotated, Literal

from fastapi import APIRouter, File, Form, Response, UploadFile

from winnower.api import schemas as s
from winnower.api.context import Desk, Reading, Writing
from winnower.api.files import EXCEL, download
from winnower.api.instruments import dictionary_public, held, loaded
from winnower.api.schemas import versions as v
from winnower.core.compare import side_by_side
from winnower.core.dictionary import LEVEL_SIGN, Dictionary, DictionaryRows, TermEntry
from winnower.core.dictionary.differences import differences, plan_merge
from winnower.core.errors import WinnowerError
from winnower.core.pattern import write_term
from winnower.store import dictionaries as store
from winnower.store import versions as kept
from winnower.store.merging import merge_into
from winnower.writers.dictionary_file import dictionary_csv, dictionary_json, dictionary_xlsx
from winnower.writers.listing import Column, listing_csv

router = APIRouter(prefix="/projects/{project_id}/dictionaries")
MAX_FILE_BYTES = 20_000_000
SHOWN_TERMS = 200
SHOWN_REFUSED = 200


@router.get("/{dictionary_id}/versions")
def list_versions(desk: Reading, dictionary_id: int) -> list[v.VersionPublic]:
    """All kept versions, the newest first."""
    stored = loaded(desk, dictionary_id)
    now = stored.value.fingerprint()
    return [
        v.VersionPublic(
            number=row.number,
            name=row.name,
            note=row.note,
            terms=sum(len(one["terms"]) for one in row.content),
            categories=len(row.content),
            by=by,
            made_at=row.made_at.replace(tzinfo=dt.UTC),
            now=row.fingerprint == now,
        )
        for row, by in kept.versions_of(desk.session, stored)
    ]


@router.post("/{dictionary_id}/versions", status_code=201)
def name_version(desk: Writing, dictionary_id: int, given: v.VersionName) -> s.Done:
    """Give the present state a name."""
    stored = held(desk, dictionary_id)
    number = kept.name_version(desk.session, stored, desk.account.id, given.name, given.note)
    return s.Done(label=str(number))


@router.post("/{dictionary_id}/versions/{number}/back")
def go_back(desk: Writing, dictionary_id: int, number: int) -> s.Done:
    """Make the dictionary what it was in a version; can be undone."""
    stored = held(desk, dictionary_id)
    store.keep_version(desk.session, stored, desk.account.id)  # what is there now is kept as well
    version = kept.version_numbered(desk.session, stored.row, number)
    recorder = desk.recorder(f"Back to version {number} of {stored.row.name}")
    kept.put_back(recorder, stored, kept.as_dictionary(stored.row, version))
    recorder.save()
    return s.Done(label=recorder.label)


def _side(desk: Desk, side: v.Side) -> tuple[str, Dictionary]:
    stored = loaded(desk, side.dictionary_id)
    if side.version is None:
        number = store.kept_version(desk.session, stored.row.id, stored.value)
        return f"{stored.row.name}{f', version {number}' if number else ''} (now)", stored.value
    version = kept.version_numbered(desk.session, stored.row, side.version)
    name = f" “{version.name}”" if version.name else ""
    return f"{stored.row.name}, version {version.number}{name}", kept.as_dictionary(stored.row, version)


def written(entry: TermEntry | None) -> str | None:
    """A term with its options as text."""
    return None if entry is None else write_term(entry.parse())


@router.post("/side-by-side")
def compare_sides(desk: Reading, asked: v.SidesRequest) -> v.SidesPublic:
    """What differs between two dictionaries or versions, and what that does to the hits."""
    (first_name, first), (second_name, second) = (_side(desk, one) for one in (asked.first, asked.second))
    desk.look_at(asked.texts)
    corpus, scope, split = desk.corpus, asked.texts, asked.split
    ground = corpus.ground(scope, split)
    found = corpus.kept(
        ("sides", first.fingerprint(), second.fingerprint(), scope, split),
        lambda corpus: side_by_side(first, second, corpus, ground),
        corpus.scope_fields(scope, split),
    )
    changes = differences(first, second)
    return v.SidesPublic(
        first=first_name,
        second=second_name,
        groups=list(ground.groups.labels),
        group_words=[int(n) for n in ground.words],
        categories_added=[LEVEL_SIGN.join(path) for path in changes.categories_added],
        categories_removed=[LEVEL_SIGN.join(path) for path in changes.categories_removed],
        terms=[
            v.TermChange(
                category=LEVEL_SIGN.join(one.path),
                kind=one.kind,
                before=written(one.before),
                after=written(one.after),
            )
            for one in changes.terms
        ],
        rows=[
            v.SideRow(
                label=LEVEL_SIGN.join(path),
                depth=len(path) - 1,
                in_first=bool(found.has[0, row]),
                in_second=bool(found.has[1, row]),
                hits=found.hits[:, row].tolist(),
                texts=found.texts[:, row].tolist(),
                both=int(found.both[row]),
            )
            for row, path in enumerate(found.paths)
        ],
    )


@router.post("/side-by-side/export")
def export_sides(desk: Reading, asked: v.SidesRequest) -> Response:
    """The numbers of both as CSV."""
    sides = compare_sides(desk, asked)
    cells = [(row, group) for row in sides.rows for group in range(len(sides.groups))]
    columns = [
        Column("category", [row.label for row, _ in cells]),
        Column("group", [sides.groups[group] for _, group in cells]),
    ]
    for at, name in enumerate((sides.first, sides.second)):
        columns.append(Column(f"hits: {name}", [row.hits[at][group] for row, group in cells]))
        columns.append(Column(f"texts: {name}", [row.texts[at][group] for row, group in cells]))
    return download("\ufeff" + listing_csv(columns), "side by side.csv", "text/csv; charset=utf-8")


@router.get("/{dictionary_id}/export")
def export_dictionary(
    desk: Reading,
    dictionary_id: int,
    form: Literal["csv", "xlsx", "json"] = "csv",
    version: int | None = None,
) -> Response:
    """The dictionary, or one of its versions, as a file that can be imported again."""
    stored = loaded(desk, dictionary_id)
    if version is None:
        number, value = store.keep_version(desk.session, stored, desk.account.id), stored.value
    else:
        row = kept.version_numbered(desk.session, stored.row, version)
        number, value = row.number, kept.as_dictionary(stored.row, row)
    name = f"{stored.row.name} v{number}.{form}"
    if form == "json":
        return download(dictionary_json(value, number), name, "application/json")
    if form == "xlsx":
        return download(dictionary_xlsx(value), name, EXCEL)
    return download("\ufeff" + dictionary_csv(value), name, "text/csv; charset=utf-8")


def _read(desk: Desk, file: UploadFile) -> DictionaryRows:
    content = file.file.read(MAX_FILE_BYTES + 1)
    if len(content) > MAX_FILE_BYTES:
        raise WinnowerError(f"A dictionary file can have at most {MAX_FILE_BYTES:,} bytes.")
    read: DictionaryRows = desk.house.apart.call("dictionary", content, file.filename or "dictionary.csv")
    return read


def _refused(read: DictionaryRows) -> list[s.Refusal]:
    refused = [s.Refusal(what=f"Row {row}", reason=reason) for row, reason in read.refused[:SHOWN_REFUSED]]
    if len(read.refused) > SHOWN_REFUSED:
        more = len(read.refused) - SHOWN_REFUSED
        refused.append(s.Refusal(what=f"{more:,} more rows", reason="Not listed here."))
    return refused + [s.Refusal(what=f"Column {name}", reason="Not used.") for name in read.unknown_columns]


@router.post("/import", status_code=201)
def import_dictionary(desk: Writing, file: Annotated[UploadFile, File()]) -> s.DictionaryImported:
    """A dictionary from a CSV, a workbook, JSON, or a plain list of words."""
    read = _read(desk, file)
    recorder = desk.recorder(f"Import dictionary {read.dictionary.name}")
    row = store.import_dictionary(recorder, read.dictionary.name, read.dictionary)
    recorder.save()
    return s.DictionaryImported(
        dictionary=dictionary_public(row),
        added=sum(len(c.terms) for c in read.dictionary.categories),
        doubles=read.doubles,
        refused=_refused(read),
    )


@router.post("/{dictionary_id}/merge/preview")
def preview_merge(
    desk: Reading,
    dictionary_id: int,
    file: Annotated[UploadFile, File()],
    into: Annotated[int | None, Form()] = None,
) -> v.MergePreview:
    """What a file would add to the dictionary, and where the two disagree. Nothing is changed."""
    stored = loaded(desk, dictionary_id)
    read = _read(desk, file)
    theirs = _placed(stored, read.dictionary, into)
    plan = plan_merge(stored.value, theirs)
    return v.MergePreview(
        categories=[LEVEL_SIGN.join(category.path) for category in plan.categories],
        terms=len(plan.terms),
        some_terms=[f"{path[-1]}: {entry.source}" for path, entry in plan.terms[:SHOWN_TERMS]],
        same=plan.same,
        doubles=read.doubles,
        conflicts=[
            v.ConflictPublic(
                key=one.key,
                kind=one.kind,
                category=LEVEL_SIGN.join(one.path),
                source=one.source,
                mine=one.mine,
                theirs=one.theirs,
            )
            for one in plan.conflicts
        ],
        refused=_refused(read),
    )


def _placed(stored: store.StoredDictionary, theirs: Dictionary, into: int | None) -> Dictionary:
    """The file's dictionary, all its terms under one category where that was chosen."""
    if into is None:
        return theirs
    at = stored.categories.index(store.category_in(stored, into))
    path = stored.value.categories[at].path
    terms = tuple({term.key: term for c in theirs.categories for term in c.terms}.values())
    home = stored.value.categories[at]
    return Dictionary(theirs.name, (type(home)(path, terms, home.description, home.colour),))


@router.post("/{dictionary_id}/merge")
def merge_file(
    desk: Writing,
    dictionary_id: int,
    file: Annotated[UploadFile, File()],
    take_theirs: Annotated[str, Form()] = "[]",
    into: Annotated[int | None, Form()] = None,
) -> s.TermsAdded:
    """Take a file into the dictionary; ``take_theirs`` is a JSON list of the conflicts to follow."""
    stored = held(desk, dictionary_id)
    read = _read(desk, file)
    keys = json.loads(take_theirs)
    recorder = desk.recorder(f"Merge {read.dictionary.name} into {stored.row.name}")
    plan = merge_into(recorder, stored, _placed(stored, read.dictionary, into), set(keys))
    recorder.save()
    return s.TermsAdded(added=len(plan.terms), doubles=plan.same, refused=_refused(read))
