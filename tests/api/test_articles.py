"""The search for articles over HTTP, to the texts that come of it."""

import pytest

from tests.api.test_api import chosen, problem, wait_for
from tests.api.test_corpus_station import done
from tests.api.test_findings import ask


@pytest.fixture
def imported(client, at):
    """What came of an upload that is imported as the first look offers it."""

    def bring(upload):
        look = done(client.post(f"{at}/uploads/{upload}/preview", json={}))
        job = done(client.post(f"{at}/imports", json={"upload_id": upload, "lots": chosen(look)}), 201)
        ended = wait_for(client, at, job["id"])
        assert ended["state"] == "done", ended["message"]
        return ended["result"]

    return bring


def search(client, at, **asked):
    return ask(client, at, "articles/search", **asked)


def test_records_are_found_a_page_at_a_time_with_a_summary_of_the_first(client, at):
    page = search(client, at, words="lynx kittens", most=10)
    assert page["total"] > 10 and len(page["records"]) == 10 and 1 < len(page["summary"]) <= 5
    again = search(client, at, words="lynx kittens", most=10, start=10)
    assert not {one["id"] for one in page["records"]} & {one["id"] for one in again["records"]}
    assert again["summary"] == [] and sum(one["records"] for one in page["kinds"]) == page["total"]
    assert "made up" in page["service"]
    assert search(client, at, words="submarine")["total"] == 0


def test_a_record_is_cited_in_two_styles(client, at):
    one = search(client, at, words="trust", kinds=["study"])["records"][0]
    found = client.get(f"{at}/articles/records/{one['id']}").json()
    family = one["authors"][0].split(",")[0]
    assert found["author_date"].startswith(family) and f"({one['year']})" in found["author_date"]
    assert found["notes"].startswith(family) and f"“{one['title']}.”" in found["notes"]
    problem(client.get(f"{at}/articles/records/VR-0000"), 404, "VR-0000")


def test_what_is_taken_goes_through_the_import_and_is_known_from_then_on(client, at, imported):
    first, second, third = search(client, at, words="compensation lambs", most=3)["records"]
    upload = ask(client, at, "articles/take", 201, ids=[first["id"], second["id"], first["id"]])
    assert upload["files"] == ["articles.ris"]
    report = imported(upload["id"])
    assert report["new"] == 2 and report["refused"] == 0
    now = {
        one["id"]: one["there"] for one in search(client, at, words="compensation lambs", most=3)["records"]
    }
    assert now == {first["id"]: True, second["id"]: True, third["id"]: False}
    again = ask(client, at, "articles/take", 201, ids=[first["id"], third["id"]])
    report = imported(again["id"])
    assert (report["new"], report["known"]) == (1, 1)
    problem(client.post(f"{at}/articles/take", json={"ids": ["VR-0000"]}), 404, "VR-0000")
