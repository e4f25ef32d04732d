import { useMemo } from "react";
import type { Table, TableRow } from "../../data/comparison";
import { layOut, type Measure } from "../../lib/cloud";
import { whole } from "../../lib/numbers";
import { useWidth } from "./dots";

const HEIGHT = 380;

let pen: CanvasRenderingContext2D | null = null;
const measured: Measure = (text, size) => {
  pen ??= document.createElement("canvas").getContext("2d");
  if (!pen) return text.length * size * 0.55;
  pen.font = `600 ${size}px "Libre Franklin Variable", sans-serif`;
  return pen.measureText(text).width;
};

const hits = (row: TableRow) => row.cells.reduce((sum, cell) => sum + cell.hits, 0);

/** The rows as a cloud: the larger, the more hits in all groups together. */
export function CloudPlot({
  table,
  onOpen,
}: {
  table: Table;
  onOpen: (row: TableRow, group: string) => void;
}) {
  const [holder, width] = useWidth();
  const placed = useMemo(() => {
    const words = table.rows
      .map((row, at) => ({ text: row.name, value: hits(row), tint: at }))
      .filter((word) => word.value > 0);
    const settings = {
      width,
      height: HEIGHT,
      smallest: 13,
      largest: 46,
      scale: "root" as const,
      shape: "oval" as const,
    };
    return layOut(words, settings, measured);
  }, [table, width]);
  const most = (row: TableRow) =>
    row.cells.reduce((best, cell, at) => (cell.hits > row.cells[best]!.hits ? at : best), 0);
  return (
    <div ref={holder}>
      <svg
        data-figure
        width={width}
        height={HEIGHT}
        role="group"
        aria-label={`${table.nouns} as a cloud`}
        className="block rounded-md border border-line bg-sheet"
        fontFamily="var(--font-sans)"
      >
        {placed.map((word) => {
          const row = table.rows[word.tint]!;
          const label = `${row.label}: ${whole(hits(row))} hits`;
          return (
            <text
              key={row.key}
              x={word.x}
              y={word.y}
              fontSize={word.size}
              fontWeight={600}
              textAnchor="middle"
              dominantBaseline="central"
              fill={`var(--c${row.colour % 10})`}
              role="button"
              tabIndex={0}
              aria-label={label}
              className="cursor-pointer outline-none hover:underline focus-visible:underline"
              onClick={() => onOpen(row, table.groups[most(row)]!.label)}
              onKeyDown={(event) =>
                (event.key === "Enter" || event.key === " ") && onOpen(row, table.groups[most(row)]!.label)
              }
            >
              <title>{label}</title>
              {word.text}
            </text>
          );
        })}
      </svg>
      <p className="mt-1.5 text-ink2">
        The larger, the more hits in all groups together. A word opens its passages in the group that has
        most.
      </p>
    </div>
  );
}
