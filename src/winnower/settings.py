"""Where things lie and how large they may be; every value can be set in the environment."""

from __future__ import annotations

import os
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]


def _number(name: str, default: int) -> int:
    value = os.environ.get(name)
    try:
        return int(value) if value else default
    except ValueError:
        raise SystemExit(f"{name} must be a whole number, not “{value}”.") from None


def _address(name: str) -> str:
    value = os.environ.get(name, "").strip()
    if value and not value.startswith(("http://", "https://")):
        raise SystemExit(f"{name} must begin with http:// or https://, not “{value}”.")
    return value


def _names(name: str) -> tuple[str, ...]:
    return tuple(one.strip() for one in os.environ.get(name, "").split(",") if one.strip())


@dataclass(frozen=True)
class Settings:
    """data: folder of the database, index and uploads; database_url: another MariaDB, if given."""

    data: Path
    database_url: str | None
    limit_text_chars: int
    limit_upload_bytes: int
    limit_archive_bytes: int
    limit_file_seconds: int
    #: For looking at files: bytes of memory and seconds of a process.
    limit_look_bytes: int
    limit_look_seconds: int
    limit_read_bytes: int
    #: Bytes of memory a job may take besides mapped files.
    limit_job_bytes: int
    session_hours: int
    jobs_at_once: int
    memory_bytes: int
    #: Bytes that uploads, imports and jobs leave free on a disk, so that reading and small changes go on.
    reserve_bytes: int = 256 * 2**20
    #: Processes that answer requests.
    processes: int = 1
    #: Names under which the server may be asked, without ports; "*" for any.
    hosts: tuple[str, ...] = ("127.0.0.1", "localhost", "[::1]")
    #: A language model for the assistant, off without an address: where it is, its name there, its key.
    model_url: str = ""
    model_name: str = ""
    model_key: str = ""

    @property
    def index(self) -> Path:
        return self.data / "index"

    @property
    def uploads(self) -> Path:
        return self.data / "uploads"


def load_settings() -> Settings:
    """Settings from the environment as it is now."""
    return Settings(
        data=Path(os.environ.get("WINNOWER_DATA") or ROOT / "data").resolve(),
        database_url=os.environ.get("WINNOWER_DATABASE_URL") or None,
        limit_text_chars=_number("WINNOWER_LIMIT_TEXT_CHARS", 20_000_000),
        limit_upload_bytes=_number("WINNOWER_LIMIT_UPLOAD_BYTES", 4_000_000_000),
        limit_archive_bytes=_number("WINNOWER_LIMIT_ARCHIVE_BYTES", 8_000_000_000),
        limit_file_seconds=_number("WINNOWER_LIMIT_FILE_SECONDS", 120),
        limit_look_bytes=_number("WINNOWER_LIMIT_LOOK_BYTES", 600 * 2**20),
        limit_look_seconds=_number("WINNOWER_LIMIT_LOOK_SECONDS", 60),
        limit_read_bytes=_number("WINNOWER_LIMIT_READ_BYTES", 1024 * 2**20),
        limit_job_bytes=_number("WINNOWER_LIMIT_JOB_BYTES", 6 * 2**30),
        session_hours=_number("WINNOWER_SESSION_HOURS", 12),
        jobs_at_once=_number("WINNOWER_JOBS_AT_ONCE", 2),
        memory_bytes=_number("WINNOWER_MEMORY_BYTES", 768 * 2**20),
        reserve_bytes=_number("WINNOWER_RESERVE_BYTES", 256 * 2**20),
        processes=max(1, _number("WINNOWER_PROCESSES", min(os.cpu_count() or 1, 4))),
        hosts=(*_names("WINNOWER_HOSTS"), "127.0.0.1", "localhost", "[::1]"),
        model_url=_address("WINNOWER_MODEL_URL"),
        model_name=os.environ.get("WINNOWER_MODEL_NAME") or "model",
        model_key=os.environ.get("WINNOWER_MODEL_KEY", ""),
    )
