import { expect, test } from "vitest";
import { moved } from "./reports";

test("a piece moves by places, and stays inside", () => {
  expect(moved([1, 2, 3], 2, { by: 1 })).toEqual([1, 3, 2]);
  expect(moved([1, 2, 3], 2, { by: -1 })).toEqual([2, 1, 3]);
  expect(moved([1, 2, 3], 3, { by: 1 })).toEqual([1, 2, 3]);
  expect(moved([1, 2, 3], 1, { by: -1 })).toEqual([1, 2, 3]);
});

test("a piece is put before another one, or at the end", () => {
  expect(moved([1, 2, 3], 3, { before: 1 })).toEqual([3, 1, 2]);
  expect(moved([1, 2, 3], 1, { before: null })).toEqual([2, 3, 1]);
});

test("what is not there moves nothing", () => {
  expect(moved([1, 2, 3], 9, { by: 1 })).toEqual([1, 2, 3]);
  expect(moved([1, 2, 3], 1, { before: 9 })).toEqual([1, 2, 3]);
});
