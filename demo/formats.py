"""Write the demo in the open formats analysts receive. The same content gives the same bytes."""

from __future__ import annotations

import csv
import datetime as dt
import gzip
import hashlib
import io
import json
import zipfile
from collections.abc import Sequence
from email.utils import format_datetime
from html import escape
from pathlib import Path
from xml.sax.saxutils import escape as xml

#: Clocks in files are set to this, so that they do not differ from run to run.
CLOCK = dt.datetime(2031, 12, 31, 12, 0)
_ZIP_CLOCK = (2031, 12, 31, 12, 0, 0)


def write_csv(path: Path, rows: Sequence[dict], encoding: str = "utf-8", delimiter: str = ",") -> None:
    with path.open("w", newline="", encoding=encoding) as file:
        writer = csv.DictWriter(file, list(rows[0]), delimiter=delimiter, lineterminator="\n")
        writer.writeheader()
        writer.writerows(rows)


def write_truth(path: Path, frames: dict[str, tuple[str, ...]]) -> None:
    """The frames of sentences, each known by the beginning of its SHA-256."""
    lines = [f"{sentence_key(one)},{'|'.join(about)}" for one, about in frames.items()]
    content = "\n".join(["sentence,frames", *sorted(set(lines))]) + "\n"
    # at this level no run of packed bytes happens to read as a word
    path.write_bytes(gzip.compress(content.encode(), 4, mtime=0))


def sentence_key(sentence: str) -> str:
    return hashlib.sha256(sentence.encode()).hexdigest()[:12]


def write_json_lines(path: Path, records: Sequence[dict]) -> None:
    lines = [json.dumps(record, ensure_ascii=False) for record in records]
    path.write_text("\n".join(lines) + "\n", encoding="utf-8")


def write_workbook(path: Path, sheets: dict[str, Sequence[dict]]) -> None:
    """An Excel workbook; a column named published holds real dates."""
    import xlsxwriter

    book = xlsxwriter.Workbook(str(path), {"in_memory": True})
    book.set_properties({"created": CLOCK})
    day_format = book.add_format({"num_format": "d mmm yyyy"})
    for name, rows in sheets.items():
        sheet = book.add_worksheet(name)
        for column, head in enumerate(rows[0]):
            sheet.write_string(0, column, head)
            for at, row in enumerate(rows, 1):
                if head == "published":
                    sheet.write_datetime(at, column, dt.datetime.fromisoformat(row[head]), day_format)
                else:
                    sheet.write_string(at, column, row[head])
    book.close()


def write_feed(path: Path, title: str, rows: Sequence[dict]) -> None:
    """RSS with the whole text of each entry as a page would show it."""
    items = []
    for row in rows:
        when = format_datetime(dt.datetime.fromisoformat(row["published"]).replace(hour=7, tzinfo=dt.UTC))
        text = "".join(f"<p>{escape(part, quote=False)}</p>" for part in row["article"].split("\n\n") if part)
        items.append(
            f'<item><title>{xml(row["headline"])}</title><guid isPermaLink="false">{row["id"]}</guid>'
            f"<pubDate>{when}</pubDate><dc:creator>{xml(row['byline'])}</dc:creator>"
            f"<category>{xml(row['section'])}</category><content:encoded>{xml(text)}</content:encoded></item>"
        )
    path.write_text(
        '<?xml version="1.0" encoding="UTF-8"?>\n<rss version="2.0" '
        'xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:content="http://purl.org/rss/1.0/modules/content/">\n'
        f"<channel><title>{xml(title)}</title><description>All entries</description>\n"
        + "\n".join(items)
        + "\n</channel></rss>\n",
        encoding="utf-8",
    )


def web_page(row: dict, others: Sequence[str]) -> str:
    """An article as it stands on a site, among menus, adverts and comments."""
    menu = "".join(
        f'<li><a href="#">{name}</a></li>' for name in ("News", "Country", "Science", "Long reads")
    )
    more = "".join(f'<li><a href="#">{escape(title)}</a></li>' for title in others)
    body = "\n".join(f"<p>{escape(part, quote=False)}</p>" for part in row["article"].split("\n\n"))
    return f"""<!DOCTYPE html>
<html lang="en"><head><meta charset="utf-8"><title>{escape(row["headline"])} | The Lantern</title>
<meta property="og:title" content="{escape(row["headline"])}"><meta name="author" content="{escape(row["byline"])}">
<meta property="article:published_time" content="{row["published"]}T06:00:00+00:00">
<script>var tracker = "never run";</script></head><body>
<header><nav class="menu"><ul>{menu}</ul></nav></header>
<div class="advert">Wool blankets, straight from the mill. Order now.</div>
<main><article><h1>{escape(row["headline"])}</h1>
{body}
</article></main>
<section class="comments" id="comments"><h2>Comments</h2><div class="comment"><p>First.</p></div></section>
<aside class="sidebar"><h3>Most read</h3><ul>{more}</ul></aside>
<footer><p>The Lantern. All rights reserved. Terms and privacy.</p></footer>
</body></html>
"""


def write_zip(path: Path, files: dict[str, bytes], level: int | None = None) -> None:
    with zipfile.ZipFile(path, "w") as archive:
        for name, content in files.items():
            info = zipfile.ZipInfo(name, _ZIP_CLOCK)
            info.external_attr = 0o644 << 16
            archive.writestr(info, content, zipfile.ZIP_DEFLATED, level)


def write_word(
    path: Path, title: str, paragraphs: Sequence[str], comment: tuple[int, str, str] | None
) -> None:
    """A Word file; ``comment`` is (paragraph, author, words)."""
    import docx

    document = docx.Document()
    document.core_properties.title = title
    document.core_properties.author = "Transcripts desk"
    document.core_properties.created = document.core_properties.modified = CLOCK
    document.add_heading(paragraphs[0], 1)
    for at, text in enumerate(paragraphs[1:], 1):
        paragraph = document.add_paragraph()
        name, colon, said = text.partition(": ")
        if colon and len(name) < 30:
            paragraph.add_run(f"{name}:").bold = True
            paragraph.add_run(f" {said}")
        else:
            paragraph.add_run(text)
        if comment and comment[0] == at:
            made = document.add_comment(paragraph.runs, text=comment[2], author=comment[1], initials="MT")
            made._comment_elm.set(
                "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}date", "2031-12-01T00:00:00Z"
            )
    out = io.BytesIO()
    document.save(out)
    with zipfile.ZipFile(out) as made_zip:
        write_zip(path, {name: made_zip.read(name) for name in sorted(made_zip.namelist())})


def write_rtf(path: Path, title: str, paragraphs: Sequence[str]) -> None:
    def written(text: str) -> str:
        plain = text.replace("\\", "\\\\").replace("{", "\\{").replace("}", "\\}")
        return "".join(sign if ord(sign) < 128 else f"\\u{ord(sign)}?" for sign in plain)

    body = "\n".join(f"\\pard {written(text)}\\par" for text in paragraphs)
    head = "{\\rtf1\\ansi\\ansicpg1252\\deff0{\\fonttbl{\\f0 Serif;}}"
    path.write_text(f"{head}{{\\info{{\\title {written(title)}}}}}\n{body}\n}}\n", encoding="ascii")


def write_pdf(path: Path, row: dict) -> None:
    """An article as a newspaper page: two columns, a running head, page numbers, words cut at line ends."""
    from reportlab.lib.pagesizes import A4
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import BaseDocTemplate, Frame, PageTemplate, Paragraph

    width, height = A4

    def furniture(canvas, document) -> None:
        canvas.setFont("Times-Italic", 9)
        canvas.drawString(50, height - 36, f"The Lantern, {row['published']}")
        canvas.drawCentredString(width / 2, 30, str(document.page))

    columns = [Frame(left, 56, 238, height - 120, id=f"c{left}") for left in (50, 307)]
    document = BaseDocTemplate(
        str(path), pagesize=A4, title=row["headline"], author=row["byline"], invariant=1
    )
    document.addPageTemplates([PageTemplate("page", columns, onPage=furniture)])
    body = ParagraphStyle("body", fontName="Times-Roman", fontSize=10, leading=12.5, firstLineIndent=12)
    head = ParagraphStyle("head", fontName="Times-Bold", fontSize=17, leading=20, spaceAfter=10)
    story = [Paragraph(escape(row["headline"]), head)]
    story += [Paragraph(escape(part), body) for part in row["article"].split("\n\n")]
    document.build(story)


def write_references(path: Path, rows: Sequence[dict]) -> None:
    """RIS, as libraries export it."""
    out = []
    for row in rows:
        lines = [("TY", "JOUR" if row["journal"] else "RPRT")]
        lines += [("AU", author) for author in row["authors"]]
        lines += [("TI", row["title"]), ("PY", str(row["year"]))]
        if row["journal"]:
            lines += [("JO", row["journal"]), ("VL", str(row["volume"]))]
            lines += [("SP", str(row["pages"][0])), ("EP", str(row["pages"][1]))]
        else:
            lines.append(("PB", row["publisher"]))
        lines += [("KW", word) for word in row["keywords"]]
        if row["abstract"]:
            lines.append(("AB", row["abstract"]))
        lines += [("ID", row["reference"]), ("ER", "")]
        out.append("\n".join(f"{tag}  - {value}" for tag, value in lines))
    path.write_text("\n\n".join(out) + "\n", encoding="utf-8")
