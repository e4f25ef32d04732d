import type { Table } from "../../data/comparison";

/** The table with its rows and groups in another order; rows that lie in others stay where they are. */
export function ordered(table: Table, order: string, dated: boolean): Table {
  if (!order) return table;
  const nested = table.rows.some((row) => row.depth > 0);
  const byName = order === "names";
  let rows = [...table.rows];
  let groups = table.groups.map((group, at) => ({ group, at }));
  if (!nested && (byName || order === "rows" || order === "both")) {
    const value = (row: Table["rows"][number]) => mean(row.cells.map((cell) => cell.value));
    rows.sort((a, b) => (byName ? compare(a.label, b.label) : value(b) - value(a)));
  }
  if (!dated && (byName || order === "groups" || order === "both")) {
    const value = (at: number) =>
      mean(table.rows.filter((row) => row.tested).map((row) => row.cells[at]!.value));
    groups = groups.sort((a, b) =>
      byName ? compare(a.group.label, b.group.label) : value(b.at) - value(a.at),
    );
  }
  rows = rows.map((row) => ({ ...row, cells: groups.map(({ at }) => row.cells[at]!) }));
  return { ...table, rows, groups: groups.map(({ group }) => group) };
}

function compare(a: string, b: string): number {
  return a.localeCompare(b, "en", { numeric: true });
}

function mean(values: readonly (number | null)[]): number {
  const known = values.filter((one): one is number => one !== null);
  return known.length ? known.reduce((sum, one) => sum + one, 0) / known.length : -Infinity;
}
