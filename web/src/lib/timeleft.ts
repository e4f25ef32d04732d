/** How far something was at a moment: seconds since it began, and the share that is done, 0 to 1. */
export type Moment = { at: number; share: number };

/** Nothing is said of the time left before so many seconds, and so much of the way. */
const FIRST_S = 2;
const FIRST_SHARE = 0.02;
/** The pace is that of the last so many seconds: an average from the beginning holds on to a slow start. */
const WINDOW_S = 20;
/** After so many seconds without progress nothing is known. */
const STALLED_S = 6;

/** Moments with one more: those before the window are left out, but for the last of them. */
export function withMoment(moments: Moment[], next: Moment): Moment[] {
  const last = moments.at(-1);
  if (last && next.at < last.at) return [next]; // another job
  const kept = last && last.share === next.share ? moments : [...moments, next];
  const first = kept.findLastIndex((one) => one.at <= next.at - WINDOW_S);
  return first > 0 ? kept.slice(first) : kept;
}

/** Seconds left at the pace of late, null where nothing true can be said. */
export function timeLeft(moments: Moment[], now: number): number | null {
  const first = moments[0];
  const last = moments.at(-1);
  if (!first || !last || now < FIRST_S || last.share < FIRST_SHARE) return null;
  if (now - last.at > STALLED_S || last.share <= first.share) return null;
  const pace = (last.share - first.share) / (last.at - first.at);
  const left = (1 - last.share) / pace - (now - last.at);
  return left > 0 ? left : null;
}

/** The time left in words that do not promise more than is known. */
export function leftInWords(seconds: number): string {
  if (seconds < 5) return "a few seconds left";
  if (seconds < 55) return `about ${Math.ceil(seconds / 5) * 5} s left`;
  if (seconds < 90) return "about a minute left";
  if (seconds < 3600) return `about ${Math.round(seconds / 60)} min left`;
  const minutes = Math.round(seconds / 600) * 10;
  return `about ${Math.floor(minutes / 60)} h ${minutes % 60 ? `${minutes % 60} min ` : ""}left`;
}
