"""Review of what runs found: verdicts on many places, and coding by hand in their stead."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import polars as pl
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from winnower.core.coding.passages import KINDS, Passages
from winnower.core.compare.targets import CodeNode, RunFound
from winnower.core.errors import NotFound
from winnower.core.runs.review import with_verdicts
from winnower.store.bulk import chunks
from winnower.store.coded import RUN
from winnower.store.history import Recorder
from winnower.store.models import CodeRow, CodingRun, PassageRow, Project, RunPlace, RunTarget, VerdictRow
from winnower.store.opened import OpenCorpus
from winnower.store.passages import change_many, code_many, code_stretch
from winnower.store.run_places import RunPassage, shown_passages, verdicts_on_runs
from winnower.store.runs import all_places, recipe_of, run_of, targets_of

IDS_AT_ONCE = 5_000


def kept_places(session: Session, run: CodingRun, corpus: OpenCorpus) -> pl.DataFrame:
    """All places of a run, read once for a state of it and of the texts: those of ``all_places``, and ``place``, the
    place of their text, -1 where it is not in the corpus."""

    def make() -> pl.DataFrame:
        found = all_places(session, run.id)
        return found.with_columns(place=corpus.places_of(found["text_id"].to_numpy()))

    # whether it is applied does not matter; places that come have higher numbers than all before
    newest = session.scalar(select(func.max(RunPlace.id)).where(RunPlace.run_id == run.id))
    return corpus.memory.kept((corpus.owner, "run places", run.id, run.places, newest, corpus.revision), make)


def judged_run(session: Session, run: CodingRun, corpus: OpenCorpus) -> pl.DataFrame:
    """Places of a run in texts of the corpus, in the order of their texts, with what was said of them (see
    core/runs/review.py)."""
    there = kept_places(session, run, corpus).filter(pl.col("place") >= 0)
    return with_verdicts(there, verdicts_of(session, run))


def verdicts_of(session: Session, run: CodingRun) -> pl.DataFrame:
    """What people said of a run: target (its number), text_id, start, end, verdict, made_by."""
    number = {one.id: one.number for one in targets_of(session, [run.id])[run.id]}
    said = verdicts_on_runs(session, [run.id])
    of = pl.Series("target", [number[one] for one in said["subject_id"].to_list()], pl.Int32)
    return said.with_columns(of).drop("subject_id")


def found_by_run(session: Session, project_id: int, run_id: int, corpus: OpenCorpus) -> RunFound:
    """What a run found but for what people judged wrong; its targets are named as in the run. Raises NotFound."""
    run = run_of(session, project_id, run_id)
    targets = targets_of(session, [run.id])[run.id]
    asked = select(CodeRow.id, CodeRow.colour).where(CodeRow.project_id == project_id)
    colours = {code: colour for code, colour in session.execute(asked)}
    nodes = tuple(
        CodeNode(one.number + 1, (one.name,), colours.get(one.code_id or 0, at % 10))
        for at, one in enumerate(targets)
    )
    places = judged_run(session, run, corpus)
    wrong, unsaid = (int((places["said"] == one).sum()) for one in (0, -1))
    kept = places.filter(pl.col("said") != 0)
    passages = Passages.of(
        {
            "id": -kept["id"].to_numpy(),
            "text_id": kept["text_id"].to_numpy(),
            "code_id": kept["target"].to_numpy().astype(np.int64) + 1,
            "start": kept["start"].to_numpy(),
            "end": kept["end"].to_numpy(),
            "made_by": np.full(len(kept), -run.id, np.int64),
            "strength": np.zeros(len(kept), np.int8),
        }
    )
    scores = None
    if recipe_of(run).finder.kind == "tone":
        # thousandths, in the order of the passages
        order = np.argsort(-kept["id"].to_numpy())
        place = order[np.searchsorted(-kept["id"].to_numpy()[order], passages.id)]
        scores = kept["score"].to_numpy()[place] / 1_000
    note = f"{wrong:,} were judged wrong, {unsaid:,} nobody has judged."
    revision = session.get_one(Project, project_id).coding_revision
    return RunFound(run.name, nodes, passages, revision, note, scores)


def judge_places(recorder: Recorder, passages: Sequence[RunPassage], verdict: int | None) -> int:
    """Note this person's verdict on passages of runs, 1 right or 0 wrong, or take it back; how many changed."""
    if not passages:
        return 0
    before = _mine(recorder, passages)
    changed = 0
    fresh = []
    for one in passages:
        row = before.get((one.target_id, one.text_id, one.start, one.end))
        if verdict is None:
            if row is not None:
                recorder.delete(row)
                changed += 1
        elif row is None:
            fresh.append(one)
        elif row.verdict != verdict:
            recorder.update(row, {"verdict": verdict})
            changed += 1
    if fresh and verdict is not None:
        recorder.insert_frame(VerdictRow, _rows(recorder, fresh, verdict))
    return changed + len(fresh)


def _mine(recorder: Recorder, passages: Sequence[RunPassage]) -> dict[tuple[int, int, int, int], VerdictRow]:
    texts = sorted({one.text_id for one in passages})
    targets = sorted({one.target_id for one in passages})
    found = {}
    for some in chunks(texts, IDS_AT_ONCE):
        asked = select(VerdictRow).where(
            VerdictRow.subject == RUN,
            VerdictRow.subject_id.in_(targets),
            VerdictRow.made_by == recorder.account_id,
            VerdictRow.text_id.in_(some),
        )
        for row in recorder.session.scalars(asked):
            found[(row.subject_id, row.text_id, row.start, row.end)] = row
    return found


def _rows(recorder: Recorder, passages: Sequence[RunPassage], verdict: int) -> pl.DataFrame:
    return pl.DataFrame(
        {
            "project_id": recorder.project_id,
            "subject": RUN,
            "subject_id": [one.target_id for one in passages],
            "kind": "hit",
            "text_id": [one.text_id for one in passages],
            "start": [one.start for one in passages],
            "end": [one.end for one in passages],
            "verdict": verdict,
            "found_by": "",
            "version": [one.run.version or 0 for one in passages],
            "made_by": recorder.account_id,
        }
    )


def places_by_id(session: Session, ids: Sequence[int]) -> list[RunPassage]:
    """Passages of runs by their ids below zero; those that are gone are left out."""
    found: dict[int, RunPassage] = {}
    for some in chunks(list(ids), IDS_AT_ONCE):
        found.update(shown_passages(session, some))
    return [found[one] for one in ids if one in found]


def passage_in(session: Session, project_id: int, passage_id: int) -> RunPassage:
    """A passage of a run of the project by its id below zero. Raises NotFound."""
    found = shown_passages(session, [passage_id]).get(passage_id)
    if found is None or found.run.project_id != project_id:
        raise NotFound("This passage is no longer there; its run was changed or taken back.")
    return found


def change_any(recorder: Recorder, project_id: int, ids: Sequence[int], code: CodeRow | None) -> int:
    """Move passages under another code, or take them off where none is given; how many changed. Those that runs found
    are judged wrong, and their words come under the code by hand."""
    by_hand = [one for one in ids if one > 0]
    for some in chunks(by_hand, IDS_AT_ONCE):
        asked = select(PassageRow).where(PassageRow.id.in_(some))
        give_up(recorder, recorder.session.scalars(asked).all())
    changed = change_many(recorder, project_id, by_hand, code.id if code else None)
    of_runs = [
        one
        for one in places_by_id(recorder.session, [one for one in ids if one < 0])
        if one.run.project_id == project_id and (code is None or one.code_id != code.id)
    ]
    if not of_runs:
        return changed
    judge_places(recorder, of_runs, 0)
    if code is not None:
        code_many(recorder, as_columns(of_runs), code.id)
    return changed + len(of_runs)


def give_up(recorder: Recorder, rows: Sequence[PassageRow]) -> None:
    """Before passages by hand go: what runs found at their words, and this person called right when taking it over,
    would stand there again; it is called wrong with them."""
    by_text: dict[int, list[PassageRow]] = {}
    for row in rows:
        by_text.setdefault(row.text_id, []).append(row)
    for some in chunks(sorted(by_text), IDS_AT_ONCE):
        asked = (
            select(VerdictRow, RunTarget.code_id)
            .join(RunTarget, RunTarget.id == VerdictRow.subject_id)
            .where(
                VerdictRow.subject == RUN,
                VerdictRow.text_id.in_(some),
                VerdictRow.verdict == 1,
                VerdictRow.made_by == recorder.account_id,
            )
        )
        for said, code_id in recorder.session.execute(asked).all():
            if any(
                row.code_id == code_id and row.start < said.end and said.start < row.end
                for row in by_text[said.text_id]
            ):
                recorder.update(said, {"verdict": 0})


def as_columns(passages: Sequence[RunPassage]) -> Passages:
    """Passages of runs as columns."""
    names = ("id", "text_id", "code_id", "start", "end", "made_by")
    columns = {name: np.asarray([getattr(one, name) for one in passages], KINDS[name]) for name in names}
    return Passages.of({**columns, "strength": np.zeros(len(passages), KINDS["strength"])})


def take_over(
    recorder: Recorder, passage: RunPassage, code: CodeRow, stretch: tuple[int, int], verdict: int
) -> None:
    """Code words by hand in place of what a run found: under another code the run was wrong, under the same, wider or
    narrower, it was right."""
    judge_places(recorder, [passage], verdict)
    code_stretch(recorder, passage.text_id, stretch, [code])


def texts_by_code(judged: pl.DataFrame, start: int, most: int) -> tuple[int, pl.DataFrame]:
    """Texts with what a run found in each, those with the most first: how many texts, and a page of text_id, place,
    places, targets."""
    by_text = (
        judged.group_by("text_id", maintain_order=True)
        .agg(pl.col("place").first(), pl.len().alias("places"), pl.col("target").n_unique().alias("targets"))
        .sort("places", descending=True, maintain_order=True)
    )
    return len(by_text), by_text.slice(start, most)


def source_of(corpus: OpenCorpus, places: np.ndarray) -> np.ndarray:
    """The source of texts by number, by which verdicts are weighted; -1 for none."""
    codes: np.ndarray = corpus.columns.fields["source"].codes[places]  # type: ignore[union-attr]
    return codes


def targets_by_number(targets: Sequence[RunTarget]) -> dict[int, RunTarget]:
    return {one.number: one for one in targets}


def judge_frame(recorder: Recorder, run: CodingRun, places: pl.DataFrame, verdict: int) -> int:
    """One verdict of this person on very many places of a run (text_id, target, start, end); how many changed."""
    target = {one.number: one.id for one in targets_of(recorder.session, [run.id])[run.id]}
    own = verdicts_of(recorder.session, run).filter(pl.col("made_by") == recorder.account_id)
    place = ["target", "text_id", "start", "end"]
    fresh = places.join(own, on=place, how="anti", maintain_order="left").select(*place)
    others = places.join(own.filter(pl.col("verdict") != verdict), on=place, how="semi")
    if len(others):
        ids = [-one for one in others["id"].to_list()]
        judge_places(recorder, places_by_id(recorder.session, ids), verdict)
    if len(fresh):
        subject = pl.Series("subject_id", [target[one] for one in fresh["target"].to_list()], pl.Int64)
        rows = fresh.drop("target").with_columns(
            subject,
            pl.lit(recorder.project_id, pl.Int64).alias("project_id"),
            pl.lit(RUN).alias("subject"),
            pl.lit("hit").alias("kind"),
            pl.lit(verdict, pl.Int32).alias("verdict"),
            pl.lit("").alias("found_by"),
            pl.lit(run.version or 0, pl.Int32).alias("version"),
            pl.lit(recorder.account_id, pl.Int64).alias("made_by"),
        )
        recorder.insert_frame(VerdictRow, rows)
    return len(fresh) + len(others)
