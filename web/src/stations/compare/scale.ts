import { percent, three, whole } from "../../lib/numbers";
import type { Comparison } from "./compare";

/** A value in the unit of the measure, as it is shown. */
export function shown(value: number | null, measure: string): string {
  if (measure === "share" || measure === "share_of_texts") return percent(value);
  if (measure === "hits" || measure === "texts") return value === null ? "–" : whole(value);
  return three(value);
}

/** The largest value to draw; an interval far beyond all values does not stretch the scale. */
export function top(rows: Comparison["rows"]): number {
  const cells = rows.flatMap((row) => row.cells);
  const values = Math.max(0, ...cells.map((cell) => cell.value ?? 0));
  const highs = Math.max(0, ...cells.map((cell) => cell.high ?? 0));
  return Math.max(values * 1.04, Math.min(highs, values * 1.6)) || 1;
}

export function tickLabel(value: number, measure: string): string {
  return measure === "share" || measure === "share_of_texts"
    ? `${Math.round(value * 1000) / 10}%`
    : value.toLocaleString("en-GB");
}

export function cellLabel(
  row: Comparison["rows"][number],
  group: string,
  cell: Comparison["rows"][number]["cells"][number],
  measure: string,
): string {
  const interval =
    cell.low !== null && cell.high !== null
      ? `, 95% interval ${shown(cell.low, measure)} to ${shown(cell.high, measure)}`
      : "";
  return `${row.label} in ${group}: ${shown(cell.value, measure)}${interval}; ${whole(cell.hits)} hits in ${whole(cell.texts)} texts`;
}
