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

/** How many code points stand before a place in UTF-16 units. */
export function toCodePoint(text: string, unit: number): CodePoint {
  let points = 0;
  for (let at = 0; at < unit && at < text.length; points += 1) at += text.codePointAt(at)! > 0xffff ? 2 : 1;
  return points as CodePoint;
}
