"""Whatever takes typing, at 50 ms a key on a line of 1.2 s with answers out of order: what is on the screen and in
the database afterwards is what was typed."""

import pytest
from selenium.webdriver.common.keys import Keys
from sqlalchemy import func, select

from tests.browser.slow_line import all_saved, slow_line, type_quickly
from tests.conftest import NEWS_MAPPING
from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.store.accounts import share
from winnower.store.codebook import codebook_of, make_code
from winnower.store.dictionaries import import_dictionary
from winnower.store.history import Recorder
from winnower.store.models import (
    CategoryRow,
    CodeRow,
    EventRow,
    FindingQuestion,
    GroupOfCodes,
    NoteRow,
    ParaphraseRow,
    PassageRow,
    Project,
    ReportRow,
    StopWord,
    TermRow,
    TextRow,
    Variable,
    VariableCategory,
)
from winnower.store.tones import make_list

MODELS = (
    CategoryRow, CodeRow, EventRow, FindingQuestion, GroupOfCodes, NoteRow, ParaphraseRow, PassageRow, Project, ReportRow,
    StopWord,
    TermRow, TextRow, Variable, VariableCategory,
)  # fmt: skip
WORDS = ["lamb*", "ewe", "flock", "hay", "market", "birch", "deer", "price", "stock", "wall"]
NAMES = ["Losses", "Voice", "Tracks", "Board", "Licence", "Wonder"]


@pytest.fixture
def work(page, deliver, news, account, project, database):
    """A project with texts, a dictionary, a code and a word list, of which the person in the browser is a coder."""
    with database.session() as session:
        before = {model: session.scalar(select(func.max(model.id))) or 0 for model in MODELS}
    deliver(news, NEWS_MAPPING)
    name = page.driver.execute_script("return fetch('/api/v1/me').then((r) => r.json()).then((r) => r.name)")
    with database.session() as session:
        share(session, session.get_one(Project, project.id), name, "coder")
        recorder = Recorder(session, project.id, account.id, "Frames")
        import_dictionary(
            recorder, "Frames", Dictionary("Frames", (Category(("Livelihood",), (TermEntry("fell"),)),))
        )
        make_code(recorder, codebook_of(session, project.id), "First")
        make_list(recorder, "Own words", "none")
        recorder.save()

    class Work:
        def open(self, view):
            page.open(f"/projects/{project.id}/{view}")
            page.settled()

        def rows(self, model, column, *conditions):
            with database.session() as session:
                return list(
                    session.scalars(
                        select(column)
                        .select_from(model)
                        .where(model.id > before[model], *conditions)
                        .order_by(model.id)
                    )
                )

    work = Work()
    work.page, work.project, work.database, work.account = page, project.id, database, account
    return work


def typed_into(page, field, words):
    """Type words into a field, Enter after each, without a pause; the field is empty at the end, at once."""
    element = page.find(field)
    element.click()
    with slow_line(page):
        type_quickly(page, *(one for word in words for one in (word, [Keys.ENTER])))
        assert page.find(field).get_property("value") == "", "the field did not clear itself"
        all_saved(page)


def test_ten_terms(work):
    page = work.page
    work.open("dictionary")
    typed_into(page, "input[aria-label='New term in Livelihood']", WORDS)
    assert work.rows(TermRow, TermRow.source)[1:] == WORDS
    page.wait(
        lambda: len(page.driver.find_elements("css selector", "table[aria-label=Terms] tbody tr")) >= 11
    )


def test_a_refused_term_comes_back_with_its_reason_and_holds_up_nobody(work):
    page = work.page
    work.open("dictionary")
    typed_into(page, "input[aria-label='New term in Livelihood']", ["lamb*", "c++", "ewe"])
    assert work.rows(TermRow, TermRow.source)[1:] == ["lamb*", "ewe"]
    refused = page.find("[data-waiting=refused]")
    assert refused.text.startswith("c++") and "never part of a word" in refused.text
    refused.find_element("xpath", ".//button[.='Edit']").click()
    assert page.find("input[aria-label='New term in Livelihood']").get_property("value") == "c++"


def test_categories_one_after_another(work):
    page = work.page
    work.open("dictionary")
    page.button("+ Category").click()
    typed_into(page, "input[aria-label='New category']", NAMES)
    assert work.rows(CategoryRow, CategoryRow.name)[1:] == NAMES


@pytest.mark.parametrize(
    ("view", "field"),
    [
        ("coding/codebook", "section[aria-label=Codes] form input"),
        ("coding/read", "input[aria-label='Find or make a code']"),
    ],
)
def test_codes_one_after_another(work, view, field):
    work.open(view)
    typed_into(work.page, field, NAMES)
    assert work.rows(CodeRow, CodeRow.name)[1:] == NAMES


def test_groups_of_codes_one_after_another(work):
    work.open("coding/codebook")
    work.page.text("First", "span").click()
    typed_into(work.page, "input[aria-label='Name of a new group']", NAMES)
    assert work.rows(GroupOfCodes, GroupOfCodes.name) == NAMES


def test_stop_words_one_after_another(work):
    page = work.page
    work.open("corpus/words")
    page.button("edit").click()
    page.find("[role=dialog]")
    label = page.text("Add words", "label").get_attribute("for")
    words = [word.strip("*") for word in WORDS]
    typed_into(page, f"[id='{label}']", words)
    assert sorted(work.rows(StopWord, StopWord.form, StopWord.listed == 1)) == sorted(words)


def test_questions_of_findings_one_after_another(work):
    work.open("notebook/findings")
    if not work.page.driver.find_elements("css selector", "input[aria-label='A new question']"):
        with work.database.session() as session:
            session.add(FindingQuestion(project_id=work.project, words="Zero", place=0))
        work.open("notebook/findings")
    typed_into(work.page, "input[aria-label='A new question']", NAMES)
    found = [words for words in work.rows(FindingQuestion, FindingQuestion.words) if words != "Zero"]
    assert found == NAMES


def test_events_one_after_another(work):
    page = work.page
    work.open(
        "compare?draw=trend&compare=%7B%22split%22%3A%7B%22field%22%3A%22date%22%2C%22period%22%3A%22month%22%7D%7D"
    )
    page.text("Events", "button").click()
    day, name = "input[aria-label='Day of a new event']", "input[aria-label='Name of a new event']"
    with slow_line(page):
        for number, words in enumerate(NAMES[:4], start=1):
            page.driver.execute_script(SET_DAY, page.find(day), f"2031-03-{number:02}")
            page.find(name).click()
            type_quickly(page, words, [Keys.ENTER])
        assert page.find(name).get_property("value") == ""
        all_saved(page)
    assert work.rows(EventRow, EventRow.name) == NAMES[:4]


#: A day as the browser's own calendar gives it.
SET_DAY = """
const [field, day] = arguments;
Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(field, day);
field.dispatchEvent(new Event("input", {bubbles: true}));
"""


def test_notes_one_after_another(work):
    page = work.page
    text_id = work.rows(TextRow, TextRow.id)[0]
    work.open(f"corpus/{text_id}")
    page.find("textarea[aria-label='A new note']").click()
    with slow_line(page):
        for words in NAMES[:4]:
            type_quickly(page, words)
            page.find("textarea[aria-label='A new note']").send_keys(Keys.CONTROL, Keys.ENTER)
            assert page.find("textarea[aria-label='A new note']").get_property("value") == ""
        all_saved(page)
    assert work.rows(NoteRow, NoteRow.body) == NAMES[:4]


def test_sets_and_variables(work):
    page = work.page
    work.open("corpus")
    with slow_line(page):
        for name in NAMES[:3]:
            page.button("New set").click()
            page.find("[role=dialog] input[type=text], [role=dialog] input:not([type])")
            type_quickly(page, name, [Keys.ENTER])
        all_saved(page)
    sets = Variable.role == "sets"
    with work.database.session() as session:
        variable = session.scalar(select(Variable.id).where(Variable.project_id == work.project, sets))
    assert (
        work.rows(VariableCategory, VariableCategory.label, VariableCategory.variable_id == variable)
        == NAMES[:3]
    )
    work.open("corpus/variables")
    with slow_line(page):
        for name in NAMES[3:6]:
            page.button("New variable").click()
            page.find("[role=dialog] input")
            type_quickly(page, name)
            page.button("Make the variable").click()
        all_saved(page)
    assert [name for name in work.rows(Variable, Variable.name) if name in NAMES] == NAMES[3:6]


def test_a_text_is_coded_by_keys(work):
    """Words are chosen, a code is typed and given, the next words are chosen: all before the first answer is there."""
    page = work.page
    text_id = work.rows(TextRow, TextRow.id)[0]
    work.open(f"coding/read/{text_id}")
    page.says("[data-testid=body]", "lambs")
    page.driver.execute_script("document.querySelector('[data-testid=body]').focus()")
    with slow_line(page):
        for name in ("Losses", "Voice", "First"):
            type_quickly(page, [Keys.ARROW_RIGHT], name, [Keys.ENTER], [Keys.ESCAPE])
        page.wait(lambda: len(work.rows(PassageRow, PassageRow.id)) == 3, "not all were stored")
    names = {
        code_id: name
        for code_id, name in zip(
            work.rows(CodeRow, CodeRow.id), work.rows(CodeRow, CodeRow.name), strict=True
        )
    }
    assert sorted(names.values()) == ["First", "Losses", "Voice"]
    assert sorted(names[code] for code in work.rows(PassageRow, PassageRow.code_id)) == [
        "First",
        "Losses",
        "Voice",
    ]


def test_fields_of_a_code_take_what_is_typed_while_answers_come(work):
    page = work.page
    work.open("coding/codebook")
    page.text("First", "span").click()
    fields = page.wait(lambda: page.driver.find_elements("css selector", "main textarea"))
    with slow_line(page):
        for number, words in enumerate(
            ("Losses of lambs and ewes", "Given for each loss", "Nine lambs in June")
        ):
            fields[number].click()
            type_quickly(page, words, [Keys.TAB])
        all_saved(page)
        page.wait(
            lambda: work.rows(CodeRow, CodeRow.example) == ["Nine lambs in June"], "the last was not stored"
        )
    assert work.rows(CodeRow, CodeRow.description) == ["Losses of lambs and ewes"]
    assert work.rows(CodeRow, CodeRow.rule) == ["Given for each loss"]
    shown = [one.get_property("value") for one in page.driver.find_elements("css selector", "main textarea")][
        :3
    ]
    assert shown == ["Losses of lambs and ewes", "Given for each loss", "Nine lambs in June"]
    assert not page.driver.find_elements("css selector", "[role=dialog]"), "one's own changes are no clash"


def test_paraphrases_by_keys(work):
    page = work.page
    text_id = work.rows(TextRow, TextRow.id)[0]
    work.open(f"coding/read/{text_id}")
    page.says("[data-testid=body]", "lambs")
    page.driver.execute_script("document.querySelector('[data-testid=body]').focus()")
    with slow_line(page):
        for words in ("They lost lambs", "A flock speaks"):
            type_quickly(page, [Keys.ARROW_RIGHT, Keys.ENTER])
            page.button("Paraphrase").click()
            page.find("textarea[aria-label='Paraphrase']")
            type_quickly(page, words, [Keys.ENTER])
        all_saved(page)
    assert work.rows(ParaphraseRow, ParaphraseRow.body) == ["They lost lambs", "A flock speaks"]


def test_projects_one_after_another_each_made_once(work):
    page = work.page
    page.open("/")
    page.settled()
    typed_into(page, "input[aria-label='Name of a new project']", NAMES)
    assert work.rows(Project, Project.name) == NAMES
    # after the last one nothing is typed: it opens
    page.says("header", NAMES[-1])


def test_a_report_is_begun_without_waiting_for_it(work):
    page = work.page
    work.open("notebook/report")
    page.button("Begin a report").click()
    title = page.find("[role=dialog] input")
    title.send_keys(Keys.CONTROL, "a")
    with slow_line(page):
        type_quickly(page, "Who pays?", [Keys.ENTER])
        assert not page.driver.find_elements("css selector", "[role=dialog]"), "the dialog waits"
        assert page.find("[data-waiting]").text.startswith("Who pays?")
        all_saved(page)
    assert work.rows(ReportRow, ReportRow.title) == ["Who pays?"]


def test_a_session_that_ends_while_something_waits(work):
    """What was typed is sent once the same person is signed in again."""
    page = work.page
    work.open("dictionary")
    name = page.driver.execute_script("return fetch('/api/v1/me').then((r) => r.json()).then((r) => r.name)")
    page.find("input[aria-label='New term in Livelihood']").click()
    page.driver.delete_all_cookies()
    type_quickly(page, "lamb*", [Keys.ENTER], "ewe", [Keys.ENTER])
    page.says("[data-testid=session-ended]", "2 changes will be saved once")
    page.button("Sign in again").click()
    page.find("[data-testid=sign-in-again]")
    page.find("input[name=name]").send_keys(name)
    page.find("input[name=password]").send_keys("a long password")
    page.button("Sign in").click()
    page.wait(lambda: not page.driver.find_elements("css selector", "[data-testid=session-ended]"))
    all_saved(page)
    assert work.rows(TermRow, TermRow.source)[1:] == ["lamb*", "ewe"]
