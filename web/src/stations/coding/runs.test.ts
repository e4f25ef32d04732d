// @vitest-environment jsdom
import { describe, expect, it } from "vitest";
import type { Schema } from "../../api/client";
import type { Passage } from "../../data/coding";
import { type RunItem, said } from "../../data/runs";
import { ALL_SHOWN, isShown } from "./marks";
import { type Draft, EMPTY, recipeOf } from "./rundraft";
import { usualNames } from "./runnames";
import { withVerdict } from "./runreview";

const DRAFT: Draft = { ...EMPTY, dictionary: 4, categories: [7] };

describe("a recipe", () => {
  it("is what was chosen, in the scope there is", () => {
    const scope = [{ kind: "values", field: "source", values: ["Hill Farmer"], exclude: false }] as const;
    const recipe = recipeOf(DRAFT, scope as unknown as Parameters<typeof recipeOf>[1]);
    expect(recipe?.finder).toEqual({ kind: "dictionary", dictionary: 4, categories: [7] });
    expect(recipe?.scope).toEqual(scope);
    expect(said(recipe!, "Frames")).toBe("the sentence around hits of Frames");
  });
  it("is none before it says enough", () => {
    expect(recipeOf({ ...DRAFT, dictionary: null }, [])).toBeNull();
    expect(recipeOf({ ...DRAFT, kind: "search" }, [])).toBeNull();
    expect(recipeOf({ ...DRAFT, unit: "words", around: "" }, [])).toBeNull();
    expect(recipeOf({ ...DRAFT, unit: "words", around: "501" }, [])).toBeNull();
    expect(recipeOf({ ...DRAFT, kind: "speakers", names: {} }, [])).toBeNull();
  });
  it("codes whole texts by values, and turns by who speaks", () => {
    expect(recipeOf({ ...DRAFT, kind: "values", field: "v3" }, [])?.unit).toBe("text");
    const under = {
      ...DRAFT,
      kind: "structure" as const,
      by: "heading" as const,
      level: 2,
      names: { A: "A" },
    };
    expect(recipeOf(under, [])?.finder).toEqual({
      kind: "structure",
      by: "heading",
      level: 2,
      labels: ["A"],
    });
    // only headings have levels
    expect(recipeOf({ ...under, by: "section" }, [])?.finder).toMatchObject({ by: "section", level: 0 });
    const speakers = recipeOf({ ...DRAFT, kind: "speakers", names: { Una: "Farmer" } }, []);
    expect(speakers?.finder).toEqual({
      kind: "speakers",
      pattern: "",
      names: [{ name: "Una", called: "Farmer" }],
    });
    expect(said(speakers!, "")).toBe("turns by who speaks");
  });
});

describe("names found", () => {
  const name = (one: string, more: Partial<Schema["RunName"]> = {}) => ({
    name: one,
    turns: 3,
    texts: 1,
    words: 30,
    field: false,
    like: null,
    ...more,
  });
  it("are proposed without fields, near spellings under the more frequent one", () => {
    const found = [
      name("Interviewer"),
      name("Age", { field: true }),
      name("Interveiwer", { like: "Interviewer" }),
    ];
    expect(usualNames(found)).toEqual({ Interviewer: "Interviewer", Interveiwer: "Interviewer" });
  });
});

describe("a verdict", () => {
  const page = { total: 2, start: 0, items: [{ id: -1 }, { id: -2 }] as RunItem[] };
  const of = (given: Parameters<typeof withVerdict>[2]) => withVerdict(page, -2, given).items[1];
  it("stands at its passage at once", () => {
    expect(of({ verdict: 1 })).toMatchObject({ mine: 1, verdict: 1 });
    expect(withVerdict(page, -2, { verdict: 1 }).items[0]).toEqual({ id: -1 });
  });
  it("is wrong with another code, right with wider words", () => {
    expect(of({ verdict: null, code_id: 5 })).toMatchObject({ verdict: 0 });
    expect(of({ verdict: null, widen: "sentence" })).toMatchObject({ verdict: 1 });
    expect(of({ verdict: null })).toMatchObject({ verdict: null });
  });
});

describe("marks of runs", () => {
  it("are shown and hidden apart from those of people", () => {
    const code = { colour: 2, technical: false } as Parameters<typeof isShown>[1];
    const run = { code_id: 3, coder: "Frames", mine: false, run_id: 4 } as Passage;
    const hand = { code_id: 3, coder: "Orla Venn", mine: false, run_id: null } as Passage;
    const shown = (whose: string) => [run, hand].map((one) => isShown(one, code, { ...ALL_SHOWN, whose }));
    expect(shown("")).toEqual([true, true]);
    expect(shown("by hand")).toEqual([false, true]);
    expect(shown("by runs")).toEqual([true, false]);
    expect(shown("Frames")).toEqual([true, false]);
  });
});
