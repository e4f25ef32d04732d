import { beforeEach, expect, test } from "vitest";
import { forgetRevisions, inOrder, thingOf } from "./revisions";

const URL = "http://here/api/v1/projects/1/findings/5";

beforeEach(forgetRevisions);

function patch(revision: number, url = URL): Request {
  return new Request(url, {
    method: "PATCH",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ title: "x", revision }),
  });
}

/** A server with one thing, at a revision; answers in the order it is told to. */
function server(revision: number) {
  const state = { revision, sent: [] as number[], pause: () => Promise.resolve() };
  const send = async (request: Request) => {
    const asked =
      request.method === "DELETE"
        ? Number(new globalThis.URL(request.url).searchParams.get("revision"))
        : ((await request.clone().json()) as { revision: number }).revision;
    state.sent.push(asked);
    await state.pause();
    if (asked !== state.revision)
      return new Response(JSON.stringify({ current: { revision: String(state.revision) } }), { status: 409 });
    state.revision += 1;
    return new Response("{}", { status: 200 });
  };
  return { state, send };
}

test("two changes made on what was seen are carried out one after the other", async () => {
  const { state, send } = server(3);
  state.pause = () => new Promise((resolve) => setTimeout(resolve, 5));
  const both = await Promise.all([inOrder(patch(3), send), inOrder(patch(3), send)]);
  expect(both.map((one) => one.status)).toEqual([200, 200]);
  expect(state.sent).toEqual([3, 4]);
});

test("a deletion follows a change on its way", async () => {
  const { state, send } = server(1);
  const gone = new Request(`${URL}?revision=1`, { method: "DELETE" });
  const [, last] = await Promise.all([inOrder(patch(1), send), inOrder(gone, send)]);
  expect(last!.status).toBe(200);
  expect(state.sent).toEqual([1, 2]);
});

test("what somebody else changed is refused still", async () => {
  const { state, send } = server(3);
  await inOrder(patch(3), send);
  state.revision += 1;
  expect((await inOrder(patch(3), send)).status).toBe(409);
});

test("a change that changed nothing leaves the revision, and the next one goes through", async () => {
  const { state, send } = server(3);
  await inOrder(patch(3), send);
  state.revision = 3; // as if the first had changed nothing
  expect((await inOrder(patch(3), send)).status).toBe(200);
  expect(state.sent).toEqual([3, 4, 3]);
});

test("a refusal does not hold up the next change, and another thing does not wait", async () => {
  const { send } = server(2);
  const refused = inOrder(patch(1), send);
  const later = inOrder(patch(2), send);
  expect((await refused).status).toBe(409);
  expect((await later).status).toBe(200);
  expect((await inOrder(new Request(`${URL}/say`, { method: "POST" }), async () => new Response())).ok).toBe(
    true,
  );
});

test("what is done to a thing is of that thing", () => {
  expect(thingOf("/api/v1/projects/1/codes/7/move")).toBe("/api/v1/projects/1/codes/7");
  expect(thingOf("/api/v1/projects/1/texts/7/body")).toBe("/api/v1/projects/1/texts/7");
  expect(thingOf("/api/v1/projects/1/codes/7?revision=3")).toBe("/api/v1/projects/1/codes/7");
});

test("a value chosen again before the first choice is stored is chosen on that one", async () => {
  let value = "en";
  const seen: string[] = [];
  const send = async (request: Request) => {
    const body = (await request.clone().json()) as { seen: string; language: string };
    seen.push(body.seen);
    await new Promise((resolve) => setTimeout(resolve, 3));
    if (body.seen !== value) return new Response("{}", { status: 409 });
    value = body.language;
    return new Response("{}");
  };
  const choose = (language: string, before: string) =>
    inOrder(
      new Request("http://here/api/v1/projects/1/words/language", {
        method: "PUT",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ language, seen: before }),
      }),
      send,
    );
  const all = await Promise.all([choose("no", "en"), choose("nl", "en"), choose("none", "en")]);
  expect(all.map((one) => one.status)).toEqual([200, 200, 200]);
  expect(seen).toEqual(["en", "no", "nl"]);
  value = "de"; // somebody else
  expect((await choose("fr", "none")).status).toBe(409);
  expect((await choose("fr", "de")).status).toBe(200);
});
