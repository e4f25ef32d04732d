"""A first look at files before anything is stored."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

from winnower.core.errors import ReadError
from winnower.jobs.look import ROWS_SHOWN, FirstLook, LotLook
from winnower.jobs.look_documents import look_at_documents
from winnower.jobs.look_summary import LookSummary
from winnower.jobs.sources import choices_from_plain, mapping_from_plain
from winnower.readers import Lot, LotChoice, Mapping, Problem, gather, guess_mapping, list_files
from winnower.readers.candidates import source_choices
from winnower.readers.earlier import Known, as_before
from winnower.readers.lots import open_chosen
from winnower.readers.mapping import guess_documents, guess_feed, guess_references
from winnower.readers.prepare import PreparedTexts, Preparer
from winnower.readers.tables import Batch
from winnower.readers.value_order import ValueOrder
from winnower.settings import Settings

ROWS_GUESSED_FROM = 500
SECONDS = 1.5
NOTHING_IN = {"Feeds": "The feed has no entries.", "References": "The list holds no references."}
#: Of a project that had nothing before.
NOTHING = Known()


def guess_lot(lot: Lot, rows: Sequence[Sequence[str]]) -> Mapping:
    """How a lot is taken as long as nobody says otherwise."""
    if not lot.is_table:
        return guess_documents(lot.kind)
    if lot.is_references:
        return guess_references(lot.header)
    return guess_feed(lot.header) if lot.label == "Feeds" else guess_mapping(lot.header, rows)


def first_look(
    paths: list[tuple[str, Path]],
    settings: Settings,
    *,
    lots: dict[str, Any] | None = None,
    kept: dict[str, Any] | None = None,
    known: Known = NOTHING,
    without: dict[str, str] | None = None,
) -> FirstLook:
    """Read as far as SECONDS allow, guess each mapping unless one is given, list what will not go in.

    ``lots`` holds by key what was chosen, ``kept`` what was chosen for the same columns earlier; ``known``
    is what the project had before; files in ``without`` are left out for a reason.
    """
    look = FirstLook()
    chosen = {**(kept or {}), **(lots or {})}
    choices = choices_from_plain({"lots": chosen})
    origins, problems = list_files(paths, settings.limit_archive_bytes, without)
    look.add(problems)
    found, problems = gather(origins, settings.limit_text_chars, choices)
    look.add(problems)
    deadline = time.monotonic() + SECONDS
    for lot in found:
        given = chosen.get(lot.key, {}).get("mapping")
        mapping = mapping_from_plain(given) if given else None
        choice = choices.get(lot.key, LotChoice())
        one = LotLook(lot, choice, mapping or Mapping(()))
        one.kept = lot.key in (kept or {}) and lot.key not in (lots or {})
        look.lots.append(one)
        try:
            if lot.is_table:
                _look_at_tables(look, one, settings, deadline, mapping, known)
            else:
                # a file cut by nothing the last time may hold many texts this time
                said = lot.key in (lots or {}) or (one.kept and choice.cut != "file")
                look_at_documents(look, one, settings, mapping, said, known.kinds)
        except ReadError as error:
            one.reason = error.message
    _leave_out_helpers(look, chosen)
    look.notices += [
        f"{file}: {more:,} more, for the reason: {reason}" for file, reason, more in look.folded()
    ]
    return look


def _leave_out_helpers(look: FirstLook, chosen: dict[str, Any]) -> None:
    """Hidden sheets, and tables without a text beside others with one, wait to be ticked."""
    some = any(one.mapping.texts or one.mapping.placeholders for one in look.lots)
    for one in look.lots:
        if one.lot.key in chosen or not one.lot.is_table:
            continue
        hidden = bool(one.lot.origins) and all(origin.hidden for origin in one.lot.origins)
        if hidden or (some and not one.mapping.texts and not one.mapping.placeholders):
            one.choice = replace(one.choice, leave_out=True)
            one.aside = "a hidden sheet" if hidden else "no column here looks like texts"


def _look_at_tables(
    look: FirstLook,
    one: LotLook,
    settings: Settings,
    deadline: float,
    mapping: Mapping | None,
    known: Known,
) -> None:
    limit, lot = settings.limit_text_chars, one.lot
    keys = _Keys()
    order: ValueOrder | None = None
    first: Batch | None = None
    summary = LookSummary()
    for number, origin in enumerate(lot.origins):
        if number and time.monotonic() > deadline:
            look.everything = False
            break
        reader = open_chosen(origin, limit, one.choice)
        name = getattr(reader, "file", origin.name)
        preparer: Preparer | None = None
        order = order or ValueOrder(reader.header)
        for batch in reader.batches():
            if not one.rows:
                one.rows = batch.rows[:ROWS_SHOWN]
                one.sources = source_choices(lot, batch.rows[:ROWS_GUESSED_FROM])
                guessed = mapping or guess_lot(lot, batch.rows[:ROWS_GUESSED_FROM])
                one.mapping = mapping or as_before(lot, guessed, known)
            order.see(batch.rows, one.mapping)
            if mapping is None:
                one.mapping = order.settled(one.mapping)
            if (preparer is None or preparer.mapping != one.mapping) and (
                one.mapping.texts or one.mapping.placeholders
            ):
                preparer = Preparer(reader.header, one.mapping, limit, lot.is_references)
                if first is not None and number == 0:  # what came since decides how the first were meant
                    one.samples = preparer.prepare(first.rows, first.lines, [name] * len(first.rows))
                    preparer.problems.clear()
                    summary = LookSummary()
                    summary.see(one.samples)
            first = first or batch
            if preparer:
                texts = _take_samples(one, preparer, batch, name)
                keys.see(name, texts)
                summary.see(texts)
                look.add(preparer.problems)
            look.add(reader.problems)
            look.checked += len(batch.rows)
            if time.monotonic() > deadline:
                look.everything = False
                break
        look.add(reader.problems)
        look.notices += [f"{name}: {notice}" for notice in reader.notices]
        if number == 0 and not one.rows:
            one.mapping = mapping or guess_lot(lot, [])
            look.add([Problem(name, 0, NOTHING_IN.get(lot.label, "The table has column names but no rows."))])
    if order is not None:
        one.doubts = order.doubts(one.mapping)
    one.numbers = summary.in_numbers
    if mapping is None and keys.count_each_file:
        one.mapping = replace(one.mapping, same="key-file")


class _Keys:
    """Whether files that are read alike number their rows each for itself: the same keys with other texts."""

    def __init__(self) -> None:
        self._seen: dict[str, tuple[str, int]] = {}
        self._same = self._other = 0

    def see(self, file: str, texts: PreparedTexts) -> None:
        for key, body in zip(texts.key, texts.body, strict=True):
            if key is None:
                continue
            before = self._seen.setdefault(key, (file, hash(body)))
            if before[0] != file:
                self._same += before[1] == hash(body)
                self._other += before[1] != hash(body)

    @property
    def count_each_file(self) -> bool:
        return self._other > self._same


def _take_samples(one: LotLook, preparer: Preparer, batch: Batch, name: str) -> PreparedTexts:
    texts = preparer.prepare(batch.rows, batch.lines, [name] * len(batch.rows))
    if not len(one.samples):
        one.samples = texts
    return texts
