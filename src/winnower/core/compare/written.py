"""How values are written in sentences."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Literal

import numpy as np

Form = Literal["number", "percent", "count"]


def number(value: float) -> str:
    """At most three significant places, thousands separated.

    >>> number(9.4123), number(1234.5), number(0.05678)
    ('9.41', '1,234', '0.0568')
    >>> number(13.02), number(0.0)
    ('13.0', '0')
    >>> number(-3e-9), number(-0.0213)
    ('0', '-0.0213')
    """
    if not np.isfinite(value):
        return "–"
    if abs(value) >= 100:
        return f"{value:,.0f}"
    if value == 0:
        return "0"
    places = 2 - math.floor(math.log10(abs(value)))
    written = f"{value:.{min(places, 6)}f}"
    return written if float(written) else "0"


def _percent(value: float) -> str:
    return f"{number(value * 100)}%" if np.isfinite(value) else "–"


def _count(value: float) -> str:
    return f"{value:,.0f}" if np.isfinite(value) else "–"


WRITTEN: dict[Form, Callable[[float], str]] = {"number": number, "percent": _percent, "count": _count}
