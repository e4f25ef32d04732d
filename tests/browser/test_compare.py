"""The Compare station in the browser: the sentence, its drawings, keywords, pairs, networks, side by side, findings."""

import io
import zipfile

import numpy as np
import pytest
from python_calamine import CalamineWorkbook
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.test_coding import press
from tests.chromium import saved_file
from tests.conftest import write_table
from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.store.dictionaries import add_terms, dictionaries_of, import_dictionary, load
from winnower.store.history import Recorder

FIELD, TOWN = ("wolf", "lamb", "flock", "fence"), ("market", "council", "vote", "budget")
FRAMES = Dictionary(
    "Frames",
    (
        Category(("Field",), tuple(TermEntry(word) for word in FIELD)),
        Category(("Town",), tuple(TermEntry(word) for word in TOWN)),
        Category(("Talk",), (TermEntry("said"), TermEntry("asked"))),
    ),
)


def rows():
    """Eighty texts of four sources over ten months; from June on there are wolves everywhere."""
    rng = np.random.default_rng(2)
    out = []
    for n in range(80):
        own, other = (FIELD, TOWN) if n % 2 else (TOWN, FIELD)
        sentences = []
        for _ in range(6):
            words = rng.choice(own if rng.random() < 0.8 else other, 2, replace=False)
            sentences.append(
                f"{rng.choice(['They said', 'She asked', 'Nobody said'])} the {words[0]} and the {words[1]}."
            )
        if n >= 40:
            sentences += ["The wolf came, a wolf."] * 2
        source = ("Valley Wire", "Hill Farmer", "Orrin Courier", "The Lantern")[n % 4]
        out.append(
            [
                f"T{n}",
                f"Text {n:02}",
                source,
                f"2031-{n // 8 + 1:02d}-{n % 8 + 1:02d}",
                " ".join(sentences),
                "north" if n % 3 else "coast",
                str(30 + 10 * (n % 4) + n % 5),
            ]
        )
    return out


@pytest.fixture
def compare(desk, deliver, tmp_path, database, project, account):
    deliver(write_table(tmp_path / "many.csv", rows()))
    with database.session() as session:
        recorder = Recorder(session, project.id, account.id, "Frames")
        import_dictionary(recorder, "Frames", FRAMES)
        recorder.save()
    desk.open(f"/projects/{project.id}/compare")
    desk.find("[data-testid^=dot-]")
    return desk


def choose(page, label, text):
    def offered():
        return text in [one.text for one in Select(page.find(f"select[aria-label='{label}']")).options]

    page.wait(offered)
    Select(page.find(f"select[aria-label='{label}']")).select_by_visible_text(text)


def draw(page, name):
    page.find("[role=radiogroup][aria-label='Draw as']")
    page.button(name).click()


def cannot_be_drawn(page):
    choices = page.driver.find_elements(By.CSS_SELECTOR, "[aria-label='Draw as'] button")
    return {one.text for one in choices if not one.is_enabled()}


def room_of_picture(page):
    """The part of the window's height that is the drawing's, from its top on, when nothing is scrolled."""
    return page.driver.execute_script(
        "const top = document.querySelector('main svg[data-figure]').getBoundingClientRect().top;"
        "return (innerHeight - Math.max(top, 0)) / innerHeight"
    )


def test_the_picture_has_more_than_half_of_the_window(compare):
    page = compare
    page.says("[data-testid=statements]", "differ significantly")
    lines = page.find("[data-testid=statements]").text.split("\n")
    assert len(lines) <= 5, "three findings, what would change them, and the way to the details"
    assert room_of_picture(page) >= 0.55
    for name in ("Bars", "Heat"):
        draw(page, name)
        page.wait(lambda: page.driver.find_elements(By.CSS_SELECTOR, "main svg[data-figure] path"))
        assert room_of_picture(page) >= 0.55
    page.text("Keywords", "a").click()
    page.says("[data-testid=statements]", "Most typical")
    assert room_of_picture(page) >= 0.55


def test_the_sentence_is_chosen_drawn_and_each_mark_opens_its_passages(compare):
    page = compare
    choose(page, "Counting", "sentences with a hit")
    page.wait(lambda: "Share of sentences" in page.find("select[aria-label=Measure]").text)
    page.says("[data-testid=statements]", "% of sentences")
    choose(page, "Crossed with", "Tags")
    page.text("How the categories differ by source and tags", "h1")
    choose(page, "Crossed with", "nothing else")
    for name, mark in (
        ("Bars", "path"),
        ("Heat", "path"),
        ("Areas", "path"),
        ("Flow", "path"),
        ("Map", "path"),
    ):
        draw(page, name)
        page.wait(
            lambda mark=mark: page.driver.find_elements(By.CSS_SELECTOR, f"main svg[data-figure] {mark}")
        )
        assert page.barriers() == []
    draw(page, "Cloud")
    page.find("svg[aria-label='categories as a cloud'] [role=button]").send_keys(Keys.ENTER)
    page.find("[data-testid=evidence-count]")
    draw(page, "Heat")
    page.wait(lambda: "heat table" in (page.find("main svg[data-figure]").get_attribute("aria-label") or ""))
    page.find("button[aria-label='Close evidence']").click()
    cell = page.find("main svg[data-figure]")
    page.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", cell)
    box = cell.rect
    ActionChains(page.driver).move_to_element_with_offset(
        cell, int(box["width"] * 0.1), -int(box["height"] * 0.3)
    ).click().perform()
    page.wait(lambda: " in " in page.find("[data-testid=evidence-title]").text)
    page.button("Full screen").click()
    page.button("Back to the view")
    press(page, Keys.ESCAPE)
    page.button("Full screen")
    assert page.errors() == []


def test_means_of_numbers_are_drawn_on_scales_of_their_own_and_lead_to_their_texts(compare):
    page = compare
    choose(page, "What is compared", "Age")
    page.text("How the mean Age differs by source", "h1")
    measures = [one.text for one in Select(page.find("select[aria-label=Measure]")).options]
    assert measures == ["Mean", "Difference of means", "Median", "Standard deviation"]
    page.says("[data-testid=statements]", "The mean Age is about")
    assert not page.driver.find_elements(By.CSS_SELECTOR, "select[aria-label=Counting]")
    assert {"Areas", "Flow", "Cloud", "Map"} <= cannot_be_drawn(page) and "Bars" not in cannot_be_drawn(page)
    page.find("[data-testid='dot-Age-The Lantern']").click()
    page.says("[data-testid=evidence-count]", "20 values in 20 texts")
    page.button("Highest").click()
    page.wait(lambda: page.find("[aria-label=Evidence] a b").text == "64.0")
    page.button("Lowest").click()
    page.wait(lambda: page.find("[aria-label=Evidence] a b").text == "60.0")
    page.find("button[aria-label='Close evidence']").click()
    choose(page, "Measure", "Difference of means")
    page.says("main", "more in the mean than all other groups")
    assert page.barriers() == []
    choose(page, "Measure", "Mean")
    choose(page, "Another number beside it", "Words")
    page.find("[data-testid='dot-Words-Hill Farmer']")
    page.text("How the means of numbers differ by source", "h1")
    assert {"Bars", "Heat"} <= cannot_be_drawn(page)
    draw(page, "Table")
    page.says("[aria-label=Numbers] tfoot", "Texts")
    assert "Evenness" not in page.find("[aria-label=Numbers] thead").text
    assert page.barriers() == []
    page.button("Rows").click()
    page.find("[aria-label='numbers to leave out'] input").click()
    page.button("Leave 1 out").click()
    press(page, Keys.ESCAPE)
    page.text("How the mean Words differs by source", "h1")
    choose(page, "Across", "Date")
    page.text("How the mean Words differs by month", "h1")
    draw(page, "Over time")
    page.find("svg[aria-label='numbers over time'] [role=button]")
    assert page.barriers() == []
    # back to words: what was chosen for numbers is no measure of theirs
    choose(page, "What is compared", "Frames")
    page.wait(lambda: "Rate per" in page.find("select[aria-label=Measure]").text)
    page.find("select[aria-label=Counting]")
    assert page.errors() == []


def test_groups_and_rows_are_taken_together_left_out_and_taken_back(compare):
    page = compare
    page.find("[data-testid='dot-Field-Hill Farmer']")
    page.button("Groups").click()
    group = "fieldset[aria-label^='groups'] label:has(input)"
    boxes = page.driver.find_elements(By.CSS_SELECTOR, group)
    for box in boxes[:2]:
        box.click()
    page.find("input[aria-label='Name of what is taken together']").send_keys("Two papers")
    page.button("Together").click()
    page.find("[data-testid='dot-Field-Two papers']")
    press(page, Keys.ESCAPE)
    page.button("Rows").click()
    page.find("fieldset[aria-label^='categories'] > div:nth-of-type(3) label").click()
    page.button("Leave 1 out").click()
    page.wait(lambda: not page.driver.find_elements(By.CSS_SELECTOR, "[data-testid^='dot-Talk']"))
    page.find("button[aria-label='Take Talk back']").click()
    page.find("[data-testid^='dot-Talk']")
    press(page, Keys.ESCAPE)
    choose(page, "Order", "rows by value")
    page.wait(lambda: "order=rows" in page.driver.current_url)
    assert page.errors() == []


def test_over_time_changes_are_named_events_marked_and_before_and_after_compared(compare):
    page = compare
    choose(page, "What is compared", "Words and phrases")
    field = page.find("input[aria-label^='Words and phrases']")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("wolf, council", Keys.ENTER)
    page.find("[data-testid^='dot-wolf']")
    choose(page, "Across", "Date")
    page.says("[data-testid=statements]", " from June 2031 on")
    choose(page, "Moving average", "over 3 months")
    page.wait(lambda: "smooth=3" in page.driver.current_url)
    page.button("Events (0)").click()
    page.driver.execute_script(
        "const i=document.querySelector(\"input[aria-label='Day of a new event']\");"
        "Object.getOwnPropertyDescriptor(HTMLInputElement.prototype,'value').set.call(i,'2031-06-01');"
        "i.dispatchEvent(new Event('input',{bubbles:true}))"
    )
    page.find("input[aria-label='Name of a new event']").send_keys("Wolves come", Keys.ENTER)
    page.find("input[aria-label^='Name of the event of']")
    page.wait(lambda: "Wolves come" in page.find("main svg[data-figure]").text)
    page.button("Before and after").click()
    page.find("[data-testid='dot-wolf-from Wolves come on']").click()
    page.says("[data-testid=evidence-title]", "wolf in from Wolves come on")
    page.says("[data-testid=statements]", " as before Wolves come")
    assert page.errors() == []


def test_keywords_lead_to_passages_terms_and_the_stop_list(compare, project):
    page = compare
    page.open(f"/projects/{project.id}/compare/keywords")
    page.says("[data-testid=statements]", "Most typical of")
    choose(page, "Group", "Hill Farmer")
    page.says("[data-testid=statements]", "Most typical of Hill Farmer")
    region = "section[aria-label=Keywords]"
    page.wait(lambda: "flock" in page.find(region).text)
    page.find(f"{region} button[aria-label^='flock:'][aria-label$='in Hill Farmer']").click()
    page.says("[data-testid=evidence-title]", "“flock” in Hill Farmer")
    number = page.find(f"{region} button[aria-label^='flock:'][aria-label$='in all other groups']")
    number.click()
    page.wait(lambda: f"{number.text} hit" in page.find("[data-testid=evidence-count]").text)
    page.find("input[aria-label='Find a word']").send_keys("f*")
    page.wait(lambda: "lamb" not in page.find(f"{region} tbody").text)
    page.find("button[aria-label='More about flock']").click()
    page.text("Put it on the stop list", "div").click()
    page.wait(lambda: not page.driver.find_elements(By.CSS_SELECTOR, "button[aria-label='More about flock']"))
    page.find("input[aria-label='Find a word']").send_keys(Keys.BACKSPACE, Keys.BACKSPACE)
    choose(page, "What is looked at", "words, all forms together")
    page.find("svg[aria-label='Words by frequency and log ratio']")
    assert page.barriers() == [] and page.errors() == []


def test_what_goes_with_what_opens_both_and_shows_all_around_one(compare, project):
    page = compare
    page.open(f"/projects/{project.id}/compare/together")
    cell = page.find("button[aria-label^='Field with Talk:']")
    cell.click()
    page.says("[data-testid=evidence-title]", "Field with Talk")
    page.find("[data-testid=evidence-count]")
    choose(page, "Together", "near each other")
    page.find("input[aria-label='Words between them at most']")
    page.says("[data-testid=statements]", "cannot be tested")
    choose(page, "Together", "in the same sentence")
    choose(page, "Around one row", "Talk")
    page.says("section[aria-label='Around Talk']", "Field")
    choose(page, "Columns", "Values of Source")
    page.says("[data-testid=statements]", "pairs")
    assert page.barriers() == [] and page.errors() == []


def test_a_network_of_words_its_topics_and_two_groups(compare, project):
    page = compare
    page.open(f"/projects/{project.id}/compare/network")
    page.says("[data-testid=statements]", "topics among")
    page.find("section[aria-label=Topics] button[aria-label^='Passages of topic']").click()
    page.says("[data-testid=evidence-title]", "Topic")
    word = page.find("svg[aria-label='Network of words'] g[aria-label^='flock']")
    word.send_keys(Keys.DELETE)
    page.find("button[title='Take “flock” back']")
    page.wait(lambda: not page.driver.find_elements(By.CSS_SELECTOR, "svg g[aria-label^='flock:']"))
    page.find("button[title='Take “flock” back']").click()
    page.find("svg[aria-label='Network of words'] g[aria-label^='flock']")
    choose(page, "Two groups side by side", "Source")
    page.wait(
        lambda: len(page.driver.find_elements(By.CSS_SELECTOR, "svg[aria-label='Network of words']")) == 2
    )
    assert page.barriers() == [] and page.errors() == []


def test_groups_side_by_side_step_together(compare, project):
    page = compare
    page.open(f"/projects/{project.id}/compare/beside")
    page.find("section[aria-label='Hill Farmer'] a")
    before = page.find("section[aria-label='Hill Farmer'] a").text
    page.find("main h2")
    press(page, "j")
    page.text("passage 2 of each", "div")
    page.wait(lambda: page.find("section[aria-label='Hill Farmer'] a").text != before)
    press(page, "k")
    page.wait(lambda: page.find("section[aria-label='Hill Farmer'] a").text == before)
    choose(page, "Row", "Town")
    page.find("section[aria-label='Hill Farmer'] a")
    assert page.barriers() == [] and page.errors() == []


def test_a_finding_is_kept_ordered_frozen_and_tells_what_changed(
    compare, project, database, account, downloads
):
    page = compare
    page.button("Keep as a finding").click()
    title = page.find("[role=dialog] input")
    title.send_keys(Keys.CONTROL, "a")
    title.send_keys("Who writes of fields")
    page.find("[role=dialog] textarea").send_keys("Look again.")
    page.button("Keep it").click()
    page.text("is kept among the findings")
    draw(page, "Map")
    page.find("main svg[data-figure] path")
    page.button("Keep as a finding").click()
    page.button("Keep it").click()
    page.wait(lambda: not page.driver.find_elements(By.CSS_SELECTOR, "[role=dialog]"))
    page.open(f"/projects/{project.id}/notebook/findings")
    page.says("article [role=status]", "Nothing it was counted from changed")
    lines = "nav[aria-label=Findings] button[aria-current]"
    page.wait(lambda: len(page.driver.find_elements(By.CSS_SELECTOR, lines)) == 2)
    assert page.barriers() == []
    page.find("input[aria-label='A new question']").send_keys("Who?", Keys.ENTER)
    choose(page, "Question it is under", "Who?")
    page.says("section[aria-label='Who?']", "Who writes of fields")
    with database.session() as session:
        stored = load(session, dictionaries_of(session, project.id)[0])
        recorder = Recorder(session, project.id, account.id, "Add term")
        add_terms(recorder, stored, stored.categories[0].id, [TermEntry("budget")])
        recorder.save()
    page.driver.refresh()
    page.says("article [role=status]", "others now, since the dictionary changed")
    page.text("Then and now, cell by cell", "summary").click()
    page.says("section[aria-label='Then and now']", "Field")
    page.find("article input[type=checkbox]").click()
    page.says("article [role=status]", "Shown is what it said then")
    page.button("Keep the numbers of now").click()
    page.says("article [role=status]", "Nothing it was counted from changed")
    page.text("Open the view", "a").click()
    page.find("[data-testid^=dot-]")
    page.driver.back()
    page.button("Export all ▾").click()
    page.text("Numbers as .csv, one file each", "div").click()
    names = zipfile.ZipFile(io.BytesIO(saved_file(downloads, ".zip").read_bytes())).namelist()
    assert names[0] == "01 Who writes of fields.csv" and len(names) == 2
    page.button("Export all ▾").click()
    page.text("Numbers as one Excel workbook", "div").click()
    book = CalamineWorkbook.from_filelike(io.BytesIO(saved_file(downloads, ".xlsx").read_bytes()))
    assert book.sheet_names[0] == "1 Numbers"
    page.button("Delete the finding").click()
    page.wait(lambda: len(page.driver.find_elements(By.CSS_SELECTOR, lines)) == 1)
    page.find("button[aria-label=Undo]").click()
    page.wait(lambda: len(page.driver.find_elements(By.CSS_SELECTOR, lines)) == 2)
    assert page.errors() == []
