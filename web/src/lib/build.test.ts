// @vitest-environment jsdom
import { afterEach, expect, test, vi } from "vitest";
import { entryOf, isTyping, watchBuild } from "./build";

const page = (name: string) => `<script type="module" crossorigin src="/assets/index-${name}.js"></script>`;
const reload = vi.fn();
vi.stubGlobal("location", { ...window.location, reload });

afterEach(() => {
  document.body.innerHTML = "";
  sessionStorage.clear();
  reload.mockClear();
});

/** The server has a build; the page is told that somebody came back to it. */
async function back(build: string, isBusy = () => false) {
  document.body.innerHTML = page("old");
  vi.stubGlobal(
    "fetch",
    vi.fn(async () => new Response(page(build))),
  );
  const stop = watchBuild(isBusy);
  window.dispatchEvent(new Event("focus"));
  await new Promise((resolve) => setTimeout(resolve, 5));
  stop();
}

test("the entry of a page is its first script of the build", () => {
  expect(entryOf(page("a1"))).toBe("/assets/index-a1.js");
  expect(entryOf('<script src="/src/main.tsx"></script>')).toBeNull();
});

test("another build is loaded, the same one is not, and twice in a row is not", async () => {
  await back("old");
  expect(reload).not.toHaveBeenCalled();
  await back("new");
  expect(reload).toHaveBeenCalledTimes(1);
  await back("newer");
  expect(reload).toHaveBeenCalledTimes(1);
});

test("nothing is loaded while something is unsaved", async () => {
  await back("new", () => true);
  expect(reload).not.toHaveBeenCalled();
  document.body.innerHTML = "<input value='half' />";
  document.querySelector("input")!.focus();
  expect(isTyping()).toBe(true);
});
