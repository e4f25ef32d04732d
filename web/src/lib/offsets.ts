/** Places in a text: the server counts code points, JavaScript strings count UTF-16 units. */
export type CodePoint = number & { readonly brand: "code point" };
export type Utf16 = number & { readonly brand: "utf16" };

/** Where the letters of two units (emoji, rare scripts) stand in the texts that are open, by text. */
const wide = new Map<string, readonly number[]>();
const TEXTS_KEPT = 4;

function wideLetters(text: string): readonly number[] {
  const known = wide.get(text);
  if (known) return known;
  const found: number[] = [];
  if (/[\ud800-\udbff]/.test(text))
    for (let at = 0; at < text.length; at += 1)
      if (text.codePointAt(at)! > 0xffff) {
        found.push(at);
        at += 1;
      }
  if (wide.size >= TEXTS_KEPT) wide.delete(wide.keys().next().value!);
  wide.set(text, found);
  return found;
}

/** How many letters of two units lie before a place, told by a test on the place of each. */
function before(letters: readonly number[], lies: (unit: number, at: number) => boolean): number {
  let low = 0;
  let high = letters.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (lies(letters[middle]!, middle)) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Converts many code point offsets of one text at once; offsets may be in any order. */
export function toUtf16(text: string, offsets: readonly number[]): Utf16[] {
  const letters = wideLetters(text);
  return offsets.map((point) => {
    const unit = point + before(letters, (at, place) => at - place < point);
    return Math.min(Math.max(unit, 0), text.length) as Utf16;
  });
}

/** How many code points stand before a place in UTF-16 units. */
export function toCodePoint(text: string, unit: number): CodePoint {
  const here = Math.min(Math.max(unit, 0), text.length);
  return (here - before(wideLetters(text), (at) => at + 1 < here)) as CodePoint;
}
