"""Sign-in and projects."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Cookie, Response

from winnower.api import schemas as s
from winnower.api.context import COOKIE, AccountDep, Desk, HouseDep, Reading, SessionDep, Writing
from winnower.store import accounts, history, overview
from winnower.store.reindex import follow

router = APIRouter()


@router.get("/start")
def start(session: SessionDep) -> s.Start:
    """Whether this installation has an account to sign in with yet."""
    return s.Start(empty=not accounts.anyone_can_sign_in(session))


@router.post("/start", status_code=201)
def first_account(given: s.FirstAccount, at: HouseDep, session: SessionDep, response: Response) -> s.Me:
    """Make the first account of an empty installation, and sign it in."""
    accounts.make_first_account(session, given.name, given.full_name, given.password)
    return sign_in(s.SignIn(name=given.name.strip(), password=given.password), at, session, response)


@router.post("/sign-in")
def sign_in(given: s.SignIn, at: HouseDep, session: SessionDep, response: Response) -> s.Me:
    """Start a session; the token goes into a cookie scripts cannot read."""
    account, token = accounts.sign_in(session, given.name, given.password, at.settings.session_hours)
    response.set_cookie(
        COOKIE, token, max_age=at.settings.session_hours * 3600, httponly=True, samesite="strict", path="/"
    )
    return s.Me(id=account.id, name=account.name, full_name=account.full_name)


@router.post("/sign-out", status_code=204)
def sign_out(
    session: SessionDep, response: Response, winnower_session: Annotated[str | None, Cookie()] = None
) -> None:
    if winnower_session:
        accounts.sign_out(session, winnower_session)
    response.delete_cookie(COOKIE, path="/")


@router.get("/me")
def me(account: AccountDep) -> s.Me:
    return s.Me(id=account.id, name=account.name, full_name=account.full_name)


@router.get("/projects")
def list_projects(session: SessionDep, account: AccountDep) -> list[s.ProjectPublic]:
    return [
        s.ProjectPublic(id=p.id, name=p.name, role=role, texts=texts, made_at=p.made_at)
        for p, role, texts in accounts.projects_of(session, account)
    ]


@router.post("/projects", status_code=201)
def make_project(given: s.ProjectCreate, session: SessionDep, account: AccountDep) -> s.ProjectPublic:
    project = accounts.make_project(session, account, given.name)
    session.refresh(project)
    return s.ProjectPublic(id=project.id, name=project.name, role="owner", texts=0, made_at=project.made_at)


@router.get("/projects/{project_id}")
def project(desk: Reading) -> s.ProjectSummary:
    """What the header shows."""
    corpus, session = desk.corpus, desk.session
    undo, redo = history.next_commands(session, desk.project.id, desk.account.id)
    counts = overview.counts_of(session, desk.project.id)
    return s.ProjectSummary(
        id=desk.project.id,
        name=desk.project.name,
        role=overview.role_of(session, desk.project.id, desk.account.id),
        revision=f"{corpus.state.texts}.{corpus.state.values}",
        texts=corpus.columns.n_texts,
        words=int(corpus.columns.words.sum()),
        undo=undo.label if undo else None,
        redo=redo.label if redo else None,
        **counts._asdict(),
    )


@router.post("/projects/{project_id}/undo")
def undo(desk: Writing) -> s.Done:
    """Take back your own last change."""
    return _follow(desk, history.undo(desk.session, desk.project, desk.account.id, desk.corpus_within))


@router.post("/projects/{project_id}/redo")
def redo(desk: Writing) -> s.Done:
    """Do your last undone change again."""
    return _follow(desk, history.redo(desk.session, desk.project, desk.account.id, desk.corpus_within))


def _follow(desk: Desk, effects: history.Effects) -> s.Done:
    follow(desk.session, desk.project, desk.folder, effects.bodies, effects.deliveries)
    return s.Done(label=effects.label)
