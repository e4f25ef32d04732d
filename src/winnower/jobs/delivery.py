"""A delivery from its files to the parameters of an import: the same for screen, command line and scripts.

The files are looked at in a process of their own, with what the project knows of earlier deliveries; what the look
found, changed where somebody chose otherwise, is what the import is told.
"""

from __future__ import annotations

from collections.abc import Mapping as AnyMapping
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

from winnower.jobs.again import Known as KnownText
from winnower.jobs.again import Met, compare
from winnower.jobs.apart import Apart
from winnower.jobs.identity import Identities, content_hashes
from winnower.jobs.look import FirstLook, LotLook
from winnower.jobs.sources import mapping_from_plain, mapping_to_plain
from winnower.readers import Mapping
from winnower.readers.earlier import Known, Line
from winnower.settings import Settings
from winnower.store.again import lines_of
from winnower.store.corpus import variables_of
from winnower.store.database import Session
from winnower.store.imports import kept_mappings, stored_contents
from winnower.store.texts import bodies

#: So many rows must have known keys before anything is said of them.
LEAST_RENUMBERED = 3
#: Words that a text and its corrected form share, as a part of all words of the two.
ALIKE = 0.3


def look_at_delivery(
    apart: Apart,
    settings: Settings,
    session: Session,
    project_id: int,
    paths: Sequence[tuple[str, Path]],
    chosen: AnyMapping[str, Any],
) -> FirstLook:
    """How files would be read; ``chosen`` holds by the key of a lot what somebody said of it. Raises ReadError."""
    kept = kept_mappings(session, project_id)
    found: FirstLook = apart.call_without(
        "look", list(paths), settings, dict(chosen), kept, known_of(session, project_id), {}
    )
    for one in found.lots:
        if one.lot.is_table and one.lot.key not in chosen:
            take_own_numbers_as_new(session, project_id, one)
    return found


def take_own_numbers_as_new(session: Session, project_id: int, one: LotLook) -> None:
    """Where rows have the keys of texts that are there and nothing else of them, the table numbers its own rows: then
    texts are told apart by what they say, and ``renumbered`` says how many those were."""
    texts = one.samples
    mapping = one.mapping if one.mapping.line is not None else replace(one.mapping, line=one.lot.key)
    if mapping.rule != "key" or not len(texts):
        return
    contents = content_hashes(texts)
    identities = Identities().of(texts, contents, mapping)
    stored = stored_contents(session, project_id, identities)
    known = [
        KnownText(at, stored[identity][0], identity, stored[identity][1])
        for at, identity in enumerate(identities)
        if identity in stored
    ]
    if len(known) < LEAST_RENUMBERED:
        return
    others = [
        met
        for met in compare(session, project_id, texts, contents, known, mapping)
        if _all_differs(met, mapping)
    ]
    words = bodies(session, [met.text_id for met in others])
    unlike = sum(not _alike(words[met.text_id], texts.body[met.at]) for met in others)
    if unlike * 2 > len(known):
        one.mapping = replace(one.mapping, same="row")
        one.renumbered = (unlike, len(known))


def _all_differs(met: Met, mapping: Mapping) -> bool:
    """Whether the text, its title and its date are others, as far as there are columns for them."""
    return met.other_text and all(
        role in met.values for role in ("title", "date") if mapping.column(role) is not None
    )


def _alike(one: str, other: str) -> bool:
    """Whether two texts share words as a text and its corrected form do."""
    first, second = set(one.casefold().split()), set(other.casefold().split())
    return len(first & second) >= ALIKE * max(len(first | second), 1)


def known_of(session: Session, project_id: int) -> Known:
    """What a project knows of earlier deliveries."""
    lines = [
        Line(row.token, row.name, mapping_from_plain(row.mapping)) for row in lines_of(session, project_id)
    ]
    return Known(lines, {variable.name: variable.kind for variable in variables_of(session, project_id)})


def choice_of(one: LotLook) -> dict[str, Any]:
    """How a lot was taken in a look, in the plain form that is kept for the next delivery."""
    choice = one.choice
    return {
        "mapping": mapping_to_plain(one.mapping),
        "encoding": choice.encoding,
        "delimiter": choice.delimiter,
        "headings": choice.headings,
        "records": choice.records,
        "cut": choice.cut,
        "cut_line": choice.cut_line,
        "cut_marks": choice.cut_marks,
        "speakers": choice.speakers,
        "keep_lines": choice.keep_lines,
        "head_fields": choice.head_fields,
        "leave_out": choice.leave_out,
    }


def import_params(paths: Sequence[tuple[str, Path]], lots: AnyMapping[str, Any]) -> dict[str, Any]:
    """Parameters of an import's job."""
    first = paths[0][0].split("/")[0]
    return {
        "name": first if len(paths) == 1 else f"{first} and {len(paths) - 1:,} more",
        "paths": [(name, str(path)) for name, path in paths],
        "lots": dict(lots),
    }
