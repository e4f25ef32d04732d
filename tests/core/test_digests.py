"""Digests and archives: where an article begins, from whom and of when it is, found by the line that says so; and lines
that end where a page did."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnower.jobs.documents import cut_all
from winnower.readers.cutting import Cut, cut_document, guess_cut
from winnower.readers.dated_names import date_in_name
from winnower.readers.document import Document, Place, Remark
from winnower.readers.hard_wrap import join_lines, wrap_width
from winnower.readers.marked_lines import count_marks, with_marked_lines
from winnower.readers.origin_lines import ArticleOrigin, dateline, parse_origin

TEXTS = (
    "The lynx was seen by the upper gate, and the flock was brought in before dark. The warden says it will come again.",
    "Compensation for nine lambs was asked for at the market in Orrin on Saturday. Nobody was there to be asked.",
    "Nobody on the board could say how many sheep are kept above the birch wood. A count is planned for autumn.",
)
HEADS = ("Nine pages", "Lambs at market", "No count of sheep")
FORMS = {
    "bars": "{paper} | {en} | p. {page}",
    "bars, date first": "{en} | {paper} | p. {page}",
    "vom": "{paper} vom {dots}, Seite {page}",
    "dots": "{paper} • {dots} • S. {page}",
    "commas": "{paper}, Tuesday, {en}, page {page}",
    "dashes": "{paper} – {iso} – p. {page}",
    "brackets": "{paper} ({en}), pp. {page}-{page}",
    "no page": "{paper} | {en}",
    "French": "{paper}, {fr}, page {page}",
    "American": "{paper}; {us}; p. A{page}",
}
PAPERS = ("Hill Farmer", "Orrin Courier", "Valley Wire")
EN = ("6 May 2031", "17 May 2031", "3 June 2031")
WRITTEN = {
    "en": EN,
    "us": ("May 6, 2031", "May 17, 2031", "June 3, 2031"),
    "fr": ("6 mai 2031", "17 mai 2031", "3 juin 2031"),
    "dots": ("06.05.2031", "17.05.2031", "03.06.2031"),
    "iso": ("2031-05-06", "2031-05-17", "2031-06-03"),
}


def origins(form):
    return [
        FORMS[form].format(
            paper=PAPERS[at], page=at + 4, **{name: days[at] for name, days in WRITTEN.items()}
        )
        for at in range(3)
    ]


def digest(form, layout, between="\n\n", head=""):
    blocks = []
    for head_line, origin, text in zip(HEADS, origins(form), TEXTS, strict=True):
        first = (head_line, origin) if layout == "above" else (origin, head_line)
        blocks.append("\n".join([*first, "", text]))
    return head + between.join(blocks)


@pytest.mark.parametrize("layout", ["above", "below"])
@pytest.mark.parametrize("form", FORMS)
def test_a_digest_is_cut_dated_and_attributed_by_itself(form, layout):
    found = Document(digest(form, layout))
    cut = guess_cut(found)
    assert cut == Cut("origin")
    pieces = cut_document(found, cut)
    assert [piece.body for piece in pieces] == list(TEXTS)
    assert [piece.title for piece in pieces] == list(HEADS)
    assert [dict(piece.fields)["Source"] for piece in pieces] == list(PAPERS)
    assert all(piece.date for piece in pieces)
    if form != "no page":
        assert all("Page" in dict(piece.fields) for piece in pieces)


@pytest.mark.parametrize("between", ["\n\n-----\n\n", "\n\n* * *\n\n", "\n\n\n\n"])
def test_rules_and_gaps_between_are_no_words(between):
    found = Document(digest("bars", "above", between))
    pieces = cut_document(found, guess_cut(found))
    assert [piece.title for piece in pieces] == list(HEADS)
    assert [piece.body.rstrip("-* \n") for piece in pieces] == list(TEXTS)


def test_counters_cut_and_the_line_of_origin_is_read_all_the_same():
    blocks = [
        f"{at + 1} of 3\n\n{HEADS[at]}\n{origin}\n\n{TEXTS[at]}" for at, origin in enumerate(origins("vom"))
    ]
    found = Document("\n\n".join(blocks))
    pieces = cut_document(found, guess_cut(found))
    assert [(piece.title, piece.body) for piece in pieces] == list(zip(HEADS, TEXTS, strict=True))
    assert [dict(piece.fields)["Source"] for piece in pieces] == list(PAPERS)


def test_a_contents_page_is_no_text():
    contents = "Contents\n\n" + "".join(
        f"{head}\n{line}\n" for head, line in zip(HEADS, origins("bars"), strict=True)
    )
    found = Document(digest("bars", "above", head=f"{contents}\n\n"))
    pieces = cut_document(found, guess_cut(found))
    assert [piece.body for piece in pieces] == list(TEXTS)


@pytest.mark.parametrize(
    "line",
    [
        "The board met on 6 May 2031, and nobody came.",
        "On 6 May 2031 the warden saw nine tracks by the gate and went home.",
        "Date: 6 May 2031",
        "6 May 2031",
        "Orrin Courier",
        "p. 4",
        "in the night of 6 May 2031",
        "Orrin, Saturday",
    ],
)
def test_sentences_and_halves_are_no_origin(line):
    assert parse_origin(line) is None


def test_what_an_origin_says():
    assert parse_origin("Orrin Courier | 6 May 2031 | p. 4") == ArticleOrigin(
        "Orrin Courier", "6 May 2031", "4"
    )
    assert parse_origin("p. 12, Hill Farmer, Markets, 06.05.2031") == ArticleOrigin(
        "Hill Farmer", "06.05.2031", "12", "Markets"
    )


def test_an_interview_keeps_the_line_that_says_with_whom_it_is():
    body = f"Interview with Anna Kessler, 6 May 2031\n\n{TEXTS[0]}"
    assert cut_document(Document(body), Cut())[0].body == body


@given(st.text(max_size=80))
def test_any_line_can_be_asked(line):
    found = parse_origin(line)
    assert found is None or (found.source and found.date)


@pytest.mark.parametrize(
    ("name", "date"),
    [
        ("2031-05-06 Hill Farmer.txt", "2031-05-06"),
        ("a/b/courier_20310506_p4.pdf", "2031-05-06"),
        ("Courier 17.05.2031.txt", "2031-05-17"),
        ("Courier 05.06.2031.txt", ""),
        ("Courier 06.06.2031.txt", "2031-06-06"),
        ("2031-05-06 to 2031-05-09.txt", ""),
        ("12345678901.txt", ""),
        ("interview 12.txt", ""),
        ("2031-13-40.txt", ""),
    ],
)
def test_dates_in_names_of_files(name, date):
    assert date_in_name(name) == date


def test_one_line_pointed_at_stands_for_all_of_its_kind():
    found = Document(digest("commas", "below"))
    for line in origins("commas"):
        pieces = cut_document(found, Cut("begins", line))
        assert [(piece.title, piece.body) for piece in pieces] == list(zip(HEADS, TEXTS, strict=True))
    capitals = Document(
        "\n\n".join(f"{head.upper()}\n{text}" for head, text in zip(HEADS, TEXTS, strict=True))
    )
    assert len(cut_document(capitals, Cut("begins", "NINE PAGES"))) == 3


LONG = " ".join(TEXTS * 3)


def wrapped(text, width, indent=""):
    import textwrap

    return "\n".join(textwrap.wrap(text, width, subsequent_indent=indent))


@pytest.mark.parametrize("width", [60, 72, 80, 100])
def test_lines_of_one_width_become_the_paragraphs_they_were(width):
    body = "\n\n".join(wrapped(part, width) for part in (LONG, LONG[::-1].replace(".", ","), LONG))
    assert wrap_width(body) and join_lines(Document(body)).body.split("\n\n")[0] == LONG


def test_paragraphs_without_gaps_are_told_apart_by_their_last_line():
    parts = [" ".join(TEXTS), " ".join(TEXTS[::-1]), " ".join(TEXTS[1:] + TEXTS[:1])]
    body = "\n".join(wrapped(part, 72) for part in parts)
    assert join_lines(Document(body)).body == "\n".join(parts)


@pytest.mark.parametrize(
    "body",
    [
        "\n".join(TEXTS * 3),
        "\n".join(["Anna: And then?", "Ben: Nothing at all happened there."] * 5),
        "\n".join(["A short line,", "and a shorter", "one to go with it"] * 4),
        "\n".join(f"- point number {n} of a list that goes on for some time until here" for n in range(9)),
        "One line.",
        "",
    ],
)
def test_lines_that_are_paragraphs_stay(body):
    assert join_lines(Document(body)).body == body


def test_a_word_that_was_parted_is_one_where_the_text_has_it_as_one():
    end = [
        "In the autumn of that year the sheepfold was open by night, and a sheep-",
        "fold that is open by night is a sheepfold that wolves know, as the well-",
        "known warden said.",
    ]
    joined = join_lines(Document("\n\n".join([wrapped(LONG, 72), "\n".join(end)]))).body
    assert joined.endswith(
        "and a sheepfold that is open by night is a sheepfold that wolves know, as the well-known warden said."
    )


def test_what_stands_at_a_place_stays_there():
    body = wrapped(LONG, 72)
    at = body.index("market")
    document = Document(body, places=(Place("page", at, "2"),), remarks=(Remark("Look", "Ann", at, at + 6),))
    joined = join_lines(document)
    assert joined.body[at : at + 6] == "market" and len(joined.body) == len(body)


def test_turns_stay_lines_of_their_own_in_wrapped_transcripts():
    body = "\n".join([wrapped(f"Anna: {LONG}", 72), wrapped(f"Ben: {LONG}", 72)])
    assert join_lines(Document(body)).body == f"Anna: {LONG}\nBen: {LONG}"


def test_lines_stay_where_that_was_chosen():
    document = Document(wrapped(LONG, 72))
    assert cut_all([document], Cut(), speakers=False)[0].body == LONG
    assert cut_all([document], Cut(), speakers=False, keep_lines=True)[0].body == document.body


#: A form of its own: a code, the headline, then weekday and day, then the outlet in words.
OWN_FORM = "REF 00{n}\n{head}\nsaid on Tuesday, {day}\nIn: {paper} (print)\n\n{body}"


def own_digest():
    rows = zip(range(1, 4), HEADS, ("3 June 2031", "14 June 2031", "1 July 2031"), PAPERS, TEXTS, strict=True)
    return "\n\n".join(OWN_FORM.format(n=n, head=h, day=d, paper=p, body=b) for n, h, d, p, b in rows)


def test_lines_pointed_at_say_what_all_texts_of_the_file_are():
    marks = (("date", 2), ("source", 3), ("title", 1))
    pieces = cut_document(Document(own_digest()), Cut("begins", "REF 001", marks))
    assert [piece.title for piece in pieces] == list(HEADS)
    assert [piece.date for piece in pieces] == ["3 June 2031", "14 June 2031", "1 July 2031"]
    assert [dict(piece.fields)["Source"] for piece in pieces] == list(PAPERS)
    # the line of the code was not pointed at: it stays, and with it all that follows
    assert all(piece.body.startswith("REF 00") for piece in pieces)


def test_lines_pointed_at_from_the_first_one_on_are_no_words():
    body = own_digest().replace("REF 00", "Article ")
    marks = (("date", 2), ("source", 3), ("title", 1))
    pieces = cut_document(Document(body), Cut("begins", "Article 1", (("skip", 0), *marks)))
    assert [piece.body for piece in pieces] == list(TEXTS)


def test_how_many_texts_have_what_was_pointed_at_is_told():
    broken = own_digest().replace("14 June 2031", "a day in June")
    cut = Cut("begins", "REF 001", (("", -1),))
    bodies = [piece.body for piece in cut_document(Document(broken), cut)]
    assert count_marks(bodies, (("date", 2), ("title", 1))) == [("date", 2, 3), ("title", 3, 3)]


@given(
    st.text(max_size=200),
    st.lists(st.tuples(st.sampled_from(["title", "source", "date"]), st.integers(-3, 9)), max_size=3),
)
def test_marks_lose_no_words_but_those_of_marked_lines(body, marks):
    piece = with_marked_lines(Document(body), tuple(marks))
    assert body.strip().endswith(piece.body)
    left = [line.strip() for line in body.split("\n") if line.strip()]
    kept = [line.strip() for line in piece.body.split("\n") if line.strip()]
    assert len(left) - len(kept) <= len({number for _, number in marks if number >= 0})


@pytest.mark.parametrize(
    ("line", "date"),
    [
        ("ORRIN, 6 May 2031 – The lynx was seen by the gate.", "6 May 2031"),
        ("Orrin Mill, 6 May 2031: The lynx was seen.", "6 May 2031"),
        ("ORRIN (06.05.2031) – Der Luchs wurde gesehen.", "06.05.2031"),
        ("Orrin, Tuesday, May 6, 2031 (VW) – The lynx was seen.", "May 6, 2031"),
        ("Orrin, den 6. Mai 2031 – Der Luchs.", "6. Mai 2031"),
        ("ORRIN, le 6 mai 2031 – Le lynx.", "6 mai 2031"),
        ("The board met on 6 May 2031 – nobody came.", ""),
        ("Orrin, 6 May 2031", ""),
        ("On Tuesday, 6 May 2031, the board met.", ""),
        ("They said: Orrin, 6 May 2031 – no.", ""),
    ],
)
def test_a_dateline_dates_a_text_and_stays_in_it(line, date):
    assert dateline(f"{line}\n\nMore words.") == date
    (piece,) = cut_document(Document(line), Cut())
    assert (piece.date, piece.body) == (date, line)
