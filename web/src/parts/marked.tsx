import type { Schema } from "../api/client";
import { pieces } from "../lib/marks";

/** A text with stretches of it marked; places are code points, marks that overlap are one. */
export function Marked({ text, marks }: { text: string; marks: readonly Schema["Mark"][] }) {
  return pieces(text, { hit: marks })
    .flat()
    .map((one) =>
      one.under.hit ? <mark key={one.at}>{one.text}</mark> : <span key={one.at}>{one.text}</span>,
    );
}
