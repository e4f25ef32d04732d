import { expect, test } from "vitest";
import { type Measure, ofSearch, type TableCell, type TableRow } from "../../data/comparison";
import { written } from "../../data/measures";
import { runs } from "./panels";
import { cellLabel, spanned, spanOf, tickLabel } from "./scale";

const measure = (form: Measure["form"]): Measure => ({
  name: "one",
  label: "One",
  unit: "ones",
  axis: "ones",
  form,
  has_interval: form !== "count",
  needs: "",
});
const cell = (value: number | null, low: number | null = null, high: number | null = null): TableCell => ({
  value,
  low,
  high,
  hits: 12,
  texts: 3,
  counted: 12,
  distance: null,
  stands_out: 0,
});
const row = (...cells: TableCell[]): TableRow => ({
  key: "Livelihood",
  label: "Livelihood",
  name: "Livelihood",
  depth: 0,
  colour: 0,
  tested: true,
  p: null,
  evenness: null,
  cells,
});

test("values are shown in the unit of the measure", () => {
  expect(written(9.4321, "number")).toBe("9.43");
  expect(written(0.1234, "percent")).toBe("12.3%");
  expect(written(1234, "count")).toBe("1,234");
  expect(written(null, "count")).toBe("–");
  expect(tickLabel(0.25, measure("percent"))).toBe("25%");
});

test("an interval far beyond all values does not stretch the scale", () => {
  const rate = measure("number");
  expect(spanOf([row(cell(10, 8, 12))], rate)).toEqual({ low: 0, high: 12 });
  expect(spanOf([row(cell(10, 1, 90))], rate)).toEqual({ low: 0, high: 16 });
  expect(spanOf([row(cell(0))], rate)).toEqual({ low: 0, high: 1 });
  expect(spanOf([], rate)).toEqual({ low: 0, high: 1 });
});

test("a scale reaches below nought where values do", () => {
  const rate = measure("number");
  const both = spanOf([row(cell(-10, -12, -8), cell(20, 18, 22))], rate);
  expect([both.low, both.high]).toEqual([-12, 22]);
  expect(spanOf([row(cell(-10, -12, -8))], rate)).toEqual({ low: -12, high: 0 });
});

test("means do not count up from nought, and several numbers share a stretch only where they are asked to", () => {
  const mean = { ...measure("number"), name: "mean" };
  const ages = spanOf([row(cell(40, 38, 42), cell(60, 59, 61))], mean);
  expect(ages).toEqual({ low: 38, high: 61 });
  expect(spanOf([row(cell(7))], mean)).toEqual({ low: 6.72, high: 7.28 });
  expect(spanOf([row(cell(null))], mean)).toEqual({ low: 0, high: 1 });
  expect(spanned([ages, { low: -1, high: 1 }])).toEqual({ low: -1, high: 61 });
});

const asked = (level: number) => ({
  measure: measure("number"),
  comparison: { ...ofSearch("lamb", []), level },
});

test("a cell says its value, interval and base", () => {
  expect(cellLabel(row(), "Hill Farmer", cell(9.4, 8, 11), asked(0.95))).toBe(
    "Livelihood in Hill Farmer: 9.40, 95% interval 8.00 to 11.0; 12 hits in 3 texts",
  );
  expect(cellLabel(row(), "Hill Farmer", cell(9.4, 8, 11), asked(0.9))).toContain("90% interval 8.00");
  expect(cellLabel(row(), "Posts", cell(0), asked(0.9))).toBe("Livelihood in Posts: 0; 12 hits in 3 texts");
});

test("a cell of a mean says of how many values", () => {
  const means = { ...asked(0.95), measure: { ...measure("number"), needs: "numbers" as const } };
  const one = { ...cell(41, 40, 42), hits: 3 };
  expect(cellLabel(row(), "Posts", one, means)).toContain("; 3 texts with a value");
  expect(cellLabel(row(), "Posts", cell(0.2), means)).toContain("; 12 values in 3 texts");
});

test("periods without texts part the line", () => {
  expect(runs([cell(1), cell(2), cell(null), cell(3)])).toEqual([[0, 1], [3]]);
  expect(runs([cell(null)])).toEqual([]);
});
