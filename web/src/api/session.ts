/**
 * The session ended in the middle of work: changes that were refused for it wait until the same person is signed in
 * again, and are sent then. Where somebody else signs in, they are not sent in that name.
 */

let person: number | null = null;
let ended: (() => void) | null = null;
let held: ((same: boolean) => void)[] = [];

/** Who is told when the session turns out to have ended; returns how to stop. */
export function askToSignIn(asking: () => void): () => void {
  ended = asking;
  return () => {
    if (ended === asking) ended = null;
  };
}

/** Somebody is signed in: what waits for them goes on, what waits for somebody else does not. */
export function signedInAs(id: number): void {
  const same = person === null || person === id;
  person = id;
  const waiting = held;
  held = [];
  for (const go of waiting) go(same);
}

/** Waits until somebody signs in; whether it is the same person as before. */
export function signedInAgain(): Promise<boolean> {
  if (!ended) return Promise.resolve(false);
  const answer = new Promise<boolean>((resolve) => held.push(resolve));
  ended();
  return answer;
}
