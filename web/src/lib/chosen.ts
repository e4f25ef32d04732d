import { toCodePoint } from "./offsets";

/** Words chosen in a text, in code points. */
export interface Stretch {
  start: number;
  end: number;
  words: string;
}

/** What is chosen with the mouse or keyboard in a text whose pieces carry their place (``data-at``, UTF-16). */
export function chosenStretch(body: string): Stretch | null {
  const selection = window.getSelection();
  if (!selection || selection.isCollapsed || !selection.rangeCount) return null;
  const range = selection.getRangeAt(0);
  const place = (node: Node, offset: number) => {
    const holder = (node instanceof Element ? node : node.parentElement)?.closest<HTMLElement>("[data-at]");
    return holder ? Number(holder.dataset.at) + offset : null;
  };
  const low = place(range.startContainer, range.startOffset);
  const high = place(range.endContainer, range.endOffset);
  if (low === null || high === null || high <= low) return null;
  return { start: toCodePoint(body, low), end: toCodePoint(body, high), words: body.slice(low, high) };
}

/** Without the spaces the mouse took along; null where there is nothing else. */
export function trimmed(stretch: Stretch | null): Stretch | null {
  const words = stretch?.words.trim();
  if (!stretch || !words) return null;
  const lead = stretch.words.length - stretch.words.trimStart().length;
  const start = stretch.start + [...stretch.words.slice(0, lead)].length;
  return { start, end: start + [...words].length, words };
}
