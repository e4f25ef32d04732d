"""Searches over whole texts: results by source, variants and synonyms to take in."""

from __future__ import annotations

import numpy as np
import polars as pl
from fastapi import APIRouter

from winnower.api.context import Desk, Reading
from winnower.api.schemas import words as w
from winnower.api.words import counts_in_scope
from winnower.core.compare import count_search
from winnower.core.compare.targets import SearchTarget
from winnower.core.index import brought_together
from winnower.core.pattern import as_one_term, parse_query, terms_of, with_alternatives, write_term
from winnower.core.scope import Scope, Split
from winnower.core.suggest import by_hits, compounds, other_forms, synonyms, variants
from winnower.core.tokens import fold
from winnower.core.tokens.lemmas import LEMMA_LANGUAGES
from winnower.readers.thesaurus import Thesaurus
from winnower.store import words as store
from winnower.store.opened import OpenCorpus

router = APIRouter(prefix="/projects/{project_id}/search")
MOST_WORDS = 12
MOST_OFFERS = 12
THESAURUS_LANGUAGE = "en"
thesaurus = Thesaurus()


@router.post("")
def search(desk: Reading, asked: w.SearchRequest) -> w.SearchResult:
    """How many texts and hits a search finds, by group. Raises TermError with the place."""
    desk.look_at(asked.texts)
    corpus, split = desk.corpus, asked.split
    query = parse_query(asked.query)
    ground, target = corpus.ground(asked.texts, split), SearchTarget(asked.query)
    found = corpus.kept(
        ("search", asked.query, asked.texts, split),
        lambda corpus: count_search(target, corpus, ground),
        corpus.scope_fields(asked.texts, split),
    )
    rows = zip(ground.groups.labels, found.group_texts, found.group_hits, ground.sizes[0], strict=True)
    return w.SearchResult(
        texts=found.texts,
        hits=found.hits,
        groups=[
            w.SearchGroup(label=label, texts=int(texts), hits=int(hits), of_texts=int(whole))
            for label, texts, hits, whole in rows
        ],
        terms=[write_term(term) for term in terms_of(query)],
        as_term=as_one_term(query),
    )


def lemma_series(corpus: OpenCorpus, language: str) -> pl.Series:
    """The lemma of each fold of the corpus."""
    return corpus.kept(
        ("lemmas", language),
        lambda corpus: brought_together(corpus.index, corpus.lexicon, language, "lemma"),
        (),
    )


@router.post("/offers")
def offers(desk: Reading, asked: w.OffersRequest) -> w.OffersPublic:
    """For each plain word of a search: other forms, other spellings, synonyms that the scope has."""
    desk.look_at(asked.texts)
    language = store.language_of(desk.session, desk.project.id)
    words = [
        fold(piece.form)
        for term in terms_of(parse_query(asked.query))
        for piece in term.pieces
        if piece.kind == "word" and piece.form.isalpha()
    ]
    words = list(dict.fromkeys(words))[:MOST_WORDS]
    return w.OffersPublic(
        words=[_offers(desk, word, asked.texts, language) for word in words],
        thesaurus=thesaurus.available and language == THESAURUS_LANGUAGE,
        language=language,
    )


def _offers(desk: Desk, word: str, scope: Scope, language: str) -> w.WordOffers:
    corpus = desk.corpus
    lexicon = corpus.lexicon
    hits = counts_in_scope(corpus, scope, Split()).form_hits
    nothing = np.zeros(len(lexicon), bool)
    found: dict[str, tuple[int, str]] = {}

    def take(numbers: dict[int, str], reason: str) -> None:
        for number in by_hits(numbers, hits):
            if hits[number]:
                found.setdefault(lexicon.folds[number], (int(hits[number]), reason))

    if language in LEMMA_LANGUAGES:
        lemmas = lemma_series(corpus, language)
        take(other_forms([word], lexicon, lemmas, hits, nothing, language), "form")
    take(variants([word], lexicon, hits, nothing, language), "spelling")
    take(compounds([word], lexicon, hits, nothing, language), "compound")
    if language == THESAURUS_LANGUAGE:
        take(synonyms([word], thesaurus.close_to, lexicon), "synonym")
    found.pop(word, None)
    number = lexicon.number_of(word)
    return w.WordOffers(
        word=word,
        hits=int(hits[number]) if number >= 0 else 0,
        offers=[
            w.Offer(text=text, hits=n, reason=reason)  # type: ignore[arg-type]
            for text, (n, reason) in list(found.items())[: 3 * MOST_OFFERS]
        ],
    )


@router.post("/alternatives")
def take_in(desk: Reading, asked: w.Alternatives) -> w.QueryText:
    """The search with alternatives beside some of its words."""
    query = with_alternatives(asked.query, asked.added)
    parse_query(query)
    return w.QueryText(query=query)
