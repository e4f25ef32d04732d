"""Numbers as they go over the wire."""

from __future__ import annotations

import math


def plain(value: float) -> float | None:
    """None where a number is not defined."""
    return None if math.isnan(value) else float(value)
