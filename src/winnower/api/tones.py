"""Word lists for tone: made, changed word by word, taken from files and given out, tried on a sentence."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from fastapi import APIRouter, File, Response, UploadFile

from winnower.api import schemas as s
from winnower.api.context import Desk, Reading, Seen, Writing
from winnower.api.files import EXCEL, download
from winnower.api.schemas import learning as le
from winnower.core.errors import Conflict, WinnowerError
from winnower.core.tone import BANDS, ToneWords, band_of, score, shipped, weighed
from winnower.core.tone.rows import ToneRows
from winnower.core.tone.words import ROLES
from winnower.store import tones as store
from winnower.store.history import plain
from winnower.store.models import ToneListRow
from winnower.writers.listing import Column, listing_csv, listing_xlsx

router = APIRouter(prefix="/projects/{project_id}/tone-lists")
SHIPPED = 0
MAX_FILE_BYTES = 5_000_000
SHOWN_REFUSED = 100
Show = Literal["all", "own", "used"]


@router.get("")
def lists(desk: Reading) -> list[le.ToneListPublic]:
    """The list that ships, and those of the project by name."""
    words = shipped("english")
    first = le.ToneListPublic(
        id=None,
        name="English, as it ships",
        base="english",
        words=len(words.weights) + len(words.negations) + len(words.intensifiers),
        own=0,
        version=None,
        changed_since=False,
        made_at=None,
        revision=0,
    )
    return [first, *(_public(desk, row) for row in store.lists_of(desk.session, desk.project.id))]


def _public(desk: Desk, row: ToneListRow) -> le.ToneListPublic:
    words = store.words_of(row)
    version, is_now = store.newest_version(desk.session, row)
    return le.ToneListPublic(
        id=row.id,
        name=row.name,
        base=row.base,  # type: ignore[arg-type]
        words=len(words.weights) + len(words.negations) + len(words.intensifiers),
        own=sum(map(len, row.changes.values())),
        version=version,
        changed_since=version is not None and not is_now,
        made_at=row.made_at,
        revision=row.revision,
    )


@router.post("", status_code=201)
def make(desk: Writing, given: le.ToneListNew) -> le.ToneListPublic:
    """A list of the project: it begins as the English one that ships, or empty, for another language."""
    recorder = desk.recorder(f"Make the word list {given.name}"[:300])
    row = store.make_list(recorder, given.name, given.base)
    recorder.save()
    return _public(desk, row)


@router.patch("/{list_id}")
def rename(desk: Writing, list_id: int, given: le.ToneListUpdate) -> le.ToneListPublic:
    row = store.list_in(desk.session, desk.project.id, list_id)
    recorder = desk.recorder(f"Rename the word list {row.name}")
    store.rename_list(recorder, row, given.name, given.revision)
    recorder.save()
    return _public(desk, row)


@router.delete("/{list_id}")
def remove(desk: Writing, list_id: int, revision: Seen) -> s.Done:
    """Delete a list no run was made with."""
    row = store.list_in(desk.session, desk.project.id, list_id)
    if row.revision != revision:
        raise Conflict("Somebody changed this list in the meantime.", plain(row))
    recorder = desk.recorder(f"Delete the word list {row.name}")
    store.delete_list(recorder, row)
    recorder.save()
    return s.Done(label=recorder.label)


def _words(desk: Desk, list_id: int) -> tuple[ToneWords, ToneWords]:
    """A list as it is, and the one that ships it began as; 0 is the one that ships itself."""
    if list_id == SHIPPED:
        return shipped("english"), shipped("english")
    row = store.list_in(desk.session, desk.project.id, list_id)
    return store.words_of(row), shipped(row.base)


def _rows(desk: Desk, list_id: int, find: str, show: Show) -> list[le.ToneWord]:
    """Words of a list, those that were taken out of it included."""
    now, base = _words(desk, list_id)
    hits = _hits(desk)
    out = []
    wanted = find.strip().lower()
    for role in ROLES:
        ours = {"weight": now.weights, "intensifier": now.intensifiers}.get(role, now.negations)
        theirs = {"weight": base.weights, "intensifier": base.intensifiers}.get(role, base.negations)
        for word in sorted({*ours, *theirs}):
            if wanted and wanted not in word:
                continue
            value, before = now.value_of(role, word), base.value_of(role, word)
            times = hits.get(word, 0)
            if (show == "own" and value == before) or (show == "used" and not times):
                continue
            out.append(le.ToneWord(role=role, word=word, value=value, shipped=before, hits=times))
    if show == "used":
        out.sort(key=lambda one: -one.hits)
    return out


def _hits(desk: Desk) -> dict[str, int]:
    """How often each word of any list stands in the texts."""
    corpus = desk.corpus

    def make_counts() -> dict[str, int]:
        total = np.zeros(len(corpus.lexicon), np.int64)
        for at, segment in enumerate(corpus.index.segments):
            np.add.at(total, corpus.lexicon.places[at][segment.fold_of], np.diff(segment.form_start))
        return dict(zip(corpus.lexicon.folds.to_list(), total.tolist(), strict=True))

    return corpus.kept(("hits of folds",), lambda _: make_counts(), ())


@router.get("/{list_id}/words")
def words(
    desk: Reading, list_id: int, find: str = "", show: Show = "all", start: int = 0, most: int = 100
) -> le.ToneWordsPublic:
    """Words of a list (0 for the one that ships), a page at a time."""
    rows = _rows(desk, list_id, find, show)
    first = max(start, 0)
    return le.ToneWordsPublic(
        total=len(rows), start=first, words=rows[first : first + min(max(most, 1), 200)]
    )


@router.post("/{list_id}/words")
def set_words(desk: Writing, list_id: int, given: le.ToneWordsGiven) -> s.Done:
    """Give words other values, or take them out: one step."""
    row = store.list_in(desk.session, desk.project.id, list_id)
    first = given.words[0].word
    more = f" and {len(given.words) - 1:,} more words" if len(given.words) > 1 else ""
    recorder = desk.recorder(f"Change “{first}”{more} in {row.name}"[:300])
    if store.set_words(recorder, row, [(one.role, one.word, one.value) for one in given.words]):
        recorder.save()
    return s.Done(label=recorder.label)


@router.post("/{list_id}/try")
def try_sentence(desk: Reading, list_id: int, asked: le.ToneTried) -> le.ToneOfSentence:
    """The tone of a sentence by a list (0 for the one that ships), and which words make it."""
    now, _ = _words(desk, list_id)
    found, _ = score([asked.sentence], now)
    return le.ToneOfSentence(
        score=float(found[0]),
        band=BANDS[int(band_of(found)[0])],
        words=[
            le.ToneWeighed(start=one.start, end=one.end, value=one.value)
            for one in weighed(asked.sentence, now)
        ],
    )


@router.get("/{list_id}/export")
def export(desk: Reading, list_id: int, form: Literal["csv", "xlsx"] = "csv") -> Response:
    """A list as a table that can be read in again: word, role, value."""
    now, _ = _words(desk, list_id)
    name = "tone words"
    if list_id != SHIPPED:
        row = store.list_in(desk.session, desk.project.id, list_id)
        name = f"{row.name} v{store.keep_version(desk.session, row, desk.account.id)}"
    cells = [
        (word, role, now.value_of(role, word))
        for role in ROLES
        for word in sorted({"weight": now.weights, "intensifier": now.intensifiers}.get(role, now.negations))
    ]
    columns = [Column(head, [one[at] for one in cells]) for at, head in enumerate(("word", "role", "value"))]
    if form == "csv":
        return download("\ufeff" + listing_csv(columns), f"{name}.csv", "text/csv; charset=utf-8")
    told = (
        "Weights from -4 to 4; a negation turns what follows within three words; an intensifier adds to its "
        "strength."
    )
    return download(listing_xlsx(columns, [("Word list", told, "")]), f"{name}.xlsx", EXCEL)


@router.post("/{list_id}/import")
def import_words(
    desk: Writing, list_id: int, file: Annotated[UploadFile, File()], replace: bool = False
) -> le.ToneWordsTaken:
    """Words from a table (word, role, value): added to a list, or with ``replace`` in place of all it has."""
    row = store.list_in(desk.session, desk.project.id, list_id)
    content = file.file.read(MAX_FILE_BYTES + 1)
    if len(content) > MAX_FILE_BYTES:
        raise WinnowerError(f"A word list can have at most {MAX_FILE_BYTES:,} bytes.")
    name = file.filename or "words.csv"
    read: ToneRows = desk.house.apart.call("tone words", content, name)
    recorder = desk.recorder(f"Take words from {name[:200]} into {row.name}"[:300])
    given = [(one.role, one.word, one.value) for one in read.words]
    if replace:
        now = store.words_of(row)
        kept = {(one.role, one.word) for one in read.words}
        there = [
            *(("weight", word) for word in now.weights),
            *(("negation", word) for word in now.negations),
            *(("intensifier", word) for word in now.intensifiers),
        ]
        given = [(*one, None) for one in there if one not in kept] + given
    changed = store.set_words(recorder, row, given)
    if changed:
        recorder.save()
    refused = [s.Refusal(what=f"Row {line}", reason=reason) for line, reason in read.refused[:SHOWN_REFUSED]]
    if len(read.refused) > SHOWN_REFUSED:
        more = len(read.refused) - SHOWN_REFUSED
        refused.append(s.Refusal(what=f"{more:,} more rows", reason="Not listed here."))
    return le.ToneWordsTaken(taken=len(read.words), changed=changed, refused=refused, label=recorder.label)
