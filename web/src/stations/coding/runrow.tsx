import { useEffect, useRef } from "react";
import { Link, useLocation } from "react-router";
import { useCodebook } from "../../data/coding";
import { useProjectId } from "../../data/project";
import type { RunItem } from "../../data/runs";
import { Button } from "../../parts/controls";
import { Origin, Why } from "./runpreview";
import type { Given } from "./runreview";
import { RunWords } from "./runwords";

/** A passage of a run with its verdict. */
export function RunRow({
  one,
  here,
  writes,
  recoding,
  onHere,
  onGive,
  onRecoded,
}: {
  one: RunItem;
  here: boolean;
  writes: boolean;
  /** Another code is being chosen for it. */
  recoding: boolean;
  onHere: () => void;
  onGive: (given: Given) => void;
  /** The other code, null for none. */
  onRecoded: (code: number | null) => void;
}) {
  const project_id = useProjectId();
  const { search } = useLocation();
  const to = new URLSearchParams(search);
  to.set("paragraph", String(one.paragraph));
  const verdict = one.verdict ?? null;
  const mine = one.mine ?? null;
  return (
    <li
      aria-current={here}
      data-testid="run-item"
      onPointerDown={onHere}
      className={`grid grid-cols-[150px_1fr_160px_118px] items-start gap-3.5 border-b border-l-[3px] border-b-line px-3 py-2 ${here ? "border-l-bottle bg-tint" : "border-l-transparent"}`}
    >
      <Why one={one} />
      <RunWords one={one} />
      <Link
        to={`/projects/${project_id}/coding/read/${one.text_id}?${to}`}
        title="Read it where it stands"
        className="min-w-0 text-bottle hover:underline"
      >
        <Origin one={one} />
      </Link>
      <span className="flex flex-wrap items-center justify-end gap-1.5">
        {recoding ? (
          <OtherCode onChoose={onRecoded} />
        ) : (
          <>
            {verdict !== null && (
              <span className={verdict === 1 ? "text-bottle" : "text-rust"}>
                {verdict === 1 ? "right" : "wrong"}
                {one.differ ? ", not agreed" : ""}
              </span>
            )}
            {writes && mine === null && (
              <>
                <Button onClick={() => onGive({ verdict: 1 })}>Fits</Button>
                <Button onClick={() => onGive({ verdict: 0 })}>Not</Button>
              </>
            )}
          </>
        )}
      </span>
    </li>
  );
}

/** Another code in place of the run's: coded by hand. */
function OtherCode({ onChoose }: { onChoose: (code: number | null) => void }) {
  const { codes } = useCodebook();
  const field = useRef<HTMLSelectElement>(null);
  useEffect(() => {
    field.current?.focus();
  }, []);
  return (
    <select
      ref={field}
      aria-label="Other code"
      value=""
      className="w-full rounded-[5px] border border-line2 bg-sheet px-1.5 py-1"
      onChange={(event) => event.target.value && onChoose(Number(event.target.value))}
      onKeyDown={(event) => event.key === "Escape" && onChoose(null)}
      onBlur={() => onChoose(null)}
    >
      <option value="">which code?</option>
      {codes.map((one) => (
        <option key={one.id} value={one.id}>
          {"\u2007".repeat(one.depth * 2)}
          {one.name}
        </option>
      ))}
    </select>
  );
}
