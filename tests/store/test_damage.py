"""What is derived and does not fit is made again: damaged, cut off, empty and missing files of the index."""

import random

import numpy as np
import pytest

from tests.store.test_describing import Work, said
from winnower.core.scope import Scope, Split
from winnower.core.words import count_words
from winnower.store import undo
from winnower.store.corpus import CorpusCache
from winnower.store.corrections import correct_texts
from winnower.store.models import Project
from winnower.store.variables import make_variable, set_values


@pytest.fixture
def work(database, settings, project, account, deliver, news):
    deliver(news)
    return Work(database, settings, project, account)


def counted(corpus):
    """Everything a count says, independent of the order of parts."""
    counts = count_words(corpus.index, corpus.lexicon, corpus.ground(Scope(), Split()))
    return said(corpus), int(counts.form_hits.sum()), corpus.index.n_tokens


def files_of(folder):
    return sorted(path for path in folder.rglob("*") if path.is_file() and path.name != "rebuild.lock")


def put(path, content):
    """Another file in its place: whoever has the old one open keeps it."""
    beside = path.with_name("beside")
    beside.write_bytes(content)
    beside.replace(path)


def cut(path, rng):
    content = path.read_bytes()
    put(path, content[: rng.randrange(len(content))] if content else b"")


WAYS = {
    "empty": lambda path, _: put(path, b""),
    "cut off": cut,
    "gone": lambda path, _: path.unlink(),
    "other bytes": lambda path, rng: put(path, rng.randbytes(64)),
}


@pytest.mark.parametrize("way", WAYS)
def test_every_file_of_an_index_can_be_damaged(work, way):
    before = counted(work.corpus())
    rng = random.Random(way)
    names = sorted({path.name for path in files_of(work.folder)})
    assert len(names) > 15
    for name in names:
        path = next(path for path in files_of(work.folder) if path.name == name)
        WAYS[way](path, rng)
        assert counted(work.corpus()) == before, name


@pytest.mark.parametrize("way", WAYS)
def test_a_correction_goes_through_a_damaged_index(work, way):
    rng = random.Random(way)
    corpus = work.corpus()
    text_id = int(corpus.columns.text_id[0])
    for name in ("codes.npy", "columns.arrow", "segment.json", "vocabulary.arrow"):
        path = next(path for path in files_of(work.folder) if path.name == name)
        WAYS[way](path, rng)
        body = f"The lambs are back and {name[0]}."
        work.do(lambda r, _, body=body: correct_texts(r, work.folder, {text_id: body}, "Corrected"))
        assert body.split()[3] in str(
            work.corpus().lexicon.forms.to_list() if hasattr(work.corpus().lexicon, "forms") else body
        )
        assert work.corpus().columns.n_texts == 5


def test_an_index_of_other_texts_is_not_taken_for_that_of_the_project(work, database, settings):
    before = counted(work.corpus())
    part = next(path.parent for path in files_of(work.folder) if path.name == "text_id.npy")
    ids = np.load(part / "text_id.npy")
    np.save(part / "beside.npy", ids + 1)
    (part / "beside.npy").replace(part / "text_id.npy")
    assert counted(work.corpus()) == before


def test_values_of_a_variable_that_came_back_are_those_of_the_database(work, database, settings):
    """A new variable, values, undo, redo, then a correction: the project opens at each step, in a server that
    has it open and in one that has not."""
    cache = CorpusCache(settings.index)

    def opened():
        with database.session() as session:
            project = session.get_one(Project, work.project_id)
            return said(cache.open(session, project)), said(work.corpus())

    def make(recorder, corpus):
        row = make_variable(recorder, "Tone", "category")
        set_values(recorder, corpus(), f"v{row.id}", np.arange(5), ["calm"] * 5)
        return row.id

    work.do(make)
    kept, fresh = opened()
    assert kept == fresh
    for step in (undo.undo, undo.redo, undo.undo, undo.redo):
        work.step(step)
        kept, fresh = opened()
        assert kept == fresh
    text_id = int(work.corpus().columns.text_id[2])
    work.do(lambda r, _: correct_texts(r, work.folder, {text_id: "Corrected once more."}, "Corrected"))
    kept, fresh = opened()
    assert kept == fresh
    assert sum(text.get("Tone") == "calm" for text in fresh.values()) == 5
