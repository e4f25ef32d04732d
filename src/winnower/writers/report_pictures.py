"""The pictures of a report, each drawn once."""

from __future__ import annotations

import multiprocessing
import os
from collections.abc import Mapping
from concurrent.futures import ProcessPoolExecutor

from winnower.core.errors import WinnowerError
from winnower.core.finding import Answer, sheets_from_plain, view_from_plain
from winnower.core.report import Drawing, Picture, PictureForm
from winnower.writers.pictures import picture

LEAST_AT_ONCE, MOST_AT_ONCE = 4, 4


def drawn(drawing: Drawing, form: PictureForm) -> bytes:
    """A picture without title and foot, since a caption says both. Raises WinnowerError where there is nothing to
    draw."""
    answer = Answer(drawing.title, "", sheets_from_plain(drawing.sheets), (), ())
    return picture(drawing.title, view_from_plain(drawing.view), answer, form, bare=True)


def all_drawn(drawings: Mapping[str, Drawing], form: PictureForm) -> dict[str, Picture]:
    """By the names of the drawings; several are drawn at once."""
    if len(drawings) < LEAST_AT_ONCE:
        return {name: _tried(drawing, form) for name, drawing in drawings.items()}
    at_once = min(os.cpu_count() or 1, MOST_AT_ONCE)
    with ProcessPoolExecutor(at_once, mp_context=multiprocessing.get_context("fork")) as pool:
        found = pool.map(_tried, drawings.values(), [form] * len(drawings))
        return dict(zip(drawings, found, strict=True))


def _tried(drawing: Drawing, form: PictureForm) -> Picture:
    try:
        return drawn(drawing, form)
    except WinnowerError as error:
        return error.message
