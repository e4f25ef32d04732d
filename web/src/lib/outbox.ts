/**
 * What was added and is not stored yet: one line for each place something is added to, sent in order.
 *
 * It lives outside the views, so that an answer that comes after a view was left finds its way, and what waits is
 * there again when the view comes back. Nothing is sent twice to effect: each entry has a key of its own, by which
 * the server knows what it has done already.
 */

export interface Entry<Given = unknown> {
  readonly key: string;
  readonly given: Given;
  readonly label: string;
  /** Waiting for its turn or its answer; saved, until its list shows it; refused with a reason. */
  readonly state: "waiting" | "saved" | "refused";
  readonly reason: string;
}

/**
 * What comes of sending an entry: done (its row goes when its list shows it), refused for good, or to be sent again
 * after a pause.
 */
export type Outcome =
  | { kind: "done"; shown?: Promise<unknown> }
  | { kind: "refused"; reason: string }
  | { kind: "again" };

type Send = (entry: Entry) => Promise<Outcome>;

const PAUSES_MS = [1_000, 2_000, 4_000, 8_000, 15_000];

export class Outbox {
  private entries = new Map<string, readonly Entry[]>();
  private sends = new Map<string, Send>();
  private busy = new Set<string>();
  private listeners = new Set<() => void>();

  constructor(
    private readonly pause: (ms: number) => Promise<void> = (ms) => new Promise((r) => setTimeout(r, ms)),
  ) {}

  /** The entries of a line, the same array as long as nothing changes. */
  of(line: string): readonly Entry[] {
    return this.entries.get(line) ?? NONE;
  }

  /** How many entries wait in all lines. */
  get waiting(): number {
    return [...this.entries.values()].flat().filter((one) => one.state === "waiting").length;
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  add(line: string, given: unknown, label: string, send: Send): string {
    const key = crypto.randomUUID();
    this.sends.set(key, send);
    this.put(line, [...this.of(line), { key, given, label, state: "waiting", reason: "" }]);
    void this.work(line);
    return key;
  }

  /** Take an entry out: one that was refused and is let go, or is written anew. */
  drop(line: string, key: string): void {
    this.sends.delete(key);
    this.put(
      line,
      this.of(line).filter((one) => one.key !== key),
    );
  }

  /** Forget everything, as when somebody else signs in. */
  clear(): void {
    this.entries.clear();
    this.sends.clear();
    this.tell();
  }

  private async work(line: string): Promise<void> {
    if (this.busy.has(line)) return;
    this.busy.add(line);
    try {
      for (let entry = this.next(line), failures = 0; entry; entry = this.next(line)) {
        const outcome = await this.sends.get(entry.key)!(entry);
        if (outcome.kind === "again") {
          await this.pause(PAUSES_MS[Math.min(failures++, PAUSES_MS.length - 1)]!);
          continue;
        }
        failures = 0;
        if (outcome.kind === "refused")
          this.mark(line, entry.key, { state: "refused", reason: outcome.reason });
        else if (!outcome.shown) this.drop(line, entry.key);
        else {
          // the next one need not wait until this one is read again
          const { key } = entry;
          this.mark(line, key, { state: "saved" });
          outcome.shown.then(
            () => this.drop(line, key),
            () => this.drop(line, key),
          );
        }
      }
    } finally {
      this.busy.delete(line);
    }
  }

  private next(line: string): Entry | undefined {
    return this.of(line).find((one) => one.state === "waiting");
  }

  private mark(line: string, key: string, change: Partial<Entry>): void {
    this.put(
      line,
      this.of(line).map((one) => (one.key === key ? { ...one, ...change } : one)),
    );
  }

  private put(line: string, entries: readonly Entry[]): void {
    if (entries.length) this.entries.set(line, entries);
    else this.entries.delete(line);
    this.tell();
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }
}

const NONE: readonly Entry[] = [];

/** The one of this page. */
export const outbox = new Outbox();
