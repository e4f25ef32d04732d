import type { ReactNode } from "react";
import { toUtf16 } from "../../lib/offsets";

interface Weighed {
  start: number;
  end: number;
  value: number;
}

/** A tone as it is written: a sign, two places. */
export function toneOf(score: number): string {
  const plain = Math.abs(score).toFixed(2);
  return score < 0 ? `−${plain}` : score > 0 ? `+${plain}` : plain;
}

/** Words with what each came to: those that lift the tone and those that lower it are told apart by line and colour. */
export function ToneText({ text, words }: { text: string; words: readonly Weighed[] }) {
  const units = toUtf16(
    text,
    words.flatMap((one) => [one.start, one.end]),
  );
  const out: ReactNode[] = [];
  let reached = 0;
  words.forEach((one, at) => {
    const start = Number(units[at * 2]);
    const end = Number(units[at * 2 + 1]);
    if (start < reached || end <= start) return;
    out.push(text.slice(reached, start));
    out.push(
      <span
        key={start}
        title={`${toneOf(one.value)} in this sentence`}
        className={
          one.value < 0
            ? "text-rust underline decoration-wavy decoration-1 underline-offset-4"
            : "text-bottle underline decoration-2 underline-offset-4"
        }
      >
        {text.slice(start, end)}
        <sub className="ml-0.5 font-sans text-[10px]">{toneOf(one.value)}</sub>
      </span>,
    );
    reached = end;
  });
  out.push(text.slice(reached));
  return <>{out}</>;
}
