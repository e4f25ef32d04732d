"""The hits a request speaks of: of a category, of terms, or of a search, in a group or everywhere."""

from __future__ import annotations

from winnower.api import schemas as s
from winnower.api.company import company_of
from winnower.api.context import Desk
from winnower.api.instruments import loaded
from winnower.core.compare import Evidence, Passage, passages, whole_sentence
from winnower.core.errors import NotFound
from winnower.core.pattern import Term, parse_query, terms_of
from winnower.core.scope import Matches, Scope, Split, value_at
from winnower.core.suggest import hits_of_kind
from winnower.store.texts import bodies

CONTEXT_CHARS = 90


def scope_of(asked: s.EvidenceRequest) -> Scope:
    """The scope of the request, narrowed to the texts its search finds."""
    scope = asked.scope_value()
    if asked.query is not None:
        scope = Scope((*scope.conditions, Matches(asked.query)))
    return scope


def terms_asked(desk: Desk, asked: s.EvidenceRequest) -> tuple[Term, ...]:
    """Raises NotFound where the category is gone, TermError for a term that cannot be searched."""
    if asked.query is not None:
        return terms_of(parse_query(asked.query))
    if asked.category_id is None:
        return tuple(term.entry().parse() for term in asked.terms)
    if asked.dictionary_id is None:
        raise NotFound("Name the dictionary of the category.")
    stored = loaded(desk, asked.dictionary_id)
    for at, row in enumerate(stored.categories):
        if row.id == asked.category_id:
            places = stored.value.with_children(at)
            return tuple(t.parse() for place in places for t in stored.value.categories[place].terms)
    raise NotFound("There is no such category in this dictionary any more.")


def what_is_asked(desk: Desk, asked: s.EvidenceRequest) -> tuple:
    """Terms, scope, split, group and order of the hits: what tells one list of hits from another."""
    corpus, split, scope = desk.corpus, asked.split.value(), scope_of(asked)
    group = None
    if asked.group is not None:
        labels = corpus.ground(scope, split).groups.labels
        if asked.group not in labels:
            raise NotFound(f"There is no group “{asked.group}” in this split any more.")
        group = labels.index(asked.group)
    return terms_asked(desk, asked), scope, split, group, asked.order


def hits_asked(desk: Desk, asked: s.EvidenceRequest) -> Evidence:
    """All hits of the request in its order."""
    terms, scope, *rest = what_is_asked(desk, asked)
    found = desk.corpus.evidence(terms, scope, *rest)
    if asked.kind is None:
        return found
    company, _ = company_of(desk)
    if company is None or len(terms) != 1:
        raise NotFound("The company of words was not worked out for these texts yet.")
    corpus = desk.corpus
    mask = corpus.ground(scope, Split()).mask
    return hits_of_kind(terms[0], asked.kind, found, corpus.index, corpus.lexicon, company, mask)


def evidence_page(desk: Desk, found: Evidence, asked: s.EvidenceRequest, form: str) -> s.EvidencePage:
    """A page of hits with their texts."""
    shown, after = passages(found, desk.corpus.index, asked.start, asked.most, each_hit=form == "line")
    body = bodies(desk.session, [p.text_id for p in shown])
    return s.EvidencePage(
        hits=found.hits,
        texts=found.texts,
        start=asked.start,
        next=after if after < found.hits else None,
        passages=[passage_public(desk, p, body[p.text_id], form) for p in shown],
    )


def passage_public(desk: Desk, passage: Passage, body: str, form: str) -> s.PassagePublic:
    start, end = whole_sentence(body, passage)
    before = after = ""
    if form == "line":
        hit_start, hit_end = passage.marks[0]
        before = body[max(hit_start - CONTEXT_CHARS, 0) : hit_start].replace("\n", " ")
        after = body[hit_end : hit_end + CONTEXT_CHARS].replace("\n", " ")
        start, end = hit_start, hit_end
    fields = desk.corpus.columns.fields
    return s.PassagePublic(
        text_id=passage.text_id,
        title=fields["title"].values[passage.text],  # type: ignore[union-attr]
        source=value_at(fields["source"], passage.text),  # type: ignore[arg-type]
        date=value_at(fields["date"], passage.text),  # type: ignore[arg-type]
        paragraph=passage.paragraph,
        start=start,
        before=before,
        text=body[start:end],
        after=after,
        marks=[s.Mark(start=low - start, end=high - start) for low, high in passage.marks],
    )
