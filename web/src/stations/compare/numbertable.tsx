import { useState } from "react";
import type { Table, TableCell, TableRow } from "../../data/comparison";
import { written } from "../../data/measures";
import { three, whole } from "../../lib/numbers";
import { Swatch } from "../../parts/controls";
import { groupText } from "./periods";
import { cellLabel, distanceLabel, pText } from "./scale";

/** Numbers with their intervals; a cell is tinted where the table says that it stands out. */
export function NumberTable({
  table,
  onOpen,
}: {
  table: Table;
  onOpen: (row: TableRow, group: string) => void;
}) {
  const { groups, measure } = table;
  // what stands out is told of rates, not of what people judged
  const tinted = measure.needs !== "judged";
  const means = measure.needs === "numbers";
  const [sort, setSort] = useState<{ at: number; down: boolean } | null>(null);
  const nested = table.rows.some((row) => row.depth > 0);
  const rows = sort && !nested ? [...table.rows].sort((a, b) => compareRows(a, b, sort)) : table.rows;
  const order = (at: number) =>
    setSort((now) => (now?.at === at ? (now.down ? { at, down: false } : null) : { at, down: true }));
  const head = "border-b border-line2 px-2.5 py-1.5 font-semibold text-ink2 align-bottom";
  return (
    <section
      className="overflow-auto rounded-md border border-line bg-sheet"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
      tabIndex={0}
      aria-label="Numbers"
    >
      <table className="w-full">
        <thead>
          <tr>
            <th className={`${head} sticky left-0 bg-sheet text-left`}>
              {table.noun[0]!.toUpperCase() + table.noun.slice(1)}
            </th>
            {groups.map((group, at) => (
              <th
                key={group.label}
                className={`${head} text-right`}
                aria-sort={sort?.at === at ? (sort.down ? "descending" : "ascending") : "none"}
              >
                <button type="button" disabled={nested} onClick={() => order(at)} className="font-semibold">
                  {groupText(group.label)}
                  {sort?.at === at ? (sort.down ? " ↓" : " ↑") : ""}
                </button>
              </th>
            ))}
            <th
              className={`${head} text-right`}
              title={`That the ${means ? "mean" : "rate"} differs between the groups: p, adjusted for all ${table.nouns} tested`}
            >
              p
            </th>
            {!means && (
              <th
                className={`${head} text-right`}
                title="Normalised deviation of proportions: 0 even, 1 all in the smallest group"
              >
                Evenness
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.key} className="border-b border-line last:border-0">
              <td
                className="sticky left-0 h-[40px] bg-sheet px-2.5 font-semibold whitespace-nowrap"
                style={{ paddingLeft: 10 + row.depth * 14 }}
              >
                <Swatch colour={row.colour} />
                {row.name}
              </td>
              {row.cells.map((cell, at) => {
                const group = groups[at]!.label;
                return (
                  <td
                    key={group}
                    className="px-1 text-right"
                    style={{ background: tinted ? tint(cell) : undefined }}
                  >
                    <button
                      type="button"
                      title={cellLabel(row, group, cell, table) + (tinted ? distanceLabel(cell) : "")}
                      aria-label={cellLabel(row, group, cell, table)}
                      onClick={() => onOpen(row, group)}
                      className="w-full px-1.5 py-0.5 text-right hover:underline"
                    >
                      <span className="block whitespace-nowrap">
                        {written(cell.value, measure.form)}
                        {tinted && mark(cell)}
                      </span>
                      <span
                        className={`block text-[11px] whitespace-nowrap ${tinted && cell.stands_out ? "text-ink" : "text-ink2"}`}
                      >
                        {cell.low === null || cell.high === null
                          ? `${whole(cell.hits)} ${means ? "values" : "hits"}`
                          : `${written(cell.low, measure.form)} to ${written(cell.high, measure.form)}`}
                      </span>
                    </button>
                  </td>
                );
              })}
              <td className="px-2.5 text-right whitespace-nowrap">{pText(row.p)}</td>
              {!means && <td className="px-2.5 text-right">{three(row.evenness)}</td>}
            </tr>
          ))}
        </tbody>
        <tfoot className="text-ink2">
          {(["texts", "words"] as const).map((base) => (
            <tr key={base}>
              <td className="border-t border-line2 px-2.5 py-1">{base === "texts" ? "Texts" : "Words"}</td>
              {groups.map((group) => (
                <td key={group.label} className="border-t border-line2 px-2.5 text-right">
                  {whole(group[base])}
                </td>
              ))}
              <td className="border-t border-line2" colSpan={means ? 1 : 2} />
            </tr>
          ))}
        </tfoot>
      </table>
      {tinted && (
        <div className="border-t border-line px-2.5 py-1.5 text-ink2">
          <span
            className="mr-1.5 inline-block h-2.5 w-4 align-middle"
            style={{ background: tint({ distance: 6, stands_out: 1 }) }}
          />
          + {means ? "higher" : "more"},{" "}
          <span
            className="mr-1.5 ml-1 inline-block h-2.5 w-4 align-middle"
            style={{ background: tint({ distance: -6, stands_out: -1 }) }}
          />
          − {means ? "lower mean" : "fewer hits"} than in all other groups, significant among all cells
          together
        </div>
      )}
    </section>
  );
}

function compareRows(a: TableRow, b: TableRow, sort: { at: number; down: boolean }): number {
  const value = (row: TableRow) => row.cells[sort.at]?.value ?? -Infinity;
  return sort.down ? value(b) - value(a) : value(a) - value(b);
}

/** Blue for fewer, ochre for more, white between. */
function tint({ distance, stands_out }: Pick<TableCell, "distance" | "stands_out">): string | undefined {
  if (distance === null || !stands_out) return undefined;
  const strength = Math.min(Math.abs(distance) / 12, 1) * 0.38 + 0.08;
  return `rgba(var(${stands_out > 0 ? "--more" : "--less"}), ${strength})`;
}

function mark({ stands_out }: TableCell): string {
  return stands_out > 0 ? " +" : stands_out < 0 ? " −" : "";
}
