"""A headless Chromium, for the browser tests and the screenshots."""

from __future__ import annotations

import os
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from selenium import webdriver
from selenium.common.exceptions import StaleElementReferenceException
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

FLAGS = (
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-dev-shm-usage",
    "--force-color-profile=srgb",
    "--hide-scrollbars",
    # what fades in is not there for a moment: of two fields the second could be found first
    "--force-prefers-reduced-motion",
)
#: A page is waited for this long at most; machines that do much else at the same time need it.
WAIT_S = int(os.environ.get("WINNOWER_TEST_WAIT", 60))
CALM_TRIES = 15
AXE = Path(__file__).resolve().parents[1] / "web" / "node_modules" / "axe-core" / "axe.min.js"


def saved_file(folder: Path, ending: str) -> Path:
    """The one file with an ending that the browser saved to a folder, once it is whole.

    The browser first reserves the name with an empty file and writes under a hidden name or one
    ending in ``.crdownload``, which it renames at last.
    """
    until = time.monotonic() + WAIT_S
    while time.monotonic() < until:
        files = list(folder.iterdir())
        passing = [f for f in files if f.name.startswith(".") or f.suffix == ".crdownload"]
        whole = [f for f in files if f.suffix == ending and f not in passing]
        if not passing and len(whole) == 1 and whole[0].stat().st_size:
            return whole[0]
        time.sleep(0.1)
    raise AssertionError(f"no whole {ending} file: {[f.name for f in folder.iterdir()]}")


@contextmanager
def chromium(
    width: int = 1280, height: int = 800, downloads: Path | None = None
) -> Iterator[webdriver.Chrome]:
    """A browser with an empty profile; files it saves go to ``downloads``."""
    with tempfile.TemporaryDirectory() as profile:
        options = Options()
        options.binary_location = "/usr/bin/chromium"
        for flag in (*FLAGS, f"--window-size={width},{height}", f"--user-data-dir={profile}"):
            options.add_argument(flag)
        options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
        if downloads is not None:
            options.add_experimental_option("prefs", {"download.default_directory": str(downloads)})
        driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
        # the window's frame takes some of its size: ask for the size of the page itself
        driver.execute_cdp_cmd(
            "Emulation.setDeviceMetricsOverride",
            {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False},
        )
        try:
            yield driver
        finally:
            driver.quit()


#: A dialog that opens takes the focus a moment after it is there.
GONE = """
const [path, done] = arguments, began = performance.now();
let changed = 0;
const watch = new MutationObserver(() => (changed = performance.now()));
watch.observe(document.body, {subtree: true, childList: true, attributes: true, characterData: true});
history.pushState({}, "", path);
dispatchEvent(new PopStateEvent("popstate", {state: {}}));
const look = () => {
  const now = performance.now();
  if (changed ? now - changed < 120 && now - began < 3000 : now - began < 1000) return requestAnimationFrame(look);
  watch.disconnect();
  done();
};
look();
"""
FOCUS_INSIDE = "return document.activeElement?.closest('[role=dialog]') != null"


def _clicked_again(found: WebElement, again: Callable[[], WebElement]) -> WebElement:
    """An element whose click goes to the one in its place, where the page was drawn anew since it was found."""
    plain = found.click

    def click() -> None:
        try:
            plain()
        except StaleElementReferenceException:
            again().click()

    found.click = click  # type: ignore[method-assign]
    return found


class Page:
    """Finding and using what a person sees."""

    def __init__(self, driver: webdriver.Chrome, address: str) -> None:
        self.driver, self.address = driver, address

    def _waiting(self) -> WebDriverWait:
        """A page that is drawn anew in the meantime is looked at again."""
        return WebDriverWait(self.driver, WAIT_S, 0.1, [StaleElementReferenceException])

    def says(self, css: str, words: str) -> str:
        """The whole text of an element, once it holds these words."""

        def said(_):
            text = self.find(css).text
            return text if words in text else False

        return str(self._waiting().until(said, f"{css} does not say “{words}”"))

    def open(self, path: str) -> None:
        self.driver.get(self.address + path)

    def go(self, path: str) -> None:
        """To another view as links lead there, without loading the page anew; waits until the page has changed and
        stands still, or does not change."""
        self.driver.execute_async_script(GONE, path)

    def find(self, css: str) -> WebElement:
        """Waits until it is there and shown."""

        def shown(driver):
            found = [e for e in driver.find_elements(By.CSS_SELECTOR, css) if e.is_displayed()]
            if css.startswith("[role=dialog] input") and not driver.execute_script(FOCUS_INSIDE):
                return False  # keys sent before the dialog takes the focus would go elsewhere
            return found[0] if found else False

        found = self._waiting().until(shown, f"nothing shown for {css}")
        return _clicked_again(found, lambda: self.find(css))

    def text(self, words: str, tag: str = "*") -> WebElement:
        """The innermost element with these words, waited for."""
        path = f"//{tag}[contains(normalize-space(.), {_quoted(words)})][not(.//*[contains(normalize-space(.), {_quoted(words)})])]"

        def shown(driver):
            found = [e for e in driver.find_elements(By.XPATH, path) if e.is_displayed()]
            return found[0] if found else False

        found = self._waiting().until(shown, f"no “{words}” on the page")
        return _clicked_again(found, lambda: self.text(words, tag))

    def button(self, words: str) -> WebElement:
        path = f"//button[normalize-space(.)={_quoted(words)}]"

        def ready(driver):
            found = [e for e in driver.find_elements(By.XPATH, path) if e.is_displayed() and e.is_enabled()]
            return found[0] if found else False

        found = self._waiting().until(ready, f"no button “{words}”")
        return _clicked_again(found, lambda: self.button(words))

    def wait(self, condition, what: str = "") -> object:
        return self._waiting().until(lambda _: condition(), what)

    def described(self) -> str:
        """Address, what has the focus, what is in the fields and the words shown, for reports."""
        return str(
            self.driver.execute_script(
                "const fields = [...document.querySelectorAll('input, textarea, select')];"
                "const name = (e) => e.getAttribute('aria-label') ?? e.name ?? e.id;"
                "return [decodeURI(location.href), `focus: ${document.activeElement?.outerHTML.slice(0, 200)}`,"
                "...fields.map((e) => `${e.type} ${name(e)}: ${e.value}${e.disabled ? ' (disabled)' : ''}`),"
                "...[...document.querySelectorAll('[role=dialog]')].map((e) => e.outerHTML.slice(0, 1500)),"
                "document.body.innerText].join('\\n').slice(0, 8000)"
            )
        )

    def settled(self) -> None:
        """Waits until nothing on the page says that it is waiting."""
        busy = "return [...document.querySelectorAll('[role=status]')].some((e) => e.innerText.endsWith('…'))"
        self.wait(lambda: not self.driver.execute_script(busy), "the page goes on waiting")

    def barriers(self) -> list[str]:
        """What stands in the way of people who use a page otherwise than by looking and pointing: rules of
        WCAG 2 A and AA that axe finds broken, each with the first place. What is faint only while an answer is
        on its way is no barrier, so it is looked at again for some seconds."""
        if not self.driver.execute_script("return Boolean(window.axe)"):
            self.driver.execute_script(AXE.read_text(encoding="utf-8"))
        for _ in range(CALM_TRIES):
            if not (found := self._broken_rules()):
                break
            time.sleep(1)
        return found

    def _broken_rules(self) -> list[str]:
        found = self.driver.execute_async_script(
            "const done = arguments[arguments.length - 1];"
            "axe.run(document, {runOnly: ['wcag2a', 'wcag2aa']}).then((r) => done(r.violations.map((v) => "
            "`${v.id}: ${v.nodes[0].target.join(' ')} (${v.nodes.length}): ${v.nodes[0].html.slice(0, 200)}`)))"
        )
        return [str(one) for one in found]

    def sign_in(self, name: str, password: str) -> None:
        self.find("input[name=name]").send_keys(name)
        self.find("input[name=password]").send_keys(password)
        self.button("Sign in").click()
        self.text("Projects", "h1")

    def errors(self) -> list[str]:
        """What the browser's console calls severe, but for answers the tests provoke."""
        log = self.driver.get_log("browser")
        return [
            entry["message"]
            for entry in log
            if entry["level"] == "SEVERE" and "status of 4" not in entry["message"]
        ]


def _quoted(words: str) -> str:
    return f"'{words}'" if "'" not in words else f'"{words}"'
