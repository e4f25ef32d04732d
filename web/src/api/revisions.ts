/**
 * Changes of one thing, one after another, each on the revision that the one before left.
 *
 * Somebody who changes a thing twice on a slow line makes the second change on what they see, which the first one
 * has not reached yet. Changes of the same thing are therefore sent in order, and a revision that was made older by
 * one's own changes alone is brought forward. What somebody else changed in between is refused by the server still.
 */

const CHANGES = new Set(["PATCH", "PUT", "DELETE", "POST"]);
const lines = new Map<string, Promise<unknown>>();
/** Of each thing: what a revision became by one's own changes. */
const own = new Map<string, Map<number, number>>();

/** The address of the thing a change is of: without the words behind its number that say what is done to it. */
export function thingOf(url: string): string {
  return new URL(url, "http://here").pathname.replace(/(\/-?\d+)(\/[a-z-]+)$/, "$1");
}

/** The revision by one's own changes since the one that was seen. */
function newest(thing: string, seen: number): number {
  const steps = own.get(thing);
  let now = seen;
  while (steps?.has(now)) now = steps.get(now)!;
  return now;
}

function noted(thing: string, sent: number): void {
  const steps = own.get(thing) ?? new Map<number, number>();
  steps.set(sent, sent + 1);
  own.set(thing, steps);
}

async function revisionOf(request: Request): Promise<number | null> {
  const inAddress = new URL(request.url).searchParams.get("revision");
  if (inAddress !== null) return Number(inAddress);
  if (!request.headers.get("Content-Type")?.includes("json")) return null;
  const body: unknown = await request
    .clone()
    .json()
    .catch(() => null);
  const found = body && typeof body === "object" ? (body as { revision?: unknown }).revision : null;
  return typeof found === "number" ? found : null;
}

/** The same request on another revision. */
export async function onRevision(request: Request, revision: number): Promise<Request> {
  const url = new URL(request.url);
  if (url.searchParams.has("revision")) {
    url.searchParams.set("revision", String(revision));
    return new Request(url, { method: request.method, headers: request.headers });
  }
  const body = (await request.clone().json()) as Record<string, unknown>;
  return new Request(url, {
    method: request.method,
    headers: request.headers,
    body: JSON.stringify({ ...body, revision }),
  });
}

/** Send a change behind those of the same thing that are on their way. */
export async function inOrder(
  request: Request,
  send: (request: Request) => Promise<Response>,
): Promise<Response> {
  const seen = CHANGES.has(request.method) ? await revisionOf(request) : null;
  if (seen === null) {
    const chosen = CHANGES.has(request.method) ? await choiceOf(request) : null;
    return chosen ? inLine(chosen.thing, () => sendChoice(chosen, request, send)) : send(request);
  }
  const thing = thingOf(request.url);
  return inLine(thing, () => sendOn(thing, seen, request, send));
}

/** Send behind what is on its way to the same thing. */
async function inLine(thing: string, send: () => Promise<Response>): Promise<Response> {
  const before = lines.get(thing);
  const mine = (async () => {
    await before?.catch(() => {});
    return send();
  })();
  lines.set(thing, mine);
  try {
    return await mine;
  } finally {
    if (lines.get(thing) === mine) lines.delete(thing);
  }
}

/** A value that is chosen in place of the one that was seen: a language, the value of a text. */
interface Choice {
  thing: string;
  seen: string;
  wanted: string;
  body: Record<string, unknown>;
}

/** Of each thing: the value that was seen first, and those one gave it since. */
const given = new Map<string, string[]>();

async function choiceOf(request: Request): Promise<Choice | null> {
  if (!request.headers.get("Content-Type")?.includes("json")) return null;
  const body: unknown = await request
    .clone()
    .json()
    .catch(() => null);
  if (!body || typeof body !== "object" || !("seen" in body) || typeof body.seen !== "string") return null;
  const of = body as Record<string, unknown>;
  const wanted = String(of.language ?? of.value ?? "");
  const thing = `${thingOf(request.url)} ${JSON.stringify([of.ids ?? null, of.field ?? null])}`;
  return { thing, seen: body.seen, wanted, body: of };
}

async function sendChoice(
  { thing, seen, wanted, body }: Choice,
  request: Request,
  send: (request: Request) => Promise<Response>,
): Promise<Response> {
  const before = given.get(thing)?.includes(seen) ? given.get(thing)! : [seen];
  const now = before.at(-1)!;
  const answer = await send(
    now === seen
      ? request
      : new Request(request.url, {
          method: request.method,
          headers: request.headers,
          body: JSON.stringify({ ...body, seen: now }),
        }),
  );
  if (answer.ok) given.set(thing, [...before, wanted]);
  else given.delete(thing);
  return answer;
}

async function sendOn(
  thing: string,
  seen: number,
  request: Request,
  send: (request: Request) => Promise<Response>,
): Promise<Response> {
  const now = newest(thing, seen);
  const answer = await send(now === seen ? request : await onRevision(request, now));
  if (answer.ok) noted(thing, now);
  if (answer.status !== 409 || now === seen) return answer;
  const current = await answer
    .clone()
    .json()
    .then((body: { current?: { revision?: string } }) => Number(body.current?.revision))
    .catch(() => Number.NaN);
  // one of one's own changes changed nothing, so it left the revision as it was: nobody else was there
  for (let step = seen; step !== now; step = own.get(thing)!.get(step)!) {
    if (step !== current) continue;
    own.get(thing)!.delete(step);
    const again = await send(await onRevision(request, step));
    if (again.ok) noted(thing, step);
    return again;
  }
  return answer;
}

/** Forget what is known of revisions, as after signing in as somebody else. */
export function forgetRevisions(): void {
  own.clear();
  given.clear();
}
