import { expect, test } from "vitest";
import { date, three, ticks, whole } from "./numbers";

test("rates have at most three significant places", () => {
  expect([9.4123, 12.345, 0.05678, 1234.5, 0].map(three)).toEqual(["9.41", "12.3", "0.0568", "1,235", "0"]);
  expect([-0.0213, -3e-9].map(three)).toEqual(["-0.0213", "0"]);
  expect(three(null)).toBe("–");
  expect(whole(402116)).toBe("402,116");
});

test("dates are written out", () => {
  expect(date("2031-06-03")).toBe("3 Jun 2031");
  expect(date(null)).toBe("");
});

test("ticks are round and stand within what is drawn", () => {
  expect(ticks(61, 4, 38)).toEqual([40, 50, 60]);
  expect(ticks(0.12, 4, -0.31)).toEqual([-0.2, 0]);
  expect(ticks(3, 4, 3)).toEqual([3]);

  expect(ticks(11)).toEqual([0, 2, 4, 6, 8, 10]);
  expect(ticks(0.7, 5)[1]).toBeCloseTo(0.2);
  expect(ticks(0)).toEqual([0]);
});
