import { useCallback, useSyncExternalStore } from "react";
import { AlreadyDone, ProblemError } from "../api/client";
import { type Entry, type Outcome, outbox } from "../lib/outbox";
import type { Change } from "./keys";
import { useProjectId, useRefresh } from "./project";

export type Added<Given> = Entry<Given>;

/** An answer that has not come by then is not waited for: the request is sent again under the same key. */
const ANSWER_WITHIN_MS = 90_000;

/** How a request is sent that may be sent again: the server knows by the key whether it has done this already. */
export function keyed(key: string): { headers: { "Idempotency-Key": string }; signal: AbortSignal } {
  return { headers: { "Idempotency-Key": key }, signal: AbortSignal.timeout(ANSWER_WITHIN_MS) };
}

interface Adding<Given, Out> {
  /** What is added to, within the project: things of one line are sent in order. */
  line: string;
  send: (given: Given, key: string) => Promise<Out>;
  /** How one is shown while it waits. */
  label: (given: Given) => string;
  /** What an addition makes stale. */
  change: Change;
  /** Hears what was made, whichever view is open by then; not called where an answer was lost. */
  done?: (out: Out, given: Given) => void;
}

/**
 * Add things one after another, as quickly as they are typed: the field clears itself at once, what waits is shown
 * as rows, and the server follows. What is refused comes back with its reason.
 */
export function useAdding<Given, Out>({ line, send, label, change, done }: Adding<Given, Out>) {
  const project = useProjectId();
  const refresh = useRefresh(change);
  const place = `${project} ${line}`;
  const entries = useSyncExternalStore(outbox.subscribe, () => outbox.of(place) as readonly Added<Given>[]);
  const add = (given: Given, then?: (out: Out) => void) => {
    outbox.add(place, given, label(given), (entry) =>
      outcomeOf(
        () => send(given, entry.key),
        async (out) => {
          if (out !== undefined) {
            done?.(out, given);
            then?.(out);
          }
          // its row stays until the list has the real one in it
          await refresh();
        },
      ),
    );
  };
  const drop = useCallback((key: string) => outbox.drop(place, key), [place]);
  return { add, entries, drop };
}

async function outcomeOf<Out>(
  send: () => Promise<Out>,
  done: (out: Out | undefined) => Promise<void>,
): Promise<Outcome> {
  try {
    await done(await send());
    return { kind: "done" };
  } catch (error) {
    if (error instanceof AlreadyDone) {
      await done(undefined);
      return { kind: "done" };
    }
    if (error instanceof ProblemError && (error.status === 0 || error.status === 503))
      return { kind: "again" };
    return { kind: "refused", reason: error instanceof Error ? error.message : String(error) };
  }
}
