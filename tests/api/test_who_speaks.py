"""Who speaks goes along with every passage: in evidence, lines, coded passages, runs, notes, reports and files."""

import io

import docx
import pytest

from tests.api.test_corpus_station import done, ids
from tests.api.test_deliveries import bring
from tests.conftest import write_table

TALK = """Interviewer: When did you first see the lynx?

Ada Brock: It was by the upper gate, and the flock was brought in before dark.

Interviewer: And what did the board say of the flock?

Ada Brock: Nothing at all. They said that the gate stays shut.
"""
SAID = "the flock was brought in"
HITS = {"kind": "search", "query": "flock"}


@pytest.fixture
def talk(client, at, coding):
    bring(client, at, ("talk.txt", TALK))
    coding.make("Stock")
    coding.code("talk", SAID, "Stock")
    return ids(client, at)["talk"]


def evidence(client, at, where="evidence", **more):
    scope = [{"kind": "title", "contains": "talk", "field": "title", "exclude": False}]
    asked = {"comparison": {"target": HITS, "scope": scope}, **more}
    return done(client.post(f"{at}/{where}", json=asked))


def test_evidence_and_lines_name_who_speaks(client, at, talk):
    said = {one["standing"]["speaker"] for one in evidence(client, at)["passages"]}
    assert said == {"Ada Brock", "Interviewer"}
    lines = evidence(client, at, "concordance", sort="date")["passages"]
    assert [one["standing"]["speaker"] for one in lines] == ["Ada Brock", "Interviewer"]
    table = client.post(
        f"{at}/concordance/export?form=csv",
        json={"comparison": {"target": HITS, "scope": []}, "sort": "date"},
    ).content.decode("utf-8-sig")
    head, *lines = table.splitlines()
    assert head.split(",")[3] == "speaker" and any("Ada Brock" in line for line in lines)


def test_coded_passages_and_their_files_name_who_speaks(client, at, talk, coding):
    (one,) = coding.find()["passages"]
    assert one["standing"] == {"speaker": "Ada Brock", "page": "", "time": ""}
    table = client.post(f"{at}/passages/export?form=csv", json={}).content.decode("utf-8-sig")
    assert "Ada Brock" in table.splitlines()[1]
    excerpts = docx.Document(io.BytesIO(client.post(f"{at}/passages/export?form=docx", json={}).content))
    assert any(p.text.startswith("Ada Brock, in: ") for p in excerpts.paragraphs)
    whole = docx.Document(io.BytesIO(client.post(f"{at}/passages/commented", json={}).content))
    spoken = [p.text for p in whole.paragraphs if p.text.startswith(("Ada Brock: ", "Interviewer: "))]
    assert len(spoken) == 4 and spoken[1].startswith("Ada Brock: It was by the upper gate")


def test_quotes_in_notes_and_reports_name_who_speaks(client, at, talk):
    body = client.get(f"{at}/texts/{talk}").json()["body"]
    start = body.index(SAID)
    places = [{"text_id": talk, "start": start, "end": start + len(SAID)}]
    note = done(client.post(f"{at}/notes/quotes", json={"title": "Said", "places": places}), 201)
    (quote,) = note["quotes"]
    assert quote["standing"]["speaker"] == "Ada Brock"
    markdown = client.post(f"{at}/notes/export?form=md", json={}).text
    assert "Ada Brock, in: " in markdown
    report = done(client.post(f"{at}/reports", json={"title": "Flocks", "by": "nothing"}), 201)
    piece = {"kind": "quotes", "note": note["id"]}
    done(client.post(f"{at}/reports/{report['id']}/pieces", json={"pieces": [piece], "after": None}), 201)
    written = client.get(f"{at}/reports/{report['id']}").json()
    blocks = [block for one in written["parts"] for block in one["blocks"] if block["kind"] == "quote"]
    assert blocks[0]["origin"].startswith("Ada Brock, in: ")


def test_turns_that_a_run_found_count_as_well(client, at, runs, deliver, tmp_path):
    # brought in with the names in the words: who speaks is found by the lines afterwards
    deliver(write_table(tmp_path / "talks.csv", [["T1", "talk", "Talks", "", TALK, "", ""]]))
    said = {one["standing"]["speaker"] for one in evidence(client, at)["passages"]}
    assert said == {""}
    names = [{"name": one, "called": one} for one in ("Ada Brock", "Interviewer")]
    recipe = {"finder": {"kind": "speakers", "names": names}, "unit": "paragraph"}
    runs.make(recipe, state="applied", name="Speakers")
    said = {one["standing"]["speaker"] for one in evidence(client, at)["passages"]}
    assert said == {"Ada Brock", "Interviewer"}


def test_words_around_a_hit_stay_with_who_speaks(talk, runs):
    recipe = {"finder": {"kind": "search", "query": "dark"}, "unit": "words", "around": 50}
    (one,) = runs.preview(recipe)["sample"]
    assert one["text"] == TALK.split("Ada Brock: ")[1].split("\n")[0].rstrip(".")
