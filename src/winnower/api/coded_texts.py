"""Texts as Word files with the passages of a question, and the notes on their words, as comments."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Iterator

import numpy as np
from fastapi import APIRouter, Response

from winnower.api.context import Desk, Reading
from winnower.api.evidence import origin_of
from winnower.api.files import WORD, download
from winnower.api.found_passages import answered
from winnower.api.schemas import coding as c
from winnower.core.coding import Passages
from winnower.core.errors import WinnowerError
from winnower.store import codebook, notes, passages
from winnower.store.bulk import chunks
from winnower.store.reading import standings_in
from winnower.store.texts import bodies
from winnower.writers.coded_word import CodedText, Remark, coded_docx

router = APIRouter(prefix="/projects/{project_id}")
MOST_TEXTS = 2_000
TEXTS_AT_ONCE = 100
_NO_FILE = re.compile(r'[\x00-\x1f<>:"/\\|?*]+')


@router.post("/passages/commented")
def commented(desk: Reading, asked: c.PassagesRequest, each: bool = False) -> Response:
    """The texts with a passage that a question finds: one Word file, or ``each`` in one of its own (a zip). Coder, code
    and remark of a passage stand in a comment on its words; so do notes on words of these texts. Raises
    WinnowerError for none, and for more than 2,000 texts."""
    found = answered(desk, asked.model_copy(update={"sort": "text"})).passages
    ids = list(dict.fromkeys(found.text_id.tolist()))
    if not ids:
        raise WinnowerError("No passage fits the question, so there is no text to write.")
    if len(ids) > MOST_TEXTS:
        raise WinnowerError(
            f"These are {len(ids):,} texts; a file takes {MOST_TEXTS:,}. Narrow the scope or the question."
        )
    texts = _texts(desk, found, ids)
    if not each:
        title = f"{desk.project.name}: coded texts"
        return download(coded_docx(title, texts), "coded texts.docx", WORD)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as packed:  # Word files are packed themselves
        for number, text in enumerate(texts, start=1):
            name = _NO_FILE.sub(" ", text.title)[:80].strip(" .") or "Untitled"
            packed.writestr(f"{number:04} {name}.docx", coded_docx(text.title, [text]))
    return download(out.getvalue(), "coded texts.zip", "application/zip")


def _texts(desk: Desk, found: Passages, ids: list[int]) -> Iterator[CodedText]:
    book = codebook.codebook_of(desk.session, desk.project.id)
    path = {row.id: " > ".join(book.tree.path(row.id)) for row in book.codes}
    places = dict(zip(ids, desk.corpus.places_of(np.asarray(ids, np.int64)).tolist(), strict=True))
    first = np.searchsorted(found.text_id, ids)
    after = np.searchsorted(found.text_id, ids, "right")
    bounds = dict(zip(ids, zip(first.tolist(), after.tolist(), strict=True), strict=True))
    for some in chunks(ids, TEXTS_AT_ONCE):
        body = bodies(desk.session, some)
        at = np.concatenate([found.id[slice(*bounds[one])] for one in some])
        rows = passages.rows_of(desk.session, at.tolist())
        noted = notes.on_words(desk.session, desk.project.id, some)
        standings = standings_in(desk.session, some)
        for text_id in some:
            title, source, date = origin_of(desk, places[text_id])
            remarks = [
                Remark(
                    row.start,
                    row.end,
                    coder,
                    row.made_at,
                    (path.get(row.code_id, ""), *([row.comment] if row.comment else [])),
                )
                for row, coder in (
                    rows[key] for key in found.id[slice(*bounds[text_id])].tolist() if key in rows
                )
            ]
            remarks += [
                Remark(
                    one.row.start or 0,
                    one.row.end or 0,
                    one.author,
                    one.row.made_at,
                    (
                        f"Note{f' ({one.row.kind})' if one.row.kind else ''}",
                        *([one.row.title] if one.row.title else []),
                        *_plain(one.row.body),
                    ),
                )
                for one in noted.get(text_id, [])
            ]
            yield CodedText(
                title,
                ", ".join(p for p in (source, date) if p),
                body.get(text_id, ""),
                tuple(remarks),
                standings.speakers(text_id),
            )


def _plain(body: str) -> list[str]:
    """The lines of a note; a quote in it is told of."""
    return [line for line in notes.QUOTE.sub("(a quote)", body).split("\n") if line.strip()]
