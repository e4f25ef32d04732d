import { expect, test } from "vitest";
import { apartFrom } from "./labels";

test("a name may touch another's edge, lie over its own dot, and over nothing else", () => {
  expect(apartFrom([0, 0, 10, 10], [[10, 0, 20, 10]])).toBe(true);
  expect(apartFrom([0, 0, 10, 10], [[9, 9, 20, 20]])).toBe(false);
  expect(apartFrom([0, 0, 10, 10], [[2, 2, 4, 4]], 0)).toBe(true);
});
