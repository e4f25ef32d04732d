"""What comes out of the files of the catalogue, and out of damaged ones."""

from __future__ import annotations

import itertools
import tempfile
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core import catalogue_formatted, catalogue_programs
from tests.core.catalogue import BODIES, Case
from tests.core.catalogue import CASES as PLAIN
from winnower.jobs.preview import first_look
from winnower.jobs.sources import Pieces, mapping_to_plain
from winnower.readers import Problem
from winnower.settings import load_settings

SETTINGS = load_settings()
CASES = [*PLAIN, *catalogue_formatted.CASES, *catalogue_programs.CASES]
MARKS = tuple(" ".join(body.split()[:4]) for body in BODIES)
_tmp = tempfile.TemporaryDirectory()
_number = itertools.count()


def read(name: str, content: bytes):
    """A file as the first look would have it imported: pieces, and problems."""
    folder = Path(_tmp.name) / str(next(_number))
    folder.mkdir()
    path = folder / "file"
    path.write_bytes(content)
    look = first_look([(name, path)], SETTINGS)
    lots = {}
    for one in look.lots:
        if not one.reason and (one.mapping.texts or one.mapping.placeholders):
            choice = one.choice
            lots[one.lot.key] = {
                "mapping": mapping_to_plain(one.mapping),
                "cut": choice.cut,
                "cut_line": choice.cut_line,
                "speakers": choice.speakers,
                "head_fields": choice.head_fields,
                "leave_out": choice.leave_out,
            }
        else:  # the interface asks which column holds the text, and imports nothing before
            lots[one.lot.key] = {"leave_out": True}
            look.add([Problem(name, 0, one.reason or "No column looks like texts.")])
    pieces = list(Pieces({"paths": [(name, str(path))], "lots": lots}, SETTINGS))
    problems = [problem for piece in pieces for problem in piece.problems] + look.problems
    return [piece.texts for piece in pieces if len(piece.texts)], problems


def column(batches, name):
    return tuple(value for texts in batches for value in getattr(texts, name))


def test_the_catalogue_is_large():
    assert len(CASES) >= 180 and len({case.name for case in CASES}) == len(CASES)
    assert len(catalogue_programs.PROGRAMS) >= 6


@pytest.mark.parametrize("case", CASES, ids=lambda case: case.name)
def test_what_comes_out(case: Case):
    batches, problems = read(case.name, case.content)
    bodies = column(batches, "body")
    assert len(bodies) == len(case.texts), (bodies, problems)
    for body, wanted in zip(bodies, case.texts, strict=True):
        assert body.startswith(wanted)
    if case.titles is not None:
        assert column(batches, "title") == case.titles
    if case.sources is not None:
        assert column(batches, "source") == case.sources
    if case.dates is not None:
        assert tuple(str(d) if d else None for d in column(batches, "date")) == case.dates
    for words in case.holds:
        assert any(words in body for body in bodies)
    for name, values in case.values.items():
        assert tuple(v for texts in batches for v in texts.values[name]) == values
    if case.turns is not None:
        extras = column(batches, "extra")
        spoken = tuple(
            tuple(p.label for p in (extra.places if extra else ()) if p.kind == "turn") for extra in extras
        )
        assert spoken == case.turns


def test_turns_stand_where_their_words_begin():
    case = next(case for case in CASES if case.name == "talk-initials-tight.txt")
    batches, _ = read(case.name, case.content)
    body, extra = column(batches, "body")[0], column(batches, "extra")[0]
    turns = [place for place in extra.places if place.kind == "turn"]
    assert "I:" not in body and "B:" not in body
    assert body[turns[1].start :].startswith(BODIES[0])
    assert body[turns[3].start :].startswith(BODIES[1])


mutations = st.one_of(
    st.tuples(st.just("cut"), st.floats(0.05, 0.99)),
    st.tuples(st.just("doubled"), st.just(0.0)),
    st.tuples(st.just("line ends"), st.sampled_from([0.0, 1.0])),
    st.tuples(st.just("encoding"), st.sampled_from([0.0, 1.0, 2.0])),
    st.tuples(st.just("byte"), st.floats(0, 0.99)),
    st.tuples(st.just("zeros"), st.floats(0, 0.99)),
)


def mutated(content: bytes, how: str, part: float) -> bytes:
    at = int(len(content) * part)
    if how == "cut":
        return content[:at] or b"x"
    if how == "doubled":
        return content + content
    if how == "line ends":
        return content.replace(b"\n", b"\r\n" if part else b"\r")
    if how == "encoding":
        try:
            return content.decode("utf-8").encode(("utf-16", "utf-8-sig", "cp1252")[int(part)])
        except UnicodeError:
            return content
    if how == "byte":
        return content[:at] + b"\xff" + content[at + 1 :]
    return content[:at] + b"\x00" * 8 + content[at:]


@settings(max_examples=50)
@given(st.sampled_from(CASES), mutations)
def test_damaged_files_bring_nothing_that_was_not_in_them(case: Case, mutation):
    """No crash, a reason for what is missing, and no words that the file did not have."""
    whole = {
        word for texts in read(case.name, case.content)[0] for body in texts.body for word in body.split()
    }
    batches, problems = read(case.name, mutated(case.content, *mutation))
    bodies = column(batches, "body")
    assert bodies or problems
    assert all(problem.reason.strip() and "Traceback" not in problem.reason for problem in problems)
    one_byte = b"\0" not in case.content  # line ends of UTF-16 are no single bytes
    if mutation[0] in ("doubled", "line ends") and case.name.endswith((".csv", ".tsv")) and one_byte:
        found = {word for body in bodies for word in body.split()}
        assert whole <= found
