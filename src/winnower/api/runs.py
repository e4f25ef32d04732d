"""Runs of automatic coding: tried, made, counted or not, brought in step, taken back."""

from __future__ import annotations

import numpy as np
from fastapi import APIRouter, Request

from winnower.api import schemas as s
from winnower.api.context import Desk, Reading, Seen, Writing
from winnower.api.imports import job_public
from winnower.api.numbers import plain
from winnower.api.run_items import items_of_frame
from winnower.api.schemas import runs as r
from winnower.api.schemas.imports import JobPublic
from winnower.api.schemas.review import QualityPublic
from winnower.core.errors import Conflict, WinnowerError
from winnower.core.review import Quality, balanced_sample
from winnower.core.runs import ByDictionary, ByTone, Recipe
from winnower.core.runs.review import Tally, agreement_of, tally
from winnower.core.scope import Scope, Split
from winnower.store import jobs, run_review, runs, tones
from winnower.store.codebook import codebook_of
from winnower.store.dictionaries import dictionaries_of, load_value, newest_version
from winnower.store.fields import lock_project
from winnower.store.history import plain as plain_row
from winnower.store.models import CodingRun, RunTarget
from winnower.store.opened import OpenCorpus
from winnower.store.run_finding import Sought, find, sought

router = APIRouter(prefix="/projects/{project_id}/runs")
MOST_GROUPS = 60
SAMPLED = 6


def looked_for(desk: Desk, recipe: Recipe, *, whole: bool = False) -> tuple[Sought, OpenCorpus]:
    """A recipe brought together with the project, and the corpus it looks at; with ``whole`` all of it is scored where
    it is scored."""
    desk.look_at(recipe.texts)
    return sought(desk.session, desk.project.id, recipe, desk.corpus, iter if whole else None), desk.corpus


@router.post("/preview")
def preview(desk: Reading, asked: r.RunPreviewRequest) -> r.RunPreview:
    """What a recipe would find, by code and group, with a sample; nothing is stored."""
    what, corpus = looked_for(desk, asked.recipe)
    scored = find(desk.session, what, corpus)
    found = scored.found
    ground = corpus.ground(asked.recipe.texts, asked.split)
    labels, group = _groups(corpus, asked.recipe, asked.split)
    counted = (
        found.counts(len(what.pieces), group, len(labels)) if labels else np.zeros((len(what.pieces), 0))
    )
    texts = np.unique(found.target.astype(np.int64) * corpus.index.n_texts + found.text)
    of_target = np.bincount(texts // max(corpus.index.n_texts, 1), minlength=len(what.pieces))
    places = np.bincount(found.target, minlength=len(what.pieces))
    chosen = balanced_sample(found.target, asked.sample, asked.seed) if len(found) else np.empty(0, np.int64)
    names: dict[int, tuple[str, int | None]] = {at: (one.name, None) for at, one in enumerate(what.pieces)}
    sample = found.some(chosen).in_texts(corpus.index)
    return r.RunPreview(
        places=len(found),
        texts=found.texts,
        of_texts=int(ground.mask.sum()),
        looked=scored.looked if scored.looked != scored.texts else None,
        labels=list(labels),
        pieces=[
            r.RunPiece(
                key=piece.key,
                name=piece.name,
                above=piece.above,
                places=int(places[at]),
                texts=int(of_target[at]),
                groups=[int(one) for one in counted[at]],
            )
            for at, piece in enumerate(what.pieces)
        ],
        sample=items_of_frame(desk, sample, asked.recipe.unit, names, what.reasons, tone=what.words),
        instrument=what.instrument,
    )


def _groups(corpus: OpenCorpus, recipe: Recipe, split: Split) -> tuple[tuple[str, ...], np.ndarray]:
    """Groups of a split to tell a preview by, and the group of each text (the first where it lies in several)."""
    groups = corpus.ground(recipe.texts, split).groups
    of_text = np.full(corpus.index.n_texts, -1, np.int64)
    if split.field is None or groups.n_groups > MOST_GROUPS:
        return (), of_text
    of_text[groups.text[::-1]] = groups.group[::-1]
    return tuple(groups.labels), of_text


@router.post("", status_code=201)
def start(desk: Writing, given: r.RunStart, request: Request) -> JobPublic:
    """Make a run: what its recipe finds is stored, as proposals or applied at once."""
    lock_project(desk.session, desk.project)
    what, _ = looked_for(desk, given.recipe)
    book = codebook_of(desk.session, desk.project.id)
    for code in [*given.codes.values(), *([given.parent_id] if given.parent_id else [])]:
        book.code(code)
    name = given.name.strip() or _usual_name(what)
    row = runs.begin_run(desk.session, desk.project.id, desk.account.id, name, given.recipe)
    params = {
        "name": row.name,
        "run": row.id,
        "state": given.state,
        "codes": given.codes,
        "parent": given.parent_id,
        "parent_name": " ".join(given.parent_name.split()),
    }
    return _begun(desk, request, params)


def _begun(desk: Desk, request: Request, params: dict[str, object]) -> JobPublic:
    job = jobs.make_job(desk.session, desk.project.id, desk.account.id, "coding", params)
    desk.session.commit()
    request.app.state.runner.wake()
    return job_public(job)


def _usual_name(what: Sought) -> str:
    kind = what.recipe.finder.kind
    if kind in ("tone", "themes"):
        return kind.capitalize()
    if len(what.pieces) == 1:
        return f"{what.pieces[0].name}, by example" if kind == "example" else what.pieces[0].name
    return what.instrument or kind


@router.get("")
def all_runs(desk: Reading) -> list[r.RunLine]:
    """All runs, the newest first."""
    rows = runs.runs_of(desk.session, desk.project.id)
    judged = runs.judged_counts(desk.session, [row.id for row, _ in rows])
    versions = _versions_now(desk, [row for row, _ in rows])
    corpus = desk.corpus
    return [_line(row, who, judged.get(row.id, 0), versions, corpus.revision) for row, who in rows]


Versions = dict[tuple[str, int], int | None]


def _versions_now(desk: Desk, rows: list[CodingRun]) -> Versions:
    """The version each dictionary and word list of a run is at now, -1 for a state that is not kept as one."""
    wanted = {_instrument(runs.recipe_of(row)) for row in rows}
    found: Versions = {}
    for row in dictionaries_of(desk.session, desk.project.id):
        if ("dictionary", row.id) in wanted:
            number, now = newest_version(desk.session, row.id, load_value(desk.session, row))
            found["dictionary", row.id] = number if now else -1
    for tone in tones.lists_of(desk.session, desk.project.id):
        if ("tone", tone.id) in wanted:
            newest, is_now = tones.newest_version(desk.session, tone)
            found["tone", tone.id] = newest if is_now else -1
    return found


def _instrument(recipe: Recipe) -> tuple[str, int] | None:
    """What a run was made from that can change: its kind and id."""
    finder = recipe.finder
    if isinstance(finder, ByDictionary):
        return "dictionary", finder.dictionary
    if isinstance(finder, ByTone) and finder.words is not None:
        return "tone", finder.words
    return None


def _line(row: CodingRun, who: str, judged: int, versions: Versions, texts: int) -> r.RunLine:
    recipe = runs.recipe_of(row)
    instrument = _instrument(recipe)
    other = instrument is not None and versions.get(instrument) != row.version
    return r.RunLine(
        id=row.id,
        name=row.name,
        recipe=recipe,
        state=row.state,  # type: ignore[arg-type]
        instrument=row.instrument,
        version=row.version,
        places=row.places,
        judged=judged,
        by=who,
        made_at=row.made_at,
        outdated=row.state != "making" and (other or row.texts_revision != texts),
        revision=row.revision,
    )


@router.get("/{run_id}")
def one_run(desk: Reading, run_id: int) -> r.RunPublic:
    """A run with how much is under each code and what was said of it."""
    row = runs.run_of(desk.session, desk.project.id, run_id)
    return _public(desk, row)


def _public(desk: Desk, row: CodingRun) -> r.RunPublic:
    corpus = desk.corpus
    who = next(name for run, name in runs.runs_of(desk.session, desk.project.id) if run.id == row.id)
    judged = run_review.judged_run(desk.session, row, corpus)
    stratum = run_review.source_of(corpus, judged["place"].to_numpy())
    versions = _versions_now(desk, [row])
    line = _line(row, who, int((judged["said"] >= 0).sum()), versions, corpus.revision)
    number = judged["target"].to_numpy()
    targets = []
    for target in runs.targets_of(desk.session, [row.id])[row.id]:
        of = number == target.number
        part = judged.filter(of)
        targets.append(
            r.RunTargetPublic(
                number=target.number,
                name=target.name,
                code_id=target.code_id,
                **_tally(tally(part, stratum[of])).model_dump(),
            )
        )
    judges = agreement_of(run_review.verdicts_of(desk.session, row))
    return r.RunPublic(
        **line.model_dump(exclude={"recipe"}),
        recipe=line.recipe,
        whole=_tally(tally(judged, stratum)),
        targets=targets,
        judges=runs.judges_of_run(desk.session, row.id),
        several=judges.several,
        alike=judges.alike,
        alpha=plain(judges.alpha),
        learned=None if row.measured is None else r.RunLearned.model_validate(row.measured),
    )


def _tally(found: Tally) -> r.RunTally:
    return r.RunTally(
        places=found.places,
        texts=found.texts,
        right=found.right,
        wrong=found.wrong,
        open=found.places - found.right - found.wrong,
        differ=found.differ,
        precision=_quality(found.precision),
    )


def _quality(found: Quality) -> QualityPublic:
    return QualityPublic(
        judged=found.judged,
        right=found.right,
        share=plain(found.share),
        low=plain(found.low),
        high=plain(found.high),
        unseen=found.unseen,
    )


@router.patch("/{run_id}")
def change(desk: Writing, run_id: int, given: r.RunUpdate) -> r.RunPublic:
    """Rename a run, or say what counts of it: all but what was judged wrong, what was judged right, or nothing."""
    lock_project(desk.session, desk.project)
    row = runs.run_of(desk.session, desk.project.id, run_id)
    said = {
        "applied": f"Apply the run {row.name}",
        "proposals": f"Keep the run {row.name} as proposals",
        "taken back": f"Take back the run {row.name}",
        None: f"Rename the run {row.name}",
    }[given.state]
    recorder = desk.recorder(said)
    recorder.hold(row, given.revision)
    if given.name is not None and " ".join(given.name.split()) != row.name:
        name = " ".join(given.name.split())
        if not name or name != runs.free_name(desk.session, desk.project.id, name):
            raise Conflict(f"There is a run named “{name}” already." if name else "A run needs a name.")
        recorder.update(row, {"name": name})
    if given.state is not None and given.state != row.state:
        runs.set_state(recorder, row, given.state)
    recorder.save()
    return _public(desk, row)


@router.delete("/{run_id}")
def remove(desk: Writing, run_id: int, revision: Seen) -> s.Done:
    """Remove a run that was taken back, for good, with what was judged of it."""
    lock_project(desk.session, desk.project)
    row = runs.run_of(desk.session, desk.project.id, run_id)
    if row.revision != revision:
        raise Conflict("Somebody changed this run in the meantime.", plain_row(row))
    name = row.name
    runs.delete_run(desk.session, row)
    return s.Done(label=f"Removed the run {name} for good")


@router.get("/{run_id}/step")
def step(desk: Reading, run_id: int) -> r.RunStep:
    """What would change to bring a run in step with its dictionary and the texts of today; nothing is stored."""
    row, targets = _run_there(desk, run_id)
    recipe = runs.recipe_of(row)
    what, corpus = looked_for(desk, recipe, whole=True)
    frame, reasons, new = runs.aligned(
        row, targets, what, find(desk.session, what, corpus, iter).found, corpus
    )
    stored = run_review.kept_places(desk.session, row, corpus)
    found = runs.differs(desk.session, row, targets, frame, stored)
    names: dict[int, tuple[str, int | None]] = {one.number: (one.name, one.code_id) for one in targets}
    first = max(names, default=-1) + 1
    names |= {first + at: (one.name, None) for at, one in enumerate(new)}
    added = found.added.gather_every(max(len(found.added) // SAMPLED, 1)).head(SAMPLED)
    gone = found.removed.gather_every(max(len(found.removed) // SAMPLED, 1)).head(SAMPLED)
    desk.look_at(Scope())
    return r.RunStep(
        added=len(found.added),
        removed=len(found.removed),
        same=found.same,
        held=found.held,
        sample_added=items_of_frame(desk, added, recipe.unit, names, reasons, tone=what.words),
        sample_removed=items_of_frame(
            desk, runs.places_again(desk.session, gone.to_list()), recipe.unit, names, row.reasons
        ),
        new_codes=[one.name for one in new],
    )


@router.post("/{run_id}/step", status_code=201)
def bring_in_step(desk: Writing, run_id: int, request: Request) -> JobPublic:
    """Bring a run in step: only what differs is added and removed, and what people judged stays."""
    row, _ = _run_there(desk, run_id)
    return _begun(desk, request, {"name": row.name, "run": row.id, "step": True})


def _run_there(desk: Desk, run_id: int) -> tuple[CodingRun, list[RunTarget]]:
    row = runs.run_of(desk.session, desk.project.id, run_id)
    if row.state == "making":
        raise Conflict("This run is not done yet.")
    if row.state == "taken back":
        raise WinnowerError("This run was taken back; apply it again first.")
    return row, runs.targets_of(desk.session, [row.id])[row.id]
