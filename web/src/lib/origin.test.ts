import { expect, test } from "vitest";
import { originOf } from "./origin";

const TEXT = {
  source: "Hill Farmer",
  date: null,
  title: "Nine pages",
  body: "🐑 One.\n\nTwo is longer.\n \nThree.",
};

test("words are from their paragraph, counted over lines with words", () => {
  const at = (words: string) => [...TEXT.body.slice(0, TEXT.body.indexOf(words))].length;
  expect(originOf(TEXT, at("One"))).toBe("Hill Farmer, Nine pages, paragraph 1");
  expect(originOf(TEXT, at("longer"))).toBe("Hill Farmer, Nine pages, paragraph 2");
  expect(originOf(TEXT, at("Three"))).toBe("Hill Farmer, Nine pages, paragraph 3");
});

test("what is not known is left out", () => {
  expect(originOf({ ...TEXT, source: null, title: "" }, 0)).toBe("paragraph 1");
  expect(originOf(null, 0)).toBe("");
});
