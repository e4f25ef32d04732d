"""Changes of very many rows are kept as columns, taken back whole, and nothing is overwritten by it; what
hangs on words of a text is registered."""

import random

import polars as pl
import pytest
from sqlalchemy import func, select, update

from tests.conftest import write_table
from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.core.errors import Conflict
from winnower.store import dictionaries as store
from winnower.store import undo
from winnower.store.anchored import ANCHORED
from winnower.store.history import PACKED_FROM, Recorder
from winnower.store.models import Base, Command, NoteRow, Project, TermRow, TextRow, VerdictRow
from winnower.store.packed import RowChange, seal


@pytest.fixture
def text_ids(database, project, deliver, tmp_path):
    rows = [
        [f"k{n}", f"Text {n}", "Hill Farmer", "2031-06-03", f"Lamb number {n} 🐾.", "", ""] for n in range(50)
    ]
    deliver(write_table(tmp_path / "many.csv", rows))
    with database.session() as session:
        return session.scalars(select(TextRow.id).where(TextRow.project_id == project.id)).all()


@pytest.fixture
def act(database, project, account):
    def run(change):
        with database.session() as session:
            recorder = Recorder(session, project.id, account.id, "many")
            out = change(recorder)
            recorder.save()
            return out

    return run


@pytest.fixture
def step(database, project, account):
    def run(way):
        with database.session() as session:
            return way(session, session.get_one(Project, project.id), account.id, lambda: None)

    return run


def many_verdicts(project, account, text_ids, size=2_000):
    rng = random.Random(3)
    return pl.DataFrame(
        {
            "project_id": [project.id] * size,
            "subject": ["category"] * size,
            "subject_id": [77] * size,
            "kind": ["hit"] * size,
            "text_id": [rng.choice(text_ids) for _ in range(size)],
            "start": list(range(size)),
            "end": [at + 4 for at in range(size)],
            "verdict": [at % 2 for at in range(size)],
            "found_by": ["lamb, “wool”\nand 🐑" if at % 3 else "" for at in range(size)],
            "version": [1] * size,
            "made_by": [account.id] * size,
        }
    )


def stored(database, project):
    with database.session() as session:
        asked = select(VerdictRow).where(VerdictRow.project_id == project.id).order_by(VerdictRow.id)
        return [(v.id, v.text_id, v.start, v.end, v.verdict, v.found_by) for v in session.scalars(asked)]


def test_many_new_changed_and_deleted_rows_come_and_go_with_undo_and_redo(
    database, project, account, text_ids, act, step
):
    frame = many_verdicts(project, account, text_ids)
    rows = act(lambda r: r.insert_frame(VerdictRow, frame))
    made = stored(database, project)
    assert [row[1:] for row in made] == frame.select("text_id", "start", "end", "verdict", "found_by").rows()
    assert [row[0] for row in made] == rows["id"].to_list()
    some = rows.filter(pl.col("start") % 5 == 0).select("id", verdict=pl.lit(1), end=pl.col("end") + 1)
    act(lambda r: r.update_frame(VerdictRow, some))
    changed = stored(database, project)
    assert sum(a != b for a, b in zip(made, changed, strict=True)) == len(some)
    act(lambda r: r.delete_frame(VerdictRow, rows["id"].head(500)))
    fewer = stored(database, project)
    assert fewer == changed[500:]
    states = [fewer, changed, made, []]
    for state in states[1:]:
        step(undo.undo)
        assert stored(database, project) == state
    for state in states[::-1][1:]:
        step(undo.redo)
        assert stored(database, project) == state


def test_what_somebody_changed_since_is_not_overwritten(database, project, account, text_ids, act, step):
    rows = act(lambda r: r.insert_frame(VerdictRow, many_verdicts(project, account, text_ids)))
    with database.session() as session:
        session.execute(update(VerdictRow).where(VerdictRow.id == rows["id"][7]).values(verdict=0, end=999))
    with pytest.raises(Conflict, match="1 of 2,000 entries were changed"):
        step(undo.undo)
    assert len(stored(database, project)) == 2_000


def test_rows_that_only_counted_on_are_taken_back_at_once(database, project, account, text_ids, act, step):
    rows = act(lambda r: r.insert_frame(VerdictRow, many_verdicts(project, account, text_ids)))
    with database.session() as session:
        kept = seal(session, VerdictRow, rows)
        assert kept == seal(session, VerdictRow, rows.reverse()) is not None
        assert seal(session, VerdictRow, rows.filter(pl.col("id") != rows["id"][5])) is None, "not in a row"
        session.execute(update(VerdictRow).where(VerdictRow.id == rows["id"][7]).values(found_by="ewe*"))
        assert seal(session, VerdictRow, rows) != kept
        session.execute(
            update(VerdictRow).where(VerdictRow.id == rows["id"][7]).values(found_by=rows["found_by"][7])
        )
        assert seal(session, VerdictRow, rows) == kept
    step(undo.undo)
    assert stored(database, project) == []


def test_a_large_dictionary_is_kept_as_columns_and_taken_back(database, project, act, step):
    entries = tuple(TermEntry(f"term{n}", note="“n”" if n % 7 == 0 else "") for n in range(PACKED_FROM + 50))
    act(lambda r: store.import_dictionary(r, "Large", Dictionary("Large", (Category(("A",), entries),))))
    with database.session() as session:
        command = session.scalar(select(Command).where(Command.project_id == project.id))
        (packed,) = (change for change in command.changes if "packed" in change)
        assert (packed["of"], packed["rows"]) == ("term", len(entries)) and packed["seal"]
    step(undo.undo)
    with database.session() as session:
        assert store.dictionaries_of(session, project.id) == []
    step(undo.redo)
    with database.session() as session:
        (row,) = store.dictionaries_of(session, project.id)
        assert store.load(session, row).value.categories[0].terms == entries
        assert session.scalar(select(func.count()).select_from(TermRow).where(TermRow.note == "“n”")) >= 36


def test_a_packed_change_survives_being_kept():
    before = pl.DataFrame({"id": [1, 2], "name": ["a", None]})
    change = RowChange("term", before, None)
    again = RowChange.unpacked(change.packed())
    assert again.table == "term" and again.before.equals(before) and again.after is None
    assert again.turned().after.equals(before) and again.rows == 2


def test_everything_that_hangs_on_words_of_a_text_is_registered():
    hangs = {
        table.name
        for table in Base.metadata.tables.values()
        if {"text_id", "start", "end"} <= {column.name for column in table.columns}
    }
    known = {kind.model.__tablename__ for kind in ANCHORED}
    assert hangs == known == {NoteRow.__tablename__, "verdict", "passage", "quote", "paraphrase", "run_place"}
