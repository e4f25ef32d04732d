import type { Schema } from "../api/client";
import { stretches } from "../lib/offsets";

/** A text with stretches of it marked; places are code points. */
export function Marked({ text, marks }: { text: string; marks: readonly Schema["Mark"][] }) {
  return stretches(text, marks).map((part, at) =>
    part.marked ? <mark key={at}>{part.text}</mark> : <span key={at}>{part.text}</span>,
  );
}
