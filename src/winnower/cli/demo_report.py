"""The report of the demo project: about eight pages from its findings, quotes and settings."""

from __future__ import annotations

from winnower.core.report import (
    AnyPiece,
    DictionaryPiece,
    FindingPiece,
    HeadingPiece,
    MethodPiece,
    OverviewPiece,
    QualityPiece,
    QuotesPiece,
    WordsPiece,
)
from winnower.store.codebook import codebook_of
from winnower.store.database import Database, Session
from winnower.store.dictionaries import dictionaries_of
from winnower.store.findings import findings_of
from winnower.store.history import Recorder
from winnower.store.reports import make_report, reports_of

TITLE = "Twelve lynx, six ways to speak of them"
BEGINNING = (
    "In April the first lambs were lost, in June the valley voted on compensation, in September an inquiry opened, in "
    "October three kittens were seen on camera. This report asks **who spoke of the lynx in which terms**, whether the "
    "differences are larger than chance would give, and when they began.\n\nThree findings:\n\n- Each source has a mix of frames "
    "of its own, and the differences are large.\n- Governance rises in June and falls after the inquiry.\n- Frames seldom "
    "share a sentence."
)
BEWARE = (
    "The Wire speaks of fear more often than others do, but four papers ran one agency report, and it is in the counts four "
    "times. With the story as the unit the order of the papers stays the same."
)
ENDING = (
    "The frames were counted by their words. Whether a sentence with *claims* complains of them is for readers to judge; of "
    "the passages coded by the dictionary that were reviewed, most were right."
)


def load_report(database: Database, project_id: int, account_id: int) -> bool:
    """Make it unless there is a report; whether it was made."""
    with database.session() as session:
        if reports_of(session, project_id):
            return False
        recorder = Recorder(session, project_id, account_id, "Report")
        make_report(recorder, TITLE, _pieces(session, project_id))
        # not kept as a command: the project begins without a history
        return True


def _pieces(session: Session, project_id: int) -> list[AnyPiece]:
    of = {row.title: row.id for row in findings_of(session, project_id)}
    code = {row.name: row.id for row in codebook_of(session, project_id).codes}

    def finding(
        begins: str, *, says: bool = True, picture: bool = True, numbers: bool = True
    ) -> FindingPiece:
        found = next(one for title, one in of.items() if title.startswith(begins))
        return FindingPiece(found, says, picture, numbers)

    return [
        WordsPiece(BEGINNING),
        HeadingPiece("The texts"),
        OverviewPiece(),
        HeadingPiece("Who speaks of what?"),
        finding("Each source", numbers=False),
        WordsPiece(BEWARE),
        finding("Words typical of Hill Farmer", numbers=False, says=False),
        HeadingPiece("In their words", 2),
        QuotesPiece(code=code["Livelihood"], most=3),
        QuotesPiece(code=code["Wonder"], most=3),
        HeadingPiece("What changed over the year?"),
        finding("Governance rises", numbers=False),
        finding("Wonder before", picture=False),
        HeadingPiece("What occurs together?"),
        finding("Livelihood as the learned", picture=False),
        HeadingPiece("How good the instruments are"),
        QualityPiece(),
        WordsPiece(ENDING),
        HeadingPiece("Method"),
        MethodPiece(),
        HeadingPiece("Appendix"),
        DictionaryPiece(dictionaries_of(session, project_id)[0].id),
    ]
