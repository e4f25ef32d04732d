"""Which reader takes which document, and documents as rows of a table, so that all go one way."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from pathlib import PurePosixPath

from winnower.core.errors import ReadError
from winnower.readers.document import Document
from winnower.readers.reasons import why

HEADER = [
    "File", "Folder", "Title", "Author", "Date", "First line", "Text", "Source", "Section", "Page", "Language",
]  # fmt: skip
KINDS = {
    "text": ("Plain text", (".txt", ".text", ".log")),
    "markdown": ("Markdown", (".md", ".markdown")),
    "html": ("Web pages", (".html", ".htm", ".xhtml")),
    "word": ("Word documents", (".docx", ".docm", ".dotx")),
    "opendocument": ("OpenDocument texts", (".odt", ".ott")),
    "rtf": ("Rich text", (".rtf",)),
    "pdf": ("PDF", (".pdf",)),
    "epub": ("Electronic books", (".epub",)),
    "mail": ("Mail", (".eml", ".mbox", ".msg", ".mht", ".mhtml")),
    "webarchive": ("Web archives", ()),
    "subtitles": ("Subtitles and transcripts", (".vtt", ".srt")),
    "markedup": ("Articles, editions and records (XML)", (".tei", ".akn")),
}
#: Kinds whose encoding is not said in the file and may be guessed wrong.
WITH_ENCODING = ("text", "markdown", "html", "subtitles")


def reader_of(kind: str) -> Callable[..., Document]:
    """The function that reads a kind; its module is loaded when it is first needed."""
    if kind in ("text", "markdown"):
        from winnower.readers import plain

        return plain.read_plain if kind == "text" else plain.read_markdown
    if kind == "html":
        from winnower.readers.html import read_html

        return read_html
    if kind == "word":
        from winnower.readers.word import read_word

        return read_word
    if kind == "opendocument":
        from winnower.readers.opendocument import read_opendocument

        return read_opendocument
    if kind == "rtf":
        from winnower.readers.rtf import read_rtf

        return read_rtf
    if kind == "pdf":
        from winnower.readers.pdf import read_pdf

        return read_pdf
    if kind == "subtitles":
        from winnower.readers.subtitles import read_subtitles

        return read_subtitles
    if kind == "markedup":
        return _first_marked_up
    from winnower.readers.epub import read_epub

    return read_epub


def _first_marked_up(content: bytes, name: str, limit_chars: int) -> Document:
    """The first text of a file that may hold several."""
    from winnower.readers.marked_up import read_marked_up

    return read_marked_up(content, name, limit_chars)[0]


def read_all(
    kind: str, content: bytes, name: str, limit_chars: int, encoding: str | None = None
) -> list[Document]:
    """The documents of a file: one, but for a mailbox. Raises ReadError as ``read_document`` does."""
    if kind == "markedup":
        from winnower.readers.marked_up import read_marked_up

        with _plain_reasons():
            return read_marked_up(content, name, limit_chars)
    if kind not in ("mail", "webarchive"):
        return [read_document(kind, content, name, limit_chars, encoding)]
    from winnower.readers.mail import read_mail, read_saved_page

    with _plain_reasons():
        if kind == "webarchive":
            return [read_saved_page(content, name, limit_chars)]
        return read_mail(content, name, limit_chars)


def read_document(
    kind: str, content: bytes, name: str, limit_chars: int, encoding: str | None = None
) -> Document:
    """A document of any kind. Raises ReadError with a sentence for people, whatever went wrong."""
    read = reader_of(kind)
    with _plain_reasons():
        if kind in WITH_ENCODING:
            return read(content, name, limit_chars, encoding)
        return read(content, name, limit_chars)


@contextmanager
def _plain_reasons() -> Iterator[None]:
    """Whatever goes wrong in a reader becomes a ReadError with a sentence for people."""
    try:
        yield
    except ReadError:
        raise
    except RecursionError as error:
        raise ReadError("It is nested too deeply to be read.") from error
    except MemoryError as error:
        raise ReadError("It needs more memory than there is.") from error
    except Exception as error:
        # readers are given files of any origin: whatever a library trips over is that file's reason
        raise ReadError(f"It is damaged or not what its name says: {why(error)}.") from error


def document_header(columns: Sequence[str]) -> list[str]:
    """HEADER and, behind it, those of ``columns`` that are not in it."""
    return [*HEADER, *(name for name in columns if name not in HEADER)]


def row_of(document: Document, name: str, number: int = 0, header: Sequence[str] = HEADER) -> list[str]:
    """A document as the cells of a header (see ``document_header``)."""
    path = PurePosixPath(name)
    stem = path.name[: -len(path.suffix)] if path.suffix else path.name
    title = document.title or (f"{stem} {number}" if number else stem)
    first = next((line.strip() for line in document.body.splitlines() if line.strip()), "")
    cells = [stem, path.parent.name, title, document.author, document.date, first[:300], document.body]
    fields = dict(document.fields)
    return [*cells, *(fields.get(column, "") for column in header[len(cells) :])]


def cut_rows(
    documents: Sequence[Document], name: str, header: Sequence[str] = HEADER
) -> Iterator[tuple[list[str], Document]]:
    many = len(documents) > 1
    for number, document in enumerate(documents, 1):
        yield row_of(document, name, number if many else 0, header), document
