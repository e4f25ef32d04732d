import { expect, test } from "vitest";
import type { Table } from "../../data/comparison";
import { byHand, movedByHand, ordered } from "./order";

const row = (label: string, ...values: (number | null)[]) => ({
  label,
  key: label,
  depth: 0,
  tested: true,
  cells: values.map((value) => ({ value })),
});
const table = {
  groups: [{ label: "B" }, { label: "A" }, { label: "C" }],
  rows: [row("deer", 1, 5, null), row("lamb", 4, 6, 2)],
} as unknown as Table;
const shape = (found: Table) => [
  found.groups.map((group) => group.label).join(""),
  found.rows.map((one) => one.label).join(" "),
  found.rows[0]!.cells.map((cell) => cell.value),
];

test("rows and groups are ordered by value, cells go with them", () => {
  expect(shape(ordered(table, "", false))).toEqual(["BAC", "deer lamb", [1, 5, null]]);
  expect(shape(ordered(table, "rows", false))).toEqual(["BAC", "lamb deer", [4, 6, 2]]);
  expect(shape(ordered(table, "groups", false))).toEqual(["ABC", "deer lamb", [5, 1, null]]);
  expect(shape(ordered(table, "both", false))).toEqual(["ABC", "lamb deer", [6, 4, 2]]);
});

test("names are ordered as people read them, and time stays time", () => {
  expect(shape(ordered(table, "names", false))).toEqual(["ABC", "deer lamb", [5, 1, null]]);
  expect(shape(ordered(table, "groups", true))[0]).toBe("BAC");
});

test("rows that lie in others keep their places", () => {
  const nested = { ...table, rows: [table.rows[0]!, { ...table.rows[1]!, depth: 1 }] } as Table;
  expect(shape(ordered(nested, "rows", false))[1]).toBe("deer lamb");
});

test("rows and groups stand as they were put by hand, those not named behind them", () => {
  const first = movedByHand("", "groups", ["B", "A", "C"], "C", -1);
  expect(shape(ordered(table, first, false))).toEqual(["BCA", "deer lamb", [1, null, 5]]);
  const both = movedByHand(first, "rows", ["deer", "lamb"], "deer", 1);
  expect(shape(ordered(table, both, false))).toEqual(["BCA", "lamb deer", [4, 2, 6]]);
  expect(shape(ordered(table, 'hand:{"groups":["C"]}', false))[0]).toBe("CBA");
  expect(shape(ordered(table, both, true))[0]).toBe("BAC");
});

test("what cannot move stays, and an order that cannot be read is none", () => {
  expect(movedByHand("names", "rows", ["deer"], "deer", 1)).toBe("names");
  expect(movedByHand("", "rows", ["deer"], "gone", 1)).toBe("");
  expect(byHand("rows")).toBe(null);
  expect(byHand("hand:{")).toEqual({});
  expect(shape(ordered(table, "hand:{", false))[0]).toBe("BAC");
  expect(shape(ordered(table, 'hand:{"rows":3}', false))[1]).toBe("deer lamb");
});
