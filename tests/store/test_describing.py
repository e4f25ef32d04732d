"""Values, corrections and deliveries: whatever is done, the open corpus says what the database says."""

import random
import shutil

import numpy as np
import pytest
from hypothesis import given
from hypothesis import settings as examples
from hypothesis import strategies as st
from sqlalchemy import select

from tests.conftest import NEWS_ROWS, write_table
from winnower.core.errors import Conflict
from winnower.core.pattern import find_term, parse_term
from winnower.core.scope import value_at
from winnower.store import undo
from winnower.store.corpus import CorpusCache, open_corpus, with_new_values
from winnower.store.corrections import correct_texts
from winnower.store.fields import lock_project
from winnower.store.history import Recorder
from winnower.store.models import Delivery, Project, TextBody, TextPlace, TextRow
from winnower.store.reindex import follow
from winnower.store.variables import (
    BadValue,
    convert_variable,
    delete_variable,
    make_variable,
    parse_value,
    role_variable,
    set_values,
    variable_of,
)


class Work:
    """What the interface does between a request and its commit."""

    def __init__(self, database, settings, project, account):
        self.database, self.project_id, self.account_id = database, project.id, account.id
        self.cache = CorpusCache(settings.index)
        self.folder = settings.index / str(project.id)

    def do(self, change, label="change"):
        with self.database.session() as session:
            project = session.get_one(Project, self.project_id)
            lock_project(session, project)
            base = self.cache.open(session, project)
            recorder = Recorder(session, self.project_id, self.account_id, label)
            out = change(recorder, lambda: with_new_values(session, project, base))
            recorder.save()
            return out

    def step(self, way):
        with self.database.session() as session:
            project = session.get_one(Project, self.project_id)
            base = self.cache.open(session, project)
            effects = way(session, project, self.account_id, lambda: with_new_values(session, project, base))
            follow(session, project, self.folder, effects.bodies, effects.deliveries)
            return effects.label

    def corpus(self):
        with self.database.session() as session:
            return self.cache.open(session, session.get_one(Project, self.project_id))

    def made_again(self):
        """The corpus from the database alone."""
        shutil.rmtree(self.folder)
        with self.database.session() as session:
            return open_corpus(session, session.get_one(Project, self.project_id), self.folder)

    def bodies(self):
        with self.database.session() as session:
            rows = session.execute(
                select(TextBody.text_id, TextBody.body)
                .join(TextRow, TextRow.id == TextBody.text_id)
                .join(Delivery, Delivery.id == TextRow.delivery_id)
                .where(TextRow.project_id == self.project_id, Delivery.state == "done")
            )
            return {row[0]: row[1] for row in rows}


def said(corpus):
    """Everything the corpus says of each text, by id: fields, words, where some terms are found."""
    out = {}
    for place, text_id in enumerate(corpus.columns.text_id.tolist()):
        values = {
            corpus.columns.names[key]: value_at(column, place)
            for key, column in corpus.columns.fields.items()
        }
        out[text_id] = {k: sorted(v) if isinstance(v, list) else v for k, v in values.items()}
        out[text_id]["hits"] = {}
    for term in ("lamb*", "flock", "deer", "new*"):
        for segment in corpus.index.segments:
            for at in find_term(parse_term(term), segment).start.tolist():
                local = int(segment.text_of[at])
                hits = out[int(segment.text_id[local])]["hits"]
                hits.setdefault(term, []).append(int(segment.char_start[at]))
    return out


@pytest.fixture
def work(database, settings, project, account, deliver, news):
    deliver(news)
    return Work(database, settings, project, account)


FIELDS = ("source", "date", "title", "Tags", "Age", "Note", "Day", "Sort")
WRITTEN = {
    "source": ["Valley Wire", "New source", ""],
    "date": ["2031-01-31", "3 June 2031", ""],
    "title": ["Another title", "Ähnlich"],
    "Tags": ["north", "coast; north", "a new one", ""],
    "Age": ["7", "8,5", ""],
    "Note": ["“quoted, with; signs”", "line\nbreak", "NULL", ""],
    "Day": ["2030-12-31", ""],
    "Sort": ["x", "y", ""],
}
KINDS = {"source": "category", "date": "date", "title": "text", "Tags": "several", "Age": "number"} | {
    "Note": "text",
    "Day": "date",
    "Sort": "category",
}


@pytest.mark.parametrize("seed", range(4))
def test_any_run_of_changes_and_steps_back_agrees_with_the_database(work, seed):
    rng = random.Random(seed)
    for name in ("Note", "Day", "Sort"):
        work.do(lambda r, _, name=name: make_variable(r, name, KINDS[name]))
    seen = [said(work.corpus())]
    for _ in range(9):
        name = rng.choice(FIELDS)
        written = rng.choice(WRITTEN[name])
        n = work.corpus().columns.n_texts
        places = np.asarray(sorted(rng.sample(range(n), rng.randint(1, n))))
        mode = rng.choice(("replace", "add", "remove")) if name == "Tags" else "replace"

        def change(recorder, corpus, name=name, written=written, places=places, mode=mode):
            opened = corpus()
            key = next((k for k, called in opened.columns.names.items() if called == name), name)
            value = parse_value(KINDS[name], written, name)
            return set_values(recorder, opened, key, places, [value] * len(places), mode)

        if work.do(change):
            seen.append(said(work.corpus()))
    for expected in reversed(seen[:-1]):
        work.step(undo.undo)
        assert said(work.corpus()) == expected
    for expected in seen[1:]:
        work.step(undo.redo)
        assert said(work.corpus()) == expected
    assert said(work.made_again()) == seen[-1]


@pytest.mark.parametrize("seed", range(3))
def test_corrections_and_deliveries_agree_with_the_database(work, deliver, tmp_path, seed):
    rng = random.Random(seed)
    more = [[f"m{n}", f"More {n}", "Wire", "", f"A new lamb number {n} came.", "", ""] for n in range(4)]
    deliver(write_table(tmp_path / "more.csv", more))
    seen = [(said(work.corpus()), work.bodies())]
    for turn in range(6):
        corpus = work.corpus()
        ids = corpus.columns.text_id.tolist()
        if turn == 3:

            def undo_delivery(recorder, _):
                row = recorder.session.scalars(
                    select(Delivery)
                    .where(Delivery.project_id == work.project_id)
                    .order_by(Delivery.id.desc())
                ).first()
                recorder.update(row, {"state": "undone"})
                follow(recorder.session, recorder.project, work.folder, {}, {row.id: False})

            work.do(undo_delivery)
        else:
            chosen = rng.sample(ids, min(len(ids), rng.randint(1, 3)))
            new = {i: rng.choice(["New words. A newer flock.", "", "deer\n\ndeer newest"]) for i in chosen}
            if not work.do(lambda r, _, new=new: correct_texts(r, work.folder, new, "Corrected")):
                continue
        seen.append((said(work.corpus()), work.bodies()))
    for expected in reversed(seen[:-1]):
        work.step(undo.undo)
        assert (said(work.corpus()), work.bodies()) == expected
    for expected in seen[1:]:
        work.step(undo.redo)
        assert (said(work.corpus()), work.bodies()) == expected
    assert said(work.made_again()) == seen[-1][0]


def test_a_corrected_text_counts_its_words_and_keeps_its_values(work):
    text_id = int(work.corpus().columns.text_id[0])
    work.do(lambda r, _: correct_texts(r, work.folder, {text_id: "Four new words here."}, "x"))
    corpus = work.corpus()
    place = corpus.place_of(text_id)
    assert corpus.columns.words[place] == 4
    with work.database.session() as session:
        row = session.get_one(TextRow, text_id)
        assert (row.words, row.revision, row.placeholder) == (4, 2, 0)


def test_a_stale_correction_changes_nothing(work):
    text_id = int(work.corpus().columns.text_id[0])
    before = work.bodies()
    with pytest.raises(Conflict, match="in the meantime"):
        work.do(lambda r, _: correct_texts(r, work.folder, {text_id: "x"}, "x", revisions={text_id: 9}))
    assert work.bodies() == before
    work.do(lambda r, _: correct_texts(r, work.folder, {text_id: "fine"}, "x", revisions={text_id: 1}))


def test_pages_stay_on_their_words(work):
    text_id = int(work.corpus().columns.text_id[0])
    body = work.bodies()[text_id]
    start = body.index("A flock")
    with work.database.session() as session:
        session.add(TextPlace(text_id=text_id, seq=0, kind="page", start=start, label="2"))
    work.do(lambda r, _: correct_texts(r, work.folder, {text_id: f"Before it all. {body}"}, "x"))

    def place():
        with work.database.session() as session:
            row = session.scalars(select(TextPlace).where(TextPlace.text_id == text_id)).one()
            return work.bodies()[text_id][row.start :]

    assert place().startswith("A flock")
    work.step(undo.undo)
    assert place().startswith("A flock")


def test_a_deleted_variable_comes_back_with_its_values_and_order(work):
    before = said(work.corpus())
    key = next(k for k, name in work.corpus().columns.names.items() if name == "Tags")
    work.do(lambda r, c: delete_variable(r, c(), variable_of(r.session, work.project_id, int(key[1:]))))
    assert all("Tags" not in text for text in said(work.corpus()).values())
    work.step(undo.undo)
    assert said(work.corpus()) == before
    work.step(undo.redo)
    work.step(undo.undo)
    assert said(work.made_again()) == before


@pytest.mark.parametrize(
    ("name", "kind", "kept", "lost"),
    [
        ("Age", "category", 4, []),
        ("Age", "text", 4, []),
        ("Age", "date", 0, ["31", "40", "52", "28"]),
        ("Tags", "text", 4, []),
        ("Tags", "category", 4, []),
        ("Tags", "number", 0, ["north; coast", "coast", "north", "hill"]),
    ],
)
def test_a_variable_is_given_another_kind_and_back(work, name, kind, kept, lost):
    before = said(work.corpus())
    key = next(k for k, called in work.corpus().columns.names.items() if called == name)

    def convert(recorder, corpus):
        row = variable_of(recorder.session, work.project_id, int(key[1:]))
        return convert_variable(recorder, corpus, row, kind)

    assert work.do(convert) == (kept, lost)
    after = said(work.corpus())
    assert sum(text[name] not in (None, []) for text in after.values()) == kept
    work.step(undo.undo)
    assert said(work.corpus()) == before
    work.step(undo.redo)
    assert said(work.corpus()) == after
    assert said(work.made_again()) == after


def test_the_next_delivery_takes_changed_values_along(work, deliver, tmp_path):
    work.do(lambda r, c: set_values(r, c(), "source", np.arange(5), ["One paper"] * 5))
    before = said(work.corpus())
    deliver(
        write_table(tmp_path / "more.csv", [["9", "New", "Wire", "2031-10-01", "One lamb.", "north", "4"]])
    )
    after = said(work.corpus())
    assert {i: after[i] for i in before} == before and len(after) == 6
    assert said(work.made_again()) == after


def test_roles_are_made_once_and_not_under_a_taken_name(work):
    work.do(lambda r, _: make_variable(r, "Sets", "number"))
    first = work.do(lambda r, _: role_variable(r, "sets").id)
    assert work.do(lambda r, _: role_variable(r, "sets").id) == first
    assert "Sets (2)" in work.corpus().columns.names.values()


@given(st.text(max_size=40))
@examples(max_examples=60, deadline=None)
def test_whatever_is_typed_is_a_value_or_gets_a_sentence(written):
    for kind in ("category", "several", "number", "date", "text"):
        try:
            value = parse_value(kind, written, "Field")
        except BadValue as error:
            assert "Field" in error.message or "date" in error.message
            continue
        if not written.strip():
            assert value is None
        if kind == "several" and value:
            assert all(part == part.strip() and part for part in value) and len(set(value)) == len(value)


@pytest.mark.parametrize(
    ("kind", "written", "value"),
    [
        ("several", " a; b ;a;; ", ["a", "b"]),
        ("number", "1,5", 1.5),
        ("number", "1,234.5", 1234.5),
        ("number", "10 000", 10000.0),
        ("number", "1.234,5", 1234.5),
        ("number", "3.5K", 3500.0),
        ("category", "  two   words ", "two words"),
        ("text", " kept\nso ", "kept\nso"),
    ],
)
def test_values_as_people_write_them(kind, written, value):
    assert parse_value(kind, written, "Field") == value


def test_many_rows_are_known_by_their_place(work):
    corpus = work.corpus()
    ids = corpus.columns.text_id
    assert corpus.places_of(ids[::-1]).tolist() == list(range(len(ids)))[::-1]
    assert corpus.places_of(np.array([-5, 10**12])).tolist() == [-1, -1]
    assert len(NEWS_ROWS) == len(ids)
