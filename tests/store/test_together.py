"""What several people did to the same things: undo takes only one's own, and says what is in its way."""

import numpy as np
import pytest

from tests.store.test_describing import Work, said
from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.core.errors import Conflict, NotFound
from winnower.store import dictionaries as store
from winnower.store import undo
from winnower.store.accounts import make_account
from winnower.store.dictionaries import keep_version
from winnower.store.models import DictionaryVersion, NoteRow, Project
from winnower.store.variables import make_variable, set_values


@pytest.fixture
def two(database, settings, project, account, deliver, news):
    """Ada and Orla at work in one project."""
    deliver(news)
    with database.session() as session:
        orla = make_account(session, f"orla{project.id}", "Orla Venn", "a long password")
    return Work(database, settings, project, account), Work(database, settings, project, orla)


def stuck(work, step, says):
    """The step is refused with these words; the number of the change that is stuck."""
    with pytest.raises(undo.Stuck, match=says) as told:
        work.step(step)
    return told.value.command_id


def pass_over(work, command_id):
    with work.database.session() as session:
        project = session.get_one(Project, work.project_id)
        return undo.pass_over(session, project, work.account_id, command_id)


def values_of(work, name):
    return {title: text.get(name) for title, text in said(work.corpus()).items() if text.get(name)}


def test_a_variable_with_values_of_another_is_not_taken_back(two):
    ada, orla = two
    first = ada.do(lambda r, _: make_variable(r, "First", "text").id)
    made = ada.do(lambda r, _: make_variable(r, "Tone", "category").id)
    orla.do(lambda r, corpus: set_values(r, corpus(), f"v{made}", np.arange(3), ["calm"] * 3))
    before = values_of(ada, "Tone")
    number = stuck(ada, undo.undo, "3 texts with values by Orla Venn")
    assert values_of(ada, "Tone") == before and len(before) == 3
    pass_over(ada, number)
    ada.step(undo.undo)  # the one before it is not blocked
    names = ada.corpus().columns.names.values()
    assert "First" not in names and "Tone" in names and first != made
    orla.step(undo.undo)
    assert values_of(orla, "Tone") == {}


def test_a_dictionary_others_work_in_is_not_taken_back(two):
    ada, orla = two
    value = Dictionary("Frames", (Category(("Loss",), (TermEntry("lamb*"),)),))
    number = ada.do(lambda r, _: store.import_dictionary(r, "Frames", value).id)

    def loaded(recorder):
        return store.load(recorder.session, store.dictionary_row(recorder.session, ada.project_id, number))

    orla.do(lambda r, _: store.make_category(r, loaded(r), "Orla's"))
    stuck(ada, undo.undo, "1 category by Orla Venn would go with it")
    orla.step(undo.undo)
    ada.step(undo.undo)
    ada.step(undo.redo)
    orla.step(undo.redo)
    with ada.database.session() as session:
        rows = store.dictionaries_of(session, ada.project_id)
        assert [c.name for c in store.load(session, rows[0]).categories] == ["Loss", "Orla's"]


def test_a_dictionary_comes_back_with_its_kept_versions(two):
    ada, _ = two
    value = Dictionary("Frames", (Category(("Loss",), (TermEntry("lamb*"),)),))
    number = ada.do(lambda r, _: store.import_dictionary(r, "Frames", value).id)

    def loaded(session):
        return store.load(session, store.dictionary_row(session, ada.project_id, number))

    with ada.database.session() as session:
        keep_version(session, loaded(session), ada.account_id)
    stuck(ada, undo.undo, "1 kept version")
    ada.do(lambda r, _: store.delete_dictionary(r, loaded(r.session)))
    ada.step(undo.undo)
    with ada.database.session() as session:
        kept = session.query(DictionaryVersion).filter_by(dictionary_id=number).all()
        assert [(one.number, one.fingerprint) for one in kept] == [(1, loaded(session).value.fingerprint())]


def test_a_stale_deletion_is_refused_and_the_note_keeps_its_author(two):
    ada, orla = two
    text_id = int(ada.corpus().columns.text_id[0])

    def note(session):
        return session.query(NoteRow).filter_by(text_id=text_id).one()

    ada.do(
        lambda r, _: (
            r.insert(
                NoteRow(
                    project_id=r.project_id, text_id=text_id, author="Ada", body="Mine.", made_by=r.account_id
                )
            )
            and None
        )
    )
    orla.do(lambda r, _: r.update(note(r.session), {"body": "Ours."}, 1))
    with pytest.raises(Conflict) as told:
        ada.do(lambda r, _: r.delete(note(r.session), 1))
    assert told.value.current["body"] == "Ours." and told.value.current["author"] == "Ada"
    stuck(ada, undo.undo, "changed by somebody else since")


def test_only_the_next_change_can_be_passed_over(two):
    ada, orla = two
    ada.do(lambda r, _: make_variable(r, "One", "text") and None)
    with ada.database.session() as session:
        number = undo.next_commands(session, ada.project_id, ada.account_id)[0].id
    with pytest.raises(NotFound, match="not the next one"):
        pass_over(orla, number)
    ada.do(lambda r, _: make_variable(r, "Two", "text") and None)
    with pytest.raises(NotFound, match="not the next one"):
        pass_over(ada, number)
