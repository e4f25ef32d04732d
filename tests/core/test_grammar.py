"""The grammar of terms, held against the slow rules, and the forms it can be written in."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core import slow
from winnower.core.dictionary import category_hits
from winnower.core.errors import TermError
from winnower.core.index import build_segment
from winnower.core.pattern import find_term, parse_term, write_term
from winnower.core.pattern.fields import Cell, FieldCondition, TermFields, from_fields, to_fields

WORDS = ["lamb", "lambs", "ewe", "price", "stock", "cube", "market", "the", "#lynx", "🐾"]
PIECES = ["lamb", "lamb*", "ew?", "price", "*oc*", "the", "#lynx", "🐾", "c?be", "market"]
EXPRESSIONS = ["la?mbs?", "(st|l).*", "[a-e].+", "the|ewe"]

sentences = st.lists(st.sampled_from(WORDS[:8]), min_size=1, max_size=7)
texts = st.lists(st.lists(sentences, min_size=1, max_size=4), min_size=1, max_size=4)

pieces = st.sampled_from(PIECES) | st.sampled_from(EXPRESSIONS).map(lambda e: ("expression", e))
gaps = st.tuples(st.integers(0, 2), st.integers(0, 3)).map(lambda g: (g[0], g[0] + g[1]))
no_gap = st.just((0, 0))


def rows(items):
    def with_gaps(found):
        between = st.lists(no_gap | gaps, min_size=len(found) - 1, max_size=len(found) - 1)
        return between.map(lambda g: ("row", found, g) if len(found) > 1 else found[0])

    return st.lists(items, min_size=1, max_size=3).flatmap(with_gaps)


inner = st.lists(rows(pieces), min_size=2, max_size=3).map(lambda o: ("any", o))
choices = rows(pieces | inner) | st.lists(rows(pieces | inner), min_size=2, max_size=3).map(
    lambda o: ("any", o)
)
conditions = st.tuples(
    st.sampled_from(["near", "before", "after"]), st.none() | st.integers(1, 6), st.booleans(), choices
) | choices.map(lambda what: ("part-of", None, True, what))


def small_enough(term) -> bool:
    return len(term_text(term)) <= 500 and sum(c.isspace() for c in term_text(term)) < 55


terms = st.fixed_dictionaries({"head": choices, "conditions": st.lists(conditions, max_size=2)}).filter(
    lambda term: small_enough(term)
)


def written(what) -> str:
    if isinstance(what, str):
        return what
    if what[0] == "expression":
        return f"/{what[1]}/"
    if what[0] == "any":
        return "(" + " | ".join(written(option) for option in what[1]) + ")"
    parts = [written(what[1][0])]
    for item, (least, most) in zip(what[1][1:], what[2], strict=True):
        parts += [f"[{least}-{most}]"] * bool(most) + [written(item)]
    return " ".join(parts)


def term_text(term) -> str:
    parts = [written(term["head"])]
    for relation, within, unless, what in term["conditions"]:
        distance = "" if relation == "part-of" else within or "sentence"
        parts.append(f"{'unless-' * unless}{relation}:{distance} {written(what)}")
    return " ".join(parts)


def laid_out(many):
    """Texts of sentences whose ends are beyond doubt, with words and sentence numbers of each."""
    for sentences_of_text in many:
        capitals = [[s[0].capitalize(), *s[1:]] for s in sentences_of_text]
        words = [word for s in capitals for word in s]
        numbers = [at for at, s in enumerate(capitals) for _ in s]
        yield ". ".join(" ".join(s) for s in capitals) + ".", words, numbers


def found_in(term, segment, hits):
    starts = segment.text_start
    return [
        sorted(
            (int(s - starts[t]), int(s - starts[t] + n))
            for s, n in zip(hits.start, hits.length, strict=True)
            if segment.text_of[s] == t
        )
        for t in range(segment.n_texts)
    ]


@given(many=texts, some=st.lists(terms, min_size=1, max_size=6))
@settings(max_examples=120, deadline=None)
def test_terms_find_what_the_slow_rules_find(tmp_path_factory, many, some):
    texts_and_words = list(laid_out(many))
    segment = build_segment(
        tmp_path_factory.mktemp("g") / "s", range(len(many)), [t for t, _, _ in texts_and_words]
    )
    for term in some:
        parsed = parse_term(term_text(term))
        found = found_in(term, segment, find_term(parsed, segment))
        expected = [sorted(slow.term_hits(term, words, numbers)) for _, words, numbers in texts_and_words]
        assert found == expected, term_text(term)
    union = [
        slow.without_overlaps(set().union(*(slow.term_hits(t, words, numbers) for t in some)))
        for _, words, numbers in texts_and_words
    ]
    together = category_hits([parse_term(term_text(t)) for t in some], segment)
    assert found_in(some, segment, together) == union


@given(terms)
@settings(max_examples=200, deadline=None)
def test_text_to_fields_to_text_says_the_same(term):
    parsed = parse_term(term_text(term))
    for again in (parse_term(write_term(parsed)), from_fields(to_fields(parsed))):
        assert (again.head, again.conditions) == (parsed.head, parsed.conditions)
    assert write_term(parse_term(write_term(parsed))) == write_term(parsed)


@given(
    st.text("abz019'-*?|./: A", min_size=1, max_size=12)
    | st.sampled_from(["near", "lamb*", "*", "a-", "l'*"]),
    st.booleans(),
    st.booleans(),
)
def test_words_read_at_once_are_read_as_all_others(word, case, accents):
    def read(source):
        try:
            return parse_term(source, match_case=case, ignore_accents=accents)
        except TermError as error:
            return error.message

    assert read(word) == read(f" {word}")  # with a space before it, it goes the long way


@pytest.mark.parametrize(
    ("text", "options"),
    [
        ("exact-case: Hill", (True, False, "")),
        ("any-accents: cafe", (False, True, "")),
        ("all-forms:en sell lamb", (False, False, "en")),
        ("exact-case: any-accents: Café near:3 bar", (True, True, "")),
        ('exact-case: "who?"', (True, False, "")),
    ],
)
def test_options_are_read_from_the_text_and_written_back(text, options):
    term = parse_term(text)
    assert (term.match_case, term.ignore_accents, term.forms_of) == options
    assert parse_term(write_term(term)) == term or write_term(parse_term(write_term(term))) == write_term(
        term
    )
    assert not term.source.startswith(("exact", "any", "all"))
    fields = to_fields(term)
    assert (fields.match_case, fields.ignore_accents, fields.forms_of) == options
    assert from_fields(fields).head == term.head


def hits(tmp_path, term, *many):
    segment = build_segment(tmp_path / "s", range(len(many)), many)
    return found_in(term, segment, find_term(parse_term(term), segment))


def test_all_forms_of_a_lemma(tmp_path):
    [found] = hits(tmp_path, "all-forms:en sell", "Sold, selling and sells; a seller sell-by SELL")
    assert [begin for begin, _ in found] == [0, 1, 3, 7]


def test_expressions_see_case_and_accents_as_the_options_say(tmp_path):
    text = "Trust trust Café cafe"
    assert len(hits(tmp_path / "a", "/tr.*/", text)[0]) == 2
    assert len(hits(tmp_path / "b", "/TR.*/", text)[0]) == 2
    assert len(hits(tmp_path / "c", "exact-case: /T.*/", text)[0]) == 1
    assert len(hits(tmp_path / "d", "any-accents: /caf[e]/", text)[0]) == 2


def test_hashtags_mentions_and_emoji(tmp_path):
    text = "#lynx #lynxwatch @office 🐾 🐑 lynx"
    assert hits(tmp_path / "a", "#*", text)[0] == [(0, 1), (1, 2)]
    assert hits(tmp_path / "b", "@*", text)[0] == [(2, 3)]
    assert hits(tmp_path / "c", "🐾 | 🐑", text)[0] == [(3, 4), (4, 5)]
    assert hits(tmp_path / "d", "lynx", text)[0] == [(5, 6)]


def test_nearness_stays_within_a_text_and_a_word_is_not_near_itself(tmp_path):
    assert hits(tmp_path / "a", "lamb near:5 price", "a lamb", "price a") == [[], []]
    assert hits(tmp_path / "b", "lamb near:5 lamb", "a lamb", "lamb a lamb") == [[], [(0, 1), (2, 3)]]


@pytest.mark.parametrize(
    ("text", "position", "words"),
    [
        ("(lamb", 0, "not closed"),
        ("lamb)", 4, "closes nothing"),
        ("lamb ( )", 7, "no word in these brackets"),
        ("lamb | ", 5, "After this bar"),
        ("| lamb", 0, "Before the bar"),
        ("lamb [2", 5, "square brackets"),
        ("lamb [x] price", 5, "square brackets"),
        ("lamb [3-1] price", 5, "smaller number first"),
        ("lamb [0-99] price", 5, "at most 20"),
        ("[2] lamb", 0, "between two words"),
        ("lamb [2]", 5, "After this gap"),
        ("lamb near: price", 10, "number of words"),
        ("lamb near:0 price", 10, "number of words"),
        ("lamb near:5", 10, "at least one word"),
        ("lamb neer:5 price", 5, "no instruction"),
        ("near:5 price", 0, "no word in this term"),
        ("lamb exact-case: price", 5, "at the beginning"),
        ("all-forms:xx sell", 0, "no list of word forms"),
        ("exact-case: all-forms:en x", 0, "cannot go together"),
        ("/lamb", 0, "second one is missing"),
        ("/lam(b/", 1, "unclosed group"),
        ("/a)|(b/", 1, "unopened group"),
        ("/(?=a)b/", 1, "look-around"),
        ("/(a{1000}){1000}/", 1, "too large"),
        ('say "no "again" x', 14, "no partner"),
        ("(((((lamb)))))", 4, "at most 4 deep"),
        ("stock (lamb near:5 price)", 12, "“near:” cannot stand inside brackets"),
        ("(exact-case: Hill)", 1, "cannot stand inside|no word"),
    ],
)
def test_errors_point_at_the_character(text, position, words):
    with pytest.raises(TermError, match=words) as caught:
        parse_term(text)
    assert caught.value.position == position


def test_too_many_readings_are_refused_and_not_worked_out(tmp_path, monkeypatch):
    monkeypatch.setattr("winnower.core.pattern.find.MOST_READINGS", 50)
    with pytest.raises(TermError, match="too common"):
        hits(tmp_path, "a* [0-20] a*", "a " * 40)


def test_fields_refuse_what_text_refuses():
    row = ((Cell("lamb"),),)
    with pytest.raises(TermError, match="from 1 to 100"):
        from_fields(TermFields(row, (FieldCondition("near", False, 500, row),)))
    with pytest.raises(TermError, match="at least one word"):
        from_fields(TermFields(((Cell(" "),),)))
    term = from_fields(
        TermFields(((Cell("market"), Cell("price|value", gap=(0, 2))), (Cell("a/b", "expression"),)))
    )
    assert write_term(term) == "market [0-2] (price | value) | /a\\/b/"
