import { describe, expect, it } from "vitest";
import { asked, countChosen, EVERYTHING, extend, isChosen, NOTHING, toggle } from "./selection";

const order = new Map([
  [0, 10],
  [1, 11],
  [2, 12],
  [4, 14],
]);

describe("a selection", () => {
  it("takes texts one by one and lets them go", () => {
    const two = toggle(toggle(NOTHING, 3), 5);
    expect(two.ids).toEqual([3, 5]);
    expect(toggle(two, 3).ids).toEqual([5]);
  });
  it("takes a stretch in either direction, without what is not loaded", () => {
    expect(extend(NOTHING, order, 2, 0).ids).toEqual([10, 11, 12]);
    expect(extend({ all: false, ids: [11] }, order, 1, 4).ids).toEqual([11, 12, 14]);
  });
  it("of all counts what is found and asks without ids", () => {
    expect(countChosen(EVERYTHING, 800_000)).toBe(800_000);
    expect(isChosen(EVERYTHING, 1)).toBe(true);
    expect(asked(EVERYTHING, [], "lynx")).toEqual({ ids: null, scope: [], find: "lynx" });
  });
  it("of all minus one keeps the others that are known", () => {
    expect(toggle(EVERYTHING, 11, [10, 11, 12])).toEqual({ all: false, ids: [10, 12] });
  });
});
