"""Dictionaries as rows: whatever is moved, merged or put back, undo brings back what was; verdicts follow
their words; the stop list is the shipped one with what was added and without what was taken off."""

import random

import pytest
from hypothesis import HealthCheck, given
from hypothesis import settings as examples
from hypothesis import strategies as st
from sqlalchemy import select

from tests.store.test_describing import Work
from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.core.errors import Conflict, DictionaryError, TermError, TreeError, WinnowerError
from winnower.store import dictionaries as store
from winnower.store import undo, versions
from winnower.store.category_tree import merge_categories, move_category
from winnower.store.corrections import correct_texts
from winnower.store.merging import merge_into
from winnower.store.models import TextBody, TextRow, VerdictRow
from winnower.store.review import judge
from winnower.store.subjects import subject_of
from winnower.store.words import dismiss, dismissed, list_words, shipped_list, stop_words

START = Dictionary(
    "Frames",
    (
        Category(("A",), (TermEntry("lamb*"), TermEntry("wool", note="fleece"))),
        Category(("A", "B"), (TermEntry("ewe"),), "mothers", 3),
        Category(("C",), (TermEntry("deer"), TermEntry("sell", forms_of="en"))),
        Category(("D",), (TermEntry("oak"),)),
    ),
)


class Frames:
    """A dictionary of one project, and what can be done to it at random."""

    def __init__(self, work):
        self.work = work
        self.id = work.do(lambda r, _: store.import_dictionary(r, "Frames", START)).id

    def loaded(self, session):
        return store.load(session, store.dictionary_row(session, self.work.project_id, self.id))

    def state(self):
        with self.work.database.session() as session:
            return self.loaded(session).value.content()

    def change(self, rng):
        def one(recorder, _):
            stored = self.loaded(recorder.session)
            ids = [c.id for c in stored.categories]
            terms = [t for some in stored.terms.values() for t in some]
            what = rng.choice(
                ["move", "merge", "add", "drop", "change", "delete", "category", "merge file", "back"]
            )
            if what == "move":
                move_category(
                    recorder, stored, rng.choice(ids), rng.choice([None, *ids]), rng.choice([None, *ids])
                )
            elif what == "merge":
                merge_categories(recorder, stored, *rng.sample(ids, 2))
            elif what == "add":
                store.add_terms(
                    recorder,
                    stored,
                    rng.choice(ids),
                    [TermEntry(rng.choice(["hill", "ewe", "exact-case: Oak"]))],
                )
            elif what == "drop":
                recorder.delete(rng.choice(terms))
            elif what == "change":
                store.change_term(
                    recorder,
                    stored,
                    rng.choice(terms).id,
                    {"source": rng.choice(["hay", "oak", "fell*"])},
                    None,
                )
            elif what == "delete" and len(ids) > 2:
                store.delete_category(recorder, stored, rng.choice(ids))
            elif what == "category":
                store.make_category(recorder, stored, rng.choice("EFG"), rng.choice([None, *ids]))
            elif what == "merge file":
                theirs = Dictionary(
                    "T",
                    (
                        Category(("A",), (TermEntry("lamb*", match_case=True), TermEntry("tup"))),
                        Category(("A", "X")),
                    ),
                )
                plan = merge_into(recorder, stored, theirs, ())
                assert len(plan.terms) <= 2
            elif what == "back":
                versions.put_back(recorder, stored, START)

        try:
            self.work.do(one)
        except (DictionaryError, TreeError, Conflict, TermError, ValueError, IndexError):
            return False
        return True


@pytest.fixture
def work(database, settings, project, account, deliver, news):
    deliver(news)
    return Work(database, settings, project, account)


@pytest.mark.parametrize("seed", range(6))
def test_random_changes_are_taken_back_and_done_again(work, seed):
    rng = random.Random(seed)
    frames = Frames(work)
    states = [frames.state()]
    for _ in range(14):
        before = frames.state()
        if frames.change(rng) and frames.state() != before:
            states.append(frames.state())
        else:
            assert frames.state() == before  # what was refused changed nothing
    last = states[-1]
    undone = 0
    while frames.state() != states[0]:
        work.step(undo.undo)
        undone += 1
        assert undone < 40
    for _ in range(undone):
        work.step(undo.redo)
    assert frames.state() == last


def test_a_version_is_put_back_with_the_rows_it_shares(work):
    frames = Frames(work)
    with work.database.session() as session:
        kept = {t.source: t.id for some in frames.loaded(session).terms.values() for t in some}
        number = versions.name_version(session, frames.loaded(session), work.account_id, "first", "why")
    work.do(
        lambda r, _: store.delete_category(
            r, frames.loaded(r.session), frames.loaded(r.session).categories[-1].id
        )
    )
    work.do(
        lambda r, _: store.add_terms(
            r, frames.loaded(r.session), frames.loaded(r.session).categories[0].id, [TermEntry("hay")]
        )
    )

    def back(recorder, _):
        stored = frames.loaded(recorder.session)
        version = versions.version_numbered(recorder.session, stored.row, number)
        versions.put_back(recorder, stored, versions.as_dictionary(stored.row, version))

    work.do(back)
    assert frames.state() == START.content()
    with work.database.session() as session:
        now = {t.source: t.id for some in frames.loaded(session).terms.values() for t in some}
    assert all(now[source] == kept[source] for source in kept if source != "oak")


def test_verdicts_follow_their_words_through_corrections(work):
    frames = Frames(work)
    with work.database.session() as session:
        body = session.scalar(
            select(TextBody)
            .join(TextRow, TextRow.id == TextBody.text_id)
            .where(TextRow.project_id == work.project_id, TextBody.body.like("The lambs are gone%"))
        )
        text_id, text = body.text_id, body.body
        category = frames.loaded(session).categories[0].id
    start = text.index("lambs")

    def verdict(recorder, _):
        subject = subject_of(recorder.session, work.project_id, "category", category)
        judge(recorder, subject, "hit", (text_id, start, start + 5), 1, found_by="lamb*", version=1)

    def places():
        with work.database.session() as session:
            rows = session.scalars(select(VerdictRow).where(VerdictRow.subject_id == category))
            return [(row.start, row.end, row.verdict) for row in rows]

    work.do(verdict)
    work.do(lambda r, _: correct_texts(r, work.folder, {text_id: "Indeed: " + text}, "Corrected"))
    assert places() == [(start + 8, start + 13, 1)]
    work.step(undo.undo)
    assert places() == [(start, start + 5, 1)]
    work.do(lambda r, _: correct_texts(r, work.folder, {text_id: "Nothing of it is left."}, "Corrected"))
    assert places() == []
    work.step(undo.undo)
    assert places() == [(start, start + 5, 1)]


words = st.sampled_from(["the", "and", "lamb", "Wool", "of", "hill"])


@given(steps=st.lists(st.tuples(st.lists(words, min_size=1, max_size=3), st.booleans()), max_size=6))
@examples(max_examples=12, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_the_stop_list_is_what_was_said_last(database, settings, project, account, steps):
    work = Work(database, settings, project, account)
    work.do(lambda r, _: list_words(r, ["the", "and", "of"], True))
    work.do(lambda r, _: list_words(r, ["lamb", "wool", "hill"], False))
    expected = set(shipped_list("en")) - {"lamb", "wool", "hill"} | {"the", "and", "of"}
    for forms, listed in steps:
        work.do(lambda r, _, forms=forms, listed=listed: list_words(r, forms, listed))
        folded = {form.lower() for form in forms}
        expected = expected | folded if listed else expected - folded
        with database.session() as session:
            assert stop_words(session, project.id) == expected


def test_long_stop_words_and_dismissals(work):
    with pytest.raises(WinnowerError, match="at most 120"):
        work.do(lambda r, _: list_words(r, ["x" * 121], True))
    for _ in range(2):
        work.do(lambda r, _: dismiss(r, 77, "Wool "))
    with work.database.session() as session:
        assert dismissed(session, 77) == {"wool"}
    work.step(undo.undo)
    with work.database.session() as session:
        assert dismissed(session, 77) == frozenset()
