"""Runs of automatic coding as rows: made, filled with what was found, counted or not, kept in step, taken back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import polars as pl
from sqlalchemy import delete, func, select
from sqlalchemy import text as sql
from sqlalchemy.orm import Session

from winnower.core.errors import Conflict, NotFound, WinnowerError
from winnower.core.runs import Found, Recipe, Sorted, in_step, recipe_from_plain, recipe_to_plain
from winnower.store import bulk
from winnower.store.codebook import Codebook, make_code
from winnower.store.coded import RUN
from winnower.store.dictionaries import dictionary_row, keep_version, load
from winnower.store.history import Recorder
from winnower.store.models import Account, CodeRow, CodingRun, Job, RunPlace, RunTarget, VerdictRow
from winnower.store.opened import OpenCorpus
from winnower.store.run_finding import Piece, Sought
from winnower.store.run_places import verdicts_on_runs
from winnower.store.tones import keep_version as keep_tone
from winnower.store.tones import list_in

ROWS_AT_ONCE = 100_000
DELETED_AT_ONCE = 50_000
STORED = ["id", "text_id", "target", "start", "end"]


def runs_of(session: Session, project_id: int) -> list[tuple[CodingRun, str]]:
    """Runs of a project with who made each, the newest first."""
    asked = (
        select(CodingRun, Account.full_name)
        .join(Account, Account.id == CodingRun.made_by)
        .where(CodingRun.project_id == project_id)
        .order_by(CodingRun.id.desc())
    )
    return [(run, name) for run, name in session.execute(asked)]


def run_of(session: Session, project_id: int, run_id: int) -> CodingRun:
    """Raises NotFound."""
    row = session.get(CodingRun, run_id)
    if row is None or row.project_id != project_id:
        raise NotFound("There is no such run in this project.")
    return row


def targets_of(session: Session, run_ids: Sequence[int]) -> dict[int, list[RunTarget]]:
    """Targets of runs in their order."""
    asked = (
        select(RunTarget).where(RunTarget.run_id.in_(run_ids)).order_by(RunTarget.run_id, RunTarget.number)
    )
    found: dict[int, list[RunTarget]] = {one: [] for one in run_ids}
    for row in session.scalars(asked):
        found[row.run_id].append(row)
    return found


def recipe_of(run: CodingRun) -> Recipe:
    return recipe_from_plain(run.recipe)


def free_name(session: Session, project_id: int, wanted: str) -> str:
    """A name no run of the project has yet."""
    name = " ".join(wanted.split())[:190] or "Run"
    taken = set(session.scalars(select(CodingRun.name).where(CodingRun.project_id == project_id)))
    number = 2
    found = name
    while found in taken:
        found, number = f"{name} {number}", number + 1
    return found


def begin_run(session: Session, project_id: int, account_id: int, name: str, recipe: Recipe) -> CodingRun:
    """A run that nothing was found for yet; it counts nowhere."""
    row = CodingRun(
        project_id=project_id,
        name=free_name(session, project_id, name),
        recipe=recipe_to_plain(recipe),
        state="making",
        reasons=[],
        made_by=account_id,
    )
    session.add(row)
    session.flush()
    session.refresh(row)
    return row


def set_made(run: CodingRun) -> None:
    """A run that is done begins as one that counts nowhere: what makes it count can be taken back."""
    run.state = "taken back"


def clear(session: Session, run_id: int, *, whole: bool = False) -> None:
    """Remove what an earlier try left of a run that is being made; with ``whole`` the run itself."""
    while session.execute(
        sql(f"delete from run_place where run_id = :run limit {DELETED_AT_ONCE}"), {"run": run_id}
    ).rowcount:  # type: ignore[attr-defined]
        continue
    session.execute(delete(RunTarget).where(RunTarget.run_id == run_id))
    if whole:
        session.execute(delete(CodingRun).where(CodingRun.id == run_id, CodingRun.state == "making"))


def add_targets(session: Session, run: CodingRun, what: Sought) -> None:
    """Note what a run looks for; codes come when it is done."""
    run.reasons = list(what.reasons)
    run.instrument, run.version = what.instrument[:200], what.version
    session.add_all(
        RunTarget(run_id=run.id, number=number, key=piece.key, name=piece.name)
        for number, piece in enumerate(what.pieces)
    )
    session.flush()


def add_places(session: Session, run_id: int, frame: pl.DataFrame) -> None:
    """Store what was found, as ``Found.in_texts`` gives it."""
    bulk.insert_frame(session, RunPlace, _rows(run_id, frame))


def _rows(run_id: int, frame: pl.DataFrame) -> pl.DataFrame:
    return frame.with_columns(pl.lit(run_id, pl.Int64).alias("run_id"))


def keep_instrument(session: Session, recorder: Recorder, recipe: Recipe) -> int | None:
    """The version of the dictionary or word list a run was made from, so that its terms can be traced."""
    if recipe.finder.kind == "tone" and recipe.finder.words is not None:
        tone = list_in(session, recorder.project_id, recipe.finder.words)
        return keep_tone(session, tone, recorder.account_id)
    if recipe.finder.kind != "dictionary":
        return None
    row = dictionary_row(session, recorder.project_id, recipe.finder.dictionary)
    return keep_version(session, load(session, row), recorder.account_id)


def give_codes(
    recorder: Recorder,
    book: Codebook,
    pieces: Sequence[Piece],
    targets: Sequence[RunTarget],
    chosen: Mapping[str, int],
    parent_id: int | None,
) -> list[str]:
    """Give targets without a code their codes: the ``chosen`` ones by key, else one of the same name where it
    belongs, else a new one there. Names of targets whose chosen code is gone: they have none."""
    by_key = {piece.key: piece for piece in pieces}
    code_of: dict[str, int] = {one.key: one.code_id for one in targets if one.code_id is not None}
    known = set(book.tree.node)
    parent_id = parent_id if parent_id in known else None
    gone = []
    for target in targets:
        if target.code_id is not None or target.key not in by_key:
            continue
        wanted = chosen.get(target.key)
        if wanted is not None and wanted not in known:
            gone.append(target.name)
            continue
        if wanted is None:
            above = by_key[target.key].above
            under = code_of.get(above, parent_id) if above is not None else parent_id
            book, code = code_named(recorder, book, target.name, under)
            wanted = code.id
            known.add(wanted)
        code_of[target.key] = wanted
        recorder.update(target, {"code_id": wanted})
    return gone


def code_named(
    recorder: Recorder, book: Codebook, name: str, parent_id: int | None
) -> tuple[Codebook, CodeRow]:
    """The code of that name right under another one, or at the top; made where it is not there."""
    for row in book.codes:
        if row.parent_id == parent_id and row.name.casefold() == name.casefold():
            return book, row
    made = make_code(recorder, book, name, parent_id)
    return book.with_code(made), made


def set_state(recorder: Recorder, run: CodingRun, state: str) -> None:
    """What counts of a run from now on. Raises Conflict for one that is still being made."""
    if run.state == "making":
        raise Conflict("This run is not done yet.")
    if state not in ("proposals", "applied", "taken back"):
        raise WinnowerError("A run is kept as proposals, applied, or taken back.")
    recorder.update(run, {"state": state})


def delete_run(session: Session, run: CodingRun) -> None:
    """Remove a run for good, with what was judged of it. Raises Conflict unless it was taken back before."""
    if run.state != "taken back":
        raise Conflict("Take the run back first; only then can it be removed for good.")
    targets = list(session.scalars(select(RunTarget.id).where(RunTarget.run_id == run.id)))
    session.execute(delete(VerdictRow).where(VerdictRow.subject == RUN, VerdictRow.subject_id.in_(targets)))
    clear(session, run.id)
    session.execute(delete(CodingRun).where(CodingRun.id == run.id))


def stored_places(session: Session, run_id: int) -> pl.DataFrame:
    """All places of a run, with the columns of STORED."""
    schema = {name: pl.Int64 if name in ("id", "text_id") else pl.Int32 for name in STORED}
    return _in_lines(session, run_id, "id, text_id, target, start, `end`", schema)


def _in_lines(session: Session, run_id: int, listed: str, schema: dict[str, Any]) -> pl.DataFrame:
    """Places of a run read as lines that the server puts together, several times as fast as rows."""
    connection = session.connection()
    connection.execute(sql("set session group_concat_max_len = 1073741824"))
    low, high = session.execute(
        select(func.min(RunPlace.id), func.max(RunPlace.id)).where(RunPlace.run_id == run_id)
    ).one()
    parts = []
    for first in range(low or 0, (high or -1) + 1, 2 * ROWS_AT_ONCE):
        asked = (
            f"select group_concat(concat_ws(',', {listed}) order by id separator '\\n') from run_place "
            "where run_id = :run and id between :low and :high"
        )
        some = connection.execute(
            sql(asked), {"run": run_id, "low": first, "high": first + 2 * ROWS_AT_ONCE - 1}
        ).scalar()
        if some:
            parts.append(some)
    if not parts:
        return pl.DataFrame(schema=schema)
    return pl.read_csv("\n".join(parts).encode(), has_header=False, schema=schema)


def all_places(session: Session, run_id: int) -> pl.DataFrame:
    """All places of a run with how many hits lie in each, and its score: STORED, hits, score."""
    names = {"id": pl.Int64, "text_id": pl.Int64, "target": pl.Int32, "start": pl.Int32, "end": pl.Int32}
    schema = {**names, "hits": pl.Int32, "score": pl.Int32}
    return _in_lines(session, run_id, "id, text_id, target, start, `end`, hits, score", schema)


def judged_places(session: Session, run: CodingRun, targets: Sequence[RunTarget]) -> pl.DataFrame:
    """Places of a run that somebody judged: text_id, target, start, end."""
    number = {one.id: one.number for one in targets}
    said = verdicts_on_runs(session, [run.id])
    of = pl.Series("target", [number[one] for one in said["subject_id"].to_list()], pl.Int32)
    return said.with_columns(of).select("text_id", "target", "start", "end").unique()


def aligned(
    run: CodingRun, targets: Sequence[RunTarget], what: Sought, found: Found, corpus: OpenCorpus
) -> tuple[pl.DataFrame, list[str], list[Piece]]:
    """What is found now in the numbers of a run that is there: targets by their keys, new ones after the others;
    reasons likewise. The frame, the reasons, the new pieces."""
    number = {one.key: one.number for one in targets}
    new = [piece for piece in what.pieces if piece.key not in number]
    first = max(number.values(), default=-1) + 1
    number |= {piece.key: first + at for at, piece in enumerate(new)}
    reasons = list(run.reasons)
    reason = {words: at for at, words in enumerate(reasons)}
    for words in what.reasons:
        if words not in reason:
            reason[words] = len(reasons)
            reasons.append(words)
    frame = found.in_texts(corpus.index)
    of_target = pl.Series([number[piece.key] for piece in what.pieces], dtype=pl.Int32)
    of_reason = pl.Series([reason[words] for words in what.reasons], dtype=pl.Int32)
    return (
        frame.with_columns(
            target=of_target.gather(frame["target"]), reason=of_reason.gather(frame["reason"])
        ),
        reasons,
        new,
    )


def differs(
    session: Session,
    run: CodingRun,
    targets: Sequence[RunTarget],
    now: pl.DataFrame,
    stored: pl.DataFrame | None = None,
) -> Sorted:
    """What would change of a run to bring it in step with what is found now; ``stored`` its places (STORED), where they
    are at hand."""
    there = stored_places(session, run.id) if stored is None else stored.select(STORED)
    return in_step(there, now, judged_places(session, run, targets))


def bring_in_step(
    recorder: Recorder, run: CodingRun, change: Sorted, values: dict[str, Any], new: Sequence[Piece]
) -> list[RunTarget]:
    """Carry out what ``differs`` told: one step, undone as one. The targets that came to it."""
    session = recorder.session
    first = session.scalar(select(func.max(RunTarget.number)).where(RunTarget.run_id == run.id))
    rows = [
        RunTarget(run_id=run.id, number=(-1 if first is None else first) + 1 + at, key=one.key, name=one.name)
        for at, one in enumerate(new)
    ]
    if rows:
        recorder.insert_many(rows)
    if len(change.added):
        recorder.insert_frame(RunPlace, _rows(run.id, change.added))
    if len(change.removed):
        recorder.delete_frame(RunPlace, change.removed)
    places = change.same + change.held + len(change.added)
    recorder.update(run, {**values, "places": places})
    return rows


def places_again(session: Session, ids: Sequence[int]) -> pl.DataFrame:
    """Places by id with why they were found, as ``Found.in_texts`` gives them."""
    names = ("text_id", "start", "end", "target", "reason", "mark_start", "mark_end", "hits", "score")
    rows = session.execute(select(*(getattr(RunPlace, name) for name in names)).where(RunPlace.id.in_(ids)))
    return pl.DataFrame([tuple(row) for row in rows], schema=dict.fromkeys(names, pl.Int64), orient="row")


def judged_counts(session: Session, run_ids: Sequence[int]) -> dict[int, int]:
    """How many places of each run were judged; one query."""
    if not run_ids:
        return {}
    place = func.concat_ws(",", VerdictRow.subject_id, VerdictRow.text_id, VerdictRow.start, VerdictRow.end)
    asked = (
        select(RunTarget.run_id, func.count(func.distinct(place)))
        .join(VerdictRow, (VerdictRow.subject_id == RunTarget.id) & (VerdictRow.subject == RUN))
        .where(RunTarget.run_id.in_(run_ids))
        .group_by(RunTarget.run_id)
    )
    return {run_id: n for run_id, n in session.execute(asked)}


def judges_of_run(session: Session, run_id: int) -> list[str]:
    """Names of the people who judged what a run found."""
    asked = (
        select(Account.full_name)
        .join(VerdictRow, VerdictRow.made_by == Account.id)
        .join(RunTarget, (RunTarget.id == VerdictRow.subject_id) & (VerdictRow.subject == RUN))
        .where(RunTarget.run_id == run_id)
        .distinct()
        .order_by(Account.full_name)
    )
    return list(session.scalars(asked))


def clear_abandoned(session: Session) -> None:
    """Remove what is left of runs whose making ended with its job: nobody goes on with them."""
    making = session.scalars(select(CodingRun).where(CodingRun.state == "making")).all()
    if not making:
        return
    at_work = select(Job.params).where(Job.kind == "coding", Job.state.in_(("queued", "running")))
    wanted = {int(params.get("run", 0)) for params in session.scalars(at_work)}
    for row in making:
        if row.id not in wanted:
            clear(session, row.id, whole=True)
