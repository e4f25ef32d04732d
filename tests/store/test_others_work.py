"""Undo never takes another person's work unasked, and never gets stuck on a name that is taken."""

import pytest
from sqlalchemy import select

from tests.store.test_describing import Work, said
from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.core.report import NotePiece
from winnower.store import undo
from winnower.store.accounts import make_account
from winnower.store.codebook import codebook_of, make_code
from winnower.store.coding_work import keep_question
from winnower.store.dictionaries import import_dictionary
from winnower.store.models import (
    CodeRow,
    CodingRun,
    Delivery,
    DictionaryRow,
    NoteRow,
    PassageRow,
    Subcorpus,
    TextRow,
    Variable,
)
from winnower.store.notes import make_note
from winnower.store.passages import code_stretch
from winnower.store.reports import make_report
from winnower.store.soft_references import named_by, naming
from winnower.store.variables import make_variable
from winnower.store.work_of_others import WorkOfOthers


@pytest.fixture
def two(database, settings, project, account, deliver, news):
    """Ada, whose import it was, and Orla at work in one project."""
    deliver(news)
    with database.session() as session:
        orla = make_account(session, f"orla{project.id}", "Orla Venn", "a long password")
    return Work(database, settings, project, account), Work(database, settings, project, orla)


def text_ids(work):
    with work.database.session() as session:
        done = Delivery.state == "done"
        asked = select(TextRow.id).join(Delivery, Delivery.id == TextRow.delivery_id)
        return list(
            session.scalars(asked.where(TextRow.project_id == work.project_id, done).order_by(TextRow.id))
        )


def take_back(work, others="refuse"):
    work.step(lambda *given: undo.undo(*given, others))


def codes_and_notes(orla, text_id):
    def work(recorder, _):
        code = make_code(recorder, codebook_of(recorder.session, recorder.project_id), "Losses")
        code_stretch(recorder, text_id, (0, 3), [code])
        make_note(recorder, "Ada", "Look again", text_id=text_id)

    orla.do(work)


def test_an_import_others_worked_on_is_refused_with_who_and_what(two):
    ada, orla = two
    texts = text_ids(ada)
    codes_and_notes(orla, texts[1])
    with pytest.raises(WorkOfOthers) as told:
        take_back(ada)
    assert "1 passage by Orla Venn" in told.value.message and "1 note by Orla Venn" in told.value.message
    assert told.value.command_id is not None
    assert text_ids(ada) == texts


def test_the_texts_others_worked_on_stay_and_the_rest_goes_and_comes_back(two):
    ada, orla = two
    texts = text_ids(ada)
    codes_and_notes(orla, texts[1])
    take_back(ada, "keep")
    assert text_ids(ada) == [texts[1]]
    with ada.database.session() as session:
        of_text = (PassageRow.text_id == texts[1], NoteRow.text_id == texts[1])
        assert all(session.scalar(select(cond.left).where(cond)) for cond in of_text)
    assert len(said(ada.corpus())) == 1
    ada.step(undo.redo)
    assert text_ids(ada) == texts and len(said(ada.corpus())) == len(texts)


def test_all_goes_where_that_was_said(two):
    ada, orla = two
    codes_and_notes(orla, text_ids(ada)[1])
    take_back(ada, "take")
    assert text_ids(ada) == []


def test_ones_own_work_needs_no_asking(two):
    ada, _ = two
    take_back(ada)
    assert text_ids(ada) == []


KINDS = [
    "code in a question",
    "variable in a scope",
    "note in a report",
    "code linked in a note",
    "dictionary of a run",
]


@pytest.mark.parametrize("kind", KINDS)
def test_what_another_persons_things_name_is_not_taken_back(two, kind):
    ada, orla = two
    if kind == "code in a question":
        made = ada.do(lambda r, _: make_code(r, codebook_of(r.session, r.project_id), "Losses").id)
        orla.do(lambda r, _: keep_question(r, "Losses asked", {"codes": [made]}))
        model, says = CodeRow, "1 kept question by Orla Venn"
    elif kind == "variable in a scope":
        made = ada.do(lambda r, _: make_variable(r, "Tone", "category").id)
        scope = [{"kind": "values", "field": f"v{made}", "values": ["calm"]}]
        orla.do(
            lambda r, _: r.insert(
                Subcorpus(project_id=r.project_id, name="Calm", scope=scope, made_by=r.account_id)
            )
        )
        model, says = Variable, "1 subcorpus"
    elif kind == "code linked in a note":
        made = ada.do(lambda r, _: make_code(r, codebook_of(r.session, r.project_id), "Losses").id)
        orla.do(lambda r, _: make_note(r, "Orla", f"See [losses](code:{made}), not [this](code:{made}0)."))
        model, says = CodeRow, "1 note by Orla Venn"
    elif kind == "dictionary of a run":
        made = ada.do(lambda r, _: MAKERS["dictionary"][0](r, "Losses").id)
        recipe = {"version": 1, "finder": {"kind": "dictionary", "dictionary": made}}
        orla.do(lambda r, _: r.insert(CodingRun(**run_of(r, recipe))))
        model, says = DictionaryRow, "1 automatic coding run by Orla Venn"
    else:
        made = ada.do(lambda r, _: make_note(r, "Ada", "An idea").id)
        orla.do(lambda r, _: make_report(r, "Hers", [NotePiece(made)]))
        model, says = NoteRow, "1 part of a report by Orla Venn"
    with pytest.raises(undo.Stuck, match=says):
        ada.step(undo.undo)
    with ada.database.session() as session:
        assert session.get(model, made) is not None


def test_texts_another_persons_note_links_to_are_not_taken_back_unasked(two):
    ada, orla = two
    linked = text_ids(ada)[1]
    orla.do(lambda r, _: make_note(r, "Orla", f"Compare [the second](text:{linked})."))
    with pytest.raises(WorkOfOthers, match="1 note by Orla Venn"):
        take_back(ada)
    take_back(ada, "keep")
    assert text_ids(ada) == [linked]


def run_of(recorder, recipe):
    return {
        "project_id": recorder.project_id,
        "name": "A run",
        "recipe": recipe,
        "state": "proposals",
        "reasons": [],
        "instrument": "",
        "made_by": recorder.account_id,
    }


def test_plain_values_name_rows_wherever_they_stand(two):
    ada, _ = two
    value = {
        "codes": [3, 4],
        "scope": [{"field": "v7", "values": ["v8 is no field"]}],
        "beside": {"code": 5},
        "most": 9,
        "finder": {"kind": "tone", "words": 11},
    }
    assert set(named_by(value)) == {
        ("code", 3),
        ("code", 4),
        ("code", 5),
        ("variable", 7),
        ("tone_list", 11),
    }
    with ada.database.session() as session:
        assert naming(session, ada.project_id, "text", [1]) == []


MAKERS = {
    "code": (lambda r, name: make_code(r, codebook_of(r.session, r.project_id), name), CodeRow, "name"),
    "variable": (lambda r, name: make_variable(r, name, "category"), Variable, "name"),
    "dictionary": (
        lambda r, name: import_dictionary(r, name, Dictionary(name, (Category(("A",), (TermEntry("b"),)),))),
        DictionaryRow,
        "name",
    ),
}


@pytest.mark.parametrize("kind", MAKERS)
def test_what_was_deleted_comes_back_under_a_free_name_where_its_own_is_taken(two, kind):
    ada, orla = two
    make, model, column = MAKERS[kind]
    ada.do(lambda r, _: make(r, "Earlier") and None)
    ada.do(lambda r, _: make(r, "Losses") and None)

    def names():
        with ada.database.session() as session:
            asked = select(getattr(model, column)).where(model.project_id == ada.project_id)
            return sorted(set(session.scalars(asked)) - {"Age", "Tags"})

    ada.step(undo.undo)
    orla.do(lambda r, _: make(r, "Losses") and None)
    ada.step(undo.redo)
    assert names() == ["Earlier", "Losses", "Losses (restored)"]
    ada.step(undo.undo)
    assert names() == ["Earlier", "Losses"]
    ada.step(undo.undo)
    assert names() == ["Losses"]
