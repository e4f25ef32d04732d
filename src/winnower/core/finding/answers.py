"""What each view answers, as sheets, sentences and how it was counted."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from winnower.core.change import Changes, change_method, change_statements, smoothed
from winnower.core.compare import Statement, Table, how_counted, statements
from winnower.core.compare.map import Map, map_method, map_statements
from winnower.core.compare.targets import MethodPart, Target
from winnower.core.compare.wording import level_text
from winnower.core.finding.sheets import Cell, Column, Sheet, plain
from winnower.core.keyness import (
    Keyness,
    Keywords,
    Occurrences,
    Sides,
    keywords_method,
    keywords_statements,
    most_typical,
)
from winnower.core.network import Network, WordNetwork, network_method, network_statements
from winnower.core.network.words import topic_name
from winnower.core.together import UNITS, Matrix, Together, together_method, together_statements

#: So many keywords of each direction are kept and exported.
MOST_KEYWORDS = 500


@dataclass(frozen=True)
class Answer:
    """``name`` is what the view is about; ``base`` stands below a picture of it: instrument, unit, interval."""

    name: str
    base: str
    sheets: tuple[Sheet, ...]
    statements: tuple[Statement, ...]
    method: tuple[MethodPart, ...]


def answer_comparison(table: Table) -> Answer:
    return Answer(
        table.target.name,
        base_of(table),
        (numbers(table),),
        tuple(statements(table)),
        tuple(how_counted(table)),
    )


def base_of(table: Table) -> str:
    """What stands below a picture: what was counted, how many texts, which interval."""
    version = "" if table.target.version is None else f", version {table.target.version}"
    texts = f"{table.texts_in_groups:,} texts, {int(table.words.sum()):,} words"
    weights = table.counts.weights
    weighted = "" if weights is None else f", weighted by “{weights.name}”"
    return (
        f"{table.target.name}{version}; {table.shown.unit}; {level_text(table.comparison.level)} intervals, "
        f"{table.unit.name} as the unit{weighted}; {texts}."
    )


def numbers(table: Table) -> Sheet:
    """One row a cell: counts and all measures with intervals."""
    counted = table.comparison.counting != "hits"
    many = ("values", "texts with a value") if table.of_numbers else ("hits", "texts with a hit")
    columns = [Column(table.target.nouns[0], "text", True), Column("group", "text", True)]
    columns += [Column(name, "count") for name in (*many, "words", "texts")]
    if counted:
        columns += [Column("counted", "count"), Column("counted over", "count")]
    for one in table.measures:
        form = one.form
        ends = ("", " low", " high") if one.has_interval else ("",)
        columns += [Column(f"{one.label.lower()}{end}", form) for end in ends]
    columns += [
        Column("distance from all other groups"),
        Column("p of the distance", "p"),
        Column("p that groups differ, adjusted", "p"),
    ]
    if not table.of_numbers:
        columns.append(Column("evenness"))
    return Sheet("Numbers", tuple(columns), tuple(_cells(table, counted)))


def _cells(table: Table, counted: bool) -> list[tuple[Cell, ...]]:
    verdict = table.tests.verdict
    measured = [table.measure(one.name)[: 3 if one.has_interval else 1] for one in table.measures]
    evenness, rows = table.evenness, []
    for at, named in enumerate(table.target.rows):
        for group, label in enumerate(table.groups.labels):
            row: list[Cell] = [
                named.label,
                label,
                int(table.hits[at, group]),
                int(table.texts_with_hit[at, group]),
            ]
            row += [int(table.words[group]), int(table.texts[group])]
            if counted:
                row += [int(table.counted[at, group]), int(table.sizes[group])]
            for parts in measured:
                row += [plain(part[at, group]) for part in parts]
            p = None if verdict is None else plain(verdict.rates.z_p[at, group])
            differs = None if verdict is None else plain(verdict.rates.p_adjusted[at])
            even = () if table.of_numbers else (plain(evenness[at]),)
            rows.append((*row, plain(table.residuals[at, group]), p, differs, *even))
    return rows


def answer_map(found: Map) -> Answer:
    table = found.table
    rows, groups = found.found.rows, found.found.columns
    axes = min(found.found.inertia.size, 3)
    columns = [Column("point", "text", True), Column("kind", "text", True), Column("mass", "percent")]
    columns += [Column(f"axis {at + 1}") for at in range(axes)]
    columns += [Column(f"contribution to axis {at + 1}", "percent") for at in range(axes)]
    columns += [Column(f"part on axis {at + 1}", "percent") for at in range(axes)]
    labels = (
        [table.target.rows[at].label for at in found.rows],
        [table.groups.labels[at] for at in found.groups],
    )
    lines: list[tuple[Cell, ...]] = []
    for points, names, kind in ((rows, labels[0], table.target.nouns[0]), (groups, labels[1], "group")):
        for at, name in enumerate(names):
            parts = (points.at, points.contribution, points.quality)
            lines.append(
                (name, kind, plain(points.mass[at]), *(plain(p[at, k]) for p in parts for k in range(axes)))
            )
    axis = Sheet(
        "Axes",
        (Column("axis", "count", True), Column("inertia"), Column("share of inertia", "percent")),
        tuple(
            (at + 1, plain(found.found.inertia[at]), plain(found.found.shares[at]))
            for at in range(len(found.found.inertia))
        ),
    )
    points_sheet = Sheet("Points", tuple(columns), tuple(lines))
    said = (*map_statements(found), *statements(table)[:1])
    method = (*map_method(found), *how_counted(table))
    return Answer(table.target.name, base_of(table), (points_sheet, axis), said, method)


def answer_changes(found: Changes, window: int) -> Answer:
    table = found.table
    labels, factor = table.groups.labels, table.view.factor
    changes = Sheet(
        "Changes",
        (
            Column(table.target.nouns[0], "text", True), Column("from", "text", True), Column("not before", "text"),
            Column("not after", "text"), Column("before"), Column("after"), Column("p", "p"),
        ),
        tuple(
            (table.target.rows[row].label, labels[one.period], labels[one.low], labels[min(one.high, len(labels) - 1)],
             plain(one.before * factor), plain(one.after * factor), plain(one.p))
            for row, some in found.of_row.items() for one in some
        ),
    )  # fmt: skip
    sheets = [changes, numbers(table)]
    if window > 1:
        smooth = smoothed(table, window)
        cells = tuple(
            (row.label, label, plain(smooth[at, group]))
            for at, row in enumerate(table.target.rows)
            for group, label in enumerate(labels)
        )
        heads = (Column(table.target.nouns[0], "text", True), Column("period", "text", True))
        sheets.append(
            Sheet("Moving average", (*heads, Column(f"mean over {window} periods", table.shown.form)), cells)
        )
    said = (*change_statements(found), *statements(table))
    return Answer(
        table.target.name, base_of(table), tuple(sheets), said, (*change_method(found), *how_counted(table))
    )


def answer_keywords(
    asked: Keywords, sides: Sides, words: Occurrences, found: Keyness, language: str
) -> Answer:
    per = 1_000_000.0
    rows: list[tuple[Cell, ...]] = []
    rates = found.rates(per)
    over, under = (most_typical(found, "g2", rare=rare)[:MOST_KEYWORDS] for rare in (False, True))
    for at in np.concatenate([over, under]).tolist():
        rows.append(
            (
                words.names[int(found.row[at])],
                sides.labels[0] if found.ratio[at] > 0 else sides.labels[1],
                *(int(found.hits[at, side]) for side in (0, 1)),
                *(int(found.texts[at, side]) for side in (0, 1)),
                *(plain(rates[at, side]) for side in (0, 1)),
                *(
                    plain(part[at])
                    for part in (found.ratio, found.g2, found.odds, found.t, found.p, found.adjusted)
                ),
                *(plain(part[at]) for part in (found.evenness, found.most)),
            )
        )
    group, other = sides.labels
    columns = (
        Column("word", "text", True), Column("typical of", "text"), Column(f"hits in {group}", "count"),
        Column(f"hits in {other}", "count"), Column(f"texts of {group}", "count"), Column(f"texts of {other}", "count"),
        Column(f"per 1,000,000 words in {group}"), Column(f"per 1,000,000 words in {other}"), Column("log ratio"),
        Column("G2"), Column("weighted log-odds"), Column("t"), Column("p", "p"), Column("p, adjusted", "p"),
        Column("evenness"), Column("part in one text", "percent"),
    )  # fmt: skip
    base = (
        f"{group} against {other}; {int(found.n_texts.sum()):,} texts, {int(found.words.sum()):,} words; p over texts, adjusted "
        f"for {found.tested:,}."
    )
    return Answer(
        f"Words typical of {group}", base, (Sheet("Keywords", columns, tuple(rows)),),
        tuple(keywords_statements(asked, sides, words, found)), tuple(keywords_method(asked, sides, found, language)),
    )  # fmt: skip


def answer_together(asked: Together, rows: Target, columns: Target | None, found: Matrix) -> Answer:
    other = columns or rows
    many = UNITS[asked.within][1]
    lines: list[tuple[Cell, ...]] = []
    for at, row in enumerate(rows.rows):
        for to, column in enumerate(other.rows):
            if found.same and to <= at and asked.within not in ("overlap", "near"):
                continue
            if found.same and to == at:
                continue
            texts = int(found.texts[at, to])
            lines.append(
                (
                    row.label, column.label, int(found.together[at, to]), None if texts < 0 else texts,
                    int(found.of_row[at]), int(found.of_column[to]),
                    *(plain(part[at, to]) for part in (found.jaccard, found.lift, found.z, found.p, found.adjusted)),
                )
            )  # fmt: skip
    names = (rows.nouns[0], f"other {other.nouns[0]}" if found.same else other.nouns[0])
    if names[0] == names[1]:
        names = (names[0], f"{names[1]} beside it")
    heads = (
        Column(names[0], "text", True), Column(names[1], "text", True), Column(f"{many} with both", "count"),
        Column("texts with both", "count"), Column(f"{many} of the first", "count"), Column(f"{many} of the second", "count"),
        Column("Jaccard"), Column("lift"), Column("z"), Column("p", "p"), Column("p, adjusted", "p"),
    )  # fmt: skip
    what = rows.name if columns is None else f"{rows.name} with {columns.name}"
    base = f"{what}; same {UNITS[asked.within][0]}; {found.n_texts:,} texts."
    if asked.within in ("overlap", "near"):
        base = f"{what}; {'overlapping' if asked.within == 'overlap' else f'within {asked.words} words'}; {found.n_texts:,} texts."
    return Answer(
        f"Co-occurrence: {what}", base, (Sheet("Pairs", heads, tuple(lines)),),
        tuple(together_statements(asked, rows, columns, found)), tuple(together_method(asked, rows, columns, found)),
    )  # fmt: skip


def answer_network(asked: Network, found: WordNetwork, language: str) -> Answer:
    topics = [topic_name(found, at) for at in range(len(found.topics))]
    words = Sheet(
        "Words",
        (
            Column("word", "text", True), Column("topic", "text"), Column(f"{asked.within}s", "count"), Column("texts", "count"),
            Column("betweenness"),
        ),
        tuple(
            (name, topics[found.topic[at]] if found.topic[at] >= 0 else None, int(found.hits[at]), int(found.texts[at]),
             plain(found.betweenness[at]))
            for at, name in enumerate(found.names)
        ),
    )  # fmt: skip
    ties = Sheet(
        "Ties",
        (
            Column("word", "text", True),
            Column("with", "text", True),
            Column("together", "count"),
            Column("normalised PMI"),
        ),
        tuple(
            (found.names[a], found.names[b], int(n), plain(weight))
            for a, b, n, weight in zip(found.first, found.second, found.together, found.weight, strict=True)
        ),
    )
    of_topics = Sheet(
        "Topics",
        (
            Column("topic", "text", True), Column("words", "text"), Column(f"{asked.within}s", "count"),
            Column("texts", "count"), Column("ties inside", "percent"),
        ),
        tuple(
            (topics[at], ", ".join(found.names[word] for word in topic.words), int(found.units_of_topic[at]),
             int(found.texts_of_topic[at]), plain(topic.inside))
            for at, topic in enumerate(found.topics)
        ),
    )  # fmt: skip
    gaps = Sheet(
        "Gaps",
        (
            Column("topic", "text", True),
            Column("other topic", "text", True),
            Column("tie over expected"),
            Column("bridges", "text"),
        ),
        tuple(
            (
                topics[gap.first],
                topics[gap.second],
                plain(gap.ratio),
                ", ".join(found.names[at] for at in gap.bridges),
            )
            for gap in found.gaps
        ),
    )
    who = f" in {asked.group}" if asked.group else ""
    base = f"{len(found.names)} words{who}; {found.units:,} {asked.within}s of {found.texts_in_scope:,} texts; seed {asked.seed}."
    return Answer(
        f"Word network{who}", base, (of_topics, words, ties, gaps), tuple(network_statements(asked, found)),
        tuple(network_method(asked, found, language)),
    )  # fmt: skip
