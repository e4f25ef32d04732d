import type { Schema } from "../../api/client";

/** A stretch of two states of a text: what is gone, what is new, what both have. */
export function Words({ part }: { part: Schema["StretchPublic"] }) {
  if (part.kind === "gone") return <del className="text-rust">{part.text}</del>;
  if (part.kind === "new") return <ins className="bg-straw no-underline">{part.text}</ins>;
  if (part.kind === "left out") return <span className="text-ink3">{part.text}</span>;
  return <span>{part.text}</span>;
}
