import { useRef } from "react";
import { Link, useLocation } from "react-router";
import { useCodebook, useRecent } from "../../data/coding";
import { useProjectId } from "../../data/project";
import type { RunItem } from "../../data/runs";
import { Button } from "../../parts/controls";
import { CodingLine } from "./codingline";
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
        title="Read it in its text"
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

/** Another code in place of the run's: coded by hand. The list takes all keys while it is open, and Enter gives the
 * code, so that no letter of its name decides on the passage that follows. */
function OtherCode({ onChoose }: { onChoose: (code: number | null) => void }) {
  const { codes } = useCodebook();
  const recent = useRecent();
  const box = useRef<HTMLDivElement>(null);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: what lies in it is reached by keys; it hears what comes up from there
    <div
      ref={box}
      className="relative h-6 w-full"
      onKeyDown={(event) => event.stopPropagation()}
      onBlur={(event) => {
        if (!box.current?.contains(event.relatedTarget)) onChoose(null);
      }}
    >
      <div className="absolute top-0 right-0 z-20">
        <CodingLine
          codes={codes}
          recent={recent.ids}
          first=""
          label="Other code"
          ownWords=""
          onGive={(code) => onChoose(code.id)}
          onMake={() => {}}
          onClose={() => onChoose(null)}
        />
      </div>
    </div>
  );
}
