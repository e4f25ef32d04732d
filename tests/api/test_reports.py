"""Reports over HTTP: begun, put together, ordered, frozen, undone, taken along."""

import io
import zipfile

import docx
import numpy as np
import pypdfium2
import pytest
from typer.testing import CliRunner

from tests.api.test_api import problem
from tests.api.test_corpus_station import ids
from tests.api.test_findings import ask, keep, of_frames
from winnower.cli import common
from winnower.cli.main import app as command
from winnower.store.accounts import local_account, share
from winnower.store.models import Project
from winnower.store.report_quotes import _drawn


@pytest.fixture
def reports(client, at):
    return Reports(client, f"{at}/reports", at)


class Reports:
    """Short ways to ask."""

    def __init__(self, client, here, at):
        self.client, self.here, self.at = client, here, at

    def begin(self, by="nothing", title="Who says what"):
        return ask(self.client, self.at, "reports", 201, title=title, by=by)["id"]

    def read(self, report):
        answer = self.client.get(f"{self.here}/{report}")
        assert answer.status_code == 200, answer.text
        return answer.json()

    def kinds(self, report):
        return [part["piece"]["kind"] for part in self.read(report)["parts"]]

    def add(self, report, *pieces, after=None, status=201):
        answer = self.client.post(f"{self.here}/{report}/pieces", json={"pieces": pieces, "after": after})
        assert answer.status_code == status, answer.text
        return answer.json()["pieces"] if status == 201 else answer.json()

    def blocks(self, report, place=0):
        return self.read(report)["parts"][place]["blocks"]

    def change(self, report, **values):
        answer = self.client.patch(f"{self.here}/{report}", json=values)
        assert answer.status_code == 200, answer.text

    def file(self, report, form):
        answer = self.client.get(f"{self.here}/{report}/export?form={form}")
        assert answer.status_code == 200, answer.text
        return answer

    def undo(self):
        assert self.client.post(f"{self.at}/undo").status_code == 200


def words(text, level=1):
    return {"kind": "heading", "words": text, "level": level}


def quotes(**more):
    return {"kind": "quotes", **more}


def test_a_report_by_question_has_findings_notes_chosen_quotes_and_the_method(client, at, filled, reports):
    question = ask(client, at, "finding-questions", 201, words="Who writes of lambs?")["id"]
    keep(client, at, of_frames(filled), question_id=question, remark="Look again.")
    keep(client, at, of_frames(filled), title="Under no question")
    text_id = ids(client, at)["Nine pages"]
    ask(client, at, "notes", 201, body="Mind the spring.", title="Plain", question_id=question)
    shelf = ask(client, at, "notes", 201, title="Shelf", question_id=question)["id"]
    place = {"text_id": text_id, "start": 0, "end": 9}
    ask(client, at, "notes/quotes", 201, note_id=shelf, places=[place])
    report = reports.begin("question")
    assert reports.kinds(report) == [
        *("heading", "overview", "heading", "note", "finding", "quotes", "heading", "finding"),
        *("heading", "method", "heading", "dictionary"),
    ]
    parts = reports.read(report)["parts"]
    assert [one["words"] for one in parts[6]["blocks"]] == ["More findings"]
    finding = parts[4]
    assert [one["kind"] for one in finding["blocks"]] == ["heading", "prose", "prose", "figure", "grid"]
    assert finding["labels"][3:] == ["Figure 1", "Table 2"] and "Look again." in finding["blocks"][1]["html"]
    (quote,) = parts[5]["blocks"]
    assert quote["text_id"] == text_id and quote["paragraph"] == 1 and len(quote["words"]) <= 9
    method = " ".join(one.get("html", "") for one in parts[9]["blocks"])
    assert "The corpus has 5 texts" in method and "counted with its version 1" in method
    assert "(“Who writes of lambs”)" not in method, "what all findings share is said of none"


def test_by_theme_text_and_source_have_a_chapter_for_each(client, at, coding, reports):
    coding.make("Losses")
    coding.make("Losses of lambs", "Losses")
    coding.make("Empty")
    coding.code("Nine pages", "forty lambs", "Losses of lambs")
    text_id = ids(client, at)["Nine pages"]
    ask(client, at, "notes", 201, text_id=text_id, body="A hard year.", title="Year")
    chapters = {by: reports.read(reports.begin(by))["parts"] for by in ("theme", "text", "source")}
    headed = {
        by: [one["piece"]["words"] for one in parts if one["piece"]["kind"] == "heading"][1:-2]
        for by, parts in chapters.items()
    }
    assert headed["theme"] == ["Losses"] and headed["text"] == ["Nine pages"]
    assert len(headed["source"]) == 3
    (quote,) = chapters["theme"][3]["blocks"]
    assert quote["words"] == "forty lambs" and quote["origin"].endswith("Nine pages, paragraph 1")
    assert [one["piece"]["kind"] for one in chapters["text"][2:5]] == ["heading", "note", "quotes"]
    quoted = [one["blocks"][0] for one in chapters["source"] if one["piece"]["kind"] == "quotes"]
    assert [one["words"] for one in quoted].count("There is no passage to quote here yet.") == 2


def test_quotes_are_one_for_the_same_words_of_each_source_in_turn(client, at, coding, colleague, reports):
    coding.make("Losses")
    for title in ids(client, at):
        words = coding.body(title)
        coding.code(title, words[:4], "Losses")
        coding.code(title, words[4:9], "Losses")
    first = next(iter(ids(client, at)))
    colleague.code(first, coding.body(first)[:4], "Losses")
    code = coding.codes()["Losses"]["id"]
    report = reports.begin()
    reports.add(report, quotes(code=code, most=3), quotes(code=code, most=3, spread=False), quotes(most=100))
    spread, straight, every = (part["blocks"] for part in reports.read(report)["parts"])
    assert len({one["origin"].split(",")[0] for one in spread[:3]}) == 3
    assert "3 of 10 passages" in spread[3]["html"]
    assert [one["text_id"] for one in straight[:3]] == sorted(one["text_id"] for one in straight[:3])
    assert len(every) == 10


def test_pieces_are_added_changed_ordered_taken_out_and_brought_back(client, reports):
    report = reports.begin()
    first, last = reports.add(report, words("One"), words("Two"))
    (between,) = reports.add(report, {"kind": "words", "body": "**Well**"}, after=first)
    (top,) = reports.add(report, words("Top"), after=0)
    assert [one["id"] for one in reports.read(report)["parts"]] == [top, first, between, last]
    assert reports.blocks(report, 2) == [{"kind": "prose", "html": "<p><strong>Well</strong></p>\n"}]
    here = f"{reports.here}/{report}"
    stale = {"pieces": [last, top], "seen": [first, top, between, last]}
    problem(client.put(f"{here}/order", json=stale), 409, "changed the order")
    given = {"pieces": [last, top], "seen": [top, 987_654, first, last]}  # what came or went does not matter
    assert client.put(f"{here}/order", json=given).status_code == 200
    assert [one["id"] for one in reports.read(report)["parts"]] == [last, top, first, between]
    stale = {"piece": words("Uno"), "revision": 0}
    assert client.patch(f"{here}/pieces/{last}", json=stale).status_code == 409
    assert client.patch(f"{here}/pieces/{last}", json={"piece": words("Uno")}).status_code == 200
    assert client.delete(f"{here}/pieces/{top}").status_code == 200
    assert [
        one["words"] for part in reports.read(report)["parts"] for one in part["blocks"] if "words" in one
    ] == [
        "Uno",
        "One",
    ]
    reports.undo()
    reports.undo()
    parts = reports.read(report)["parts"]
    assert [one["id"] for one in parts] == [last, top, first, between] and parts[0]["blocks"][0][
        "words"
    ] == "Two"
    assert client.delete(f"{here}").status_code == 200
    assert client.get(here).status_code == 404
    reports.undo()
    assert [one["id"] for one in reports.read(report)["parts"]] == [last, top, first, between]


def test_what_is_gone_is_told_in_its_place_and_the_rest_follows(client, at, filled, coding, reports):
    finding = keep(client, at, of_frames(filled))["id"]
    coding.code("Nine pages", "forty", new="Losses")
    code = coding.codes()["Losses"]["id"]
    report = reports.begin()
    reports.add(
        report,
        {"kind": "finding", "finding": finding},
        quotes(code=code),
        {"kind": "dictionary", "dictionary": filled},
        {"kind": "note", "note": 999_999},
        quotes(question=999_999),
        {"kind": "method"},
    )
    assert client.delete(f"{at}/findings/{finding}").status_code == 200
    assert client.delete(f"{at}/codes/{code}").status_code == 200
    assert client.delete(f"{at}/dictionaries/{filled}").status_code == 204
    parts = reports.read(report)["parts"]
    told = [part["blocks"][0] for part in parts[:5]]
    assert {one["kind"] for one in told} == {"missing"}
    assert "finding" in told[0]["words"] and "code" in told[1]["words"] and "dictionary" in told[2]["words"]
    assert parts[5]["blocks"][0]["words"] == "Texts"
    assert docx.Document(io.BytesIO(reports.file(report, "docx").content)).paragraphs


def test_a_finding_whose_instrument_is_gone_shows_what_it_said_and_says_why(client, at, filled, reports):
    finding = keep(client, at, of_frames(filled))["id"]
    report = reports.begin()
    reports.add(report, {"kind": "finding", "finding": finding, "says": False})
    assert client.delete(f"{at}/dictionaries/{filled}").status_code == 204
    blocks = reports.blocks(report)
    assert [one["kind"] for one in blocks] == ["heading", "missing", "figure", "grid"]
    assert "what it said before stands here" in blocks[1]["words"] and len(blocks[3]["rows"]) == 3


def test_a_frozen_report_stays_as_it_was_and_follows_again(client, at, station, reports):
    finding = keep(client, at, of_frames(station.id))["id"]
    report = reports.begin()
    (piece,) = reports.add(report, {"kind": "finding", "finding": finding})
    before = reports.read(report)["parts"][0]["blocks"]
    reports.change(report, frozen=True)
    station.add("Ecology", "lamb*")
    assert client.delete(f"{at}/findings/{finding}").status_code == 200
    frozen = reports.read(report)
    assert frozen["frozen_at"] and frozen["parts"][0]["blocks"] == before
    drawn = client.get(f"{reports.here}/{report}/pictures/{piece}")
    assert drawn.status_code == 200 and drawn.headers["content-type"] == "image/svg+xml"
    problem(client.post(f"{reports.here}/{report}/pieces", json={"pieces": [words("No")]}), 422, "frozen")
    problem(client.delete(f"{reports.here}/{report}/pieces/{piece}"), 422, "frozen")
    assert client.get(f"{reports.at}/reports").json()[0]["frozen"]
    reports.change(report, frozen=False)
    assert reports.blocks(report)[0]["kind"] == "missing"
    reports.undo()
    assert reports.read(report)["parts"][0]["blocks"] == before


def test_files_of_every_kind_with_a_title_of_strange_signs(client, at, filled, reports):
    finding = keep(client, at, of_frames(filled))["id"]
    report = reports.begin(title='Lambs / "deer": <who>? 你好')
    reports.add(
        report, words("First"), {"kind": "finding", "finding": finding}, words("Then"), {"kind": "overview"}
    )
    word = reports.file(report, "docx")
    assert "Lambs%20deer%20who%20%E4%BD%A0" in word.headers["content-disposition"]
    assert len(docx.Document(io.BytesIO(word.content)).inline_shapes) == 1
    page = reports.file(report, "html").text
    assert "<who>" not in page and "&lt;who&gt;" in page and page.count("data:image/svg+xml;base64") == 1
    pdf = pypdfium2.PdfDocument(reports.file(report, "pdf").content)
    assert [one.get_title() for one in pdf.get_toc()] == ["First", "Who writes of lambs", "Then"]
    packed = zipfile.ZipFile(io.BytesIO(reports.file(report, "md").content))
    assert packed.namelist() == ["pictures/01.svg", "report.md"]


@pytest.mark.parametrize("frozen", [False, True])
def test_the_command_line_writes_the_files_of_the_screen(
    client, at, filled, reports, project, settings, server, database, tmp_path, monkeypatch, frozen
):
    with database.session() as session:
        share(session, session.get_one(Project, project.id), local_account(session).name, "reader")
    finding = keep(client, at, of_frames(filled))["id"]
    report = reports.begin(title="Lambs")
    reports.add(report, words("First"), {"kind": "finding", "finding": finding}, {"kind": "method"})
    if frozen:
        reports.change(report, frozen=True)
    monkeypatch.setenv("WINNOWER_DATABASE_URL", server.url)
    monkeypatch.setattr(common, "load_settings", lambda: settings)

    def run(*arguments):
        return CliRunner().invoke(command, ["report", project.name, *arguments])

    assert run().output == "Lambs\n"
    for form in ("html", "pdf", "zip"):
        out = tmp_path / f"report.{form}"
        done = run("Lambs", "--out", str(out))
        assert done.exit_code == 0 and done.output.replace("\n", "") == str(out), done.output
        assert out.read_bytes() == reports.file(report, form.replace("zip", "md")).content
    out = tmp_path / "report.docx"
    assert run("Lambs", "--out", str(out)).exit_code == 0
    mine, theirs = (
        [one.text for one in docx.Document(file).paragraphs]
        for file in (str(out), io.BytesIO(reports.file(report, "docx").content))
    )
    assert mine == theirs and len(mine) > 8
    for arguments, told in (
        (("Deer",), "There is no report “Deer”. Reports: “Lambs”."),
        (("Lambs", "--out", "report.odt"), "not “.odt”"),
    ):
        refused = run(*arguments)
        assert refused.exit_code != 0 and told in str(refused.exception) + refused.output


def test_many_quotes_are_shown_in_part_and_written_whole(client, at, coding, reports):
    coding.make("Losses")
    title = max(ids(client, at), key=lambda one: len(coding.body(one)))
    code, body = coding.codes()["Losses"]["id"], coding.body(title)
    for start in range(60):
        words = {"start": start % 30, "end": start % 30 + 3 + start // 30, "codes": [code], "new": None}
        words["words"] = body[words["start"] : words["end"]]
        assert client.post(f"{at}/texts/{ids(client, at)[title]}/passages", json=words).status_code == 201
    report = reports.begin()
    reports.add(report, quotes(most=50))
    (part,) = reports.read(report)["parts"]
    assert len(part["blocks"]) == 40 and part["more"] == 11
    written = docx.Document(io.BytesIO(reports.file(report, "docx").content))
    assert sum(one.style.name == "Quote" for one in written.paragraphs) == 50


def test_requests_that_do_not_fit_are_named(client, at, reports):
    report = reports.begin()
    problem(client.post(f"{at}/reports", json={"title": "  ", "by": "nothing"}), 422, "title")
    assert client.post(f"{at}/reports", json={"title": "x", "by": "moon"}).status_code == 422
    assert "most" in str(reports.add(report, quotes(most=5_000), status=422))
    problem(client.get(f"{reports.here}/{report}/pictures/1"), 404, "no such part")
    (piece,) = reports.add(report, words("x"))
    problem(client.get(f"{reports.here}/{report}/pictures/{piece}"), 404, "no picture")
    problem(client.get(f"{reports.here}/{report + 1_000}"), 404, "no such report")


def test_quotes_are_drawn_from_all_texts_and_stay_when_others_come():
    text_id = np.arange(1, 1_001)
    drawn = _drawn(text_id)
    first = text_id[np.argsort(drawn)[:50]]
    assert drawn.min() >= 0 and drawn.max() < 1 and len(np.unique(drawn)) == 1_000
    assert first.min() < 200 and first.max() > 800 and 400 < np.median(first) < 600
    assert np.array_equal(_drawn(text_id[:500]), drawn[:500])
