"""What stands beside a text: pages and sections, who speaks, corrections."""

from __future__ import annotations

from collections.abc import Collection

from sqlalchemy import select
from sqlalchemy.orm import Session

from winnower.core.coding import Standings
from winnower.core.coding.standing import KINDS
from winnower.store.bulk import chunks
from winnower.store.models import Account, CodingRun, RunPlace, RunTarget, TextEdit, TextPlace

TEXTS_AT_ONCE = 1_000


def places_in(session: Session, text_id: int) -> list[TextPlace]:
    """Where its pages and sections begin, in order."""
    return list(
        session.scalars(select(TextPlace).where(TextPlace.text_id == text_id).order_by(TextPlace.start))
    )


def standings_in(session: Session, text_ids: Collection[int]) -> Standings:
    """Who speaks, page and time by place in some texts: turns that came with them, and those that an applied run found
    by the names in their lines."""
    columns = (TextPlace.text_id, TextPlace.kind, TextPlace.start, TextPlace.label)
    rows: list[tuple[int, str, int, str]] = []
    for some in chunks(sorted(set(text_ids)), TEXTS_AT_ONCE):
        asked = select(*columns).where(TextPlace.text_id.in_(some), TextPlace.kind.in_(KINDS))
        rows += [(row[0], row[1], row[2], row[3]) for row in session.execute(asked)]
        by_run = (
            select(RunPlace.text_id, RunPlace.start, RunTarget.name)
            .join(CodingRun, CodingRun.id == RunPlace.run_id)
            .join(RunTarget, (RunTarget.run_id == RunPlace.run_id) & (RunTarget.number == RunPlace.target))
            .where(
                RunPlace.text_id.in_(some),
                CodingRun.state == "applied",
                CodingRun.recipe["finder"]["kind"].as_string() == "speakers",
            )
        )
        rows += [(row[0], "turn", row[1], row[2]) for row in session.execute(by_run)]
    return Standings(rows)


def edits_of(session: Session, text_id: int, most: int = 50) -> list[tuple[TextEdit, str]]:
    """Corrections of a text with who made each, the newest first."""
    rows = session.execute(
        select(TextEdit, Account.full_name)
        .join(Account, Account.id == TextEdit.made_by)
        .where(TextEdit.text_id == text_id)
        .order_by(TextEdit.id.desc())
        .limit(most)
    )
    return [(row[0], row[1]) for row in rows]
