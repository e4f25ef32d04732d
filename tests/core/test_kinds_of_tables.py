"""Workbooks, JSON, feeds, reference lists, archives: what they become, and what is refused."""

import gzip
import io
import json
import tarfile
import zipfile
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.errors import ReadError
from winnower.core.reference import Reference, author_year, cite, names
from winnower.readers import LotChoice, gather, list_files
from winnower.readers.files import Origin, shown_name
from winnower.readers.json_tables import flatten
from winnower.readers.mapping import guess_feed, guess_mapping, guess_references
from winnower.readers.open_table import open_table
from winnower.readers.prepare import Preparer

FILES = Path(__file__).parents[1] / "files"


def origin(content, name, kind, sheet=""):
    raw = content if isinstance(content, bytes) else content.encode()
    return Origin(name, kind, len(raw), lambda: io.BytesIO(raw), sheet)


def rows_of(content, name, kind, **options):
    reader = open_table(origin(content, name, kind), 10**7, **options)
    return reader, [row for batch in reader.batches() for row in batch.rows]


@pytest.mark.parametrize("name", ["t.xlsx", "t.ods", "t.xls"])
def test_workbooks_of_several_programs(name):
    lots, problems = gather([origin((FILES / name).read_bytes(), name, "sheets")], 10**7)
    assert not problems
    reader = open_table(lots[0].origins[0], 10**7)
    (batch,) = reader.batches()
    assert reader.header == ["id", "parish", "answered", "flocks", "answer"]
    assert batch.rows == [
        ["1", "Orrin", "2031-06-03", "14", "The lambs are gone."],
        ["2", "Skell", "2031-06-04", "9.5", "It is quiet; too quiet."],
    ]


def workbook(sheets):
    import xlsxwriter

    out = io.BytesIO()
    book = xlsxwriter.Workbook(out, {"in_memory": True})
    for name, rows in sheets.items():
        sheet = book.add_worksheet(name)
        for at, row in enumerate(rows):
            sheet.write_row(at, 0, row)
    book.close()
    return out.getvalue()


def test_sheets_with_the_same_columns_are_one_lot_and_bad_ones_are_told():
    content = workbook(
        {
            "A": [["id", "text"], [1, "lamb"]],
            "B": [[], ["id", "text"], [2, "ewe"], [], [3, "ram", "slipped"]],
            "C": [],
        }
    )
    lots, problems = gather([origin(content, "b.xlsx", "sheets")], 10**7)
    assert [[o.sheet for o in lot.origins] for lot in lots] == [["A", "B"]]
    assert "is empty" in problems[0].reason
    reader = open_table(lots[0].origins[1], 10**7)
    assert [(b.rows, b.lines) for b in reader.batches()] == [([["2", "ewe"]], [3])]
    assert reader.problems[0].row == 5 and "beside the last column" in reader.problems[0].reason


@pytest.mark.parametrize(
    ("content", "reason"),
    [
        (b"PK\x03\x04 no", "damaged or not what its name says"),
        (b"", "damaged or not what its name says"),
        (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + b"0" * 900, "protected with a password"),
    ],
)
def test_damaged_workbooks_are_told(content, reason):
    lots, problems = gather([origin(content, "b.xlsx", "sheets")], 10**7)
    assert not lots and reason in problems[0].reason


@pytest.mark.parametrize(
    ("file", "name", "declared", "kind"),
    [
        ("office.pdf", "a.txt", "text", "pdf"),
        ("office.docx", "a.html", "html", "word"),
        ("office.odt", "a.txt", "text", "opendocument"),
        ("pandoc.epub", "a.md", "markdown", "epub"),
        ("office.rtf", "a.docx", "word", "rtf"),
        ("t.xlsx", "a.csv", "table", "sheets"),
        ("t.ods", "a.json", "json", "sheets"),
        ("t.xls", "a.csv", "table", "sheets"),
    ],
)
def test_files_under_a_wrong_ending_are_read_as_what_they_are(file, name, declared, kind):
    lots, problems = gather([origin((FILES / file).read_bytes(), name, declared)], 10**7)
    assert [lot.kind for lot in lots] == [kind]
    assert problems[0].kept and "By its content this is" in problems[0].reason


def test_a_table_and_a_page_named_as_a_workbook():
    lots, _ = gather([origin("id;text\n1;Lamb\n", "a.xlsx", "sheets")], 10**7)
    assert (lots[0].kind, lots[0].header) == ("table", ["id", "text"])
    lots, _ = gather([origin("<!DOCTYPE html><html><p>Lamb", "a.doc.docx", "word")], 10**7)
    assert lots[0].kind == "html"


def test_json_arrays_objects_and_lines():
    nested = {
        "data": {"posts": [{"id": 1, "user": {"name": "x"}, "tags": ["a", "b"]}, {"id": 2.0, "ok": True}]}
    }
    reader, rows = rows_of(json.dumps(nested), "a.json", "json")
    assert reader.header == ["id", "user.name", "tags", "ok"]
    assert rows == [["1", "x", "a; b", ""], ["2", "", "", "yes"]]
    reader, rows = rows_of('{"id":1}\nno\n\n[1]\n{"id":2}\n', "a.jsonl", "jsonl")
    assert rows == [["1"], ["2"]]
    assert [p.row for p in reader.problems] == [2, 4]
    _, rows = rows_of('{"id":1}\n{"id":2}\n', "lines.json", "json")
    assert rows == [["1"], ["2"]], "JSON Lines under the wrong ending"


@pytest.mark.parametrize(
    "content", ["[" * 50_000, '{"a":' * 30 + "1" + "}" * 30, "{}", "[1, 2]", "", "not json"]
)
def test_json_that_is_no_table_gives_a_sentence(content):
    with pytest.raises(ReadError) as found:
        rows_of(content, "a.json", "json")
    assert found.value.message.startswith("a.json cannot be read")


def test_a_cut_off_array_keeps_what_came_before():
    reader, rows = rows_of('[{"id": 1, "t": "x"}, {"id": 2, "t": "y"}, {"id": 3, "t":', "a.json", "json")
    assert rows == [["1", "x"], ["2", "y"]]
    assert "what came before was read" in reader.problems[0].reason


simple = st.recursive(
    st.none() | st.booleans() | st.integers(-9, 9) | st.text(max_size=5),
    lambda inner: (
        st.lists(inner, max_size=3)
        | st.dictionaries(st.text("abc", min_size=1, max_size=3), inner, max_size=3)
    ),
    max_leaves=12,
)


@given(st.dictionaries(st.text("abc", min_size=1, max_size=3), simple, max_size=4))
def test_flattening_gives_text_under_paths(record):
    out: dict[str, str] = {}
    flatten(record, "", out, 0)
    assert all(isinstance(value, str) for value in out.values())
    assert {path.split(".")[0] for path in out} <= set(record)


RSS = """<?xml version="1.0"?><rss version="2.0"><channel><title>Valley Wire</title>
<item><title>Lynx &amp; lambs</title><guid>w1</guid><pubDate>Tue, 03 Jun 2031 10:00:00 GMT</pubDate><category>farm</category>
<description>&lt;p&gt;First.&lt;/p&gt;&lt;script&gt;x()&lt;/script&gt;&lt;p&gt;Second.&lt;/p&gt;</description></item></channel></rss>"""
ATOM = """<feed xmlns="http://www.w3.org/2005/Atom"><title>Hill blog</title><entry><title>Seen</title><id>a1</id>
<updated>2031-06-03T10:00:00Z</updated><author><name>Ida Fenn</name></author><content type="html">&lt;b&gt;A lynx.&lt;/b&gt;</content></entry></feed>"""


@pytest.mark.parametrize(
    ("content", "name"), [(RSS, "a.rss"), (ATOM, "a.atom"), (RSS, "a.xml"), (ATOM, "feed.xml")]
)
def test_feeds(content, name):
    kind = "xml" if name.endswith("xml") else "feed"
    lots, _ = gather([origin(content, name, kind)], 10**7)
    assert lots[0].label == "Feeds"
    reader = open_table(lots[0].origins[0], 10**7)
    (batch,) = reader.batches()
    texts = Preparer(reader.header, guess_feed(reader.header), 10**7).prepare(batch.rows, batch.lines, [name])
    assert str(texts.date[0]) == "2031-06-03" and "x()" not in texts.body[0]
    assert (texts.title[0], texts.body[0]) in {("Lynx & lambs", "First.\n\nSecond."), ("Seen", "A lynx.")}


def test_feeds_that_are_none_or_bring_entities():
    with pytest.raises(ReadError, match="is not a feed"):
        rows_of("hello", "a.rss", "feed")
    with pytest.raises(ReadError, match="declares entities"):
        rows_of('<!DOCTYPE r [<!ENTITY a "x">]><rss><channel>&a;</channel></rss>', "a.rss", "feed")


RIS = "TY  - JOUR\nAU  - Quill, Ada\nAU  - Marsh, Ben\nTI  - Lynx\nJO  - Hill Ecology\nPY  - 2029/05/03\nSP  - 1\nEP  - 9\nKW  - deer\nAB  - We count.\nER  - \n"
BIB = "@article{q29, author={Quill, Ada and Marsh, Ben}, title={{Lynx}}, journal={Hill Ecology}, year=2029, pages={1--9}, keywords={deer}, abstract={We count.}}\n@book{broken, title=\n\n@misc{ok, title={Other}}"
XML = "<xml><records><record><contributors><authors><author>Quill, Ada</author><author>Marsh, Ben</author></authors></contributors><titles><title>Lynx</title><secondary-title>Hill Ecology</secondary-title></titles><dates><year>2029</year></dates><pages>1–9</pages><keywords><keyword>deer</keyword></keywords><abstract>We count.</abstract></record></records></xml>"


@pytest.mark.parametrize(("content", "kind"), [(RIS, "ris"), (BIB, "bibtex"), (XML, "xml")])
def test_reference_lists_of_every_form_say_the_same(content, kind):
    reader, rows = rows_of(content, f"a.{kind}", kind)
    found = dict(zip(reader.header, rows[0], strict=True))
    wanted = {
        "title": "Lynx",
        "authors": "Quill, Ada; Marsh, Ben",
        "year": "2029",
        "container": "Hill Ecology",
        "pages": "1–9",
        "keywords": "deer",
        "abstract": "We count.",
    }
    assert {name: found[name] for name in wanted} == wanted
    if kind == "bibtex":
        assert len(rows) == 2 and reader.problems[0].row == 2
    texts = Preparer(reader.header, guess_references(reader.header), 10**7, True).prepare(
        rows[:1], [1], ["a"]
    )
    assert texts.title == ["Quill and Marsh 2029: Lynx"] and texts.body == [""]
    assert texts.extra[0].remarks[0].body == "We count."
    assert texts.extra[0].reference.authors == "Quill, Ada; Marsh, Ben"


def test_a_broken_reference_does_not_take_the_others_along():
    reader, rows = rows_of(
        "TY  - JOUR\nTI  - One\n\nTY  - JOUR\nTI  - Two\nER  - \nrubbish\n", "a.ris", "ris"
    )
    assert [row[2] for row in rows] == ["One", "Two"]


BOOK = Reference(
    type="book", title="The valley", authors="Fell, Cy", year="2028", publisher="Orrin Press", place="Orrin"
)
CHAPTER = Reference(
    type="chapter",
    title="Bells",
    authors="Tarn, P.",
    year="2020",
    container="Old names",
    pages="3–9",
    publisher="Orrin Press",
)


PIECE = Reference(type="newspaper article", title="Nine pages", year="2031, June 3", container="Hill Farmer")


@pytest.mark.parametrize(
    ("reference", "style", "written"),
    [
        (BOOK, "author-date", "Fell, C. (2028). The valley. Orrin Press."),
        (BOOK, "notes", "Fell, Cy. The valley. Orrin: Orrin Press, 2028."),
        (CHAPTER, "author-date", "Tarn, P. (2020). Bells. In Old names (pp. 3–9). Orrin Press."),
        (CHAPTER, "notes", "Tarn, P. “Bells.” In Old names, 3–9. Orrin Press, 2020."),
        (Reference(title="Anonymous?"), "author-date", "Anonymous? (n.d.)."),
        (PIECE, "author-date", "Nine pages. (2031, June 3). Hill Farmer."),
        (PIECE, "notes", "“Nine pages.” Hill Farmer, June 3, 2031."),
    ],
)
def test_citation_styles(reference, style, written):
    assert cite(reference, style) == written


def test_names_of_authors():
    assert names("Ada Quill; Marsh, Ben; Board") == [("Quill", "Ada"), ("Marsh", "Ben"), ("Board", "")]
    assert author_year("A, B; C, D; E, F", "2030", "T") == "A et al. 2030: T"
    assert author_year("", "2030", "T") == ""


def test_a_mapping_for_several_questions_is_guessed():
    header = ["nr", "What worries you?", "What do you hope?", "parish"]
    long = "a rather long answer to the question that goes on for a while, number {}"
    rows = [[str(n), long.format(n), long.format(n + 50), "Orrin"] for n in range(8)]
    mapping = guess_mapping(header, rows)
    assert [t.column for t in mapping.texts] == header[1:3]
    answers = Preparer(header, mapping, 10**6).prepare(rows, range(8), ["a"] * 8)
    assert len(answers) == 16 and set(answers.values["Question"]) == set(header[1:3])
    assert len({*answers.key}) == 16, "each answer has a key of its own"


def files_in(path, content):
    path.write_bytes(content)
    return list_files([(path.name, path)], 10**7)


def packed(members, mode="w:gz"):
    out = io.BytesIO()
    with tarfile.open(fileobj=out, mode=mode) as archive:
        for name, content in members.items():
            info = tarfile.TarInfo(name)
            info.size = len(content)
            archive.addfile(info, io.BytesIO(content))
        link = tarfile.TarInfo("link.txt")
        link.type, link.linkname = tarfile.SYMTYPE, "/etc/passwd"
        archive.addfile(link)
    return out.getvalue()


def zipped(members):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in members.items():
            archive.writestr(name, content)
    return out.getvalue()


@pytest.mark.parametrize("ending", ["tar", "tar.gz", "tar.bz2", "tar.xz", "tgz"])
def test_tar_archives_are_read_in_place_and_links_are_not_followed(tmp_path, ending):
    mode = {"tar": "w", "tar.gz": "w:gz", "tgz": "w:gz", "tar.bz2": "w:bz2", "tar.xz": "w:xz"}[ending]
    inner = zipped({"deep/b.txt": b"in the zip"})
    content = packed({"../../a.txt": b"hello", "in.zip": inner}, mode)
    origins, problems = files_in(tmp_path / f"all.{ending}", content)
    assert {o.name.split("/", 1)[1]: o.open().read() for o in origins} == {
        "a.txt": b"hello",
        "in.zip/deep/b.txt": b"in the zip",
    }
    assert "links are not followed" in problems[0].reason


def test_archives_that_expand_without_end_are_refused(tmp_path):
    content = zipped({"a.txt": b"x"})
    for level in range(8):
        content = zipped({f"{level}.zip": content, f"{level}.txt": b"x"})
    origins, problems = files_in(tmp_path / "nested.zip", content)
    assert len(origins) == 4 and any("nested more than 4 deep" in p.reason for p in problems)
    bomb = gzip.compress(b"\0" * 30_000_000)
    origins, problems = files_in(tmp_path / "bomb.tar.gz", bomb)
    assert not origins and "unpacks to more than 10,000,000 bytes" in problems[0].reason


def test_truncated_archives_are_told(tmp_path):
    for name, content in (
        ("a.zip", zipped({"a.txt": b"x" * 999})),
        ("a.tar.gz", packed({"a.txt": b"x" * 999})),
    ):
        origins, problems = files_in(tmp_path / name, content[: len(content) // 2])
        assert not origins and "damaged" in problems[0].reason


def test_names_that_hide_or_run_on_are_shown_plainly():
    assert shown_name("report\u202egpj.txt") == "reportgpj.txt"
    assert len(shown_name("x" * 900 + ".txt")) == 400
    assert shown_name("cafe\u0301.txt") == "café.txt"


def test_many_tiny_files_and_their_lots(tmp_path):
    for number in range(300):
        (tmp_path / f"{number}.txt").write_text(f"Text {number}")
        if number < 5:
            (tmp_path / f"{number}.csv").write_text("id,text\n1,x\n")
    (tmp_path / "old.doc").write_bytes(b"x")
    origins, problems = list_files([("all", tmp_path)], 10**7)
    lots, _ = gather(origins, 10**7, {"x": LotChoice()})
    assert {lot.kind: len(lot.origins) for lot in lots} == {"text": 300, "table": 5}
    assert "older Word format" in problems[0].reason
