"""Subtitles and meeting transcripts (WebVTT, SubRip): words in order, times and speakers as places."""

from __future__ import annotations

import re

from winnower.core.tokens import clean
from winnower.readers.document import Assembler, Document, Place
from winnower.readers.plain import decoded

_TIMES = re.compile(
    r"\s*((?:\d{1,3}:)?\d{1,2}:\d{2})[.,]\d{1,3}\s*-->\s*((?:\d{1,3}:)?\d{1,2}:\d{2})[.,]\d{1,3}.*$"
)
_VOICE = re.compile(r"<v(?:\.[^ >]*)?\s+([^>]{1,80})>")
_TAG = re.compile(r"</?[a-zA-Z0-9:.][^>]*>|\{\\[^}]*\}")
_NAMED = re.compile(r"(?:-\s*)?([^\W\d_][\w.'’ \-]{0,40}):\s+(?=\S)")
#: A paragraph ends at a silence of so many seconds, or a full stop after so many characters.
SILENCE_S = 4
PARAGRAPH_CHARS = 600


def read_subtitles(content: bytes, name: str, limit_chars: int, encoding: str | None = None) -> Document:
    """The words of all cues; a line that rolls on from the cue before is taken once."""
    text, notices = decoded(content, encoding)
    cues = _cues(clean(text)[0])
    out = Assembler(limit_chars, notices=list(notices))
    places: list[Place] = []
    words: list[tuple[str, str]] = []
    speaker, last_line, ended = "", "", 0
    named = sum(bool(_NAMED.match(lines[0])) for _, _, lines in cues if lines) > len(cues) * 0.3

    def close() -> None:
        if not words:
            return
        body = " ".join(said for _, said in words)
        start = out.paragraph(body)
        if start is not None:
            if speaker:
                places.append(Place("turn", start, speaker))
            at = start
            for time, said in words:
                places.append(Place("time", at, time))
                at += len(said) + 1
        words.clear()

    for start, end, lines in cues:
        who, said = _spoken(lines, named)
        kept = [line for line in said if line != last_line]
        last_line = said[-1] if said else last_line
        long = sum(len(part) for _, part in words) > PARAGRAPH_CHARS and words[-1][1].endswith(
            (".", "?", "!")
        )
        if (who and who != speaker) or _seconds(start) - ended > SILENCE_S or long:
            close()
        speaker = who or speaker
        ended = _seconds(end)
        if kept:
            words.append((start, " ".join(" ".join(kept).split())))
    close()
    found = out.document(reason="There are no words between the times of this file.")
    return Document(found.body, places=tuple(places), notices=found.notices, reason=found.reason)


def _cues(text: str) -> list[tuple[str, str, list[str]]]:
    """(from, to, lines) of each cue, times without fractions."""
    cues: list[tuple[str, str, list[str]]] = []
    lines: list[str] | None = None
    for line in text.split("\n"):
        if found := _TIMES.match(line):
            lines = []
            cues.append((found[1], found[2], lines))
        elif not line.strip():
            lines = None
        elif lines is not None:
            lines.append(line.strip())
    return cues


def _spoken(lines: list[str], named: bool) -> tuple[str, list[str]]:
    who = ""
    out = []
    for line in lines:
        if voice := _VOICE.search(line):
            who = voice[1].strip()
        plain = _TAG.sub("", line).strip()
        if named and (found := _NAMED.match(plain)):
            who, plain = found[1].strip(), plain[found.end() :]
        if plain:
            out.append(plain)
    return who, out


def _seconds(time: str) -> int:
    total = 0
    for part in time.split(":"):
        total = total * 60 + int(part)
    return total
