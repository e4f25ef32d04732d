import createClient, { type Middleware } from "openapi-fetch";
import { clashOf, settled } from "./clash";
import { inOrder } from "./revisions";
import type { components, paths } from "./schema.gen";
import { signedInAgain } from "./session";

export type Schema = components["schemas"];
export type Condition = NonNullable<Schema["Scoped"]["scope"]>[number];

/** What the server said, as a sentence for people. */
export class ProblemError extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly position: number | null = null,
    /** The change of the history that is stuck. */
    readonly command: number | null = null,
    /** It would take away what others have done: it has to be said what becomes of that. */
    readonly others = false,
  ) {
    super(message);
  }
}

/** A request came again that had been carried out: its first answer was lost on the way. */
export class AlreadyDone extends ProblemError {}

/** A person looked at both versions and kept the other one: nothing went wrong. */
export class KeptTheirs extends ProblemError {
  constructor() {
    super("Left as somebody else changed it.", 409);
  }
}

const AWAY = "The server does not answer. What you saved is safe; try again in a moment.";

const problems: Middleware = {
  async onResponse({ response }) {
    if (response.ok) return;
    throw await readProblem(response);
  },
};

async function readProblem(response: Response): Promise<ProblemError> {
  try {
    const body = await response.clone().json();
    const Kind = response.status === 409 && body.title === "Already done" ? AlreadyDone : ProblemError;
    return new Kind(
      body.detail ?? AWAY,
      response.status,
      body.position ?? null,
      body.command ?? null,
      body.others ?? false,
    );
  } catch {
    return new ProblemError(AWAY, response.status);
  }
}

const client = createClient<paths>({ baseUrl: "/", fetch: guardedFetch });
client.use(problems);

async function guardedFetch(request: Request): Promise<Response> {
  const kept = request.method === "GET" ? null : request.clone();
  const response = await inOrder(request, answered);
  const clash = kept && (await clashOf(kept, response));
  if (!clash) return response;
  const again = await settled(kept, clash);
  if (!again) throw new KeptTheirs();
  return guardedFetch(again); // it may have been changed once more meanwhile
}

async function answered(request: Request): Promise<Response> {
  const again = request.method === "GET" ? null : request.clone();
  const answer = await fetched(request);
  // a change is kept until its author is signed in again
  if (answer.status !== 401 || !again || SIGNING.test(request.url)) return answer;
  return (await signedInAgain()) ? answered(again) : answer;
}

/** Calls whose refusal speaks of the name and password given with them. */
const SIGNING = /\/api\/v1\/(sign-in|sign-out|start)$/;

async function fetched(request: Request): Promise<Response> {
  try {
    return await fetch(request);
  } catch (error) {
    // whoever gave a request up does not want to hear that the server is away
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new ProblemError(AWAY, 0);
  }
}

export const api = client;

/** The data of an answer; errors were thrown before. */
export async function data<T>(answer: Promise<{ data?: T }>): Promise<T> {
  return (await answer).data as T;
}

/** Save what the server gives as a file, under the name it gives. */
export async function saveFile(url: string, body?: unknown): Promise<void> {
  const response = await guardedFetch(
    new Request(
      url,
      body === undefined
        ? {}
        : { method: "POST", body: JSON.stringify(body), headers: { "Content-Type": "application/json" } },
    ),
  );
  if (!response.ok) throw await readProblem(response);
  const name = /filename\*=UTF-8''([^;]+)/.exec(response.headers.get("Content-Disposition") ?? "")?.[1];
  saveBlob(await response.blob(), name ? decodeURIComponent(name) : "winnower");
}

/** Send a file, with what goes along with it; what the server says comes back, errors as sentences. */
export async function sendFile<T>(url: string, form: FormData): Promise<T> {
  const response = await guardedFetch(new Request(url, { method: "POST", body: form }));
  if (!response.ok) throw await readProblem(response);
  return (await response.json()) as T;
}

/** Send plain values to a call that answers with a file of JSON, and read that. */
export async function sendJson<T>(url: string, body: unknown): Promise<T> {
  const headers = { "Content-Type": "application/json" };
  const response = await guardedFetch(
    new Request(url, { method: "POST", body: JSON.stringify(body), headers }),
  );
  if (!response.ok) throw await readProblem(response);
  return (await response.json()) as T;
}

export function saveBlob(blob: Blob, name: string): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
