import { useCallback, useEffect, useSyncExternalStore } from "react";
import { AlreadyDone, ProblemError } from "../api/client";
import { type Entry, type Outcome, outbox } from "../lib/outbox";
import { useToast } from "../parts/toast";
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
  change?: Change;
  /** Hears what was made, whichever view is open by then; not called where an answer was lost. */
  done?: (out: Out, given: Given) => void;
}

/** How many views show what waits in a line: where none does, a refusal is told at the foot of the page. */
const watched = new Map<string, number>();

/**
 * Add things one after another, as quickly as they are typed: the field clears itself at once, what waits is shown
 * as rows (``parts/waitingrows.tsx``), and the server follows. What is refused comes back with its reason.
 */
export function useAdding<Given, Out>({ line, send, label, change = "anything", done }: Adding<Given, Out>) {
  const project = useProjectId();
  const refresh = useRefresh(change);
  const { fail } = useToast();
  const place = `${project} ${line}`;
  const entries = useSyncExternalStore(outbox.subscribe, () => outbox.of(place) as readonly Added<Given>[]);
  useEffect(() => {
    watched.set(place, (watched.get(place) ?? 0) + 1);
    return () => {
      watched.set(place, (watched.get(place) ?? 1) - 1);
    };
  }, [place]);
  const drop = useCallback((key: string) => outbox.drop(place, key), [place]);
  const add = (given: Given, then?: (out: Out) => void) => {
    outbox.add(place, given, label(given), async (entry) => {
      const outcome = await outcomeOf(
        () => send(given, entry.key),
        (out) => {
          if (out !== undefined) {
            done?.(out, given);
            then?.(out);
          }
          // its row stays until the list has the real one in it
          return refresh();
        },
      );
      if (outcome.kind === "refused" && !watched.get(place))
        fail(new Error(`“${entry.label}” was not saved: ${outcome.reason}`));
      return outcome;
    });
  };
  return { add, entries, drop };
}

async function outcomeOf<Out>(
  send: () => Promise<Out>,
  done: (out: Out | undefined) => Promise<unknown>,
): Promise<Outcome> {
  let out: Out | undefined;
  try {
    out = await send();
  } catch (error) {
    if (error instanceof ProblemError && (error.status === 0 || error.status === 503))
      return { kind: "again" };
    if (!(error instanceof AlreadyDone))
      return { kind: "refused", reason: error instanceof Error ? error.message : String(error) };
  }
  return { kind: "done", shown: done(out) };
}
