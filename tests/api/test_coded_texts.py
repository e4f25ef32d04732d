"""Texts with their codings as Word comments over HTTP: by question and scope, in one file or in many."""

import io
import zipfile

import docx
import pytest

from tests.api.test_api import problem
from tests.api.test_corpus_station import done, ids


@pytest.fixture
def coded(coding, colleague, client, at):
    coding.make("Loss")
    coding.make("Herds", under="Loss")
    coding.code("Nine pages", "We lost forty lambs", "Loss")
    colleague.code("Nine pages", "forty lambs", "Herds")
    coding.code("Deer", "Deer fell", "Herds")
    text_id = ids(client, at)["Deer"]
    note = {"text_id": text_id, "start": 0, "end": 4, "body": "Which deer?\n\nAsk.", "kind": "question"}
    done(client.post(f"{at}/notes", json=note), 201)
    return coding


def comments(content):
    return [
        (one.author, [paragraph.text for paragraph in one.paragraphs])
        for one in docx.Document(io.BytesIO(content)).comments
    ]


def test_codings_and_notes_are_comments_by_their_coders(client, at, coded):
    answer = client.post(f"{at}/passages/commented", json={})
    assert answer.headers["content-type"].endswith("wordprocessingml.document")
    found = comments(answer.content)
    assert ("Orla Venn", ["Loss > Herds"]) in found and len(found) == 4
    assert any(lines == ["Note (question)", "Which deer?", "Ask."] for _, lines in found)
    words = [p.text for p in docx.Document(io.BytesIO(answer.content)).paragraphs]
    assert words[:2] == ["Nine pages", "Hill Farmer, 2031-06-03"] and "Deer" in words
    assert "Kittens" not in words, "nobody coded in it"


def test_by_code_by_scope_and_each_text_in_a_file_of_its_own(client, at, coded):
    codes = coded.codes()
    only = comments(client.post(f"{at}/passages/commented", json={"codes": [codes["Herds"]["id"]]}).content)
    assert [lines[0] for _, lines in only if not lines[0].startswith("Note")] == [
        "Loss > Herds",
        "Loss > Herds",
    ]
    scope = [{"kind": "values", "field": "source", "values": ["Hill Farmer"]}]
    assert len(comments(client.post(f"{at}/passages/commented", json={"scope": scope}).content)) == 2
    packed = zipfile.ZipFile(io.BytesIO(client.post(f"{at}/passages/commented?each=true", json={}).content))
    assert packed.namelist() == ["0001 Nine pages.docx", "0002 Deer.docx"]
    assert len(comments(packed.read("0002 Deer.docx"))) == 2
    nothing = [{"kind": "terms", "terms": ["nowhere"]}]
    problem(client.post(f"{at}/passages/commented", json={"scope": nothing}), 422, "No passage fits")
