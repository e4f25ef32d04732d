"""What a first look at files finds."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple

from winnower.jobs.look_summary import InNumbers
from winnower.readers import Lot, LotChoice, Mapping, Problem
from winnower.readers.candidates import SourceChoice
from winnower.readers.marked_lines import MarkCount
from winnower.readers.prepare import PreparedTexts
from winnower.readers.value_order import Doubt

ROWS_SHOWN = 20
SAMPLES = 6
MOST_PROBLEMS = 200
#: Of one reason in one file or archive so many are listed, the others counted.
MOST_ALIKE = 10


class CutLine(NamedTuple):
    """A line of a file, its number from 0, and whether a text begins at it."""

    number: int
    text: str
    begins: bool


@dataclass(frozen=True)
class CutLook:
    """How the first ``files`` are cut: the number of ``texts`` in them, the lines of one, who speaks."""

    texts: int = 0
    files: int = 0
    lines: tuple[CutLine, ...] = ()
    speakers: tuple[str, ...] = ()
    #: Files whose lines were wrapped at a width.
    wrapped: int = 0
    #: Levels of headings (0 where they have none), and how many there are of each.
    levels: tuple[tuple[int, int], ...] = ()
    #: What lines that were pointed at say, and in how many texts.
    marks: tuple[MarkCount, ...] = ()
    #: Names of lines at the top of transcripts that could be variables, and of how many texts.
    head_fields: tuple[tuple[str, int], ...] = ()


@dataclass
class LotLook:
    """How a lot would be read: its first rows and texts. ``mapping`` is None where nothing fits."""

    lot: Lot
    choice: LotChoice
    mapping: Mapping
    rows: list[list[str]] = field(default_factory=list)
    samples: PreparedTexts = field(default_factory=PreparedTexts)
    kept: bool = False
    reason: str = ""
    aside: str = ""
    sources: list[SourceChoice] = field(default_factory=list)
    cut: CutLook = field(default_factory=CutLook)
    doubts: list[Doubt] = field(default_factory=list)
    #: Rows of the first batch whose key is one of the project's while all else differs, and rows with a known key.
    renumbered: tuple[int, int] = (0, 0)
    numbers: InNumbers = field(default_factory=InNumbers)


@dataclass
class FirstLook:
    """What was found; ``checked`` rows and documents were looked over within SECONDS, ``everything`` if
    those were all."""

    lots: list[LotLook] = field(default_factory=list)
    problems: list[Problem] = field(default_factory=list)
    problems_total: int = 0
    checked: int = 0
    everything: bool = True
    notices: list[str] = field(default_factory=list)
    _times: dict[tuple[str, str], int] = field(default_factory=dict)

    def add(self, problems: list[Problem]) -> None:
        self.problems_total += len(problems)
        for problem in problems:
            group = (problem.file.split("/")[0].split(", sheet ")[0], problem.reason)
            self._times[group] = self._times.get(group, 0) + 1
            if self._times[group] <= MOST_ALIKE and len(self.problems) < MOST_PROBLEMS:
                self.problems.append(problem)
        problems.clear()

    def folded(self) -> list[tuple[str, str, int]]:
        """(file or archive, reason, how many more) of what came more often than is shown."""
        return [(*group, n - MOST_ALIKE) for group, n in self._times.items() if n > MOST_ALIKE]
