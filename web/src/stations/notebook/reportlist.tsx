import { useState } from "react";
import { moved, type Part, type Report, usePieceChanges } from "../../data/reports";
import { plural } from "../../lib/numbers";
import { AddPiece } from "./addpiece";
import { KINDS, nameOf } from "./reportpieces";

const DRAGGED = "application/x-winnower-piece";

/** The pieces of a report: chosen, moved with the mouse or the keys, taken out, added behind the chosen one. */
export function ReportList({
  report,
  writes,
  chosen,
  onChoose,
}: {
  report: Report;
  writes: boolean;
  chosen: number | null;
  onChoose: (chosen: number | null | ((now: number | null) => number | null)) => void;
}) {
  const { order, remove } = usePieceChanges(report.id);
  const [over, setOver] = useState<number | null>(null);
  const parts = report.parts;
  const ids = parts.map((one) => one.id);
  const go = (from: HTMLElement, by: 1 | -1) => {
    const lines = [...(from.closest("ul")?.querySelectorAll<HTMLElement>("[data-piece]") ?? [])];
    lines[lines.indexOf(from) + by]?.focus();
  };
  const keys = (event: React.KeyboardEvent<HTMLButtonElement>, part: Part) => {
    const by = event.key === "ArrowUp" ? -1 : event.key === "ArrowDown" ? 1 : 0;
    if (by && event.altKey && writes) {
      event.preventDefault();
      order.mutate({ pieces: moved(ids, part.id, { by }), seen: ids });
    } else if (by) {
      event.preventDefault();
      go(event.currentTarget, by);
    } else if (event.key === "Delete" && writes) {
      event.preventDefault();
      go(event.currentTarget, 1);
      remove.mutate(part);
    }
  };
  const drop = (event: React.DragEvent, before: number | null) => {
    event.preventDefault();
    setOver(null);
    const id = Number(event.dataTransfer.getData(DRAGGED));
    const next = moved(ids, id, { before });
    if (id !== before && next.some((one, at) => one !== ids[at])) order.mutate({ pieces: next, seen: ids });
  };
  const takes = (event: React.DragEvent, id: number) => {
    if (!event.dataTransfer.types.includes(DRAGGED)) return;
    event.preventDefault();
    setOver(id);
  };
  return (
    <nav aria-label="Parts of the report" className="flex min-h-0 flex-1 flex-col">
      <ul className="min-h-0 flex-1 overflow-auto py-2">
        {parts.map((part) => (
          <li key={part.id}>
            <button
              type="button"
              data-piece={part.id}
              aria-current={part.id === chosen}
              draggable={writes}
              title={writes ? "Drag it, or move it with Alt and an arrow; Delete takes it out" : undefined}
              onClick={() => onChoose(part.id)}
              onKeyDown={(event) => keys(event, part)}
              onDragStart={(event) => event.dataTransfer.setData(DRAGGED, String(part.id))}
              onDragOver={(event) => takes(event, part.id)}
              onDragLeave={() => setOver(null)}
              onDrop={(event) => drop(event, part.id)}
              style={{ paddingLeft: 13 + depth(parts, part) * 12 }}
              className={`block w-full border-l-[3px] py-1 pr-3 text-left ${part.id === chosen ? "border-l-bottle bg-tint" : "border-l-transparent hover:bg-wash"} ${over === part.id ? "border-t-2 border-t-bottle" : ""}`}
            >
              <span
                className={`block truncate ${part.piece?.kind === "heading" ? (part.piece.level === 1 ? "font-[650]" : "font-semibold") : ""}`}
              >
                {nameOf(part)}
              </span>
              {part.piece && part.piece.kind !== "heading" && KINDS[part.piece.kind] !== nameOf(part) && (
                <span className="block truncate text-[11.5px] text-ink2">{KINDS[part.piece.kind]}</span>
              )}
            </button>
          </li>
        ))}
        <li
          className={`h-6 ${over === 0 ? "border-t-2 border-bottle" : ""}`}
          onDragOver={(event) => takes(event, 0)}
          onDragLeave={() => setOver(null)}
          onDrop={(event) => drop(event, null)}
        />
      </ul>
      {writes && (
        <div className="flex items-center gap-3 border-t border-line px-4 py-2">
          <AddPiece
            report={report.id}
            after={chosen !== null && chosen > 0 ? chosen : null}
            onChoose={onChoose}
          />
          <span className="text-ink2">{chosen === null ? "at the end" : "behind the chosen part"}</span>
          <span className="ml-auto text-ink3">{plural(parts.length, "part")}</span>
        </div>
      )}
    </nav>
  );
}

/** How far a piece is set in: parts under a heading of the first level stand below it. */
function depth(parts: readonly Part[], part: Part): number {
  if (part.piece?.kind === "heading") return part.piece.level - 1;
  const before = parts.slice(0, parts.indexOf(part)).findLast((one) => one.piece?.kind === "heading");
  return before?.piece?.kind === "heading" ? before.piece.level : 0;
}
