"""Many terms looked up together catch what each catches alone."""

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_words import made
from winnower.core.dictionary import category_hits
from winnower.core.dictionary.hits import caught_by_each, count_each
from winnower.core.pattern import parse_term, resolve, rows_of_each
from winnower.core.pattern.resolve import Letters
from winnower.core.places import find_hits
from winnower.core.scope import Scope, Split, lay_ground
from winnower.core.suggest import build_company, mixed_company, mixed_terms
from winnower.core.words import count_words

WORDS = ["lamb", "Lamb", "lambs", "ewe", "the", "price", "#lynx", "🐾", "12", "don’t", "café"]
TERMS = ["lamb", "lamb*", "l?mb", "*e", "the price", "lamb | ewe", "lamb near:2 the", "exact-case: Lamb", "any-accents: cafe", "all-forms:en lamb", "/(l|e).*/", "the [0-1] lamb", "🐾", "unicorn", "lamb* | lambs"]  # fmt: skip
texts = st.lists(st.lists(st.sampled_from(WORDS), max_size=9).map(" ".join), min_size=1, max_size=6)
some_terms = st.lists(st.sampled_from(TERMS), max_size=6)


@given(many=texts, some=some_terms, data=st.data())
@settings(max_examples=120)
def test_each_term_is_counted_as_if_it_were_alone(tmp_path_factory, many, some, data):
    index, columns, _ = made(tmp_path_factory.mktemp("caught"), many)
    terms = [parse_term(term) for term in some]
    mask = np.array(data.draw(st.lists(st.booleans(), min_size=len(many), max_size=len(many))), bool)
    alone = [find_hits([term], index, columns, mask, "text").hits for term in terms]
    assert count_each(terms, index, mask).tolist() == alone
    everywhere = [find_hits([term], index, columns, np.ones(len(many), bool)).hits for term in terms]
    assert count_each(terms, index).tolist() == everywhere
    for segment in index.segments:
        found = caught_by_each(terms, segment)
        for at, term in enumerate(terms):
            own = category_hits([term], segment)
            here = found.of == at
            pairs = sorted(zip(found.start[here].tolist(), found.length[here].tolist(), strict=True))
            assert pairs == list(zip(own.start.tolist(), own.length.tolist(), strict=True))


@given(many=texts, some=some_terms)
@settings(max_examples=60)
def test_rows_of_many_terms_are_those_of_each(tmp_path_factory, many, some):
    index, _, _ = made(tmp_path_factory.mktemp("rows"), many)
    terms = [term for term in map(parse_term, some) if term.single]
    for segment in index.segments:
        of, rows = rows_of_each(terms, segment)
        for at, term in enumerate(terms):
            expected = {
                int(row) for piece in term.pieces for row in resolve(segment, piece, Letters.of(term))
            }
            assert rows[of == at].tolist() == sorted(expected)


def test_double_meanings_are_remembered_by_term(tmp_path, monkeypatch):
    rng = np.random.default_rng(4)
    hill, trade = ["grazed", "flock", "dyke", "fell", "tup"], ["shares", "traders", "index", "bonds", "rose"]
    many = [
        " ".join([*rng.permutation(side)[:3], "stock", *rng.permutation(side)[:3]])
        for side in (hill, trade) * 60
    ]
    index, columns, lexicon = made(tmp_path, many)
    words = count_words(index, lexicon, lay_ground(Scope(), Split(), index, columns))
    company = build_company(index, lexicon, words.form_hits, np.empty(0, np.int64))
    asked = []

    def watched(hits, *rest):
        asked.append(hits.hits)
        return mixed_company(hits, *rest)

    monkeypatch.setattr("winnower.core.suggest.mixed.mixed_company", watched)
    terms = [parse_term(term) for term in ("stock", "flock", "unicorn")]
    mask, known = np.ones(len(many), bool), {}
    first = mixed_terms(terms, index, lexicon, company, mask, known)
    assert list(first) == [0] and sum(first[0].sizes) == 120
    assert asked == [120, count_each(terms[1:2], index)[0]]  # unicorn has too few hits to ask
    again = mixed_terms([*terms[1:], parse_term("dyke"), terms[0]], index, lexicon, company, mask, known)
    assert len(asked) == 3 and again[3] is first[0]
