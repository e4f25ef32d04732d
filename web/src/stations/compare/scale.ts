import type { Measure, Table, TableCell, TableRow } from "../../data/comparison";
import { levelText, written } from "../../data/measures";
import { three, whole } from "../../lib/numbers";
import { groupText } from "./periods";

/** The stretch of a scale that is drawn. */
export interface Span {
  low: number;
  high: number;
}

/** Measures that do not count up from nought: what matters of them is how far they lie apart. */
const WITHOUT_NOUGHT = ["mean", "median"];

/**
 * From the smallest to the largest value to draw, from nought on where the measure begins there; an interval far beyond
 * all values does not stretch the scale.
 */
export function spanOf(rows: readonly TableRow[], measure: Pick<Measure, "name">): Span {
  const cells = rows.flatMap((row) => row.cells);
  const known = (values: (number | null)[]) => values.filter((one): one is number => one !== null);
  const nought = WITHOUT_NOUGHT.includes(measure.name) ? [] : [0];
  const values = [...nought, ...known(cells.map((cell) => cell.value))];
  if (!values.length) return { low: 0, high: 1 };
  const lows = Math.min(...values, ...known(cells.map((cell) => cell.low)));
  const highs = Math.max(...values, ...known(cells.map((cell) => cell.high)));
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const wide = most - least || highs - lows || Math.abs(most) || 1;
  const below = nought.length > 0 && least >= 0;
  return {
    low: below ? 0 : Math.min(least - 0.04 * wide, Math.max(lows, least - 0.6 * wide)),
    high:
      most === 0 && nought.length && least === 0
        ? 1
        : nought.length && most <= 0
          ? 0
          : Math.max(most + 0.04 * wide, Math.min(highs, most + 0.6 * wide)),
  };
}

/** One stretch that holds several. */
export function spanned(spans: readonly Span[]): Span {
  return { low: Math.min(...spans.map((one) => one.low)), high: Math.max(...spans.map((one) => one.high)) };
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
  const base =
    measure.needs !== "numbers"
      ? `${whole(cell.hits)} hits in ${whole(cell.texts)} texts`
      : cell.hits === cell.texts
        ? `${whole(cell.texts)} texts with a value`
        : `${whole(cell.hits)} values in ${whole(cell.texts)} texts`;
  return `${row.label} in ${groupText(group)}: ${value}${interval}; ${base}`;
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
