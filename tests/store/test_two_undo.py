"""Two people change one project at random and take back at random: nothing of the other one's is ever lost unasked,
a refusal changes nothing, and what was taken back comes again as it was."""

import random
from contextlib import suppress

import pytest
from sqlalchemy import select

from tests.store.test_describing import Work
from tests.store.test_others_work import codes_and_notes, text_ids, two  # noqa: F401
from winnower.core.errors import Conflict, NotFound, WinnowerError
from winnower.core.report import NotePiece
from winnower.store import undo
from winnower.store.codebook import codebook_of, delete_code, make_code, merge_codes
from winnower.store.coding_work import keep_question
from winnower.store.models import Base, CodeRow, NoteRow, PassageRow, Project
from winnower.store.notes import change_note, delete_note, make_note
from winnower.store.passages import code_stretch
from winnower.store.reports import make_report

STEPS = 30
#: Of the machinery, not of the work: who did what, and numbers that only grow.
LEFT_OUT = {
    "command",
    "command_data",
    "coding_change",
    "job",
    "sign_in",
    "project",
    "field_revision",
    "id_block",
}
GROWING = {"revision", "changed_at"}


def everything(work: Work):
    """All rows of the work in the database, by table and key."""
    out = {}
    with work.database.session() as session:
        for table in Base.metadata.sorted_tables:
            if table.name in LEFT_OUT:
                continue
            kept = [column for column in table.columns if column.name not in GROWING]
            keys = [column.name for column in table.primary_key.columns]
            for row in session.execute(select(*kept)).mappings():
                out[table.name, *(row[key] for key in keys)] = dict(row)
    return out


def made_by(state, account_id):
    return {key: row for key, row in state.items() if row.get("made_by") == account_id}


class Hand:
    """What one of the two does; things are chosen among all there are, whoever made them."""

    def __init__(self, work: Work, rng: random.Random, name: str):
        self.work, self.rng, self.name, self.made = work, rng, name, 0

    def one_of(self, model):
        with self.work.database.session() as session:
            by = model.project_id == self.work.project_id if hasattr(model, "project_id") else True
            ids = session.scalars(select(model.id).where(by)).all()
        return self.rng.choice(ids) if ids else None

    def change(self):
        kinds = (
            "code",
            "code",
            "passage",
            "passage",
            "note",
            "note",
            "rewrite",
            "drop",
            "merge",
            "report",
            "ask",
            "gone",
        )
        kind = self.rng.choice(kinds)
        self.made += 1
        # the other one was faster, or the thing is held: nothing was changed
        with suppress(Conflict, NotFound):
            self.work.do(lambda recorder, corpus: getattr(self, kind)(recorder) and None, kind)
        return kind

    def code(self, recorder):
        make_code(recorder, codebook_of(recorder.session, recorder.project_id), f"{self.name} {self.made}")

    def passage(self, recorder):
        code, texts = self.one_of(CodeRow), text_ids(self.work)
        if code and texts:
            start = self.rng.randrange(8)
            row = recorder.session.get_one(CodeRow, code)
            code_stretch(recorder, self.rng.choice(texts), (start, start + 5), [row])

    def note(self, recorder):
        text = self.rng.choice([None, *text_ids(self.work)])
        make_note(recorder, self.name, f"Note {self.made}", text_id=text)

    def rewrite(self, recorder):
        if (note := self.one_of(NoteRow)) and (row := recorder.session.get(NoteRow, note)):
            change_note(recorder, row, {"body": f"{self.name} wrote {self.made}"}, row.revision)

    def drop(self, recorder):
        if (note := self.one_of(NoteRow)) and (row := recorder.session.get(NoteRow, note)):
            delete_note(recorder, row, row.revision)

    def merge(self, recorder):
        one, other = self.one_of(CodeRow), self.one_of(CodeRow)
        if one and one != other:
            merge_codes(recorder, codebook_of(recorder.session, recorder.project_id), one, other)

    def report(self, recorder):
        if note := self.one_of(NoteRow):
            make_report(recorder, f"{self.name} {self.made}", [NotePiece(note)])

    def ask(self, recorder):
        if code := self.one_of(CodeRow):
            keep_question(recorder, f"{self.name} {self.made}", {"codes": [code]})

    def gone(self, recorder):
        if code := self.one_of(CodeRow):
            delete_code(recorder, codebook_of(recorder.session, recorder.project_id), code)


def step(work, way, others="refuse"):
    """One step back or forth; what it was, or the refusal."""
    try:
        return work.step(lambda *given: way(*given, others) if way is undo.undo else way(*given))
    except WinnowerError as refused:
        return refused


@pytest.mark.parametrize("seed", range(2))
def test_undo_of_one_never_takes_what_the_other_made(two, seed):  # noqa: F811
    ada, orla = two
    rng = random.Random(seed)
    hands = {ada: Hand(ada, rng, "Ada"), orla: Hand(orla, rng, "Orla")}
    taken, refused = 0, 0
    for _ in range(STEPS):
        who = rng.choice((ada, orla))
        other = orla if who is ada else ada
        if rng.random() < 0.6:
            hands[who].change()
            continue
        before = everything(who)
        if isinstance(step(who, undo.undo), WinnowerError):
            refused += 1
            assert everything(who) == before, "a refusal changed something"
            continue
        taken += 1
        after = everything(who)
        lost = made_by(before, other.account_id).keys() - made_by(after, other.account_id).keys()
        assert not lost, f"seed {seed}: {lost} of the other one's went"
        if isinstance(again := step(who, undo.redo), WinnowerError):
            # what is deleted by hand with others' things on it is asked about; done again it is not unasked
            assert "would go with it" in again.message and everything(who) == after
            continue
        assert everything(who) == before, "done again it is not as it was"
        assert isinstance(again := step(who, undo.undo), str), again
        assert everything(who) == after
    assert taken >= 3, "nothing was tried"
    _is_whole(ada)


def _is_whole(work):
    """What the database says of passages holds: each has its text and its code."""
    with work.database.session() as session:
        assert session.get_one(Project, work.project_id)
        for text_id, code_id in session.execute(select(PassageRow.text_id, PassageRow.code_id)):
            assert text_id and session.get(CodeRow, code_id)
