/** Words laid out as a cloud: the largest first, each as near to the middle as there is room. */

export interface CloudWord {
  text: string;
  value: number;
  tint: number;
}

export interface PlacedWord extends CloudWord {
  x: number;
  y: number;
  size: number;
  width: number;
}

export type Scale = "root" | "straight" | "log";
export type Shape = "oval" | "block" | "rows";
export type Measure = (text: string, size: number) => number;

export interface CloudSettings {
  width: number;
  height: number;
  smallest: number;
  largest: number;
  scale: Scale;
  shape: Shape;
}

/** How large a value is drawn, between the smallest and the largest size. */
export function sizeOf(
  value: number,
  top: number,
  low: number,
  settings: Pick<CloudSettings, "smallest" | "largest" | "scale">,
): number {
  const step =
    settings.scale === "root"
      ? Math.sqrt
      : settings.scale === "log"
        ? (v: number) => Math.log(v + 1)
        : (v: number) => v;
  const [from, to] = [step(low), step(top)];
  const share = to > from ? (step(value) - from) / (to - from) : 1;
  return settings.smallest + share * (settings.largest - settings.smallest);
}

/** Places for as many words as there is room for; the same words are always placed alike. */
export function layOut(words: readonly CloudWord[], settings: CloudSettings, measure: Measure): PlacedWord[] {
  const sorted = [...words].sort((a, b) => b.value - a.value || (a.text < b.text ? -1 : 1));
  const top = sorted[0]?.value ?? 1;
  const low = sorted.at(-1)?.value ?? 1;
  const sized = sorted.map((word) => {
    const size = sizeOf(word.value, top, low, settings);
    return { ...word, size, width: measure(word.text, size) + size * 0.3 };
  });
  return settings.shape === "rows" ? inRows(sized, settings) : around(sized, settings);
}

type Sized = CloudWord & { size: number; width: number };

function inRows(words: readonly Sized[], { width, height }: CloudSettings): PlacedWord[] {
  const out: PlacedWord[] = [];
  let [x, y, row] = [0, 0, 0];
  for (const word of words) {
    if (word.width > width) continue;
    if (x + word.width > width) [x, y, row] = [0, y + row * 1.2, 0];
    if (row === 0) row = word.size;
    if (y + row * 1.2 > height) break;
    out.push({ ...word, x: x + word.width / 2, y: y + row * 0.62 });
    x += word.width;
  }
  return out;
}

function around(words: readonly Sized[], { width, height, shape }: CloudSettings): PlacedWord[] {
  const out: PlacedWord[] = [];
  for (const word of words) {
    const place = free(word, out, width, height, shape);
    if (place) out.push({ ...word, ...place });
  }
  return out;
}

/** The first place on a spiral from the middle where the word touches no other and leaves nothing outside. */
function free(
  word: Sized,
  placed: readonly PlacedWord[],
  width: number,
  height: number,
  shape: Shape,
): { x: number; y: number } | null {
  const stretch = width / height;
  const high = word.size * 1.08;
  for (let step = 0; step < 4000; step += 1) {
    const angle = step * 0.35;
    const reach = 1.6 * angle;
    const [cos, sin] = shape === "block" ? square(angle) : [Math.cos(angle), Math.sin(angle)];
    const x = width / 2 + reach * stretch * cos * 0.6;
    const y = height / 2 + reach * sin * 0.6;
    const inside =
      x - word.width / 2 >= 0 && x + word.width / 2 <= width && y - high / 2 >= 0 && y + high / 2 <= height;
    if (reach * 0.6 > Math.max(width, height)) return null;
    if (!inside) continue;
    const touches = placed.some(
      (other) =>
        Math.abs(other.x - x) < (other.width + word.width) / 2 &&
        Math.abs(other.y - y) < (other.size * 1.08 + high) / 2,
    );
    if (!touches) return { x, y };
  }
  return null;
}

/** A direction on a square instead of a circle. */
function square(angle: number): [number, number] {
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const longer = Math.max(Math.abs(cos), Math.abs(sin));
  return [cos / longer, sin / longer];
}
