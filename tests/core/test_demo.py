"""The demo corpus is what its description says: made anew from its seed, varied, with its traps."""

import csv
import re
from collections import Counter

import pytest
from demo import make
from demo.banks import voices
from demo.banks.claims import CLAIMS
from demo.grammar import Writer, tidy

from winnower.readers.dictionary_file import read_dictionary_file
from winnower.settings import ROOT

FILES = ROOT / "demo" / "files"


def table(name, **options):
    with (FILES / name).open(encoding="utf-8-sig", newline="") as file:
        return list(csv.DictReader(file, **options))


@pytest.fixture(scope="module")
def news():
    return table("news.csv") + table("news-second-delivery.csv")


@pytest.fixture(scope="module")
def texts(news):
    once = {row["id"]: row["article"] for row in news}
    interviews = [path.read_text(encoding="utf-8") for path in (FILES / "interviews").iterdir()]
    survey = [row["answer"] for row in table("survey.csv", delimiter=";")]
    return [*once.values(), *interviews, *survey, *(row["post"] for row in table("posts.csv"))]


def test_the_same_seed_makes_the_same_files(tmp_path, monkeypatch):
    monkeypatch.setattr(make, "FOLDER", tmp_path)
    make.main()
    for path in sorted(p for p in tmp_path.rglob("*") if p.is_file()):
        assert path.read_bytes() == (FILES / path.relative_to(tmp_path)).read_bytes(), path.name


def test_its_size(texts):
    assert 1_300 <= len(texts) <= 1_500
    assert 380_000 <= sum(len(text.split()) for text in texts) <= 450_000


def test_hardly_any_sentence_repeats(texts):
    sentences = Counter(
        sentence
        for text in texts
        for sentence in re.split(r"(?<=[.!?])\s+", text)
        if len(sentence.split()) > 7
    )
    often = [s for s, n in sentences.items() if n > 6]
    assert len(often) < len(sentences) * 0.01, often[:5]


def test_nothing_is_left_unfilled(texts):
    for text in texts:
        assert not re.search(r"[{}|$]|EMOJI|TAG\b", text), text[:200]
        assert "  " not in text.replace("\n\n", "\n")


def test_the_agency_report_stands_in_four_outlets(news):
    rows = {row["outlet"]: row["article"] for row in news if row["byline"] == "Agency"}
    assert set(rows) == {"Orrin Courier", "Hill Farmer", "Valley Wire", "The Lantern"}
    assert len(set(rows.values())) >= 3


def test_the_traps_are_there(news):
    assert sum(not row["article"] for row in news) >= 2
    assert max(len(row["article"].split()) for row in news) >= 9_000
    posts = [row["post"] for row in table("posts.csv")]
    assert voices.FOREIGN_POST in posts
    assert any(any(wrong in post for wrong in voices.MISSPELLINGS.values()) for post in posts)
    assert any("🐾" in post for post in posts) and any("#" in post for post in posts)
    assert any(";" in row["heard first from"] for row in table("survey.csv", delimiter=";"))
    first = {row["id"] for row in table("news.csv")}
    second = {row["id"] for row in table("news-second-delivery.csv")}
    assert first & second and second - first


def test_sources_have_their_own_mix(news):
    def share(outlet, word):
        own = [row["article"].lower() for row in news if row["outlet"] == outlet]
        return sum(text.count(word) for text in own) / sum(len(text.split()) for text in own)

    assert share("Hill Farmer", "lamb") > 1.5 * share("The Lantern", "lamb")
    assert share("The Lantern", "deer") > 1.5 * share("Hill Farmer", "deer")
    assert share("Valley Wire", "children") > share("Hill Farmer", "children")


def test_the_dictionary_can_be_read_whole():
    read = read_dictionary_file(FILES / "lynx-frames.csv")
    assert not read.refused and not read.doubles
    assert len(read.dictionary.categories) == 6
    assert 85 <= sum(len(c.terms) for c in read.dictionary.categories) <= 105


def test_the_writer_makes_every_choice_and_is_repeatable():
    one, two = Writer(4), Writer(4)
    made = [one.claim("livelihood") for _ in range(200)]
    assert made == [two.claim("livelihood") for _ in range(200)]
    assert len(set(made)) > len(CLAIMS["livelihood"])
    assert tidy("the lambs ,  gone .  she left") == "The lambs, gone. She left"
