"""The demo corpus is what its description says: made anew from its seed, varied, with its traps."""

import csv
import gzip
import re
import zipfile
from collections import Counter

import pytest
from demo import make
from demo.banks import news as news_bank
from demo.banks import voices
from demo.banks.claims import CLAIMS
from demo.formats import sentence_key
from demo.grammar import Writer, plural, rows_of, sentences_of, tidy

from winnower.readers.dictionary_file import read_dictionary_file
from winnower.readers.documents import read_document
from winnower.settings import ROOT

FILES = ROOT / "demo" / "files"


def table(name, **options):
    with (FILES / name).open(encoding="utf-8-sig", newline="") as file:
        return list(csv.DictReader(file, **options))


@pytest.fixture(scope="module")
def made():
    """What the script writes, before it becomes files."""
    demo = make.Demo()
    names = ("news", "posts", "survey", "studies", "interviews")
    return {name: getattr(demo, name)() for name in names} | {"truth": demo.w.truth}


@pytest.fixture(scope="module")
def news(made):
    return made["news"]


@pytest.fixture(scope="module")
def texts(made):
    survey = [row["answer"] for row in made["survey"]]
    posts = [row["post"] for row in made["posts"]]
    return [*(row["article"] for row in made["news"]), *made["interviews"].values(), *survey, *posts]


def test_the_same_seed_makes_the_same_files(tmp_path, monkeypatch):
    monkeypatch.setattr(make, "FOLDER", tmp_path)
    make.main()
    for path in sorted(p for p in tmp_path.rglob("*") if p.is_file()):
        assert path.read_bytes() == (FILES / path.relative_to(tmp_path)).read_bytes(), path.name


def test_its_size(texts):
    assert 1_300 <= len(texts) <= 1_500
    assert 380_000 <= sum(len(text.split()) for text in texts) <= 450_000


def test_it_is_rich_enough_to_learn_from(texts):
    """So many different words, and no row of eight words that comes too often, but those of the agency report."""
    assert len({word for text in texts for word in re.findall(r"[a-z][a-z'’-]*", text.lower())}) >= 8_000
    agency = set(rows_of(news_bank.AGENCY))
    rows = Counter(
        row
        for text in texts
        for sentence in re.split(r"(?<=[.!?”])\s+|\n+", text)
        for row in rows_of(sentence)
        if row not in agency
    )
    assert max(rows.values()) <= 12, rows.most_common(3)


def test_what_sentences_are_about_is_known_and_kept_aside(made):
    with gzip.open(ROOT / "demo" / make.TRUTH, "rt") as file:
        known = {row["sentence"]: row["frames"] for row in csv.DictReader(file)}
    assert not (FILES / make.TRUTH).exists()
    articles = [row["article"] for row in made["news"] if row["byline"] != "Agency"]
    looked = [
        known.get(sentence_key(sentence))
        for text in articles[:60]
        for paragraph in text.split("\n\n")
        for sentence in sentences_of(paragraph)
    ]
    assert looked.count(None) < len(looked) * 0.02
    frames = Counter(frame for one in looked if one for frame in one.split("|"))
    assert set(frames) == set(CLAIMS)

    def share(frame):
        of = [text for text, frames in made["truth"].items() if frames == (frame,)]
        return sum(bool(re.search("kitten|photograph|wild|beaut|visitor", text)) for text in of) / len(of)

    assert share("wonder") > 5 * max(share("governance"), share("livelihood"))


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


def test_the_traps_are_there(made, news):
    assert sum(not row["article"] for row in news) >= 2
    assert max(len(row["article"].split()) for row in news) >= 9_000
    posts = [row["post"] for row in made["posts"]]
    assert voices.FOREIGN_POST in posts
    assert any(any(wrong in post for wrong in voices.MISSPELLINGS.values()) for post in posts)
    assert any("🐾" in post for post in posts) and any("#" in post for post in posts)
    assert any(";" in row["heard first from"] for row in table("survey.csv", delimiter=";"))
    second = {row["published"] for row in table("second-delivery.csv")}
    assert min(second) < make.SECOND_FROM <= max(second), "the second delivery brings some once more"


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
    assert tidy("a owl and a ewe, a cooper,, saw.") == "An owl and a ewe, a cooper, saw."
    assert [plural(one) for one in ("calf", "hive of bees", "pony", "donkey", "finch")] == [
        "calves", "hives of bees", "ponies", "donkeys", "finches",
    ]  # fmt: skip


def test_files_hold_what_was_made(made):
    """Read through the product's own readers, the files give the texts that went into them."""
    long_read = max(made["news"], key=lambda row: len(row["article"]))
    content = (FILES / "the-lantern-long-read.pdf").read_bytes()
    document = read_document("pdf", content, "a.pdf", 10**7)
    assert document.body.split() == long_read["article"].split()
    pages = zipfile.ZipFile(FILES / "the-lantern-pages.zip")
    by_id = {row["id"]: row for row in made["news"]}
    for name in pages.namelist()[::9]:
        page = read_document("html", pages.read(name), name, 10**7)
        row = by_id[name.split()[1].removesuffix(".html")]
        assert page.body.split() == row["article"].split()
        assert (page.title, page.date) == (row["headline"], row["published"])
    word = FILES / "interviews" / "interview 01 Una Tarrock.docx"
    transcript = read_document("word", word.read_bytes(), word.name, 10**7)
    assert transcript.body.split() == made["interviews"]["interview 01 Una Tarrock.txt"].split()
    assert transcript.remarks[0].author == "Mira Tolland"
