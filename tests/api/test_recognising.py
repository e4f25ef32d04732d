"""What is known from earlier deliveries, as the interface asks: tables that number their own rows, files under other
names."""

import json
import time

import pytest

from tests.at_work import HANG_S

MAY = [
    ("1", "Nine pages", "2031-05-03", "The board met for nine pages of minutes and no decision on the lynx."),
    (
        "2",
        "Lambs at market",
        "2031-05-14",
        "Compensation for nine lambs was asked for at the market in Orrin.",
    ),
    ("3", "No count", "2031-05-20", "Nobody could say how many sheep are kept above the birch wood."),
    ("4", "A gate", "2031-05-22", "The upper gate was left open, and the flock was gone by morning."),
]
JUNE = [
    (
        "1",
        "Deer on the road",
        "2031-06-02",
        "Two deer were seen on the coast road at dawn, and a van stopped.",
    ),
    ("2", "The tender", "2031-06-09", "A tender for collars went out; three firms have answered so far."),
    ("3", "Letters", "2031-06-11", "Readers write that wardens should be paid what drivers are paid."),
    ("4", "Rain", "2031-06-30", "It rained for a week, hay is late, prices for feed have doubled."),
]
CHAT = "\n".join(
    f"{day}/06/2031, 10:0{day} - {who}: {words}"
    for day, who, words in (
        (1, "Ann", "Has anybody seen the flock since the gate was left open last night?"),
        (2, "Ben", "They were by the birch wood this morning, all but two of them."),
        (3, "Ann", "Then the lynx was not here, or it was not hungry."),
        (4, "Ben", "Ask the warden, he walks there every evening anyway."),
        (5, "Ann", "He says he saw tracks, and a fox, and nothing else at all."),
    )
)


def table(rows):
    return "\n".join(["id,headline,date,text", *(",".join(f'"{cell}"' for cell in row) for row in rows)])


@pytest.fixture
def bring(client, at):
    """Look at a file, count what is expected, import it; (preview, expected, report)."""

    def run(name, content, **choices):
        upload = client.post(f"{at}/uploads", files=[("files", (name, content.encode(), "text/plain"))])
        upload = upload.json()["id"]
        looked = client.post(f"{at}/uploads/{upload}/preview", json={"lots": {}}).json()
        lots = {lot["key"]: lot["choice"] for lot in looked["lots"]}
        for choice in lots.values():
            choice["mapping"].update(choices)
        if choices:
            looked = client.post(f"{at}/uploads/{upload}/preview", json={"lots": lots}).json()
        asked = {"upload_id": upload, "lots": lots}
        expected = client.post(f"{at}/imports/expected", json=asked).json()
        job = client.post(f"{at}/imports", json=asked).json()["id"]
        deadline = time.monotonic() + HANG_S
        while (now := client.get(f"{at}/jobs/{job}").json())["state"] in ("queued", "running"):
            assert time.monotonic() < deadline
            time.sleep(0.05)
        assert now["state"] == "done", now["message"]
        return looked["lots"][0], expected, now["result"]

    return run


def test_a_table_that_numbers_its_own_rows_is_new_and_says_so(bring):
    bring("may.csv", table(MAY))
    lot, expected, report = bring("june.csv", table(JUNE))
    assert (lot["renumbered"], lot["rule"]) == (4, "row")
    assert (expected["new"], expected["changed"]) == (4, 0)
    assert (report["new"], report["known"]) == (4, 0)
    again = bring("june again.csv", table(JUNE))[2]
    assert (again["new"], again["known"]) == (0, 4)


def test_the_key_holds_where_somebody_says_so(bring):
    bring("may.csv", table(MAY))
    _, expected, report = bring("june.csv", table(JUNE), same="key")
    assert (expected["new"], expected["changed"]) == (0, 4)
    assert report["new"] == 0


def test_a_corrected_delivery_keeps_its_keys(bring):
    bring("may.csv", table(MAY))
    corrected = [(key, head, date, words.replace("nine", "seven")) for key, head, date, words in MAY]
    lot, expected, _ = bring("may corrected.csv", table(corrected))
    assert (lot["renumbered"], lot["rule"]) == (0, "key")
    assert (expected["new"], expected["changed"], expected["known"]) == (0, 2, 2)


def test_a_longer_delivery_with_the_same_first_rows_keeps_its_keys(bring):
    bring("may.csv", table(MAY))
    more = [(str(int(key) + 4), *rest) for key, *rest in JUNE]
    lot, expected, report = bring("may and june.csv", table([*MAY, *more]))
    assert (lot["renumbered"], expected["new"], expected["known"]) == (0, 4, 4)
    assert report["new"] == 4


def test_the_same_chat_under_another_name_is_known(bring):
    _, _, first = bring("chat.txt", CHAT)
    assert first["new"] == 5
    _, expected, report = bring("chat (1).txt", CHAT)
    assert (expected["new"], report["new"], report["known"]) == (0, 0, 5)


def test_two_different_documents_without_a_title_stay_two(bring):
    assert bring("one.txt", MAY[0][3])[2]["new"] == 1
    assert bring("two.txt", MAY[1][3])[2]["new"] == 1
    assert bring("three.txt", MAY[0][3])[2]["new"] == 0


def without_key(rows):
    return "\n".join(
        [
            "headline,source,date,text",
            *(",".join(f'"{cell}"' for cell in (h, "Hill Farmer", d, t)) for _, h, d, t in rows),
        ]
    )


def nearly(client, at, name, content):
    """(what is expected, the choices that go with an import) of a delivery."""
    upload = client.post(f"{at}/uploads", files=[("files", (name, content.encode(), "text/csv"))]).json()[
        "id"
    ]
    looked = client.post(f"{at}/uploads/{upload}/preview", json={"lots": {}}).json()
    asked = {"upload_id": upload, "lots": {lot["key"]: lot["choice"] for lot in looked["lots"]}}
    return client.post(f"{at}/imports/expected", json=asked).json(), asked


def finished(client, at, asked):
    job = client.post(f"{at}/imports", json=asked).json()["id"]
    deadline = time.monotonic() + HANG_S
    while (now := client.get(f"{at}/jobs/{job}").json())["state"] in ("queued", "running"):
        assert time.monotonic() < deadline
        time.sleep(0.05)
    assert now["state"] in ("done", "failed"), now
    return now


CORRECTED = [(*row[:3], row[3].replace("nine", "seven").replace("open,", "open by somebody,")) for row in MAY]


def test_a_corrected_row_without_a_key_is_shown_for_a_decision(bring, client, at):
    bring("may.csv", without_key(MAY))
    expected, asked = nearly(client, at, "may corrected.csv", without_key(CORRECTED))
    assert (expected["new"], expected["known"], expected["nearly"]) == (3, 1, 3)
    one, other, third = expected["perhaps"]
    assert {part["kind"] for part in one["words"]} == {"same", "gone", "new"}
    again = {
        "corrects": [{"identity": one["identity"], "text_id": one["text_id"]}],
        "left_out": [other["identity"]],
    }
    report = finished(client, at, asked | {"again": again})["result"]
    assert (report["new"], report["refused"]) == (1, 1)
    assert "Left out, as was chosen" in report["refusals"][0]["reason"]
    texts = client.post(f"{at}/texts/page", json={"most": 50}).json()["rows"]
    assert len(texts) == 5
    body = client.get(f"{at}/texts/{one['text_id']}").json()["body"]
    assert "seven pages" in body and "nine" not in body
    expected, _ = nearly(client, at, "may corrected, once more.csv", without_key(CORRECTED))
    assert one["identity"] not in [row["identity"] for row in expected["perhaps"]]
    assert (expected["new"], expected["known"]) == (1, 3)  # only what was left out is new


def test_a_correction_undone_is_asked_about_again(bring, client, at):
    bring("may.csv", without_key(MAY))
    expected, asked = nearly(client, at, "may corrected.csv", without_key(CORRECTED))
    corrects = [{"identity": one["identity"], "text_id": one["text_id"]} for one in expected["perhaps"]]
    finished(client, at, asked | {"again": {"corrects": corrects}})
    assert nearly(client, at, "again.csv", without_key(CORRECTED))[0]["known"] == 4
    assert client.post(f"{at}/undo", json={}).status_code == 200
    expected, _ = nearly(client, at, "again.csv", without_key(CORRECTED))
    assert (expected["known"], expected["nearly"]) == (1, 3)
    assert client.post(f"{at}/redo", json={}).status_code == 200
    assert nearly(client, at, "again.csv", without_key(CORRECTED))[0]["known"] == 4


def test_texts_of_another_project_are_corrected_by_nobody(bring, client, at):
    bring("may.csv", without_key(MAY))
    elsewhere = client.post("/api/v1/projects", json={"name": "Elsewhere"}).json()["id"]
    there = f"/api/v1/projects/{elsewhere}"
    _, asked = nearly(client, there, "may.csv", without_key(MAY))
    finished(client, there, asked)
    theirs = client.post(f"{there}/texts/page", json={"most": 1}).json()["rows"][0]["id"]
    expected, asked = nearly(client, at, "may corrected.csv", without_key(CORRECTED))
    again = {"corrects": [{"identity": expected["perhaps"][0]["identity"], "text_id": theirs}]}
    assert client.post(f"{at}/imports", json=asked | {"again": again}).status_code == 404
    assert client.get(f"{there}/texts/{theirs}").json()["body"] in [row[3] for row in MAY]


def test_other_texts_of_the_same_day_are_no_corrections(bring, client, at):
    bring("may.csv", without_key(MAY))
    others = [(key, head, MAY[at_][2], words) for at_, (key, head, _, words) in enumerate(JUNE)]
    expected, _ = nearly(client, at, "others.csv", without_key(others))
    assert (expected["new"], expected["nearly"]) == (4, 0)


def test_replies_of_a_json_file_become_texts_of_their_own_by_choice(client, at):
    replies = [{"id": n, "text": f"Reply number {n}, of some words."} for n in range(1, 4)]
    posts = [
        {
            "id": f"p{n}",
            "text": f"The gate is open, for the {n}th time.",
            "date": "2031-06-03",
            "replies": replies,
        }
        for n in range(1, 3)
    ]
    upload = client.post(
        f"{at}/uploads", files=[("files", ("posts.json", json.dumps(posts).encode(), "application/json"))]
    ).json()["id"]
    looked = client.post(f"{at}/uploads/{upload}/preview", json={"lots": {}}).json()["lots"][0]
    assert looked["lists"] == ["replies"] and looked["numbers"]["texts"] == 2
    choice = looked["choice"] | {"records": "replies", "mapping": None}
    looked = client.post(f"{at}/uploads/{upload}/preview", json={"lots": {looked["key"]: choice}}).json()[
        "lots"
    ][0]
    assert looked["numbers"]["texts"] == 6 and "of.text" in looked["header"]
    job = finished(client, at, {"upload_id": upload, "lots": {looked["key"]: looked["choice"]}})
    assert job["result"]["new"] == 6, job
