import type { Changes } from "../../data/answers";
import type { Table, TableCell, TableRow } from "../../data/comparison";
import { type Span, spanOf } from "./scale";

/** A row over time, in one group of a second field where two are crossed. */
export interface Panel {
  key: string;
  title: string;
  row: TableRow;
  /** By period; a period without texts has no value. */
  cells: readonly TableCell[];
  /** What each period is called as a group of the table; null where it has no texts. */
  groups: readonly (string | null)[];
  /** From the smallest to the largest value to draw. */
  span: Span;
  smooth: readonly (number | null)[];
  changes: readonly { at: number; low: number; high: number }[];
}

const EMPTY: TableCell = {
  value: null,
  low: null,
  high: null,
  hits: 0,
  texts: 0,
  counted: 0,
  distance: null,
  stands_out: 0,
};

/** The panels of a table over time, and the labels of its periods. */
export function panelsOf(
  table: Table,
  crossed: "first" | "second" | null,
  changes: Changes | undefined,
): { labels: readonly string[]; panels: Panel[] } {
  const shown = table.rows.filter((row) => row.tested || row.depth === 0);
  const rows = shown.length ? shown : table.rows;
  if (!crossed) {
    const labels = table.groups.map((group) => group.label);
    return {
      labels,
      panels: rows.map((row) => ({
        key: row.key,
        title: row.label,
        row,
        cells: row.cells,
        groups: labels,
        span: spanOf([row], table.measure),
        smooth: changes?.smooth.find((one) => one.row === row.key)?.values ?? [],
        changes: changes?.changes.filter((one) => one.row === row.key) ?? [],
      })),
    };
  }
  const time = crossed === "first" ? 0 : 1;
  const labels = [...new Set(table.groups.map((group) => group.pair[time]!))].sort();
  const others = [...new Set(table.groups.map((group) => group.pair[1 - time]!))];
  const place = new Map(table.groups.map((group, at) => [group.pair.join("\u0000"), at]));
  const panels = rows.flatMap((row) =>
    others.map((other) => {
      const at = labels.map((label) => place.get((time ? [other, label] : [label, other]).join("\u0000")));
      const cells = at.map((one) => (one === undefined ? EMPTY : row.cells[one]!));
      return {
        key: `${row.key}\u0000${other}`,
        title: rows.length > 1 ? `${row.label}, ${other}` : other,
        row,
        cells,
        groups: at.map((one) => (one === undefined ? null : table.groups[one]!.label)),
        span: spanOf([{ ...row, cells }], table.measure),
        smooth: [],
        changes: [],
      };
    }),
  );
  return { labels, panels };
}

/** Stretches of periods that have a value. */
export function runs(cells: readonly { value: number | null }[]): number[][] {
  const out: number[][] = [];
  cells.forEach((cell, at) => {
    if (cell.value === null) return;
    const last = out.at(-1);
    if (last && last.at(-1) === at - 1) last.push(at);
    else out.push([at]);
  });
  return out;
}
