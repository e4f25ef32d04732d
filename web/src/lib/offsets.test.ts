import { expect, test } from "vitest";
import { toCodePoint, toUtf16 } from "./offsets";

test("code points count once, emoji take two units", () => {
  expect(toUtf16("a👩‍🌾é lamb", [0, 1, 2, 4, 5])).toEqual([0, 1, 3, 6, 7]);
});

test("combining marks are code points of their own, and offsets may be in any order", () => {
  expect(toUtf16("e\u0301 flock", [3])).toEqual([3]);
  expect(toUtf16("😀😀 lynx", [3, 0, 1])).toEqual([5, 0, 2]);
});

test("code points before a place are counted", () => {
  expect(toCodePoint("🐾 lamb and ewe", 3)).toBe(2);
  expect(toCodePoint("🐾 lamb and ewe", 99)).toBe(14);
});
