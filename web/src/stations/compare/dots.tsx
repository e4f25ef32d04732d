import { useLayoutEffect, useRef, useState } from "react";
import type { Table, TableRow } from "../../data/comparison";
import { ticks } from "../../lib/numbers";
import { groupText } from "./periods";
import { cellLabel, type Span, spanned, spanOf, tickLabel } from "./scale";

const SHAPES = 8;
/** A group of fewer texts is drawn faint: it says next to nothing. */
const FEW = 5;
const LINE = 11;
const AXIS = 28;
const LEGEND = 18;
/** About the width of a letter of the legend. */
const LETTER = 6.6;

/** A group's own sign: shape and filling, so that colour is never needed to tell groups apart. */
function Sign({ at, x, y, colour }: { at: number; x: number; y: number; colour: string }) {
  const fill = at % 2 ? colour : "var(--sheet)";
  const style = { fill, stroke: colour, strokeWidth: 2 };
  switch (Math.floor(at / 2) % 4) {
    case 0:
      return <circle cx={x} cy={y} r={4.3} {...style} />;
    case 1:
      return <rect x={x - 3.9} y={y - 3.9} width={7.8} height={7.8} {...style} />;
    case 2:
      return <path d={`M${x} ${y - 5}l5 8.4h-10z`} {...style} />;
    default:
      return <path d={`M${x} ${y - 5.2}l5.2 5.2l-5.2 5.2l-5.2 -5.2z`} {...style} />;
  }
}

export function useWidth(): [React.RefObject<HTMLDivElement | null>, number] {
  const holder = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(700);
  useLayoutEffect(() => {
    const element = holder.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setWidth(element.clientWidth));
    watch.observe(element);
    setWidth(element.clientWidth);
    return () => watch.disconnect();
  }, []);
  return [holder, Math.max(width, 360)];
}

/** Dots with intervals: a block a category, a line a group. Many groups are named on their lines. */
export function DotPlot({ table, onOpen }: { table: Table; onOpen: (row: TableRow, group: string) => void }) {
  const [holder, width] = useWidth();
  const { groups, rows, measure } = table;
  const named = groups.length > SHAPES;
  const line = named ? 17 : LINE;
  const left = Math.min(named ? 260 : 168, width * 0.36);
  const room = width - left - 20;
  // numbers of unlike kinds each have a scale of their own
  const own = measure.needs === "numbers" && rows.length > 1;
  const spans = rows.map((row) => spanOf([row], measure));
  const whole = rows.length ? spanned(spans) : { low: 0, high: 1 };
  const at =
    ({ low, high }: Span) =>
    (value: number) =>
      left + ((Math.min(Math.max(value, low), high) - low) / (high - low)) * room;
  const block = groups.length * line + (own ? AXIS + 2 : 12);
  const unit = measure.axis;
  const legend = named
    ? []
    : legendOf(
        groups.map((group) => groupText(group.label)),
        width - 24 - unit.length * LETTER,
      );
  const head = LEGEND * Math.max(1, (legend.at(-1)?.line ?? 0) + 1) + (own ? 10 : AXIS);
  const height = head + rows.length * block + 4;
  return (
    <div ref={holder}>
      <svg
        data-figure
        width={width}
        height={height}
        role="group"
        aria-label={`${table.nouns} by group, ${unit}`}
        className="block rounded-md border border-line bg-sheet"
        fontFamily="var(--font-sans)"
        fontSize={12}
      >
        {legend.map(({ label, x, line }, at) => (
          <g key={label}>
            <title>{`${groups[at]!.texts.toLocaleString("en-GB")} texts, ${groups[at]!.words.toLocaleString("en-GB")} words`}</title>
            <Sign at={at} x={x + 6} y={14 + line * LEGEND} colour="var(--ink2)" />
            <text x={x + 16} y={18 + line * LEGEND} fill="var(--ink2)">
              {label}
            </text>
          </g>
        ))}
        <text x={width - 12} y={18} textAnchor="end" fill="var(--ink2)">
          {unit}
        </text>
        {!own && <Axis span={whole} x={at(whole)} measure={measure} y={head} height={height} />}
        {rows.map((row, n) => {
          const y0 = head + n * block;
          const colour = `var(--c${row.colour % 10})`;
          const x = at(own ? spans[n]! : whole);
          return (
            <g key={row.key}>
              {own && (
                <Axis span={spans[n]!} x={x} measure={measure} y={y0 + AXIS - 6} height={y0 + block - 4} />
              )}
              <line x1={0} x2={width} y1={y0 + block} y2={y0 + block} stroke="var(--line)" />
              <rect x={12 + row.depth * 12} y={y0 + 10} width={9} height={9} rx={2} fill={colour} />
              <text x={28 + row.depth * 12} y={y0 + 19} fontWeight={600} fill="var(--ink)">
                {clip(row.name, named ? 16 : 18)}
              </text>
              {row.cells.map((cell, g) => {
                const y = y0 + (own ? AXIS - 4 : 8) + g * line + line / 2 - 2;
                const group = groups[g]!.label;
                const few = groups[g]!.texts < FEW;
                return (
                  <g key={group} opacity={few ? 0.45 : 1}>
                    {named && (
                      <text x={left - 10} y={y + 4} textAnchor="end" fill="var(--ink2)" fontSize={11}>
                        {clip(group, 22)}
                      </text>
                    )}
                    {cell.value !== null && (
                      <g
                        role="button"
                        tabIndex={0}
                        aria-label={cellLabel(row, group, cell, table)}
                        data-testid={`dot-${row.name}-${group}`}
                        className="group cursor-pointer outline-none"
                        onClick={() => onOpen(row, group)}
                        onKeyDown={(event) => {
                          if (event.key === "Enter" || event.key === " ") {
                            event.preventDefault();
                            onOpen(row, group);
                          }
                        }}
                      >
                        <title>
                          {cellLabel(row, group, cell, table) +
                            (few ? "; too few texts to say anything" : "")}
                        </title>
                        {cell.low !== null && cell.high !== null && (
                          <line
                            x1={x(cell.low)}
                            x2={x(cell.high)}
                            y1={y}
                            y2={y}
                            stroke={colour}
                            strokeWidth={2}
                            opacity={0.45}
                          />
                        )}
                        <circle
                          cx={x(cell.value)}
                          cy={y}
                          r={9}
                          fill="transparent"
                          className="group-hover:stroke-ink group-focus-visible:stroke-ink"
                          strokeWidth={1.5}
                        />
                        <Sign at={named ? 1 : g} x={x(cell.value)} y={y} colour={colour} />
                      </g>
                    )}
                  </g>
                );
              })}
            </g>
          );
        })}
      </svg>
    </div>
  );
}

/** Round values above what is drawn, each with a line through it. */
function Axis({
  span,
  x,
  measure,
  y,
  height,
}: {
  span: Span;
  x: (value: number) => number;
  measure: Table["measure"];
  y: number;
  height: number;
}) {
  return ticks(span.high, 6, span.low).map((tick) => (
    <g key={tick}>
      <line x1={x(tick)} x2={x(tick)} y1={y - 4} y2={height} stroke="var(--line)" opacity={0.7} />
      <text x={x(tick)} y={y - 10} textAnchor="middle" fill="var(--ink3)">
        {tickLabel(tick, measure)}
      </text>
    </g>
  ));
}

/** Where the signs of the groups stand: beside each other, on as many lines as they need. */
function legendOf(labels: readonly string[], room: number) {
  let [x, line] = [12, 0];
  return labels.map((label) => {
    const wide = 30 + label.length * LETTER;
    if (x > 12 && x + wide > room) [x, line] = [12, line + 1];
    const place = { label, x, line };
    x += wide;
    return place;
  });
}

export function clip(text: string, most: number): string {
  return text.length > most ? `${text.slice(0, most - 1)}…` : text;
}
