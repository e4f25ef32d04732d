import { useCallback, useState } from "react";

/**
 * Words that were typed and not stored yet, by what they are for: they outlive Escape, another choice, going elsewhere
 * and a reload of the page, in this tab. Undefined where there are none.
 */
const PLACE = "winnower.draft.";

export function keptDraft(key: string): string | undefined {
  try {
    return sessionStorage.getItem(PLACE + key) ?? undefined;
  } catch {
    return undefined; // a browser that keeps nothing: then the words live as long as their field
  }
}

export function keepDraft(key: string, words: string | undefined): void {
  try {
    if (words === undefined || words === "") sessionStorage.removeItem(PLACE + key);
    else sessionStorage.setItem(PLACE + key, words);
  } catch {
    // full, or switched off: the field still has them
  }
}

/** Whoever signs in next finds none of the words of the one before. */
export function forgetDrafts(): void {
  for (const name of Object.keys(sessionStorage)) if (name.startsWith(PLACE)) sessionStorage.removeItem(name);
}

/** Words of a field that makes something new, or opens for a while: whatever it has is there when it opens again. */
export function useKeptWords(key: string, initial = ""): [string, (words: string) => void, () => void] {
  const [words, setWords] = useState(() => keptDraft(key) ?? initial);
  const write = useCallback(
    (next: string) => {
      setWords(next);
      keepDraft(key, next === initial ? undefined : next);
    },
    [key, initial],
  );
  const done = useCallback(() => keepDraft(key, undefined), [key]);
  return [words, write, done];
}
