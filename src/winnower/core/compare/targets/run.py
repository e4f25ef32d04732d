"""What a run of automatic coding found, as a target: its codes are the rows."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from winnower.core.compare.targets.base import Corpus, Known, MethodPart, Reference, Target
from winnower.core.compare.targets.codes import CodesTarget


@dataclass(frozen=True)
class OfRun(Reference):
    """All a run found but for what people judged wrong, whether it counts among the coding yet or not; ``revision`` is
    the state of the coding that was counted, as in ``OfCodes``."""

    run: int
    counted: Literal["passages", "words"] = "passages"
    revision: int | None = None
    kind: Literal["run"] = "run"

    @property
    def of_coding(self) -> bool:
        return True

    def resolve(self, known: Known, corpus: Corpus) -> RunTarget:
        found = known.run(self.run)
        return RunTarget(
            found.nodes, found.passages, found.revision, self.counted, f"Run “{found.name}”", nouns=("code", "codes"),
            note=found.note,
        )  # fmt: skip

    def pinned(self, target: Target) -> OfRun:
        assert isinstance(target, RunTarget)
        return replace(self, revision=target.revision)


@dataclass(frozen=True)
class RunTarget(CodesTarget):
    """Rows are what the run looked for, each under its name in the run."""

    note: str = ""

    def method(self, texts: int) -> list[MethodPart]:
        return [
            MethodPart(
                "What was counted",
                f"{len(self.passages):,} passages that the run of automatic coding found, without those judged wrong, over "
                f"{texts:,} texts. {self.note}",
            ),
            super().method(texts)[1],
        ]
