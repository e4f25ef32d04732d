"""Automatic coding in the browser: a recipe tried and stored, judged by keys, applied, brought in step, taken back."""

from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.test_coding import press
from tests.browser.test_notebook import coded
from winnower.core.dictionary import Category, Dictionary, TermEntry
from winnower.store.dictionaries import import_dictionary
from winnower.store.history import Recorder

FRAMES = Dictionary(
    "Frames",
    (
        Category(("Livelihood",), (TermEntry("lamb*"), TermEntry("flock*"))),
        Category(("Ecology",), (TermEntry("deer"), TermEntry("birch"))),
    ),
)


def with_frames(database, project, account):
    with database.session() as session:
        recorder = Recorder(session, project.id, account.id, "Frames")
        row = import_dictionary(recorder, FRAMES.name, FRAMES)
        recorder.save()
        return row.id


def runs(page):
    page.text("Runs", "a").click()
    page.find("nav[aria-label=Runs]")


def stored(page, name="Frames"):
    """A run of the dictionary as proposals."""
    runs(page)
    page.button("New run").click()
    page.says("[data-testid=run-preview]", "8 passages in 5 texts")
    page.button("Store 8 passages").click()
    page.says("[data-testid=run-head]", name)


def test_a_run_is_tried_stored_and_judged_by_keys(desk, database, project, account):
    page = desk
    with_frames(database, project, account)
    page.driver.refresh()
    runs(page)
    page.text("No run yet")
    assert page.barriers() == []
    stored(page)
    page.says("[data-testid=run-head]", "0 right, 0 wrong, 8 open")
    assert page.barriers() == []
    first = page.find("[data-testid=run-item]").text
    press(page, "f")
    page.says("[data-testid=run-head]", "1 right, 0 wrong, 7 open")
    page.says("[data-testid=run-item]", "right")
    press(page, "x")
    page.says("[data-testid=run-head]", "1 right, 1 wrong, 6 open")
    press(page, "u")  # the third has no verdict: nothing is said
    press(page, "o")
    page.find("input[aria-label='Other code']")
    press(page, "fxu")  # letters that would decide on passages, were the list not open
    page.says("[data-testid=run-head]", "1 right, 1 wrong, 6 open")
    press(page, Keys.BACK_SPACE, Keys.BACK_SPACE, Keys.BACK_SPACE, "ecolog", Keys.ENTER)
    page.says("[data-testid=run-head]", "1 right, 2 wrong, 5 open")
    page.says("[data-testid=run-head]", "Precision")
    # what was judged is no longer among what is open, and undo brings it back
    Select(page.find("select[aria-label='Which passages']")).select_by_visible_text("accepted")
    page.says("[data-testid=queue]", "1 passage")
    assert page.find("[data-testid=run-item]").text.split("\n")[0] == first.split("\n")[0]
    page.button("By code").click()
    page.says("[data-testid=run-codes]", "Livelihood")
    page.button("By text").click()
    page.says("[data-testid=run-texts]", "Nine pages")
    assert page.barriers() == []
    assert page.errors() == []


def test_an_applied_run_stands_in_the_text_and_is_taken_back(desk, database, project, account):
    page = desk
    with_frames(database, project, account)
    page.driver.refresh()
    stored(page)
    page.button("Apply").click()
    page.text("Keep as proposals", "button")
    page.text("Read", "a").click()
    page.says("[data-testid=body]", "lambs")
    page.wait(lambda: len(page.driver.find_elements("css selector", "[data-testid=card]")) >= 1)
    page.text("run", "span")
    page.text("Passages", "a").click()
    page.says("[data-testid=found-count]", "8 passages")
    Select(page.find("select[aria-label='By hand or by a run']")).select_by_visible_text("by hand")
    page.says("[data-testid=found-count]", "0 passages")
    runs(page)
    page.button("Take back").click()
    page.text("Apply again", "button")
    page.text("Passages", "a").click()
    page.text("No passages")
    assert page.errors() == []


def test_a_run_follows_its_dictionary(desk, database, project, account):
    page = desk
    dictionary = with_frames(database, project, account)
    page.driver.refresh()
    stored(page)
    page.driver.execute_script(
        "return fetch(arguments[0]).then(r => r.json()).then(async found => {"
        "  const term = found.categories.flatMap(c => c.terms).find(t => t.source === 'birch');"
        "  await fetch(arguments[0] + '/terms/' + term.id + '?revision=' + term.revision, {method: 'DELETE'}); })",
        f"/api/v1/projects/{project.id}/dictionaries/{dictionary}",
    )
    page.driver.refresh()
    page.button("What changed?").click()
    page.says("[data-testid=step]", "would come")
    page.says("[data-testid=step]", "1 would go")
    assert page.barriers() == []
    page.button("Update the run").click()
    page.text("Undo takes it back")
    press(page, Keys.ESCAPE)
    page.says("[data-testid=run-head]", "7 passages")
    assert page.errors() == []


def test_a_search_is_coded_and_what_cannot_be_read_says_so(desk):
    page = desk
    runs(page)
    page.button("New run").click()
    page.text("No dictionary yet")
    Select(page.find("select[aria-label='What finds']")).select_by_visible_text("hits of the search")
    field = page.find("input[aria-label=Search]")
    field.send_keys("(lamb")
    page.text("bracket")
    field.send_keys("s OR flock)")
    page.says("[data-testid=run-preview]", "5 passages")
    Select(page.find("select[aria-label='What is coded']")).select_by_visible_text("the whole text")
    page.says("[data-testid=run-preview]", "3 passages")
    page.button("Store 3 passages").click()
    page.says("[data-testid=run-head]", "3 passages in 3 texts")
    assert page.errors() == []


def test_names_are_ticked_and_a_run_is_set_beside_hand_coding(desk, database, project, account):
    page = desk
    with_frames(database, project, account)
    page.driver.refresh()
    page.says("[data-testid=body]", "lambs")
    coded(page, "Livelihood")
    stored(page)
    page.button("Beside hand coding").click()
    page.says("[data-testid=beside]", "Livelihood")
    page.text("1 text of the run’s scope", "span")
    assert page.barriers() == []
    page.find("[data-testid=beside] td button").click()
    page.says("[data-testid=beside-unit]", "The lambs are gone.")
    page.button("New run").click()
    Select(page.find("select[aria-label='What finds']")).select_by_visible_text("who speaks")
    page.text("Nobody speaks here")
    page.find("input[placeholder='Name:']").send_keys("^(\\w+) \\w+ are")
    page.says("section[aria-label='Names found']", "1 name, 1 ticked")
    page.says("[data-testid=run-preview]", "1 passage in 1 text")
    field = page.find("input[aria-label='What The is called']")
    field.send_keys(" narrator")
    page.says("[data-testid=run-preview]", "The narrator")
    assert page.errors() == []
