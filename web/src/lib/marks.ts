/** Marks on a text as intervals in any number of layers: hits, notes, coded passages. */
import { toUtf16 } from "./offsets";

/** A stretch in code points. */
export interface Interval {
  start: number;
  end: number;
}

/** A piece of a text on which all of it lies under the same marks. */
export interface Piece<Layer extends string, Mark extends Interval> {
  text: string;
  /** UTF-16 place of its beginning in the text. */
  at: number;
  /** The marks it lies under, by layer, those that began first before the others; no layer without one. */
  under: Partial<Record<Layer, readonly Mark[]>>;
}

interface Edge<Layer extends string, Mark extends Interval> {
  place: number;
  opens: boolean;
  layer: Layer;
  mark: Mark;
}

/**
 * A text cut into pieces where marks begin and end, in one pass; ``cuts`` are further places to cut at
 * (paragraphs, lines). What comes back is a list for each stretch between cuts, the first from 0 on.
 */
export function pieces<Layer extends string, Mark extends Interval>(
  text: string,
  layers: Readonly<Record<Layer, readonly Mark[]>>,
  cuts: readonly number[] = [],
): Piece<Layer, Mark>[][] {
  const edges = edgesOf(layers);
  const parts = [...cuts].sort((a, b) => a - b);
  const places = [...new Set([0, ...edges.map((edge) => edge.place), ...parts])].sort((a, b) => a - b);
  const units = toUtf16(text, places) as number[];
  const open = new Map<Layer, Set<Mark>>();
  const out: Piece<Layer, Mark>[][] = [[]];
  let edge = 0;
  let part = 0;
  places.forEach((place, at) => {
    for (; edge < edges.length && edges[edge]!.place <= place; edge += 1) step(open, edges[edge]!);
    for (; part < parts.length && parts[part]! <= place; part += 1) if (parts[part]! > 0) out.push([]);
    const end = at + 1 < units.length ? units[at + 1]! : text.length;
    if (end > units[at]!)
      out.at(-1)!.push({ text: text.slice(units[at], end), at: units[at]!, under: taken(open) });
  });
  return out;
}

/** The pieces between two places (code points) of a text, as `pieces` gives them for the whole. */
export function piecesWithin<Layer extends string, Mark extends Interval>(
  text: string,
  { start, end }: Interval,
  layers: Readonly<Record<Layer, readonly Mark[]>>,
): Piece<Layer, Mark>[] {
  const edges = edgesOf(layers);
  const inside = edges.map((edge) => edge.place).filter((place) => place > start && place < end);
  const places = [...new Set([start, ...inside, end])];
  const units = toUtf16(text, places) as number[];
  const open = new Map<Layer, Set<Mark>>();
  const out: Piece<Layer, Mark>[] = [];
  let edge = 0;
  for (let at = 0; at + 1 < places.length; at += 1) {
    for (; edge < edges.length && edges[edge]!.place <= places[at]!; edge += 1) step(open, edges[edge]!);
    if (units[at + 1]! > units[at]!)
      out.push({ text: text.slice(units[at], units[at + 1]), at: units[at]!, under: taken(open) });
  }
  return out;
}

function edgesOf<Layer extends string, Mark extends Interval>(
  layers: Readonly<Record<Layer, readonly Mark[]>>,
): Edge<Layer, Mark>[] {
  const edges: Edge<Layer, Mark>[] = [];
  for (const layer of Object.keys(layers) as Layer[])
    for (const mark of layers[layer]) {
      if (mark.end <= mark.start) continue;
      edges.push({ place: mark.start, opens: true, layer, mark });
      edges.push({ place: mark.end, opens: false, layer, mark });
    }
  return edges.sort((a, b) => a.place - b.place);
}

/** The marks that touch each of some stretches, which follow one another; marks in any order keep theirs. */
export function touching<Mark extends Interval>(
  stretches: readonly Interval[],
  marks: readonly Mark[],
): Mark[][] {
  const out: Mark[][] = stretches.map(() => []);
  for (const mark of marks) {
    let low = 0;
    let high = stretches.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (stretches[middle]!.end <= mark.start) low = middle + 1;
      else high = middle;
    }
    for (; low < stretches.length && stretches[low]!.start < mark.end; low += 1) out[low]!.push(mark);
  }
  return out;
}

function step<Layer extends string, Mark extends Interval>(
  open: Map<Layer, Set<Mark>>,
  { layer, mark, opens }: Edge<Layer, Mark>,
) {
  const marks = open.get(layer) ?? new Set<Mark>();
  if (opens) marks.add(mark);
  else marks.delete(mark);
  if (marks.size) open.set(layer, marks);
  else open.delete(layer);
}

function taken<Layer extends string, Mark extends Interval>(open: Map<Layer, Set<Mark>>) {
  const under: Partial<Record<Layer, readonly Mark[]>> = {};
  for (const [layer, marks] of open) under[layer] = [...marks];
  return under;
}
