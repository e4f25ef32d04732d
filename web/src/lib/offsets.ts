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
export function stretches(text: string, marks: readonly { start: number; end: number }[], from = 0, to = Infinity): Stretch[] {
  const sorted = marks.filter((mark) => mark.end > from && mark.start < to).sort((a, b) => a.start - b.start);
  const flat = toUtf16(text, [from, ...(Number.isFinite(to) ? [to] : []), ...sorted.flatMap((mark) => [mark.start, mark.end])]);
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
