"""Dates and numbers of a column are read one way, decided by all of them; where none says which, that is asked."""

import datetime as dt

import pytest
from babel.numbers import format_decimal
from hypothesis import given
from hypothesis import strategies as st

from winnower.core.dates import DayMonthEvidence, guess_day_first, parse_date
from winnower.core.numbers import DecimalEvidence, decimal_vote, guess_decimal, parse_number
from winnower.readers.cutting import Cut, cut_document, guess_cut
from winnower.readers.document import Document
from winnower.readers.mapping import Mapping, Target, guess_mapping
from winnower.readers.prepare import Preparer
from winnower.readers.value_order import ValueOrder

DAYS = st.dates(dt.date(1990, 1, 1), dt.date(2060, 12, 31))


@given(st.lists(DAYS, min_size=1, max_size=30), st.booleans(), st.sampled_from("/.-"))
def test_a_column_of_dates_is_read_as_it_was_written_or_said_to_be_unclear(days, day_first, sign):
    written = [
        f"{d.day}{sign}{d.month}{sign}{d.year}" if day_first else f"{d.month}{sign}{d.day}{sign}{d.year}"
        for d in days
    ]
    evidence = DayMonthEvidence()
    evidence.see(written)
    read = [parse_date(one, evidence.day_first) for one in written]
    assert read == days or evidence.unclear
    if any(day.day > 12 for day in days):
        assert read == days and not evidence.unclear


def test_the_majority_decides_and_no_single_row():
    assert guess_day_first(["05/06/2031", "05/13/2031", "07/20/2031", "31/01/2031"]) is False
    assert guess_day_first(["05/06/2031", "13/05/2031"]) is True


NUMBERS = st.lists(
    st.decimals(min_value=0, max_value=10**9, places=2, allow_nan=False) | st.integers(0, 10**9), min_size=1
)


@given(NUMBERS, st.sampled_from(["de_DE", "en_GB", "es_ES"]))
def test_a_column_of_numbers_is_read_as_it_was_written_or_said_to_be_unclear(numbers, locale):
    written = [format_decimal(one, locale=locale, decimal_quantization=False) for one in numbers]
    evidence = DecimalEvidence()
    evidence.see(written)
    read = [parse_number(one, evidence.decimal) for one in written]
    right = [float(one) for one in numbers]
    assert read == right or evidence.unclear or min(evidence.votes.values())


@pytest.mark.parametrize(
    ("values", "decimal", "unclear"),
    [
        (["850", "1.250", "12.500"], ",", "1.250"),
        (["850", "1.250", "12.500,5"], ",", ""),
        (["850", "1.250", "3.25"], ".", ""),
        (["1.250", "12500"], ".", "1.250"),
        (["1.250.000", "1.250"], ",", ""),
        (["0.125", "1.250"], ".", ""),
        (["1,250", "3"], ".", "1,250"),
        (["12", "7"], ".", ""),
    ],
)
def test_thousands_and_decimals_are_told_apart_for_all_together(values, decimal, unclear):
    evidence = DecimalEvidence()
    evidence.see(values)
    assert (evidence.decimal, evidence.unclear) == (decimal, unclear)
    assert guess_decimal(values) == decimal


@given(st.text(alphabet="0123456789.,' ", min_size=1, max_size=12))
def test_what_votes_is_read_as_it_votes(written):
    vote, either = decimal_vote(written)
    assert not (vote and either)
    if vote and (value := parse_number(written, vote)) is not None and vote in written:
        whole, _, after = written.replace(" ", "").replace("'", "").rpartition(vote)
        if after.isdecimal() and written.count(vote) == 1:
            assert int(value) == int("".join(filter(str.isdecimal, whole)) or 0)


def lot(*rows):
    header = ["date", "sold"]
    mapping = Mapping((Target("date", "date"), Target("sold", "variable", "sold", "number", ".")))
    order = ValueOrder(header)
    order.see(rows, mapping)
    settled = order.settled(mapping)
    return settled, order.doubts(settled)


def test_what_nothing_decides_is_a_doubt_with_both_readings():
    mapping, doubts = lot(["05/06/2031", "1.250"], ["07/08/2031", "850"])
    assert mapping.day_first
    assert [doubt.sentence for doubt in doubts] == [
        "“05/06/2031” in date is read as 5 June 2031; it could be 6 May 2031.",
        "“1.250” in sold is read as 1.25; it could be 1,250.",
    ]


def test_what_something_decides_is_none():
    mapping, doubts = lot(["05/06/2031", "1.250"], ["07/18/2031", "850,5"])
    assert not mapping.day_first and mapping.targets[1].separator == "," and doubts == []


def test_a_value_that_fits_only_the_other_reading_is_told_of_the_whole_column():
    mapping = Mapping(
        (Target("text", "text"), Target("date", "date"), Target("sold", "variable", "sold", "number", ","))
    )
    preparer = Preparer(["text", "date", "sold"], mapping, 1_000)
    rows = [["One.", "05/06/2031", "1.250"], ["Two.", "05/13/2031", "3.25"]]
    texts = preparer.prepare(rows, [2, 3], ["a.csv"] * 2)
    assert texts.date == [dt.date(2031, 6, 5), None]
    told = [problem.reason for problem in preparer.problems]
    assert len(told) == 2 and all("may be wrong" in reason for reason in told)


def test_the_messages_of_one_chat_are_of_one_order():
    chat = "\n".join(
        f"{date}, 10:00 - {who}: The flock was brought in before dark today."
        for date, who in (("5/6/31", "Ann"), ("5/13/31", "Ben"), ("6/7/31", "Ann"), ("6/9/31", "Ben"))
    )
    found = cut_document(Document(chat), Cut("messages"))
    assert [one.date[:10] for one in found] == ["2031-05-06", "2031-05-13", "2031-06-07", "2031-06-09"]


@pytest.mark.parametrize(
    ("form", "dates"),
    [
        ("[{d}/{m}/2031, 22:04:1{n}] {who}: {words}", "day"),
        ("\u200e[{m}/{d}/31, 10:04:1{n}\u202fPM] {who}: {words}", "month"),
        ("{d}.{m}.31, 22:04 - {who}: {words}", "day"),
        ("2031-{m:02}-{d:02} 22:04 - {who}: {words}", "day"),
    ],
)
def test_exports_of_chats_in_their_many_forms(form, dates):
    said = [(3, 6, "Ann"), (14, 6, "Ben"), (15, 7, "Ann"), (28, 7, "Ben")]
    words = "The flock was brought in before dark today."
    lines = [form.format(d=d, m=m, n=n, who=who, words=words) for n, (d, m, who) in enumerate(said)]
    pictures = [
        form.format(d=29, m=7, n=5, who="Ann", words=w) for w in ("\u200eimage omitted", "<Media omitted>")
    ]
    system = form.format(d=29, m=7, n=6, who="x", words="y").split("x:")[0] + "Ann added Ben"
    chat = Document("\n".join([*lines, *pictures, system]))
    assert guess_cut(chat) == Cut("messages")
    found = cut_document(chat, Cut("messages"))
    assert [one.body for one in found] == [words] * 4
    assert [one.author for one in found] == ["Ann", "Ben", "Ann", "Ben"]
    assert [one.date[:10] for one in found] == ["2031-06-03", "2031-06-14", "2031-07-15", "2031-07-28"]
    assert found[0].notices == ("3 lines of the program itself are left out.",)


@pytest.mark.parametrize(
    "header",
    [
        ("номер", "заголовок", "дата", "источник", "текст"),
        ("编号", "标题", "日期", "来源", "正文"),
        ("番号", "タイトル", "日付", "出典", "本文"),
        ("الرقم", "العنوان", "التاريخ", "المصدر", "النص"),
    ],
)
def test_names_of_columns_in_other_scripts(header):
    rows = [[str(n), f"T{n}", f"2031-06-{n:02}", "A", f"短い{n}"] for n in range(1, 6)]
    roles = {target.column: target.role for target in guess_mapping(header, rows).targets}
    assert tuple(roles[name] for name in header) == ("key", "title", "date", "source", "text")
