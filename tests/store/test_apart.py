"""Files that bring down whoever reads them: each costs its own process, and the others go on."""

import io
import zipfile
from dataclasses import replace

import pytest
import xlsxwriter
from sqlalchemy import select

from tests.conftest import NEWS_HEADER, NEWS_MAPPING, NEWS_ROWS, write_table
from winnower.jobs.apart import Apart
from winnower.jobs.importing import ImportRun
from winnower.jobs.reading import PiecesApart
from winnower.jobs.sources import Pieces, mapping_to_plain
from winnower.readers.earlier import Known
from winnower.store.jobs import make_job
from winnower.store.models import TextRow


def far_cell():
    """A workbook of a few kB with a cell in the last row and column."""
    out = io.BytesIO()
    book = xlsxwriter.Workbook(out)
    sheet = book.add_worksheet("far")
    sheet.write_row(0, 0, NEWS_HEADER)
    sheet.write(1_048_575, 16_383, "here")
    book.close()
    return out.getvalue()


def word_bomb():
    """A Word file whose words unpack to more than any process gets."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        body = b"<w:p><w:r><w:t>lamb</w:t></w:r></w:p>" * 12_000_000
        packed.writestr(
            "word/document.xml",
            b'<w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:body>'
            + body
            + b"</w:body></w:document>",
        )
        packed.writestr("[Content_Types].xml", b"<Types/>")
    return out.getvalue()


@pytest.fixture
def delivery(tmp_path):
    """Three good tables around files that no reader survives."""
    small = NEWS_ROWS[:2], NEWS_ROWS[2:4], NEWS_ROWS[4:]
    write_table(tmp_path / "a.csv", small[0])
    (tmp_path / "b.xlsx").write_bytes(far_cell())
    write_table(tmp_path / "c.csv", small[1])
    (tmp_path / "d.json").write_bytes(b'{"a":' * 3_000_000)
    write_table(tmp_path / "e.csv", small[2])
    return [(path.name, path) for path in sorted(tmp_path.iterdir())]


@pytest.fixture
def strict(settings):
    return replace(
        settings, limit_look_bytes=400 * 2**20, limit_read_bytes=400 * 2**20, limit_file_seconds=60
    )


def test_the_first_look_names_them_and_shows_the_others(delivery, strict):
    look = Apart(strict).call_without("look", delivery, strict, {}, {}, Known(), {})
    told = {problem.file.split(",")[0]: problem.reason for problem in look.problems}
    assert "400 MB of memory" in told["b.xlsx"]
    assert told["d.json"]
    assert [len(one.lot.origins) for one in look.lots] == [3]
    assert len(look.lots[0].rows) == 2


def params(delivery):
    paths = [(name, str(path)) for name, path in delivery]
    return {"name": "x", "paths": paths, "mapping": mapping_to_plain(NEWS_MAPPING)}


def test_an_import_passes_over_them(delivery, strict, database, account, project):
    with database.session() as session:
        job = make_job(session, project.id, account.id, "import", params(delivery))
    report = ImportRun(database, strict, job.id, read=PiecesApart).run()
    assert report.new == 5
    reasons = {one["file"].split(",")[0]: one["reason"] for one in report.refusals}
    assert "400 MB of memory" in reasons["b.xlsx"] and reasons["d.json"]
    with database.session() as session:
        found = session.scalars(select(TextRow.title).where(TextRow.project_id == project.id)).all()
    assert sorted(found) == sorted(row[1] for row in NEWS_ROWS)


def test_a_small_word_file_that_grows_is_refused_and_the_others_read(tmp_path, strict):
    (tmp_path / "a.txt").write_text("A text about lambs.")
    (tmp_path / "b.docx").write_bytes(word_bomb())
    (tmp_path / "c.txt").write_text("A text about deer.")
    paths = [(path.name, path) for path in sorted(tmp_path.iterdir())]
    pieces = list(PiecesApart({"name": "x", "paths": [(n, str(p)) for n, p in paths]}, strict))
    assert sorted(body for piece in pieces for body in piece.texts.body) == [
        "A text about deer.", "A text about lambs."
    ]  # fmt: skip
    assert [problem.file for piece in pieces for problem in piece.problems] == ["b.docx"]


def test_what_is_read_apart_is_what_is_read_here(tmp_path, settings):
    write_table(tmp_path / "a.csv", [[str(i), "t", "S", "", f"text {i}", "", ""] for i in range(50)])
    write_table(tmp_path / "b.csv", [["x"]])
    (tmp_path / "note.txt").write_text("One text.")
    asked = params([(path.name, path) for path in sorted(tmp_path.iterdir())])
    here, there = Pieces(asked, settings), PiecesApart(asked, settings)
    assert list(there) == list(here)
    assert (there.files, there.bytes_total, there.bytes_done, there.lines()) == (
        here.files, here.bytes_total, here.bytes_done, here.lines()
    )  # fmt: skip


def test_a_table_that_does_not_fit_its_mapping_is_told(tmp_path, settings):
    path = write_table(tmp_path / "a.csv", NEWS_ROWS)
    bad = params([("a.csv", path)])
    bad["mapping"] = {"targets": [{"column": "nothing", "role": "text"}]}
    pieces = list(PiecesApart(bad, settings))
    assert "There is no column" in pieces[0].problems[0].reason
