"""What a view answers as a picture of its own: title, drawing, legend, what it is based on, how it was counted."""

from __future__ import annotations

import io
import textwrap
import warnings
from collections.abc import Callable, Sequence
from typing import Any, Literal

import matplotlib as mpl
import numpy as np
from matplotlib.axes import Axes
from matplotlib.backends.backend_agg import FigureCanvasAgg
from matplotlib.figure import Figure
from matplotlib.layout_engine import ConstrainedLayoutEngine
from PIL import Image

from winnower.core.errors import WinnowerError
from winnower.core.finding import Answer, AnyView, Sheet
from winnower.core.finding.sheets import has_ends, shown_measure
from winnower.core.finding.views import ComparisonView, request_of
from winnower.core.network.graph import drawn
from winnower.writers.drawn_tables import HUES, INK, INK2, LINE, Draw, apart, dots, heat, lines, short
from winnower.writers.xml_text import SHOWN_AS, xml_answer, xml_text

Form = Literal["svg", "png"]
WIDTH_IN, DPI = 9.0, 160
#: How hard a PNG is packed: harder takes twice as long for a tenth less.
PACKED = 4
#: A picture with a caption beside it leaves room for words on its page.
HIGHEST_BARE = 5.0
#: More rows or groups are shown as a heat table, more than this of them not at all.
MOST_DOTS, MOST_ROWS, MOST_SHOWN = 120, 40, 60
MOST_WORDS = 14
_STYLE: Any = {
    "font.size": 9.5, "axes.edgecolor": LINE, "axes.labelcolor": INK2, "xtick.color": INK2, "ytick.color": INK,
    "text.color": INK, "axes.spines.top": False, "axes.spines.right": False, "svg.hashsalt": "winnower",
    "text.parse_math": False,

}  # fmt: skip


def picture(title: str, view: AnyView, answer: Answer, form: Form, *, bare: bool = False) -> bytes:
    """A picture of an answer; the same answer is the same file. A ``bare`` one has no title and no line below, for
    where a caption stands beside it. Raises WinnowerError where there is nothing to draw."""
    title, answer = xml_text(title, SHOWN_AS), xml_answer(answer)
    with mpl.rc_context(_STYLE), warnings.catch_warnings():
        # signs that no font here has are drawn as boxes
        warnings.filterwarnings("ignore", message="Glyph .* missing")
        draw, height = _drawing(view, answer)
        height = min(height, HIGHEST_BARE) if bare else height
        head, foot = ([], []) if bare else (textwrap.wrap(title, 84), textwrap.wrap(_based(answer), 128))
        above, below = (0.05, 0.05) if bare else (0.3 + 0.24 * len(head), 0.35 + 0.17 * len(foot))
        figure = Figure(figsize=(WIDTH_IN, height + above + below), dpi=DPI)
        whole = height + above + below
        figure.set_layout_engine(ConstrainedLayoutEngine(rect=(0.01, below / whole, 0.98, height / whole)))
        draw(figure.add_subplot())
        figure.text(0.015, 1 - 0.12 / whole, "\n".join(head), size=13, weight="bold", va="top")
        figure.text(0.015, 0.1 / whole, "\n".join(foot), size=8, color=INK2, va="bottom")
        out = io.BytesIO()
        if form == "svg":
            figure.savefig(out, format="svg", metadata={"Date": None})
        else:
            _png(figure).save(out, "PNG", compress_level=PACKED, dpi=(DPI, DPI))
        return out.getvalue()


def _png(figure: Figure) -> Image.Image:
    """The picture on white, without a mask: who puts it on a page need not take it apart."""
    canvas = FigureCanvasAgg(figure)
    canvas.draw()
    return Image.fromarray(np.asarray(canvas.buffer_rgba())[:, :, :3])


def _based(answer: Answer) -> str:
    """The line below: the base, and in a sentence what was counted."""
    counted = next((part.words for part in answer.method if part.heading == "What is a hit"), "")
    first = counted.split(". ")[0].rstrip(".")
    return f"{answer.base} {first + '.' if first else ''}".strip()


def _drawing(view: AnyView, answer: Answer) -> tuple[Draw, float]:
    """How to draw an answer, and how high it is in inches."""
    if isinstance(view, ComparisonView) or view.view == "changes":
        return _of_comparison(view, answer)
    makes: dict[str, Callable[[Answer], tuple[Draw, float]]] = {
        "map": _of_map,
        "keywords": _of_keywords,
        "together": _of_pairs,
        "network": _of_network,
    }
    return makes[view.view](answer)


def _sheet(answer: Answer, name: str) -> Sheet:
    found = next((one for one in answer.sheets if one.name == name), None)
    if found is None or not found.rows:
        raise WinnowerError("There is nothing to draw: no number stands in this answer.")
    return found


def _column(sheet: Sheet, name: str) -> list[Any]:
    at = [one.name for one in sheet.columns].index(name)
    return [row[at] for row in sheet.rows]


def _labels(sheet: Sheet) -> tuple[list[str], list[str]]:
    """What the first and the second column name, each once."""
    first, second = (list(dict.fromkeys(str(row[at]) for row in sheet.rows)) for at in (0, 1))
    return first, second


def _numbers(values: Sequence[Any]) -> np.ndarray:
    return np.array([np.nan if value is None else float(value) for value in values])


def _of_comparison(view: AnyView, answer: Answer) -> tuple[Draw, float]:
    sheet = _sheet(answer, "Numbers")
    asked = request_of(view)
    shown, column = shown_measure(sheet, getattr(asked, "measure", ""))
    rows, groups = _labels(sheet)
    rows, groups = rows[:MOST_SHOWN], groups if len(groups) <= 400 else groups[:400]
    place = {(str(row[0]), str(row[1])): at for at, row in enumerate(sheet.rows)}
    at = np.array([[place[row, group] for group in groups] for row in rows])
    value = _numbers(_column(sheet, shown))[at]
    low = high = np.full(value.shape, np.nan)
    if has_ends(sheet, column):
        low, high = (_numbers(_column(sheet, shown + end))[at] for end in (" low", " high"))
    percent = sheet.columns[column].form == "percent"
    period = getattr(getattr(asked, "split", None), "period", None)
    changes = [str(row[1]) for one in answer.sheets if one.name == "Changes" for row in one.rows]
    over_time = bool(period) and len(groups) > 2
    if sheet.columns[2].name == "values" and len(rows) > 1:
        return apart(rows, groups, (value, low, high), shown, over_time), min(1.9 * len(rows) + 0.4, 11.0)
    if over_time and len(rows) <= 12:
        return lines(rows, groups, (value, low, high), shown, percent, changes), 3.6
    if len(rows) * len(groups) <= MOST_DOTS:
        height = 0.8 + 0.19 * len(rows) * (len(groups) + 1.2)
        return dots(rows, groups, (value, low, high), shown, percent), min(max(height, 2.2), 11.0)
    rows, value = rows[:MOST_ROWS], value[:MOST_ROWS]
    return heat(rows, groups[:MOST_ROWS], value[:, :MOST_ROWS], shown, percent), 1.6 + 0.24 * len(rows)


def _of_map(answer: Answer) -> tuple[Draw, float]:
    points, inertia = _sheet(answer, "Points"), _sheet(answer, "Axes")
    names = [one.name for one in points.columns]
    x = _numbers(_column(points, "axis 1"))
    y = _numbers(_column(points, "axis 2")) if "axis 2" in names else np.zeros(len(x))
    kinds, shares = _column(points, "kind"), _column(inertia, "share of inertia")

    def draw(axes: Axes) -> None:
        for kind, hue, mark in zip(dict.fromkeys(kinds), (HUES[4], HUES[2]), ("o", "s"), strict=False):
            of = [at for at, one in enumerate(kinds) if one == kind]
            axes.plot(x[of], y[of], mark, color=hue, markersize=5, label=kind)
            for at in of:
                axes.annotate(
                    short(points.rows[at][0]),
                    (x[at], y[at]),
                    (4, 3),
                    textcoords="offset points",
                    size=8.5,
                    color=hue,
                )
        axes.axhline(0, color=LINE, linewidth=0.7)
        axes.axvline(0, color=LINE, linewidth=0.7)
        axes.set_xlabel(f"axis 1 ({shares[0]:.0%} of the inertia)")
        axes.set_ylabel(f"axis 2 ({shares[1]:.0%} of the inertia)" if len(shares) > 1 else "")
        axes.set_aspect("equal", adjustable="datalim")
        axes.legend(frameon=False, loc="best")

    return draw, 5.2


def _of_keywords(answer: Answer) -> tuple[Draw, float]:
    sheet = _sheet(answer, "Keywords")
    ratio, words = _numbers(_column(sheet, "log ratio")), _column(sheet, "word")
    sides = _column(sheet, "typical of")
    over = [at for at in range(len(words)) if ratio[at] > 0][:MOST_WORDS]
    under = [at for at in range(len(words)) if ratio[at] < 0][:MOST_WORDS]
    order = [*over, *under[::-1]]
    if not order:
        raise WinnowerError("There is nothing to draw: no word is typical of either side.")

    def draw(axes: Axes) -> None:
        y = np.arange(len(order))
        hues = [HUES[4] if ratio[at] > 0 else HUES[0] for at in order]
        axes.barh(y, ratio[order], color=hues, height=0.66)
        axes.set_yticks(y, [short(words[at]) for at in order])
        axes.invert_yaxis()
        axes.tick_params(axis="y", length=0)
        axes.axvline(0, color=INK2, linewidth=0.8)
        axes.set_xlabel("log ratio: how many times as frequent, in doublings")
        for some, hue in ((over, HUES[4]), (under, HUES[0])):
            if some:
                axes.plot([], [], "s", color=hue, label=f"typical of {sides[some[0]]}")
        axes.legend(frameon=False, loc="center left", bbox_to_anchor=(1, 0.5))

    return draw, 1.0 + 0.22 * len(order)


def _of_pairs(answer: Answer) -> tuple[Draw, float]:
    sheet = _sheet(answer, "Pairs")
    rows, columns = _labels(sheet)
    names = list(dict.fromkeys([*rows, *columns])) if set(rows) & set(columns) else None
    rows, columns = (names or rows)[:MOST_ROWS], (names or columns)[:MOST_ROWS]
    value = np.full((len(rows), len(columns)), np.nan)
    place, across = ({name: at for at, name in enumerate(some)} for some in (rows, columns))
    for row, jaccard in zip(sheet.rows, _numbers(_column(sheet, "Jaccard")), strict=True):
        first, second = str(row[0]), str(row[1])
        for one, other in ((first, second), (second, first)) if names else ((first, second),):
            if one in place and other in across:
                value[place[one], across[other]] = jaccard
    return heat(rows, columns, value, "Jaccard", False), 1.9 + 0.24 * len(rows)


def _of_network(answer: Answer) -> tuple[Draw, float]:
    words, ties = _sheet(answer, "Words"), _sheet(answer, "Ties")
    names, topics = _column(words, "word"), _column(words, "topic")
    at = {str(name): number for number, name in enumerate(names)}
    pairs = np.array([(at[str(row[0])], at[str(row[1])]) for row in ties.rows])
    weight = np.clip(_numbers(_column(ties, "normalised PMI")), 0.01, 1)
    places = drawn(len(names), pairs[:, 0], pairs[:, 1], weight, 1.0, 1)
    where = np.column_stack([places.x, places.y])
    hits = _numbers([row[2] for row in words.rows])
    known = [one for one in dict.fromkeys(topics) if one is not None]

    def draw(axes: Axes) -> None:
        for (one, other), strength in zip(pairs, weight, strict=True):
            axes.plot(
                where[[one, other], 0],
                where[[one, other], 1],
                color=LINE,
                linewidth=0.4 + 1.4 * strength,
                zorder=1,
            )
        for number, topic in enumerate([*known, None]):
            of = [place for place, one in enumerate(topics) if one == topic]
            if not of:
                continue
            hue = INK2 if topic is None else HUES[number % len(HUES)]
            axes.scatter(
                where[of, 0],
                where[of, 1],
                s=8 + 90 * hits[of] / hits.max(),
                color=hue,
                zorder=2,
                label=short(topic or "no topic", 40),
            )
        for place in np.argsort(-hits)[:90].tolist():
            axes.annotate(names[place], where[place], (3, 2), textcoords="offset points", size=7.5)
        axes.axis("off")
        axes.legend(frameon=False, loc="center left", bbox_to_anchor=(1, 0.5), fontsize=8)

    return draw, 6.0
