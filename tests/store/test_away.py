"""The database away for a moment while an import is at work."""

import pytest
from sqlalchemy.exc import OperationalError

from tests.conftest import NEWS_MAPPING, write_table
from winnower.jobs import importing
from winnower.jobs.importing import ImportRun
from winnower.jobs.sources import mapping_to_plain
from winnower.readers import tables
from winnower.store.jobs import make_job


@pytest.fixture
def run(database, settings, account, project, tmp_path, monkeypatch):
    monkeypatch.setattr(tables, "ROWS_AT_ONCE", 4)
    monkeypatch.setattr(importing.time, "sleep", lambda _: None)
    path = write_table(
        tmp_path / "a.csv", [[str(i), "t", f"S{i}", "", f"text {i}", f"t{i}", ""] for i in range(10)]
    )
    params = {"name": "a", "paths": [("a.csv", str(path))], "mapping": mapping_to_plain(NEWS_MAPPING)}
    with database.session() as session:
        job = make_job(session, project.id, account.id, "import", params)
    return ImportRun(database, settings, job.id)


def gone(code=2013):
    return OperationalError("insert", {}, Exception(code, "Lost connection"))


def test_a_batch_is_tried_again_and_counted_once(run, opened, monkeypatch):
    store, failures = run._store_texts, [1, 1]

    def flaky(session, ready, n_words, part):
        store(session, ready, n_words, part)
        if failures:
            failures.pop()
            error = gone()
            error.orig.args = (2013, "Lost connection")
            raise error

    monkeypatch.setattr(run, "_store_texts", flaky)
    report = run.run()
    assert (report.new, report.known) == (10, 0)
    corpus = opened()
    assert corpus.columns.n_texts == 10
    assert len(corpus.columns.fields["source"].labels) == 10


def test_other_errors_end_the_import_at_once(run, opened, monkeypatch):
    def broken(*_):
        raise ValueError("unexpected")

    monkeypatch.setattr(run, "_store_texts", broken)
    with pytest.raises(ValueError, match="unexpected"):
        run.run()
    assert opened().columns.n_texts == 0
