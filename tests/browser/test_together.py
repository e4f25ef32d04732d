"""Two people at the same things: both versions are shown, nothing of the other's goes with an undo."""

import time

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from sqlalchemy import select

from tests.browser.test_instrument import choose, project, terms  # noqa: F401 (a fixture)
from winnower.core.dictionary import TermEntry
from winnower.store import dictionaries as store
from winnower.store.accounts import make_account
from winnower.store.history import Recorder
from winnower.store.models import DictionaryRow


@pytest.fixture
def somebody(database):
    """Another person, who changes the newest dictionary."""
    with database.session() as session:
        other = make_account(session, f"other{time.time_ns()}", "Orla Venn", "a long password")

    def change(act):
        with database.session() as session:
            row = session.scalars(select(DictionaryRow).order_by(DictionaryRow.id.desc()).limit(1)).one()
            recorder = Recorder(session, row.project_id, other.id, "by another")
            act(recorder, store.load(session, row))
            recorder.save()

    return change


def closed(page):
    """Whether no dialog is open; else escape is pressed once more."""
    if not page.driver.find_elements("css selector", "[role=dialog]"):
        return True
    ActionChains(page.driver).send_keys(Keys.ESCAPE).perform()
    return False


def test_both_versions_are_shown_and_one_is_chosen(project, somebody):  # noqa: F811
    page = project
    for says, chosen, left in (
        ("Keep theirs", "What Orla wrote.", "What I wrote."),
        ("Keep mine", "What I wrote.", "What Orla wrote again."),
    ):
        theirs = "What Orla wrote." if says == "Keep theirs" else "What Orla wrote again."
        choose(page, "Category menu", "Rename, describe, recolour")
        field = page.find("[role=dialog] textarea")
        somebody(lambda r, d, text=theirs: r.update(d.categories[0], {"description": text}))
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys("What I wrote.")
        page.button("Save").click()
        page.says("[role=dialog]:last-of-type", "Somebody changed this in the meantime")
        page.text(theirs, "div")
        page.text("What I wrote.", "div")
        page.button(says).click()
        page.wait(lambda: not page.driver.find_elements("css selector", "[role=dialog] table"))
        page.wait(lambda: closed(page))
        page.text(chosen)
        assert left not in page.find("main").text


def test_what_somebody_else_added_does_not_go_with_an_undo(project, somebody):  # noqa: F811
    page = project
    page.button("+ Within this one").click()
    page.find("input[aria-label='New category within Livelihood']").send_keys("Losses", Keys.ENTER)
    page.says("h1", "Losses")
    losses = "Losses"
    somebody(
        lambda r, d: store.add_terms(
            r, d, next(c.id for c in d.categories if c.name == losses), [TermEntry("carcass*")]
        )
    )
    page.find("button[aria-label=Undo]").click()
    page.says("[role=alert]", "1 term by Orla Venn would go with it. Nothing was changed")
    page.button("Pass over it").click()
    page.text("Left as it is: New category Losses. The change beside it comes next.")
    page.driver.refresh()
    page.says("section[aria-label=Categories]", "Losses")
    undo = page.find("button[aria-label=Undo]")
    page.wait(lambda: "Import dictionary" in (undo.get_attribute("title") or ""))


def test_a_password_is_changed_and_other_sessions_end(project, address):  # noqa: F811
    page = project
    choose(page, "BP: signed in as Browser Person", "Password and sessions")
    page.says("[role=dialog]", "Where you are signed in")
    page.says("[role=dialog] ul", "Chrome")
    old, new = page.driver.find_elements("css selector", "[role=dialog] input[type=password]")
    old.send_keys("not the one")
    new.send_keys("a new long password")
    page.button("Change the password").click()
    page.says("[role=dialog]", "The current password is another one")
    old.send_keys(Keys.CONTROL, "a")
    old.send_keys("a long password")
    page.button("Change the password").click()
    page.says("[role=dialog] [role=status]", "The password is changed")
    page.button("Close").click()
