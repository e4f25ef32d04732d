"""Keywords, co-occurrence, networks, maps and changes over time: their answers, evidence and export."""

from __future__ import annotations

from typing import Literal

import numpy as np
import orjson
from fastapi import APIRouter, Response

from winnower.api import schemas as s
from winnower.api.context import Desk, Reading
from winnower.api.evidence import evidence_page
from winnower.api.files import EXCEL, download
from winnower.api.numbers import plain
from winnower.api.schemas import answers as a
from winnower.core.change import change_method, change_statements, smoothed
from winnower.core.compare import Comparison, Statement
from winnower.core.compare.map import Map, map_method, map_statements
from winnower.core.compare.targets import MethodPart, Target
from winnower.core.finding import AnyView, ChangesView, MapView, view_to_plain
from winnower.core.index import KINDS
from winnower.core.keyness import keywords_method, keywords_statements, most_typical
from winnower.core.network import Network, network_method, network_statements
from winnower.core.network.words import topic_name
from winnower.core.scope import Scope, split_name
from winnower.core.together import UNITS, Together, together_method, together_statements
from winnower.core.tokens.lemmas import LEMMA_LANGUAGES, STEM_LANGUAGES
from winnower.core.words import row_term
from winnower.core.words.pick import found_names
from winnower.store import answering
from winnower.store.answering import Pairs, Room, Typical
from winnower.store.words import language_of
from winnower.writers.sheets import answer_csv, answer_text, answer_xlsx

router = APIRouter(prefix="/projects/{project_id}")
#: So many words of both directions are points of the scatter.
POINTS = 150


def room_of(desk: Desk, view: AnyView) -> Room:
    """The project with its corpus as a view looks at it."""
    opened = desk.house.corpora.open(desk.session, desk.project)
    found = Room(desk.session, desk.project, opened).looking(view)
    desk.look_at(answering.scope_of(view), answering.split_of(view))
    return found


def statement_public(one: Statement) -> s.StatementPublic:
    return s.StatementPublic(
        kind=one.kind, headline=one.headline, strong=list(one.strong), details=one.details
    )


def method_public(parts: list[MethodPart] | tuple[MethodPart, ...]) -> list[s.MethodPart]:
    return [s.MethodPart(heading=h, words=w, source=c) for h, w, c in parts]


@router.post("/groups")
def groups_of_split(desk: Reading, asked: a.GroupsRequest) -> s.GroupsPublic:
    """The groups a split gives in a scope, with their texts and words."""
    desk.look_at(Scope(asked.scope), asked.split)
    corpus = desk.corpus
    ground = corpus.ground(Scope(asked.scope), asked.split)
    texts, words = ground.sizes[:2]
    return s.GroupsPublic(
        groups=[
            s.Group(label=label, texts=int(texts[at]), words=int(words[at]))
            for at, label in enumerate(ground.groups.labels)
        ],
        across=split_name(asked.split, corpus.columns),
    )


@router.post("/keywords")
def keywords(desk: Reading, request: a.KeywordsRequest) -> a.KeywordsPage:
    """Words typical of a group of texts, a page at a time."""
    asked = request.asked
    typical = answering.keywords(room_of(desk, asked), asked)
    found = typical.found
    rows = _picked(typical, request, request.rare)
    language = typical.language
    can_merge = [
        way for way, known in (("lemma", LEMMA_LANGUAGES), ("stem", STEM_LANGUAGES)) if language in known
    ]
    return a.KeywordsPage(
        asked=asked,
        sides=[
            a.KeywordSide(label=label, texts=int(found.n_texts[at]), words=int(found.words[at]))
            for at, label in enumerate(typical.sides.labels)
        ],
        total=len(rows),
        other=len(_picked(typical, request, not request.rare)),
        start=request.start,
        rows=[_keyword(desk, typical, int(at)) for at in rows[request.start : request.start + request.most]],
        points=_points(typical),
        statements=[
            statement_public(one) for one in keywords_statements(asked, typical.sides, typical.words, found)
        ],
        method=method_public(keywords_method(asked, typical.sides, found, language)),
        language=language,
        can_merge=can_merge,  # type: ignore[arg-type]
    )


def _picked(typical: Typical, request: a.KeywordsRequest, rare: bool) -> np.ndarray:
    found = typical.found
    rows = most_typical(found, request.order, request.descending, rare)
    if request.sure:
        rows = rows[np.nan_to_num(found.adjusted[rows], nan=1.0) <= 1 - request.asked.level]
    if request.find.strip():
        rows = rows[found_names(typical.words.names.gather(found.row[rows]), request.find)]
    return rows


def _keyword(desk: Desk, typical: Typical, at: int) -> a.Keyword:
    found, words, asked = typical.found, typical.words, typical.asked
    row = int(found.row[at])
    name = words.names[row]
    forms: list[str] = []
    if asked.unit == "word" and asked.merge != "none":
        forms = desk.corpus.lexicon.folds.gather(np.flatnonzero(words.forms == row)).to_list()
    rates = found.rates(1_000_000)
    return a.Keyword(
        name=name,
        kind=KINDS[words.kinds[row]],
        term=row_term(name, forms, asked.unit, asked.merge, typical.language),
        hits=found.hits[at].tolist(),
        texts=found.texts[at].tolist(),
        rates=rates[at].tolist(),
        ratio=float(found.ratio[at]),
        g2=float(found.g2[at]),
        odds=plain(found.odds[at]),
        p=plain(found.p[at]),
        adjusted=plain(found.adjusted[at]),
        evenness=plain(found.evenness[at]),
        one_text=float(found.most[at]),
    )


def _points(typical: Typical) -> list[a.KeywordPoint]:
    found = typical.found
    total = max(int(found.words.sum()), 1)
    both = np.concatenate([most_typical(found, "g2", rare=rare)[:POINTS] for rare in (False, True)])
    return [
        a.KeywordPoint(
            name=typical.words.names[int(found.row[at])],
            rate=float(found.hits[at].sum() / total * 1_000_000),
            ratio=float(found.ratio[at]),
            g2=float(found.g2[at]),
            sure=bool(found.adjusted[at] <= 1 - typical.asked.level),
        )
        for at in both
    ]


@router.post("/together")
def together(desk: Reading, asked: Together) -> a.MatrixPublic:
    """How often rows go together, with what chance would give."""
    pairs = answering.together(room_of(desk, asked), asked)
    found, other = pairs.found, pairs.columns or pairs.rows
    return a.MatrixPublic(
        asked=pairs.asked,
        name=pairs.rows.name if pairs.columns is None else f"{pairs.rows.name} with {pairs.columns.name}",
        noun=pairs.rows.nouns[0],
        nouns=pairs.rows.nouns[1],
        unit=UNITS[asked.within][0],
        units=found.units,
        same=found.same,
        rows=_matrix_rows(pairs.rows, found.of_row),
        columns=_matrix_rows(other, found.of_column),
        cells=_matrix_cells(pairs),
        statements=[
            statement_public(one) for one in together_statements(asked, pairs.rows, pairs.columns, found)
        ],
        method=method_public(together_method(asked, pairs.rows, pairs.columns, found)),
    )


def _matrix_rows(target: Target, units: np.ndarray) -> list[a.MatrixRow]:
    return [
        a.MatrixRow(
            key=row.key,
            label=row.label,
            name=row.name,
            depth=row.depth,
            colour=row.colour,
            units=int(units[at]),
        )
        for at, row in enumerate(target.rows)
    ]


def _matrix_cells(pairs: Pairs) -> list[list[a.MatrixCell]]:
    found, level = pairs.found, pairs.asked.level
    with np.errstate(invalid="ignore"):
        sign = np.where(found.adjusted <= 1 - level, np.sign(np.nan_to_num(found.z)), 0).astype(int)
    return [
        [
            a.MatrixCell(
                together=int(found.together[at, to]),
                texts=None if found.texts[at, to] < 0 else int(found.texts[at, to]),
                jaccard=plain(found.jaccard[at, to]),
                lift=plain(found.lift[at, to]),
                z=plain(found.z[at, to]),
                p=plain(found.adjusted[at, to]),
                kin=bool(found.kin[at, to]),
                sign=int(sign[at, to]),  # type: ignore[arg-type]
            )
            for to in range(found.together.shape[1])
        ]
        for at in range(found.together.shape[0])
    ]


@router.post("/together/evidence")
def pair_evidence(desk: Reading, asked: a.PairEvidence) -> s.EvidencePage:
    """The passages under a cell of a matrix, a page at a time."""
    room = room_of(desk, asked.asked)
    pairs = answering.together(room, asked.asked)
    places = answering.pair_places(room, pairs, asked.row, asked.column, asked.order)
    page = evidence_page(desk, places, asked, asked.form)
    units = answering.pair_units(pairs, asked.row, asked.column)
    return page.model_copy(update={"units": units, "unit": asked.asked.within})


@router.post("/network")
def network(desk: Reading, asked: Network) -> a.NetworkPublic:
    """Words that stand together, their topics and the gaps between these."""
    found = answering.network(room_of(desk, asked), asked)
    language = language_of(desk.session, desk.project.id)
    return a.NetworkPublic(
        asked=asked,
        words=[
            a.NetworkWord(
                name=name, units=int(found.hits[at]), texts=int(found.texts[at]), topic=int(found.topic[at]),
                betweenness=float(found.betweenness[at]), x=float(found.x[at]), y=float(found.y[at]),
            )
            for at, name in enumerate(found.names)
        ],
        ties=[
            a.NetworkTie(first=int(one), second=int(other), weight=round(float(weight), 6), together=int(n), holds=bool(firm))
            for one, other, weight, n, firm in zip(found.first, found.second, found.weight, found.together, found.holds, strict=True)
        ],
        topics=[
            a.TopicPublic(
                name=topic_name(found, at), words=list(topic.words), inside=topic.inside, stays=float(found.stays[at]),
                units=int(found.units_of_topic[at]), texts=int(found.texts_of_topic[at]),
            )
            for at, topic in enumerate(found.topics)
        ],
        gaps=[
            a.GapPublic(first=gap.first, second=gap.second, ratio=gap.ratio, bridges=[found.names[at] for at in gap.bridges])
            for gap in found.gaps
        ],
        units=found.units,
        texts=found.texts_in_scope,
        statements=[statement_public(one) for one in network_statements(asked, found)],
        method=method_public(network_method(asked, found, language)),
    )  # fmt: skip


@router.post("/network/evidence")
def topic_evidence(desk: Reading, asked: a.TopicEvidence) -> s.EvidencePage:
    """The passages of a topic, a page at a time."""
    places = answering.places_of_topic(room_of(desk, asked.asked), asked.asked, asked.words, asked.order)
    return evidence_page(desk, places, asked, asked.form)


@router.post("/compare/map")
def comparison_map(desk: Reading, comparison: Comparison) -> a.MapPublic:
    """The rows and groups of a comparison as points."""
    found = answering.mapped(room_of(desk, MapView(comparison)), comparison)
    rows, groups = found.table.target.rows, found.table.groups.labels
    return a.MapPublic(
        comparison=found.table.comparison,
        noun=found.table.target.nouns[0],
        rows=_map_points(found, True, [(rows[at].key, rows[at].label) for at in found.rows]),
        groups=_map_points(found, False, [(groups[at], groups[at]) for at in found.groups]),
        shares=found.found.shares.tolist(),
        statements=[statement_public(one) for one in map_statements(found)],
        method=method_public(map_method(found)),
    )


def _map_points(found: Map, rows: bool, named: list[tuple[str, str]]) -> list[a.MapPoint]:
    points = found.found.rows if rows else found.found.columns
    flat = points.at.shape[1] < 2
    return [
        a.MapPoint(
            key=key,
            label=label,
            x=float(points.at[at, 0]),
            y=0.0 if flat else float(points.at[at, 1]),
            mass=float(points.mass[at]),
            quality=float(points.quality[at, :2].sum()),
            contributions=[
                float(points.contribution[at, 0]),
                0.0 if flat else float(points.contribution[at, 1]),
            ],
        )
        for at, (key, label) in enumerate(named)
    ]


@router.post("/compare/changes")
def comparison_changes(desk: Reading, view: ChangesView) -> a.ChangesPublic:
    """Where the rates of rows changed over time, and their moving averages."""
    found = answering.changes(room_of(desk, view), view)
    table = found.table
    rows, factor = table.target.rows, table.view.factor
    smooth = smoothed(table, view.window) if view.window > 1 else None
    return a.ChangesPublic(
        asked=view,
        changes=[
            a.ChangePublic(
                row=rows[row].key, at=one.period, low=one.low, high=one.high, before=one.before * factor,
                after=one.after * factor, p=one.p,
            )
            for row, some in found.of_row.items()
            for one in some
        ],
        smooth=[]
        if smooth is None
        else [a.SmoothRow(row=row.key, values=[plain(v) for v in smooth[at]]) for at, row in enumerate(rows)],
        statements=[statement_public(one) for one in change_statements(found)],
        method=method_public(change_method(found)),
    )  # fmt: skip


@router.post("/answers/export")
def export(desk: Reading, view: AnyView, form: Literal["csv", "xlsx", "txt", "json"] = "csv") -> Response:
    """The numbers of any view as CSV or Excel, how they were counted as text, or the request itself as JSON, to be asked
    again. What leaves the project names the state it was counted with: that is kept as a version."""
    room = room_of(desk, view)
    pinned, answer = answering.answered(room, answering.kept_state(room, desk.account.id, view))
    name = f"{answer.name.replace('“', '').replace('”', '')[:80]}.{form}"
    if form == "json":
        return download(
            orjson.dumps(view_to_plain(pinned), option=orjson.OPT_INDENT_2), name, "application/json"
        )
    if form == "csv":
        return download("\ufeff" + answer_csv(answer), name, "text/csv; charset=utf-8")
    if form == "txt":
        return download(answer_text(answer, pinned), name, "text/plain; charset=utf-8")
    return download(answer_xlsx([answer], [pinned]), name, EXCEL)
