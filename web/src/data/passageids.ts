/** Passages that are shown before they are stored: which stored ones they became. */
import type { Schema } from "../api/client";

type Passage = Schema["CodedPassage"];

/** Passages as they were stored, by the ids of those that stood for them. */
const storedAs = new Map<number, Passage>();

const shownAs = new Map<number, number>();

/** The id of a passage by now, of one that was shown before it was stored. */
export const idByNow = (id: number): number => storedAs.get(id)?.id ?? id;

/** A name of a passage that stays when it is stored. */
export const identityOf = (passage: Passage): number => shownAs.get(passage.id) ?? passage.id;

/** A passage as the server knows it: one that was shown before it was stored has its id by now. */
export function known(passage: Passage): Passage {
  const stored = storedAs.get(passage.id);
  return stored ? { ...passage, id: stored.id, revision: stored.revision } : passage;
}

/** Note which stored passages those are that were shown before. */
export function noteStored(shown: readonly Passage[], stored: readonly Passage[]): void {
  for (const one of shown) {
    if (one.id >= 0 || one.run_id) continue;
    const same = stored.find(
      (other) => other.code_id === one.code_id && other.start === one.start && other.end === one.end,
    );
    if (!same) continue;
    storedAs.set(one.id, same);
    shownAs.set(same.id, one.id);
  }
}
