"""Who speaks in a transcript: turns with their speaker, and lines that look like one and are fields."""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import replace

from winnower.readers.document import Document, Place, Remark
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


def find_speakers(document: Document) -> list[str]:
    """Names of the speakers in the order they speak; none where it is no transcript."""
    lines = [line for line in document.body.split("\n") if line.strip()]
    turns = [match for line in lines if (match := _TURN.match(line))]
    counted = Counter(match[2] for match in turns)
    names = [name for name in counted if counted[name] >= 2 and not _is_field(name, lines)]
    spoken = sum(counted[name] for name in names)
    few = len(names) <= MOST_SPEAKERS
    if not few or spoken < LEAST_TURNS or len(names) < 2 or spoken < len(lines) * 0.2:
        return []
    return names + _answering_once(counted, names, lines)


def _answering_once(counted: Counter[str], names: list[str], lines: list[str]) -> list[str]:
    """Somebody who speaks only once says more than a field holds."""
    long = []
    for line in lines:
        match = _TURN.match(line)
        if not match or counted[match[2]] != 1 or _is_field(match[2], lines):
            continue
        if len(line[match.end() :].split()) > FIELD_WORDS:
            long.append(match[2])
    return long


def _is_field(name: str, lines: list[str]) -> bool:
    """Whether a label is one of the known fields, or only ever has a few words and comes at the top."""
    label = label_of(f"{name}: x")
    if label and role_of(label):
        return True
    said = [line[m.end() :].split() for line in lines if (m := _TURN.match(line)) and m[2] == name]
    top = any((m := _TURN.match(line)) and m[2] == name for line in lines[:12])
    return len(said) == 1 and top and len(said[0]) <= FIELD_WORDS


def with_turns(document: Document, names: list[str] | None = None) -> Document:
    """The document with the speakers' labels taken out of its words and kept as places of kind "turn"; lines
    like "Age: 34" at its top become fields. As it is where nobody speaks."""
    speakers = set(find_speakers(document) if names is None else names)
    if not speakers:
        return document
    out: list[str] = []
    turns: list[Place] = []
    fields = dict(document.fields)
    cuts: list[tuple[int, int]] = []
    at = chars = 0
    for line in document.body.splitlines(keepends=True):
        match = _TURN.match(line)
        kept, gone = line, 0
        if match and match[2] in speakers:
            # each turn is a paragraph of its own
            parted = "\n" if out and not "".join(out[-2:]).endswith("\n\n") else ""
            if time := match[1] or match[3]:
                turns.append(Place("time", chars + len(parted), time))
            turns.append(Place("turn", chars + len(parted), match[2].removeprefix("@")))
            kept, gone = parted + line[match.end() :], match.end() - len(parted)
        elif match and not turns and len(line[match.end() :].split()) <= FIELD_WORDS:
            fields[match[2]] = line[match.end() :].strip()
            kept, gone = "", len(line)
        if gone:
            cuts.append((at, gone))
        out.append(kept)
        at, chars = at + len(line), chars + len(kept)
    body = "".join(out)
    lead = len(body) - len(body.lstrip())

    def moved(place: int) -> int:
        return max(place - sum(min(gone, max(place - low, 0)) for low, gone in cuts) - lead, 0)

    places = [Place(p.kind, moved(p.start), p.label) for p in document.places]
    places += [Place(t.kind, max(t.start - lead, 0), t.label) for t in turns]
    remarks = [
        r if r.start is None or r.end is None else Remark(r.body, r.author, moved(r.start), moved(r.end))
        for r in document.remarks
    ]
    end = len(body.strip())
    inside = sorted((p for p in places if p.start < end), key=lambda p: p.start)
    return replace(
        document,
        body=body.strip(),
        places=tuple(inside),
        remarks=tuple(remarks),
        fields=tuple(fields.items()),
    )
