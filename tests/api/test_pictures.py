"""Every kind of view leaves as a picture: drawn, described, the same each time, with what any script writes."""

import io
import zipfile

import pytest
from lxml import etree
from PIL import Image

from tests.api.test_api import problem
from tests.api.test_findings import ask, keep, of_frames

SOURCE = {"field": "source"}


def size(content):
    return Image.open(io.BytesIO(content)).size


@pytest.fixture
def picture(client, at):
    def draw(finding, form="png"):
        answer = client.post(f"{at}/findings/export?form={form}", json={"findings": [finding["id"]]})
        assert answer.status_code == 200, answer.text
        return answer.content

    return draw


@pytest.fixture
def views(filled):
    months = {"field": "date", "period": "month"}
    frames = {"kind": "dictionary", "dictionary": filled}
    return {
        "dots": of_frames(filled),
        "one group": of_frames(filled, split={}),
        "trend": of_frames(filled, split=months),
        "share": of_frames(filled, measure="texts"),
        "map": {"view": "map", "comparison": {"target": frames, "split": SOURCE}},
        "changes": {"view": "changes", "comparison": {"target": frames, "split": months}},
        "keywords": {"view": "keywords", "split": SOURCE, "group": "Hill Farmer", "least": 1},
        "together": {"view": "together", "rows": frames, "within": "text"},
        "network": {"view": "network", "least": 1},
    }


def test_each_kind_of_view_is_drawn(client, at, views, picture):
    drawn = {}
    for name, view in views.items():
        answer = client.post(f"{at}/findings", json={"view": view, "title": f"{name}: who $pays$ 你好 مرحبا"})
        if answer.status_code == 422:  # five texts are too few for some
            drawn[name] = answer.json()["detail"]
            continue
        finding = answer.json()
        content = picture(finding)
        width, height = size(content)
        assert width == 1440 and 300 < height < 2_400, name
        assert picture(finding) == content, f"{name} is the same each time"
        svg = etree.fromstring(picture(finding, "svg"))
        assert svg.tag.endswith("svg") and len(list(svg.iter())) > 40
        drawn[name] = True
    assert {name for name, found in drawn.items() if found is True} >= {
        "dots",
        "one group",
        "trend",
        "share",
        "together",
    }, drawn


def test_several_leave_in_one_archive(client, at, filled):
    one, two = (keep(client, at, of_frames(filled), title=title) for title in ("A/b", "C"))
    answer = client.post(f"{at}/findings/export?form=svg", json={"findings": [one["id"], two["id"]]})
    packed = zipfile.ZipFile(io.BytesIO(answer.content))
    assert packed.namelist() == ["01 A b.svg", "02 C.svg"]


def test_nothing_to_draw_is_said(client, at, filled):
    nothing = [{"kind": "terms", "terms": ["nowhere"]}]
    answer = client.post(
        f"{at}/findings", json={"view": of_frames(filled, scope=nothing), "title": "Nothing"}
    )
    if answer.status_code == 201:
        asked = {"findings": [answer.json()["id"]]}
        problem(client.post(f"{at}/findings/export?form=png", json=asked), 422, "nothing to draw")
    ask(client, at, "findings/export?form=png", 404, findings=[999_999])


def test_signs_xml_cannot_hold_break_no_picture(client, at, filled, picture):
    finding = client.post(
        f"{at}/findings", json={"view": of_frames(filled), "title": "Bell \x07 and \x01 walk"}
    ).json()
    svg = picture(finding, "svg")
    etree.fromstring(svg)
    assert b"\x07" not in svg and size(picture(finding))[0] == 1440
