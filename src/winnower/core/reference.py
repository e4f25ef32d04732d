"""References of texts, and how two usual styles write them.

Styles: "author-date" follows the reference list of the Publication Manual of the American
Psychological Association (7th ed., chapters 9 and 10); "notes" follows the bibliography of The
Chicago Manual of Style (17th ed., chapter 14). Covered are articles, books, chapters, reports, theses,
newspaper pieces and web pages; where a field is missing it is left out, never made up.
"""

from __future__ import annotations

from dataclasses import asdict, dataclass

STYLES = ("author-date", "notes")


@dataclass(frozen=True)
class Reference:
    """Fields as given; ``authors`` are parted by semicolons, each "Family, Given" or one name."""

    type: str = ""
    title: str = ""
    authors: str = ""
    year: str = ""
    container: str = ""
    volume: str = ""
    issue: str = ""
    pages: str = ""
    publisher: str = ""
    place: str = ""
    doi: str = ""
    url: str = ""
    date: str = ""

    def plain(self) -> dict[str, str]:
        return {name: value for name, value in asdict(self).items() if value}


def names(authors: str) -> list[tuple[str, str]]:
    """(family, given) of each author; a name without a comma and with several words ends in the family."""
    out = []
    for written in authors.split(";"):
        name = " ".join(written.split())
        if not name:
            continue
        family, comma, given = name.partition(",")
        if not comma and " " in name:
            given, _, family = name.rpartition(" ")
        out.append((family.strip(), given.strip()))
    return out


def author_year(authors: str, year: str, title: str) -> str:
    """A name for a text by author and year: "Quill and Marsh 2029: Title"; empty without an author.

    >>> author_year("Quill, Ada; Marsh, Ben", "2029", "Lynx and deer")
    'Quill and Marsh 2029: Lynx and deer'
    """
    people = [family for family, _ in names(authors)]
    if not people:
        return ""
    who = (
        people[0]
        if len(people) == 1
        else f"{people[0]} and {people[1]}"
        if len(people) == 2
        else f"{people[0]} et al."
    )
    label = f"{who} {year}".strip()
    return f"{label}: {title}" if title else label


def cite(reference: Reference, style: str) -> str:
    """The reference as one line of plain text. Raises ValueError for an unknown style."""
    if style == "author-date":
        return _author_date(reference)
    if style == "notes":
        return _notes(reference)
    raise ValueError(f"There is no style {style}; there are {', '.join(STYLES)}.")


def _initials(given: str) -> str:
    return " ".join(
        "-".join(f"{piece[0].upper()}." for piece in word.split("-") if piece) for word in given.split()
    )


def _stop(text: str) -> str:
    return text if text.endswith((".", "?", "!")) or not text else f"{text}."


def _link(reference: Reference) -> str:
    doi = reference.doi.removeprefix("https://doi.org/").removeprefix("doi:").strip()
    return f"https://doi.org/{doi}" if doi else reference.url


def _author_date(r: Reference) -> str:
    people = [f"{family}, {_initials(given)}" if given else family for family, given in names(r.authors)]
    if len(people) > 20:
        people = [*people[:19], f"… {people[-1]}"]
        who = ", ".join(people[:19]) + f", {people[19]}"
    elif len(people) > 1:
        who = ", ".join(people[:-1]) + f", & {people[-1]}"
    else:
        who = people[0] if people else ""
    year = f"({r.year or 'n.d.'})."
    within = ""
    if r.container:
        volume = f"{r.volume}({r.issue})" if r.volume and r.issue else r.volume or r.issue
        if r.type == "chapter":
            pages = f" (pp. {r.pages})" if r.pages else ""
            within = f"In {r.container}{pages}"
        else:
            within = ", ".join(part for part in (r.container, volume, r.pages) if part)
    title = r.title
    kind = {"thesis": " [Thesis]"}.get(r.type, "")
    publisher = r.publisher if r.type not in ("article", "newspaper article", "magazine article") else ""
    head = f"{_stop(who)} {year}" if who else ""
    parts = [head, _stop(title + kind), _stop(within), _stop(publisher), _link(r)]
    if not who:
        parts = [_stop(title + kind), year, _stop(within), _stop(publisher), _link(r)]
    return " ".join(part for part in parts if part)


def _notes(r: Reference) -> str:
    people = []
    for at, (family, given) in enumerate(names(r.authors)):
        people.append((f"{family}, {given}" if given else family) if at == 0 else f"{given} {family}".strip())
    if len(people) > 10:
        people = [*people[:7], "et al."]
        who = ", ".join(people)
    elif len(people) > 1:
        who = ", ".join(people[:-1]) + f", and {people[-1]}"
    else:
        who = people[0] if people else ""
    if r.container:
        volume = r.volume
        if r.issue:
            volume = f"{volume}, no. {r.issue}" if volume else f"no. {r.issue}"
        title = f"“{_stop(r.title)}”"
        if r.type == "chapter":
            pages = f", {r.pages}" if r.pages else ""
            imprint = ": ".join(part for part in (r.place, r.publisher) if part)
            end = _stop(f"{imprint}, {r.year}".strip(", ")) if imprint or r.year else ""
            parts = [_stop(who), title, _stop(f"In {r.container}{pages}"), end]
        elif r.type in ("newspaper article", "magazine article"):
            year, _, day = r.year.partition(", ")  # "2031, June 3" is written as June 3, 2031
            parts = [_stop(who), title, _stop(", ".join(part for part in (r.container, day, year) if part))]
        else:
            within = f"{r.container} {volume}".strip()
            within += f" ({r.year})" if r.year else ""
            within += f": {r.pages}" if r.pages else ""
            parts = [_stop(who), title, _stop(within)]
    else:
        imprint = ": ".join(part for part in (r.place, r.publisher) if part)
        parts = [_stop(who), _stop(r.title), _stop(", ".join(part for part in (imprint, r.year) if part))]
    return " ".join(part for part in [*parts, _stop(_link(r))] if part)
