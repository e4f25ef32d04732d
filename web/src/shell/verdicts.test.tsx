// @vitest-environment jsdom
import { screen, waitFor, within } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { askedFor, Refused, SUMMARY, serve, show } from "../testing/served";
import { type VerdictsOf, VerdictsPanel } from "./verdicts";

const WHAT: VerdictsOf = {
  subject: "category",
  subject_id: 2,
  part: null,
  kind: "hit",
  shows: "all",
  title: "Livelihood",
  colour: 0,
};
const LIST = "POST /review/category/2/verdicts";
const JUDGE = "POST /review/category/2/judge";
const JUDGES = [
  { id: 4, name: "Ivo Crane", verdicts: 2, yes: 1 },
  { id: 9, name: "Mira Tolland", verdicts: 3, yes: 2 },
];
const verdict = (by: string, mine: boolean, said: number) => ({
  by,
  mine,
  verdict: said,
  version: 2,
  made_at: "2031-06-02T09:00:00",
});

function item(text_id: number, words: string, ...verdicts: unknown[]) {
  return {
    text_id,
    start: 0,
    end: 5,
    verdicts,
    passage: {
      text_id,
      title: "Nine pages",
      source: "Hill Farmer",
      date: "2031-06-03",
      paragraph: 2,
      before: "",
      text: words,
      after: "",
      marks: [{ start: 0, end: 5 }],
    },
  };
}

const ITEMS = [
  item(1, "flock of the north", verdict("Mira Tolland", true, 1), verdict("Ivo Crane", false, 0)),
  item(2, "flocked to the hall", verdict("Ivo Crane", false, 0)),
  item(3, "flocks came down", verdict("Mira Tolland", true, 1)),
];
const page = (more = {}) => ({
  sizes: { all: 3, right: 1, wrong: 2, differ: 1, idle: 4 },
  judges: JUDGES,
  start: 0,
  next: null,
  items: ITEMS,
  ...more,
});

function panel(answers: Parameters<typeof serve>[0] = {}, what: Partial<VerdictsOf> = {}) {
  const asked = serve({ [LIST]: () => page(), [JUDGE]: () => ({}), ...answers });
  return { asked, ...show(<VerdictsPanel what={{ ...WHAT, ...what }} onClose={() => {}} />) };
}
const passages = () => within(screen.getByLabelText("Verdicts"));

test("every place tells who said what, when, and on which version", async () => {
  panel();
  await screen.findByText(/of the north/);
  expect(
    passages().getByText("You: fits, 2 Jun 2031, version 2; Ivo Crane: does not, 2 Jun 2031, version 2"),
  ).toBeTruthy();
  expect(screen.getByTestId("verdicts-shown").textContent).toBe("3 of 3 places");
  expect(screen.getAllByRole("option").map((one) => one.textContent)).toEqual([
    "All that count (3)",
    "Fits (1)",
    "Does not fit (2)",
    "Judged differently (1)",
    "Not counted now (4)",
    "By anybody",
    "Ivo Crane (2)",
    "Mira Tolland (3)",
  ]);
});

test("verdicts are filtered by what was said and by whom", async () => {
  const { asked, user } = panel();
  await screen.findByText(/of the north/);
  await user.selectOptions(screen.getByLabelText("Which verdicts"), "Judged differently (1)");
  await user.selectOptions(screen.getByLabelText("By whom"), "Ivo Crane (2)");
  await waitFor(() =>
    expect(askedFor(asked, LIST).at(-1)).toMatchObject({
      show: "differ",
      judge: 4,
      kind: "hit",
      part: null,
    }),
  );
});

test("a verdict is given, changed and taken back by key, without moving the places", async () => {
  const { asked, user } = panel();
  await screen.findByText(/of the north/);
  await user.keyboard("x{ArrowDown}u");
  await waitFor(() => expect(askedFor(asked, JUDGE)).toHaveLength(2));
  expect(askedFor(asked, JUDGE).map((one) => [one.text_id, one.verdict])).toEqual([
    [1, 0],
    [3, null],
  ]);
  expect(askedFor(asked, LIST)).toHaveLength(1);
  expect(
    passages()
      .getAllByText(/^(\?|fits|no)$/)
      .map((one) => one.textContent),
  ).toEqual(["no", "?", "?"]);
});

test("a long list is read page by page", async () => {
  const { asked, user } = panel({
    [LIST]: (body) =>
      page(body.start ? { start: 2, items: ITEMS.slice(2) } : { next: 2, items: ITEMS.slice(0, 2) }),
  });
  await screen.findByText(/of the north/);
  expect(screen.queryByText(/came down/)).toBeNull();
  await user.click(screen.getByText("Show more"));
  await screen.findByText(/came down/);
  expect(askedFor(asked, LIST).map((one) => one.start)).toEqual([0, 2]);
  expect(screen.queryByText("Show more")).toBeNull();
});

test("readers read the verdicts and cannot give any", async () => {
  const { asked, user } = panel({ "GET /": () => ({ ...SUMMARY, role: "reader" }) });
  await screen.findByText(/of the north/);
  await waitFor(() => expect(screen.queryByText("take back")).toBeNull());
  await user.keyboard("fx");
  expect(askedFor(asked, JUDGE)).toEqual([]);
  expect(screen.queryByText("Fits", { selector: "button" })).toBeNull();
  expect(screen.getByText("Read on")).toBeTruthy();
});

test("the list goes out as a file, and a refusal is told", async () => {
  vi.stubGlobal("URL", Object.assign(URL, { createObjectURL: () => "blob:one", revokeObjectURL: () => {} }));
  const { asked, user } = panel(
    { "POST /review/category/2/verdicts/export": () => new Refused(422, "Too many at once.") },
    { part: 12 },
  );
  await screen.findByText(/of the north/);
  await user.click(screen.getByText("Export ▾"));
  await user.click(await screen.findByText("One line a verdict, .csv"));
  expect((await screen.findByRole("alert")).textContent).toContain("Too many at once.");
  expect(askedFor(asked, "POST /review/category/2/verdicts/export")[0]).toMatchObject({
    part: 12,
    show: "all",
  });
});

test("where nothing was said, that is said", async () => {
  panel({ [LIST]: () => page({ items: [], judges: [], sizes: {} }) }, { kind: "text" });
  await screen.findByText("No such verdict in this scope.");
  expect(screen.getByText("Verdicts on texts without a hit")).toBeTruthy();
  expect(screen.getByText("Correctly without (0)")).toBeTruthy();
});
