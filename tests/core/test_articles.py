"""The search service that ships: what is found, in which order, filtered, summed up, written as a reference list."""

import io
import math
import re
from collections import Counter

import pytest

from winnower.core.assist import Cited, Reply, checked
from winnower.core.errors import NotFound
from winnower.readers.reference_lists import HEADER, ReferenceReader
from winnower.stand_ins.article_records import RECORDS, _record, records
from winnower.stand_ins.articles import K1, TITLE, B, ShippedArticles, Wanted, as_ris, stems, summed_up


@pytest.fixture(scope="module")
def service():
    return ShippedArticles()


def said(one):
    return stems(" ".join([*([one.title] * TITLE), *one.authors, one.outlet, *one.subjects, one.words]))


def test_the_records_are_the_same_each_time_and_whole(service):
    import random

    from winnower.stand_ins.article_records import SEED

    chance = random.Random(SEED)
    assert tuple(_record(chance, number) for number in range(1, 40)) == records()[:39]
    assert len(records()) == RECORDS == len({one.id for one in records()})
    assert all(one.title and one.authors and one.words and 2009 <= one.year <= 2031 for one in records())
    assert {one.kind for one in records()} == {"study", "article", "report", "book"}


def test_all_words_in_any_form_are_found_and_ordered_by_bm25(service):
    found = service.search(Wanted("Compensating claims")).records
    asked = set(stems("compensated claim"))
    holding = [one for one in records() if asked <= set(said(one))]
    assert {one.id for one in found} == {one.id for one in holding} and len(found) > 50
    size = {one.id: len(said(one)) for one in records()}
    mean = sum(size.values()) / len(size)
    having = Counter(word for one in records() for word in set(said(one)) & asked)

    def score(one):
        times = Counter(said(one))
        return sum(
            math.log((RECORDS - having[word] + 0.5) / (having[word] + 0.5) + 1)
            * times[word] * (K1 + 1) / (times[word] + K1 * (1 - B + B * size[one.id] / mean))
            for word in asked
        )  # fmt: skip

    scores = [score(one) for one in found]
    assert scores == sorted(scores, reverse=True)


def test_phrases_filters_and_order(service):
    phrase = service.search(Wanted('"camera traps"')).records
    assert phrase and all(re.search("camera traps?", f"{one.title} {one.words}".lower()) for one in phrase)
    assert len(phrase) < len(service.search(Wanted("camera traps")).records)
    kept = service.search(Wanted("lynx", ("study",), ("Upland Ecology Letters",), 2015, 2020, newest=True))
    assert kept.records and {(one.kind, one.outlet) for one in kept.records} == {
        ("study", "Upland Ecology Letters")
    }
    years = [one.year for one in kept.records]
    assert years == sorted(years, reverse=True) and min(years) >= 2015 and max(years) <= 2020
    assert (
        sum(kept.kinds.values()) == sum(kept.outlets.values()) == len(service.search(Wanted("lynx")).records)
    )
    assert service.search(Wanted("submarine")).records == ()
    assert len(service.search(Wanted("  ?! ")).records) == RECORDS


def test_the_first_five_are_summed_up_in_their_own_words(service):
    first = service.search(Wanted("trust inquiry")).records[:5]
    statements = summed_up(first, "trust inquiry")
    passages = tuple(Cited(at, 1, 0, 1, 1, one.words, "") for at, one in enumerate(first, start=1))
    assert checked(Reply(passages, tuple(statements))).refused == () and len(statements) == 5
    assert len({re.search("“.*”", one.words)[0] for one in statements}) > 1


def test_a_record_is_found_by_its_number_or_not_at_all(service):
    assert service.record("VR-0007") == records()[6]
    with pytest.raises(NotFound, match="VR-9999"):
        service.record("VR-9999")


def test_what_is_taken_is_a_reference_list_the_import_reads_whole(service):
    chosen = [
        next(one for one in records() if one.kind == kind) for kind in ("study", "article", "report", "book")
    ]
    reader = ReferenceReader(io.BytesIO(as_ris(chosen).encode()), "articles.ris", form="ris")
    rows = [dict(zip(HEADER, row, strict=True)) for batch in reader.batches() for row in batch.rows]
    assert reader.problems == [] and len(rows) == 4
    for one, row in zip(chosen, rows, strict=True):
        assert row["key"] == one.id and row["title"] == one.title and row["year"] == str(one.year)
        assert row["authors"] == "; ".join(one.authors) and row["abstract"] == one.words
        assert row["container"] == one.reference.container and row["pages"] == one.reference.pages.replace(
            "-", "–"
        )
