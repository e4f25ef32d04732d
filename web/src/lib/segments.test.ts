import { expect, test } from "vitest";
import { beside, resized, segments } from "./segments";

const BODY = "The lynx came.  It went.\n\n  “Nine 🐾 lambs,” she said.\n";
const words = (unit: Parameters<typeof segments>[1]) =>
  segments(BODY, unit).map(({ start, end }) => BODY.slice(start, end));

test("a text is cut into words, sentences and paragraphs", () => {
  expect(words("word")).toEqual(["The", "lynx", "came", "It", "went", "Nine", "lambs", "she", "said"]);
  expect(words("sentence").slice(0, 2)).toEqual(["The lynx came.", "It went."]);
  expect(words("paragraph")).toEqual(["The lynx came.  It went.", "“Nine 🐾 lambs,” she said."]);
});

test("steps go on from where one stands and stop at the ends", () => {
  const all = segments(BODY, "word");
  const first = beside(all, null, 1)!;
  expect(BODY.slice(first.start, first.end)).toBe("The");
  expect(beside(all, first, -1)).toBeNull();
  const second = beside(all, first, 1)!;
  expect(BODY.slice(second.start, second.end)).toBe("lynx");
  expect(beside(all, all.at(-1)!, 1)).toBeNull();
  expect(beside([], null, 1)).toBeNull();
});

test("a stretch grows and shrinks at both ends and never to nothing", () => {
  const all = segments(BODY, "word");
  const lynx = all[1]!;
  const longer = resized(all, lynx, 1, "end")!;
  expect(BODY.slice(longer.start, longer.end)).toBe("lynx came");
  expect(resized(all, longer, -1, "end")).toEqual(lynx);
  expect(resized(all, lynx, -1, "end")).toBeNull();
  const before = resized(all, lynx, 1, "start")!;
  expect(BODY.slice(before.start, before.end)).toBe("The lynx");
  expect(resized(all, before, -1, "start")).toEqual(lynx);
  expect(resized(all, all[0]!, 1, "start")).toBeNull();
});
