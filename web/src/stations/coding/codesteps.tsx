import type { Schema } from "../../api/client";
import { plural } from "../../lib/numbers";

const WORDS: Record<Schema["CodebookStep"]["state"], { one: string; look: string }> = {
  new: { one: "new", look: "text-bottle" },
  changed: { one: "changed", look: "text-ink" },
  known: { one: "known", look: "text-ink3" },
  gone: { one: "goes", look: "text-rust" },
};
const FIELDS: Record<string, string> = {
  description: "definition",
  rule: "rule",
  example: "example",
  counter_example: "counter-example",
  colour: "colour",
  symbol: "symbol",
  technical: "technical",
};

/** What taking codes over does, code by code; known ones are only counted. */
export function Steps({ told }: { told: Schema["CodebookTaken"] }) {
  const shown = told.steps.filter((one) => one.state !== "known");
  const known = told.steps.length - shown.length;
  return (
    <div className="max-h-[38vh] overflow-auto rounded border border-line" data-testid="code-steps">
      {shown.map((one) => (
        <div
          key={`${one.state} ${one.path.join(" > ")}`}
          className="flex items-baseline gap-3 border-b border-line px-2.5 py-1"
        >
          <span className={`w-16 shrink-0 ${WORDS[one.state].look}`}>{WORDS[one.state].one}</span>
          <span className="min-w-0 flex-1 break-words" style={{ paddingLeft: (one.path.length - 1) * 13 }}>
            {one.path.at(-1)}
          </span>
          <span className="min-w-0 text-right text-ink2">
            {[one.changes.map((field) => FIELDS[field] ?? field).join(", "), one.groups.join(", ")]
              .filter(Boolean)
              .join("; ")}
          </span>
        </div>
      ))}
      {known > 0 && (
        <div className="px-2.5 py-1 text-ink2">{plural(known, "code")} known already, nothing changes.</div>
      )}
      {told.groups_new.length > 0 && (
        <div className="px-2.5 py-1 text-ink2">New groups: {told.groups_new.join(", ")}</div>
      )}
      {told.doubles > 0 && (
        <div className="px-2.5 py-1 text-ink2">
          {plural(told.doubles, "row")} stand twice and are taken once.
        </div>
      )}
      {told.refused.map((one) => (
        <div key={one} className="border-t border-line px-2.5 py-1 text-rust">
          {one}
        </div>
      ))}
    </div>
  );
}
