// @vitest-environment jsdom
import { screen, waitFor, within } from "@testing-library/react";
import { expect, test } from "vitest";
import { type Answers, askedFor, Refused, serve, show } from "../../testing/served";
import { Compare } from "./compare";

const FIELDS = [
  { key: "source", name: "Source", kind: "category", can_split: true, missing: 0, different: 2, values: [] },
  { key: "date", name: "Date", kind: "date", can_split: true, missing: 0, different: 9, values: [] },
  { key: "words", name: "Words", kind: "number", can_split: false, missing: 0, different: 40, values: [] },
  { key: "v1", name: "Tags", kind: "several", can_split: true, missing: 0, different: 3, values: [] },
  { key: "title", name: "Title", kind: "text", can_split: false, missing: 0, different: 0, values: [] },
];
const measure = (name: string, needs = "") => ({
  name,
  label: `The ${name}`,
  unit: "hits",
  axis: "per 1,000 words",
  form: "number",
  has_interval: true,
  needs,
});
const MEASURES = [measure("rate"), measure("adjusted", "held"), measure("precision", "judged")];

const cell = (value: number) => ({
  value,
  low: value / 2,
  high: value * 2,
  hits: 10,
  texts: 5,
  distance: 0.5,
  stands_out: 0,
});

function table(comparison: object) {
  return {
    comparison,
    target: "Dictionary “Frames”",
    version: null,
    noun: "category",
    nouns: "categories",
    measure: MEASURES[0],
    unit: "the text",
    groups: [
      { label: "Hill Farmer", pair: [], texts: 20, words: 4000 },
      { label: "Valley Wire", pair: [], texts: 20, words: 5000 },
    ],
    rows: [
      {
        key: "Livelihood",
        label: "Livelihood",
        name: "Livelihood",
        depth: 0,
        colour: 0,
        tested: true,
        p: 0.01,
        evenness: 0.1,
        cells: [cell(4), cell(2)],
      },
    ],
    statements: [{ kind: "test", headline: "The rate of Livelihood differs.", strong: [], details: "" }],
    test: { reason: null },
    method: [{ heading: "Measure", words: "Hits over words.", source: "" }],
    texts_in_scope: 40,
  };
}

const ratio = (value: number, wide = true) => ({
  ratio: value,
  low: wide ? value / 2 : null,
  high: wide ? value * 2 : null,
});
const MODEL = {
  statements: [
    {
      kind: "test",
      headline: "Controlling for “Words”, the rate differs by “Source”.",
      strong: [],
      details: "",
    },
  ],
  fields: [
    {
      name: "Source",
      reference: 1,
      levels: [
        { label: "Hill Farmer", words: 4000, condition: null },
        { label: "Valley Wire", words: 5000, condition: null },
      ],
      rows: [
        {
          key: "Livelihood",
          label: "Livelihood",
          colour: 0,
          reason: null,
          p: 0.02,
          cells: [ratio(1.5), ratio(1)],
        },
        { key: "Ecology", label: "Ecology", colour: 1, reason: "too few hits", p: null, cells: [] },
      ],
    },
    {
      name: "Words",
      reference: 0,
      levels: [
        {
          label: "under 50",
          words: 900,
          condition: { kind: "numbers", field: "words", low: null, high: 49, exclude: false },
        },
        {
          label: "50 and over",
          words: 8100,
          condition: { kind: "numbers", field: "words", low: 50, high: null, exclude: false },
        },
      ],
      rows: [
        {
          key: "Livelihood",
          label: "Livelihood",
          colour: 0,
          reason: null,
          p: 0.4,
          cells: [ratio(1), ratio(1.1, false)],
        },
      ],
    },
  ],
};
const TERMS = {
  statements: [
    {
      kind: "warning",
      headline: "Without “lamb*”, the rate of Livelihood differs no more.",
      strong: [],
      details: "",
    },
  ],
  terms: [
    {
      row: "Livelihood",
      label: "Livelihood",
      colour: 0,
      term: { source: "lamb*", match_case: true, ignore_accents: false, note: "", forms_of: "" },
      share: 0.6,
      p: 0.01,
      p_without: 0.4,
      between: 0.5,
      between_without: 0.1,
      turns: true,
    },
  ],
};

function opened(more: Answers = {}, search = "") {
  const asked = serve({
    "GET /api/v1/measures": () => MEASURES,
    "GET /": () => ({ id: 7, name: "Lynx", role: "editor", revision: "3", texts: 40, terms: 4 }),
    "GET /fields": () => FIELDS,
    "GET /dictionaries": () => [{ id: 1, name: "Frames" }],
    "GET /dictionaries/1/versions": () => [],
    "GET /runs": () => [],
    "GET /subcorpora": () => [],
    "GET /events-in-time": () => [],
    "GET /codebook": () => ({ codes: [], coders: [] }),
    "POST /compare": (comparison) => table(comparison),
    "POST /compare/model": () => MODEL,
    "POST /compare/terms": () => TERMS,
    "POST /evidence": () => ({ hits: 0, texts: 0, start: 0, next: null, passages: [] }),
    ...more,
  });
  return { asked, ...show(<Compare />, search) };
}

/** Opens what is seldom changed. */
async function more(user: ReturnType<typeof opened>["user"]) {
  await user.click(await screen.findByRole("button", { name: "More settings" }));
}

const last = (all: ReturnType<typeof serve>, what: string) => askedFor(all, what).at(-1);

test("a field held equal asks for the adjusted rate and for the model, and leaves with both", async () => {
  const { asked, user } = opened();
  await more(user);
  const choice = await screen.findByLabelText("Control for");
  expect(within(choice).queryByText("Source")).toBeNull(); // compared across already
  expect(within(choice).queryByText("Tags")).toBeNull(); // several values a text
  expect(within(choice).queryByText("Title")).toBeNull();
  await user.selectOptions(choice, "words");
  await waitFor(() => expect(last(asked, "POST /compare").measure).toBe("adjusted"));
  expect(last(asked, "POST /compare").adjust).toEqual([{ field: "words" }]);
  await screen.findByText(/Controlling for “Words”/);
  expect(last(asked, "POST /compare/model").measure).toBe("rate");
  await user.click(screen.getByLabelText("No longer control for Words"));
  await waitFor(() => expect(last(asked, "POST /compare").measure).toBe("rate"));
  expect(screen.queryByText(/Controlling for “Words”/)).toBeNull();
});

test("a date is held equal by a period that can be chosen", async () => {
  const { asked, user } = opened();
  await more(user);
  await user.selectOptions(await screen.findByLabelText("Control for"), "date");
  await user.selectOptions(await screen.findByLabelText("Period of Date"), "week");
  await waitFor(() =>
    expect(last(asked, "POST /compare").adjust).toEqual([{ field: "date", period: "week" }]),
  );
});

test("comparing across a field that was held equal no longer holds it equal", async () => {
  const { asked, user } = opened();
  await more(user);
  await user.selectOptions(await screen.findByLabelText("Control for"), "date");
  await screen.findByLabelText("Period of Date");
  await user.selectOptions(screen.getByLabelText("Across"), "date");
  await waitFor(() => expect(last(asked, "POST /compare").split.field).toBe("date"));
  expect(last(asked, "POST /compare")).toMatchObject({ adjust: [], measure: "rate" });
});

test("measures are offered where they can be had", async () => {
  const { user } = opened();
  const measures = await screen.findByLabelText("Measure");
  await within(measures).findByText("The precision");
  expect(within(measures).queryByText("The adjusted")).toBeNull();
  await more(user);
  await user.selectOptions(screen.getByLabelText("Control for"), "words");
  await within(measures).findByText("The adjusted");
  await user.selectOptions(screen.getByLabelText("What is compared"), "length");
  await waitFor(() => expect(within(measures).queryByText("The precision")).toBeNull());
});

const HELD = `?compare=${encodeURIComponent(
  JSON.stringify({ split: { field: "source" }, adjust: [{ field: "words" }], measure: "adjusted" }),
)}`;

test("a ratio of a group opens its cell", async () => {
  const { asked, user } = opened({}, HELD);
  await user.click(
    await screen.findByRole("button", {
      name: "Livelihood in Hill Farmer: 1.50 times as often as in Valley Wire, 0.750 to 3.00",
    }),
  );
  await waitFor(() =>
    expect(last(asked, "POST /evidence").cell).toEqual({ row: "Livelihood", group: "Hill Farmer" }),
  );
});

test("a ratio of a band opens the texts of the band", async () => {
  const { asked, user } = opened({}, HELD);
  await user.click(await screen.findByRole("radio", { name: "Words" }));
  await user.click(
    screen.getByRole("button", { name: "Livelihood in 50 and over: 1.10 times as often as in under 50" }),
  );
  await waitFor(() => expect(last(asked, "POST /evidence").comparison.scope).toHaveLength(1));
  expect(last(asked, "POST /evidence").comparison.scope[0]).toMatchObject({ field: "words", low: 50 });
  expect(last(asked, "POST /evidence").cell).toEqual({ row: "Livelihood" });
});

test("a row without a model says why", async () => {
  opened({}, HELD);
  await screen.findByText("no model: too few hits");
});

test("a model that is refused is told under the comparison", async () => {
  opened({ "POST /compare/model": () => new Refused(422, "That cannot be controlled for.") }, HELD);
  await screen.findByText("That cannot be controlled for.");
  expect(screen.getByText("The rate of Livelihood differs.")).toBeTruthy();
});

test("a term that turns the result is said at once, and opens its own passages", async () => {
  const { asked, user } = opened();
  await screen.findByText(/Without “lamb\*”/);
  await user.click(screen.getByRole("button", { name: "Single terms" }));
  await user.click(await screen.findByRole("button", { name: "lamb*" }));
  await waitFor(() => expect(last(asked, "POST /evidence")).toBeTruthy());
  expect(last(asked, "POST /evidence").comparison.target).toMatchObject({
    kind: "terms",
    terms: [{ source: "lamb*", match_case: true }],
  });
});

test("where nothing is tested, single terms are not asked for", async () => {
  const { asked } = opened({
    "POST /compare": (comparison) => ({ ...table(comparison), test: { reason: "There is only one group." } }),
  });
  await screen.findByText("The rate of Livelihood differs.");
  expect(askedFor(asked, "POST /compare/terms")).toEqual([]);
  expect(screen.queryByRole("button", { name: "Single terms" })).toBeNull();
});

test("the story is a unit, and an unreadable seed goes back to the one there was", async () => {
  const { asked, user } = opened();
  await more(user);
  await user.selectOptions(await screen.findByLabelText("Sampling unit"), "story");
  await waitFor(() => expect(last(asked, "POST /compare").unit).toBe("story"));
  const seed = screen.getByLabelText("Seed") as HTMLInputElement;
  await user.clear(seed);
  await user.type(seed, "many{Enter}");
  expect(seed.value).toBe("1");
  await user.clear(seed);
  await user.type(seed, "12{Enter}");
  await waitFor(() => expect(last(asked, "POST /compare").seed).toBe(12));
});

test("what people judged is not tinted by how often it is said", async () => {
  const far = { ...cell(4), distance: 9, stands_out: 1 };
  const judged = (comparison: { measure?: string }) => {
    const whole = table(comparison);
    const shown = MEASURES.find((one) => one.name === (comparison.measure ?? "rate"))!;
    return { ...whole, measure: shown, rows: [{ ...whole.rows[0], cells: [far, cell(2)] }] };
  };
  const { user } = opened({ "POST /compare": judged }, "?draw=table");
  await screen.findByText(/fewer hits than in all other groups/);
  await user.selectOptions(screen.getByLabelText("Measure"), "precision");
  await waitFor(() => expect(screen.queryByText(/fewer hits than in all other groups/)).toBeNull());
});
