// @vitest-environment jsdom
import { screen, waitFor, within } from "@testing-library/react";
import { expect, test } from "vitest";
import { askedFor, Refused, serve, show } from "../testing/served";
import { JudgePanel, type JudgingOf } from "./judge";

const WHAT: JudgingOf = {
  subject: "category",
  subject_id: 2,
  sample_id: 5,
  title: "Livelihood: flock*",
  colour: 0,
};
const SAMPLE = {
  id: 5,
  kind: "hit",
  part: "flock*",
  seed: 11,
  size: 3,
  version: 2,
  made_at: "2031-06-03T10:00:00",
};
const JUDGE = "POST /review/category/2/judge";
const READ = "GET /review/samples/5";

function item(text_id: number, words: string | null, verdicts: unknown[] = []) {
  const passage = words && {
    text_id,
    title: "Nine pages",
    source: "Hill Farmer",
    date: "2031-06-03",
    paragraph: 1200,
    before: "",
    text: words,
    after: "",
    marks: [{ start: 0, end: 5 }],
  };
  return { text_id, start: 0, end: 5, found_by: "flock*", passage, verdicts };
}

const three = () => [
  item(1, "flock of the north"),
  item(2, "flocked to the hall"),
  item(3, "flocks came down"),
];
const rows = () =>
  within(screen.getByLabelText("Judging"))
    .getAllByText(/^(\?|fits|no)$/)
    .map((one) => one.textContent);

test("quick keys judge one hit after the other, and are sent in their order", async () => {
  const sent: [number, number][] = [];
  const asked = serve({
    [READ]: () => ({ sample: SAMPLE, items: three() }),
    [JUDGE]: async (body) => {
      // the first answer is the slowest: the others must wait for it
      await new Promise((done) => setTimeout(done, sent.length ? 1 : 60));
      sent.push([body.text_id, body.verdict]);
      return {};
    },
  });
  const { user } = show(<JudgePanel what={WHAT} onClose={() => {}} />);
  await screen.findByText(/to the hall/);
  await user.keyboard("fxf");
  expect(rows()).toEqual(["fits", "no", "fits"]);
  expect(screen.getByTestId("judged").textContent).toContain("3 of 3 judged: 2 right of this sample");
  await waitFor(() =>
    expect(sent).toEqual([
      [1, 1],
      [2, 0],
      [3, 1],
    ]),
  );
  expect(askedFor(asked, JUDGE)[0]).toMatchObject({ kind: "hit", found_by: "flock*", start: 0, end: 5 });
});

test("a verdict is taken back with U, and arrows go to and fro", async () => {
  serve({ [READ]: () => ({ sample: SAMPLE, items: three() }), [JUDGE]: () => ({}) });
  const { user } = show(<JudgePanel what={WHAT} onClose={() => {}} />);
  await screen.findByText(/to the hall/);
  await user.keyboard("f{ArrowUp}u");
  expect(rows()).toEqual(["?", "?", "?"]);
  await user.keyboard("jjjx");
  expect(rows()).toEqual(["?", "?", "no"]);
});

test("a verdict that was not kept is told, and what is kept is shown again", async () => {
  serve({
    [READ]: () => ({ sample: SAMPLE, items: three() }),
    [JUDGE]: () => new Refused(403, "Readers do not judge."),
  });
  const { user } = show(<JudgePanel what={WHAT} onClose={() => {}} />);
  await screen.findByText(/to the hall/);
  await user.keyboard("f");
  expect((await screen.findByRole("alert")).textContent).toContain("Readers do not judge.");
  await waitFor(() => expect(rows()).toEqual(["?", "?", "?"]));
});

test("judging begins at the first hit without a verdict; words that are gone are passed over", async () => {
  const before = [{ by: "", mine: true, verdict: 1, version: 1, made_at: "2031-06-02T09:00:00" }];
  const others = [{ by: "Ivo", mine: false, verdict: 0, version: 1, made_at: "2031-06-01T09:00:00" }];
  const asked = serve({
    [READ]: () => ({
      sample: SAMPLE,
      items: [item(1, "flock of the north", before), item(2, null), item(3, "flocks came down", others)],
    }),
    [JUDGE]: () => ({}),
  });
  const { user } = show(<JudgePanel what={WHAT} onClose={() => {}} />);
  await screen.findByText("These words are no longer in the text.");
  expect(screen.getByText(/Ivo: does not, 1 Jun(e)? 2031, version 1/)).toBeTruthy();
  await user.keyboard("x");
  await waitFor(() => expect(askedFor(asked, JUDGE)).toHaveLength(1));
  expect(askedFor(asked, JUDGE)[0]).toMatchObject({ text_id: 3, verdict: 0 });
});

test("keys typed into a field judge nothing, and a place is linked by its paragraph", async () => {
  const asked = serve({ [READ]: () => ({ sample: SAMPLE, items: three() }), [JUDGE]: () => ({}) });
  const { user } = show(
    <>
      <JudgePanel what={WHAT} onClose={() => {}} />
      <input aria-label="Elsewhere" />
    </>,
  );
  await screen.findByText(/to the hall/);
  await user.type(screen.getByLabelText("Elsewhere"), "fxu");
  expect(askedFor(asked, JUDGE)).toEqual([]);
  expect(screen.getByText("Read on").getAttribute("href")).toContain("paragraph=1200");
});

test("texts without a hit are judged in their own words", async () => {
  serve({
    [READ]: () => ({ sample: { ...SAMPLE, kind: "text", term: "" }, items: [item(1, "The market fell.")] }),
    [JUDGE]: () => ({}),
  });
  const { user } = show(<JudgePanel what={WHAT} onClose={() => {}} />);
  await user.click(await screen.findByText("Missed"));
  expect(screen.getByTestId("judged").textContent).toContain("1 of 1 judged: 1 should have had a hit");
});
