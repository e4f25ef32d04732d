"""What a first look found, in lines for people."""

from __future__ import annotations

from collections.abc import Iterator

from winnower.jobs.look import FirstLook, LotLook

#: Problems that are listed one by one.
MOST_LISTED = 20
_ROLES = {
    "text": "text",
    "title": "title",
    "source": "source",
    "date": "date",
    "key": "key",
    "note": "note",
    "group": "group",
    "sets": "sets",
}


def describe_look(looked: FirstLook) -> Iterator[str]:
    """Lines: for each kind of file how it is taken and by what guess, then what would not go in."""
    for one in looked.lots:
        yield from _describe_lot(one)
    for problem in looked.problems[:MOST_LISTED]:
        place = f"{problem.file}, row {problem.row}" if problem.row else problem.file
        yield f"{place}: {problem.reason}"
    if looked.problems_total > MOST_LISTED:
        yield f"{looked.problems_total - MOST_LISTED:,} more like these."
    yield from looked.notices
    if not looked.everything:
        yield f"Only the first {looked.checked:,} rows and documents were looked at."


def _numbers(one: LotLook) -> Iterator[str]:
    found = one.numbers
    if not found.texts:
        return
    when = f", from {found.first} to {found.last}" if found.first else ""
    undated = f", {found.undated:,} without a date" if found.first and found.undated else ""
    yield f"  {found.texts:,} texts looked at{when}{undated}"
    if found.sources:
        first = ", ".join(f"{name} {texts:,}" for name, texts in found.sources)
        more = found.n_sources - len(found.sources)
        yield f"  from {first}{f' and {more:,} more' if more > 0 else ''}"
    for odd in found.odd:
        yield f"  look at “{odd.title}”: {odd.reason}"


def _describe_lot(one: LotLook) -> Iterator[str]:
    lot = one.lot
    names = ", ".join(origin.name for origin in lot.origins[:3])
    more = f" and {len(lot.origins) - 3:,} more" if len(lot.origins) > 3 else ""
    how = [lot.label]
    if encoding := one.choice.encoding or lot.encoding:
        how.append(encoding)
    if one.kept:
        how.append("as the last time")
    if one.choice.cut != "file":
        how.append(f"cut by {one.choice.cut}: {one.cut.texts:,} texts in the first {one.cut.files:,} files")
    if one.choice.leave_out:
        how.append(f"left out{f', {one.aside}' if one.aside else ''}")
    yield f"{names}{more} ({', '.join(how)})"
    if one.reason:
        yield f"  {one.reason}"
    if one.choice.leave_out:
        return
    mapping = one.mapping
    for role, name in _ROLES.items():
        if columns := [target.column for target in mapping.targets if target.role == role]:
            first = ""
            if role == "date":
                first = " (day first)" if mapping.day_first else " (month first)"
            yield f"  {name}: {', '.join(columns)}{first}"
    if mapping.source_name:
        yield f"  source: {mapping.source_name}"
    variables = [f"{t.name or t.column} ({t.kind})" for t in mapping.targets if t.role == "variable"]
    if variables:
        yield f"  variables: {', '.join(variables)}"
    if skipped := [target.column for target in mapping.targets if target.role == "skip"]:
        yield f"  left out: {', '.join(skipped)}"
    yield from _numbers(one)
    if one.renumbered[0]:
        yield (
            f"  {one.renumbered[0]:,} rows have the key of a text that is there and nothing else of it: "
            "this table numbers its own rows, which are taken as new"
        )
    for doubt in one.doubts:
        yield f"  unclear: {doubt.sentence}"
