"""A slow line in the browser: every answer comes late, and some come after those that were asked for later."""

from contextlib import contextmanager

from selenium.webdriver.common.action_chains import ActionChains

#: Added to every request by the browser itself.
LATENCY_MS = 1_200
#: Every second answer to a change or a question comes later still.
LATER_MS = 900
#: Between two keys of somebody who types quickly.
KEY_S = 0.05
#: Where a page holds answers back, it counts those that are on their way.
HELD = f"""
(() => {{
  if (window.__slow) return;
  window.__slow = {{ open: 0, count: 0, late: {LATER_MS} }};
  const plain = window.fetch.bind(window);
  window.fetch = async (...given) => {{
    const late = window.__slow.count++ % 2 ? window.__slow.late : 0;
    window.__slow.open += 1;
    try {{
      const answer = await plain(...given);
      if (late) await new Promise((done) => setTimeout(done, late));
      return answer;
    }} finally {{
      window.__slow.open -= 1;
    }}
  }};
}})();
"""


@contextmanager
def slow_line(page):
    """From now on the page's line is slow, for as long as this lasts."""
    page.driver.execute_script(HELD)
    page.driver.execute_script(f"window.__slow.late = {LATER_MS}")
    _latency(page, LATENCY_MS)
    try:
        yield
    finally:
        _latency(page, 0)
        page.driver.execute_script("if (window.__slow) window.__slow.late = 0")


def _latency(page, ms):
    page.driver.execute_cdp_cmd("Network.enable", {})
    page.driver.execute_cdp_cmd(
        "Network.emulateNetworkConditions",
        {"offline": False, "latency": ms, "downloadThroughput": -1, "uploadThroughput": -1},
    )


def type_quickly(page, *keys):
    """Press keys one after another, 50 ms apart, wherever the focus is; words are typed letter by letter."""
    chain = ActionChains(page.driver, duration=0)
    for word in keys:
        for key in word:
            chain.send_keys(key).pause(KEY_S)
    chain.perform()


def all_saved(page):
    """Waits until nothing waits to be saved, and no answer is on its way."""
    page.wait(
        lambda: page.driver.execute_script(
            "return !document.querySelector('[data-waiting=waiting], [data-waiting=saved]')"
        ),
        "something goes on waiting to be saved",
    )
