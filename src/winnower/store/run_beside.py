"""What a run found beside what people coded by hand, unit by unit."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass

import numpy as np
from sqlalchemy.orm import Session

from winnower.core.coding import Passages
from winnower.core.places.stretches import as_places
from winnower.core.places.units import Units, units_of
from winnower.core.scope import Scope, Split
from winnower.store.codebook import codebook_of
from winnower.store.models import CodingRun, RunTarget
from winnower.store.opened import OpenCorpus
from winnower.store.run_review import judged_run
from winnower.store.runs import targets_of


@dataclass(frozen=True)
class Marked:
    """Units of the texts that people coded; for each code of a run bool per unit whether the run has it, and whether
    somebody coded by hand the code it is held against (``by_hand``)."""

    units: Units
    at: np.ndarray
    codes: tuple[int, ...]
    by_hand: tuple[int, ...]
    run: np.ndarray
    hand: np.ndarray

    @property
    def text(self) -> np.ndarray:
        """The place of the text of each unit."""
        found: np.ndarray = self.units.text[self.at]
        return found


def marked(
    session: Session,
    run: CodingRun,
    corpus: OpenCorpus,
    passages: Passages,
    scope: Scope,
    unit: str,
    coders: Collection[int] = (),
    matched: Mapping[int, int] | None = None,
) -> Marked:
    """Over the units of all texts of the run's scope in which somebody (or one of ``coders``) coded anything by hand.
    A code is taken with all below it, on both sides, and held against itself or the code it is ``matched`` with. Raises
    NotFound for a matched code that is gone."""
    book = codebook_of(session, run.project_id)
    hand_of = {code: book.code(other).id for code, other in (matched or {}).items()}
    targets = targets_of(session, [run.id])[run.id]
    units: Units = corpus.kept(("units", unit), lambda one: units_of(one.index, unit), ())
    by_hand = passages.taken(np.isin(passages.made_by, list(coders)) if coders else passages.made_by > 0)
    place = corpus.places_of(by_hand.text_id)
    mask = corpus.ground(scope, Split()).mask
    inside = (place >= 0) & mask[place]
    by_hand, place = by_hand.taken(inside), place[inside]
    coded = np.zeros(corpus.index.n_texts, bool)
    coded[place] = True
    at = np.flatnonzero(coded[units.text])
    codes = tuple(dict.fromkeys(one.code_id for one in targets if one.code_id in book.tree.node))
    found = judged_run(session, run, corpus)
    number = found["target"].to_numpy()
    hand_rows, run_rows = [], []
    for code in codes:
        under = book.tree.below(code)
        other = book.tree.below(hand_of.get(code, code))
        mine = by_hand.under([one for one in other if one in by_hand.by_code])
        hand_rows.append(_touched(corpus, units, place[mine], by_hand.start[mine], by_hand.end[mine])[at])
        own = np.isin(number, _numbers(targets, under))
        some = found.filter(own)
        where = (some["place"].to_numpy(), some["start"].to_numpy(), some["end"].to_numpy())
        run_rows.append(_touched(corpus, units, *where)[at])
    shape = (len(codes), len(at))
    return Marked(
        units, at, codes, tuple(hand_of.get(code, code) for code in codes),
        np.array(run_rows, bool).reshape(shape), np.array(hand_rows, bool).reshape(shape),
    )  # fmt: skip


def _numbers(targets: Collection[RunTarget], codes: Collection[int]) -> list[int]:
    return [one.number for one in targets if one.code_id in codes]


def _touched(
    corpus: OpenCorpus, units: Units, text: np.ndarray, start: np.ndarray, end: np.ndarray
) -> np.ndarray:
    return units.touched(as_places(text, start, end, corpus.index), corpus.index)
