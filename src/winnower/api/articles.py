"""The search service for articles and studies: found, looked at, taken into the corpus through the import."""

from __future__ import annotations

import io
from collections.abc import Sequence

from fastapi import APIRouter

from winnower.api.context import Desk, Reading, Writing
from winnower.api.imports import keep_upload
from winnower.api.schemas import articles as a
from winnower.api.schemas.imports import UploadPublic
from winnower.core.reference import cite
from winnower.stand_ins.article_records import Record
from winnower.stand_ins.articles import SUMMED, ArticleSearch, ShippedArticles, Wanted, as_ris, summed_up
from winnower.store.imports import known_references

router = APIRouter(prefix="/projects/{project_id}/articles")
#: A real service is another class with the same methods.
service: ArticleSearch = ShippedArticles()


@router.post("/search")
def search(desk: Reading, asked: a.ArticlesAsked) -> a.ArticlesPage:
    """Records of the service, with which of them are in the project already."""
    found = service.search(
        Wanted(asked.words, tuple(asked.kinds), tuple(asked.outlets), asked.first, asked.last, asked.newest)
    )
    shown = found.records[asked.start : asked.start + asked.most]
    return a.ArticlesPage(
        service=service.name,
        total=len(found.records),
        start=asked.start,
        records=_lines(desk, shown),
        kinds=[a.Tally(name=name, records=n) for name, n in found.kinds.items()],
        outlets=[a.Tally(name=name, records=n) for name, n in found.outlets.items()],
        years=list(found.years),
        summary=summed_up(found.records[:SUMMED], asked.words)
        if asked.words.strip() and not asked.start
        else [],
    )


def _lines(desk: Desk, some: Sequence[Record]) -> list[a.ArticleLine]:
    known = known_references(desk.session, desk.corpus, [one.reference for one in some])
    return [
        a.ArticleLine(
            id=one.id,
            kind=one.kind,
            title=one.title,
            authors=list(one.authors),
            year=one.year,
            outlet=one.outlet,
            subjects=list(one.subjects),
            words=one.words,
            there=(one.title.casefold(), one.reference.authors.casefold(), str(one.year)) in known,
        )
        for one in some
    ]


@router.get("/records/{record_id}")
def record(desk: Reading, record_id: str) -> a.ArticlePublic:
    """One record, whole, as two styles cite it."""
    one = service.record(record_id)
    return a.ArticlePublic(
        line=_lines(desk, [one])[0],
        volume=one.reference.volume,
        pages=one.reference.pages,
        publisher=one.reference.publisher,
        author_date=cite(one.reference, "author-date"),
        notes=cite(one.reference, "notes"),
    )


@router.post("/take", status_code=201)
def take(desk: Writing, given: a.ArticlesTaken) -> UploadPublic:
    """Records as a reference list that is received like a file: the import shows what is new and what is known, and
    nothing is in the corpus before it is begun."""
    chosen = [service.record(one) for one in dict.fromkeys(given.ids)]
    content = as_ris(chosen).encode()
    row = keep_upload(desk, [("articles.ris", io.BytesIO(content))])
    return UploadPublic(id=row.id, files=row.files, bytes=len(content))
