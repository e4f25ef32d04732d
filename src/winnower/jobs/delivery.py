"""A delivery from its files to the parameters of an import: the same for screen, command line and scripts.

The files are looked at in a process of their own, with what the project knows of earlier deliveries; what the look
found, changed where somebody chose otherwise, is what the import is told.
"""

from __future__ import annotations

from collections.abc import Mapping as AnyMapping
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from winnower.jobs.apart import Apart
from winnower.jobs.look import FirstLook, LotLook
from winnower.jobs.sources import mapping_from_plain, mapping_to_plain
from winnower.readers.earlier import Known, Line
from winnower.settings import Settings
from winnower.store.again import lines_of
from winnower.store.corpus import variables_of
from winnower.store.database import Session
from winnower.store.imports import kept_mappings


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
    return found


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
        "cut": choice.cut,
        "cut_line": choice.cut_line,
        "speakers": choice.speakers,
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
