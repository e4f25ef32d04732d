"""The assistant: asked, told what would be sent, kept as a note. It changes nothing by itself."""

from __future__ import annotations

from dataclasses import replace

from fastapi import APIRouter

from winnower.api.codebook import passages_of
from winnower.api.context import Desk, Reading, Writing
from winnower.api.notes import public_note
from winnower.api.schemas import assistant as a
from winnower.api.schemas import notes as n
from winnower.api.searching import THESAURUS_LANGUAGE, thesaurus
from winnower.core.assist import (
    Codings,
    GroupsOfCodes,
    Question,
    Reply,
    Summary,
    TopicName,
    Wordings,
    checked,
    renumbered,
)
from winnower.core.errors import Unavailable, WinnowerError
from winnower.core.report.markdown import escaped
from winnower.core.scope.describe import describe_fields
from winnower.core.scope.spoken import scope_in_words
from winnower.jobs.apart import BroughtDown
from winnower.readers.word_classes import word_uses
from winnower.settings import Settings
from winnower.stand_ins.model import Model, words_for
from winnower.store import notes
from winnower.store.answering import Room
from winnower.store.assisting import Looking, said
from winnower.store.findings import question_in
from winnower.store.proposing import proposed
from winnower.store.questions import answer
from winnower.store.texts import text_of
from winnower.store.words import language_of

router = APIRouter(prefix="/projects/{project_id}/assistant")
#: A model is given so many points’ passages.
MOST_FOR_MODEL = 20
RULES = "the rules that ship"


def _model(settings: Settings) -> Model | None:
    return Model(settings.model_url, settings.model_name, settings.model_key) if settings.model_url else None


def _by_rules(desk: Desk, asked: a.AssistantAsked) -> Reply:
    """What the rules say; how it came about names the texts that were looked at."""
    desk.look_at(asked.texts)
    looking = Looking(Room(desk.session, desk.project, desk.corpus), asked.texts)
    names = {field.key: field.name for field in describe_fields(desk.corpus.columns, 0)}
    english = language_of(desk.session, desk.project.id) == THESAURUS_LANGUAGE and thesaurus.available
    if isinstance(asked.task, TopicName | Wordings | GroupsOfCodes | Codings):
        reply = proposed(looking, lambda: passages_of(desk), asked.task)
    elif isinstance(asked.task, Question):
        reply = answer(looking, asked.task, thesaurus if english else None)
    else:
        reply = said(looking, asked.task, word_uses() if english else None)
    return replace(reply, how=f"{reply.how} Texts: {scope_in_words(asked.texts, names)}.")


def _for_model(desk: Desk, asked: a.AssistantAsked) -> tuple[Model, str, Reply]:
    """The model that is set up, what it would be sent, and the passages it is given. Raises WinnowerError."""
    model = _model(desk.house.settings)
    if model is None:
        raise WinnowerError("No model is set up here (WINNOWER_MODEL_URL); the rules that ship answer.")
    wider = asked
    if isinstance(asked.task, Summary | Question):  # a model chooses from more than it says
        wider = asked.model_copy(update={"task": replace(asked.task, most=MOST_FOR_MODEL)})
    found = renumbered(_by_rules(desk, wider))
    return model, words_for(asked.task, found.passages), found


@router.get("")
def about(desk: Reading) -> a.AssistantAbout:
    """Who answers here."""
    model = _model(desk.house.settings)
    return a.AssistantAbout(model=model.name if model else None, address=model.address if model else None)


@router.post("/ask")
def ask(desk: Reading, asked: a.AssistantAsked) -> a.AssistantReply:
    """What the assistant says to a task, each statement with its passages. Nothing in the project changes."""
    if asked.by == "rules":
        return _public(renumbered(checked(_by_rules(desk, asked))), RULES)
    model, words, found = _for_model(desk, asked)
    if not found.passages:
        return _public(found, model.name)
    try:
        statements = desk.house.apart.call("ask model", model, words)
    except BroughtDown as error:
        raise Unavailable("The model did not answer in time. Nothing was done.") from error
    how = f"Statements by the model {model.name}, from {len(found.passages)} passages that the rules found. {found.how}"
    reply = Reply(found.passages, tuple(statements), how=how)
    return _public(renumbered(checked(reply)), model.name)


@router.post("/sends")
def sends(desk: Reading, asked: a.AssistantAsked) -> a.AssistantSends:
    """What would be sent to the model for a task, word for word; nothing is sent."""
    model, words, found = _for_model(desk, asked)
    return a.AssistantSends(address=model.address, words=words, passages=len(found.passages))


def _public(reply: Reply, by: str) -> a.AssistantReply:
    return a.AssistantReply(
        tells=reply.tells,
        passages=[a.CitedPublic(**vars(one)) for one in reply.passages],
        statements=list(reply.statements),
        proposals=list(reply.proposals),
        refused=[a.RefusedPublic(words=words, reason=reason) for words, reason in reply.refused],
        how=reply.how,
        by=by,
    )


@router.post("/keep", status_code=201)
def keep(desk: Writing, given: a.AssistantKept) -> n.NotePublic:
    """Keep an answer as a note: its statements, their passages as quotes, and how it came about."""
    if given.question_id is not None:
        question_in(desk.session, desk.project.id, given.question_id)
    for text_id in {place.text_id for one in given.statements for place in one.places}:
        text_of(desk.session, desk.project.id, text_id)
    recorder = desk.recorder(f"Keep what the assistant said: {given.title}")
    row = notes.make_note(
        recorder,
        desk.account.full_name,
        "",
        title=given.title,
        kind="assistant",
        question_id=given.question_id,
    )
    for one in given.statements:
        recorder.update(row, {"body": notes.checked(f"{row.body}\n\n{escaped(one.words)}")})
        notes.add_quotes(recorder, row, [(place.text_id, place.start, place.end) for place in one.places])
    recorder.update(row, {"body": notes.checked(f"{row.body}\n\n*{escaped(given.how)}*")})
    recorder.save()
    return public_note(desk, row)
