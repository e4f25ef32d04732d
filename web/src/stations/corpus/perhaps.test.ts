import { expect, test } from "vitest";
import type { Schema } from "../../api/client";
import { KEEP } from "./again";
import { decided } from "./perhaps";

const ONE = {
  identity: "aa",
  text_id: 7,
  name: "A",
  file: "a.csv",
  row: 2,
  words: [],
} as Schema["PerhapsPublic"];

test("a row is one of three: new, a correction, left out", () => {
  const corrected = decided(KEEP, ONE, "correct");
  expect(corrected.corrects).toEqual([{ identity: "aa", text_id: 7 }]);
  const left = decided(corrected, ONE, "leave");
  expect([left.corrects, left.left_out]).toEqual([[], ["aa"]]);
  expect(decided(left, ONE, "")).toEqual(KEEP);
});

test("deciding twice is deciding once", () => {
  const twice = decided(decided(KEEP, ONE, "correct"), ONE, "correct");
  expect(twice.corrects).toHaveLength(1);
});
