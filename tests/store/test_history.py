"""Commands on dictionaries and scopes: authors, undo, redo, and what stands in their way."""

import pytest
from sqlalchemy import select

from winnower.core.dictionary import TermEntry
from winnower.core.errors import Conflict, DictionaryError, NotFound
from winnower.readers.dictionary_file import read_dictionary_bytes
from winnower.store import dictionaries as store
from winnower.store import undo
from winnower.store.accounts import (
    NotAllowed,
    SignInError,
    account_of,
    make_account,
    project_for,
    sign_in,
    sign_out,
)
from winnower.store.history import Recorder
from winnower.store.models import CategoryRow, Command, DictionaryRow, Member, Project, Subcorpus, TermRow


@pytest.fixture
def act(database, project, account):
    """Do something in one transaction and command."""

    def run(change, label="change", by=account):
        with database.session() as session:
            recorder = Recorder(session, project.id, by.id, label)
            out = change(recorder)
            recorder.save()
            return out

    return run


@pytest.fixture
def tree(database, project):
    """Category names with their terms, as stored."""

    def run():
        with database.session() as session:
            row = store.dictionaries_of(session, project.id)[0]
            value = store.load(session, row).value
            return {c.label: sorted(t.source for t in c.terms) for c in value.categories}

    return run


@pytest.fixture
def frames(act):
    content = b"category,term\nLivelihood,lamb*\nLivelihood,flock\nEcology,deer\nEcology > Trees,birch\n"
    read = read_dictionary_bytes(content, "frames.csv")
    return act(lambda r: store.import_dictionary(r, "Frames", read.dictionary))


def loaded(recorder, row):
    return store.load(recorder.session, recorder.session.get_one(DictionaryRow, row.id))


def category_id(recorder, row, label):
    stored = loaded(recorder, row)
    return next(
        c.id for c, v in zip(stored.categories, stored.value.categories, strict=True) if v.label == label
    )


def step(database, project, account, way):
    """Undo or redo; what it was called."""
    with database.session() as session:
        return way(session, session.get_one(Project, project.id), account.id, lambda: None).label


BEFORE = {"Livelihood": ["flock", "lamb*"], "Ecology": ["deer"], "Ecology > Trees": ["birch"]}


def test_an_imported_dictionary_is_stored_whole_and_undone_whole(database, project, account, frames, tree):
    assert tree() == BEFORE
    step(database, project, account, undo.undo)
    with database.session() as session:
        assert not store.dictionaries_of(session, project.id)
    step(database, project, account, undo.redo)
    assert tree() == BEFORE


@pytest.mark.parametrize(
    ("change", "after"),
    [
        (
            lambda r, row: store.add_terms(
                r, loaded(r, row), category_id(r, row, "Ecology"), [TermEntry("rowan"), TermEntry("deer")]
            ),
            {**BEFORE, "Ecology": ["deer", "rowan"]},
        ),
        (
            lambda r, row: store.delete_category(r, loaded(r, row), category_id(r, row, "Ecology")),
            {"Livelihood": ["flock", "lamb*"]},
        ),
        (lambda r, row: store.make_category(r, loaded(r, row), "Wonder"), {**BEFORE, "Wonder": []}),
        (
            lambda r, row: store.change_category(
                r, loaded(r, row), category_id(r, row, "Livelihood"), {"name": "Income"}, None
            ),
            {"Income": ["flock", "lamb*"], "Ecology": ["deer"], "Ecology > Trees": ["birch"]},
        ),
        (
            lambda r, row: store.change_term(
                r,
                loaded(r, row),
                loaded(r, row).terms[category_id(r, row, "Ecology")][0].id,
                {"category_id": category_id(r, row, "Livelihood")},
                None,
            ),
            {"Livelihood": ["deer", "flock", "lamb*"], "Ecology": [], "Ecology > Trees": ["birch"]},
        ),
        (lambda r, row: store.delete_dictionary(r, loaded(r, row)), None),
    ],
)
def test_every_change_can_be_undone_and_done_again(
    database, project, account, frames, tree, act, change, after
):
    act(lambda recorder: change(recorder, frames))
    if after is not None:
        assert tree() == after
    step(database, project, account, undo.undo)
    assert tree() == BEFORE
    step(database, project, account, undo.redo)
    if after is not None:
        assert tree() == after


def test_a_new_change_ends_redo(database, project, account, frames, act):
    act(lambda r: store.make_category(r, loaded(r, frames), "Wonder"))
    step(database, project, account, undo.undo)
    act(lambda r: store.make_category(r, loaded(r, frames), "Fear"))
    with pytest.raises(NotFound, match="nothing to do again"):
        step(database, project, account, undo.redo)


def test_undo_takes_back_ones_own_changes_only(database, project, account, frames, act, tree):
    with database.session() as session:
        other = make_account(session, f"other{project.id}", "Other", "a long password")
        session.add(Member(project_id=project.id, account_id=other.id, role="coder"))
    act(lambda r: store.make_category(r, loaded(r, frames), "Wonder"), by=other)
    with database.session() as session:
        assert undo.next_commands(session, project.id, other.id)[0].label == "change"
        row = session.scalar(select(Command).where(Command.account_id == other.id))
        assert row.made_at is not None
    step(database, project, other, undo.undo)
    assert tree() == BEFORE
    with pytest.raises(NotFound, match="nothing to undo"):
        step(database, project, other, undo.undo)


def test_undo_refuses_where_somebody_changed_the_same_since(database, project, account, frames, act, tree):
    with database.session() as session:
        other = make_account(session, f"second{project.id}", "Other", "a long password")
    act(
        lambda r: store.change_category(
            r, loaded(r, frames), category_id(r, frames, "Livelihood"), {"name": "Income"}, None
        ),
        label="Rename",
    )
    act(
        lambda r: store.change_category(
            r, loaded(r, frames), category_id(r, frames, "Income"), {"name": "Earnings"}, None
        ),
        by=other,
    )
    with pytest.raises(Conflict, match="changed by somebody else"):
        step(database, project, account, undo.undo)
    assert "Earnings" in tree()


def test_a_stale_write_gets_both_versions(database, frames, act):
    with database.session() as session:
        revision = (
            session.scalars(
                select(CategoryRow).where(
                    CategoryRow.dictionary_id == frames.id, CategoryRow.name == "Ecology"
                )
            )
            .one()
            .revision
        )
    act(
        lambda r: store.change_category(
            r, loaded(r, frames), category_id(r, frames, "Ecology"), {"colour": 5}, revision
        )
    )
    with pytest.raises(Conflict) as caught:
        act(
            lambda r: store.change_category(
                r, loaded(r, frames), category_id(r, frames, "Ecology"), {"colour": 6}, revision
            )
        )
    assert caught.value.current["colour"] == 5


def test_a_failed_change_leaves_no_trace(database, project, frames, act, tree):
    def fails(recorder):
        store.make_category(recorder, loaded(recorder, frames), "Half")
        raise RuntimeError("died here")

    with pytest.raises(RuntimeError):
        act(fails)
    assert tree() == BEFORE


@pytest.mark.parametrize(
    ("name", "error", "words"),
    [
        ("", DictionaryError, "needs a name"),
        ("x" * 121, DictionaryError, "at most 120"),
        ("Ecology", Conflict, "on this level already"),
        (" Ecology ", Conflict, "on this level"),
    ],
)
def test_bad_category_names_are_refused(frames, act, name, error, words):
    with pytest.raises(error, match=words):
        act(lambda r: store.make_category(r, loaded(r, frames), name))


def test_versions_grow_with_what_is_kept(database, project, account, frames, act):
    def version():
        with database.session() as session:
            return store.keep_version(
                session, store.load(session, session.get_one(DictionaryRow, frames.id)), account.id
            )

    assert [version(), version()] == [1, 1]
    act(
        lambda r: store.add_terms(
            r, loaded(r, frames), category_id(r, frames, "Ecology"), [TermEntry("rowan")]
        )
    )
    assert version() == 2
    act(
        lambda r: store.change_category(
            r, loaded(r, frames), category_id(r, frames, "Ecology"), {"colour": 5}, None
        )
    )
    assert version() == 2
    step(database, project, account, undo.undo)
    step(database, project, account, undo.undo)
    assert version() == 1


def test_a_term_that_stands_there_already_is_not_made_twice(frames, act):
    def rename(recorder):
        stored = loaded(recorder, frames)
        home = category_id(recorder, frames, "Livelihood")
        return store.change_term(
            recorder, stored, stored.terms[home][0].id, {"source": stored.terms[home][1].source}, None
        )

    with pytest.raises(Conflict, match="stands in this category already"):
        act(rename)


def test_kept_scopes_can_be_undone(database, project, account, act):
    act(
        lambda r: r.insert(
            Subcorpus(
                project_id=project.id,
                name="Farmers",
                scope=[{"kind": "terms", "terms": ["ewe"]}],
                made_by=account.id,
            )
        )
    )
    step(database, project, account, undo.undo)
    with database.session() as session:
        assert not session.scalars(select(Subcorpus).where(Subcorpus.project_id == project.id)).all()
    step(database, project, account, undo.redo)
    with database.session() as session:
        kept = session.scalars(select(Subcorpus).where(Subcorpus.project_id == project.id)).one()
    assert kept.scope == [{"kind": "terms", "terms": ["ewe"]}]


def test_terms_keep_their_author(database, frames, account):
    with database.session() as session:
        authors = session.scalars(
            select(TermRow.made_by).join(CategoryRow).where(CategoryRow.dictionary_id == frames.id)
        ).all()
    assert set(authors) == {account.id}


def test_sessions_begin_and_end(database, account):
    with database.session() as session:
        _, token = sign_in(session, account.name, "a long password", 1)
    with database.session() as session:
        assert account_of(session, token).id == account.id
        sign_out(session, token)
    with database.session() as session:
        with pytest.raises(SignInError, match="session has ended"):
            account_of(session, token)
        with pytest.raises(SignInError, match="do not go together"):
            sign_in(session, account.name, "wrong", 1)
        with pytest.raises(SignInError, match="do not go together"):
            sign_in(session, "nobody", "wrong", 1)
        _, old = sign_in(session, account.name, "a long password", -1)
        with pytest.raises(SignInError):
            account_of(session, old)


def test_readers_may_look_but_not_change(database, project):
    with database.session() as session:
        reader = make_account(session, f"reader{project.id}", "Reader", "a long password")
        with pytest.raises(NotFound):
            project_for(session, reader, project.id)
        session.add(Member(project_id=project.id, account_id=reader.id, role="reader"))
        session.flush()
        assert project_for(session, reader, project.id).id == project.id
        with pytest.raises(NotAllowed):
            project_for(session, reader, project.id, write=True)
