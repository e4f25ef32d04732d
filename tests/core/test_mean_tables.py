"""Comparisons of numbers: from fields and tone to a table, its sentences, its exports and back to its texts."""

import csv
import io
from dataclasses import replace

import numpy as np
import pytest

from tests.core.test_compare import FRAMES, corpus
from tests.core.texts import Texts, table_of
from winnower.core.change import change_statements, changes_of, smoothed
from winnower.core.coding import Passages
from winnower.core.compare import (
    MEASURES,
    Cell,
    Comparison,
    compare,
    evidence,
    from_plain,
    how_counted,
    number_of,
    statements,
    usual_comparison,
)
from winnower.core.compare.map import map_of
from winnower.core.compare.targets import (
    CodeNode,
    FieldNumber,
    OfNumbers,
    OfTerms,
    OfWords,
    RunFound,
    ToneNumber,
    arranged_rows,
)
from winnower.core.dataset.request import DataRequest
from winnower.core.dictionary import TermEntry
from winnower.core.errors import ComparisonError
from winnower.core.finding import ComparisonView, answer_comparison, cells_apart
from winnower.core.finding.apart import apart_statements
from winnower.core.report.tables import numbers_of
from winnower.core.scope import Between, Columns, NumberColumn, Scope, Split, lay_ground
from winnower.core.together import Together
from winnower.writers import tables
from winnower.writers.pictures import picture
from winnower.writers.tables import comparison_csv, comparison_xlsx, method_text

N = 120
#: The age of who wrote each text, unknown for every tenth; A is older, C younger.
rng = np.random.default_rng(3)
SOURCES = ["ABC"[at % 3] for at in range(N)]
AGE = np.array([{"A": 60.0, "B": 45.0, "C": 30.0}[one] for one in SOURCES]) + rng.normal(0, 5, N).round()
AGE[::10] = np.nan
#: Two sentences of each text have a tone, thousandths; those of A are glum.
TONE = np.round(
    np.repeat([{"A": -0.4, "B": 0.1, "C": 0.2}[one] for one in SOURCES], 2) + rng.normal(0, 0.1, 2 * N), 3
)


@pytest.fixture(scope="module")
def news(tmp_path_factory):
    bodies = ["Deer came down. Lambs were lost." for _ in range(N)]
    index, columns = corpus(tmp_path_factory.mktemp("means"), bodies, SOURCES)
    fields = {**columns.fields, "age": NumberColumn(AGE)}
    return Texts(index, Columns(columns.text_id, fields, {**columns.names, "age": "Age"}))


class Known:
    def run(self, run_id):
        nodes = (CodeNode(1, ("negative",), 0), CodeNode(2, ("positive",), 1))
        passages = Passages.of(
            {
                "id": -np.arange(1, 2 * N + 1),
                "text_id": np.repeat(np.arange(N), 2),
                "code_id": np.where(TONE < 0, 1, 2),
                "start": np.tile([0, 16], N),
                "end": np.tile([15, 32], N),
                "made_by": np.full(2 * N, -run_id),
                "strength": np.zeros(2 * N, np.int8),
            }
        )
        return RunFound("Moods", nodes, passages, 7, "Nothing was judged.", TONE if run_id == 1 else None)


AGES = OfNumbers((FieldNumber("age"),))
BOTH = OfNumbers((FieldNumber("age"), ToneNumber(1)))


def asked(news, reference=AGES, scope=(), **more):
    comparison = Comparison(
        reference, scope, more.pop("split", Split("source")), more.pop("measure", "mean"), **more
    )
    return compare(comparison, reference.resolve(Known(), news), news)


def of(group):
    return np.array([one == group for one in SOURCES])


def test_means_are_those_of_the_texts_that_have_a_value(news):
    table = asked(news)
    for at, group in enumerate("ABC"):
        some = AGE[of(group) & np.isfinite(AGE)]
        assert table.measure("mean").value[0, at] == pytest.approx(some.mean(), rel=1e-12)
        assert table.measure("median").value[0, at] == np.median(some)
        assert table.measure("deviation").value[0, at] == pytest.approx(some.std(ddof=1), rel=1e-12)
        assert table.hits[0, at] == table.texts_with_hit[0, at] == len(some)
    rest = AGE[~of("A") & np.isfinite(AGE)].mean()
    found = table.measure("mean_difference").value[0, 0]
    assert found == pytest.approx(AGE[of("A") & np.isfinite(AGE)].mean() - rest)
    assert (
        asked(news, reference=AGES, measure="mean_difference").shown.unit
        == "more in the mean than all other groups"
    )


def test_tone_is_the_mean_of_all_sentences_found(news):
    table = asked(news, BOTH)
    tone = TONE.reshape(N, 2)
    for at, group in enumerate("ABC"):
        assert table.measure("mean").value[1, at] == pytest.approx(tone[of(group)].mean(), rel=1e-12)
        assert table.hits[1, at] == 2 * of(group).sum()
    assert [row.label for row in table.target.rows] == ["Age", "Tone (run “Moods”)"]
    assert OfNumbers((ToneNumber(1),)).pinned(table.target).revision == 7


def test_the_sentences_tell_the_difference_its_size_and_what_is_missing(news):
    said = [one.text for one in statements(asked(news))]
    assert said[0].startswith("The mean Age is about ") and " higher in A than in " in said[0]
    assert "standard deviations of texts within a group" in said[0]
    assert said[1].startswith("The mean Age differs significantly between the groups (p < 0.001).")
    both = [one.text for one in statements(asked(news, BOTH))]
    assert both[1].startswith("The means of both numbers differ significantly")
    assert "Age (p < 0.002), Tone (run “Moods”) (p < 0.002)" in both[1]
    parts = how_counted(asked(news, BOTH))
    assert [one.heading for one in parts] == ["What was taken", "Measure: mean", "Tests", "Chosen among many"]
    assert "sentences of other tone" in parts[0].words


def test_what_is_missing_or_far_off_is_told(news):
    age = np.where(of("B"), np.nan, AGE)
    age[np.flatnonzero(of("A"))[1]] = 4_000
    fields = {**news.columns.fields, "age": NumberColumn(age)}
    there = Texts(news.index, replace(news.columns, fields=fields))
    said = [one.text for one in statements(asked(there))]
    assert any("A single text makes up most of the spread of Age in A" in one for one in said)
    assert any("Many texts of B have no Age (100% where it is most)" in one for one in said)
    nothing = replace(there.columns, fields={**fields, "age": NumberColumn(np.full(N, np.nan))})
    empty = asked(Texts(news.index, nothing))
    assert "Fewer than two groups have 5 texts with a value" in statements(empty)[0].text
    assert np.isnan(empty.measure("mean").value).all() and len(comparison_csv(empty).splitlines()) == 4
    same = replace(there.columns, fields={**fields, "age": NumberColumn(np.full(N, 7.0))})
    assert "All values are the same" in statements(asked(Texts(news.index, same)))[0].text
    apart = replace(there.columns, fields={**fields, "age": NumberColumn(np.where(of("A"), 1.0, 2.0))})
    said = statements(asked(Texts(news.index, apart)))[0].text
    assert "Within each group all values are the same. The groups differ" in said


def test_nothing_is_claimed_where_there_is_nothing(news):
    fields = {**news.columns.fields, "age": NumberColumn(np.random.default_rng(8).permutation(AGE))}
    said = [one.text for one in statements(asked(Texts(news.index, replace(news.columns, fields=fields))))]
    assert "does not differ" in said[0] and said[1].startswith("This corpus could have shown")


def test_over_time_lines_changes_and_moving_averages(news):
    rising = NumberColumn(np.arange(N) / 10 - 20.0)
    there = Texts(news.index, replace(news.columns, fields={**news.columns.fields, "age": rising}))
    table = asked(there, split=Split("date", "week"))
    assert any("the mean of Age rises from -2" in one.text for one in statements(table))
    found = changes_of(table, None, dated=True)
    assert found.of_row[0] and change_statements(found)[0].headline.startswith("Age rises from the week of ")
    assert " times" not in change_statements(found)[0].text
    np.testing.assert_allclose(smoothed(table, 1), table.measure("mean").value)


def test_the_export_has_means_and_no_hits(news):
    rows = list(csv.reader(io.StringIO(comparison_csv(asked(news)))))
    assert rows[0][2:6] == ["values", "texts with a value", "words", "texts"]
    assert rows[0][6:14] == [
        "mean", "mean low", "mean high", "difference of means", "difference of means low", "difference of means high",
        "median", "standard deviation",
    ]  # fmt: skip
    assert float(rows[1][6]) == pytest.approx(np.nanmean(AGE[of("A")]))
    table = asked(news)
    assert comparison_xlsx(table) and "Student" in method_text(table)
    found = tables.test_values(table)
    assert found["customary"]["chi2"] is None and found["gap"]["against"] == "C"
    assert found["gap"]["low"] < found["gap"]["difference_found"] < found["gap"]["high"]


def test_a_cell_goes_back_to_its_texts(news):
    table = asked(news, BOTH)
    ground = lay_ground(Scope(), Split("source"), news.index, news.columns)
    texts = evidence(Cell("age", "A"), table.target, news, ground)
    assert set(texts.text.tolist()) == set(np.flatnonzero(of("A") & np.isfinite(AGE)).tolist())
    assert number_of(Cell("age", "A"), table.target).without_words(news, of("A")) == 0
    sentences = evidence(Cell("tone 1", "A"), table.target, news, ground)
    assert sentences.hits == table.hits[1, 0]


def test_a_text_without_words_has_a_value_but_no_place(tmp_path):
    index, columns = corpus(tmp_path, ["Deer.", "", "Lambs.", ""], ["A", "A", "B", "B"])
    fields = {**columns.fields, "age": NumberColumn(np.array([30.0, 40, 50, np.nan]))}
    there = Texts(index, Columns(columns.text_id, fields, {**columns.names, "age": "Age"}))
    table = asked(there)
    assert table.hits.tolist() == [[2, 1]] and table.measure("mean").value.tolist() == [[35.0, 50.0]]
    ground = lay_ground(Scope(), Split("source"), index, columns)
    places = evidence(Cell("age", "A"), table.target, there, ground, "high")
    number = number_of(Cell("age", "A"), table.target)
    assert places.text.tolist() == [0] and number.without_words(there, np.array([1, 1, 0, 0], bool)) == 1
    assert number.number_at(0, 0, 0) == 30.0


def test_the_same_over_other_texts(news):
    first = asked(news)
    younger = asked(news, scope=(Between("age", None, 45.0),))
    found = cells_apart(first, younger, shared=0)
    c = next(one for one in found.cells if one.group == "C")
    assert c.ratio == pytest.approx(c.second - c.first) and c.low <= c.ratio <= c.high
    assert "means differ significantly" in apart_statements(found)[0].text
    assert np.isnan(cells_apart(first, first, shared=N).cells[0].p)


def test_rows_can_be_left_out(news):
    reference = Comparison(BOTH, split=Split("source"), measure="mean", leave=("age",))
    table = compare(reference, arranged_rows(BOTH.resolve(Known(), news), {}, ("age",)), news)
    assert [row.key for row in table.target.rows] == ["tone 1"]
    assert table.measure("mean").value.shape == (1, 3)
    assert statements(table)[0].text.startswith("The mean Tone (run “Moods”) is about ")


def test_what_cannot_be_asked_of_numbers_is_refused(news):
    for more in (
        {"measure": "rate"},
        {"measure": "mean", "counting": "sentences"},
        {"measure": "mean", "adjust": (Split("date"),)},
    ):
        with pytest.raises(ComparisonError, match="umbers"):
            Comparison(AGES, split=Split("source"), **more)
    with pytest.raises(ComparisonError, match="Means are of numbers"):
        Comparison(OfTerms((TermEntry("deer"),)), measure="mean")
    with pytest.raises(ComparisonError, match="does not hold numbers"):
        OfNumbers((FieldNumber("source"),)).resolve(Known(), news)
    with pytest.raises(ComparisonError, match="did not look for tone"):
        OfNumbers((ToneNumber(2),)).resolve(Known(), news)
    with pytest.raises(ComparisonError, match="a row once"):
        OfNumbers((FieldNumber("age"), FieldNumber("age"))).resolve(Known(), news)
    with pytest.raises(ComparisonError, match="compare their means"):
        Together(OfWords(("deer",)), AGES)
    with pytest.raises(ComparisonError, match="columns of their own"):
        DataRequest(targets=(AGES,))
    with pytest.raises(ComparisonError, match="numbers have none"):
        map_of(asked(news, BOTH))
    with pytest.raises(ComparisonError, match=r"numbers.0"):
        from_plain({"target": {"kind": "numbers", "numbers": [{"kind": "moon"}]}, "measure": "mean"})
    assert usual_comparison(AGES).measure == "mean" and usual_comparison(OfWords(("deer",))).measure == "rate"


def test_measures_of_numbers_say_so():
    assert [name for name, one in MEASURES.items() if one.needs == "numbers"] == [
        "mean",
        "mean_difference",
        "median",
        "deviation",
    ]


@pytest.mark.parametrize("split", [Split("source"), Split("date", "month")])
@pytest.mark.parametrize("reference", [AGES, BOTH])
@pytest.mark.parametrize("measure", ["mean", "median"])
def test_pictures_and_tables_of_means(news, split, reference, measure):
    view = ComparisonView(Comparison(reference, split=split, measure=measure))
    answer = answer_comparison(asked(news, reference, split=split, measure=measure))
    drawn = picture("Means", view, answer, "svg").decode()
    assert "Age" in drawn and ("Moods" in drawn) == (reference is BOTH)
    grid = numbers_of(view, answer, "Means")
    assert grid is not None and ("with its interval" in grid.note) == (measure == "mean")
    assert (" to " in grid.rows[0][1]) == (measure == "mean")


def test_a_rate_that_rises_over_the_weeks_is_told_as_a_line_too(tmp_path):
    bodies = [" ".join(["lamb"] * (1 + n // 20) + ["the"] * (12 - n // 20)) for n in range(168)]
    index, columns = corpus(tmp_path, bodies, ["A"] * len(bodies))
    said = [one.text for one in statements(table_of(FRAMES, index, columns, Split("date", "week")))]
    line = next(one for one in said if one.startswith("Over time"))
    assert "Livelihood rises from " in line and "p adjusted for 1 category;" in line
