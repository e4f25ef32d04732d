"""Files that keep what was computed, so that it need not be computed again."""

from __future__ import annotations

import logging
import os
import tempfile
from collections.abc import Callable
from pathlib import Path

import polars as pl

log = logging.getLogger("winnower")


def keep_derived(path: Path, write: Callable[[Path], None]) -> bool:
    """Write a derived file, whole or not at all; ``write`` is given the path of a draft beside it.

    Returns whether it is there now. Where it cannot be written (no space, no rights, a folder that gave way to a newer
    one) nothing is left of the draft: reading goes on without what would have been kept.
    """
    draft: Path | None = None
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        handle, name = tempfile.mkstemp(dir=path.parent, suffix=".draft")
        os.close(handle)
        draft = Path(name)
        write(draft)
        os.replace(draft, path)
    except (OSError, pl.exceptions.PolarsError) as error:
        log.warning("%s could not be kept: %s", path.name, error)
        if draft is not None:
            draft.unlink(missing_ok=True)
        return False
    return True
