import { expect, test } from "vitest";
import { type Measure, ofSearch, type TableCell, type TableRow } from "../../data/comparison";
import { written } from "../../data/measures";
import { runs } from "./panels";
import { cellLabel, tickLabel, top } from "./scale";

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
  expect(top([row(cell(10, 8, 12))])).toBe(12);
  expect(top([row(cell(10, 1, 90))])).toBe(16);
  expect(top([row(cell(0))])).toBe(1);
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

test("periods without texts part the line", () => {
  expect(runs([cell(1), cell(2), cell(null), cell(3)])).toEqual([[0, 1], [3]]);
  expect(runs([cell(null)])).toEqual([]);
});
