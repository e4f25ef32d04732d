import type { Table } from "../../data/comparison";

/** Rows (by their keys) and groups (by their labels) in an order made by hand; those not named follow. */
export interface ByHand {
  rows?: readonly string[];
  groups?: readonly string[];
}
const HAND = "hand:";

/** An order by hand as it stands in the address; null for another one. */
export function byHand(order: string): ByHand | null {
  if (!order.startsWith(HAND)) return null;
  try {
    const found: unknown = JSON.parse(order.slice(HAND.length));
    return typeof found === "object" && found !== null ? (found as ByHand) : {};
  } catch {
    return {};
  }
}

/** The order after one of some things has moved by a place. */
export function movedByHand(
  order: string,
  what: keyof ByHand,
  shown: readonly string[],
  key: string,
  by: 1 | -1,
): string {
  const at = shown.indexOf(key);
  const to = at + by;
  if (at < 0 || to < 0 || to >= shown.length) return order;
  const next = [...shown];
  next.splice(at, 1);
  next.splice(to, 0, key);
  return HAND + JSON.stringify({ ...byHand(order), [what]: next });
}

function placed<T>(
  items: readonly T[],
  wanted: readonly string[] | undefined,
  key: (item: T) => string,
): T[] {
  if (!Array.isArray(wanted)) return [...items];
  const place = new Map(wanted.map((one, at) => [one, at]));
  return [...items].sort(
    (a, b) => (place.get(key(a)) ?? wanted.length) - (place.get(key(b)) ?? wanted.length),
  );
}

/** The table with its rows and groups in another order; rows that lie in others stay where they are. */
export function ordered(table: Table, order: string, dated: boolean): Table {
  if (!order) return table;
  const nested = table.rows.some((row) => row.depth > 0);
  const byName = order === "names";
  let rows = [...table.rows];
  let groups = table.groups.map((group, at) => ({ group, at }));
  const hand = byHand(order);
  if (hand) {
    if (!nested) rows = placed(rows, hand.rows, (row) => row.key);
    if (!dated) groups = placed(groups, hand.groups, ({ group }) => group.label);
  }
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
