import { describe, expect, it, test } from "vitest";
import { layered, stretches, toCodePoint, toUtf16 } from "./offsets";

test("code points count once, emoji take two units", () => {
  const text = "a👩‍🌾é lamb";
  expect(toUtf16(text, [0, 1, 2, 4, 5])).toEqual([0, 1, 3, 6, 7]);
});

test("combining marks are code points of their own", () => {
  const text = "e\u0301 flock";
  expect(toUtf16(text, [3])).toEqual([3]);
  expect(stretches(text, [{ start: 3, end: 8 }]).filter((s) => s.marked)).toEqual([
    { text: "flock", marked: true },
  ]);
});

test("marks after emoji land on their words", () => {
  const text = "😀😀 lynx seen, lynx gone";
  const marked = stretches(text, [
    { start: 3, end: 7 },
    { start: 14, end: 18 },
  ]).filter((s) => s.marked);
  expect(marked.map((s) => s.text)).toEqual(["lynx", "lynx"]);
  expect(
    stretches(text, [{ start: 3, end: 7 }])
      .map((s) => s.text)
      .join(""),
  ).toBe(text);
});

test("overlapping marks are joined, and parts of a text can be cut out", () => {
  expect(
    stretches("abcdef", [
      { start: 1, end: 3 },
      { start: 2, end: 4 },
    ]),
  ).toEqual([
    { text: "a", marked: false },
    { text: "bc", marked: true },
    { text: "d", marked: true },
    { text: "ef", marked: false },
  ]);
  expect(
    stretches("abcdef", [{ start: 1, end: 3 }], 2, 5)
      .map((s) => s.text)
      .join(""),
  ).toBe("cde");
});

describe("layers of hits and notes", () => {
  const text = "🐾 lamb and ewe";
  it("cuts where either begins or ends and gives places in UTF-16", () => {
    const parts = layered(text, [{ start: 2, end: 6 }], [{ start: 4, end: 10 }], 0, Infinity);
    expect(parts.map((part) => [part.text, part.at, part.marked, part.noted])).toEqual([
      ["🐾 ", 0, false, false],
      ["la", 3, true, false],
      ["mb", 5, true, true],
      [" and", 7, false, true],
      [" ewe", 11, false, false],
    ]);
  });
  it("keeps to its stretch", () => {
    expect(layered(text, [{ start: 0, end: 15 }], [], 2, 6).map((part) => part.text)).toEqual(["lamb"]);
  });
  it("counts code points before a place", () => {
    expect(toCodePoint(text, 3)).toBe(2);
    expect(toCodePoint(text, 99)).toBe(14);
  });
});
