"""Comparisons as drawings: dots with intervals, lines over time, a heat table; numbers of unlike kinds on scales of
their own."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
from matplotlib.axes import Axes
from matplotlib.ticker import FuncFormatter, MaxNLocator

HUES = (
    "#b9770e", "#1b7f79", "#b4472b", "#7c4a86", "#2f6da8", "#6b7a1e", "#a13d6b", "#4f5b66", "#7a5230", "#3d8b5a",
)  # fmt: skip
INK, INK2, LINE = "#17212a", "#4b5761", "#c4cbc1"
#: Measures that do not count up from nought.
WITHOUT_NOUGHT = ("mean", "median")

Draw = Callable[[Axes], None]
#: The values of a measure with both ends of its intervals, rows by groups.
Values = tuple[np.ndarray, np.ndarray, np.ndarray]


def form(axis: Any, percent: bool) -> None:
    axis.set_major_locator(MaxNLocator(6))
    if percent:
        axis.set_major_formatter(FuncFormatter(lambda value, _: f"{value * 100:g}%"))


def short(label: Any, most: int = 34) -> str:
    words = str(label)
    return words if len(words) <= most else words[: most - 1] + "…"


def dots(rows: list[str], groups: list[str], values: Values, shown: str, percent: bool) -> Draw:
    value, low, high = values

    def draw(axes: Axes) -> None:
        step = len(groups) + 1.2
        for at, group in enumerate(groups):
            y = np.arange(len(rows)) * step + at
            hue = HUES[at % len(HUES)]
            axes.hlines(y, low[:, at], high[:, at], color=hue, linewidth=1.6)
            axes.plot(value[:, at], y, "o", color=hue, markersize=5, label=group)
        axes.set_yticks(np.arange(len(rows)) * step + (len(groups) - 1) / 2, [short(row) for row in rows])
        axes.invert_yaxis()
        axes.tick_params(axis="y", length=0)
        axes.set_xlabel(shown)
        axes.grid(axis="x", color="#dee2da", linewidth=0.7)
        axes.set_axisbelow(True)
        smallest = np.nanmin(np.concatenate([low.ravel(), value.ravel(), [np.inf]]))
        if shown not in WITHOUT_NOUGHT and smallest >= 0:
            axes.set_xlim(left=0)
        form(axes.xaxis, percent)
        if len(groups) > 1:
            axes.legend(loc="center left", bbox_to_anchor=(1, 0.5), frameon=False)

    return draw


def lines(
    rows: list[str],
    groups: list[str],
    values: Values,
    shown: str,
    percent: bool,
    changes: Sequence[str],
) -> Draw:
    value, low, high = values

    def draw(axes: Axes) -> None:
        x = np.arange(len(groups))
        for at, row in enumerate(rows):
            hue = HUES[at % len(HUES)]
            axes.fill_between(x, low[at], high[at], color=hue, alpha=0.13, linewidth=0)
            axes.plot(x, value[at], color=hue, linewidth=1.7, marker="o", markersize=3, label=short(row))
        for change in dict.fromkeys(changes):
            if change in groups:
                axes.axvline(groups.index(change) - 0.5, color="#a5401d", linewidth=1, linestyle=(0, (4, 3)))
        every = -(-len(groups) // 8)
        axes.set_xticks(x[::every], groups[::every])
        axes.set_ylabel(shown)
        axes.grid(axis="y", color="#dee2da", linewidth=0.7)
        form(axes.yaxis, percent)
        axes.legend(loc="upper left", bbox_to_anchor=(1, 1), frameon=False)

    return draw


def heat(rows: list[str], groups: list[str], value: np.ndarray, shown: str, percent: bool) -> Draw:
    def draw(axes: Axes) -> None:
        drawn = axes.imshow(value, aspect="auto", cmap="YlGnBu")
        axes.set_yticks(np.arange(len(rows)), [short(row) for row in rows])
        axes.set_xticks(
            np.arange(len(groups)), [short(group, 18) for group in groups], rotation=60, ha="right"
        )
        axes.tick_params(length=0)
        assert axes.figure is not None
        bar = axes.figure.colorbar(drawn, ax=axes, shrink=0.8, label=shown)
        form(bar.ax.yaxis, percent)

    return draw


def apart(rows: list[str], groups: list[str], values: Values, shown: str, over_time: bool) -> Draw:
    """Each row on a scale of its own, one below the other."""

    def draw(axes: Axes) -> None:
        axes.set_axis_off()
        k = len(rows)
        for at in range(k):
            inset = axes.inset_axes((0.16, 1 - (at + 0.86) / k, 0.62, 0.66 / k))
            own = (values[0][[at]], values[1][[at]], values[2][[at]])
            drawn = (
                lines([rows[at]], groups, own, shown, False, [])
                if over_time
                else dots([rows[at]], groups, own, shown, False)
            )
            drawn(inset)
            inset.set_xlabel("")
            inset.set_ylabel("")
            if (legend := inset.get_legend()) is not None and (at or over_time):
                legend.remove()
            inset.set_title(f"{short(rows[at], 60)}, {shown}", loc="left", size=9.5, weight="bold")
            if not over_time:
                inset.set_yticks([])
                inset.margins(y=0.3 / len(groups))

    return draw
