"""PDF: lines with their places on the page, handed to the layout in pdf_layout."""

from __future__ import annotations

import ctypes
import re

import pypdfium2 as pdfium
import pypdfium2.raw as raw

from winnower.core.errors import ReadError
from winnower.readers.document import BOLD_OFF, BOLD_ON, Assembler, Document
from winnower.readers.pdf_layout import Line, paragraphs
from winnower.readers.reasons import why

MAX_PAGES = 20_000
#: So many pages that cannot be read are named; where the first so many are all of that kind, the rest is not tried.
MOST_DAMAGED = 50
#: With fewer letters a page than this on average, the file is taken for pictures of pages.
SCAN_CHARS = 8
#: Weight of bold letters, and how fonts say it in their names, of which so many bytes are read.
BOLD_WEIGHT, FONT_NAME = 600, 128
_BOLD_FONT = re.compile(rb"bold|black|heavy|[-,]b\b", re.IGNORECASE)
#: Bold words are looked for so far into a line.
MAX_HEADING = 160
_FILE_TITLE = re.compile(r"untitled|microsoft word|\.(?:docx?|odt|indd|qxd|tex|html?)\b", re.IGNORECASE)


def read_pdf(content: bytes, name: str, limit_chars: int) -> Document:
    """A PDF with the page each paragraph begins on. Raises ReadError."""
    if b"%PDF" not in content[:1024]:
        raise ReadError("This is not a PDF.")
    try:
        file = pdfium.PdfDocument(content)
    except pdfium.PdfiumError as error:
        if "password" in str(error).lower():
            raise ReadError("The PDF is protected with a password.") from error
        raise ReadError(f"The PDF is damaged or cut off: {why(error)}.") from error
    try:
        return _read(file, limit_chars)
    finally:
        file.close()


def _read(file: pdfium.PdfDocument, limit_chars: int) -> Document:
    out = Assembler(limit_chars)
    pages: list[list[Line]] = []
    labels: list[str] = []
    damaged: list[tuple[int, str]] = []
    for at in range(min(len(file), MAX_PAGES)):
        try:
            pages.append(_lines(file, at))
        except (pdfium.PdfiumError, ValueError) as error:
            damaged.append((at + 1, why(error)))
            pages.append([])
            if (
                len(damaged) == at + 1 >= MOST_DAMAGED
            ):  # not one was read: a list of pages that leads to itself
                raise ReadError(f"None of its pages can be read: {why(error)}.") from error
        labels.append(_label(file, at))
    if len(file) > MAX_PAGES:
        out.notices.append(f"Only the first {MAX_PAGES:,} pages were read.")
    out.notices += [f"Page {number} cannot be read: {reason}." for number, reason in damaged[:MOST_DAMAGED]]
    if len(damaged) > MOST_DAMAGED:
        out.notices.append(f"{len(damaged) - MOST_DAMAGED:,} more pages cannot be read.")
    letters = sum(len(line.text) for page in pages for line in page)
    if letters < SCAN_CHARS * max(len(pages), 1):
        pages = []
    elif empty := [label for page, label in zip(pages, labels, strict=True) if not page]:
        told = f"{', '.join(empty[:20])}{' and more' if len(empty) > 20 else ''}"
        which = f"Page {told} holds" if len(empty) == 1 else f"Pages {told} hold"
        out.notices.append(f"{which} no text; if there are pictures of text, have it recognised.")
    about = file.get_metadata_dict()
    title = "" if _FILE_TITLE.search(about.get("Title", "")) else about.get("Title", "")
    out.omit = " ".join(title.split())
    before = -1
    for paragraph in paragraphs(pages):
        if paragraph.page != before:
            out.page(labels[paragraph.page])
            before = paragraph.page
        text = paragraph.text
        if paragraph.bold and not paragraph.level:
            text = f"{BOLD_ON}{text[: paragraph.bold]}{BOLD_OFF}{text[paragraph.bold :]}"
        out.paragraph(text, paragraph.level)
    scan = (
        f"None of its {len(file):,} pages can be read."
        if len(damaged) == len(file)
        else f"The PDF holds pictures of {len(file):,} pages and no text; have its text recognised, or type it in."
    )
    return out.document(title, about.get("Author", ""), reason=scan)


def _label(file: pdfium.PdfDocument, at: int) -> str:
    """The page number that is printed on the page where the file knows it."""
    try:
        return file.get_page_label(at) or str(at + 1)
    except (pdfium.PdfiumError, UnicodeDecodeError):
        return str(at + 1)


def _lines(file: pdfium.PdfDocument, at: int) -> list[Line]:
    """Lines of a page in the order they are drawn; long ones with the gaps inside them."""
    page = file[at]
    width, height = page.get_size()
    text_page = page.get_textpage()
    try:
        count = text_page.count_chars()
        whole = text_page.get_text_range() if count else ""
        return _cut(text_page, whole, count, width, height)
    finally:
        text_page.close()
        page.close()


def _cut(text_page, whole: str, count: int, width: float, height: float) -> list[Line]:
    left, right, bottom, top = (ctypes.c_double() for _ in range(4))
    refs = tuple(ctypes.byref(value) for value in (left, right, bottom, top))
    char_box, font_size, page = raw.FPDFText_GetCharBox, raw.FPDFText_GetFontSize, text_page.raw

    def box(index: int) -> tuple[float, float, float, float]:
        char_box(page, index, *refs)
        return left.value, right.value, bottom.value, top.value

    found = []
    at = 0
    astral = not whole.isascii() and max(whole, default="") > "\uffff"
    for written in whole.split("\n"):
        units = len(written) + (sum(ord(sign) > 0xFFFF for sign in written) if astral else 0)
        first, at = at, at + units + 1
        text = written.rstrip()
        lead = len(text) - len(text.lstrip())
        if len(text) > lead and first + len(text) <= count:
            begin, end = box(first + lead), box(first + len(text) - 1)
            size = font_size(page, first + lead) or 10.0
            if size < 2:  # the size is in the matrix of the page: take the height of the letters instead
                size = max(begin[3] - begin[2], 4.0) * 1.3
            found.append((text, first, lead, begin, end, size))
    across = [one for one in found if one[3][0] < width * 0.45 and one[4][1] > width * 0.55]
    # columns drawn line by line across the page show as gaps in most lines; look at some first
    some = across[:: max(len(across) // 4, 1)]
    split = sum(bool(_gaps(text, first, box, size)) for text, first, _, _, _, size in some) * 2 > len(some)
    wide = {one[1] for one in across} if split else set()
    out = []
    for text, first, lead, begin, end, size in found:
        gaps = _gaps(text, first, box, size) if first in wide else ()
        low, high = min(begin[2], end[2]), max(begin[3], end[3])
        out.append(
            Line(
                text[lead:],
                begin[0] / width,
                end[1] / width,
                1 - high / height,
                1 - low / height,
                size / height,
                tuple((place - lead, low_x / width, high_x / width) for place, low_x, high_x in gaps),
                _bold_letters(page, first + lead, text[lead:]),
                _baseline(page, first + lead, height),
            )
        )
    return out


def _baseline(page, at: int, height: float) -> float:
    """Where a letter stands, as a share of the page from its top; 0 where the file does not tell."""
    x, y = ctypes.c_double(), ctypes.c_double()
    told = raw.FPDFText_GetCharOrigin(page, at, ctypes.byref(x), ctypes.byref(y))
    return 1 - y.value / height if told else 0.0


def _bold_letters(page, first: int, text: str) -> int:
    """How many letters from the first on are bold: none, all, or the words a line begins with."""

    def bold(index: int) -> bool:
        if raw.FPDFText_GetFontWeight(page, index) >= BOLD_WEIGHT:
            return True
        length = raw.FPDFText_GetFontInfo(page, index, name, len(name), None)
        return bool(_BOLD_FONT.search(name.raw[: max(min(length, len(name)) - 1, 0)]))

    name = ctypes.create_string_buffer(FONT_NAME)
    if not bold(first):
        return 0
    if bold(first + len(text) - 1):
        return len(text)
    most = text[:MAX_HEADING].rfind(" ")
    return next((at for at in range(1, max(most, 1)) if text[at] != " " and not bold(first + at)), 0)


def _gaps(text: str, first: int, box, size: float) -> tuple[tuple[int, float, float], ...]:
    """Places of spaces in a line that are wider than a space between words, with their ends."""
    found = []
    # a gap between columns lies in the middle of the page
    for place in range(len(text) // 4, len(text) * 3 // 4 + 1):
        if text[place] == " " and text[place - 1] != " " and place + 1 < len(text):
            after = place + 1
            left, right = box(first + place - 1)[1], box(first + after)[0]
            if right - left > size * 0.9:
                found.append((place, left, right))
    return tuple(found)
