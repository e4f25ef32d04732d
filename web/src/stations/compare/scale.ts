import type { Measure, Table, TableCell, TableRow } from "../../data/comparison";
import { levelText, written } from "../../data/measures";
import { three, whole } from "../../lib/numbers";

/** The largest value to draw; an interval far beyond all values does not stretch the scale. */
export function top(rows: readonly TableRow[]): number {
  const cells = rows.flatMap((row) => row.cells);
  const values = Math.max(0, ...cells.map((cell) => cell.value ?? 0));
  const highs = Math.max(0, ...cells.map((cell) => cell.high ?? 0));
  return Math.max(values * 1.04, Math.min(highs, values * 1.6)) || 1;
}

export function tickLabel(value: number, measure: Measure): string {
  return measure.form === "percent" ? `${Math.round(value * 1000) / 10}%` : value.toLocaleString("en-GB");
}

export function cellLabel(
  row: TableRow,
  group: string,
  cell: TableCell,
  table: Pick<Table, "measure" | "comparison">,
): string {
  const { measure, comparison } = table;
  const [value, low, high] = [cell.value, cell.low, cell.high].map((one) => written(one, measure.form));
  const interval =
    cell.low !== null && cell.high !== null
      ? `, ${levelText(comparison.level)} interval ${low} to ${high}`
      : "";
  return `${row.label} in ${group}: ${value}${interval}; ${whole(cell.hits)} hits in ${whole(cell.texts)} texts`;
}

/** What the table says of a cell beside its number: how far it lies from all other groups, where that is tested. */
export function distanceLabel(cell: TableCell): string {
  if (cell.distance === null) return "";
  const side = cell.distance < 0 ? "below" : "above";
  return `; ${three(Math.abs(cell.distance))} standard errors ${side} all other groups`;
}

/** p, below 0.001 as such. */
export function pText(p: number | null): string {
  if (p === null) return "–";
  return p < 0.001 ? "< 0.001" : p.toFixed(3);
}
