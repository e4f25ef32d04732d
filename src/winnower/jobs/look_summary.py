"""The texts a look found, in numbers, and the oddest of them: where a wrong reading shows first."""

from __future__ import annotations

import datetime as dt
from collections import Counter
from dataclasses import dataclass, field
from statistics import median

from winnower.readers.prepare import PreparedTexts

MOST_SOURCES = 5
MOST_ODD = 3
START_CHARS = 240
#: A text is odd by its length beyond so many times the median, or below so small a part of it.
LONG, SHORT = 8, 1 / 8
#: A date is odd that lies further from the middle ones than so many times their spread, and at least a year.
FAR = 4
LEAST_FAR_DAYS = 366


@dataclass(frozen=True)
class OddText:
    """A text unlike the others, with what is odd of it."""

    title: str
    source: str | None
    date: dt.date | None
    start: str
    reason: str
    file: str
    row: int


@dataclass(frozen=True)
class InNumbers:
    """Texts of a lot as far as it was looked at."""

    texts: int = 0
    placeholders: int = 0
    first: dt.date | None = None
    last: dt.date | None = None
    undated: int = 0
    sources: tuple[tuple[str, int], ...] = ()
    n_sources: int = 0
    unsourced: int = 0
    odd: tuple[OddText, ...] = ()


@dataclass
class _One:
    """What is kept of a text until all were seen."""

    chars: int
    title: str
    source: str | None
    date: dt.date | None
    start: str
    file: str
    row: int

    def odd(self, reason: str) -> OddText:
        return OddText(self.title, self.source, self.date, self.start, reason, self.file, self.row)


@dataclass
class LookSummary:
    """Takes up texts as they are prepared; ``in_numbers`` says what was seen."""

    _lengths: list[int] = field(default_factory=list)
    _days: list[int] = field(default_factory=list)
    _sources: Counter[str] = field(default_factory=Counter)
    _extremes: dict[str, _One] = field(default_factory=dict)
    _placeholders: int = 0
    _undated: int = 0
    _unsourced: int = 0

    def see(self, texts: PreparedTexts) -> None:
        """Take texts into account."""
        for at in range(len(texts)):
            body, date, source = texts.body[at], texts.date[at], texts.source[at]
            if not body:
                self._placeholders += 1
                continue
            self._lengths.append(len(body))
            if date is None:
                self._undated += 1
            else:
                self._days.append(date.toordinal())
            if source is None:
                self._unsourced += 1
            else:
                self._sources[source] += 1
            self._keep_extremes(texts, at)

    def _keep_extremes(self, texts: PreparedTexts, at: int) -> None:
        chars, date = len(texts.body[at]), texts.date[at]
        kept = self._extremes
        wanted = []
        if "longest" not in kept or chars > kept["longest"].chars:
            wanted.append("longest")
        if "shortest" not in kept or chars < kept["shortest"].chars:
            wanted.append("shortest")
        if date is not None:
            if "earliest" not in kept or date < kept["earliest"].date:  # type: ignore[operator]
                wanted.append("earliest")
            if "latest" not in kept or date > kept["latest"].date:  # type: ignore[operator]
                wanted.append("latest")
        elif "undated" not in kept:
            wanted.append("undated")
        if not wanted:
            return
        start = texts.body[at][:START_CHARS]
        one = _One(chars, texts.title[at], texts.source[at], date, start, texts.file[at], texts.line[at])
        kept.update(dict.fromkeys(wanted, one))

    @property
    def in_numbers(self) -> InNumbers:
        """What was seen."""
        days = self._days
        return InNumbers(
            texts=len(self._lengths),
            placeholders=self._placeholders,
            first=dt.date.fromordinal(min(days)) if days else None,
            last=dt.date.fromordinal(max(days)) if days else None,
            undated=self._undated,
            sources=tuple(self._sources.most_common(MOST_SOURCES)),
            n_sources=len(self._sources),
            unsourced=self._unsourced,
            odd=tuple(self._odd()[:MOST_ODD]),
        )

    def _odd(self) -> list[OddText]:
        out = []
        kept = self._extremes
        if len(self._days) >= 3:
            ordered = sorted(self._days)
            middle = ordered[len(ordered) // 2]
            spread = ordered[len(ordered) * 3 // 4] - ordered[len(ordered) // 4]
            for name, sign in (("earliest", -1), ("latest", 1)):
                date = kept[name].date
                assert date is not None
                if sign * (date.toordinal() - middle) > max(FAR * spread, LEAST_FAR_DAYS):
                    out.append(kept[name].odd(f"Its date is far from the others: {date:%-d %B %Y}."))
        if self._days and 0 < self._undated <= len(self._days) // 5:
            out.append(kept["undated"].odd("It has no date, most others have one."))
        if len(self._lengths) >= 3:
            usual = median(self._lengths)
            short, long = kept["shortest"], kept["longest"]
            if short.chars < usual * SHORT:
                out.append(short.odd(f"It has {short.chars:,} characters, most others about {usual:,.0f}."))
            if long.chars > usual * LONG:
                out.append(long.odd(f"It has {long.chars:,} characters, most others about {usual:,.0f}."))
        return out
