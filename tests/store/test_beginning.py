"""The first account of an installation, sharing, and turns of jobs."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from sqlalchemy import select

from winnower.core.errors import Conflict, NotFound, WinnowerError
from winnower.settings import load_settings
from winnower.store.accounts import (
    SignInError,
    account_of,
    anyone_can_sign_in,
    local_account,
    make_account,
    make_first_account,
    make_project,
    projects_of,
    set_password,
    share,
    sign_in,
)
from winnower.store.database import Database
from winnower.store.jobs import next_in_turn
from winnower.store.models import Account, Member
from winnower.store.server import Server


@pytest.fixture(scope="module")
def fresh(tmp_path_factory):
    """A database in which nobody was yet."""
    server = Server(replace(load_settings(), data=tmp_path_factory.mktemp("fresh"), database_url=None))
    with server.in_use() as url:
        database = Database(url)
        database.migrate()
        yield database
        database.close()
    server.remove()


def test_the_first_account_takes_over_what_the_command_line_made(fresh):
    with fresh.session() as session:
        assert not anyone_can_sign_in(session)
        made = make_project(session, local_account(session), "From the terminal").id
    with pytest.raises(SignInError), fresh.session() as session:
        sign_in(session, "owner", "!", 1)
    with pytest.raises(WinnowerError, match="at least 8"), fresh.session() as session:
        make_first_account(session, "mira", "", "short")
    with fresh.session() as session:
        mira = make_first_account(session, "mira", "Mira  Tolland", "a long password")
        assert [(p.id, role) for p, role, _ in projects_of(session, mira)] == [(made, "owner")]
    with fresh.session() as session:
        assert local_account(session).name == "mira"
        assert [one.full_name for one in session.scalars(select(Account))] == ["Mira Tolland"]
        assert sign_in(session, "mira", "a long password", 1)[0].name == "mira"
    with pytest.raises(Conflict, match="an account already"), fresh.session() as session:
        make_first_account(session, "jonas", "", "a long password")


def test_a_project_is_shared_and_keeps_an_owner(database, project, account):
    name = f"reader{account.id}"
    with database.session() as session:
        other = make_account(session, name, "", "a long password")
        assert "is reader of" in share(session, project, name, "reader")
        assert "was reader" in share(session, project, name, "coder")
        assert session.get(Member, (project.id, other.id)).role == "coder"
        with pytest.raises(WinnowerError, match="only owner"):
            share(session, project, account.name, "reader")
        with pytest.raises(WinnowerError, match="no role"):
            share(session, project, name, "king")
        with pytest.raises(NotFound, match="no account “nobody”"):
            share(session, project, "nobody", "reader")


def test_another_password_ends_all_sessions(database, account):
    with database.session() as session:
        _, token = sign_in(session, account.name, "a long password", 1)
        set_password(session, account.name, "another long one")
    with pytest.raises(SignInError), database.session() as session:
        account_of(session, token)
    with database.session() as session:
        assert sign_in(session, account.name, "another long one", 1)


kinds = st.sampled_from(["import", "check", "company"])


@given(
    st.lists(
        st.tuples(st.integers(1, 99), st.integers(1, 3), kinds), unique_by=lambda job: job[0], max_size=8
    ),
    st.lists(st.tuples(st.integers(1, 3), kinds), max_size=4),
)
def test_turns_of_jobs_are_fair_between_projects(waiting, running):
    chosen = next_in_turn(waiting, running)
    importing = {project for project, kind in running if kind == "import"}
    ready = [job for job in waiting if job[2] != "import" or job[1] not in importing]
    if not ready:
        assert chosen is None
        return
    busy = {project: sum(one == project for one, _ in running) for project in (1, 2, 3)}
    (mine,) = [job for job in waiting if job[0] == chosen]
    assert mine in ready
    assert all((busy[mine[1]], mine[0]) <= (busy[job[1]], job[0]) for job in ready)
