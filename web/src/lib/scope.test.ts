import { expect, test } from "vitest";
import type { Condition } from "../api/client";
import { along, carried, conditionLabel, scopeFromSearch, searchWithScope } from "./scope";

const scope: Condition[] = [{ kind: "values", field: "source", values: ["Hill Farmer"], exclude: false }];

test("a scope survives the address of the page", () => {
  const search = searchWithScope(new URLSearchParams("by=source"), scope);
  expect(scopeFromSearch(new URLSearchParams(search.toString()))).toEqual(scope);
  expect(searchWithScope(search, []).toString()).toBe("by=source");
});

test("a damaged address gives an empty scope", () => {
  expect(scopeFromSearch(new URLSearchParams("scope=%7Bbroken"))).toEqual([]);
});

test("conditions are put in words", () => {
  expect(conditionLabel(scope[0]!, [])).toBe("Hill Farmer");
  expect(
    conditionLabel({ kind: "dates", field: "date", low: "2031-03-01", high: null, exclude: false }, []),
  ).toBe("1 Mar 2031 to end");
  expect(conditionLabel({ kind: "terms", terms: ["lamb*"], exclude: true }, [])).toBe("without “lamb*”");
});

test("scope and open evidence go along to the next view, the rest stays behind", () => {
  const search = new URLSearchParams({ scope: "[]", evidence: "{}", draw: "table", paragraph: "3" });
  expect(carried(`?${search}`).toString()).toBe(
    new URLSearchParams({ scope: "[]", evidence: "{}" }).toString(),
  );
});

test("whatever else is said in an address, the scope goes along", () => {
  const scope = JSON.stringify([{ kind: "values", field: "source", values: ["Hill Farmer"] }]);
  const search = `?${new URLSearchParams({ scope, sort: "title" })}`;
  const next = new URLSearchParams(along(search, { paragraph: 4 }));
  expect(Object.fromEntries(next)).toEqual({ scope, paragraph: "4" });
  expect(along("", {})).toBe("");
});
