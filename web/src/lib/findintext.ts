/** Where words stand in a text, and the ranges of the page that show them. */

export interface Match {
  /** UTF-16 places in the body. */
  start: number;
  end: number;
}
export const MOST_MATCHES = 5_000;

/** All places of some words, whatever their case; white space between them may be of any kind. */
export function matchesOf(body: string, words: string): Match[] {
  const wanted = words.trim();
  if (!wanted) return [];
  const pattern = wanted.split(/\s+/).map((word) => word.replace(/[.*+?^${}()|[\]\\/-]/g, "\\$&"));
  const out: Match[] = [];
  for (const found of body.matchAll(new RegExp(pattern.join("\\s+"), "giu"))) {
    out.push({ start: found.index, end: found.index + found[0].length });
    if (out.length >= MOST_MATCHES) break;
  }
  return out;
}

/** The number of a paragraph that was typed, as "12" or "¶12"; null where words were. */
export function paragraphAsked(words: string, paragraphs: number): number | null {
  const found = /^¶?\s*(\d{1,7})$/.exec(words.trim());
  const number = found ? Number(found[1]) : 0;
  return number >= 1 && number <= paragraphs ? number : null;
}

/** Ranges of a page whose pieces carry their place (``data-at``, UTF-16), one for each match; null where it is not drawn. */
export function rangesOf(page: HTMLElement, matches: readonly Match[]): (Range | null)[] {
  const nodes: { at: number; node: Text }[] = [];
  for (const piece of page.querySelectorAll<HTMLElement>("[data-at]")) {
    const node = piece.firstChild;
    if (node instanceof Text) nodes.push({ at: Number(piece.dataset.at), node });
  }
  let from = 0;
  const place = (offset: number, end: boolean) => {
    // an end belongs to the piece before it
    const reaches = ({ at, node }: { at: number; node: Text }) =>
      end ? at + node.length >= offset : at + node.length > offset;
    let at = from;
    while (at < nodes.length && !reaches(nodes[at]!)) at += 1;
    const found = nodes[at];
    return found && found.at <= offset ? { at, node: found.node, offset: offset - found.at } : null;
  };
  return matches.map(({ start, end }) => {
    const low = place(start, false);
    if (!low) return null;
    from = low.at;
    const high = place(end, true);
    if (!high) return null;
    const range = document.createRange();
    range.setStart(low.node, low.offset);
    range.setEnd(high.node, high.offset);
    return range;
  });
}
