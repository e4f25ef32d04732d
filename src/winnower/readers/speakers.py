"""Who speaks in a transcript: turns with their speaker, and lines that look like one and are fields."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import replace
from typing import NamedTuple

from winnower.readers.document import BOLD, Document, Place, without_stretches
from winnower.readers.fieldlines import label_of, role_of

#: "Name:", "@name:", "I:", "B 2:", "Ann Bore (00:12:30):", "[00:12] Ann:"; the time is kept as a place.
_TURN = re.compile(
    r"(?:[\[(](\d{1,2}:\d{2}(?::\d{2})?)[\])]\s*)?"
    r"(@[\w.]{1,40}|[^\W\d_][\w.'’\-]{0,25}(?: [^\W_][\w.'’\-]{0,25}){0,3})"
    r"(?:\s*[\[(](\d{1,2}:\d{2}(?::\d{2})?)[\])])?\s?[:：][ \t]*(?=\S|$)"
)
MOST_SPEAKERS = 40
LEAST_TURNS = 4
#: A label that never has more words behind it is a field.
FIELD_WORDS = 6
#: Names in bold have no colon to tell them from headings: they must come again more often.
LEAST_BOLD = 3
_NAME = re.compile(r"@?[^\W\d_][\w.'’\-]{0,25}(?: [^\W_][\w.'’\-]{0,25}){0,3}")


class SpeakerLabel(NamedTuple):
    """Who speaks from a line on: the name, a time, and how many signs of the line say so; ``field`` unless
    it stands in bold without a colon."""

    name: str
    time: str
    chars: int
    field: bool = True


class _Line(NamedTuple):
    text: str
    label: SpeakerLabel | None

    @property
    def words(self) -> int:
        """Behind the label."""
        return len(self.text[self.label.chars if self.label else 0 :].split())


def labelled_lines(document: Document) -> Iterator[_Line]:
    """The lines of a document with their ends, and the label each begins with."""
    bold = {place.start: place.label for place in document.places if place.kind in BOLD}
    at = 0
    for line in document.body.splitlines(keepends=True):
        yield _Line(line, _label(line, at, bold))
        at += len(line)


def _label(line: str, at: int, bold: Mapping[int, str]) -> SpeakerLabel | None:
    """The label of a line that begins at ``at``; ``bold`` are the words in bold by where they begin."""
    if match := _TURN.match(line):
        return SpeakerLabel(match[2], match[1] or match[3] or "", match.end())
    if at not in bold or not _NAME.fullmatch(bold[at]) or not line.startswith(bold[at]):
        return None
    spaces = len(line) - len(line[len(bold[at]) :].lstrip())
    return SpeakerLabel(bold[at], "", min(spaces, len(line.rstrip("\n"))), False)


def begins_turn(line: str) -> bool:
    """Whether a line begins as turns and field lines do."""
    return _TURN.match(line) is not None


def find_speakers(document: Document) -> list[str]:
    """Names of the speakers in the order they speak; none where it is no transcript."""
    lines = [line for line in labelled_lines(document) if line.text.strip()]
    labels = [line.label for line in lines if line.label]
    for field in (True, False):
        counted = Counter(label.name for label in labels if label.field == field)
        least = 2 if field else LEAST_BOLD
        names = [n for n in counted if counted[n] >= least and not (field and _is_field(n, lines))]
        spoken = sum(counted[name] for name in names)
        few = len(names) <= MOST_SPEAKERS
        if few and spoken >= LEAST_TURNS and len(names) >= 2 and spoken >= len(lines) * 0.2:
            return names + (_answering_once(counted, lines) if field else [])
    return []


def _answering_once(counted: Counter[str], lines: list[_Line]) -> list[str]:
    """Somebody who speaks only once says more than a field holds."""
    return [
        line.label.name
        for line in lines
        if line.label
        and line.label.field
        and counted[line.label.name] == 1
        and line.words > FIELD_WORDS
        and not _is_field(line.label.name, lines)
    ]


def _is_field(name: str, lines: list[_Line]) -> bool:
    """Whether a label is one of the known fields, or only ever has a few words and comes at the top."""
    label = label_of(f"{name}: x")
    if label and role_of(label):
        return True
    said = [(at, line.words) for at, line in enumerate(lines) if line.label and line.label.name == name]
    return len(said) == 1 and said[0][0] < 12 and said[0][1] <= FIELD_WORDS


def with_turns(document: Document) -> Document:
    """The document with the speakers' labels taken out of its words and kept as places of kind "turn". As it is
    where nobody speaks."""
    speakers = set(find_speakers(document))
    if not speakers:
        return document
    out: list[str] = []
    turns: list[Place] = []
    cuts: list[tuple[int, int]] = []
    waiting: SpeakerLabel | None = None
    at = chars = 0
    for line, label in labelled_lines(document):
        kept = line
        if label and label.name in speakers and not line[label.chars :].strip():
            waiting, kept = label, ""  # a name on a line of its own; it speaks from the next words on
        elif label and label.name in speakers:
            waiting, kept = label, line[label.chars :]
        if waiting and kept.strip():
            # each turn is a paragraph of its own
            parted = "\n" if out and not "".join(out[-2:]).endswith("\n\n") else ""
            turns += [Place("time", chars + len(parted), waiting.time)] if waiting.time else []
            turns.append(Place("turn", chars + len(parted), waiting.name.removeprefix("@")))
            kept, waiting = parted + kept, None
        elif waiting:
            kept = ""
        if len(kept) != len(line):
            cuts.append((at, len(line) - len(kept)))
        out.append(kept)
        at, chars = at + len(line), chars + len(kept)
    plain = replace(document, places=tuple(p for p in document.places if p.kind not in BOLD))
    return without_stretches(plain, cuts, "".join(out), turns)
