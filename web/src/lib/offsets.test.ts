import { expect, test } from "vitest";
import { stretches, toUtf16 } from "./offsets";

test("code points count once, emoji take two units", () => {
  const text = "a👩‍🌾é lamb";
  expect(toUtf16(text, [0, 1, 2, 4, 5])).toEqual([0, 1, 3, 6, 7]);
});

test("combining marks are code points of their own", () => {
  const text = "e\u0301 flock";
  expect(toUtf16(text, [3])).toEqual([3]);
  expect(stretches(text, [{ start: 3, end: 8 }]).filter((s) => s.marked)).toEqual([{ text: "flock", marked: true }]);
});

test("marks after emoji land on their words", () => {
  const text = "😀😀 lynx seen, lynx gone";
  const marked = stretches(text, [{ start: 3, end: 7 }, { start: 14, end: 18 }]).filter((s) => s.marked);
  expect(marked.map((s) => s.text)).toEqual(["lynx", "lynx"]);
  expect(stretches(text, [{ start: 3, end: 7 }]).map((s) => s.text).join("")).toBe(text);
});

test("overlapping marks are joined, and parts of a text can be cut out", () => {
  expect(stretches("abcdef", [{ start: 1, end: 3 }, { start: 2, end: 4 }])).toEqual([
    { text: "a", marked: false },
    { text: "bc", marked: true },
    { text: "d", marked: true },
    { text: "ef", marked: false },
  ]);
  expect(stretches("abcdef", [{ start: 1, end: 3 }], 2, 5).map((s) => s.text).join("")).toBe("cde");
});
