"""XML of journals, editions and parliaments, and XML of no known standard."""

import pytest

from winnower.jobs.preview import first_look
from winnower.settings import load_settings

JATS = """<?xml version="1.0"?>
<!DOCTYPE article PUBLIC "-//NLM//DTD JATS (Z39.96) Journal Publishing DTD v1.2//EN" "JATS-journalpublishing1.dtd">
<article article-type="research-article" dtd-version="1.2"><front>
<journal-meta><journal-title-group><journal-title>Hill Studies</journal-title></journal-title-group></journal-meta>
<article-meta><article-id pub-id-type="doi">10.9999/hs.2031.4</article-id>
<title-group><article-title>Sheep above the <italic>birch</italic> line</article-title></title-group>
<contrib-group><contrib contrib-type="author"><name><surname>Kessler</surname><given-names>Anna</given-names></name></contrib>
<contrib contrib-type="author"><name><surname>Venn</surname><given-names>Orla</given-names></name></contrib></contrib-group>
<pub-date><day>6</day><month>5</month><year>2031</year></pub-date>
<abstract><p>What was counted, and how.</p></abstract>
<kwd-group><kwd>sheep</kwd><kwd>counting</kwd></kwd-group></article-meta></front>
<body><sec><title>Introduction</title><p>Nobody could say how many sheep are kept<xref ref-type="bibr">1</xref> there.</p></sec>
<sec><title>Results</title><p>There were 412.<fn><p>A footnote.</p></fn></p>
<table-wrap><caption><p>Table 1</p></caption></table-wrap></sec></body>
<back><ref-list><ref><mixed-citation>Somebody 2030</mixed-citation></ref></ref-list></back></article>"""
TEI = """<?xml version="1.0"?>
<TEI xmlns="http://www.tei-c.org/ns/1.0"><teiHeader><fileDesc>
<titleStmt><title>A talk at the market</title><author>Mira Tal</author></titleStmt>
<publicationStmt><publisher>Orrin Archive</publisher><date when="2031-06-03">3 June</date></publicationStmt>
<sourceDesc><p>A recording.</p></sourceDesc></fileDesc>
<profileDesc><particDesc><person xml:id="ann"><persName>Ann Reed</persName></person></particDesc></profileDesc></teiHeader>
<text><body><head>At the gate</head><p>It was raining.<note resp="#mt">As on the day before.</note></p>
<sp who="#ann"><speaker>ANN.</speaker><p>Has anybody seen the flock?</p></sp>
<sp><speaker>Ben</speaker><p>All but two.</p><p>They were by the wood.</p></sp></body></text></TEI>"""
RECORD = """<?xml version="1.0"?>
<akomaNtoso xmlns="http://docs.oasis-open.org/legaldocml/ns/akn/3.0"><debate name="hansard">
<meta><identification><FRBRWork><FRBRdate date="2031-06-17" name="sitting"/></FRBRWork></identification>
<references><TLCPerson eId="kessler" href="/x" showAs="Anna Kessler"/></references></meta>
<preface><p><docTitle>Sitting on the lynx</docTitle></p></preface>
<debateBody><debateSection name="questions"><heading>Compensation</heading>
<speech by="#kessler"><from>Ms Kessler</from><p>What does the board pay for a lamb?</p></speech>
<speech><from>The Minister:</from><p>Ninety.</p><p>As last year.</p></speech>
<narrative>Laughter.</narrative></debateSection></debateBody></debate></akomaNtoso>"""
PLAIN = """<?xml version="1.0" encoding="UTF-8"?>
<export><meta><made>today</made></meta><items>
<item id="7"><head>Nine pages</head><day>2031-06-03</day><para>The board met for nine pages of minutes, and then went home for the day.</para><para>No decision was made on the lynx, as on the day before and on the day before that.</para><tags><tag>board</tag><tag>lynx</tag></tags></item>
<item id="8"><head>No count</head><day>2031-06-14</day><para>Nobody could say how <b>many</b> sheep are kept above the birch wood, and nobody was asked.</para><tags><tag>board</tag></tags></item>
</items></export>"""


def looked(tmp_path, name, content):
    (tmp_path / name).write_text(content, encoding="utf-8")
    found = first_look([(name, tmp_path / name)], load_settings())
    assert len(found.lots) == 1, [p.reason for p in found.problems]
    return found.lots[0]


def values(texts):
    return {name: column[0] for name, column in texts.values.items()}


def test_an_article_of_a_journal(tmp_path):
    texts = looked(tmp_path, "a.xml", JATS).samples
    assert texts.title == ["Sheep above the birch line"]
    assert texts.body == [
        "Introduction\n\nNobody could say how many sheep are kept1 there.\n\nResults\n\nThere were 412."
    ]
    assert texts.date[0].isoformat() == "2031-05-06" and texts.source == ["Hill Studies"]
    assert values(texts)["DOI"] == "10.9999/hs.2031.4"
    assert [r.body for r in texts.extra[0].remarks] == ["What was counted, and how."]
    assert [(p.kind, p.label) for p in texts.extra[0].places] == [
        ("heading", "Introduction"),
        ("heading", "Results"),
    ]


def test_an_edition_with_speakers_and_notes(tmp_path):
    texts = looked(tmp_path, "a.xml", TEI).samples
    body = texts.body[0]
    assert body == (
        "At the gate\n\nIt was raining.\n\nHas anybody seen the flock?\n\nAll but two.\n\nThey were by the wood."
    )
    turns = [(p.label, body[p.start :].split("\n")[0]) for p in texts.extra[0].places if p.kind == "turn"]
    assert turns == [("Ann Reed", "Has anybody seen the flock?"), ("Ben", "All but two.")]
    assert texts.title == ["A talk at the market"] and texts.date[0].isoformat() == "2031-06-03"
    assert [r.body for r in texts.extra[0].remarks] == ["As on the day before."]


def test_a_corpus_of_editions_is_several_texts(tmp_path):
    one = TEI.split("?>")[1]
    corpus = f'<teiCorpus xmlns="http://www.tei-c.org/ns/1.0">{one}{one.replace("two", "three")}</teiCorpus>'
    texts = looked(tmp_path, "a.tei", corpus).samples
    assert len(texts) == 2 and "All but three." in texts.body[1]


def test_a_record_of_a_parliament(tmp_path):
    texts = looked(tmp_path, "a.xml", RECORD).samples
    body = texts.body[0]
    assert body.endswith(
        "Compensation\n\nWhat does the board pay for a lamb?\n\nNinety.\n\nAs last year.\n\nLaughter."
    )
    turns = [(p.label, body[p.start :].split("\n")[0]) for p in texts.extra[0].places if p.kind == "turn"]
    assert turns == [("Anna Kessler", "What does the board pay for a lamb?"), ("The Minister", "Ninety.")]
    assert texts.date[0].isoformat() == "2031-06-17" and texts.title == ["Sitting on the lynx"]


def test_xml_of_no_known_standard_is_a_table_of_what_comes_again(tmp_path):
    lot = looked(tmp_path, "a.xml", PLAIN)
    texts = lot.samples
    assert lot.lot.label == "XML" and lot.lot.header == ["id", "head", "day", "para", "tags.tag"]
    assert texts.title == ["Nine pages", "No count"]
    assert texts.body[0].endswith(
        "for the day.\n\nNo decision was made on the lynx, as on the day before and on the day before that."
    )
    assert texts.body[1].startswith("Nobody could say how many sheep")
    assert [day.isoformat() for day in texts.date] == ["2031-06-03", "2031-06-14"]
    assert texts.values["tags.tag"] == [("board", "lynx"), ("board",)]


@pytest.mark.parametrize(
    ("content", "sentence"),
    [
        ("<a><b>one</b></a>", "no element in it comes more than once"),
        ("<a><b>", "damaged"),
        ('<!DOCTYPE a [<!ENTITY x "y">]><a><b>&x;</b><b>2</b></a>', "declares entities of its own"),
    ],
)
def test_xml_that_is_no_list_has_its_sentence(tmp_path, content, sentence):
    (tmp_path / "a.xml").write_text(content)
    found = first_look([("a.xml", tmp_path / "a.xml")], load_settings())
    assert sentence in found.problems[0].reason
