"""``winnower watch``: what arrives in a folder is imported as it comes."""

from __future__ import annotations

import time
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import Annotated, Any

import typer

from winnower.cli.common import Desk, desk, say
from winnower.cli.importing import check_delivery, import_run, kept_mapping, tell_import
from winnower.core.errors import Unavailable, WinnowerError
from winnower.jobs.apart import Apart
from winnower.jobs.delivery import choice_of, look_at_delivery
from winnower.store.database import DatabaseRefused
from winnower.store.models import Project

#: What a file was when it was last seen: its size and when it was last written, in nanoseconds.
Seen = tuple[int, int]


def watch_folder(
    project: Annotated[str, typer.Argument(help="Name or number of the project.")],
    folder: Annotated[Path, typer.Argument(help="Folder in which files arrive.")],
    every: Annotated[int, typer.Option(min=1, help="Seconds between two looks at the folder.")] = 60,
    mapping: Annotated[
        Path | None, typer.Option(help="A mapping that was kept with import --keep-mapping.")
    ] = None,
    once: Annotated[bool, typer.Option("--once", help="Import what is there now, and end.")] = False,
) -> None:
    """Import what arrives in a folder. Known texts are skipped; Ctrl C ends it."""
    with desk() as at:
        found = at.project(project)
        arrivals = Arrivals(folder.resolve())
        take = Delivery(at, found, arrivals.folder, kept_mapping(mapping))
        if once:
            arrivals.look()
            if files := arrivals.look():
                take(files)
            else:
                say("Nothing has arrived.")
            return
        say(f"Watching {folder} every {every} s. Ctrl C ends it.")
        try:
            watch(arrivals, take, lambda: time.sleep(every))
        except KeyboardInterrupt:
            say("No longer watching.")


def watch(arrivals: Arrivals, take: Callable[[list[Path]], bool], wait: Callable[[], None]) -> None:
    """Look, hand over what has arrived, and wait; until ``wait`` raises. What ``take`` could not take for now arrives
    again."""
    while True:
        if (files := arrivals.look()) and not take(files):
            arrivals.bring_again(files)
        wait()


class Arrivals:
    """The files of a folder that are new or changed and no longer being written.

    A file is handed over when it is the same at two looks; one that could not be imported is handed over again only
    when it has changed.
    """

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._last: dict[Path, Seen] = {}
        self._handed_over: dict[Path, Seen] = {}
        self._gone = False

    def look(self) -> list[Path]:
        """What has arrived since the last look, in the order of names; says once where the folder is not there."""
        now = self._files()
        arrived = [
            path
            for path, seen in sorted(now.items())
            if self._last.get(path) == seen and self._handed_over.get(path) != seen
        ]
        self._last = now
        self._handed_over.update((path, now[path]) for path in arrived)
        return arrived

    def bring_again(self, paths: list[Path]) -> None:
        """Hand these over once more at the next look."""
        for path in paths:
            self._handed_over.pop(path, None)

    def _files(self) -> dict[Path, Seen]:
        if not self.folder.is_dir():
            if not self._gone:
                say(f"{self.folder} is not there; what arrives is imported when it is back.")
            self._gone = True
            return {}
        self._gone = False
        found: dict[Path, Seen] = {}
        for path in self.folder.rglob("*"):
            if any(part.startswith((".", "~")) for part in path.relative_to(self.folder).parts):
                continue
            try:
                if path.is_file() and not path.is_symlink():
                    state = path.stat()
                    found[path] = (state.st_size, state.st_mtime_ns)
            except FileNotFoundError:
                continue  # moved away between the two calls: it has not arrived
        return found


class Delivery:
    """Imports files of a folder into a project as one delivery, and says what came of it. One that cannot be taken ends
    nothing."""

    def __init__(self, at: Desk, project: Project, folder: Path, kept: dict[str, Any]) -> None:
        self._at, self._project, self._folder, self._kept = at, project, folder, kept

    def __call__(self, paths: list[Path]) -> bool:
        """Import them; False where that could not be done for now, as while the database or the folder is away."""
        print(f"{datetime.now():%Y-%m-%d %H:%M} {', '.join(path.name for path in paths[:5])}", end="")
        print(f" and {len(paths) - 5:,} more" if len(paths) > 5 else "", flush=True)
        try:
            # the folder stands in the names as it does where a folder is imported: a source can be read from it
            self._take([(str(path.relative_to(self._folder.parent)), path) for path in paths])
        except (Unavailable, DatabaseRefused) as error:
            say(
                f"{getattr(error, 'message', 'The database refused it.')} It is tried again at the next look."
            )
            return False
        except OSError as error:  # the folder can go while its files are read
            say(f"{error.filename or 'The files'}: {error.strerror or error}. Tried again at the next look.")
            return False
        except WinnowerError as error:
            say(f"{error.message} It is looked at again when it has changed.")
        return True

    def _take(self, files: list[tuple[str, Path]]) -> None:
        with self._at.database.session() as session:
            looked = look_at_delivery(
                Apart(self._at.settings), self._at.settings, session, self._project.id, files, self._kept
            )
        for one in looked.lots:
            for doubt in one.doubts:
                say(f"{one.lot.origins[0].name}: {doubt.sentence}")
        if not looked.lots:  # else the import reports them with everything else
            for problem in looked.problems:
                say(f"{problem.file}: {problem.reason}")
            return
        check_delivery(looked)
        lots = {one.lot.key: choice_of(one) for one in looked.lots}
        tell_import(import_run(self._at, self._project, files, lots, lambda _: None).run(), "text")
