"""The codebook of the demo project, and texts two people have coded who differ here and there."""

from __future__ import annotations

import csv
import gzip
import hashlib
import re
from collections.abc import Iterator
from functools import cache

import numpy as np
import polars as pl

from winnower.settings import ROOT
from winnower.store.codebook import codebook_of, make_code, number_of_codes
from winnower.store.coded import note_coding
from winnower.store.database import Session
from winnower.store.history import Recorder
from winnower.store.models import PassageRow, Project
from winnower.store.texts import texts_from

#: Code, what it stands for, and what a sentence has that is put under it.
CODEBOOK: tuple[tuple[str, tuple[tuple[str, str, str], ...]], ...] = (
    (
        "Frames",
        (
            (
                "Livelihood",
                "Losses, costs, prices, work that depends on the hill.",
                r"lambs?|ewes?|flock|price|market",
            ),
            (
                "Ecology",
                "What the lynx does to deer, birch and the balance of things.",
                r"deer|birch|balance|species",
            ),
            (
                "Fear and safety",
                "Children, paths, pets, being afraid or told not to be.",
                r"frighten|safety|afraid|threat",
            ),
            (
                "Heritage",
                "Hefted flocks, old names, what was always done here.",
                r"heft|generations?|bell walk|grandfather",
            ),
            (
                "Governance",
                "Who decides, who is asked, licence, board, inquiry.",
                r"licence|inquiry|vote|consult",
            ),
            (
                "Wonder",
                "Sightings, tracks, what cannot be put into words.",
                r"kittens?|tuft|photograph|magic",
            ),
        ),
    ),
    (
        "Who speaks",
        (
            ("Farmer", "Somebody who keeps animals on the hill.", r"farmer|shepherd|grazier"),
            (
                "Official",
                "Somebody who speaks for the board or the council.",
                r"the board has|spokes\w+|councillor",
            ),
            ("Scientist", "Somebody who counts, tracks or studies.", r"ecologist|tracker|scat|camera traps"),
            ("Resident", "Somebody who lives in the valley.", r"neighbours?|famil(?:y|ies)|parish"),
            ("Visitor", "Somebody who comes to walk or to look.", r"visitors?|walkers?|booked"),
        ),
    ),
    (
        "What is asked for",
        (
            (
                "Compensation",
                "Money for what was lost, and how it is claimed.",
                r"compensat\w+|claims?|out of pocket",
            ),
            ("Protection", "Fences, dogs, collars, guards.", r"fences?|dogs?|collar"),
            ("Being told", "Maps, letters, meetings, a number that answers.", r"helpline|letter|meeting|map"),
            ("An end to it", "Taking the animals back.", r"take them back|put an end|removed?"),
        ),
    ),
)
TECHNICAL = ("To discuss", "For the next meeting of the two coders; says nothing of the text.")
INTERVIEWS, NEWS = "Interviews", ("Orrin Courier", "Hill Farmer", "Valley Wire", "The Lantern")
ARTICLES = 40
LEAST_WORDS = 150
MOST_IN_A_TEXT = 16
SEED = 12
#: Of sentences that are of a frame the first coder puts so many under its code, and so many others by mistake.
SEEN, MISTAKEN = 0.9, 0.01
TRUTH = ROOT / "demo" / "truth.csv.gz"
#: Codes of the frames, as the truth calls them.
FRAMES = {
    "livelihood": "Livelihood",
    "ecology": "Ecology",
    "fear": "Fear and safety",
    "heritage": "Heritage",
    "governance": "Governance",
    "wonder": "Wonder",
}
_SENTENCE = re.compile(r"\S[^\n]*?(?:[.!?][”\"']?(?=\s)|[.!?]?[”\"']?(?=\n|\Z))")
_SPEAKER = re.compile(r"\w[\w .]{0,30}: ")


def load_coding(session: Session, project_id: int, coders: tuple[int, int]) -> int:
    """Codes and passages, unless there are codes; how many passages."""
    if number_of_codes(session, project_id):
        return 0
    recorder = Recorder(session, project_id, coders[0], "Codebook and coded texts")
    codes = _codebook(recorder)
    rng = np.random.default_rng(SEED)
    rows = [
        row
        for text_id, body in _texts(session, project_id)
        for row in _coded(text_id, body, codes, coders, rng)
    ]
    columns = ["text_id", "code_id", "start", "end", "made_by", "strength", "comment"]
    frame = pl.DataFrame(rows, schema=columns, orient="row", infer_schema_length=None).unique(
        columns[:5], keep="first", maintain_order=True
    )
    recorder.insert_frame(PassageRow, frame)
    # not kept as a command: the project begins without a history
    note_coding(session, session.get_one(Project, project_id), recorder.changes)
    return len(frame)


def _codebook(recorder: Recorder) -> dict[int, tuple[str, re.Pattern[str]]]:
    """Make the codes; by the id of each its name, and what is put under it where nothing else tells."""
    out = {}

    def make(name: str, parent_id: int | None = None, **values: object) -> int:
        book = codebook_of(recorder.session, recorder.project_id)
        found: int = make_code(recorder, book, name, parent_id, **values).id
        return found

    colour = 0
    for branch, codes in CODEBOOK:
        parent = make(branch, colour=colour)
        for name, description, cue in codes:
            code = make(name, parent, description=description, colour=colour % 10)
            out[code] = name, re.compile(rf"\b(?:{cue})\b", re.IGNORECASE)
            colour += 1
    make(TECHNICAL[0], description=TECHNICAL[1], technical=True, colour=7)
    return out


def _texts(session: Session, project_id: int) -> Iterator[tuple[int, str]]:
    """All interviews, and some articles of each paper."""
    for name in (INTERVIEWS, *NEWS):
        most = ARTICLES // len(NEWS) if name != INTERVIEWS else None
        texts = texts_from(session, project_id, name, LEAST_WORDS)
        step = max(len(texts) // most, 1) if most else 1
        yield from texts[::step][:most]


@cache
def known_frames() -> dict[str, tuple[str, ...]]:
    """Frames of the sentences of the demo, by the beginning of their SHA-256."""
    with gzip.open(TRUTH, "rt", encoding="utf-8") as file:
        return {
            row["sentence"]: tuple(filter(None, row["frames"].split("|"))) for row in csv.DictReader(file)
        }


def frames_of(sentence: str) -> tuple[str, ...]:
    """Codes of the frames a sentence is of."""
    plain = _SPEAKER.sub("", sentence, count=1) if _SPEAKER.match(sentence) else sentence
    key = hashlib.sha256(plain.encode()).hexdigest()[:12]
    return tuple(FRAMES[one] for one in known_frames().get(key, ()))


def _coded(
    text_id: int,
    body: str,
    codes: dict[int, tuple[str, re.Pattern[str]]],
    coders: tuple[int, int],
    rng: np.random.Generator,
) -> Iterator[tuple[int, int, int, int, int, int | None, str]]:
    """What the two put where: the second coded half of the texts, and sees some things otherwise."""
    second = rng.random() < 0.5
    given = 0
    for found in _SENTENCE.finditer(body):
        words, start = found[0], found.start()
        frames = frames_of(words)
        for code, (name, cue) in codes.items():
            if name in FRAMES.values():
                if rng.random() > (SEEN if name in frames else MISTAKEN):
                    continue
            elif given >= MOST_IN_A_TEXT or not cue.search(words) or rng.random() < 0.35:
                continue
            else:
                given += 1
            strength = int(rng.integers(2, 6)) if rng.random() < 0.2 else None
            yield text_id, code, start, start + len(words), coders[0], strength, ""
            if second and rng.random() < 0.86:
                # a stretch of his own now and then, and now and then another code
                end = start + (words.find(",") if "," in words and rng.random() < 0.25 else len(words))
                other = int(rng.choice(list(codes))) if rng.random() < 0.08 else code
                yield text_id, other, start, max(end, start + 1), coders[1], None, ""
