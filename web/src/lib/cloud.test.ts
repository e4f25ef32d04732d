import { expect, test } from "vitest";
import { type CloudSettings, layOut, sizeOf } from "./cloud";

const settings: CloudSettings = {
  width: 700,
  height: 400,
  smallest: 11,
  largest: 60,
  scale: "root",
  shape: "oval",
};
const words = Array.from({ length: 80 }, (_, at) => ({
  text: `word${at}`,
  value: Math.round(900 / (at + 1)),
  tint: 0,
}));
const measure = (text: string, size: number) => text.length * size * 0.55;

test.each(["oval", "block", "rows"] as const)(
  "no word touches another or leaves the picture: %s",
  (shape) => {
    const placed = layOut(words, { ...settings, shape }, measure);
    expect(placed.length).toBeGreaterThan(40);
    for (const [at, one] of placed.entries()) {
      expect(one.x - one.width / 2).toBeGreaterThanOrEqual(0);
      expect(one.x + one.width / 2).toBeLessThanOrEqual(settings.width + 0.001);
      for (const other of placed.slice(at + 1)) {
        const apart =
          Math.abs(one.x - other.x) >= (one.width + other.width) / 2 - 0.001 ||
          Math.abs(one.y - other.y) >= (one.size + other.size) / 2 - 0.001;
        expect(apart, `${one.text} and ${other.text}`).toBe(true);
      }
    }
  },
);

test("the same words are placed alike, whatever their order", () => {
  expect(layOut([...words].reverse(), settings, measure)).toEqual(layOut(words, settings, measure));
});

test("sizes run from the smallest to the largest", () => {
  for (const scale of ["root", "straight", "log"] as const) {
    expect(sizeOf(900, 900, 10, { ...settings, scale })).toBe(60);
    expect(sizeOf(10, 900, 10, { ...settings, scale })).toBe(11);
  }
  expect(sizeOf(225, 900, 0, settings)).toBeCloseTo(11 + 0.5 * 49);
  expect(sizeOf(5, 5, 5, settings)).toBe(60);
});

test("nothing gives nothing", () => {
  expect(layOut([], settings, measure)).toEqual([]);
});
