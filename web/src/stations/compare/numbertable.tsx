import { useState } from "react";
import { three, whole } from "../../lib/numbers";
import { Swatch } from "../../parts/controls";
import type { Comparison } from "./compare";
import { cellLabel, shown } from "./scale";

type Row = Comparison["rows"][number];

/** Numbers with their intervals; a cell is tinted where its adjusted residual lies beyond 2. */
export function NumberTable({
  comparison,
  onOpen,
}: {
  comparison: Comparison;
  onOpen: (row: Row, group: string) => void;
}) {
  const { groups, measure } = comparison;
  const [sort, setSort] = useState<{ at: number; down: boolean } | null>(null);
  const nested = comparison.rows.some((row) => row.depth > 0);
  const rows =
    sort && !nested ? [...comparison.rows].sort((a, b) => compareRows(a, b, sort)) : comparison.rows;
  const order = (at: number) =>
    setSort((now) => (now?.at === at ? (now.down ? { at, down: false } : null) : { at, down: true }));
  const head = "border-b border-line2 px-2.5 py-1.5 font-semibold text-ink2 align-bottom";
  return (
    <div
      className="overflow-auto rounded-md border border-line bg-sheet"
      role="region"
      tabIndex={0}
      aria-label="Numbers"
    >
      <table className="w-full">
        <thead>
          <tr>
            <th className={`${head} text-left`}>Category</th>
            {groups.map((group, at) => (
              <th
                key={group.label}
                className={`${head} text-right`}
                aria-sort={sort?.at === at ? (sort.down ? "descending" : "ascending") : "none"}
              >
                <button type="button" disabled={nested} onClick={() => order(at)} className="font-semibold">
                  {group.label}
                  {sort?.at === at ? (sort.down ? " ↓" : " ↑") : ""}
                </button>
              </th>
            ))}
            <th
              className={`${head} text-right`}
              title="Normalised deviation of proportions: 0 even, 1 all in one group"
            >
              Evenness
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.category_id} className="border-b border-line last:border-0">
              <td
                className="h-[40px] px-2.5 font-semibold whitespace-nowrap"
                style={{ paddingLeft: 10 + row.depth * 14 }}
              >
                <Swatch colour={row.colour} />
                {row.name}
              </td>
              {row.cells.map((cell, at) => {
                const group = groups[at]!.label;
                return (
                  <td key={group} className="px-1 text-right" style={{ background: tint(cell.residual) }}>
                    <button
                      type="button"
                      title={`${cellLabel(row, group, cell, measure)}${cell.residual === null ? "" : `; adjusted residual ${three(cell.residual)}`}`}
                      aria-label={cellLabel(row, group, cell, measure)}
                      onClick={() => onOpen(row, group)}
                      className="w-full px-1.5 py-0.5 text-right hover:underline"
                    >
                      <span className="block">
                        {shown(cell.value, measure)}
                        {mark(cell.residual)}
                      </span>
                      <span className="block text-[11px] text-ink2">
                        {cell.low === null || cell.high === null
                          ? `${whole(cell.hits)} hits`
                          : `${shown(cell.low, measure)} to ${shown(cell.high, measure)}`}
                      </span>
                    </button>
                  </td>
                );
              })}
              <td className="px-2.5 text-right">{three(row.evenness)}</td>
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
              <td className="border-t border-line2" />
            </tr>
          ))}
        </tfoot>
      </table>
      <div className="border-t border-line px-2.5 py-1.5 text-ink2">
        <span className="mr-1.5 inline-block h-2.5 w-4 align-middle" style={{ background: tint(4) }} />+ more,{" "}
        <span className="mr-1.5 ml-1 inline-block h-2.5 w-4 align-middle" style={{ background: tint(-4) }} />−
        fewer hits than the whole mix would give (adjusted residual beyond 2)
      </div>
    </div>
  );
}

function compareRows(a: Row, b: Row, sort: { at: number; down: boolean }): number {
  const value = (row: Row) => row.cells[sort.at]?.value ?? -Infinity;
  return sort.down ? value(b) - value(a) : value(a) - value(b);
}

/** Blue for fewer, ochre for more, white between. */
function tint(residual: number | null): string | undefined {
  if (residual === null || Math.abs(residual) < 2) return undefined;
  const strength = Math.min(Math.abs(residual) / 12, 1) * 0.38 + 0.08;
  return `rgba(var(${residual > 0 ? "--more" : "--less"}), ${strength})`;
}

function mark(residual: number | null): string {
  if (residual === null || Math.abs(residual) < 2) return "";
  return residual > 0 ? " +" : " −";
}
