"""The work of coding: samples to code, how far each coder is, kept questions, passages whose words are gone."""

from __future__ import annotations

import secrets

import numpy as np
from fastapi import APIRouter

from winnower.api import schemas as s
from winnower.api.context import Reading, Seen, Writing
from winnower.api.schemas import coding as c
from winnower.api.schemas.variables import Changed
from winnower.core.coding.sample import draw
from winnower.core.errors import WinnowerError
from winnower.core.scope import Split
from winnower.store import coding_work as store
from winnower.store import passages, variables
from winnower.store.codebook import hold_codebook
from winnower.store.models import VariableCategory
from winnower.store.texts import text_of

router = APIRouter(prefix="/projects/{project_id}")


@router.post("/coding/sample")
def sample(desk: Writing, asked: c.TextSampleRequest) -> c.SampleDrawn:
    """Draw texts of the scope for hand coding and keep them as a set; with ``try_only`` nothing is kept."""
    if (asked.texts_each is None) == (asked.words_each is None):
        raise WinnowerError("Say how many texts of each group, or how many words.")
    corpus = desk.corpus_to_change()
    groups = corpus.ground(asked.texts, asked.split).groups
    seed = asked.seed or 1 + secrets.randbelow(999_999)
    drawn = draw(
        groups.text, groups.group, corpus.index.words, groups.n_groups,
        texts_each=asked.texts_each, words_each=asked.words_each, seed=seed,
    )  # fmt: skip
    if not len(drawn.texts):
        raise WinnowerError("There is no text with words in this scope to draw from.")
    of_texts = np.bincount(groups.group, minlength=groups.n_groups)
    told = c.SampleDrawn(
        name=" ".join(asked.name.split()) or f"To code {seed}",
        seed=seed,
        texts=len(drawn.texts),
        words=int(corpus.index.words[drawn.texts].sum()),
        groups=[
            c.SampleGroup(label=label, texts=int(n), words=int(w), of_texts=int(of))
            for label, n, w, of in zip(
                groups.labels, drawn.of_group, drawn.words_of_group, of_texts, strict=True
            )
        ],
        label="",
    )
    if asked.try_only:
        desk.session.rollback()
        return told
    recorder = desk.recorder(f"Draw {told.texts:,} texts to code: {told.name}"[:300])
    variable = variables.role_variable(recorder, "sets")
    taken = {row.label for row in variables.categories_of(desk.session, variable.id)}
    if told.name in taken:
        raise WinnowerError(f"There is a set named “{told.name}” already. Give the sample another name.")
    recorder.insert(VariableCategory(variable_id=variable.id, label=told.name, position=len(taken)))
    within = desk.corpus_within()
    key = f"v{variable.id}"
    variables.set_values(recorder, within, key, drawn.texts, [[told.name]] * len(drawn.texts), "add")
    recorder.save()
    return told.model_copy(update={"label": recorder.label})


@router.post("/coding/progress")
def progress(desk: Reading, asked: c.ProgressRequest) -> list[c.TextProgress]:
    """Passages of texts, and who is through with each."""
    counted, done = store.progress_of(desk.session, desk.project.id, asked.texts)
    return [
        c.TextProgress(
            text_id=text_id,
            passages=counted.get(text_id, 0),
            done=[name for _, name in done.get(text_id, [])],
            mine=any(account == desk.account.id for account, _ in done.get(text_id, [])),
        )
        for text_id in asked.texts
    ]


@router.put("/texts/{text_id}/coding-done")
def mark_done(desk: Writing, text_id: int, given: c.DoneMark) -> s.Done:
    """Say that you are through with a text, or are not."""
    row, _, _ = text_of(desk.session, desk.project.id, text_id)
    recorder = desk.recorder(f"{'Through' if given.done else 'Not through'} with “{row.title[:120]}”")
    store.mark_done(recorder, text_id, given.done)
    recorder.save()
    return s.Done(label=recorder.label)


@router.post("/texts/{text_id}/next-to-code")
def next_to_code(desk: Reading, text_id: int, asked: s.Scoped) -> c.NextText:
    """The next text of the scope, by date, that you are not through with; round to the first ones at the end."""
    corpus = desk.corpus
    ids = corpus.columns.text_id[corpus.ordered(asked.texts, "date", False)]
    through = store.done_by(desk.session, desk.project.id, desk.account.id)
    left = ids[~np.isin(ids, np.fromiter(through, np.int64, len(through)))]
    here = np.flatnonzero(ids == text_id)
    rest = ids[here[0] + 1 :] if len(here) else ids
    following = rest[np.isin(rest, left)]
    others = left[left != text_id]
    found = following[0] if len(following) else others[0] if len(others) else None
    return c.NextText(
        text_id=None if found is None else int(found),
        left=len(left),
        total=int(corpus.ground(asked.texts, Split()).mask.sum()),
    )


@router.get("/questions")
def questions(desk: Reading) -> list[c.QuestionPublic]:
    """Questions to the passages that were kept."""
    return [
        c.QuestionPublic(
            id=row.id, name=row.name, question=c.PassageQuestion(**row.question), revision=row.revision
        )
        for row in store.questions_of(desk.session, desk.project.id)
    ]


@router.post("/questions", status_code=201)
def keep_question(desk: Writing, given: c.QuestionKeep) -> s.Made:
    """Keep a question under a name; one of that name is asked so from now on."""
    recorder = desk.recorder(f"Keep question {given.name[:200]}")
    row = store.keep_question(recorder, given.name, given.question.model_dump())
    recorder.save()
    return s.Made(id=row.id, label=recorder.label)


@router.delete("/questions/{question_id}")
def delete_question(desk: Writing, question_id: int, revision: Seen) -> s.Done:
    row = store.question_of(desk.session, desk.project.id, question_id)
    recorder = desk.recorder(f"Delete question {row.name}")
    recorder.delete(row, revision)
    recorder.save()
    return s.Done(label=recorder.label)


@router.get("/lost-passages")
def lost(desk: Reading) -> list[c.LostPublic]:
    """Passages whose words went with a correction."""
    return [
        c.LostPublic(
            id=row.id,
            text_id=row.text_id,
            title=title,
            code_id=row.code_id,
            code=code,
            words=row.words,
            comment=row.comment,
            strength=row.strength,
            coder=who,
            made_at=row.made_at,
        )
        for row, code, title, who in store.lost_passages(desk.session, desk.project.id)
    ]


@router.post("/lost-passages/{lost_id}/place")
def put_elsewhere(desk: Writing, lost_id: int, given: c.LostPlace) -> Changed:
    """Put what a passage held on other words."""
    hold_codebook(desk.session, desk.project)
    row = store.lost_of(desk.session, desk.project.id, lost_id)
    text, body, _ = text_of(desk.session, desk.project.id, given.text_id)
    stretch = passages.stretch_now(desk.session, text, body, given.start, given.end, given.words)
    recorder = desk.recorder(f"Put a passage elsewhere in “{text.title[:120]}”")
    store.put_elsewhere(recorder, row, given.text_id, stretch)
    recorder.save()
    return Changed(texts=1, label=recorder.label)


@router.delete("/lost-passages/{lost_id}")
def let_go(desk: Writing, lost_id: int) -> Changed:
    """Let a passage go whose words are gone."""
    row = store.lost_of(desk.session, desk.project.id, lost_id)
    recorder = desk.recorder("Let a passage go whose words are gone")
    recorder.delete(row)
    recorder.save()
    return Changed(texts=1, label=recorder.label)
