/** Comparisons as values: made, kept in the address of the page, and opened as evidence. */
import type { Condition, Schema } from "../api/client";

export type Comparison = Schema["Comparison"];
export type Target = Comparison["target"];
export type Split = Schema["Split"];
export type Table = Schema["TablePublic"];
export type TableRow = Table["rows"][number];
export type TableCell = TableRow["cells"][number];
export type Measure = Schema["MeasurePublic"];
type TermOptions = Schema["TermOptions"];

/** What the evidence panel shows: a title for people, and the cell of a comparison behind the number. */
export interface Evidence {
  title: string;
  colour?: number;
  comparison: Comparison;
  cell?: Schema["Cell"];
  company?: 0 | 1;
  /** A cell of co-occurrence: the passages of both, where they are together. */
  pair?: { asked: Schema["Together"]; row: string; column: string };
  /** A topic of a network: the passages with two of its words or more. */
  topic?: { asked: Schema["Network"]; words: string[] };
}

function of(target: Target, scope: readonly Condition[], split: Split = {}): Comparison {
  return {
    target,
    scope: [...scope],
    split,
    measure: "rate",
    level: 0.95,
    seed: 1,
    unit: null,
    adjust: [],
    form: 1,
  };
}

/** The categories of a dictionary, at a version or as it is now. */
export function ofDictionary(
  dictionary: number,
  scope: readonly Condition[],
  split?: Split,
  version?: number | null,
): Comparison {
  return of({ kind: "dictionary", dictionary, version: version ?? null, fingerprint: null }, scope, split);
}

/** The codes of the codebook. */
export function ofCodes(scope: readonly Condition[], split?: Split): Comparison {
  return {
    ...of({ kind: "codes", coders: [], counted: "passages", revision: null }, scope, split),
    measure: "share_of_texts",
  };
}

/** Terms, each a row. */
export function ofTerms(
  terms: readonly TermOptions[],
  scope: readonly Condition[],
  split?: Split,
): Comparison {
  return of({ kind: "terms", terms: [...terms] }, scope, split);
}

/** Words as the index has them, each a row. */
export function ofWords(
  asked: Omit<Extract<Target, { kind: "words" }>, "kind">,
  scope: readonly Condition[],
  split?: Split,
): Comparison {
  return of({ kind: "words", ...asked }, scope, split);
}

/** A search over whole texts. */
export function ofSearch(query: string, scope: readonly Condition[], split?: Split): Comparison {
  return of({ kind: "search", query }, scope, split);
}

/** The plain form without what is understood by itself, short enough for an address. */
export function compact(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(compact);
  if (value === null || typeof value !== "object") return value;
  const kept = Object.entries(value)
    .filter(([name, one]) => !isUsual(name, one))
    .map(([name, one]) => [name, compact(one)] as const);
  return Object.fromEntries(kept);
}

const USUAL: Record<string, unknown> = {
  measure: "rate",
  level: 0.95,
  seed: 1,
  form: 1,
  counting: "hits",
  per: 1000,
};

function isUsual(name: string, value: unknown): boolean {
  if (value === null || value === undefined || value === false || value === "") return true;
  if (Array.isArray(value)) return value.length === 0;
  if (typeof value === "object") return Object.keys(compact(value) as object).length === 0;
  return USUAL[name] === value;
}

const COMPARE = "compare";
const EVIDENCE = "evidence";

/** The comparison of a page from its address, in the scope of the page; what is missing is ``usual``. */
export function comparisonFromSearch(
  search: URLSearchParams,
  scope: readonly Condition[],
  usual: Comparison,
): Comparison {
  const found = parsed(search.get(COMPARE));
  return { ...usual, ...(found ?? {}), scope: [...scope] } as Comparison;
}

/** The address with a comparison; the scope has its own place there. */
export function searchWithComparison(search: URLSearchParams, comparison: Comparison): URLSearchParams {
  const { scope: _, ...rest } = comparison;
  const next = new URLSearchParams(search);
  next.set(COMPARE, JSON.stringify(compact(rest)));
  return next;
}

/** The open evidence from the address. */
export function evidenceFromText(written: string | null): Evidence | null {
  const found = parsed(written) as Partial<Evidence> | null;
  if (!found?.comparison?.target || typeof found.title !== "string") return null;
  return found as Evidence;
}

export function searchWithEvidence(search: URLSearchParams, what: Evidence | null): URLSearchParams {
  const next = new URLSearchParams(search);
  if (what) next.set(EVIDENCE, JSON.stringify(compact(what)));
  else next.delete(EVIDENCE);
  return next;
}

/** The address of a view of hits that shows those of ``what`` alone. */
export function searchOf(search: URLSearchParams, what: Evidence): URLSearchParams {
  const next = new URLSearchParams(search);
  for (const key of ["q", "order"]) next.delete(key);
  next.set("of", JSON.stringify(compact(what)));
  return next;
}

function parsed(written: string | null): Record<string, unknown> | null {
  if (!written) return null;
  try {
    const found: unknown = JSON.parse(written);
    return found !== null && typeof found === "object" ? (found as Record<string, unknown>) : null;
  } catch {
    return null;
  }
}

/** What the reading view marks of the open evidence, as the server takes it: a target and one of its rows. */
export function marked(what: Evidence | null): string | null {
  if (!what) return null;
  return JSON.stringify(compact({ target: what.comparison.target, row: what.cell?.row }));
}
