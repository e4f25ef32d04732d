import { describe, expect, it, test } from "vitest";
import { type Interval, pieces, piecesWithin, touching } from "./marks";

const flat = (text: string, layers: Record<string, readonly Interval[]>, cuts: readonly number[] = []) =>
  pieces(text, layers, cuts).map((part) =>
    part.map((one) => [one.text, Object.keys(one.under).sort().join("+")]),
  );

test("marks after emoji and combining marks land on their words", () => {
  expect(flat("😀😀 lynx seen", { hit: [{ start: 3, end: 7 }] })).toEqual([
    [
      ["😀😀 ", ""],
      ["lynx", "hit"],
      [" seen", ""],
    ],
  ]);
  expect(flat("e\u0301 flock", { hit: [{ start: 3, end: 8 }] })[0]!.at(-1)).toEqual(["flock", "hit"]);
});

test("a piece knows every mark it lies under, of any number of layers", () => {
  const [a, b, c] = [
    { start: 0, end: 6 },
    { start: 2, end: 4 },
    { start: 3, end: 9 },
  ];
  const found = pieces("abcdefghij", { code: [a, b], note: [c] })[0]!;
  expect(found.map((one) => one.text)).toEqual(["ab", "c", "d", "ef", "ghi", "j"]);
  expect(found.map((one) => one.under)).toEqual([
    { code: [a] },
    { code: [a, b] },
    { code: [a, b], note: [c] },
    { code: [a], note: [c] },
    { note: [c] },
    {},
  ]);
});

describe("cut at paragraphs", () => {
  const text = "🐾 lamb\nand ewe\nbirch";
  it("gives a list for each, and a mark over an end goes on", () => {
    expect(flat(text, { hit: [{ start: 4, end: 10 }] }, [7, 15])).toEqual([
      [
        ["🐾 la", ""],
        ["mb\n", "hit"],
      ],
      [
        ["and", "hit"],
        [" ewe\n", ""],
      ],
      [["birch", ""]],
    ]);
  });
  it("tells places in UTF-16", () => {
    expect(pieces(text, {}, [7]).map((part) => part[0]!.at)).toEqual([0, 8]);
  });
});

test("nothing of a text is lost, whatever lies on it", () => {
  let seed = 7;
  const random = (most: number) => {
    seed = (seed * 1103515245 + 12345) % 2 ** 31;
    return seed % most;
  };
  const text = "a😀b👩‍🌾c ".repeat(20);
  const points = [...text].length;
  for (let round = 0; round < 50; round += 1) {
    const marks = (count: number) =>
      Array.from({ length: count }, () => {
        const start = random(points);
        return { start, end: Math.min(points, start + random(30)) };
      });
    const layers = { one: marks(random(12)), two: marks(random(6)) };
    const found = pieces(text, layers, [random(points), random(points)]).flat();
    expect(found.map((one) => one.text).join("")).toBe(text);
    for (const piece of found) {
      const low = [...text.slice(0, piece.at)].length;
      for (const layer of ["one", "two"] as const)
        expect(piece.under[layer]?.length ?? 0).toBe(
          layers[layer].filter((mark) => mark.start <= low && mark.end > low).length,
        );
    }
  }
});

test("an empty text has an empty stretch", () => {
  expect(pieces("", { hit: [{ start: 0, end: 3 }] })).toEqual([[]]);
});

describe("a text cut paragraph by paragraph", () => {
  const body = "Red 🦌 deer eat.\nBirch 🌿 grows.\nEnd";
  const points = [...body];
  const starts = [0, ...points.flatMap((sign, at) => (sign === "\n" ? [at + 1] : []))];
  const stretches = starts.map((start, at) => ({ start, end: starts[at + 1] ?? points.length }));
  it("is what it is when cut as a whole", () => {
    for (let seed = 0; seed < 60; seed += 1) {
      const mark = (n: number) => {
        const start = (seed * 7 + n * 5) % points.length;
        return { start, end: Math.min(start + 1 + ((seed + n * 3) % 14), points.length) };
      };
      const marks = [mark(1), mark(2), mark(3)].sort((a, b) => a.start - b.start);
      const whole = pieces(body, { code: marks }, starts.slice(1));
      const parts = touching(stretches, marks);
      const each = stretches.map((one, at) => piecesWithin(body, one, { code: parts[at]! }));
      expect(each).toEqual(whole);
    }
  });
});
