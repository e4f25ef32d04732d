"""What is done with files from outside in a process of its own: ``python -m winnower.jobs.apart_work``.

Reads one task from stdin (name, arguments, limits), does it, writes the answer to the pipe it was given, ends.
"""

from __future__ import annotations

import pickle
import sys
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any, Literal

from winnower.core.coding.codebook_table import CodebookGiven
from winnower.core.dictionary import DictionaryRows
from winnower.core.errors import ReadError, WinnowerError
from winnower.core.finding import Answer, AnyView
from winnower.core.report import Picture, report_from_plain
from winnower.core.tone.rows import ToneRows
from winnower.jobs.expected import Expected, expect_import
from winnower.jobs.filling import table_rows
from winnower.jobs.limits import limit_memory
from winnower.jobs.look import FirstLook
from winnower.jobs.messages import send
from winnower.jobs.preview import first_look
from winnower.readers import files, list_files
from winnower.readers.codebook_file import read_codebook_bytes
from winnower.readers.dictionary_file import read_dictionary_bytes
from winnower.readers.document import Document
from winnower.readers.documents import read_document
from winnower.readers.earlier import Known
from winnower.readers.files import elsewhere
from winnower.readers.tone_file import read_tone_bytes
from winnower.settings import Settings
from winnower.stand_ins.model import ask
from winnower.store.database import Database
from winnower.writers.pictures import picture
from winnower.writers.report_files import report_file
from winnower.writers.report_pictures import all_drawn


def look(
    paths: list[tuple[str, Path]],
    settings: Settings,
    lots: Any,
    kept: Any,
    known: Known,
    without: dict[str, str],
) -> FirstLook:
    found = first_look(paths, settings, lots=lots, kept=kept, known=known, without=without)
    for one in found.lots:  # what is told of files goes back, the files stay here
        one.lot.origins = [replace(origin, open=elsewhere) for origin in one.lot.origins]
    return found


def expect(
    url: str, settings: Settings, project_id: int, params: dict[str, Any], without: dict[str, str]
) -> Expected:
    return expect_import(Database(url), settings, project_id, params | {"without": without})


def one_document(path: Path, name: str, settings: Settings) -> Document:
    """A document that fills a text."""
    origins, problems = list_files([(name, path)], settings.limit_archive_bytes)
    if len(origins) != 1 or origins[0].is_table:
        raise ReadError(
            problems[0].reason if problems else "Attach one document: a PDF, Word file, page or text."
        )
    found = read_document(origins[0].kind, path.read_bytes(), name, settings.limit_text_chars)
    if not found.body:
        raise ReadError(found.reason)
    return found


def dictionary(content: bytes, name: str) -> DictionaryRows:
    return read_dictionary_bytes(content, name)


def codebook(content: bytes, name: str, head: bool | None) -> CodebookGiven:
    return read_codebook_bytes(content, name, head)


def tone_words(content: bytes, name: str) -> ToneRows:
    return read_tone_bytes(content, name)


def write_report(plain: Any, pictures: dict[str, Picture], form: str) -> bytes:
    """Quotes are words from outside, and what lays out pages reads them: so it does it here."""
    return report_file(report_from_plain(plain), pictures, form)


def pictures(
    titles: list[str], shown: list[tuple[AnyView, Answer]], form: Literal["svg", "png"]
) -> list[bytes]:
    """Findings as pictures of their own."""
    return [picture(title, *one, form) for title, one in zip(titles, shown, strict=True)]


#: What a process can be asked for, by name.
TASKS: dict[str, Callable[..., Any]] = {
    "look": look,
    "expect": expect,
    "one document": one_document,
    "dictionary": dictionary,
    "codebook": codebook,
    "tone words": tone_words,
    "table rows": table_rows,
    "write report": write_report,
    "draw": all_drawn,
    "pictures": pictures,
    "ask model": ask,
}


def main(answers: int) -> None:
    task = pickle.load(sys.stdin.buffer)
    limit_memory(task["bytes"])
    files.watching.append(lambda name: send(answers, "file", name))
    try:
        send(answers, "done", TASKS[task["name"]](*task["arguments"]))
    except WinnowerError as error:
        send(answers, "refused", (type(error).__name__, error.message))
    except MemoryError:
        send(answers, "memory", None)


if __name__ == "__main__":
    main(int(sys.argv[1]))
