"""JSON and JSON Lines as tables: fields by their path, lists of plain values as several values."""

from __future__ import annotations

import io
from collections.abc import Iterator
from typing import Any, BinaryIO, cast

import ijson
import orjson

from winnower.core.errors import ReadError
from winnower.readers.files import read_up_to
from winnower.readers.problems import Problem
from winnower.readers.reasons import why
from winnower.readers.tables import MAX_COLUMNS, Batch, in_batches

#: Columns are those of so many first records; fields that come up later are told, not lost silently.
HEAD_RECORDS = 1_000
MAX_DEPTH = 20
#: Objects of a list that become columns of their own.
MOST_NUMBERED = 50
MAX_LINE_BYTES = 64_000_000
#: Joins plain values of a list; a variable with several values is parted at it again.
JOINER = "; "


class JsonReader:
    """Records of a JSON array (also one inside an object) or of JSON Lines; with ``records`` the objects of the list at
    that path of each, such as comments, with the fields of what they are on."""

    delimiter = ""
    encoding = "utf-8"

    def __init__(self, raw: BinaryIO, file: str, *, lines: bool, records: str = "") -> None:
        self.file, self._path = file, records
        #: Fields of the first records that hold lists of objects: each of these could be a record of its own.
        self.lists: list[str] = []
        self._shortened = 0
        self.problems: list[Problem] = []
        self.notices: list[str] = []
        self._late: dict[str, int] = {}
        buffered: Any = (
            raw if isinstance(raw, io.BufferedIOBase) else io.BufferedReader(cast(io.RawIOBase, raw))
        )
        source = self._lines(buffered) if lines else self._array(buffered)
        self._records = source
        self._head: list[tuple[int, dict[str, str]]] = []
        for number, record in source:
            self._head.append((number, record))
            if len(self._head) >= HEAD_RECORDS:
                break
        self.header = list(dict.fromkeys(key for _, record in self._head for key in record))
        if not self.header:
            reason = (
                self.problems[0].reason if self.problems else "It holds no records: no objects with fields."
            )
            raise ReadError(f"{file} cannot be read as a table. {reason}")
        if len(self.header) > MAX_COLUMNS:
            raise ReadError(f"{file} has {len(self.header):,} fields; at most {MAX_COLUMNS:,} can be read.")

    def batches(self) -> Iterator[Batch]:
        """The records in the order of the file."""
        return in_batches(self._cells())

    def _cells(self) -> Iterator[tuple[int, list[str]]]:
        """The cells of each record; what was left out of them is told after the last."""
        for number, record in self._all():
            for name in record.keys() - set(self.header):
                self._late[name] = self._late.get(name, 0) + 1
            yield number, [record.get(name, "") for name in self.header]
        if self._shortened:
            self.notices.append(
                f"Of lists of objects the first {MOST_NUMBERED} are columns; {self._shortened:,} more were left out. "
                "They can be texts of their own."
            )
        for name, times in sorted(self._late.items())[:20]:
            self.notices.append(
                f"The field {name} comes up only after the first {HEAD_RECORDS:,} records and was left out "
                f"({times:,} records)."
            )

    def _all(self) -> Iterator[tuple[int, dict[str, str]]]:
        head, self._head = self._head, []
        yield from head
        yield from self._records

    def _lines(self, raw: BinaryIO) -> Iterator[tuple[int, dict[str, str]]]:
        number = 0
        while line := raw.readline(MAX_LINE_BYTES):
            number += 1
            if number == 1:
                line = line.removeprefix(b"\xef\xbb\xbf")
            if not line.strip():
                continue
            try:
                record = orjson.loads(line)
            except (orjson.JSONDecodeError, RecursionError) as error:
                self.problems.append(Problem(self.file, number, f"This line is not JSON: {why(error)}."))
                continue
            yield from self._row(number, record)

    def _array(self, raw: BinaryIO) -> Iterator[tuple[int, dict[str, str]]]:
        """Records one by one, never the whole file; the array may lie inside an object."""
        number, begin = 0, raw.tell()
        try:
            path, single = _array_path(raw, begin)
            if single is not None:
                yield from self._row(1, single)
                return
            raw.seek(begin)
            if path is None:
                return
            if path == OBJECTS:
                for name, record in ijson.kvitems(raw, "", use_float=True):
                    number += 1
                    named = {KEY: name, **record} if isinstance(record, dict) else record
                    yield from self._row(number, named)
                return
            for record in ijson.items(raw, path, use_float=True):
                number += 1
                yield from self._row(number, record)
        except ReadError as error:
            self.problems.append(Problem(self.file, number + 1, error.message))
        except (ijson.JSONError, UnicodeDecodeError, RecursionError, ValueError) as error:
            reason = f"After record {number:,} the file is damaged or cut off ({why(error)}); what came before was read."
            self.problems.append(Problem(self.file, number + 1, reason))

    def _row(self, number: int, record: Any) -> Iterator[tuple[int, dict[str, str]]]:
        if not isinstance(record, dict):
            self.problems.append(Problem(self.file, number, "This record is not an object with fields."))
            return
        if number <= HEAD_RECORDS:
            self.lists += [path for path in lists_in(record) if path not in self.lists]
        for one in inner_records(record, self._path) if self._path else (record,):
            out: dict[str, str] = {}
            try:
                self._shortened += flatten(one, "", out, 0)
            except ReadError as error:
                self.problems.append(Problem(self.file, number, error.message))
                continue
            yield number, out


#: Stands for "the values of the object that the file is".
OBJECTS = "\0"
#: The name of the field that takes the name under which an object stands.
KEY = "key"


def _is_object_of_objects(raw: BinaryIO) -> bool:
    """Whether the first two values of the object that a file is are objects with mostly the same fields: then each of
    them is a record, under its name."""
    seen: list[set[str]] = []
    level = 0
    try:
        for event, value in ijson.basic_parse(raw, use_float=True):
            if level == 0 and event != "start_map":
                return False
            if level == 1 and event not in ("start_map", "map_key", "end_map"):
                return False  # a value that is none, or a list
            if level == 1 and event == "start_map":
                seen.append(set())
            elif level == 2 and event == "map_key":
                seen[-1].add(value)
            elif level == 2 and event == "end_map" and len(seen) == 2:
                break
            level += event in ("start_map", "start_array")
            level -= event in ("end_map", "end_array")
    except (ijson.JSONError, UnicodeDecodeError, RecursionError, ValueError):
        return False
    if len(seen) < 2 or not seen[0]:
        return False
    return len(seen[0] & seen[1]) * 2 >= max(len(seen[0]), len(seen[1]), 1)


def _array_path(raw: BinaryIO, begin: int) -> tuple[str | None, dict | None]:
    """Where the records lie: the first array of objects; a single object counts as one record. None where there are
    no objects in it."""
    if _is_object_of_objects(raw):
        return OBJECTS, None
    raw.seek(begin)
    # without ijson's own paths, which cost the square of the depth
    names: list[str] = []
    in_array: list[bool] = []
    for event, value in ijson.basic_parse(raw, use_float=True):
        if event == "map_key":
            names[-1] = value
        elif event in ("start_map", "start_array"):
            if event == "start_map" and in_array and in_array[-1]:
                return ".".join(names), None
            names.append("item")
            in_array.append(event == "start_array")
            if len(names) > MAX_DEPTH:
                raise ReadError(f"It is nested more than {MAX_DEPTH} levels deep.")
        elif event in ("end_map", "end_array"):
            names.pop()
            in_array.pop()
    raw.seek(begin)
    found = orjson.loads(read_up_to(raw, MAX_LINE_BYTES))
    return ("", found) if isinstance(found, dict) else (None, None)


def lists_in(record: dict[str, Any], path: str = "", depth: int = 0) -> list[str]:
    """Paths of the fields of a record that hold lists of objects."""
    found = []
    for key, value in record.items():
        here = f"{path}.{key}" if path else str(key)
        if isinstance(value, list) and any(isinstance(inner, dict) for inner in value):
            found.append(here)
        elif isinstance(value, dict) and depth < MAX_DEPTH:
            found += lists_in(value, here, depth + 1)
    return found


def inner_records(record: dict[str, Any], path: str) -> Iterator[dict[str, Any]]:
    """The objects of the list at a path of a record, each with the fields of the record, which are named with "of." where
    an object has one of that name itself. None where the record has no such list."""
    value: Any = record
    for name in path.split("."):
        value = value.get(name) if isinstance(value, dict) else None
    around = _without(record, path)
    for inner in value if isinstance(value, list) else ():
        if isinstance(inner, dict):
            yield {**inner, **{f"of.{key}" if key in inner else key: told for key, told in around.items()}}


def _without(record: dict[str, Any], path: str) -> dict[str, Any]:
    name, _, rest = path.partition(".")
    if not rest:
        return {key: value for key, value in record.items() if key != name}
    return {key: _without(value, rest) if key == name else value for key, value in record.items()}


def flatten(value: Any, path: str, out: dict[str, str], depth: int) -> int:
    """Nested fields by path: ``author.name``; lists of plain values joined, lists of objects numbered. How many objects
    of long lists were left out."""
    left_out = 0
    if depth > MAX_DEPTH:
        raise ReadError(f"This record is nested more than {MAX_DEPTH} levels deep.")
    if isinstance(value, dict):
        for key, inner in value.items():
            left_out += flatten(inner, f"{path}.{key}" if path else str(key), out, depth + 1)
    elif isinstance(value, list):
        if all(not isinstance(inner, (dict, list)) for inner in value):
            out[path] = JOINER.join(plain(inner) for inner in value if inner is not None)
        else:
            left_out += max(len(value) - MOST_NUMBERED, 0)
            for at, inner in enumerate(value[:MOST_NUMBERED], 1):
                left_out += flatten(inner, f"{path}.{at}", out, depth + 1)
    else:
        out[path] = plain(value)
    return left_out


def plain(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float) and value.is_integer() and abs(value) < 1e15:
        return str(int(value))
    return str(value)
