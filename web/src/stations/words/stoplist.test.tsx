// @vitest-environment jsdom
import { screen, waitFor } from "@testing-library/react";
import { expect, test } from "vitest";
import { askedFor, serve, show } from "../../testing/served";
import { StopList } from "./stoplist";

const CHANGE = "POST /words/stop-list";
const settings = (more = {}) =>
  ({
    language: "en",
    languages: ["de", "en"],
    has_lemmas: true,
    shipped: ["and", "of", "the"],
    added: ["said"],
    kept: ["of"],
    ...more,
  }) as never;

function list(more = {}, writes = true) {
  const asked = serve({
    [CHANGE]: () => ({ label: "Stop list" }),
    "PUT /words/language": () => ({ label: "Language" }),
  });
  return { asked, ...show(<StopList open settings={settings(more)} writes={writes} onClose={() => {}} />) };
}

test("words of one's own come first, words kept in the counts stand apart", () => {
  list();
  expect(screen.getByText("Left out: 3")).toBeTruthy();
  expect(
    screen.getAllByTitle("Take it off the stop list").map((one) => one.getAttribute("aria-label")),
  ).toEqual([
    "Take it off the stop list: said",
    "Take it off the stop list: and",
    "Take it off the stop list: the",
  ]);
  expect(screen.getByLabelText("Put it back on the stop list: of")).toBeTruthy();
});

test("several words are added at once", async () => {
  const { asked, user } = list();
  await user.type(screen.getByLabelText("Add words"), "spokesman, according;  per cent{Enter}");
  await waitFor(() =>
    expect(askedFor(asked, CHANGE)).toEqual([
      { forms: ["spokesman", "according", "per", "cent"], listed: true },
    ]),
  );
  expect(screen.getByLabelText<HTMLInputElement>("Add words").value).toBe("");
});

test("a word is taken off, and one is put back", async () => {
  const { asked, user } = list();
  await user.click(screen.getByLabelText("Take it off the stop list: and"));
  await user.click(screen.getByLabelText("Put it back on the stop list: of"));
  await waitFor(() =>
    expect(askedFor(asked, CHANGE)).toEqual([
      { forms: ["and"], listed: false },
      { forms: ["of"], listed: true },
    ]),
  );
});

test("a long list shows its beginning and is found in", async () => {
  const { user } = list({ shipped: Array.from({ length: 900 }, (_, n) => `word${n}`) });
  expect(screen.getAllByTitle("Take it off the stop list")).toHaveLength(400);
  expect(screen.getByText(/Only 400 are shown/)).toBeTruthy();
  await user.type(screen.getByLabelText("Find on the stop list"), "WORD899");
  expect(screen.getAllByTitle("Take it off the stop list")).toHaveLength(1);
});

test("the language is chosen, and one without a list says so", async () => {
  const { asked, user } = list({ language: "none", shipped: [] });
  expect(screen.getByText(/No list ships for it/)).toBeTruthy();
  await user.selectOptions(screen.getByLabelText("Language of the texts"), "German");
  await waitFor(() =>
    expect(askedFor(asked, "PUT /words/language")).toEqual([{ language: "de", seen: "none" }]),
  );
});

test("readers look only", () => {
  list({}, false);
  expect(screen.queryByLabelText("Add words")).toBeNull();
  expect(screen.queryByTitle("Take it off the stop list")).toBeNull();
  expect(screen.getByLabelText<HTMLSelectElement>("Language of the texts").disabled).toBe(true);
});
