// @vitest-environment jsdom
import { expect, test } from "vitest";
import { matchesOf, paragraphAsked, rangesOf } from "./findintext";

const BODY = "The Gate is shut.\nNobody saw the\ngate (again) close.";

test("words are found whatever their case, over line ends, and signs are signs", () => {
  expect(matchesOf(BODY, "gate").map(({ start }) => start)).toEqual([4, 33]);
  expect(matchesOf(BODY, "the  gate")).toHaveLength(2);
  expect(matchesOf(BODY, "(again)")).toEqual([{ start: 38, end: 45 }]);
  expect(matchesOf(BODY, " ")).toEqual([]);
  expect(matchesOf("aaaa", "aa")).toHaveLength(2);
});

test("a number is a paragraph where there is one", () => {
  expect(paragraphAsked("12", 40)).toBe(12);
  expect(paragraphAsked("¶ 3", 40)).toBe(3);
  expect(paragraphAsked("41", 40)).toBeNull();
  expect(paragraphAsked("12 lambs", 40)).toBeNull();
});

test("a match over several pieces of the page is one range", () => {
  const page = document.createElement("div");
  page.innerHTML = '<p><span data-at="0">The Ga</span><span data-at="6">te is shut.</span></p>';
  page.innerHTML += '<p><span data-at="18">Nobody saw the\ngate</span></p>';
  const ranges = rangesOf(page, matchesOf(BODY, "gate"));
  expect(ranges.map(String)).toEqual(["Gate", "gate"]);
  expect(rangesOf(page, [{ start: 45, end: 50 }])).toEqual([null]);
});
