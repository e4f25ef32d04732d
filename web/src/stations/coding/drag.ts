import type { DragEvent } from "react";

/** What is dragged: the words that are chosen, or a code by its number. */
export const WORDS = "text/x-winnower-words";
export const CODE = "text/x-winnower-code";

export function dragCode(event: DragEvent, id: number) {
  event.dataTransfer.setData(CODE, String(id));
  event.dataTransfer.effectAllowed = "copyMove";
}

export function dragWords(event: DragEvent, words: string) {
  event.dataTransfer.setData(WORDS, "1");
  event.dataTransfer.setData("text/plain", words);
}

/** The code that is dropped, null where it is something else. */
export function codeDragged(event: DragEvent): number | null {
  const written = event.dataTransfer.getData(CODE);
  return written ? Number(written) : null;
}
