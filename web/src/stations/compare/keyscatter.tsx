import { useMemo } from "react";
import type { KeywordsPage } from "../../data/answers";
import { three } from "../../lib/numbers";
import { useWidth } from "./dots";
import { apartFrom, type Box } from "./labels";

type Point = KeywordsPage["points"][number];
const HEIGHT = 340;
const [LEFT, RIGHT, TOP, BOTTOM] = [56, 24, 18, 40];
const LETTER = 6.3;

/** How often against how much more: what matters most is named, and no name lies over another or over a dot. */
export function KeywordScatter({ page, onOpen }: { page: KeywordsPage; onOpen: (name: string) => void }) {
  const [holder, width] = useWidth();
  const drawn = useMemo(() => placed(page.points, width), [page.points, width]);
  if (!page.points.length) return null;
  const { points, x, y, decades, low, high } = drawn;
  const [group, other] = page.sides.map((side) => side.label);
  return (
    <div ref={holder}>
      <svg
        data-figure
        width={width}
        height={HEIGHT}
        role="group"
        aria-label="Words by frequency and log ratio"
        className="block rounded-md border border-line bg-sheet"
        fontFamily="var(--font-sans)"
        fontSize={12}
      >
        {decades.map((decade) => (
          <g key={decade}>
            <line x1={x(decade)} x2={x(decade)} y1={TOP} y2={HEIGHT - BOTTOM} stroke="var(--line)" />
            <text x={x(decade)} y={HEIGHT - BOTTOM + 16} textAnchor="middle" fill="var(--ink3)">
              {decade.toLocaleString("en-GB")}
            </text>
          </g>
        ))}
        {Array.from({ length: high - low + 1 }, (_, at) => low + at)
          .filter((tick) => tick % (high - low > 8 ? 2 : 1) === 0)
          .map((tick) => (
            <g key={tick}>
              <line
                x1={LEFT}
                x2={width - RIGHT}
                y1={y(tick)}
                y2={y(tick)}
                stroke={tick ? "var(--line)" : "var(--ink3)"}
              />
              <text x={LEFT - 8} y={y(tick) + 4} textAnchor="end" fill="var(--ink3)">
                {tick > 0 ? `+${tick}` : tick}
              </text>
            </g>
          ))}
        <text x={width - RIGHT - 8} y={TOP + 12} textAnchor="end" fill="var(--ink2)" fontWeight={600}>
          more in {group}
        </text>
        <text
          x={width - RIGHT - 8}
          y={HEIGHT - BOTTOM - 8}
          textAnchor="end"
          fill="var(--ink2)"
          fontWeight={600}
        >
          more in {other}
        </text>
        <text x={width - RIGHT} y={HEIGHT - 8} textAnchor="end" fill="var(--ink2)">
          hits per 1,000,000 words; upwards log ratio
        </text>
        {points.map((point) => {
          const colour = `rgb(var(${point.ratio > 0 ? "--more" : "--less"}))`;
          const said = `${point.name}: ${three(point.rate)} per 1,000,000 words, log ratio ${three(point.ratio)}, G2 ${three(Math.abs(point.g2))}${point.sure ? "" : "; not significant, or in too few texts"}`;
          return (
            <g
              key={point.name}
              role="button"
              tabIndex={0}
              aria-label={said}
              className="group cursor-pointer outline-none"
              onClick={() => onOpen(point.name)}
              onKeyDown={(event) => (event.key === "Enter" || event.key === " ") && onOpen(point.name)}
            >
              <title>{said}</title>
              <circle
                cx={point.x}
                cy={point.y}
                r={point.size}
                fill={point.sure ? colour : "var(--sheet)"}
                stroke={colour}
                strokeWidth={1.4}
                opacity={0.8}
                className="group-hover:stroke-ink group-focus-visible:stroke-ink"
              />
              {point.label && (
                <text
                  x={point.label[0]}
                  y={point.label[1]}
                  fill="var(--ink)"
                  fontWeight={point.sure ? 600 : 400}
                >
                  {point.name}
                </text>
              )}
            </g>
          );
        })}
      </svg>
      <p className="mt-1.5 text-ink2">
        Filled where the difference is significant. A dot finds its word in the list below.
      </p>
    </div>
  );
}

function placed(all: readonly Point[], width: number) {
  const rates = all.map((point) => Math.max(point.rate, 0.1));
  const first = Math.floor(Math.log10(Math.min(...rates, 1)));
  const last = Math.max(Math.ceil(Math.log10(Math.max(...rates, 10))), first + 1);
  const from = Math.log10(Math.min(...rates)) - 0.08;
  const to = Math.log10(Math.max(...rates)) + 0.12;
  const low = Math.min(-1, Math.floor(Math.min(...all.map((point) => point.ratio))));
  const high = Math.max(1, Math.ceil(Math.max(...all.map((point) => point.ratio))));
  const x = (rate: number) =>
    LEFT +
    14 +
    ((Math.log10(Math.max(rate, 0.1)) - from) / Math.max(to - from, 1e-9)) * (width - LEFT - RIGHT - 60);
  const y = (ratio: number) => TOP + ((high - ratio) / (high - low)) * (HEIGHT - TOP - BOTTOM);
  const most = Math.max(...all.map((point) => Math.abs(point.g2)), 1);
  const sized = [...all]
    .sort((a, b) => Math.abs(b.g2) - Math.abs(a.g2))
    .map((point) => ({
      ...point,
      x: x(point.rate),
      y: y(point.ratio),
      size: 2.5 + Math.sqrt(Math.abs(point.g2) / most) * 6,
      label: null as [number, number] | null,
    }));
  const taken: Box[] = sized.map((one) => [
    one.x - one.size,
    one.y - one.size,
    one.x + one.size,
    one.y + one.size,
  ]);
  sized.forEach((one, at) => {
    const wide = one.name.length * LETTER + 4;
    // beside it, left of it, above, below: the first place that is free
    const places: [number, number][] = [
      [one.x + one.size + 3, one.y + 4],
      [one.x - one.size - wide, one.y + 4],
      [one.x - wide / 2, one.y - one.size - 4],
      [one.x - wide / 2, one.y + one.size + 12],
    ];
    for (const [left, base] of places) {
      const box: Box = [left, base - 10, left + wide, base + 3];
      const inside =
        box[0] >= LEFT && box[2] <= width - 4 && box[1] >= TOP + 14 && box[3] <= HEIGHT - BOTTOM - 18;
      if (inside && apartFrom(box, taken, at)) {
        taken.push(box);
        one.label = [left, base];
        return;
      }
    }
  });
  const decades = Array.from({ length: last - first + 1 }, (_, at) => 10 ** (first + at)).filter(
    (decade) => x(decade) >= LEFT && x(decade) <= width - RIGHT,
  );
  return { points: sized, x, y, decades, low, high };
}
