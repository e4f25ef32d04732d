"""A walk by chance over all views of four kinds of projects: clicking, typing, choosing, keys, going back, resizing.
Nothing may leave a white page, an error in the console, an answer of the server's own failure, or words that are none.

A failure prints its trail, which is walked again with ``WINNOWER_WALK=seed``.
"""

import os
import time
from pathlib import Path

import pytest
from selenium.common.exceptions import JavascriptException, TimeoutException

from tests.browser.test_every_view import VIEWS, kind  # noqa: F401
from tests.chromium import Page, chromium

#: So many steps on each kind of project at the most, within so many seconds.
STEPS = int(os.environ.get("WINNOWER_WALK_STEPS", 520))
SECONDS = 45 * int(os.environ.get("WINNOWER_WALK_TIMES", 1))
SEED = int(os.environ.get("WINNOWER_WALK", 7))
WALK = (Path(__file__).parent / "walk.js").read_text(encoding="utf-8")
SIZES = ((1280, 800), (1920, 1080), (820, 700))
#: Collects what the page's own scripts fail with, and answers of the server's failures.
WATCH = """
if (!window.__walk) {
  window.__walk = { errors: [] };
  const note = (what) => window.__walk.errors.push(String(what).slice(0, 600));
  addEventListener("error", (event) => event.message && !/ResizeObserver loop/.test(event.message) && note(`uncaught: ${event.message} ${event.error?.stack ?? ""}`));
  addEventListener("unhandledrejection", (event) => note(`unhandled: ${event.reason?.stack ?? event.reason}`));
  const plain = console.error;
  console.error = (...given) => { note(`console: ${given.map((one) => one?.stack ?? one).join(" ")}`); plain(...given); };
  const fetched = window.fetch.bind(window);
  window.fetch = async (...given) => {
    const answer = await fetched(...given);
    if (answer.status >= 500 && answer.status !== 503) note(`${answer.status} of ${given[0]?.method ?? "GET"} ${given[0]?.url ?? given[0]}`);
    return answer;
  };
}
"""


def test_a_walk_by_chance_breaks_nothing(kind, address, account, project):  # noqa: F811
    views = [f"/projects/{project.id}/{view}" for view in VIEWS]
    with chromium() as driver:
        page = Page(driver, address)
        page.open("/")
        page.sign_in(account.name, "a long password")
        driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": WATCH})
        page.open(f"/projects/{project.id}/corpus")
        page.settled()
        driver.set_script_timeout(10)
        trail, until = [], time.monotonic() + SECONDS
        for step in range(STEPS):
            if time.monotonic() > until:
                break
            if step % 90 == 89:
                width, height = SIZES[step // 90 % len(SIZES)]
                size = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
                driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
                trail.append(f"resize to {width} by {height}")
            try:
                found = driver.execute_async_script(WALK, SEED, step, views)
            except (TimeoutException, JavascriptException):  # the page was loaded anew under it, or is busy
                told = driver.execute_script("return sessionStorage.getItem('walk')")
                trail.append(f"{step}: {told}   [left the page]")
                page.open(f"/projects/{project.id}/corpus")
                continue
            trail.append(f"{step}: {found['told']}   [{found['where']}]")
            if found["wrong"]:
                told = "\n".join(trail[-25:])
                pytest.fail(f"seed {SEED}, {kind}, step {step}: {found['wrong']}\n{told}")
        assert len(trail) >= min(STEPS, 150), f"only {len(trail)} steps in {SECONDS} s"
