/** Steps through a text by word, sentence and paragraph, for choosing words without the mouse. */
import type { Interval } from "./marks";

export type Unit = "word" | "sentence" | "paragraph";

/** Where the words, sentences or paragraphs of a text stand, in UTF-16 units, in order. */
export function segments(body: string, unit: Unit): Interval[] {
  if (unit === "paragraph") return paragraphs(body);
  const cut = new Intl.Segmenter(undefined, { granularity: unit });
  const out: Interval[] = [];
  for (const { start, end } of paragraphs(body))
    for (const part of cut.segment(body.slice(start, end))) {
      if (unit === "word" && !part.isWordLike) continue;
      const words = part.segment.trimEnd();
      if (words) out.push({ start: start + part.index, end: start + part.index + words.length });
    }
  return out;
}

function paragraphs(body: string): Interval[] {
  const out: Interval[] = [];
  for (const found of body.matchAll(/[^\n]*\S[^\n]*/g)) {
    const lead = found[0].length - found[0].trimStart().length;
    out.push({ start: found.index + lead, end: found.index + found[0].trimEnd().length });
  }
  return out;
}

/** The segment after (or before) a place; null where there is none. */
export function beside(all: readonly Interval[], now: Interval | null, by: 1 | -1): Interval | null {
  if (!all.length) return null;
  if (now === null) return by === 1 ? all[0]! : all.at(-1)!;
  if (by === 1) return all.find((one) => one.start >= now.end) ?? null;
  return all.findLast((one) => one.end <= now.start) ?? null;
}

/** A stretch made longer (by 1) or shorter (by -1) by a segment at its end, or at its beginning. */
export function resized(
  all: readonly Interval[],
  now: Interval,
  by: 1 | -1,
  edge: "start" | "end",
): Interval | null {
  if (edge === "end") {
    const next =
      by === 1
        ? all.find((one) => one.end > now.end)?.end
        : all.findLast((one) => one.end < now.end && one.end > now.start)?.end;
    return next === undefined ? null : { ...now, end: next };
  }
  const next =
    by === 1
      ? all.findLast((one) => one.start < now.start)?.start
      : all.find((one) => one.start > now.start && one.start < now.end)?.start;
  return next === undefined ? null : { ...now, start: next };
}
