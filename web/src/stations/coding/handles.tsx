import { type PointerEvent, type RefObject, useCallback, useState } from "react";
import type { Passage } from "../../data/coding";
import type { Interval } from "../../lib/marks";
import { toUtf16 } from "../../lib/offsets";
import { segments } from "../../lib/segments";
import { useRemeasured } from "../../lib/useremeasured";

type Edge = "start" | "end";
interface Place {
  left: number;
  top: number;
  height: number;
}

/** Two grips at the ends of the open passage: dragged, they lengthen or shorten it word by word. */
export function Handles({
  page,
  body,
  passage,
  onResize,
}: {
  page: RefObject<HTMLDivElement | null>;
  body: string;
  passage: Passage;
  onResize: (to: Interval) => void;
}) {
  const [at, setAt] = useState<Record<Edge, Place> | null>(null);
  const [dragged, setDragged] = useState<{ edge: Edge; to: Interval } | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: where its words stand follows from its ends
  const measure = useCallback(() => {
    const holder = page.current;
    const pieces = holder?.querySelectorAll<HTMLElement>(`[data-passages~="${passage.id}"]`);
    if (!holder || !pieces?.length) return setAt(null);
    const box = holder.getBoundingClientRect();
    const first = pieces[0]!.getClientRects()[0];
    const last = [...pieces[pieces.length - 1]!.getClientRects()].at(-1);
    if (!first || !last) return setAt(null);
    setAt({
      start: { left: first.left - box.left, top: first.top - box.top, height: first.height },
      end: { left: last.right - box.left, top: last.top - box.top, height: last.height },
    });
  }, [page, passage.id, passage.start, passage.end]);
  useRemeasured(page, measure);
  if (!at) return null;
  const [start, end] = toUtf16(body, [passage.start, passage.end]) as unknown as [number, number];
  const move = (edge: Edge) => (event: PointerEvent) => {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
    const to = letterAt(event.clientX, event.clientY);
    if (to === null) return;
    const next = snapped(body, { start, end }, edge, to);
    if (next) setDragged({ edge, to: next });
  };
  const drop = () => {
    if (dragged && (dragged.to.start !== start || dragged.to.end !== end)) onResize(dragged.to);
    setDragged(null);
  };
  return (
    <>
      {(["start", "end"] as const).map((edge) => (
        <span
          key={edge}
          aria-hidden
          data-testid={`handle-${edge}`}
          onPointerDown={(event) => {
            event.preventDefault();
            event.currentTarget.setPointerCapture(event.pointerId);
          }}
          onPointerMove={move(edge)}
          onPointerUp={drop}
          onPointerCancel={() => setDragged(null)}
          className="absolute z-10 w-[9px] cursor-col-resize touch-none select-none before:absolute before:inset-y-0 before:left-[4px] before:w-[2px] before:bg-bottle after:absolute after:-bottom-1 after:left-[1px] after:h-2 after:w-2 after:rounded-full after:bg-bottle"
          style={{ left: at[edge].left - 5, top: at[edge].top, height: at[edge].height }}
        />
      ))}
      {dragged && (
        <span
          role="status"
          className="absolute z-20 max-w-[420px] truncate rounded border border-line2 bg-sheet px-2 py-0.5 font-sans text-[12px]"
          style={{ left: 0, top: at[dragged.edge].top + at[dragged.edge].height + 8 }}
        >
          {body.slice(dragged.to.start, dragged.to.end).replace(/\s+/g, " ").slice(0, 200)}
        </span>
      )}
    </>
  );
}

/** The place of the letter under the pointer, in UTF-16 units; null outside of the text. */
function letterAt(x: number, y: number): number | null {
  const caret = document.caretPositionFromPoint?.(x, y);
  const range = caret ? null : document.caretRangeFromPoint?.(x, y);
  const node = caret?.offsetNode ?? range?.startContainer;
  const offset = caret?.offset ?? range?.startOffset ?? 0;
  const holder = (node instanceof Element ? node : node?.parentElement)?.closest<HTMLElement>("[data-at]");
  return holder ? Number(holder.dataset.at) + offset : null;
}

/** A stretch with one end moved to the edge of the word at a letter; null where nothing would be left. */
export function snapped(body: string, now: Interval, edge: Edge, to: number): Interval | null {
  // only what lies around the letter is cut into words
  const low = body.lastIndexOf("\n", to - 1) + 1;
  const next = body.indexOf("\n", to);
  const words = segments(body.slice(low, next < 0 ? undefined : next), "word").map((one) => ({
    start: one.start + low,
    end: one.end + low,
  }));
  const inside = words.find((one) => one.start <= to && to <= one.end);
  if (edge === "end") {
    const end = inside?.end ?? words.findLast((one) => one.end <= to)?.end ?? null;
    return end === null || end <= now.start ? null : { start: now.start, end };
  }
  const start = inside?.start ?? words.find((one) => one.start >= to)?.start ?? null;
  return start === null || start >= now.end ? null : { start, end: now.end };
}
