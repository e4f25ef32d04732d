// @vitest-environment jsdom
import { afterEach, expect, test, vi } from "vitest";
import { api, data, ProblemError, saveFile, sendFile } from "./client";

const answer = (said: () => Response | Promise<Response>) => vi.stubGlobal("fetch", said);
const me = () => data(api.GET("/api/v1/me"));
const failed = (what: Promise<unknown>) =>
  what.then(
    () => null,
    (error: ProblemError) => error,
  );

afterEach(() => vi.unstubAllGlobals());

test("what the server refuses is a sentence, with the place in what was typed", async () => {
  answer(() => Response.json({ detail: "The bracket is not closed.", position: 7 }, { status: 422 }));
  const error = await failed(me());
  expect(error).toBeInstanceOf(ProblemError);
  expect([error?.message, error?.status, error?.position]).toEqual(["The bracket is not closed.", 422, 7]);
});

test.each([
  ["a server that is away", () => Promise.reject(new TypeError("Failed to fetch")), 0],
  ["a page instead of an answer", () => new Response("<html>Bad gateway</html>", { status: 502 }), 502],
  ["an answer without words", () => Response.json({}, { status: 500 }), 500],
])("%s is told in words that calm", async (_, said, status) => {
  answer(said);
  for (const what of [me(), sendFile("/api/v1/anything", new FormData())]) {
    const error = await failed(what);
    expect(error?.message).toMatch(/does not answer. What you saved is safe/);
    expect(error?.status).toBe(status);
  }
});

test("a file is saved under the name the server gives", async () => {
  const saved: string[] = [];
  vi.stubGlobal("URL", Object.assign(URL, { createObjectURL: () => "blob:one", revokeObjectURL: () => {} }));
  vi.spyOn(HTMLAnchorElement.prototype, "click").mockImplementation(function (this: HTMLAnchorElement) {
    saved.push(this.download);
  });
  answer(
    () =>
      new Response("a,b", {
        headers: { "Content-Disposition": "attachment; filename*=UTF-8''W%C3%B6rter%20%26%20more.csv" },
      }),
  );
  await saveFile("/api/v1/words.csv", { form: "csv" });
  answer(() => new Response("a,b"));
  await saveFile("/api/v1/words.csv");
  expect(saved).toEqual(["Wörter & more.csv", "winnower"]);
});

test("what is refused is not saved", async () => {
  answer(() => Response.json({ detail: "Readers do not export." }, { status: 403 }));
  expect((await failed(saveFile("/api/v1/words.csv")))?.message).toBe("Readers do not export.");
});
