"""Reading and coding in the browser, by keys and by mouse, alone and with somebody else."""

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.actions.action_builder import ActionBuilder
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select
from sqlalchemy import select

from tests.chromium import saved_file
from winnower.store.accounts import make_account
from winnower.store.codebook import codebook_of, make_code
from winnower.store.history import Recorder
from winnower.store.models import PassageRow, TextPlace, TextRow
from winnower.store.passages import code_stretch

LINE = "[data-testid=coding-line] input"


def press(page, *keys, held=()):
    chain = ActionChains(page.driver)
    for key in held:
        chain = chain.key_down(key)
    chain = chain.send_keys(*keys)
    for key in reversed(held):
        chain = chain.key_up(key)
    chain.perform()


def focus(page):
    page.driver.execute_script("document.querySelector('[data-testid=body]').focus()")


def cards(page):
    return page.driver.execute_script(
        "return [...document.querySelectorAll('[data-testid=card] button[aria-expanded] b')].map((e) => e.innerText)"
    )


def chosen(page):
    found = page.driver.find_elements("css selector", "[data-chosen]")
    return "".join(one.text for one in found)


def unfolds(page, said, times=1):
    page.wait(lambda: cards(page).count(said) == times, f"not {times} cards of {said}")


def test_a_text_is_coded_without_the_mouse(desk):
    page = desk
    focus(page)
    press(page, Keys.ARROW_RIGHT)
    page.wait(lambda: chosen(page) == "The")
    press(page, Keys.ARROW_RIGHT, held=(Keys.SHIFT,))
    page.wait(lambda: chosen(page) == "The lambs")
    press(page, "L")
    page.find(LINE)
    press(page, "osses", Keys.ENTER)
    unfolds(page, "Losses")
    press(page, Keys.ARROW_DOWN)
    press(page, Keys.ENTER)
    page.find(LINE)
    press(page, "los")
    press(page, Keys.ENTER, held=(Keys.SHIFT,))
    press(page, "Voice", Keys.ENTER)
    unfolds(page, "Voice")
    unfolds(page, "Losses", 2)
    # the number key of a code that was given before
    press(page, Keys.ARROW_DOWN)
    press(page, "1")
    unfolds(page, "Losses", 3)
    press(page, Keys.ESCAPE)
    press(page, "n")
    page.find("[data-testid=card] textarea")
    press(page, Keys.DELETE)
    unfolds(page, "Losses", 2)
    page.find("button[aria-label=Undo]").click()
    unfolds(page, "Losses", 3)


def test_a_passage_is_commented_weighed_lengthened_and_given_another_code(desk, database):
    page = desk
    focus(page)
    press(page, Keys.ARROW_RIGHT)
    press(page, "Losses", Keys.ENTER)
    unfolds(page, "Losses")
    focus(page)
    press(page, "n")
    page.find("[data-testid=card] textarea").send_keys("Said by whom?")
    page.find("[data-testid=card] [role=radiogroup], [data-testid=card] fieldset")
    page.text("4", "button").click()
    page.says("[data-testid=card]", "4/5")
    focus(page)
    press(page, Keys.ARROW_RIGHT, held=(Keys.SHIFT,))
    page.wait(lambda: stored(database)[0].end == len("The lambs"))
    row = stored(database)[0]
    assert (row.comment, row.strength) == ("Said by whom?", 4)
    page.button("Other code").click()
    page.find(LINE)
    press(page, "los", Keys.ENTER)
    page.button("Remove code").click()
    unfolds(page, "Losses", 0)
    page.find("button[aria-label=Undo]").click()
    unfolds(page, "Losses")


def stored(database):
    with database.session() as session:
        return session.query(PassageRow).order_by(PassageRow.id.desc()).all()


def test_words_are_chosen_with_the_mouse_and_named_by_themselves(desk):
    page = desk
    words = "lost forty"
    page.driver.execute_script(
        "const walk = document.createTreeWalker(document.querySelector('[data-testid=body]'), 4);"
        "for (let at = walk.nextNode(); at; at = walk.nextNode()) {"
        "  const start = at.data.indexOf(arguments[0]); if (start < 0) continue;"
        "  const range = document.createRange();"
        "  range.setStart(at, start); range.setEnd(at, start + arguments[0].length + 1);"
        "  getSelection().removeAllRanges(); getSelection().addRange(range);"
        "  at.parentElement.dispatchEvent(new MouseEvent('mouseup', { bubbles: true })); break; }",
        words,
    )
    page.find(LINE)
    page.wait(lambda: chosen(page) == words)
    press(page, Keys.ENTER, held=(Keys.CONTROL,))
    unfolds(page, words)


PLACE_OF = """
const walk = document.createTreeWalker(document.querySelector('[data-testid=body]'), 4);
for (let at = walk.nextNode(); at; at = walk.nextNode()) {
  const start = at.data.indexOf(arguments[0]);
  if (start < 0) continue;
  const range = document.createRange();
  range.setStart(at, start);
  range.setEnd(at, start + arguments[0].length);
  const rects = range.getClientRects(), first = rects[0], last = rects[rects.length - 1];
  return [first.left + 1, first.top + first.height / 2, last.right - 1, last.top + last.height / 2];
}"""


def test_words_inside_a_passage_are_chosen_and_six_codes_stay_told_apart(desk):
    page = desk
    focus(page)
    press(page, Keys.ARROW_DOWN)
    press(page, "Losses", Keys.ENTER)
    unfolds(page, "Losses")
    words = page.find("[data-passages]").text
    inside = " ".join(words.split()[1:3])
    for code in ("Voice", "Money", "Board", "Fences", "Night"):
        by_mouse(page, inside)
        page.find(LINE)
        page.wait(lambda: chosen(page) == inside)
        press(page, code, Keys.ENTER)
        unfolds(page, code)
    colours = page.driver.execute_script(
        "const one = [...document.querySelectorAll('[data-passages]')]"
        ".sort((a, b) => b.dataset.passages.length - a.dataset.passages.length)[0];"
        "return [one.dataset.passages.split(' ').length, getComputedStyle(one).backgroundPosition.split(',').length]"
    )
    assert colours == [6, 6]
    # a click without a drag opens the card
    x, y, _, _ = page.driver.execute_script(PLACE_OF, inside)
    mouse = ActionBuilder(page.driver)
    mouse.pointer_action.move_to_location(int(x) + 3, int(y)).click()
    mouse.perform()
    page.find("[data-testid=card] textarea[aria-label='Comment on the passage']")
    assert page.errors() == []


def by_mouse(page, words):
    x, y, to_x, to_y = page.driver.execute_script(PLACE_OF, words)
    mouse = ActionBuilder(page.driver)
    mouse.pointer_action.move_to_location(int(x), int(y)).pointer_down()
    mouse.pointer_action.move_to_location(int(x + to_x) // 2, int(y + to_y) // 2)
    mouse.pointer_action.move_to_location(int(to_x) + 1, int(to_y)).pointer_up()
    mouse.perform()


def test_a_half_written_note_is_there_again(desk):
    page = desk
    focus(page)
    press(page, Keys.ARROW_RIGHT, "x")
    page.find(LINE)
    page.button("Note on it").click()
    page.find("textarea[aria-label='Note on these words']").send_keys("Half a thought", Keys.ESCAPE)
    focus(page)
    press(page, Keys.ARROW_DOWN, Keys.ENTER)
    page.button("Note on it").click()
    field = page.find("textarea[aria-label='Note on these words']")
    assert field.get_attribute("value") == "Half a thought"
    page.driver.refresh()
    focus(page) if page.find("[data-testid=body]") else None
    press(page, Keys.ARROW_DOWN, Keys.ENTER)
    page.button("Note on it").click()
    field = page.find("textarea[aria-label='Note on these words']")
    assert field.get_attribute("value") == "Half a thought"
    field.send_keys(" made whole", Keys.CONTROL, Keys.ENTER)
    page.says("[data-testid=card]", "Half a thought made whole")


def test_fields_of_a_code_outlive_a_reload_and_back(desk):
    page = desk
    focus(page)
    press(page, Keys.ARROW_DOWN)
    press(page, "Losses", Keys.ENTER)
    unfolds(page, "Losses")
    page.text("Codebook", "a").click()
    page.find("section[aria-label=Codes]")
    page.text("Losses", "span").click()
    page.find("textarea[id]").send_keys("What was lost")
    page.driver.refresh()
    page.find("section[aria-label=Codes]")
    page.text("Losses", "span").click()
    page.wait(lambda: page.find("textarea[id]").get_attribute("value") == "What was lost")
    page.find("textarea[id]").send_keys(" or hurt")
    page.driver.back()
    page.find("[data-testid=body]")
    page.driver.forward()
    page.find("section[aria-label=Codes]")
    page.text("Losses", "span").click()
    page.wait(lambda: page.find("textarea[id]").get_attribute("value") == "What was lost or hurt")


def test_the_codebook_is_ordered_and_merged_and_passages_are_found_again(desk, project, downloads):
    page = desk
    focus(page)
    for code in ("Losses", "Damage", "Voice"):
        press(page, Keys.ARROW_DOWN)
        press(page, code, Keys.ENTER)
        unfolds(page, code)
    page.text("Codebook", "a").click()
    page.find("section[aria-label=Codes]")  # the reading view has the same names
    page.text("Damage", "span").click()
    press(page, Keys.ARROW_RIGHT, held=(Keys.ALT,))
    page.wait(lambda: indent(page, "Damage") > 0, "Damage lies under Losses")
    field = page.find("textarea[id]")
    field.send_keys("What was lost or hurt")
    Select(page.find("select[aria-label='Merge into']")).select_by_visible_text("Losses")
    page.wait(lambda: "Damage" not in page.find("section[aria-label=Codes]").text)
    page.find("button[aria-label=Undo]").click()
    page.text("Damage", "span")
    page.text("Passages", "a").click()
    page.says("[data-testid=found-count]", "3 passages in 1 text")
    Select(page.find("select[aria-label='Code asked for']")).select_by_visible_text("Losses")
    page.says("[data-testid=found-count]", "2 passages")
    page.find("[data-testid=found] input").click()
    Select(page.find("select[aria-label='Move to']")).select_by_visible_text("Voice")
    page.says("[data-testid=found-count]", "1 passage")
    page.find("[data-testid=found] input").click()
    page.find("input[aria-label='Name of a new code for these']").send_keys("Hurt", Keys.ENTER)
    page.text("Hurt", "span")
    page.find("button[aria-label=Undo]").click()
    page.says("[data-testid=found-count]", "1 passage")
    page.button("Export").click()
    page.text("Passages as .csv", "div").click()
    assert "Damage" in saved_file(downloads, ".csv").read_text(encoding="utf-8-sig")
    page.find("[data-testid=found] a").click()
    page.find("[data-testid=body]")


def indent(page, name):
    return page.driver.execute_script(
        "const row = [...document.querySelectorAll('section[aria-label=Codes] button')]"
        ".find((e) => e.innerText.includes(arguments[0]));"
        "return row ? parseInt(row.querySelector('span').style.paddingLeft) : 0",
        name,
    )


def test_what_somebody_else_codes_is_seen_without_reloading(desk, project, database):
    page = desk
    text_id = int(page.driver.current_url.split("/")[-1].split("?")[0])
    with database.session() as session:
        other = make_account(session, f"orla{project.id}", "Orla Venn", "a long password")
        recorder = Recorder(session, project.id, other.id, "by another")
        code = make_code(recorder, codebook_of(session, project.id), "Hers")
        code_stretch(recorder, text_id, (0, 9), [code])
        recorder.save()
    unfolds(page, "Hers")
    assert "OV" in page.find("[data-testid=card]").text
    page.text("Marks", "button").click()
    Select(page.find("select[aria-label='Marks of']")).select_by_visible_text("you alone")
    unfolds(page, "Hers", 0)


def test_what_one_speaker_says_is_left_out_of_counts_in_one_click(desk, database, project):
    page = desk
    with database.session() as session:
        asked = select(TextRow.id).where(TextRow.project_id == project.id, TextRow.title == "Nine pages")
        text_id = session.scalars(asked).one()
        places = ((0, "Una"), (len("The lambs are gone. "), "Rosa Thirl"))
        for seq, (start, name) in enumerate(places):
            session.add(TextPlace(text_id=text_id, seq=seq, kind="turn", start=start, label=name, level=0))
    page.driver.refresh()
    page.find("[data-paragraph] button[aria-haspopup=menu]").click()
    page.text("Leave out what Una says", "div").click()
    page.find("button[aria-label*=Una]")
    size = page.find("[data-testid=scope-size]").text
    page.wait(lambda: "words" in size, size)
    assert page.errors() == []


def test_words_of_a_text_and_its_paragraphs_are_found_by_a_key(desk, project):
    page = desk
    focus(page)
    press(page, "/")
    page.find("input[aria-label='Find in this text']")
    press(page, "FLOCK")
    page.says("[data-testid=found-in-text]", "1 of 2")
    press(page, Keys.ENTER)
    page.says("[data-testid=found-in-text]", "2 of 2")
    painted = page.driver.execute_script(
        "return [CSS.highlights.get('found').size, String([...CSS.highlights.get('found-now')][0])]"
    )
    assert painted == [2, "flock"]
    press(page, Keys.BACKSPACE, " zebra")
    page.says("[data-testid=found-in-text]", "Not in this text")
    press(page, Keys.ESCAPE)
    page.wait(lambda: not page.driver.find_elements("css selector", "input[aria-label='Find in this text']"))
    text_id = page.driver.current_url.partition("/read/")[2].partition("?")[0]
    page.open(f"/projects/{project.id}/corpus/{text_id}")
    page.says("[data-testid=body]", "lambs")
    press(page, "/")
    page.find("input[aria-label='Find in this text']")
    press(page, "1")
    page.says("[data-testid=found-in-text]", "paragraph 1")
    press(page, Keys.ENTER, Keys.ESCAPE)
    assert page.errors() == []
