"""The derived files of a project: index parts with their columns, and the list of them.

    index/<project>/<part>/             a segment of the token index (see core/index/segment.py)
    index/<project>/<part>/columns.arrow   what is known of its texts, in their order
    index/<project>/manifest-<revision>.json   the parts of the corpus at a revision, in order

columns.arrow: text_id Int64, title String, source Int64 (source id), date Int32 (days since 1970),
and per variable v<id>: Int64 (category id), List(Int64), Float64, Int32 or String by its kind. Null
means no value. All of it can be made again from the database.
"""

from __future__ import annotations

import json
import os
import shutil
from collections.abc import Sequence
from pathlib import Path

import polars as pl

from winnower.core.errors import IndexDamaged
from winnower.core.index import Segment, merge_segments

COLUMNS_FILE = "columns.arrow"
BASE_SCHEMA = {
    "text_id": pl.Int64(),
    "title": pl.String(),
    "source": pl.Int64(),
    "date": pl.Int32(),
}
KIND_TYPES = {
    "category": pl.Int64(),
    "several": pl.List(pl.Int64()),
    "number": pl.Float64(),
    "date": pl.Int32(),
    "text": pl.String(),
}
#: Parts are joined until each holds about this many tokens.
FULL_PART_TOKENS = 2_000_000


def write_columns(folder: Path, frame: pl.DataFrame) -> None:
    frame.write_ipc(folder / COLUMNS_FILE, compression="uncompressed")


def read_columns(folders: Sequence[Path], schema: dict[str, pl.DataType]) -> pl.DataFrame:
    """The columns of parts, one after the other, with all of ``schema``. Raises IndexDamaged."""
    frames = []
    for folder in folders:
        try:
            frame = pl.read_ipc(folder / COLUMNS_FILE)
            missing = [
                pl.lit(None, dtype=kind).alias(name)
                for name, kind in schema.items()
                if frame.schema.get(name)
                != kind  # of another kind: read again from the database, see corpus.py
            ]
            frames.append(frame.with_columns(missing).select(list(schema)))
        except (OSError, pl.exceptions.PolarsError) as error:
            raise IndexDamaged(f"The columns of {folder.name} cannot be read: {error}") from error
    return pl.concat(frames) if frames else pl.DataFrame(schema=schema)


def manifest_path(folder: Path, revision: int) -> Path:
    return folder / f"manifest-{revision}.json"


def read_manifest(folder: Path, revision: int) -> list[str] | None:
    """Names of the parts at a revision, or None where they must be built again."""
    try:
        names = json.loads(manifest_path(folder, revision).read_text())["parts"]
    except (OSError, ValueError, KeyError):
        return None
    whole = all(
        (folder / name / "segment.json").exists() and (folder / name / COLUMNS_FILE).exists()
        for name in names
    )
    return names if whole else None


def write_manifest(folder: Path, revision: int, names: Sequence[str]) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    draft = folder / f"manifest-{revision}.part"
    draft.write_text(json.dumps({"parts": list(names)}))
    os.replace(draft, manifest_path(folder, revision))


def tidy(folder: Path, revision: int, names: Sequence[str], keep: tuple[str, ...] = ()) -> None:
    """Remove parts and lists that no revision from ``revision`` on uses; ``keep`` are beginnings of names to spare."""
    for path in folder.glob("*"):
        if path.is_dir() and path.name not in names and not path.name.startswith(keep):
            shutil.rmtree(path, ignore_errors=True)
        elif (
            path.suffix in (".json", ".npy")
            and f"-{revision}." not in path.name
            or (path.name.startswith("field-") and path.name.split("-")[2] != str(revision))
        ):
            path.unlink(missing_ok=True)


def join_parts(folder: Path, prefix: str, names: Sequence[str]) -> list[str]:
    """Join neighbouring small parts into ones of about FULL_PART_TOKENS; the new list of names."""
    out: list[str] = []
    run: list[Segment] = []
    made = 0

    def close() -> None:
        nonlocal made
        if len(run) > 1:
            name = f"{prefix}-{made:04d}"
            made += 1
            schema = _union_schema([segment.folder for segment in run])
            columns = read_columns([segment.folder for segment in run], schema)
            merge_segments(folder / name, run)
            write_columns(folder / name, columns)
            out.append(name)
        else:
            out.extend(segment.folder.name for segment in run)
        run.clear()

    for name in names:
        segment = Segment(folder / name)
        if run and sum(part.n_tokens for part in run) + segment.n_tokens > FULL_PART_TOKENS:
            close()
        run.append(segment)
    close()
    return out


def _union_schema(folders: Sequence[Path]) -> dict[str, pl.DataType]:
    schema: dict[str, pl.DataType] = dict(BASE_SCHEMA)
    for folder in folders:
        schema.update(pl.read_ipc_schema(folder / COLUMNS_FILE))
    return schema
