import type { Table, TableRow } from "../../data/comparison";
import { ticks } from "../../lib/numbers";
import { useWidth } from "./dots";
import { cellLabel, tickLabel, top } from "./scale";

const HEIGHT = 150;
const LEFT = 46;

/** One strip a category over time, with intervals; empty periods are gaps, not noughts. */
export function TrendPlot({
  table,
  onOpen,
}: {
  table: Table;
  onOpen: (row: TableRow, group: string) => void;
}) {
  const [holder, width] = useWidth();
  const { groups, rows, measure } = table;
  const across = width > 620 ? 2 : 1;
  const strip = width / across;
  const step = (strip - LEFT - 22) / Math.max(groups.length - 1, 1);
  const x = (at: number) => LEFT + at * step;
  const height = Math.ceil(rows.length / across) * HEIGHT;
  const every = Math.max(1, Math.ceil(groups.length / Math.max(2, Math.floor((strip - LEFT) / 62))));
  return (
    <div ref={holder}>
      <svg
        data-figure
        width={width}
        height={height}
        role="group"
        aria-label={`${table.nouns} over time`}
        className="block rounded-md border border-line bg-sheet"
        fontFamily="var(--font-sans)"
        fontSize={11}
      >
        {rows.map((row, at) => {
          const colour = `var(--c${row.colour % 10})`;
          const most = top([row]);
          const y = (value: number) => HEIGHT - 22 - (Math.min(value, most) / most) * (HEIGHT - 56);
          return (
            <g
              key={row.key}
              transform={`translate(${(at % across) * strip} ${Math.floor(at / across) * HEIGHT})`}
            >
              <rect x={12} y={10} width={9} height={9} rx={2} fill={colour} />
              <text x={27} y={18.5} fontWeight={600} fontSize={12} fill="var(--ink)">
                {row.label}
              </text>
              {ticks(most, 3).map((tick) => (
                <g key={tick}>
                  <line x1={LEFT} x2={strip - 14} y1={y(tick)} y2={y(tick)} stroke="var(--line)" />
                  <text x={LEFT - 6} y={y(tick) + 3.5} textAnchor="end" fill="var(--ink3)">
                    {tickLabel(tick, measure)}
                  </text>
                </g>
              ))}
              {groups.map(
                (group, g) =>
                  g % every === 0 && (
                    <text key={group.label} x={x(g)} y={HEIGHT - 6} textAnchor="middle" fill="var(--ink3)">
                      {group.label}
                    </text>
                  ),
              )}
              {runs(row.cells).map((run, i) => (
                <path
                  key={i}
                  d={run.map((g, n) => `${n ? "L" : "M"}${x(g)} ${y(row.cells[g]!.value!)}`).join("")}
                  fill="none"
                  stroke={colour}
                  strokeWidth={1.6}
                />
              ))}
              {row.cells.map((cell, g) => {
                const group = groups[g]!.label;
                if (cell.value === null) return null;
                return (
                  <g
                    key={group}
                    role="button"
                    tabIndex={0}
                    aria-label={cellLabel(row, group, cell, table)}
                    className="group cursor-pointer outline-none"
                    onClick={() => onOpen(row, group)}
                    onKeyDown={(event) => (event.key === "Enter" || event.key === " ") && onOpen(row, group)}
                  >
                    <title>{cellLabel(row, group, cell, table)}</title>
                    {cell.low !== null && cell.high !== null && (
                      <line
                        x1={x(g)}
                        x2={x(g)}
                        y1={y(cell.low)}
                        y2={y(cell.high)}
                        stroke={colour}
                        strokeWidth={2}
                        opacity={0.4}
                      />
                    )}
                    <circle
                      cx={x(g)}
                      cy={y(cell.value)}
                      r={7}
                      fill="transparent"
                      className="group-hover:stroke-ink group-focus-visible:stroke-ink"
                      strokeWidth={1.4}
                    />
                    <circle cx={x(g)} cy={y(cell.value)} r={groups.length > 60 ? 1.6 : 2.8} fill={colour} />
                  </g>
                );
              })}
            </g>
          );
        })}
      </svg>
      <div className="mt-1.5 text-right text-ink2">
        {measure.axis}; each {table.noun} has its own scale
      </div>
    </div>
  );
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
