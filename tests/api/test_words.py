"""Word lists, concordance, company and search over HTTP."""

import csv
import io

import pytest
from python_calamine import CalamineWorkbook

from tests.api.test_api import marked, problem
from tests.conftest import write_table

HEADER = ["id", "title", "source", "date", "text", "tags", "age"]
SAID = {
    "Hill Farmer": [
        "The lambs are lost. A lamb is worth the price.",
        "Market price of lambs fell. #lynx",
        "Stock killed on the hill.",
    ],
    "Valley Wire": ["The market price rose. Stock exchange news.", "A laughing stock, said the wire. 🐾"],
    "Orrin Courier": ["Lambs and ewes. The price of stock.", "Nothing of the kind."],
}


def search(query):
    """A comparison of what a search finds."""
    return {"target": {"kind": "search", "query": query}}


@pytest.fixture
def words(client, at, deliver, tmp_path):
    rows, number = [], 0
    for source, texts in SAID.items():
        for text in texts:
            number += 1
            rows.append([str(number), f"Text {number}", source, f"2031-0{number}-03", text, "", ""])
    deliver(write_table(tmp_path / "words.csv", rows))

    def ask(path, status=200, **body):
        answer = client.post(f"{at}/{path}", json=body)
        assert answer.status_code == status, answer.text
        return answer.json()

    return ask


def names(page):
    return [row["name"] for row in page["rows"]]


def test_words_are_listed_by_source_without_the_stop_list(words):
    page = words("words")
    assert names(page)[:3] == ["price", "stock", "lambs"]
    assert "the" not in names(page)
    assert page["groups"] == ["Hill Farmer", "Orrin Courier", "Valley Wire"]
    row = next(row for row in page["rows"] if row["name"] == "price")
    assert (row["hits"], row["texts"], row["group_hits"]) == (4, 4, [2, 1, 1])
    assert row["term"] == "price" and row["evenness"] is not None
    everything = words("words", stop=False)
    assert "the" in names(everything) and everything["total"] > page["total"]


def test_a_row_leads_to_the_passages_it_counts(words):
    for request in (
        {},
        {"merge": "lemma"},
        {"merge": "stem"},
        {"unit": "phrase", "least_hits": 2},
        {"kinds": ["hashtag", "emoji"]},
    ):
        for row in words("words", **request)["rows"]:
            found = words(
                "evidence", comparison={"target": {"kind": "terms", "terms": [{"source": row["term"]}]}}
            )
            assert (found["hits"], found["texts"]) == (row["hits"], row["texts"]), row


def test_forms_of_a_lemma_are_one_row(words):
    row = next(row for row in words("words", merge="lemma")["rows"] if row["name"] == "lamb")
    assert [(one["form"], one["hits"], one["term"]) for one in row["forms"]] == [
        ("lambs", 3, "lambs"),
        ("lamb", 1, "lamb"),
    ]
    assert (row["hits"], row["texts"], row["term"]) == (4, 3, "lambs | lamb")


def test_lists_are_paged_sorted_and_searched(words):
    whole = names(words("words", sort="name", descending=False, stop=False))
    parts = [
        names(words("words", sort="name", descending=False, stop=False, start=at, most=4))
        for at in range(0, len(whole), 4)
    ]
    assert [name for part in parts for name in part] == whole == sorted(whole)
    assert names(words("words", find="la*", sort="name", descending=False)) == ["lamb", "lambs", "laughing"]
    by_rate = words("words", sort="group", group="Valley Wire")["rows"]
    assert by_rate[0]["group_hits"][2] > 0
    problem_of = words("words", 404, sort="group", group="Nobody")
    assert "no group “Nobody”" in problem_of["detail"]


def test_phrases(words):
    page = words("words", unit="phrase", length=2, least_hits=2)
    assert names(page) == ["market price"]
    assert page["rows"][0]["group_hits"] == [1, 0, 1]


def test_words_are_put_on_and_off_the_stop_list(words, client, at):
    assert client.post(f"{at}/words/stop-list", json={"forms": ["Price", "the", " "]}).json()["label"] == "1"
    assert "price" not in names(words("words"))
    settings = client.get(f"{at}/words/settings").json()
    assert settings["added"] == ["price"] and "the" in settings["shipped"]
    client.post(f"{at}/words/stop-list", json={"forms": ["the", "price"], "listed": False})
    settings = client.get(f"{at}/words/settings").json()
    assert (settings["added"], settings["kept"]) == ([], ["the"])
    assert {"the", "price"} <= set(names(words("words")))
    client.post(f"{at}/undo")
    assert "the" not in names(words("words"))


def test_the_language_decides_lists_and_lemmas(words, client, at):
    assert client.put(f"{at}/words/language", json={"language": "zu"}).status_code == 200
    page = words("words")
    assert page["can_merge"] == [] and "the" in names(page)
    assert "no list of word forms" in words("words", 422, merge="lemma")["detail"]
    problem(client.put(f"{at}/words/language", json={"language": "xx"}), 422, "no word list for the language")
    assert client.put(f"{at}/words/language", json={"language": "none"}).status_code == 200
    assert words("words")["left_out"] == 0
    client.post(f"{at}/undo")
    client.post(f"{at}/undo")
    assert words("words")["language"] == "en"


@pytest.mark.parametrize("form", ["csv", "xlsx"])
def test_a_word_list_is_exported_whole(words, client, at, form):
    answer = client.post(f"{at}/words/export?form={form}", json={"most": 1})
    if form == "csv":
        rows = list(csv.reader(io.StringIO(answer.text.lstrip("\ufeff"))))
    else:
        book = CalamineWorkbook.from_filelike(io.BytesIO(answer.content))
        rows = book.get_sheet_by_name("List").to_python()
        assert book.get_sheet_by_name("How it was counted").to_python()[0][0] == "What was counted"
    assert len(rows) - 1 == words("words")["total"]
    assert rows[0][:5] == ["word", "kind", "hits", "texts", "evenness"]
    price = next(row for row in rows if row[0] == "price")
    assert float(price[2]) == 4


def lines(page):
    return [(p["before"].split()[-1:], p["text"], p["after"].split()[:1]) for p in page["passages"]]


def test_a_concordance_is_sorted_by_neighbours_and_paged(words):
    right = words("concordance", comparison=search("stock"), sort="right1")
    after = [after for _, _, after in lines(right)]
    assert after == [["exchange"], ["killed"], [","], ["."]]
    first = words("concordance", comparison=search("stock"), sort="right1", most=3)
    rest = words("concordance", comparison=search("stock"), sort="right1", start=first["next"])
    assert lines(first) + lines(rest) == lines(right)
    left = [before for before, _, _ in lines(words("concordance", comparison=search("stock"), sort="left1"))]
    assert left[:2] == [["laughing"], ["of"]]
    by_source = [
        p["source"] for p in words("concordance", comparison=search("stock"), sort="source")["passages"]
    ]
    assert by_source == sorted(by_source)
    only = words("concordance", comparison=search("price"), sort="date", at=-1, beside="Market")
    assert [p["source"] for p in only["passages"]] == ["Hill Farmer", "Valley Wire"]


def test_neighbours_are_counted(words):
    found = words("concordance/neighbours?offset=-1", comparison=search("price"))
    assert (
        found["words"] == [{"word": "market", "hits": 2}, {"word": "the", "hits": 2}]
        and found["different"] == 2
    )


def test_lines_are_widened_in_place(words, client, at):
    passage = words("concordance", comparison=search("killed"))["passages"][0]
    place = {"text_id": passage["text_id"], "start": passage["start"], "end": passage["start"] + 6}
    for to in ("sentence", "paragraph", "text"):
        wide = words("widen", **place, to=to)
        assert wide["text"] == "Stock killed on the hill."
        assert wide["text"][wide["mark_start"] : wide["mark_end"]] == "killed"
    first = words("concordance", comparison=search("lamb"))["passages"][0]
    sentence = words(
        "widen", text_id=first["text_id"], start=first["start"], end=first["start"] + 4, to="sentence"
    )
    assert sentence["text"] == "A lamb is worth the price." and not sentence["whole"]


def test_a_concordance_is_exported(words, client, at):
    answer = client.post(
        f"{at}/concordance/export?form=csv", json={"comparison": search("price"), "sort": "left1"}
    )
    rows = list(csv.DictReader(io.StringIO(answer.text.lstrip("\ufeff"))))
    assert len(rows) == 4 and {row["hit"] for row in rows} == {"price"}
    assert rows[0]["left"].rstrip().lower().endswith("market")


def test_company_of_a_term_and_of_a_category(words, client, at):
    page = words("collocates", comparison=search("price"), least=1, stop=False)
    market = next(row for row in page["rows"] if row["word"] == "market")
    assert (market["together"], market["total"], market["left"], market["right"]) == (2, 2, 2, 0)
    assert market["by_position"][4] == 2 and market["g2"] > 0
    assert "the" not in [
        row["word"] for row in words("collocates", comparison=search("price"), least=1)["rows"]
    ]
    by_dice = words("collocates", comparison=search("price"), least=1, by="log_dice")["rows"]
    assert [r["log_dice"] for r in by_dice] == sorted((r["log_dice"] for r in by_dice), reverse=True)
    rows = list(
        csv.DictReader(
            io.StringIO(
                client.post(
                    f"{at}/collocates/export", json={"comparison": search("price"), "least": 1}
                ).text.lstrip("\ufeff")
            )
        )
    )
    assert rows[0]["word"] and float(rows[0]["G2"]) >= float(rows[-1]["G2"])


def test_a_search_counts_texts_by_source_and_leads_on(words, client, at):
    found = words("search", query="price AND NOT stock")
    assert (found["texts"], found["hits"], found["as_term"]) == (2, 2, None)
    assert [(g["label"], g["texts"], g["hits"], g["of_texts"]) for g in found["groups"]] == [
        ("Hill Farmer", 2, 2, 3),
        ("Orrin Courier", 0, 0, 2),
        ("Valley Wire", 0, 0, 2),
    ]
    assert words("evidence", comparison=search("price AND NOT stock"))["hits"] == 2
    assert words("scope", scope=[{"kind": "matches", "query": "price AND NOT stock"}])["texts"] == 2
    assert words("search", query="lamb OR market price")["as_term"] == "lamb | market price"
    bad = words("search", 422, query="price AND (")
    assert bad["position"] is not None
    made = client.post(f"{at}/sets", json={"name": "Prices", "rule": [{"kind": "matches", "query": "price"}]})
    assert made.status_code == 201, made.text
    sets = next(v for v in client.get(f"{at}/variables").json() if v["role"] == "sets")
    assert [(v["label"], v["texts"]) for v in sets["values"]] == [("Prices", 4)]


def test_variants_and_synonyms_are_offered_and_taken_in(words):
    found = words("search/offers", query="lamb AND cost")
    lamb, cost = found["words"]
    assert {"text": "lambs", "hits": 3, "reason": "form"} in lamb["offers"]
    if found["thesaurus"]:
        assert {"text": "price", "hits": 4, "reason": "synonym"} in cost["offers"]
    taken = words("search/alternatives", query="lamb AND cost", added={"lamb": ["lambs"]})
    assert taken["query"] == "(lamb | lambs) AND cost"


def test_reading_marks_what_was_asked_for(words, client, at):
    text = words("concordance", comparison=search("exact-case: Stock"))["passages"][0]["text_id"]

    def marks(target: dict) -> int:
        return len(client.get(f"{at}/texts/{text}", params={"marked": marked(target)}).json()["marks"])

    exact = {"source": "stock", "match_case": True}
    assert marks({"kind": "terms", "terms": [exact]}) == 0
    assert marks({"kind": "terms", "terms": [{"source": "stock", "ignore_accents": True}]}) == 1
    assert marks({"kind": "search", "query": "stock AND NOT wool"}) == 1
