import { expect, test } from "vitest";
import type { Condition } from "../api/client";
import {
  compact,
  comparisonFromSearch,
  type Evidence,
  evidenceFromText,
  marked,
  ofDictionary,
  ofSearch,
  ofTerms,
  searchOf,
  searchWithComparison,
  searchWithEvidence,
} from "./comparison";
import { keys, stale } from "./keys";

const scope: Condition[] = [
  { kind: "values", field: "source", values: [null, "Hill Farmer"], exclude: false },
];

test("a comparison survives the address of the page, in the scope of the page", () => {
  const asked = { ...ofDictionary(3, scope, { field: "date", period: "month" }, 2), measure: "share" };
  const search = searchWithComparison(new URLSearchParams("draw=trend"), asked);
  expect(search.get("draw")).toBe("trend");
  expect(search.get("compare")).not.toContain("Hill Farmer");
  const back = comparisonFromSearch(search, scope, ofDictionary(1, []));
  expect(compact(back)).toEqual(compact(asked));
});

test("a damaged or missing comparison gives the usual one", () => {
  const usual = ofDictionary(1, scope, { field: "source" });
  for (const written of ["", "compare=%7Bbroken", "compare=5"])
    expect(comparisonFromSearch(new URLSearchParams(written), scope, usual)).toEqual(usual);
});

test("what is understood by itself is not written, but a missing value is", () => {
  expect(compact(ofSearch("lamb", scope))).toEqual({
    target: { kind: "search", query: "lamb" },
    scope: [{ kind: "values", field: "source", values: [null, "Hill Farmer"] }],
  });
});

test("open evidence survives the address, and goes with it", () => {
  const what: Evidence = {
    title: "Ecology in Hill Farmer",
    colour: 2,
    comparison: ofDictionary(3, scope, { field: "source" }, 4),
    cell: { row: "Ecology", group: "Hill Farmer" },
  };
  const search = searchWithEvidence(new URLSearchParams("scope=x"), what);
  expect(compact(evidenceFromText(search.get("evidence")))).toEqual(compact(what));
  expect(searchWithEvidence(search, null).toString()).toBe("scope=x");
  expect(evidenceFromText('{"title": "no comparison"}')).toBeNull();
});

test("what is marked while reading follows from what is shown", () => {
  const lamb = { source: "lamb*", match_case: false, ignore_accents: false, forms_of: "", note: "" };
  const read = (what: Evidence | null) => JSON.parse(marked(what) ?? "null") as unknown;
  const terms = { kind: "terms", terms: [{ source: "lamb*" }] };
  expect(read({ title: "", comparison: ofTerms([lamb], []) })).toEqual({ target: terms });
  const category = { title: "", comparison: ofDictionary(3, [], {}, 4), cell: { row: "Ecology > Deer" } };
  expect(read(category)).toEqual({
    target: { kind: "dictionary", dictionary: 3, version: 4 },
    row: "Ecology > Deer",
  });
  expect(read(null)).toBeNull();
});

test("the hits of what is shown have an address of their own", () => {
  const what = { title: "Ecology", colour: 2, comparison: ofDictionary(3, []), cell: { row: "Ecology" } };
  const search = searchOf(new URLSearchParams("q=lamb&scope=x"), what);
  expect(search.get("q")).toBeNull();
  expect(search.get("scope")).toBe("x");
  expect(compact(evidenceFromText(search.get("of")))).toEqual(compact(what));
});

test("a change makes stale what depends on it and leaves the rest", () => {
  const terms = stale(7, "terms");
  expect(terms).toContainEqual(keys.of(7, "compare"));
  expect(terms).toContainEqual(keys.of(7, "summary"));
  expect(terms).not.toContainEqual(keys.of(7, "page"));
  expect(stale(7, "anything")).toEqual([keys.project(7)]);
});
