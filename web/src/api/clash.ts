/** Two people changed the same thing: what the one here wanted, and what is there now. */
export interface Clash {
  mine: Record<string, unknown>;
  theirs: Record<string, string>;
  deleting: boolean;
}

export type Choice = "mine" | "theirs";

let ask: ((clash: Clash) => Promise<Choice>) | null = null;

/** Who asks the person which of two versions is to stand; returns how to stop asking. */
export function askAtClash(asking: (clash: Clash) => Promise<Choice>): () => void {
  ask = asking;
  return () => {
    if (ask === asking) ask = null;
  };
}

/** What a refused change tells: the present state, where the change was refused for being made on an older one. */
export async function clashOf(request: Request, answer: Response): Promise<Clash | null> {
  if (answer.status !== 409 || !ask) return null;
  const theirs = await answer
    .clone()
    .json()
    .then((body: { current?: Record<string, string> }) => body.current);
  if (!theirs?.revision && theirs?.seen === undefined) return null;
  const deleting = request.method === "DELETE";
  const mine = deleting ? {} : ((await request.clone().json()) as Record<string, unknown>);
  return deleting || "revision" in mine || "seen" in mine ? { mine, theirs, deleting } : null;
}

/** Ask the person; the request to send now where theirs is not to stand. */
export async function settled(request: Request, clash: Clash): Promise<Request | null> {
  if ((await ask?.(clash)) !== "mine") return null;
  const url = new URL(request.url);
  if (clash.deleting) {
    url.searchParams.set("revision", clash.theirs.revision!);
    return new Request(url, { method: "DELETE" });
  }
  return new Request(url, {
    method: request.method,
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({
      ...clash.mine,
      ...(clash.theirs.revision ? { revision: Number(clash.theirs.revision) } : { seen: clash.theirs.seen }),
    }),
  });
}

/** Whether two states of a field are the same; the server tells all values as text. */
export function alike(mine: unknown, theirs: string | undefined): boolean {
  if (mine === null || mine === undefined) return theirs === undefined || theirs === "";
  if (typeof mine === "boolean") return ["0", "1"].indexOf(theirs ?? "0") === Number(mine);
  return String(mine) === (theirs ?? "");
}
