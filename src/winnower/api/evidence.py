"""The places a request speaks of: under a cell of a comparison, as passages."""

from __future__ import annotations

from winnower.api import schemas as s
from winnower.api.company import company_of
from winnower.api.context import Desk
from winnower.core.coding import Standing, Standings
from winnower.core.compare import Comparison, rows_of
from winnower.core.compare.targets import NumberRow, TermsTarget
from winnower.core.errors import NotFound
from winnower.core.places import Passage, Places, passages, whole_sentence
from winnower.core.scope import Split
from winnower.core.suggest import hits_of_kind
from winnower.store.comparing import Asked, look_up, places_of
from winnower.store.reading import standings_in
from winnower.store.texts import bodies, origin_at

CONTEXT_CHARS = 90


def looked_up(desk: Desk, comparison: Comparison) -> Asked:
    """A comparison with its target. Raises NotFound, TermError, Conflict or ComparisonError."""
    desk.look_at(comparison.texts, comparison.split)
    return look_up(desk.session, desk.project.id, desk.corpus, comparison)


def places_asked(desk: Desk, asked: s.EvidenceRequest) -> Places:
    """All places of the request in its order."""
    return places_found(desk, asked, looked_up(desk, asked.comparison))


def places_found(desk: Desk, asked: s.EvidenceRequest, found: Asked) -> Places:
    """The same of a comparison that was looked up."""
    places = places_of(desk.corpus, found, asked.cell, asked.order)
    if asked.company is None:
        return places
    company, _ = company_of(desk)
    if company is None:
        raise NotFound("The company of words was not worked out for these texts yet.")
    rows = rows_of(asked.cell, found.target)
    if not isinstance(found.target, TermsTarget) or len(rows) != 1:
        raise NotFound("Only a term alone has kinds of company.")
    corpus, term = desk.corpus, found.target.some(rows)[0]
    mask = corpus.ground(asked.comparison.texts, Split()).mask
    return hits_of_kind(term, asked.company, places, corpus.index, corpus.lexicon, company, mask)


def evidence_page(
    desk: Desk, found: Places, asked: s.EvidenceRequest, form: str, number: NumberRow | None = None
) -> s.EvidencePage:
    """A page of hits with their texts, and with the number of each where a mean of it is looked behind."""
    shown, after = passages(found, desk.corpus.index, asked.start, asked.most, each_hit=form == "line")
    body = bodies(desk.session, [p.text_id for p in shown])
    standings = standings_in(desk.session, body.keys())
    return s.EvidencePage(
        hits=found.hits,
        texts=found.texts,
        start=asked.start,
        next=after if after < found.hits else None,
        passages=[passage_public(desk, p, body[p.text_id], standings, form, number) for p in shown],
    )


def origin_of(desk: Desk, place: int) -> tuple[str, str | None, str | None]:
    """Title, source and date of a text."""
    return origin_at(desk.corpus, place)


def standing_public(standing: Standing) -> s.Standing:
    return s.Standing(**standing._asdict())


def passage_public(
    desk: Desk,
    passage: Passage,
    body: str,
    standings: Standings,
    form: str,
    number: NumberRow | None = None,
) -> s.PassagePublic:
    start, end = whole_sentence(body, passage)
    before = after = ""
    if form == "line":
        hit_start, hit_end = passage.marks[0]
        before = body[max(hit_start - CONTEXT_CHARS, 0) : hit_start].replace("\n", " ")
        after = body[hit_end : hit_end + CONTEXT_CHARS].replace("\n", " ")
        start, end = hit_start, hit_end
    title, source, date = origin_of(desk, passage.text)
    return s.PassagePublic(
        text_id=passage.text_id,
        title=title,
        source=source,
        date=date,
        paragraph=passage.paragraph,
        standing=standing_public(
            standings.at(passage.text_id, passage.marks[0][0] if passage.marks else start)
        ),
        start=start,
        before=before,
        text=body[start:end],
        after=after,
        marks=[s.Mark(start=low - start, end=high - start) for low, high in passage.marks],
        number=number.number_at(passage.text, passage.text_id, passage.marks[0][0]) if number else None,
    )
