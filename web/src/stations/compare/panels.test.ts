import { expect, test } from "vitest";
import type { Table } from "../../data/comparison";
import { panelsOf, runs } from "./panels";

const cell = (value: number) => ({ value, low: null, high: null, hits: value, texts: 1, counted: value });
const row = (key: string, ...values: number[]) => ({
  key,
  label: key,
  depth: 0,
  tested: true,
  colour: 0,
  cells: values.map(cell),
});

test("each row over time is a panel with what it changed at", () => {
  const table = {
    measure: { name: "rate" },
    groups: [
      { label: "2031-01", pair: [] },
      { label: "2031-02", pair: [] },
    ],
    rows: [row("wolf", 1, 2), row("lamb", 3, 4)],
  } as unknown as Table;
  const changes = {
    changes: [{ row: "lamb", at: 1, low: 0, high: 1 }],
    smooth: [{ row: "wolf", values: [1, 1.5] }],
  };
  const { labels, panels } = panelsOf(table, null, changes as never);
  expect(labels).toEqual(["2031-01", "2031-02"]);
  expect(panels.map((panel) => [panel.title, panel.smooth.length, panel.changes.length])).toEqual([
    ["wolf", 2, 0],
    ["lamb", 0, 1],
  ]);
});

test("crossed with time, each group of a row is a panel, with gaps where it has no texts", () => {
  const table = {
    measure: { name: "rate" },
    groups: [
      { label: "A · 2031-01", pair: ["A", "2031-01"] },
      { label: "A · 2031-03", pair: ["A", "2031-03"] },
      { label: "B · 2031-02", pair: ["B", "2031-02"] },
    ],
    rows: [row("wolf", 1, 2, 5)],
  } as unknown as Table;
  const { labels, panels } = panelsOf(table, "second", undefined);
  expect(labels).toEqual(["2031-01", "2031-02", "2031-03"]);
  expect(panels.map((panel) => panel.title)).toEqual(["A", "B"]);
  expect(panels[0]!.cells.map((one) => one.value)).toEqual([1, null, 2]);
  expect(panels[1]!.groups).toEqual([null, "B · 2031-02", null]);
});

test("gaps part a line", () => {
  expect(runs([{ value: 1 }, { value: null }, { value: 2 }, { value: 3 }])).toEqual([[0], [2, 3]]);
});
