// @vitest-environment jsdom
import { screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { type Code, type Passage, settled } from "../../data/coding";
import { serve, show } from "../../testing/served";
import { placeBy } from "./codebook";
import { CodeChoice } from "./codechoice";
import { CodingLine, ranked } from "./codingline";
import { wordsAfter, wordsBefore } from "./found";
import { PLAIN } from "./newcode";
import { visible } from "./panel";

const code = (id: number, name: string, parent_id: number | null = null, more: Partial<Code> = {}): Code => ({
  id,
  parent_id,
  depth: parent_id === null ? 0 : 1,
  name,
  description: "",
  rule: "",
  example: "",
  counter_example: "",
  colour: 0,
  symbol: "",
  technical: false,
  revision: 1,
  ...more,
});
const CODES = [
  code(1, "Livelihood"),
  code(2, "Lambs", 1),
  code(3, "Market", 1),
  code(4, "Voice"),
  code(5, "Later", null, { technical: true }),
];
const names = (codes: readonly Code[]) => codes.map(({ name }) => name);

test("codes that begin with what is typed come before those that have it inside", () => {
  expect(names(ranked(CODES, "la", []))).toEqual(["Lambs", "Later"]);
  expect(names(ranked(CODES, "e", []))).toEqual(["Livelihood", "Market", "Voice", "Later"]);
  expect(names(ranked(CODES, "lambs", []))).toEqual(["Lambs"]);
  expect(names(ranked(CODES, "", [4]))).toEqual(["Voice", "Livelihood", "Lambs", "Market"]);
});

test("branches fold, and what is looked for is shown with what it lies in", () => {
  expect(names(visible(CODES, new Set([1]), ""))).toEqual(["Livelihood", "Voice", "Later"]);
  expect(names(visible(CODES, new Set([1]), "market"))).toEqual(["Livelihood", "Market"]);
});

test("a code is moved by keys up, down, in and out", () => {
  const by = (id: number, key: string) => placeBy(CODES, CODES.find((one) => one.id === id)!, key);
  expect(by(3, "ArrowUp")).toEqual({ parent_id: 1, before_id: 2 });
  expect(by(2, "ArrowUp")).toBeNull();
  expect(by(2, "ArrowDown")).toEqual({ parent_id: 1, before_id: null });
  expect(by(3, "ArrowDown")).toBeNull();
  expect(by(4, "ArrowRight")).toEqual({ parent_id: 1, before_id: null });
  expect(by(1, "ArrowRight")).toBeNull();
  expect(by(3, "ArrowLeft")).toEqual({ parent_id: null, before_id: 4 });
  expect(by(4, "ArrowLeft")).toBeNull();
});

function line(props: Partial<Parameters<typeof CodingLine>[0]> = {}) {
  const told = { onGive: vi.fn(), onMake: vi.fn(), onClose: vi.fn() };
  const shown = show(
    <CodingLine
      codes={CODES}
      recent={[4]}
      first=""
      label="Code for these words"
      ownWords="forty lambs"
      {...told}
      {...props}
    />,
  );
  return { ...shown, ...told, field: screen.getByLabelText("Code for these words", { selector: "input" }) };
}

test("the coding line has the focus at once and gives what is typed", async () => {
  const { user, field, onGive } = line();
  expect(document.activeElement).toBe(field);
  await user.keyboard("lam{Enter}");
  expect(onGive).toHaveBeenCalledWith(CODES[1], false);
});

test("Shift Enter gives and asks for another, arrows choose, a number gives a last used code", async () => {
  const { user, onGive } = line();
  await user.keyboard("li{Shift>}{Enter}{/Shift}");
  expect(onGive).toHaveBeenLastCalledWith(CODES[0], true);
  await user.keyboard("{ArrowDown}{Enter}");
  expect(onGive).toHaveBeenLastCalledWith(CODES[0], false);
  await user.keyboard("1");
  expect(onGive).toHaveBeenLastCalledWith(CODES[3], false);
});

test("a name that is new makes a code, nothing typed its own words; Escape leaves", async () => {
  const { user, onMake, onClose } = line();
  await user.keyboard("Losses{Enter}");
  expect(onMake).toHaveBeenLastCalledWith({ ...PLAIN, name: "Losses" }, false);
  await user.keyboard("{Control>}{Enter}{/Control}");
  expect(onMake).toHaveBeenLastCalledWith({ ...PLAIN, name: "forty lambs" }, false);
  await user.keyboard("{Escape}");
  expect(onClose).toHaveBeenCalled();
});

test("where a passage gets another code none is made", async () => {
  const { user, onMake, onGive } = line({ ownWords: "" });
  await user.keyboard("Nothing of the kind{Enter}");
  expect(onMake).not.toHaveBeenCalled();
  expect(onGive).not.toHaveBeenCalled();
});

test("words around a passage are whole", () => {
  expect(wordsBefore("short before ")).toBe("short before ");
  const long = "a rather long stretch of words that stands before what was coded by somebody, and goes on ";
  expect(wordsBefore(long)).toMatch(/^… \S+ /);
  expect(long).toContain(wordsBefore(long).slice(2));
  expect(wordsAfter(long)).toMatch(/ …$/);
});

test("what is stored takes the place of what was shown at once", () => {
  const one = (id: number, start: number, code_id = 1): Passage => ({
    id,
    code_id,
    start,
    end: start + 5,
    strength: null,
    comment: "",
    coder: "Ann Bore",
    mine: true,
    made_at: "2031-06-03T10:00:00Z",
    revision: 1,
    reason: "",
  });
  const now = { passages: [one(4, 0), one(-1, 10), one(-2, 20)], revision: 7 };
  const stored = { passages: [one(9, 10)], gone: [], revision: 8 };
  // another change is still on its way: what it showed stays
  expect(settled(now, stored, false).passages.map(({ id }) => id)).toEqual([4, 9, -2]);
  expect(settled(now, stored, true)).toEqual({ passages: [one(4, 0), one(9, 10)], revision: 8 });
  const gone = { passages: [], gone: [4], revision: 8 };
  expect(settled({ passages: [one(4, 0)], revision: 7 }, gone, true).passages).toEqual([]);
});

test("a code made in place has a colour, a symbol and what it stands for", async () => {
  const { user, onMake } = line();
  await user.keyboard("Losses");
  await user.click(screen.getByText(/^Colour, symbol and description/));
  await user.click(screen.getByLabelText("Colour 3"));
  await user.type(screen.getByLabelText("Symbol of the new code"), "🐑");
  await user.type(screen.getByLabelText("Definition of the new code"), "What is gone{Enter}");
  expect(onMake).toHaveBeenLastCalledWith(
    { name: "Losses", colour: 2, symbol: "🐑", description: "What is gone" },
    false,
  );
});

test("words that begin a note, a paraphrase or a quote are reached by keys", async () => {
  const onOther = vi.fn();
  const { user } = line({ onOther });
  await user.keyboard("{Alt>}n{/Alt}{Alt>}w{/Alt}{Alt>}q{/Alt}");
  expect(onOther.mock.calls.flat()).toEqual(["note", "paraphrase", "quote"]);
});

test("a list of codes ends with a new one, which is named in its place", async () => {
  serve({ "GET /codebook": () => ({ codes: CODES }) });
  const chosen = vi.fn((to: { new: string }) =>
    to.new === "Voice" ? Promise.reject(new Error("taken")) : Promise.resolve(),
  );
  const { user } = show(<CodeChoice label="Move to" onChoose={chosen} />);
  await screen.findByRole("option", { name: "Voice" });
  await user.selectOptions(screen.getByLabelText("Move to"), "Voice");
  expect(chosen).toHaveBeenLastCalledWith({ code_id: 4, new: "" });
  await user.selectOptions(screen.getByLabelText("Move to"), "A new code…");
  await user.keyboard("  Weather {Enter}");
  expect(chosen).toHaveBeenLastCalledWith({ code_id: null, new: "Weather" });
  await user.selectOptions(screen.getByLabelText("Move to"), "A new code…");
  await user.keyboard("W{Escape}");
  expect(screen.getByLabelText("Move to")).toHaveProperty("value", "");
  expect(chosen).toHaveBeenCalledTimes(2);
  await user.selectOptions(screen.getByLabelText("Move to"), "A new code…");
  await user.keyboard("Voice{Enter}");
  expect(await screen.findByLabelText("Move to: name of a new code")).toHaveProperty("value", "Voice");
});
