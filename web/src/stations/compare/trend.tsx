import { type Changes, useEvents } from "../../data/answers";
import type { Table, TableRow } from "../../data/comparison";
import { ticks } from "../../lib/numbers";
import { useWidth } from "./dots";
import { type Panel, panelsOf, runs } from "./panels";
import { groupText, placeOf } from "./periods";
import { cellLabel, type Span, spanned, tickLabel } from "./scale";

const HEIGHT = 158;
const LEFT = 46;
/** Beyond so many panels they are too small to read; the rest is named. */
export const MOST_PANELS = 60;

/** A panel for each row (and group) over time, with intervals; empty periods are gaps, not noughts. */
export function TrendPlot({
  table,
  onOpen,
  changes,
  together = false,
  crossed = null,
}: {
  table: Table;
  onOpen: (row: TableRow, group: string) => void;
  /** Where rates changed, and their moving averages. */
  changes?: Changes | undefined;
  /** Whether all panels share one scale. */
  together?: boolean;
  /** Which of two crossed fields is time. */
  crossed?: "first" | "second" | null;
}) {
  const [holder, width] = useWidth();
  const events = useEvents();
  const { labels, panels: all } = panelsOf(table, crossed, changes);
  const panels = all.slice(0, MOST_PANELS);
  const across = width > 980 && panels.length > 4 ? 3 : width > 620 && panels.length > 1 ? 2 : 1;
  const strip = width / across;
  const height = Math.ceil(panels.length / across) * HEIGHT;
  const whole = panels.length ? spanned(panels.map((panel) => panel.span)) : { low: 0, high: 1 };
  const marked = events
    .map((event) => ({ event, at: placeOf(event.day, labels) }))
    .filter((one): one is { event: (typeof events)[number]; at: number } => one.at !== null);
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
        {panels.map((panel, at) => (
          <Strip
            key={panel.key}
            panel={panel}
            table={table}
            labels={labels}
            span={together ? whole : panel.span}
            wide={strip}
            events={marked.map(({ event, at }) => ({ name: event.name, at }))}
            shift={[(at % across) * strip, Math.floor(at / across) * HEIGHT]}
            onOpen={onOpen}
          />
        ))}
      </svg>
      <div className="mt-1.5 text-right text-ink2">
        {table.measure.axis}; {together ? "all on one scale" : "each panel has its own scale"}
        {all.length > panels.length && `; ${all.length - panels.length} more are in the table`}
      </div>
    </div>
  );
}

function Strip({
  panel,
  table,
  labels,
  span,
  wide,
  events,
  shift,
  onOpen,
}: {
  panel: Panel;
  table: Table;
  labels: readonly string[];
  span: Span;
  wide: number;
  events: readonly { name: string; at: number }[];
  shift: [number, number];
  onOpen: (row: TableRow, group: string) => void;
}) {
  const step = (wide - LEFT - 22) / Math.max(labels.length - 1, 1);
  const x = (at: number) => LEFT + at * step;
  const { low, high } = span;
  const y = (value: number) =>
    HEIGHT - 22 - ((Math.max(low, Math.min(value, high)) - low) / (high - low)) * (HEIGHT - 64);
  const every = Math.max(1, Math.ceil(labels.length / Math.max(2, Math.floor((wide - LEFT) / 62))));
  const colour = `var(--c${panel.row.colour % 10})`;
  return (
    <g transform={`translate(${shift[0]} ${shift[1]})`}>
      <rect x={12} y={10} width={9} height={9} rx={2} fill={colour} />
      <text x={27} y={18.5} fontWeight={600} fontSize={12} fill="var(--ink)">
        {panel.title}
      </text>
      {ticks(high, low === 0 ? 3 : 5, low).map((tick) => (
        <g key={tick}>
          <line x1={LEFT} x2={wide - 14} y1={y(tick)} y2={y(tick)} stroke="var(--line)" />
          <text x={LEFT - 6} y={y(tick) + 3.5} textAnchor="end" fill="var(--ink3)">
            {tickLabel(tick, table.measure)}
          </text>
        </g>
      ))}
      {labels.map(
        (label, at) =>
          at % every === 0 && (
            <text key={label} x={x(at)} y={HEIGHT - 6} textAnchor="middle" fill="var(--ink3)">
              {groupText(label).replace("week of ", "")}
            </text>
          ),
      )}
      {panel.changes.map((change) => (
        <g key={change.at}>
          <title>{`Between ${groupText(labels[change.low]!)} and ${groupText(labels[Math.min(change.high, labels.length - 1)]!)} the ${table.measure.needs === "numbers" ? "mean" : "rate"} changed`}</title>
          <rect
            x={x(change.low) - step / 2}
            width={Math.max((change.high - change.low + 1) * step, 3)}
            y={26}
            height={HEIGHT - 48}
            fill="var(--straw)"
            opacity={0.35}
          />
          <line
            x1={x(change.at) - step / 2}
            x2={x(change.at) - step / 2}
            y1={26}
            y2={HEIGHT - 22}
            stroke="var(--ink)"
          />
        </g>
      ))}
      {events.map((event, at) => (
        <g key={`${event.name}.${at}`}>
          <line
            x1={x(event.at)}
            x2={x(event.at)}
            y1={32}
            y2={HEIGHT - 22}
            stroke="var(--rust)"
            strokeDasharray="3 3"
          />
          <text
            x={x(event.at) + (event.at > labels.length * 0.75 ? -4 : 4)}
            y={31 + (at % 2) * 11}
            textAnchor={event.at > labels.length * 0.75 ? "end" : "start"}
            fill="var(--rust)"
          >
            {event.name}
          </text>
        </g>
      ))}
      {!panel.smooth.length &&
        runs(panel.cells).map((run, at) => (
          <path
            key={at}
            d={path(run, (place) => panel.cells[place]!.value!, x, y)}
            fill="none"
            stroke={colour}
            strokeWidth={1.6}
          />
        ))}
      {panel.smooth.length > 0 &&
        runs(panel.smooth.map((value) => ({ value }))).map((run, at) => (
          <path
            key={at}
            d={path(run, (place) => panel.smooth[place]!, x, y)}
            fill="none"
            stroke={colour}
            strokeWidth={2.4}
          />
        ))}
      {panel.cells.map((cell, at) => {
        const group = panel.groups[at];
        if (cell.value === null || group === null || group === undefined) return null;
        const said = cellLabel(panel.row, group, cell, table);
        return (
          <g
            key={group}
            role="button"
            tabIndex={0}
            aria-label={said}
            className="group cursor-pointer outline-none"
            onClick={() => onOpen(panel.row, group)}
            onKeyDown={(event) => (event.key === "Enter" || event.key === " ") && onOpen(panel.row, group)}
          >
            <title>{said}</title>
            {cell.low !== null && cell.high !== null && (
              <line
                x1={x(at)}
                x2={x(at)}
                y1={y(cell.low)}
                y2={y(cell.high)}
                stroke={colour}
                strokeWidth={2}
                opacity={0.4}
              />
            )}
            <circle
              cx={x(at)}
              cy={y(cell.value)}
              r={7}
              fill="transparent"
              className="group-hover:stroke-ink group-focus-visible:stroke-ink"
              strokeWidth={1.4}
            />
            <circle
              cx={x(at)}
              cy={y(cell.value)}
              r={labels.length > 60 ? 1.6 : 2.8}
              fill={colour}
              opacity={panel.smooth.length ? 0.45 : 1}
            />
          </g>
        );
      })}
    </g>
  );
}

function path(
  run: readonly number[],
  value: (at: number) => number,
  x: (at: number) => number,
  y: (v: number) => number,
) {
  return run.map((at, n) => `${n ? "L" : "M"}${x(at)} ${y(value(at))}`).join("");
}
