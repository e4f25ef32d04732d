import { useState } from "react";
import type { Schema } from "../../api/client";
import { Button } from "../../parts/basic";

/** So many findings stand before the picture; notes only where there are fewer. */
const LINES = 3;
const LEAST_LINES = 2;

type Statement = Schema["StatementPublic"];

/**
 * What a result says. The findings come first, each a sentence with its numbers, and warnings; how they were tested, and
 * all notes, come below where somebody opens them.
 */
export function Statements({
  statements,
  testid = "statements",
}: {
  statements: readonly Statement[];
  testid?: string;
}) {
  const [open, setOpen] = useState(false);
  const first = leading(statements);
  const more = statements.length > first.length || statements.some((one) => one.details);
  return (
    <section
      className="mb-1.5 max-h-[190px] overflow-auto rounded-r-[5px] border-l-[3px] border-bottle bg-tint px-3 py-1"
      data-testid={testid}
      aria-label="Findings"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
      tabIndex={0}
    >
      {more && (
        <Button
          look="ghost"
          className="float-right ml-3"
          aria-expanded={open}
          onClick={() => setOpen((is) => !is)}
        >
          {open ? "Fewer details" : "Details"}
        </Button>
      )}
      {(open ? statements : first).map((one, at) => (
        <div key={at} className={colour(one)}>
          <p>
            <Strong text={one.headline} parts={one.strong} />
          </p>
          {open && one.details && <p className="mb-1 text-[11.5px] text-ink2">{one.details}</p>}
        </div>
      ))}
    </section>
  );
}

/** The findings, the warnings, and notes where there are hardly any. */
export function leading(statements: readonly Statement[]): Statement[] {
  const found = statements.filter((one) => one.kind !== "note" && one.kind !== "warning").slice(0, LINES);
  const warned = statements.filter((one) => one.kind === "warning");
  const room = Math.max(LEAST_LINES - found.length - warned.length, 0);
  const noted = statements.filter((one) => one.kind === "note").slice(0, room);
  const shown = new Set([...found, ...warned, ...noted]);
  return statements.filter((one) => shown.has(one));
}

function colour(one: Statement): string {
  if (one.kind === "warning") return "text-rust";
  return one.kind === "note" ? "text-ink2" : "";
}

function Strong({ text, parts }: { text: string; parts: readonly string[] }) {
  if (!parts.length) return <>{text}</>;
  const escaped = parts.map((part) => part.replace(/[.*+?^${}()|[\]\\]/g, "\\$&"));
  return (
    <>
      {text
        .split(new RegExp(`(${escaped.join("|")})`))
        .map((part, at) => (parts.includes(part) ? <b key={at}>{part}</b> : part))}
    </>
  );
}
