import { afterEach, expect, test, vi } from "vitest";
import { alike, askAtClash, clashOf, settled } from "./clash";

const url = "http://localhost/api/v1/projects/1/dictionaries/2/terms/3";
const change = () =>
  new Request(url, { method: "PATCH", body: JSON.stringify({ revision: 1, source: "lamb*" }) });
const refused = (current: object | null) =>
  new Response(JSON.stringify({ detail: "Somebody changed this.", current }), { status: 409 });

let stop = () => {};
afterEach(() => stop());

test("a change that was refused for its revision is put in on the present one where the person says so", async () => {
  const asked = vi.fn().mockResolvedValue("mine");
  stop = askAtClash(asked);
  const clash = await clashOf(change(), refused({ revision: "4", source: "ewe" }));
  expect(clash).toEqual({
    mine: { revision: 1, source: "lamb*" },
    theirs: { revision: "4", source: "ewe" },
    deleting: false,
  });
  const again = await settled(change(), clash!);
  expect(await again!.json()).toEqual({ revision: 4, source: "lamb*" });
  expect(again!.method).toBe("PATCH");
  expect(asked).toHaveBeenCalledOnce();
});

test("theirs stands where the person says so", async () => {
  stop = askAtClash(async () => "theirs");
  const clash = await clashOf(change(), refused({ revision: "4" }));
  expect(await settled(change(), clash!)).toBeNull();
});

test("a deletion is decided on what is there now", async () => {
  stop = askAtClash(async () => "mine");
  const request = new Request(`${url}?revision=1`, { method: "DELETE" });
  const clash = await clashOf(request, refused({ revision: "2", source: "ewe" }));
  expect(clash?.deleting).toBe(true);
  expect((await settled(request, clash!))!.url).toBe(`${url}?revision=2`);
});

test("other refusals are not asked about", async () => {
  stop = askAtClash(async () => "mine");
  expect(await clashOf(change(), refused(null))).toBeNull();
  expect(await clashOf(change(), new Response("{}", { status: 422 }))).toBeNull();
});

test("states are compared as the server writes them", () => {
  expect(alike("a", "a")).toBe(true);
  expect(alike(true, "1")).toBe(true);
  expect(alike(false, "1")).toBe(false);
  expect(alike(null, undefined)).toBe(true);
  expect(alike(2, "3")).toBe(false);
});
