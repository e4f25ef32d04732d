"""Sign-in and projects."""

from __future__ import annotations

from anyio import to_thread
from fastapi import APIRouter, Request, Response

from winnower.api import schemas as s
from winnower.api.context import AccountDep, Desk, House, HouseDep, OfOthers, Reading, SessionDep, Writing
from winnower.api.gate import browser_name, browser_token, cookie_name, session_token
from winnower.store import accounts, overview
from winnower.store import undo as history
from winnower.store.codebook import number_of_codes
from winnower.store.database import Session
from winnower.store.failed_sign_ins import KNOWN_DAYS, counts_of, know_browser
from winnower.store.models import Account
from winnower.store.passages import number_of_passages
from winnower.store.reindex import follow

router = APIRouter()


@router.get("/start")
def start(session: SessionDep) -> s.Start:
    """Whether this installation has an account to sign in with yet."""
    return s.Start(empty=not accounts.anyone_can_sign_in(session))


@router.post("/start", status_code=201)
def first_account(
    given: s.FirstAccount, at: HouseDep, session: SessionDep, request: Request, response: Response
) -> s.Me:
    """Make the first account of an empty installation, and sign it in."""
    account = accounts.make_first_account(session, given.name, given.full_name, given.password)
    return _signed_in(at, session, account, request, response)


@router.post("/sign-in")
async def sign_in(given: s.SignIn, at: HouseDep, request: Request, response: Response) -> s.Me:
    """Start a session; the token goes into a cookie scripts cannot read."""
    account_id, password_hash, counted_as = await to_thread.run_sync(_hash_of, at, given.name, request)
    # no connection is held while the password is checked
    right = await at.throttle.check(counted_as, password_hash, given.password)
    if not right or account_id is None:
        raise accounts.SignInError(accounts.WRONG)
    return await to_thread.run_sync(_begin, at, account_id, request, response)


def _hash_of(at: House, name: str, request: Request) -> tuple[int | None, str, tuple[bytes, ...]]:
    client = request.client.host if request.client else ""
    with at.database.session() as session:
        counted_as = counts_of(session, name, client, browser_token(request.scope))
        return (*accounts.hash_of(session, name), counted_as)


def _begin(at: House, account_id: int, request: Request, response: Response) -> s.Me:
    with at.database.session() as session:
        return _signed_in(at, session, session.get_one(Account, account_id), request, response)


def _signed_in(at: House, session: Session, account: Account, request: Request, response: Response) -> s.Me:
    hours, about = at.settings.session_hours, request.headers.get("user-agent", "")
    token = accounts.open_session(session, account.id, hours, about)
    browser = know_browser(session, account, browser_token(request.scope), accounts.utc_now())
    for name, value, seconds in (
        (cookie_name(request.scope), token, hours * 3600),
        (browser_name(request.scope), browser, KNOWN_DAYS * 24 * 3600),
    ):
        response.set_cookie(
            name,
            value,
            max_age=seconds,
            httponly=True,
            samesite="strict",
            secure=request.url.scheme == "https",
            path="/",
        )
    return s.Me(id=account.id, name=account.name, full_name=account.full_name)


@router.post("/sign-out", status_code=204)
def sign_out(session: SessionDep, request: Request, response: Response) -> None:
    if token := session_token(request.scope):
        accounts.sign_out(session, token)
    response.delete_cookie(cookie_name(request.scope), path="/")


@router.get("/sessions")
def list_sessions(session: SessionDep, account: AccountDep, request: Request) -> list[s.SessionPublic]:
    """Where you are signed in."""
    token = session_token(request.scope)
    return [
        s.SessionPublic(
            made_at=row.made_at,
            expires_at=row.expires_at,
            about=row.about,
            this=accounts.is_session(row, token),
        )
        for row in accounts.sessions_of(session, account)
    ]


@router.post("/sessions/end-others")
def end_others(session: SessionDep, account: AccountDep, request: Request) -> s.Ended:
    """End all your sessions but for this one."""
    return s.Ended(sessions=accounts.end_sessions(session, account, session_token(request.scope)))


@router.post("/password")
async def change_password(
    given: s.PasswordChange, at: HouseDep, account: AccountDep, request: Request
) -> s.Ended:
    """A new password; your other sessions end."""
    counted_as = (await to_thread.run_sync(_hash_of, at, account.name, request))[2]
    if not await at.throttle.check(counted_as, account.password_hash, given.old):
        raise accounts.NotAllowed("The current password is another one.")
    return await to_thread.run_sync(_change_password, at, account.id, given, session_token(request.scope))


def _change_password(at: House, account_id: int, given: s.PasswordChange, token: str | None) -> s.Ended:
    with at.database.session() as session:
        account = session.get_one(Account, account_id)
        accounts.set_own_password(session, account, given.new)
        return s.Ended(sessions=accounts.end_sessions(session, account, token))


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
        codes=number_of_codes(session, desk.project.id),
        passages=number_of_passages(
            desk.house.passages.open(session, desk.project, desk.folder), corpus.columns.text_id
        ),
        coding=desk.project.coding_revision,
        noted=desk.project.notes_revision,
        **counts._asdict(),
    )


@router.post("/projects/{project_id}/undo")
def take_back(desk: Writing, others: OfOthers = "refuse") -> s.Done:
    """Take back your own last change; ``others`` says what becomes of texts others have worked on."""
    desk.may_take(others)
    return _follow(
        desk, history.undo(desk.session, desk.project, desk.account.id, desk.corpus_within, others)
    )


@router.post("/projects/{project_id}/redo")
def do_again(desk: Writing) -> s.Done:
    """Do your last undone change again."""
    return _follow(desk, history.redo(desk.session, desk.project, desk.account.id, desk.corpus_within))


@router.post("/projects/{project_id}/changes/{command_id}/pass-over")
def pass_over(desk: Writing, command_id: int) -> s.Done:
    """Leave a change that cannot be taken back or repeated as it is; the one beside it comes next."""
    return s.Done(label=history.pass_over(desk.session, desk.project, desk.account.id, command_id))


def _follow(desk: Desk, effects: history.Effects) -> s.Done:
    follow(desk.session, desk.project, desk.folder, effects.bodies, effects.deliveries)
    desk.clear_up()
    return s.Done(label=effects.label)
