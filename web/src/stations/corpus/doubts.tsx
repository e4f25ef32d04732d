import type { Schema } from "../../api/client";
import { Button } from "../../parts/controls";
import type { Mapping } from "./mapping";

type Doubt = Schema["DoubtPublic"];

/** Columns of which nothing says how they are read, each with its other reading one click away. */
export function Doubts({
  doubts,
  mapping,
  onChange,
}: {
  doubts: readonly Doubt[];
  mapping: Mapping;
  onChange: (mapping: Mapping) => void;
}) {
  if (!doubts.length) return null;
  return (
    <ul className="mb-2.5 rounded-md border border-line bg-wash px-3 py-1.5" data-testid="doubts">
      {doubts.map((doubt) => (
        <li key={`${doubt.column}\n${doubt.kind}`} className="flex flex-wrap items-center gap-x-2 py-0.5">
          <span>
            “{doubt.example}” in <b>{doubt.column}</b> could be two{" "}
            {doubt.kind === "date" ? "days" : "numbers"}. It is read as <b>{doubt.read}</b>.
          </span>
          <Button onClick={() => onChange(otherwise(mapping, doubt))}>Read as {doubt.otherwise}</Button>
        </li>
      ))}
    </ul>
  );
}

/** The mapping with the other reading of a column. */
export function otherwise(mapping: Mapping, doubt: Doubt): Mapping {
  if (doubt.kind === "date") return { ...mapping, day_first: !mapping.day_first };
  return {
    ...mapping,
    targets: mapping.targets.map((target) =>
      target.column === doubt.column
        ? { ...target, separator: target.separator === "," ? "." : "," }
        : target,
    ),
  };
}
