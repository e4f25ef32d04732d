import { expect, test } from "vitest";
import type { RunLine } from "../../data/runs";
import { andNumber, choiceOf, numberChoices, ofNumbers } from "./numbers";
import { fitsNumbers } from "./settings";

const fields = [
  { key: "words", name: "Words", kind: "number" },
  { key: "source", name: "Source", kind: "category" },
  { key: "v3", name: "Age", kind: "number" },
];
const runs = [
  { id: 4, name: "Moods", recipe: { finder: { kind: "tone" } } },
  { id: 5, name: "Lambs", recipe: { finder: { kind: "search" } } },
] as unknown as RunLine[];

test("fields of numbers and runs of tone have means, others have none", () => {
  expect(numberChoices(fields, runs)).toEqual([
    { value: "field.words", label: "Words" },
    { value: "field.v3", label: "Age" },
    { value: "tone.4", label: "Tone (run “Moods”)" },
  ]);
});

test("a choice becomes a target and is found again in it", () => {
  const target = andNumber(ofNumbers("field.v3"), "tone.4");
  expect(target.numbers).toEqual([
    { kind: "field", field: "v3" },
    { kind: "tone", run: 4 },
  ]);
  expect(target.numbers.map(choiceOf)).toEqual(["field.v3", "tone.4"]);
});

test("means are no parts of a whole, and numbers of unlike kinds share no bars", () => {
  const one = ofNumbers("field.v3");
  expect(["dots", "table", "bars", "heat", "trend"].every((draw) => fitsNumbers(draw, one))).toBe(true);
  expect(["area", "flow", "cloud", "map"].some((draw) => fitsNumbers(draw, one))).toBe(false);
  expect(["bars", "heat"].some((draw) => fitsNumbers(draw, andNumber(one, "field.words")))).toBe(false);
});
