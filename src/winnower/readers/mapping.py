"""Which column is what: guessed from names and values, and changeable."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from winnower.core.dates import guess_day_first, parse_date
from winnower.readers.document import Document
from winnower.readers.guess import guess_kind, has_times
from winnower.readers.guess import named as is_named

#: When a text is one that is there already: by its key; by its key in the file of this name; where the
#: text, its title, source, date and person agree; where the text agrees and its place in a file of this name.
RULES = ("key", "key-file", "row", "place")
_PERSON = re.compile(
    r".*\b(?:respondent|participant|interviewee|person|author|byline|by|user|username|handle|account|"
    r"speaker|writer|sender|from|teilnehmer\w*|befragte\w*|autor\w*|verfasser\w*|nutzer\w*|auteurs?|"
    r"utilisateur|participante?|usuario|autore|utente|deelnemer|gebruiker|utilizador|uczestnik|"
    r"respondente?|u[zż]ytkownik)\b.*",
    re.IGNORECASE,
)
#: Average length from which on further columns are taken for texts as well, as open questions are.
TEXT_CHARS = 60
#: Names of outlets and people are not longer.
SOURCE_CHARS = 80


@dataclass(frozen=True)
class Target:
    """What becomes of a column. ``kind`` and ``separator`` (of a number: its decimal sign) matter for
    variables only; ``name`` is the variable, or the question or section a text column stands for. A key can
    be a variable ``also``, the time of day in a date likewise."""

    column: str
    role: str
    name: str = ""
    kind: str = "category"
    separator: str = ";"
    also: bool = False


@dataclass(frozen=True)
class Mapping:
    """Roles of all columns.

    source_name     gives all texts one source
    source_from     "file", "folder", or "domain" and a column with addresses: the source where no column
                    names it
    layout          with several text columns: "answers" makes one text of each cell, the question
                    becoming a variable; "sections" makes one text with a named section for each
    question_name   the variable that holds the question
    placeholders    a row without text becomes a text to fill later instead of being refused
    naming          "title", or "author-year" where the columns authors and year are there
    line            the kind of delivery a key belongs to; None where it is that of these columns alone,
                    empty where keys hold in the whole project
    same            when a text is one that is there already, see RULES; empty where the columns say it
    """

    targets: tuple[Target, ...]
    source_name: str | None = None
    source_from: str = ""
    day_first: bool = True
    notes: tuple[str, ...] = field(default=())
    layout: str = "answers"
    question_name: str = "Question"
    placeholders: bool = False
    naming: str = "title"
    line: str | None = None
    same: str = ""

    @property
    def rule(self) -> str:
        """Which of RULES tells texts apart."""
        keyed = self.column("key") is not None
        if self.same in RULES and (keyed or not self.same.startswith("key")):
            return self.same
        if keyed:
            return "key"
        return "row" if self.column("title") or self.column("date") or self.identifying else "place"

    @property
    def identifying(self) -> tuple[str, ...]:
        """Variables that tell who a text is from."""
        return tuple(t.name or t.column for t in self.variables if is_person(t.column or t.name))

    def column(self, role: str) -> str | None:
        """The first column with a role."""
        return next((t.column for t in self.targets if t.role == role), None)

    @property
    def texts(self) -> tuple[Target, ...]:
        return tuple(t for t in self.targets if t.role == "text")

    @property
    def variables(self) -> tuple[Target, ...]:
        """Targets that become variables, the group and the sets among them."""
        own = [t for t in self.targets if t.role == "variable" or (t.role == "key" and t.also)]
        own += [Target(t.column, "group", "Group", "category") for t in self.targets if t.role == "group"]
        sets = [t for t in self.targets if t.role == "sets"]
        own += [Target(t.column, "sets", "Sets", "several", t.separator) for t in sets]
        dates = [t for t in self.targets if t.role == "date" or (t.role, t.kind) == ("variable", "date")]
        own += [Target(t.column, "time", time_name(t), "text") for t in dates if t.also]
        if len(self.texts) > 1 and self.layout == "answers":
            own.append(Target("", "question", self.question_name or "Question", "category"))
        return tuple(own)


def time_name(target: Target) -> str:
    """The variable that keeps the time of day of a date."""
    return f"{target.name or target.column}, time of day"


def is_person(column: str) -> bool:
    """Whether a column says by its name who a text is from."""
    return bool(_PERSON.fullmatch(column.replace("_", " ").replace(".", " ")))


def guess_mapping(header: Sequence[str], rows: Sequence[Sequence[str]]) -> Mapping:
    """Roles and kinds guessed from the first rows.

    Where several columns hold long answers, all of them become texts, each with its question.
    """
    values = {name: [row[at].strip() for row in rows] for at, name in enumerate(header)}
    filled = {name: [v for v in column if v] for name, column in values.items()}
    roles: dict[str, str] = {}
    text = _guess_text(header, filled)
    if text:
        roles[text] = "text"
        for name in header:
            lengths = [len(value) for value in filled[name]]
            long = sum(lengths) / max(len(lengths), 1) >= TEXT_CHARS
            if (
                name != text
                and long
                and len(set(filled[name])) > len(lengths) * 0.6
                and _is_question(name, text)
            ):
                roles[name] = "text"
    for role in ("date", "title", "source", "key"):
        found = _by_name(role, [name for name in header if name not in roles], filled)
        if found:
            roles[found] = role
    dated = [v for name, role in roles.items() if role == "date" for v in filled[name]]
    targets = tuple(_target(name, roles.get(name), filled[name]) for name in header)
    if sum(target.role == "text" for target in targets) > 1:
        targets = tuple(replace(t, name=t.column) if t.role == "text" else t for t in targets)
    return Mapping(targets, day_first=guess_day_first(dated))


def _guess_text(header: Sequence[str], filled: dict[str, list[str]]) -> str | None:
    lengths = {name: sum(map(len, filled[name])) / max(len(filled[name]), 1) for name in header}
    named = [n for n in header if is_named("text", n, whole=True)]
    longest = max(header, key=lambda n: lengths[n], default=None)
    if named:
        best = max(named, key=lambda n: lengths[n])
        if longest is None or lengths[best] * 2 >= lengths[longest]:
            return best
    return longest if longest and lengths[longest] >= 30 else (named[0] if named else None)


def _is_question(name: str, text: str) -> bool:
    """Whether two text columns are questions of one survey: both are put as such or begin alike."""
    asks = re.compile(r"\?\s*$|^(?:q|question|answer)[ _]?\d", re.IGNORECASE)
    return bool(asks.search(name) and asks.search(text))


def guess_references(header: Sequence[str]) -> Mapping:
    """How a reference list is taken: nothing in it is the text, the abstract becomes a note."""
    roles = {
        "key": Target("key", "key"),
        "title": Target("title", "title"),
        "text": Target("text", "text"),
        "abstract": Target("abstract", "note", "Abstract"),
        "note": Target("note", "note", "Note"),
        "date": Target("date", "date"),
        "type": Target("type", "variable", "Type of work", "category"),
        "authors": Target("authors", "variable", "Authors", "several", ";"),
        "year": Target("year", "variable", "Year", "number"),
        "container": Target("container", "variable", "Published in", "category"),
        "keywords": Target("keywords", "variable", "Keywords", "several", ";"),
        "doi": Target("doi", "variable", "DOI", "text"),
    }
    targets = tuple(roles.get(name, Target(name, "skip", name.capitalize(), "text")) for name in header)
    return Mapping(targets, placeholders=True, naming="author-year")


def guess_documents(kind: str, documents: Sequence[Document] = ()) -> Mapping:
    """How documents are taken: the file's own title, its date and author where it names them, and what
    their field lines say."""
    targets = [Target("Title", "title"), Target("Text", "text")]
    named = kind in ("html", "epub", "markdown", "mail", "webarchive")
    if named or any(one.date for one in documents):
        targets.append(Target("Date", "date", also=has_times([one.date for one in documents])))
    if named or any(one.author and one.fields for one in documents) or _several_authors(documents):
        targets.append(Target("Author", "variable", "Author", "category"))
    values: dict[str, list[str]] = {}
    for one in documents:
        for name, value in one.fields:
            values.setdefault(name, []).append(value)
    for name, found in values.items():
        if name == "Source":
            targets.append(Target(name, "source"))
        else:
            filled = [value for value in found if value]
            role = "variable" if filled and name != "Address" else "skip"
            targets.append(Target(name, role, name, *guess_kind(filled)))
    addressed = any(dict(one.fields).get("Address", "").find("://") > 0 for one in documents)
    by_domain = addressed and not any(target.role == "source" for target in targets)
    return Mapping(
        tuple(targets),
        placeholders=kind == "pdf",
        source_from="domain:Address" if by_domain else "",
    )


def _several_authors(documents: Sequence[Document]) -> bool:
    """Whether the texts of one file are by several people, as messages are."""
    return len(documents) > 1 and len({one.author for one in documents if one.author}) > 1


def guess_feed(header: Sequence[str]) -> Mapping:
    """How a feed is taken."""
    roles = {
        "title": Target("title", "title"),
        "published": Target("published", "date"),
        "author": Target("author", "variable", "Author", "category"),
        "categories": Target("categories", "variable", "Categories", "several", ";"),
        "source": Target("source", "source"),
        "id": Target("id", "key"),
        "text": Target("text", "text"),
    }
    return Mapping(tuple(roles.get(name, Target(name, "skip", name)) for name in header))


def _by_name(role: str, names: list[str], filled: dict[str, list[str]]) -> str | None:
    for whole in (True, False):
        for name in names:
            if is_named(role, name, whole=whole) and _fits(role, filled[name], whole):
                return name
    return None


def _fits(role: str, values: list[str], whole: bool) -> bool:
    """Whether values are as those of a role; a column with the name of it, as a ``whole``, may have many."""
    if role == "date":
        return (
            bool(values)
            and sum(parse_date(v) is not None or parse_date(v, False) is not None for v in values)
            >= len(values) * 0.5
        )
    if role == "key":
        return bool(values) and len(set(values)) == len(values)
    if role == "source" and whole:
        return all(len(value) <= SOURCE_CHARS and "://" not in value for value in values)
    if role == "source":
        return len(set(values)) <= max(30, len(values) // 3)
    return True


def _target(name: str, role: str | None, values: list[str]) -> Target:
    if role:
        return Target(name, role, also=role == "date" and has_times(values))
    kind, separator = guess_kind(values)
    timed = kind == "date" and has_times(values)
    return Target(name, "variable" if values else "skip", name, kind, separator, timed)
