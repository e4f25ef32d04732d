/** Places in a text: the server counts code points, JavaScript strings count UTF-16 units. */
export type CodePoint = number & { readonly brand: "code point" };
export type Utf16 = number & { readonly brand: "utf16" };

/** Converts many code point offsets of one text at once; offsets may be in any order. */
export function toUtf16(text: string, offsets: readonly number[]): Utf16[] {
  const order = offsets.map((_, at) => at).sort((a, b) => offsets[a]! - offsets[b]!);
  const out = new Array<Utf16>(offsets.length);
  let unit = 0;
  let point = 0;
  for (const at of order) {
    const wanted = offsets[at]!;
    while (point < wanted && unit < text.length) {
      unit += text.codePointAt(unit)! > 0xffff ? 2 : 1;
      point += 1;
    }
    out[at] = unit as Utf16;
  }
  return out;
}

export interface Stretch {
  text: string;
  marked: boolean;
}

/** A text cut into marked and unmarked stretches; marks are code point offsets, overlaps are joined. */
export function stretches(
  text: string,
  marks: readonly { start: number; end: number }[],
  from = 0,
  to = Infinity,
): Stretch[] {
  const sorted = marks.filter((mark) => mark.end > from && mark.start < to).sort((a, b) => a.start - b.start);
  const flat = toUtf16(text, [
    from,
    ...(Number.isFinite(to) ? [to] : []),
    ...sorted.flatMap((mark) => [mark.start, mark.end]),
  ]);
  const start = flat[0]! as number;
  const end = Number.isFinite(to) ? (flat[1]! as number) : text.length;
  const ends = flat.slice(Number.isFinite(to) ? 2 : 1) as number[];
  const out: Stretch[] = [];
  let at = start;
  for (let i = 0; i < ends.length; i += 2) {
    const low = Math.max(ends[i]!, at);
    const high = Math.min(ends[i + 1]!, end);
    if (high <= low) continue;
    if (low > at) out.push({ text: text.slice(at, low), marked: false });
    out.push({ text: text.slice(low, high), marked: true });
    at = high;
  }
  if (at < end) out.push({ text: text.slice(at, end), marked: false });
  return out;
}

/** How many code points stand before a place in UTF-16 units. */
export function toCodePoint(text: string, unit: number): CodePoint {
  let points = 0;
  for (let at = 0; at < unit && at < text.length; points += 1) at += text.codePointAt(at)! > 0xffff ? 2 : 1;
  return points as CodePoint;
}

export interface Layered extends Stretch {
  /** UTF-16 place in the text. */
  at: number;
  noted: boolean;
}

interface Span {
  start: number;
  end: number;
}

/** A stretch of a text cut where hits or notes begin and end; all offsets are code points. */
export function layered(
  text: string,
  hits: readonly Span[],
  notes: readonly Span[],
  from: number,
  to: number,
): Layered[] {
  const near = (span: Span) => span.end > from && span.start < to;
  const spans = [...hits.filter(near), ...notes.filter(near)];
  const edges = [
    ...new Set([
      from,
      ...(Number.isFinite(to) ? [to] : []),
      ...spans.flatMap((span) => [Math.max(span.start, from), Math.min(span.end, to)]),
    ]),
  ].sort((a, b) => a - b);
  const units = toUtf16(text, edges) as number[];
  const inside = (all: readonly Span[], low: number) =>
    all.some((span) => span.start <= low && span.end > low);
  const out: Layered[] = [];
  edges.forEach((low, at) => {
    const end = at + 1 < units.length ? units[at + 1]! : Number.isFinite(to) ? units[at]! : text.length;
    if (end > units[at]!)
      out.push({
        text: text.slice(units[at], end),
        at: units[at]!,
        marked: inside(hits, low),
        noted: inside(notes, low),
      });
  });
  return out;
}
