"""Import of Word files and PDFs end to end, beside a bare loop over the same libraries."""

from __future__ import annotations

import io
import os
import time
import zipfile
from pathlib import Path
from xml.sax.saxutils import escape

import numpy as np
from corpora import draw, vocabulary
from measure import PYTHON, row, run_watched

from winnower.readers.documents import read_document

PARAGRAPHS, WORDS = 24, 55
FILES_A_FOLDER = 500


def _paragraphs(rng: np.random.Generator, words: np.ndarray, count: int) -> list[str]:
    tokens = words[draw(rng, count * WORDS, len(words))]
    return [" ".join(tokens[at * WORDS : (at + 1) * WORDS]).capitalize() + "." for at in range(count)]


def write_word_files(folder: Path, count: int, seed: int = 11) -> None:
    """Word files of about three pages each, made from one that python-docx wrote."""
    import docx

    document = docx.Document()
    document.add_heading("Report", 1)
    document.add_paragraph("BODY")
    out = io.BytesIO()
    document.save(out)
    source = zipfile.ZipFile(out)
    parts = {name: source.read(name) for name in source.namelist()}
    main = parts.pop("word/document.xml").decode()
    before, after = main.split("<w:p><w:r><w:t>BODY</w:t></w:r></w:p>")
    rng, words = np.random.default_rng(seed), vocabulary(50_000)
    for number in range(count):
        place = folder / f"{number // FILES_A_FOLDER:03d}"
        place.mkdir(parents=True, exist_ok=True)
        text = "".join(
            f"<w:p><w:r><w:t>{escape(one)}</w:t></w:r></w:p>" for one in _paragraphs(rng, words, PARAGRAPHS)
        )
        with zipfile.ZipFile(
            place / f"report {number:05d}.docx", "w", zipfile.ZIP_DEFLATED, compresslevel=1
        ) as file:
            for name, content in parts.items():
                file.writestr(name, content)
            file.writestr("word/document.xml", before + text + after)


def write_pdfs(folder: Path, count: int, seed: int = 12) -> None:
    """PDFs of about three pages each, with a running head and page numbers."""
    from reportlab.lib.pagesizes import A4
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import Paragraph, SimpleDocTemplate

    def furniture(canvas, document) -> None:
        canvas.drawString(60, A4[1] - 36, "Report of the board")
        canvas.drawCentredString(A4[0] / 2, 30, str(document.page))

    style = ParagraphStyle("body", fontName="Times-Roman", fontSize=10.5, leading=13, spaceAfter=6)
    rng, words = np.random.default_rng(seed), vocabulary(50_000)
    folder.mkdir(parents=True, exist_ok=True)
    for number in range(count):
        story = [Paragraph(one, style) for one in _paragraphs(rng, words, PARAGRAPHS)]
        SimpleDocTemplate(str(folder / f"paper {number:05d}.pdf"), pagesize=A4).build(
            story, onFirstPage=furniture, onLaterPages=furniture
        )


def bare_word(folder: Path) -> float:
    """Seconds to open each file with python-docx and take its paragraphs."""
    import docx

    started = time.perf_counter()
    for path in sorted(folder.rglob("*.docx")):
        "\n".join(paragraph.text for paragraph in docx.Document(str(path)).paragraphs)
    return time.perf_counter() - started


def bare_pdf(folder: Path) -> float:
    """Seconds to read each file with pypdfium2 in one loop, to the same paragraphs: columns, hyphens,
    running heads, pages."""
    started = time.perf_counter()
    for path in sorted(folder.rglob("*.pdf")):
        read_document("pdf", path.read_bytes(), path.name, 10**7)
    return time.perf_counter() - started


def plain_pdf(folder: Path) -> float:
    """Seconds to take no more than the letters of each page, as they are drawn."""
    import pypdfium2

    started = time.perf_counter()
    for path in sorted(folder.rglob("*.pdf")):
        file = pypdfium2.PdfDocument(path)
        for page in file:
            page.get_textpage().get_text_range()
        file.close()
    return time.perf_counter() - started


def main(folder: Path, n_word: int, n_pdf: int) -> None:
    environment = dict(os.environ)
    for kind, count, write, bare in (
        ("Word files", n_word, write_word_files, bare_word),
        ("PDFs", n_pdf, write_pdfs, bare_pdf),
    ):
        place = folder / kind.split()[0]
        write(place, count)
        quarter = folder / f"{kind.split()[0]} quarter"
        write(quarter, count // 4)
        run_watched([PYTHON, "-m", "winnower", "project", "new", kind], environment)
        run_watched([PYTHON, "-m", "winnower", "project", "new", f"{kind} quarter"], environment)
        _, small_mb, _ = run_watched(
            [PYTHON, "-m", "winnower", "import", f"{kind} quarter", str(quarter)], environment
        )
        took, peak, _ = run_watched([PYTHON, "-m", "winnower", "import", kind, str(place)], environment)
        loop = bare(place)
        row(
            f"import of {count:,} {kind} over a bare loop",
            f"{loop / took:.2f} x as fast",
            "at least 1.5 x",
            loop >= 1.5 * took,
        )
        print(f"   ({count / took:,.0f} files a second against {count / loop:,.0f})")
        if kind == "PDFs":
            letters = plain_pdf(place)
            print(f"   (letters of the pages only, without reading order: {count / letters:,.0f} a second)")
        row(f"peak memory, {kind}", f"{peak:,.0f} MB", "flat (under 1.25 x)", peak < 1.25 * small_mb)
        print(f"   (a quarter of the files: {small_mb:,.0f} MB)")
