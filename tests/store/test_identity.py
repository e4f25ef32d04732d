"""Which text is which, without a database."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from winnower.jobs.identity import Identities, KnownIdentities, content_hashes, shorten
from winnower.jobs.report import MAX_LISTED, MOST_ALIKE, ImportReport
from winnower.readers import Problem
from winnower.readers.mapping import Mapping, Target
from winnower.readers.prepare import PreparedTexts

MAPPING = Mapping(
    (Target("Id", "key"), Target("Title", "title"), Target("Text", "text"), Target("V", "variable", "V"))
)

rows = st.lists(
    st.tuples(
        st.sampled_from([None, "a", "b"]),
        st.sampled_from(["No.", "Yes.", "lamb"]),
        st.sampled_from(["T", "U"]),
    ),
    max_size=15,
)


def prepared(given_rows):
    return PreparedTexts(
        file=["f"] * len(given_rows),
        line=list(range(len(given_rows))),
        key=[key for key, _, _ in given_rows],
        title=[title for _, _, title in given_rows],
        source=[None] * len(given_rows),
        date=[None] * len(given_rows),
        body=[body for _, body, _ in given_rows],
        values={"V": [title for _, _, title in given_rows]},
    )


def identify(texts):
    identities = Identities()
    return identities.of(texts, content_hashes(texts), MAPPING), identities.alike


@given(rows)
def test_the_same_delivery_again_has_the_same_identities(given_rows):
    texts = prepared(given_rows)
    assert identify(texts) == identify(texts)


@given(rows)
def test_texts_without_key_are_never_one_and_keys_always_are(given_rows):
    texts = prepared(given_rows)
    found, alike = identify(texts)
    keyless = [i for i, key in zip(found, texts.key, strict=True) if key is None]
    assert len(set(keyless)) == len(keyless)
    for key in ("a", "b"):
        assert len({i for i, k in zip(found, texts.key, strict=True) if k == key}) <= 1
    plain = [(b, t) for k, b, t in given_rows if k is None]
    assert alike == len(plain) - len(set(plain))


@given(rows, rows)
def test_identities_do_not_depend_on_how_rows_are_cut_into_batches(one, two):
    whole = identify(prepared([*one, *two]))[0]
    identities = Identities()
    parts = []
    for part in (one, two):
        texts = prepared(part)
        parts += identities.of(texts, content_hashes(texts), MAPPING)
    assert parts == whole


@given(
    st.lists(st.binary(min_size=16, max_size=16), max_size=30),
    st.lists(st.binary(min_size=16, max_size=16), max_size=30),
)
def test_what_was_seen_is_known(first, second):
    known = KnownIdentities(np.empty(0, np.uint64))
    assert not known.maybe(first).any()
    known.add(first)
    assert known.maybe(first).all()
    known.add(second)
    assert known.maybe(first + second).all()
    assert shorten(first).dtype == np.uint64


def test_another_title_is_another_text_but_the_same_content():
    one, two = prepared([(None, "No.", "T")]), prepared([(None, "No.", "U")])
    assert content_hashes(one) == content_hashes(two)
    assert identify(one) != identify(two)


def test_reports_add_up_and_come_back():
    one, two = ImportReport(new=2, known=1), ImportReport(new=3, notices=["n"])
    one.add([Problem("f", 3, "bad"), Problem("f", 4, "odd", kept=True)])
    two.add_twice("f", 9, "key")
    one.merge(two)
    assert (one.new, one.known, one.changed, one.refused, one.remarks_total, one.notices) == (
        5,
        1,
        1,
        1,
        1,
        ["n"],
    )
    assert ImportReport.from_plain(one.plain()) == one
    assert not one.plain()["truncated"]


def test_long_lists_are_cut_and_say_so_while_all_are_counted():
    report = ImportReport()
    report.add([Problem("f", i, f"bad {i}") for i in range(MAX_LISTED + 7)])
    other = ImportReport()
    other.add([Problem("g", 1, "bad")])
    report.merge(other)
    assert (report.refused, len(report.refusals), report.plain()["truncated"]) == (
        MAX_LISTED + 8,
        MAX_LISTED,
        True,
    )


def test_one_archive_full_of_the_same_leaves_room_for_the_others():
    report = ImportReport()
    report.add([Problem(f"a.zip/{i}.txt", 0, "The file is empty.") for i in range(20_000)])
    report.add([Problem("b.csv", 7, "bad")])
    assert report.refused == 20_001
    assert [one["reason"] for one in report.refusals].count("The file is empty.") == MOST_ALIKE
    assert report.refusals[-1]["file"] == "b.csv"
    assert report.folded() == [
        "a.zip: 20,000 refused for the same reason, of which the first are listed: The file is empty."
    ]
    assert ImportReport.from_plain(report.plain()).folded() == report.folded()


@given(rows)
def test_a_title_made_from_the_name_of_a_file_is_no_identity_and_the_former_one_is_found(given_rows):
    given_rows = [(None, body, title) for _, body, title in given_rows]
    texts, renamed, before = prepared(given_rows), prepared(given_rows), prepared(given_rows)
    for one, titles in ((texts, texts.title), (renamed, ["export (2)"] * len(given_rows))):
        one.title, one.named_by_file = titles, [True] * len(given_rows)
    identities = Identities()
    found = identities.of(texts, content_hashes(texts), MAPPING)
    assert sorted(found) == sorted(Identities().of(renamed, content_hashes(renamed), MAPPING))
    assert len(set(found)) == len(found)
    former = Identities().of(before, content_hashes(before), MAPPING)
    assert [identities.former[one] for one in found] == former
