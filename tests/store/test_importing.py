"""Imports against a real MariaDB: what is new, known, changed, refused; and nothing half done."""

from dataclasses import replace

import numpy as np
import pytest
from sqlalchemy import func, select

from tests.conftest import NEWS_MAPPING, NEWS_ROWS, write_table
from tests.core import slow
from tests.core.texts import table_of
from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.core.errors import Conflict, ReadError
from winnower.core.scope import Scope, value_at
from winnower.jobs import run
from winnower.jobs.import_progress import READING
from winnower.jobs.importing import READY_AT, ImportRun
from winnower.jobs.sources import mapping_to_plain
from winnower.readers import Mapping, tables
from winnower.readers.mapping import guess_documents
from winnower.store import bulk, jobs, reindex
from winnower.store.models import (
    Delivery,
    Job,
    Project,
    Source,
    TextBody,
    TextRow,
    Variable,
    VariableCategory,
)
from winnower.store.texts import all_bodies, text_of

FRAMES = Dictionary(
    "Frames",
    (
        Category(("Livelihood",), (TermEntry("lamb*"), TermEntry("flock*"))),
        Category(("Ecology",), (TermEntry("deer"), TermEntry("birch"))),
    ),
)


def counts(database, model, **where):
    with database.session() as session:
        query = select(func.count()).select_from(model)
        for name, value in where.items():
            query = query.where(getattr(model, name) == value)
        return session.scalar(query)


def test_a_table_becomes_texts_with_variables(database, deliver, opened, news, project):
    report = deliver(news)
    assert (report.new, report.known, report.refused, report.words) == (
        5,
        0,
        0,
        sum(any(c.isalnum() for c in w) for row in NEWS_ROWS for w, _ in slow.tokens(row[4])),
    )
    corpus = opened()
    columns = corpus.columns
    assert columns.n_texts == 5
    names = {name: key for key, name in columns.names.items()}
    assert value_at(columns.fields[names["Tags"]], 0) == ["coast", "north"] or value_at(
        columns.fields[names["Tags"]], 0
    ) == ["north", "coast"]
    assert value_at(columns.fields[names["Age"]], 0) == 31
    assert value_at(columns.fields["date"], 4) is None
    with database.session() as session:
        row, body, source = text_of(session, project.id, int(columns.text_id[2]))
    assert (row.title, body, source, row.words) == (
        "Kittens",
        "Three kittens 🐾 on camera. The flock slept.",
        "Valley Wire",
        7,
    )


def test_counts_over_the_stored_corpus(deliver, opened, news):
    deliver(news)
    corpus = opened()
    table = table_of(FRAMES, corpus.index, corpus.columns)
    assert table.groups.labels == ("Hill Farmer", "Orrin Courier", "Valley Wire")
    assert table.hits.tolist() == [[6, 0, 1], [0, 4, 0]]


def test_a_second_delivery_takes_only_what_is_new(deliver, opened, tmp_path, news):
    deliver(news)
    changed = ["2", "Deer", "Orrin Courier", "2031-06-05", "Another body.", "", ""]
    second = write_table(
        tmp_path / "second.csv",
        [NEWS_ROWS[0], changed, ["6", "New", "The Lantern", "2031-11-01", "A new text.", "sea", "1"]],
    )
    report = deliver(second)
    assert (report.new, report.known, report.changed) == (1, 1, 1)
    assert report.changes[0]["row"] == 3
    corpus = opened()
    assert corpus.columns.n_texts == 6
    assert corpus.columns.fields["source"].labels == (
        "Hill Farmer",
        "Orrin Courier",
        "The Lantern",
        "Valley Wire",
    )


def test_the_same_file_twice_brings_nothing_with_or_without_a_key(deliver, opened, tmp_path):
    keyless = replace(NEWS_MAPPING, targets=NEWS_MAPPING.targets[1:])
    twice = write_table(tmp_path / "a.csv", [*NEWS_ROWS, NEWS_ROWS[4]])
    first, second = deliver(twice, keyless), deliver(twice, keyless)
    assert (first.new, first.alike) == (6, 1)
    assert (second.new, second.known) == (0, 6)
    assert opened().columns.n_texts == 6


def test_a_key_that_stands_twice_in_a_delivery_is_told(deliver, tmp_path):
    again = [*NEWS_ROWS[0]]
    other = [*NEWS_ROWS[0][:4], "Other words.", "", ""]
    report = deliver(write_table(tmp_path / "a.csv", [NEWS_ROWS[0], again, other]))
    assert (report.new, report.known, report.changed) == (1, 1, 1)


def test_text_files_in_folders_and_bad_ones_among_them(deliver, opened, tmp_path):
    folder = tmp_path / "interviews"
    folder.mkdir()
    (folder / "one.txt").write_text("The lamb is gone.")
    (folder / "two.txt").write_bytes("Café and ewe".encode("cp1252"))
    (folder / "empty.txt").write_text("")
    (folder / "blank.txt").write_text("  \n ")
    (folder / "scan.xyz").write_text("x")
    mapping = replace(guess_documents("text"), source_name="Interviews")
    report = deliver(folder, text_mapping=mapping_to_plain(mapping))
    assert (report.new, report.refused) == (2, 3)
    corpus = opened()
    assert sorted(corpus.columns.fields["title"].values.to_list()) == ["one", "two"]
    assert corpus.columns.fields["source"].labels == ("Interviews",)


def test_many_batches_give_the_same_as_one(database, settings, deliver, opened, tmp_path, monkeypatch):
    monkeypatch.setattr(tables, "ROWS_AT_ONCE", 7)
    rows = [
        [
            str(i),
            f"T{i}",
            f"S{i % 3}",
            "2031-01-01",
            f"lamb {'ewe ' * (i % 5)}text {i}",
            f"t{i % 4}; x",
            str(i),
        ]
        for i in range(50)
    ]
    report = deliver(write_table(tmp_path / "a.csv", rows))
    assert report.new == 50
    corpus = opened()
    assert len(corpus.index.segments) == 1
    with database.session() as session:
        found = [body for _, body in all_bodies(session, corpus.columns.text_id.tolist())]
    assert found == [row[4].strip() for row in rows]


def test_a_cancelled_import_leaves_nothing(
    database, settings, account, project, tmp_path, monkeypatch, opened
):
    monkeypatch.setattr(tables, "ROWS_AT_ONCE", 2)
    path = write_table(
        tmp_path / "a.csv", [[str(i), "t", "Only here", "", f"text {i}", "only", ""] for i in range(20)]
    )
    with database.session() as session:
        job = jobs.make_job(
            session,
            project.id,
            account.id,
            "import",
            {"name": "a", "paths": [("a.csv", str(path))], "mapping": mapping_to_plain(NEWS_MAPPING)},
        )

    def cancel_after_some(progress):
        if progress["new"] >= 4:
            with database.session() as session:
                jobs.request_cancel(session, session.get_one(Job, job.id))

    with pytest.raises(jobs.Cancelled):
        ImportRun(database, settings, job.id, cancel_after_some).run()
    assert counts(database, TextRow, project_id=project.id) == 0
    assert counts(database, Source, project_id=project.id) == 0
    assert counts(database, Variable, project_id=project.id) == 0
    assert counts(database, Delivery, project_id=project.id) == 0
    assert not list((settings.index / str(project.id)).glob("job*"))
    assert opened().columns.n_texts == 0
    with database.session() as session:
        assert session.get_one(Job, job.id).state == "cancelled"


def test_progress_is_that_of_what_is_stored(database, settings, account, project, tmp_path, monkeypatch):
    """The first texts are stored soon, and no share of the way is told that is not behind us."""
    monkeypatch.setattr(tables, "ROWS_AT_ONCE", 64)
    monkeypatch.setattr(run, "TELL_EVERY_S", 0)
    rows = [[str(i), f"T{i}", "S", "2031-01-01", f"lamb text {i} " * 800, "", ""] for i in range(400)]
    path = write_table(tmp_path / "a.csv", rows)
    params = {"name": "a", "paths": [(path.name, str(path))], "mapping": mapping_to_plain(NEWS_MAPPING)}
    with database.session() as session:
        job = jobs.make_job(session, project.id, account.id, "import", params)
    told = []
    ImportRun(database, settings, job.id, told.append).run()
    done, new = [one["done"] for one in told], [one["new"] for one in told]
    assert done == sorted(done) and new == sorted(new) and done[-1] <= 100
    storing = [one for one in told if one["stage"] == "Reading and storing"]
    first = next(one for one in storing if one["new"])
    assert first["new"] <= 64 / 16 + 1
    for one in storing:
        # a quarter of the way is reading, which is ahead; files are read in blocks of a quarter of a megabyte
        stored = min((one["new"] + 0.3e6 / (path.stat().st_size / len(rows))) / len(rows), 1)
        assert one["done"] <= READY_AT * (READING + (1 - READING) * stored) + 1


def interrupted(database, settings, account, project, path, monkeypatch, after):
    """An import whose process dies after some batches were stored."""
    with database.session() as session:
        params = {"name": "a", "paths": [(path.name, str(path))], "mapping": mapping_to_plain(NEWS_MAPPING)}
        job = jobs.make_job(session, project.id, account.id, "import", params)
    run = ImportRun(database, settings, job.id)
    store, done = run._store, []

    def dying(ready):
        if len(done) == after:
            raise KeyboardInterrupt
        done.append(ready)
        store(ready)

    monkeypatch.setattr(run, "_store", dying)
    with pytest.raises(KeyboardInterrupt):
        run.run()
    with database.session() as session:
        session.get_one(Job, job.id).lease_until = None  # a dead process does not renew it
    return job.id


def test_an_interrupted_import_goes_on_from_its_last_batch(
    database, settings, account, project, tmp_path, monkeypatch, opened
):
    monkeypatch.setattr(tables, "ROWS_AT_ONCE", 3)
    monkeypatch.setattr(tables, "FIRST_SHARE", 1)
    path = write_table(
        tmp_path / "a.csv",
        [[str(i), "t", "S", "", f"text {i}", "", "x" if i == 1 else ""] for i in range(20)],
    )
    job_id = interrupted(database, settings, account, project, path, monkeypatch, after=2)
    assert opened().columns.n_texts == 0
    assert counts(database, TextRow, project_id=project.id) == 6
    report = ImportRun(database, settings, job_id).run()
    assert (report.new, report.known, report.remarks_total) == (20, 0, 1)
    assert opened().columns.n_texts == 20


def test_what_a_dead_import_left_is_removed_by_the_next(
    database, settings, account, project, deliver, tmp_path, monkeypatch, opened
):
    monkeypatch.setattr(tables, "ROWS_AT_ONCE", 3)
    path = write_table(tmp_path / "a.csv", [[str(i), "t", "S", "", f"text {i}", "", ""] for i in range(9)])
    interrupted(database, settings, account, project, path, monkeypatch, after=2)
    assert deliver(path).new == 9
    assert opened().columns.n_texts == 9


def test_a_failing_import_tells_and_leaves_nothing(database, project, deliver, tmp_path, monkeypatch):
    path = write_table(tmp_path / "a.csv", NEWS_ROWS)

    def full(*_, **__):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(reindex, "write_manifest", full)
    with pytest.raises(OSError, match="No space"):
        deliver(path)
    assert counts(database, TextRow, project_id=project.id) == 0
    with database.session() as session:
        job = session.scalars(select(Job).where(Job.project_id == project.id)).one()
    assert job.state == "failed" and "Nothing of this delivery was kept" in job.message


def test_a_file_without_any_text_is_refused_whole(database, project, deliver, tmp_path):
    with pytest.raises(ReadError, match="No text could be taken"):
        deliver(write_table(tmp_path / "a.csv", [["1", "t", "s", "", "", "", ""]]))
    assert counts(database, Delivery, project_id=project.id) == 0


def test_two_imports_of_a_project_do_not_run_together(database, account, project, deliver, news):
    with database.session() as session:
        other = jobs.make_job(session, project.id, account.id, "import", {"name": "other"})
        jobs.claim(session, other.id, jobs.new_holder())
    with pytest.raises(Conflict, match="Another import"):
        deliver(news)
    with database.session() as session:
        session.get_one(Job, other.id).lease_until = None
    assert deliver(news).new == 5


def test_a_variable_keeps_its_kind(deliver, news, tmp_path):
    deliver(news)
    other = Mapping(
        tuple(replace(t, kind="category") if t.column == "age" else t for t in NEWS_MAPPING.targets)
    )
    with pytest.raises(Conflict, match="“Age” is in this project as number"):
        deliver(write_table(tmp_path / "b.csv", [["9", "t", "s", "", "new text", "", "3"]]), other)


def test_both_ways_of_bulk_storing_give_the_same(
    database, deliver, opened, monkeypatch, news, project, tmp_path
):
    def refuse(connection, *_):
        connection.info["no_load_data"] = True
        raise AssertionError("not reached")

    tricky = [
        "7",
        'Quote " and \\ back',
        "NULL",
        "2031-01-01",
        'Line\nbreak, "quotes", \\N and NULL; 👩‍🌾 ’',
        "a; b",
        "2.5",
    ]
    deliver(write_table(tmp_path / "a.csv", [tricky]))
    monkeypatch.setattr(bulk, "_load", lambda c, m, f: bulk._insert(c, m, f))
    deliver(write_table(tmp_path / "b.csv", [["8", *tricky[1:]]]))
    corpus = opened()
    with database.session() as session:
        bodies = [body for _, body in all_bodies(session, corpus.columns.text_id.tolist())]
        labels = session.scalars(
            select(VariableCategory.label).join(Variable).where(Variable.project_id == project.id)
        ).all()
    assert bodies == [tricky[4]] * 2
    assert sorted(labels) == ["a", "b"]
    for key in ("title", "source", "date"):
        assert value_at(corpus.columns.fields[key], 0) == value_at(corpus.columns.fields[key], 1)


def test_the_derived_files_can_be_made_again_from_the_database(
    database, settings, deliver, opened, news, project
):
    import shutil

    deliver(news)
    before = opened()
    shutil.rmtree(settings.index / str(project.id))
    after = opened()
    assert np.array_equal(before.columns.text_id, after.columns.text_id)
    for key, column in before.columns.fields.items():
        assert [value_at(column, i) for i in range(5)] == [
            value_at(after.columns.fields[key], i) for i in range(5)
        ]
    for name in ("codes", "order", "char_start", "words"):
        assert np.array_equal(getattr(before.index.segments[0], name), getattr(after.index.segments[0], name))


def test_a_damaged_index_is_made_again(settings, deliver, opened, news, project):
    deliver(news)
    for part in (settings.index / str(project.id)).glob("*/codes.npy"):
        part.write_bytes(b"rubbish")
    corpus = opened()
    assert corpus.columns.n_texts == corpus.index.n_texts == 5


def test_tables_are_paged_in_any_order(deliver, opened, news):
    deliver(news)
    corpus = opened()

    def titles(sort, descending=False):
        places, total = corpus.page(Scope(), sort, descending, 0, 10)
        assert total == 5
        return [corpus.columns.fields["title"].values[int(p)] for p in places]

    assert titles("title") == ["Claims", "Deer", "Kittens", "Nine pages", "Wood"]
    assert titles("title", True) == ["Wood", "Nine pages", "Kittens", "Deer", "Claims"]
    assert titles("date") == ["Nine pages", "Deer", "Claims", "Kittens", "Wood"]
    assert titles("date", True) == ["Kittens", "Claims", "Deer", "Nine pages", "Wood"]
    places, total = corpus.page(Scope(), "words", False, 3, 1)
    assert (len(places), total) == (1, 5)


def test_deleting_a_delivery_row_takes_its_texts_along(database, deliver, news, project):
    deliver(news)
    with database.session() as session:
        session.delete(session.scalars(select(Delivery).where(Delivery.project_id == project.id)).one())
    assert counts(database, TextRow, project_id=project.id) == 0
    with database.session() as session:
        assert session.scalar(select(func.count()).select_from(TextBody).join(TextRow)) >= 0
        assert session.get(Project, project.id) is not None
