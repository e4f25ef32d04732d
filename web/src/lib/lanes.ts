import type { Interval } from "./marks";

/** So many lines can be told apart under a line of text. */
export const LANES = 6;

/** The lane each stretch is underlined in: the first that is free where it begins; from LANES on there is no
 * more room, and the last lane says that there are several. Of stretches that begin together the longest comes first, so
 * that what is too much is over where the short ones end. */
export function lanes(stretches: readonly Interval[]): number[] {
  const free: number[] = [];
  const out = new Array<number>(stretches.length);
  const order = stretches.map((_, at) => at);
  order.sort(
    (a, b) => stretches[a]!.start - stretches[b]!.start || stretches[b]!.end - stretches[a]!.end || a - b,
  );
  for (const at of order) {
    const { start, end } = stretches[at]!;
    let lane = free.findIndex((until) => until <= start);
    if (lane < 0) lane = free.length;
    free[lane] = end;
    out[at] = lane;
  }
  return out;
}

/** A card beside a text: where it should stand, and how tall it is in full and as one line. */
export interface Card {
  top: number;
  full: number;
  line: number;
}

/** Where cards stand: level with their words where there is room, else below the one before; those pushed far
 * from their words become one line. Cards are sorted by top. */
export function placed(cards: readonly Card[], gap = 6, far = 60): { top: number; short: boolean }[] {
  let bottom = Number.NEGATIVE_INFINITY;
  return cards.map((card, at) => {
    const top = Math.max(card.top, bottom + gap);
    const next = cards[at + 1];
    const short = top - card.top > far || (next !== undefined && next.top + far < top + card.full + gap);
    bottom = top + (short ? card.line : card.full);
    return { top, short };
  });
}
