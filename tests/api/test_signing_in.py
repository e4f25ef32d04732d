"""Guessing passwords: counted over all processes, per name and client, without locking out whose name it is."""

import datetime as dt

import pytest
from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st
from sqlalchemy import text

from tests.api.test_api import problem
from winnower.api.app import make_app
from winnower.core.errors import WinnowerError
from winnower.store.accounts import (
    end_account,
    make_account,
    refuse_weak,
    set_password,
    share,
    take_off,
    utc_now,
)
from winnower.store.failed_sign_ins import (
    FREE_TRIES,
    FREE_TRIES_OF_CLIENT,
    LONGEST_PAUSE_S,
    clear,
    counts_of,
    know_browser,
    note_failure,
    wait_of,
)
from winnower.store.models import Project

RIGHT = "a long password"


@pytest.fixture(autouse=True)
def nobody_failed_before(database):
    with database.session() as session:
        session.execute(text("delete from failed_sign_in"))


def sign_in(client, name, password):
    return client.post("/api/v1/sign-in", json={"name": name, "password": password})


@pytest.fixture
def stranger(app):
    with TestClient(app, base_url="http://testserver") as client:
        yield client


def test_too_many_wrong_passwords_are_a_sentence_whatever_the_case_of_the_name(stranger, account):
    for _ in range(4):  # on a busy machine the first pause, of a second, can be over before the next try
        for number in range(FREE_TRIES):
            written = account.name.upper() if number % 2 else account.name
            assert sign_in(stranger, written, "x").status_code == 401
        answer = sign_in(stranger, account.name, RIGHT)
        if answer.status_code != 200:
            break
    problem(answer, 429, "Too many wrong passwords")
    assert int(answer.headers["retry-after"]) >= 1


def test_another_process_counts_on(stranger, account, database, settings):
    for _ in range(FREE_TRIES):
        sign_in(stranger, account.name, "x")
    with TestClient(make_app(settings, database, run_jobs=False), base_url="http://testserver") as other:
        assert sign_in(other, account.name, RIGHT).status_code == 429


def test_whose_name_it_is_comes_in_from_a_browser_that_is_known(app, stranger, account):
    with TestClient(app, base_url="http://testserver") as known:
        assert sign_in(known, account.name, RIGHT).status_code == 200
        known.post("/api/v1/sign-out")
        for _ in range(FREE_TRIES + 1):
            sign_in(stranger, account.name, "x")
        assert sign_in(stranger, account.name, RIGHT).status_code == 429
        assert sign_in(known, account.name, RIGHT).status_code == 200
        for _ in range(FREE_TRIES):
            assert sign_in(known, account.name, "x").status_code == 401
        assert sign_in(known, account.name, RIGHT).status_code == 429, (
            "a known browser is no way to guess either"
        )


def test_a_browser_is_known_for_its_account_only(database, account):
    with database.session() as session:
        other = make_account(session, f"{account.name}-b", "Other", RIGHT)
        token = know_browser(session, other, None, utc_now())
        assert know_browser(session, other, token, utc_now()) == token
        assert know_browser(session, account, token, utc_now()) != token
        assert len(counts_of(session, other.name, "here", token)) == 1
        assert len(counts_of(session, account.name, "here", token)) == 2
        assert len(counts_of(session, account.name, "here", "made up")) == 2


def test_pauses_double_up_to_the_longest_and_end_with_the_right_password(database):
    with database.session() as session:
        counted = counts_of(session, "nobody", "one place", None)
        waits = []
        for _ in range(FREE_TRIES + 8):
            note_failure(session, counted)
            waits.append(wait_of(session, counted))
        assert waits[: FREE_TRIES - 1] == [0] * (FREE_TRIES - 1)
        expected = [1, 2, 4, 8, 16, *[LONGEST_PAUSE_S] * 4]
        assert waits[FREE_TRIES - 1 :] == pytest.approx(expected, abs=0.9)
        clear(session, counted[:1])
        assert wait_of(session, counted) == 0


def test_one_place_that_tries_many_names_is_slowed_down(database):
    with database.session() as session:
        for number in range(FREE_TRIES_OF_CLIENT):
            note_failure(session, counts_of(session, f"name {number}", "one place", None))
        assert wait_of(session, counts_of(session, "a new name", "one place", None)) > 0
        assert wait_of(session, counts_of(session, "a new name", "elsewhere", None)) == 0


def test_a_clock_that_jumps_locks_nobody_out(database):
    with database.session() as session:
        counted = counts_of(session, "jumped", "place", None)
        for _ in range(FREE_TRIES + 3):
            note_failure(session, counted)
        session.execute(text("update failed_sign_in set last_at = last_at + interval 2 day"))
        assert wait_of(session, counted) == 0


@pytest.mark.parametrize(
    "weak", ["password", "12345678", "qwertyuiop", "aaaaaaaaaaaa", "Password1!", "short"]
)
def test_weak_passwords_are_refused_with_a_reason(database, account, weak):
    with database.session() as session, pytest.raises(WinnowerError) as told:
        set_password(session, account.name, weak)
    assert "Choose another password." in told.value.message or "at least" in told.value.message


def test_a_name_is_no_password():
    with pytest.raises(WinnowerError):
        refuse_weak("quillfeather1", "quillfeather")
    refuse_weak("bell walk birch tracks", "quillfeather")


@given(st.text(min_size=8, max_size=400))
def test_any_password_is_judged_without_failing(password):
    try:
        refuse_weak(password, "someone", "Some One")
    except WinnowerError as told:
        assert told.message.strip()


def test_who_is_taken_off_a_project_is_refused_with_the_next_request(client, at, account, database, project):
    with database.session() as session:
        second = make_account(session, f"{account.name}-owner", "Second", RIGHT)
        mine = session.get_one(Project, project.id)
        with pytest.raises(WinnowerError, match="only owner"):
            take_off(session, mine, account.name)
        share(session, mine, second.name, "owner")
    assert client.get(at).status_code == 200
    with database.session() as session:
        share(session, session.get_one(Project, project.id), account.name, "reader")
    problem(client.post(f"{at}/codes", json={"name": "A"}), 403, "reader")
    assert client.get(at).status_code == 200
    with database.session() as session:
        assert "no longer a member" in take_off(session, session.get_one(Project, project.id), account.name)
    problem(client.get(at), 404, "not shared with you")


def test_an_ended_account_is_signed_out_at_once_and_stays_out(client, at, account, database, app):
    with database.session() as session:
        alone = make_account(session, f"{account.name}-e", "Ended", RIGHT)
        with pytest.raises(WinnowerError, match="only owner"):
            end_account(session, account.name)
    with TestClient(app, base_url="http://testserver") as other:
        assert sign_in(other, alone.name, RIGHT).status_code == 200
        with database.session() as session:
            end_account(session, alone.name)
        problem(other.get("/api/v1/me"), 401, "session has ended")
        problem(sign_in(other, alone.name, RIGHT), 401, "do not go together")


def test_browsers_not_seen_for_long_are_forgotten(database, account):
    with database.session() as session:
        token = know_browser(session, account, None, utc_now() - dt.timedelta(days=200))
        session.flush()
        know_browser(session, account, None, utc_now())
        assert len(counts_of(session, account.name, "here", token)) == 2
