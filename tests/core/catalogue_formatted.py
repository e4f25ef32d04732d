"""Cases of the catalogue in formats that know bold and rules: the same press export and the same talk in each."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable, Sequence
from html import escape

from tests.core.catalogue import BODIES, DAYS, HEADS, ONE, PAPERS, THREE, TWO, Case

#: Paragraphs as (words, bold); a rule across the page is None.
Paragraph = Sequence[tuple[str, bool]] | None
LONGER = tuple(f"{body} {THREE} {ONE}" for body in BODIES)
TALK = (("Ann Bore", ONE), ("Bor Tane", TWO), ("Ann Bore", THREE)) * 3


def word(paragraphs: Sequence[Paragraph]) -> bytes:
    def run(words: str, bold: bool) -> str:
        look = "<w:rPr><w:b/></w:rPr>" if bold else ""
        return f'<w:r>{look}<w:t xml:space="preserve">{escape(words)}</w:t></w:r>'

    body = "".join("<w:p>" + "".join(run(*r) for r in p or [("-----", False)]) + "</w:p>" for p in paragraphs)
    space = "http://schemas.openxmlformats.org/wordprocessingml/2006/main"
    return packed(
        {"word/document.xml": f'<w:document xmlns:w="{space}"><w:body>{body}</w:body></w:document>'}
    )


def opendocument(paragraphs: Sequence[Paragraph]) -> bytes:
    def run(words: str, bold: bool) -> str:
        return f'<text:span text:style-name="{"T1" if bold else "T2"}">{escape(words)}</text:span>'

    body = "".join(
        "<text:p>" + "".join(run(*r) for r in p or [("-----", False)]) + "</text:p>" for p in paragraphs
    )
    base = "urn:oasis:names:tc:opendocument:xmlns:"
    styles = (
        '<style:style style:name="Strong" style:family="text"><style:text-properties fo:font-weight="bold"/>'
        '</style:style><style:style style:name="T1" style:parent-style-name="Strong" style:family="text"/>'
    )
    return packed(
        {
            "content.xml": f'<office:document-content xmlns:office="{base}office:1.0" xmlns:text="{base}text:1.0" '
            f'xmlns:style="{base}style:1.0" xmlns:fo="{base}xsl-fo-compatible:1.0">'
            f"<office:automatic-styles>{styles}</office:automatic-styles>"
            f"<office:body><office:text>{body}</office:text></office:body></office:document-content>"
        }
    )


def rtf(paragraphs: Sequence[Paragraph]) -> bytes:
    def run(words: str, bold: bool) -> str:
        return rf"{{\b {words}}}" if bold else words

    body = r"\par ".join("".join(run(*r) for r in p or [("-----", False)]) for p in paragraphs)
    return rf"{{\rtf1\ansi{{\stylesheet{{\s1\b Title;}}}} {body}}}".encode()


def page(paragraphs: Sequence[Paragraph]) -> bytes:
    def run(words: str, bold: bool) -> str:
        return f"<b>{escape(words)}</b>" if bold else escape(words)

    body = "".join("<p>" + "".join(run(*r) for r in p) + "</p>" if p else "<hr>" for p in paragraphs)
    return f"<html><head><title>Export</title></head><body>{body}</body></html>".encode()


def markdown(paragraphs: Sequence[Paragraph]) -> bytes:
    def run(words: str, bold: bool) -> str:
        return f"**{words.strip()}** " if bold else words

    return "\n\n".join("".join(run(*r) for r in p or [("-----", False)]) for p in paragraphs).encode()


def book(paragraphs: Sequence[Paragraph]) -> bytes:
    chapter = page(paragraphs).decode().replace("<hr>", "<p>-----</p>")
    return packed(
        {
            "META-INF/container.xml": '<container xmlns="urn:oasis:names:tc:opendocument:xmlns:container">'
            '<rootfiles><rootfile full-path="a.opf"/></rootfiles></container>',
            "a.opf": '<package xmlns="http://www.idpf.org/2007/opf"><manifest><item id="c" href="c.xhtml" '
            'media-type="application/xhtml+xml"/></manifest><spine><itemref idref="c"/></spine></package>',
            "c.xhtml": chapter.replace("<html>", '<html xmlns="http://www.w3.org/1999/xhtml">'),
        }
    )


def packed(parts: dict[str, str]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as file:
        for name, content in parts.items():
            file.writestr(name, content)
    return out.getvalue()


def warc(gzip: bool = True) -> bytes:
    """Three pages of two papers, a picture, and a page the server did not have."""
    from warcio.statusandheaders import StatusAndHeaders
    from warcio.warcwriter import WARCWriter

    out = io.BytesIO()
    writer = WARCWriter(out, gzip=gzip)
    records = [(f"https://{h}.example/{at}", "text/html; charset=windows-1252", "200 OK",
                f"<html><head><title>{HEADS[at]}</title></head><body><p>{BODIES[at]} Schäfer.</p></body></html>")
               for at, h in enumerate(("courier", "courier", "farmer"))]  # fmt: skip
    records.insert(1, ("https://courier.example/a.png", "image/png", "200 OK", "x"))
    records.append(("https://courier.example/gone", "text/html", "404 Not Found", "<p>Nothing here</p>"))
    for number, (address, kind, state, content) in enumerate(records):
        headers = StatusAndHeaders(state, [("Content-Type", kind)], protocol="HTTP/1.1")
        writer.write_record(
            writer.create_warc_record(
                address,
                "response",
                payload=io.BytesIO(content.encode("cp1252")),
                http_headers=headers,
                warc_headers_dict={"WARC-Date": f"2031-06-0{number + 1}T10:00:00Z"},
            )
        )
    return out.getvalue()


FORMATS: dict[str, Callable[[Sequence[Paragraph]], bytes]] = {
    "docx": word,
    "odt": opendocument,
    "rtf": rtf,
    "html": page,
    "epub": book,
}


def formatted() -> list[Case]:
    out = []
    fields = [
        [(line, False)]
        for at in range(3)
        for line in (f"Headline: {HEADS[at]}", f"Source: {PAPERS[at]}", f"Date: {DAYS[at]}", BODIES[at])
    ]
    bold = [run for at in range(3) for run in ([(HEADS[at], True)], [(LONGER[at], False)])]
    ruled: list[Paragraph] = [p for body in LONGER for p in ([(body, False)], None)]
    led = [[(f"{who} ", True), (said, False)] for who, said in TALK]
    above = [p for who, said in TALK for p in ([(who, True)], [(said, False)])]
    said = tuple(who for who, _ in TALK)
    for ending, write in FORMATS.items():
        out += [
            Case(f"press-fields.{ending}", write(fields), titles=HEADS, sources=PAPERS, dates=DAYS),
            Case(f"press-bold.{ending}", write(bold), texts=HEADS),
            Case(f"press-rules.{ending}", write(ruled[:-1]), texts=LONGER),
            Case(f"talk-bold.{ending}", write(led), texts=(ONE,), turns=(said,)),
            Case(f"talk-above.{ending}", write(above), texts=(ONE,), turns=(said,)),
        ]
    lines = "\n".join(f"{who}: {words}" for who, words in TALK)
    deleted = rf"{{\rtf1\ansi {ONE} {{\deleted gone }}\deleted out\deleted0  kept\par {TWO}}}"
    out += [
        Case("talk.md", lines.encode(), texts=(ONE,), turns=(said,)),
        Case("talk-bold.md", markdown(led).replace(b"  ", b" "), texts=(ONE,), turns=(said,)),
        Case("deleted.rtf", deleted.encode(), texts=(f"{ONE} kept\n\n{TWO}",)),
        Case("deleted.html", f"<body><p>{ONE} <del>gone</del><ins>kept</ins></p></body>".encode(),
             texts=(f"{ONE} kept",)),
        Case("old-page.html", f"<body><center>Orrin</center><ul><li>{ONE}<li>{TWO}</ul><h2>Later</h2><dl><dt>Lynx<dd>{THREE}</dl>".encode(),
             texts=(f"Orrin\n\n{ONE}\n\n{TWO}\n\nLater\n\nLynx\n\n{THREE}",)),
        Case("pages.warc.gz", warc(), titles=HEADS, dates=("2031-06-01", "2031-06-03", "2031-06-04"),
             sources=("courier.example", "courier.example", "farmer.example")),
        Case("pages.warc", warc(gzip=False), titles=HEADS),
        Case("times.csv", ("posted;text\n" + "".join(
            f"{d} 1{i}:20;{b}\n" for i, (d, b) in enumerate(zip(DAYS, BODIES, strict=True)))).encode(), dates=DAYS,
             values={"posted, time of day": ("10:20", "11:20", "12:20")}),
    ]  # fmt: skip
    return out


CASES = formatted()
