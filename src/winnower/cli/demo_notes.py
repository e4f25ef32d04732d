"""Groups of codes, notes of four types with quotes, paraphrases of two interviews, and kept questions of the demo."""

from __future__ import annotations

import re
from typing import Any

from winnower.store.codebook import codebook_of
from winnower.store.coded import note_notes
from winnower.store.coding_work import keep_question
from winnower.store.database import Session
from winnower.store.groups_of_codes import keep_version, make_group, set_members
from winnower.store.history import Recorder
from winnower.store.models import Project
from winnower.store.notes import add_quotes, make_note
from winnower.store.paraphrases import make_paraphrase
from winnower.store.texts import texts_from

INTERVIEWS = "Interviews"
GROUPS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("About money", ("Livelihood", "Compensation")),
    ("Against the release", ("Livelihood", "Fear and safety", "Heritage", "An end to it")),
    ("For the release", ("Ecology", "Wonder", "Visitor", "Scientist")),
)
#: What a sentence has, and what it says in a reader's words.
PARAPHRASES: tuple[tuple[str, str], ...] = (
    (r"claims (?:take|have been taking) \d+ months", "Claims are settled long after the bills are due."),
    (r"compensation form runs to", "The form asks for proof that nobody on the hill can give."),
    (r"price a lamb like a tin of beans", "The price list does not know what an animal is worth to a farm."),
    (r"subsidy is all that stands between us", "Without the subsidy the farm would be sold up."),
    (r"cannot compensate a (?:family|man) for", "A flock is not a thing that money makes good."),
    (r"losing one tup", "One breeding animal lost sets the work of years back."),
    (r"insurers (?:will not|have stopped)", "No insurer takes the risk on the open hill."),
    (r"nobody has been compensated for the first losses", "The first losses were never paid."),
    (r"payment for a ewe does not cover", "The payment forgets the lambs that will not be born."),
    (r"shepherd's wage for night watching", "Watching at night costs more than it saves."),
    (r"A heft is", "Which ewe belongs where is passed on by the animals, not by maps."),
    (r"handed from ewe to lamb", "Which ewe belongs where is passed on by the animals, not by maps."),
    (r"bell walk has gone up", "The bell walk stands for three hundred years of doing it this way."),
    (r"old way of life cannot be kept", "A way of life is lived or lost; it cannot be put on show."),
    (r"tradition is not a show for visitors", "Custom is work, not a display."),
    (r"when a farm is given up", "With the farm goes what people say and tell."),
    (r"people come for the hills and forget", "Visitors do not see that somebody made what they come for."),
    (r"grandfather could name every", "The old people knew every stone by its name."),
    (r"habitat on the Orrin side", "The valley has room for a set number of lynx, and no more."),
    (r"young birch is coming back", "Young birch grows again where the deer keep away."),
    (r"saw it for ten seconds", "A few seconds of seeing it have stayed for months."),
)
QUESTIONS: tuple[tuple[str, str, dict[str, Any]], ...] = (
    ("Livelihood where heritage is not far", "Livelihood", {"relation": "near", "codes": "Heritage", "within": 40}),
    ("Compensation within governance", "Compensation", {"relation": "in one text", "codes": "Governance"}),
    ("Fear without a word of protection", "Fear and safety", {"relation": "in one text", "codes": "Protection", "without": True}),
)  # fmt: skip
SPEAKER = re.compile(r"^\w+: ")
SENTENCE = re.compile(r"[^.!?\n]*\w[^.!?\n]*[.!?]?[”\"']?")


def load_notes(session: Session, project_id: int, coders: tuple[int, int], names: tuple[str, str]) -> None:
    """What goes with a codebook that was just made: groups, notes, paraphrases, questions, a kept version."""
    recorder = Recorder(session, project_id, coders[0], "Notes")
    book = codebook_of(session, project_id)
    code = {row.name: row.id for row in book.codes}
    for name, members in GROUPS:
        set_members(recorder, make_group(recorder, name), [code[one] for one in members])
    for name, of, beside in QUESTIONS:
        asked = (
            {"without": False, "within": 10, "unit": "words"} | beside | {"codes": [code[beside["codes"]]]}
        )
        question = {
            "codes": [code[of]],
            "coders": [],
            "strength": 0,
            "beside": [asked],
            "text_id": None,
            "group": "",
        }
        keep_question(recorder, name, question)
    texts = texts_from(session, project_id, INTERVIEWS, 0)[:2]
    for text_id, body in texts:
        _paraphrases(recorder, text_id, body)
    _notes(recorder, names[0], code, texts)
    second = Recorder(session, project_id, coders[1], "Notes")
    _second_notes(second, names[1], code, texts)
    keep_version(session, project_id, coders[0], "First round", "As agreed before the interviews were coded.")
    # not kept as commands: the project begins without a history
    note_notes(session, session.get_one(Project, project_id), {"note"})


def _stretch(body: str, pattern: str) -> tuple[int, int] | None:
    """The sentence that has the pattern first."""
    cue = re.compile(pattern, re.IGNORECASE)
    for found in SENTENCE.finditer(body):
        if cue.search(found[0]):
            words = SPEAKER.sub("", found[0].strip())
            start = found.start() + found[0].index(words)
            return start, start + len(words)
    return None


def _paraphrases(recorder: Recorder, text_id: int, body: str) -> None:
    said = set[str]()
    for pattern, words in PARAPHRASES:
        stretch = _stretch(body, pattern)
        if stretch and words not in said:
            said.add(words)
            make_paraphrase(recorder, text_id, stretch, words)


def _quoted(recorder: Recorder, note: Any, texts: list[tuple[int, str]], patterns: tuple[str, ...]) -> None:
    places = [
        (text_id, *stretch)
        for text_id, body in texts
        for pattern in patterns
        if (stretch := _stretch(body, pattern))
    ]
    if places:
        add_quotes(recorder, note, places)


def _notes(recorder: Recorder, author: str, code: dict[str, int], texts: list[tuple[int, str]]) -> None:
    first, body = texts[0]
    question = make_note(
        recorder,
        author,
        "Does **livelihood** ever stand alone? In both interviews it seems to come with heritage: the flock is "
        "income *and* what was handed down. If so, counting the two as rivals says more than the people do.",
        kind="question",
        title="Livelihood and heritage: two frames or one?",
        code_id=code["Livelihood"],
    )
    _quoted(recorder, question, texts, (r"flock that (?:took|has been)", r"pride in"))
    make_note(
        recorder,
        author,
        "“Told we would not be out of pocket”: a promise is remembered before any sum is named. Look for promises "
        "in the papers before June.",
        kind="idea",
        title="The promise",
        text_id=first,
        **dict(zip(("start", "end"), _stretch(body, r"we were told") or (None, None), strict=True)),
    )
    make_note(
        recorder,
        author,
        "We code whole sentences. Where a sentence has two frames it gets both codes.\n\n"
        "1. Read the text once without coding.\n2. Code frames, then who speaks, then what is asked for.\n"
        "3. What you are not sure of goes under [To discuss](code:" + str(code["To discuss"]) + ").",
        kind="method",
        title="How we code",
    )
    make_note(
        recorder,
        author,
        "All nine interviews read. Una and Bram sound alike about money and quite different about the woods. "
        "The coding took about forty minutes an interview.",
        kind="diary",
        title="First week",
    )


def _second_notes(
    recorder: Recorder, author: str, code: dict[str, int], texts: list[tuple[int, str]]
) -> None:
    note = make_note(
        recorder,
        author,
        "What somebody saw and what somebody was told they should see are both under Wonder now. Should sightings "
        "on film count?",
        kind="question",
        title="Wonder at second hand",
        code_id=code["Wonder"],
    )
    _quoted(recorder, note, texts[1:], (r"saw it for ten seconds", r"four seconds of film"))
    make_note(
        recorder,
        author,
        "Speaks for the farm as a whole, not for herself: “we” throughout.",
        kind="idea",
        text_id=texts[0][0],
    )
