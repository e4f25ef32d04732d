import type { ProblemError } from "../../api/client";

/** Why a term or a search cannot be read, with the place in it. */
export function Fault({ error, term }: { error: ProblemError; term: string }) {
  const chars = [...term];
  const at = error.position;
  return (
    <div role="alert" className="text-rust">
      {at !== null && at < chars.length && (
        <span className="mr-2 rounded bg-wash px-1.5 font-mono">
          {chars.slice(0, at).join("")}
          <u className="font-bold decoration-2">{chars[at] === " " ? "\u00a0" : chars[at]}</u>
          {chars.slice(at + 1).join("")}
        </span>
      )}
      {error.message}
    </div>
  );
}
