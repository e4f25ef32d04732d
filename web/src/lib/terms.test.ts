import { expect, test } from "vitest";
import { asQuery, languageName, optionWords, term, termOf, written } from "./terms";

test("a term is written with its options before it", () => {
  expect(written(term("lamb*"))).toBe("lamb*");
  expect(written(term("Hill", { match_case: true, ignore_accents: true }))).toBe(
    "exact-case: any-accents: Hill",
  );
  expect(written(term("sell", { forms_of: "en" }))).toBe("all-forms:en sell");
});

test("several terms are one search", () => {
  expect(asQuery([term("lamb"), term("Hill", { match_case: true })])).toBe("lamb OR exact-case: Hill");
});

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
