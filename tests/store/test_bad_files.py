"""Files that break their reader, hang it, change under it or fill the disk: told, and the rest goes on."""

import os
import time
import zipfile
from dataclasses import replace
from pathlib import Path

import pytest
from sqlalchemy import func, select

from tests.conftest import write_table
from winnower.jobs import documents, importing
from winnower.jobs.documents import read_documents
from winnower.jobs.expected import expect_import
from winnower.jobs.importing import ImportRun
from winnower.jobs.sources import mapping_to_plain
from winnower.readers import LotChoice, Mapping, Target, gather, list_files
from winnower.readers.document import Document
from winnower.store import jobs
from winnower.store.models import Delivery, Job, NoteRow, TextPlace, TextRow

FILES = Path(__file__).parents[1] / "files"


def lot_of(*paths):
    origins, problems = list_files([(path.name, path) for path in paths], 10**9)
    assert not problems
    lots, problems = gather(origins, 10**7)
    assert not problems and len(lots) == 1
    return lots[0]


def told(lot, seconds=60, **choice):
    """Name of each file, with its texts' bodies or the reason why there are none."""
    return [
        (found.origin.name, [d.body for d in found.documents] or [p.reason for p in found.problems])
        for found in read_documents(lot, LotChoice(**choice), 10**7, seconds)
    ]


@pytest.fixture
def texts(tmp_path):
    out = []
    for number in range(7):
        path = tmp_path / f"{number}.txt"
        path.write_text(f"Text number {number}.")
        out.append(path)
    return out


def reads_badly(kind, content, name, limit, encoding=None):
    """Stands for a reader that crashes or hangs on one file."""
    if "3" in name:
        os._exit(7)
    if "5" in name:
        time.sleep(60)
    return [Document(content.decode())]


@pytest.fixture
def several_processes(monkeypatch):
    """Read in processes of their own, however little there is."""
    import multiprocessing

    monkeypatch.setattr(documents, "ALONE_BYTES", 0)
    monkeypatch.setattr(documents, "TASK_FILES", 2)
    # forked, so that what a test puts in place of the reader is there too
    forking = _Forking(multiprocessing.get_context("fork"))
    monkeypatch.setattr(documents.multiprocessing, "get_context", lambda _: forking)


class _Forking:
    def __init__(self, context):
        self._context = context

    def set_forkserver_preload(self, _):
        return None

    def __getattr__(self, name):
        return getattr(self._context, name)


def test_a_file_that_brings_its_reader_down_is_named_and_the_others_are_read(
    texts, several_processes, monkeypatch
):
    monkeypatch.setattr(documents, "read_all", reads_badly)
    monkeypatch.setattr(documents.ProcessPoolExecutor, "__init__", _without_restarts())
    found = told(lot_of(*texts), seconds=5)
    assert [name for name, _ in found] == [path.name for path in texts]
    reasons = dict(found)
    assert "brings the reader down" in reasons["3.txt"][0]
    assert "takes longer than 5 seconds" in reasons["5.txt"][0]
    assert [reasons[f"{n}.txt"] for n in (0, 1, 2, 4, 6)] == [[f"Text number {n}."] for n in (0, 1, 2, 4, 6)]


def _without_restarts():
    """max_tasks_per_child does not go with forking."""
    made = documents.ProcessPoolExecutor.__init__

    def init(self, workers, mp_context=None, max_tasks_per_child=None, **_):
        made(self, workers, mp_context=mp_context)

    return init


def test_a_file_that_changes_or_goes_while_it_is_read(texts):
    lot = lot_of(*texts)
    texts[2].write_text("It has become much longer than it was when it was listed.")
    texts[4].unlink()
    found = dict(told(lot))
    assert found["2.txt"][0] == "The file changed while it was read."
    assert found["4.txt"][0] == "The file cannot be read: it is no longer there."
    assert sum(reason[0].startswith("Text number") for reason in found.values()) == 5


def test_real_documents_in_real_processes(tmp_path, monkeypatch):
    monkeypatch.setattr(documents, "ALONE_BYTES", 0)
    for number in range(5):
        (tmp_path / f"{number}.docx").write_bytes((FILES / "office.docx").read_bytes())
    (tmp_path / "9.docx").write_bytes(b"PK no")
    found = told(lot_of(*sorted(tmp_path.iterdir())))
    assert [name for name, _ in found] == ["0.docx", "1.docx", "2.docx", "3.docx", "4.docx", "9.docx"]
    assert all("Lambs are lost already." in bodies[0] for _, bodies in found[:-1])
    assert "damaged or cut off" in found[-1][1][0]


@pytest.fixture
def run(database, settings, account, project):
    """Import some files as they are guessed; the report."""

    def go(*paths, limits=None, **params):
        with database.session() as session:
            given = {"name": "x", "paths": [(p.name, str(p)) for p in paths], **params}
            job = jobs.make_job(session, project.id, account.id, "import", given)
        return ImportRun(database, limits or settings, job.id).run()

    return go


def count(database, model):
    with database.session() as session:
        return session.scalar(select(func.count()).select_from(model))


def test_all_kinds_at_once_with_pages_notes_and_placeholders(run, opened, tmp_path, database, project):
    for name in ("office.pdf", "tracked.docx", "pandoc.epub", "pandoc.rtf"):
        (tmp_path / name).write_bytes((FILES / name).read_bytes())
    (tmp_path / "studies.ris").write_text(
        "TY  - BOOK\nAU  - Fell, Cy\nTI  - The valley\nPY  - 2028\nER  - \n"
    )
    with zipfile.ZipFile(tmp_path / "more.zip", "w") as archive:
        archive.writestr(
            "a/b.html", "<html><body><p>" + "A page about the valley. " * 20 + "</p></body></html>"
        )
        archive.writestr("broken.pdf", b"%PDF-1.7 nothing")
    (tmp_path / "empty.txt").write_bytes(b"")
    from winnower.readers.mapping import guess_references
    from winnower.readers.reference_lists import HEADER

    report = run(*sorted(tmp_path.iterdir()), mapping=mapping_to_plain(guess_references(HEADER)))
    assert (report.new, report.refused) == (6, 2)
    assert {p["file"]: p["reason"][:24] for p in report.refusals} == {
        "empty.txt": "The file is empty.",
        "more.zip/broken.pdf": "The PDF is damaged or cu",
    }
    corpus = opened()
    titles = corpus.columns.fields["title"].values.to_list()
    assert "Fell 2028: The valley" in titles
    assert corpus.columns.words[titles.index("Fell 2028: The valley")] == 0
    with database.session() as session:
        rows = session.execute(
            select(TextPlace.kind, TextPlace.label)
            .join(TextRow, TextRow.id == TextPlace.text_id)
            .where(TextRow.project_id == project.id, TextPlace.kind == "page")
        ).all()
        notes = session.scalars(
            select(NoteRow.body).join(TextRow).where(TextRow.project_id == project.id)
        ).all()
    assert rows == [("page", "1")] and "Check the date." in notes


def test_a_text_of_three_million_characters_comes_in_and_one_over_the_limit_does_not(
    run, settings, opened, tmp_path
):
    (tmp_path / "long.txt").write_text("The lamb fell. " * 200_000)
    assert run(tmp_path / "long.txt").new == 1
    assert opened().columns.words.tolist() == [600_000]
    (tmp_path / "other.txt").write_text("Short.")
    (tmp_path / "longer.txt").write_text("ewe " * 1_000_000)
    report = run(
        tmp_path / "longer.txt", tmp_path / "other.txt", limits=replace(settings, limit_text_chars=3_500_000)
    )
    assert report.new == 1
    assert "the limit is 3,500,000 (WINNOWER_LIMIT_TEXT_CHARS)" in report.refusals[0]["reason"]


def test_a_process_killed_among_documents_goes_on_where_it_was(
    database, settings, account, project, opened, tmp_path, monkeypatch
):
    from winnower.jobs import sources

    monkeypatch.setattr(sources, "FILES_AT_ONCE", 2)
    for number in range(9):
        (tmp_path / f"{number}.txt").write_text(f"Text number {number} of nine.")
    paths = [(p.name, str(p)) for p in sorted(tmp_path.iterdir())]
    with database.session() as session:
        job = jobs.make_job(session, project.id, account.id, "import", {"name": "x", "paths": paths})
    first = ImportRun(database, settings, job.id)
    store, done = first._store, []

    def dying(ready):
        if len(done) == 2:
            raise KeyboardInterrupt
        done.append(ready)
        store(ready)

    monkeypatch.setattr(first, "_store", dying)
    with pytest.raises(KeyboardInterrupt):
        first.run()
    with database.session() as session:
        session.get_one(Job, job.id).lease_until = None  # a dead process does not renew it
    assert opened().columns.n_texts == 0
    assert ImportRun(database, settings, job.id).run().new == 9
    assert opened().columns.n_texts == 9


def test_a_full_disk_leaves_nothing_behind(run, database, project, tmp_path, monkeypatch, opened):
    (tmp_path / "a.txt").write_text("A lamb.")

    def full(*_, **__):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(importing, "write_columns", full)
    with pytest.raises(OSError, match="No space"):
        run(tmp_path / "a.txt")
    monkeypatch.undo()
    with database.session() as session:
        assert session.scalar(select(func.count(Delivery.id)).where(Delivery.project_id == project.id)) == 0
        assert session.scalar(select(func.count(TextRow.id)).where(TextRow.project_id == project.id)) == 0
    assert run(tmp_path / "a.txt").new == 1


def test_what_an_import_would_do_is_what_it_does(database, settings, project, run, tmp_path):
    mapping = Mapping((Target("id", "key"), Target("text", "text")))
    path = write_table(
        tmp_path / "a.csv", [["1", "Lamb."], ["2", "Ewe."], ["2", "Other."], ["3", ""]], header=["id", "text"]
    )
    params = {"name": "a", "paths": [("a.csv", str(path))], "mapping": mapping_to_plain(mapping)}
    expected = expect_import(database, settings, project.id, params)
    report = run(path, mapping=mapping_to_plain(mapping))
    assert (expected.new, expected.known, expected.twice, expected.refused) == (2, 0, 1, 1)
    assert (report.new, report.known, report.changed, report.refused) == (2, 0, 1, 1)
    again = expect_import(database, settings, project.id, params)
    assert (again.new, again.known, again.changed) == (0, 2, 1)
    assert again.everything


def test_lots_can_be_left_out_and_cut(run, opened, tmp_path):
    (tmp_path / "a.md").write_text("# One\n\nLamb.\n\n# Two\n\nEwe.")
    (tmp_path / "b.txt").write_text("Left out.")
    report = run(
        tmp_path / "a.md",
        tmp_path / "b.txt",
        lots={"markdown": {"cut": "heading"}, "text": {"leave_out": True}},
    )
    assert report.new == 2
    assert sorted(opened().columns.fields["title"].values.to_list()) == ["One", "Two"]
