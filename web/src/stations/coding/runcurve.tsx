import { useId, useRef } from "react";
import type { Schema } from "../../api/client";

type Point = Schema["CurvePoint"];
const W = 430;
const H = 190;
const LEFT = 34;
const RIGHT = 62;
const TOP = 10;
const BOTTOM = 26;
const x = (threshold: number) => LEFT + threshold * (W - LEFT - RIGHT);
const y = (share: number) => TOP + (1 - share) * (H - TOP - BOTTOM);

/** Precision and recall by threshold, with their intervals; the threshold is dragged, or moved by the arrow keys. */
export function RunCurve({
  curve,
  at,
  onMove,
}: {
  curve: readonly Point[];
  /** Place of the threshold in the curve. */
  at: number;
  onMove: (at: number) => void;
}) {
  const box = useRef<SVGSVGElement>(null);
  const label = useId();
  const move = (to: number) => onMove(Math.max(0, Math.min(curve.length - 1, to)));
  const drag = (event: React.PointerEvent) => {
    if (!box.current || (event.type === "pointermove" && event.buttons !== 1)) return;
    const { left, width } = box.current.getBoundingClientRect();
    const share = (((event.clientX - left) / width) * W - LEFT) / (W - LEFT - RIGHT);
    const found = Math.round(share * (curve.length + 1)) - 1;
    if (Number.isFinite(found)) move(found);
  };
  const keys: Record<string, number> = {
    ArrowLeft: -1,
    ArrowDown: -1,
    ArrowRight: 1,
    ArrowUp: 1,
    PageDown: -10,
    PageUp: 10,
  };
  const point = curve[at];
  if (!point) return null;
  return (
    <div className="max-w-[520px] select-none">
      <svg
        ref={box}
        viewBox={`0 0 ${W} ${H}`}
        className="w-full touch-none"
        role="img"
        aria-labelledby={label}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          drag(event);
        }}
        onPointerMove={drag}
      >
        <title id={label}>Precision and recall by threshold</title>
        {[0, 0.25, 0.5, 0.75, 1].map((share) => (
          <g key={share}>
            <line x1={LEFT} x2={W - RIGHT} y1={y(share)} y2={y(share)} stroke="var(--line)" />
            <text x={LEFT - 6} y={y(share) + 3.5} textAnchor="end" fontSize="10" fill="var(--ink2)">
              {share}
            </text>
          </g>
        ))}
        {[0.2, 0.4, 0.6, 0.8].map((one) => (
          <text key={one} x={x(one)} y={H - 10} textAnchor="middle" fontSize="10" fill="var(--ink2)">
            {one}
          </text>
        ))}
        <text x={W - RIGHT + 5} y={H - 10} fontSize="10" fill="var(--ink2)">
          threshold
        </text>
        <Line curve={curve} of="recall" colour="var(--c0)" />
        <Line curve={curve} of="precision" colour="var(--bottle)" />
        <Ends curve={curve} />
        <line
          x1={x(point.threshold)}
          x2={x(point.threshold)}
          y1={TOP}
          y2={H - BOTTOM}
          stroke="var(--ink)"
          strokeWidth="1.5"
        />
        <path d={`M${x(point.threshold) - 6} ${H - BOTTOM + 8} h12 l-6 -8 z`} fill="var(--ink)" />
      </svg>
      {/* the handle for the keyboard lies over the picture's foot */}
      <div
        role="slider"
        tabIndex={0}
        aria-label="Threshold"
        aria-valuemin={0.01}
        aria-valuemax={0.99}
        aria-valuenow={point.threshold}
        aria-valuetext={`from ${point.threshold} on`}
        className="-mt-[26px] h-[22px] rounded-[5px]"
        style={{
          marginLeft: `${(LEFT / W) * 100}%`,
          marginRight: `${(RIGHT / W) * 100}%`,
          pointerEvents: "none",
        }}
        onKeyDown={(event) => {
          const by = keys[event.key];
          if (by === undefined) return;
          event.preventDefault();
          move(at + by);
        }}
      />
    </div>
  );
}

function Line({
  curve,
  of,
  colour,
}: {
  curve: readonly Point[];
  of: "precision" | "recall";
  colour: string;
}) {
  const known = curve.filter((one) => one[of].value !== null);
  const sure = known.filter((one) => one[of].low !== null && one[of].high !== null);
  const path = (points: readonly [number, number][]) =>
    points.map(([a, b]) => `${a.toFixed(1)},${b.toFixed(1)}`).join(" L");
  const up = sure.map((one): [number, number] => [x(one.threshold), y(one[of].high ?? 0)]);
  const down = sure.map((one): [number, number] => [x(one.threshold), y(one[of].low ?? 0)]).reverse();
  return (
    <>
      {sure.length > 1 && <path d={`M${path([...up, ...down])}Z`} fill={colour} opacity="0.13" />}
      {known.length > 1 && (
        <path
          d={`M${path(known.map((one): [number, number] => [x(one.threshold), y(one[of].value ?? 0)]))}`}
          fill="none"
          stroke={colour}
          strokeWidth="1.8"
        />
      )}
    </>
  );
}

/** What the lines are, at their right ends, apart from each other. */
function Ends({ curve }: { curve: readonly Point[] }) {
  const last = (of: "precision" | "recall") =>
    curve.findLast((one) => one[of].value !== null)?.[of].value ?? 0;
  const recall = y(last("recall"));
  let precision = y(last("precision"));
  if (Math.abs(precision - recall) < 12) precision = recall - 12 > TOP ? recall - 12 : recall + 12;
  return (
    <>
      <text x={W - RIGHT + 5} y={precision + 3.5} fontSize="11" fill="var(--bottle)">
        precision
      </text>
      <text x={W - RIGHT + 5} y={recall + 3.5} fontSize="11" fill="var(--c0)">
        recall
      </text>
    </>
  );
}
