import { expect, test } from "vitest";
import { lanes, placed } from "./lanes";

test("stretches that overlap are underlined in lanes of their own, and a free lane is used again", () => {
  const at = (start: number, end: number) => ({ start, end });
  expect(lanes([at(0, 10), at(2, 5), at(4, 6), at(5, 8), at(10, 12)])).toEqual([0, 1, 2, 1, 0]);
  expect(lanes([])).toEqual([]);
  // the long one keeps its line, the short ones lie under it
  expect(lanes([at(0, 3), at(0, 3), at(0, 9), at(4, 6)])).toEqual([1, 2, 0, 1]);
});

test("cards stand level with their words and never over one another", () => {
  const card = (top: number) => ({ top, full: 50, line: 26 });
  expect(placed([card(0), card(200)])).toEqual([
    { top: 0, short: false },
    { top: 200, short: false },
  ]);
  const crowded = Array.from({ length: 30 }, () => card(100));
  const found = placed(crowded);
  for (let at = 1; at < found.length; at += 1) {
    const before = found[at - 1]!;
    expect(found[at]!.top).toBeGreaterThanOrEqual(before.top + (before.short ? 26 : 50));
  }
  expect(found.at(-1)!.short).toBe(true);
});
