// @vitest-environment jsdom
import { screen, waitFor, within } from "@testing-library/react";
import { expect, test } from "vitest";
import { type Answers, askedFor, Refused, SUMMARY, serve, show } from "../../testing/served";
import { Assistant } from "./assistant";

const passage = (number: number, words: string) => ({
  number,
  text_id: 10 + number,
  start: 0,
  end: words.length,
  paragraph: number,
  words,
  origin: `Hill Farmer, paragraph ${number}`,
});
const REPLY = {
  by: "the rules that ship",
  tells: true,
  statements: [{ words: "Lambs are gone.", passages: [2, 1] }],
  proposals: [],
  passages: [passage(1, "Forty lambs are gone."), passage(2, "The lambs went in April.")],
  refused: [],
  how: "By rule.",
};
const FIELD = {
  key: "source",
  name: "Source",
  kind: "category",
  can_split: true,
  values: [
    { label: "Hill Farmer", texts: 3 },
    { label: "Posts", texts: 2 },
    { label: null, texts: 1 },
  ],
};
const ASK = "POST /assistant/ask";

function assistant(task: string, more: Answers = {}, model: string | null = null) {
  const all = serve({
    "GET /assistant": () => ({ model, address: model ? "http://far/v1" : null }),
    "GET /fields": () => [FIELD],
    "GET /codebook": () => ({ codes: [], groups: [], versions: [] }),
    "GET /findings": () => ({ questions: [], findings: [] }),
    [ASK]: () => REPLY,
    ...more,
  });
  return { all, ...show(<Assistant />, `?task=${task}`) };
}

test.each([
  ["summary", { task: "summary", form: "points", most: 6 }],
  ["themes", { task: "themes", most: 6 }],
  ["viewpoints", { task: "viewpoints", split: { field: "source" }, first: "Hill Farmer", second: "Posts" }],
])("%s needs no words: it is asked as soon as it is there", async (name, task) => {
  const { all, user } = assistant(name);
  const ask = await screen.findByRole("button", { name: "Ask" });
  await waitFor(() => expect(ask).toHaveProperty("disabled", false));
  await user.click(ask);
  await screen.findByRole("list", { name: "Statements" });
  expect(askedFor(all, ASK)).toEqual([{ task, by: "rules", scope: [] }]);
});

test("a question is asked with the last letter that was typed, and its passages are found by their numbers", async () => {
  const { all, user } = assistant("question");
  const ask = await screen.findByRole("button", { name: "Ask" });
  expect(ask).toHaveProperty("disabled", true);
  await user.type(screen.getByLabelText("Question"), "  Who pays?{Enter}");
  const statements = await screen.findByRole("list", { name: "Statements" });
  expect(askedFor(all, ASK)[0].task).toEqual({ task: "question", words: "Who pays?", most: 6 });
  await user.click(within(statements).getByRole("button", { name: "Passage 1" }));
  const shown = screen.getByRole("complementary", { name: "Passages" });
  expect(shown.querySelector("[aria-current=true]")?.textContent).toContain("Forty lambs are gone.");
  expect(screen.getByText("Hill Farmer, paragraph 2").getAttribute("href")).toContain("/read/12?paragraph=2");
});

test("what is kept has the places of its passages in their order", async () => {
  const { all, user } = assistant("summary", { "POST /assistant/keep": () => ({ id: 4, revision: 1 }) });
  await user.click(await screen.findByRole("button", { name: "Ask" }));
  await user.click(await screen.findByRole("button", { name: "Keep as a note" }));
  await screen.findByText("Kept in the notes, with its passages.");
  const [kept] = askedFor(all, "POST /assistant/keep");
  expect(kept.statements[0].places.map((one: { text_id: number }) => one.text_id)).toEqual([12, 11]);
  expect(kept.how).toContain("By rule.");
});

test("a reader asks, and takes nothing", async () => {
  const { user } = assistant("summary", { "GET /": () => ({ ...SUMMARY, role: "reader" }) });
  await user.click(await screen.findByRole("button", { name: "Ask" }));
  await screen.findByRole("list", { name: "Statements" });
  expect(screen.queryByRole("button", { name: "Keep as a note" })).toBeNull();
});

test("what nothing is found for is said, and what went wrong too", async () => {
  const nothing = { ...REPLY, tells: false, statements: [], passages: [] };
  let answer: unknown = nothing;
  const { user } = assistant("summary", { [ASK]: () => answer });
  await user.click(await screen.findByRole("button", { name: "Ask" }));
  await screen.findByText("The texts do not tell.");
  answer = new Refused(503, "The model does not answer.");
  await user.click(screen.getByRole("button", { name: "Ask" }));
  await screen.findByText(/The model does not answer/);
});

test("a model is asked only after what would be sent was seen, and is told where it may be", async () => {
  const sends = "POST /assistant/sends";
  const { all, user } = assistant(
    "summary",
    { [sends]: () => ({ address: "http://far/v1", passages: 2, words: "Sum up: Forty lambs" }) },
    "hillmodel",
  );
  await user.click(await screen.findByRole("radio", { name: /the model hillmodel/ }));
  await user.click(screen.getByRole("button", { name: "Show what would be sent" }));
  const dialog = await screen.findByRole("dialog");
  expect(dialog.textContent).toContain("Sum up: Forty lambs");
  await user.click(within(dialog).getByRole("button", { name: "Send nothing" }));
  expect(askedFor(all, ASK)).toEqual([]);
  await user.click(screen.getByRole("button", { name: "Show what would be sent" }));
  await user.click(within(await screen.findByRole("dialog")).getByRole("button", { name: "Send it" }));
  await screen.findByRole("list", { name: "Statements" });
  expect(askedFor(all, ASK)[0].by).toBe("model");
  // a task that no model does is asked by rule, whatever was chosen before
  await user.click(screen.getByRole("radio", { name: "Propose codings" }));
  await user.type(screen.getByLabelText("Research question"), "Who pays?{Enter}");
  await waitFor(() => expect(askedFor(all, ASK)).toHaveLength(2));
  expect(askedFor(all, ASK)[1].by).toBe("rules");
});

test("of proposed passages each is coded as it is taken, the later ones under the code of the first", async () => {
  const proposal = {
    kind: "coding",
    words: "Losses",
    why: "What is said of lambs?",
    passages: [1, 2],
    codes: [],
  };
  const made = { passages: [{ code_id: 31 }], revision: 4, label: "Code" };
  const { all, user } = assistant("codings", {
    [ASK]: () => ({ ...REPLY, statements: [], proposals: [proposal] }),
    "POST /texts/11/passages": () => made,
    "POST /texts/12/passages": () => made,
  });
  await user.type(await screen.findByLabelText("Research question"), "Who pays?{Enter}");
  await user.click(await screen.findByRole("button", { name: "Take all 2" }));
  await screen.findByText(/2 passages coded/);
  expect(askedFor(all, "POST /texts/11/passages")[0]).toMatchObject({ codes: [], new: { name: "Losses" } });
  expect(askedFor(all, "POST /texts/12/passages")[0]).toMatchObject({ codes: [31], new: null });
});
