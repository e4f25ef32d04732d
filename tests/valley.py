"""Texts that something can be learned from: thirty of six sentences, every third of them of a loss."""

import random

from sqlalchemy import select

from tests.conftest import write_table
from winnower.store.codebook import codebook_of, make_code
from winnower.store.coded import note_coding
from winnower.store.history import Recorder
from winnower.store.models import Project, TextRow
from winnower.store.passages import code_stretch
from winnower.store.texts import bodies

LOSS = [
    "The farm lost a lamb.",
    "A dead ewe lay by the wall.",
    "Nobody paid for the lamb.",
    "The ewe was killed.",
]
TALK = [
    "The board met in the hall.",
    "A lovely day on the road.",
    "The school closed early.",
    "It rained at the bridge.",
]
#: Of so many texts the losses are coded.
READ = 12


def valley_rows():
    rng = random.Random(4)
    rows = []
    for number in range(30):
        sentences = [rng.choice(LOSS if n % 3 == number % 3 else TALK) for n in range(6)]
        source = ("Hill Farmer", "Orrin Courier")[number % 2]
        date = f"2031-03-{number % 28 + 1:02}"
        rows.append([f"V{number}", f"Text {number:02}", source, date, " ".join(sentences), "", ""])
    return rows


def deliver_valley(deliver, folder):
    deliver(write_table(folder / "valley.csv", valley_rows()))


def code_losses(database, project_id, account_id):
    """In the first texts each loss under a code Losses."""
    with database.session() as session:
        recorder = Recorder(session, project_id, account_id, "Losses")
        code = make_code(recorder, codebook_of(session, project_id), "Losses")
        asked = select(TextRow.id, TextRow.title).where(TextRow.project_id == project_id)
        texts = sorted(
            (title, text_id) for text_id, title in session.execute(asked) if title.startswith("Text ")
        )
        found = bodies(session, [text_id for _, text_id in texts[:READ]])
        for text_id, body in found.items():
            for loss in LOSS:
                words, at = loss.rstrip("."), body.find(loss)
                while at >= 0:
                    code_stretch(recorder, text_id, (at, at + len(words)), [code])
                    at = body.find(loss, at + 1)
        note_coding(session, session.get_one(Project, project_id), recorder.changes)
