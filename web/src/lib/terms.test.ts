import { expect, test } from "vitest";
import { languageName, optionWords, term, termOf } from "./terms";

test("a stored term keeps what counts and leaves its note behind", () => {
  const row = { ...term("café", { ignore_accents: true, note: "place or drink" }), id: 4, revision: 2 };
  expect(termOf(row)).toEqual(term("café", { ignore_accents: true }));
  expect(optionWords(row)).toBe("accents ignored");
});

test("languages have names, unknown ones their code", () => {
  expect(languageName("de")).toBe("German");
  expect(languageName("none")).toBe("No language");
  expect(languageName("not a code")).toBe("not a code");
});
