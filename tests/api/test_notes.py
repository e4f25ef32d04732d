"""Notes, the quotes in them and paraphrases over HTTP, and what becomes of them."""

import io

import docx
import pytest

from tests.api.test_api import problem
from tests.api.test_corpus_station import done, ids, undo
from tests.api.test_deliveries import bring


class Notebook:
    """Short ways to write and find notes; texts by their titles."""

    def __init__(self, client, at):
        self.client, self.at = client, at

    def place(self, title, words):
        text_id = ids(self.client, self.at)[title]
        body = self.client.get(f"{self.at}/texts/{text_id}").json()["body"]
        start = body.index(words)
        return {"text_id": text_id, "start": start, "end": start + len(words)}

    def make(self, **given):
        return done(self.client.post(f"{self.at}/notes", json=given), 201)

    def find(self, **asked):
        return done(self.client.post(f"{self.at}/notes/find", json=asked))

    def titles(self, **asked):
        return [note["title"] for note in self.find(**asked)["notes"]]

    def change(self, note, **values):
        url = f"{self.at}/notes/{note['id']}"
        return done(self.client.patch(url, json={"revision": note["revision"]} | values))

    def correct(self, title, old, new):
        text_id = ids(self.client, self.at)[title]
        text = self.client.get(f"{self.at}/texts/{text_id}").json()
        body = {"body": text["body"].replace(old, new), "revision": text["revision"]}
        done(self.client.put(f"{self.at}/texts/{text_id}/body", json=body))


@pytest.fixture
def book(client, at, filled):
    return Notebook(client, at)


def test_notes_hang_on_anything_and_are_found_by_it(book, coding, colleague, client, at):
    coding.make("Losses")
    losses = coding.codes()["Losses"]["id"]
    book.make(title="The whole", kind="diary", body="Began today.")
    book.make(title="On a code", kind="question", body="Is it **one** code?", code_id=losses)
    book.make(
        title="On a text", kind="idea", **book.place("Deer", "Deer fell") | {"start": None, "end": None}
    )
    on_passage = book.make(title="On a passage", **book.place("Claims", "flocks and lambs"), code_id=losses)
    assert (on_passage["words"], on_passage["code_name"], on_passage["mine"]) == (
        "flocks and lambs",
        "Losses",
        True,
    )
    done(colleague.client.post(f"{at}/notes", json={"title": "Hers", "kind": "method", "body": "x"}), 201)
    for on, wanted in {
        "project": ["Hers", "The whole"],
        "code": ["On a code"],
        "text": ["On a text"],
        "passage": ["On a passage"],
    }.items():
        assert sorted(book.titles(on=on)) == wanted
    assert book.titles(find="ONE** code") == ["On a code"] and book.titles(kind="idea") == ["On a text"]
    assert book.titles(code_id=losses, sort="oldest") == ["On a code", "On a passage"]
    found = book.find(sort="kind", most=2, start=1)
    assert found["total"] == 5 and [one["kind"] for one in found["notes"]] == ["idea", "method"]
    assert {one["kind"]: one["notes"] for one in found["kinds"]} == dict.fromkeys(
        ("", "diary", "idea", "method", "question"), 1
    )
    hers = next(one for one in found["authors"] if one["name"] == "Orla Venn")
    assert book.titles(author=hers["id"]) == ["Hers"]
    assert client.get(at).json()["notes"] == 5


def test_a_note_on_a_code_outlives_it_and_undo_hangs_it_back(book, coding, client, at):
    coding.make("Losses")
    coding.make("Costs")
    codes = coding.codes()
    book.make(title="Why", code_id=codes["Losses"]["id"])
    done(client.post(f"{at}/codes/{codes['Losses']['id']}/merge", json={"into_id": codes["Costs"]["id"]}))
    assert book.find()["notes"][0]["code_name"] == "Costs"
    done(client.delete(f"{at}/codes/{codes['Costs']['id']}"))
    assert book.find()["notes"][0]["code_name"] is None
    undo(client, at)
    undo(client, at)
    assert book.find()["notes"][0]["code_name"] == "Losses"


def test_quotes_stay_the_words_of_their_text(book, client, at):
    place = book.place("Claims", "flocks and lambs")
    note = done(client.post(f"{at}/notes/quotes", json={"title": "Kept", "places": [place]}), 201)
    assert note["body"] == f"[quote](quote:{note['quotes'][0]['id']})"
    quote = note["quotes"][0]
    assert (quote["words"], quote["title"], quote["gone"]) == ("flocks and lambs", "Claims", False)
    book.correct("Claims", "flocks and lambs", "flocks and many lambs")
    assert book.find()["notes"][0]["quotes"][0]["words"] == "flocks and many lambs"
    book.correct("Claims", "flocks and many lambs", "beasts")
    gone = book.find()["notes"][0]["quotes"][0]
    assert (gone["words"], gone["gone"], gone["title"]) == ("flocks and lambs", True, "Claims")
    undo(client, at)
    assert book.find()["notes"][0]["quotes"][0]["words"] == "flocks and many lambs"
    # what is taken out of the note is gone with it, and back with undo
    kept = book.change(book.find()["notes"][0], body="Nothing quoted.")
    assert kept["quotes"] == []
    undo(client, at)
    assert len(book.find()["notes"][0]["quotes"]) == 1


def test_a_quote_copied_into_another_note_is_its_own(book, client, at):
    first = done(client.post(f"{at}/notes/quotes", json={"places": [book.place("Claims", "flocks")]}), 201)
    second = book.change(book.make(title="Second"), body=f"See {first['body']} here")
    assert second["quotes"][0]["id"] != first["quotes"][0]["id"]
    assert second["quotes"][0]["words"] == "flocks"
    done(client.delete(f"{at}/notes/{first['id']}"))
    assert book.find()["notes"][0]["quotes"][0]["words"] == "flocks"


def test_two_who_write_in_one_note_overwrite_nothing(book, colleague, client, at):
    note = book.make(title="Ours", body="First")
    url = f"{at}/notes/{note['id']}"
    done(colleague.client.patch(url, json={"revision": note["revision"], "body": "Hers"}))
    refused = problem(client.patch(url, json={"revision": note["revision"], "body": "Mine"}), 409, "Somebody")
    assert refused["current"]["body"] == "Hers"


def test_bad_notes_lose_nothing(book, coding, client, at):
    long = client.post(f"{at}/notes", json={"body": "x" * 200_001})
    problem(long, 422, "at most 200,000 characters; this one has 200,001")
    script = book.make(body="<script>alert(1)</script> and [here](javascript:alert(1))")
    assert script["body"].startswith("<script>"), "kept as written, never shown as HTML"
    problem(client.post(f"{at}/notes", json={"start": 1, "end": 2}), 422, "names its text")
    problem(client.post(f"{at}/notes", json={"code_id": 10**9}), 404, "no such code")
    problem(client.post(f"{at}/notes", json={"text_id": 10**9, "body": "x"}), 404, "no such text")
    nowhere = {"places": [book.place("Claims", "flocks") | {"start": 5_000, "end": 5_010}]}
    problem(client.post(f"{at}/notes/quotes", json=nowhere), 422, "no words")
    assert book.find()["total"] == 1


def test_notes_leave_with_their_quotes(book, coding, client, at):
    coding.make("Losses")
    done(
        client.post(f"{at}/notes/quotes", json={"title": "Kept", "places": [book.place("Claims", "flocks")]}),
        201,
    )
    book.make(
        title="Method", kind="method", code_id=coding.codes()["Losses"]["id"],
        body="We code *sentences*.\n\n- one\n- **two**\n\n<script>alert(1)</script> \x0b",
    )  # fmt: skip
    document = docx.Document(io.BytesIO(client.post(f"{at}/notes/export?form=docx", json={}).content))
    words = [(p.style.name, p.text) for p in document.paragraphs]
    assert ("Heading 1", "Method") in words and ("List Bullet", "two") in words
    assert any(style == "Quote" and text.startswith("flocks") for style, text in words)
    assert any("code Losses" in text for _, text in words)
    bold = [run.text for p in document.paragraphs for run in p.runs if run.bold]
    assert "two" in bold
    plain = client.post(f"{at}/notes/export?form=md", json={"kind": "method"}).text
    assert plain.startswith("# Notes") and "## Method" in plain and "flocks" not in plain


def test_paraphrases_are_found_changed_and_gathered_under_codes(book, coding, colleague, client, at):
    def say(title, words, body, status=201):
        place = book.place(title, words)
        return done(
            client.post(
                f"{at}/texts/{place.pop('text_id')}/paraphrases", json=place | {"words": words, "body": body}
            ),
            status,
        )

    def found(**asked):
        return done(client.post(f"{at}/paraphrases/find", json=asked))["paraphrases"]

    say("Claims", "flocks and lambs", "All their animals")
    say("Nine pages", "forty lambs", "Many animals")
    say("Deer", "Birch is back", "The wood recovers")
    assert [one["body"] for one in found(find="ANIMALS", sort="words")] == [
        "All their animals",
        "Many animals",
    ]
    source = found(find="Many")[0]["source"]
    assert {one["source"] for one in found(source=source)} == {source}
    bare = {"start": 0, "end": 6, "words": coding.body("Claims")[:6], "body": "  "}
    claims = ids(client, at)["Claims"]
    problem(client.post(f"{at}/texts/{claims}/paraphrases", json=bare), 422, "needs words")
    both = [one["id"] for one in found(find="animals")]
    gathered = done(client.post(f"{at}/paraphrases/gather", json={"paraphrases": both, "new": "Animals"}))
    assert gathered["texts"] == 2
    assert [one[:2] for one in coding.on("Claims")] == [("flocks and lambs", "Animals")]
    animals = coding.codes()["Animals"]["id"]
    assert [one["codes"] for one in found(find="animals")] == [[animals], [animals]]
    undo(client, at)
    assert "Animals" not in coding.codes() and found(find="animals")[0]["codes"] == []
    problem(client.post(f"{at}/paraphrases/gather", json={"paraphrases": both}), 422, "Name the code")
    # they keep to their words, and to the text where the words are gone
    book.correct("Claims", "flocks and lambs", "beasts")
    lost = next(one for one in found() if one["body"] == "All their animals")
    assert (lost["words"], lost["start"]) == ("", None)
    undo(client, at)
    changed = found(find="All their")[0]
    url = f"{at}/paraphrases/{changed['id']}"
    done(client.patch(url, json={"revision": changed["revision"], "body": "Everything"}))
    problem(client.patch(url, json={"revision": changed["revision"], "body": "Late"}), 409, "Somebody")
    sheet = client.post(f"{at}/paraphrases/export?form=csv", json={"sort": "words"}).text
    assert sheet.splitlines()[0].startswith("\ufeffsource,date,title,paraphrase")
    assert "Everything" in sheet and len(sheet.splitlines()) == 4
    done(client.delete(url))
    assert len(found()) == 2


def test_imported_abstracts_are_notes(client, at):
    study = (
        "TY  - JOUR\nTI  - Fear of lynx\nAU  - Tarn, A.\nPY  - 2030\nAB  - We asked ninety people.\nER  - \n"
    )
    bring(client, at, ("studies.ris", study))
    (note,) = done(client.post(f"{at}/notes/find", json={"kind": "abstract"}))["notes"]
    assert note["body"] == "We asked ninety people." and note["text_title"] == "Tarn 2030: Fear of lynx"


def test_notes_hang_on_findings_and_questions_and_stay_when_these_go(client, at, filled):
    view = {"view": "comparison", "comparison": {"target": {"kind": "dictionary", "dictionary": filled}}}
    finding = done(client.post(f"{at}/findings", json={"view": view, "title": "Lambs"}), 201)["id"]
    question = done(client.post(f"{at}/finding-questions", json={"words": "Who pays?"}), 201)["id"]
    on = {"finding": {"finding_id": finding}, "question": {"question_id": question}}
    for hangs in on.values():
        done(client.post(f"{at}/notes", json={"title": "Look again", **hangs}), 201)
    text_id = ids(client, at)["Deer"]
    for kind, hangs in on.items():
        found = done(client.post(f"{at}/notes/find", json={"on": kind}))["notes"]
        assert found == done(client.post(f"{at}/notes/find", json=hangs))["notes"] and len(found) == 1
        assert (found[0]["finding_title"], found[0]["question_words"]) == (
            ("Lambs", None) if kind == "finding" else (None, "Who pays?")
        )
    quotes = {"note_id": found[0]["id"], "places": [{"text_id": text_id, "start": 0, "end": 9}]}
    assert done(client.post(f"{at}/notes/quotes", json=quotes), 201)["quotes"][0]["words"] == "Deer fell"
    assert not done(client.post(f"{at}/notes/find", json={"on": "project"}))["notes"]
    md = client.post(f"{at}/notes/export?form=md", json={}).text
    assert "finding “Lambs”" in md and "question “Who pays?”" in md
    done(client.delete(f"{at}/findings/{finding}"))
    done(client.delete(f"{at}/finding-questions/{question}"))
    assert len(done(client.post(f"{at}/notes/find", json={"on": "project"}))["notes"]) == 2
    for _ in range(2):
        done(client.post(f"{at}/undo"))
    assert len(done(client.post(f"{at}/notes/find", json=on["finding"]))["notes"]) == 1
    assert len(done(client.post(f"{at}/notes/find", json=on["question"]))["notes"]) == 1
    problem(client.post(f"{at}/notes", json={"finding_id": 999_999}), 404, "no such finding")
