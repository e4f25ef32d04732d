import type { Recipe } from "../../data/runs";

export type Kind = Recipe["finder"]["kind"] & string;
export type Part = "heading" | "section" | "page" | "item";

/** A word that is added to what is learned: it speaks for the code, or against it. */
export interface AddedWord {
  word: string;
  speaks: boolean;
}

/** A phrase that was ticked. */
export interface Ticked {
  called: string;
  forms: readonly string[];
}

/** What has been chosen for a run so far. */
export interface Draft {
  kind: Kind;
  /** Null for the first there is. */
  dictionary: number | null;
  /** None for all. */
  categories: readonly number[];
  query: string;
  field: string;
  unit: NonNullable<Recipe["unit"]>;
  around: string;
  /** How a turn begins, "" for the usual way. */
  pattern: string;
  by: Part;
  /** Of headings, 0 for those of every level. */
  level: number;
  /** Names chosen with what each is called; null before one was. */
  names: Readonly<Record<string, string>> | null;
  /** Codes whose passages are the examples. */
  codes: readonly number[];
  /** Null for the best one there is. */
  threshold: number | null;
  struck: readonly string[];
  added: readonly AddedWord[];
  alsoRead: boolean;
  /** By phrase the theme it comes under, and its forms in the texts. */
  themes: Readonly<Record<string, Ticked>>;
  /** The word list for tone, null for the one that ships. */
  tones: number | null;
  neutral: boolean;
}

export const EMPTY: Draft = {
  kind: "dictionary",
  dictionary: null,
  categories: [],
  query: "",
  field: "",
  unit: "sentence",
  around: "10",
  pattern: "",
  by: "heading",
  level: 0,
  names: null,
  codes: [],
  threshold: null,
  struck: [],
  added: [],
  alsoRead: false,
  themes: {},
  tones: null,
  neutral: false,
};

/** What a finder codes where the unit is not to be chosen. */
const UNIT_OF: Partial<Record<Kind, Draft["unit"]>> = {
  values: "text",
  speakers: "paragraph",
  structure: "paragraph",
  tone: "sentence",
};

/** The recipe that a draft says, null where it does not say one yet. */
export function recipeOf(draft: Draft, scope: NonNullable<Recipe["scope"]>): Recipe | null {
  const around = Number(draft.around);
  if (draft.unit === "words" && !(around >= 1 && around <= 500)) return null;
  const finder = finderOf(draft);
  return (
    finder && {
      finder,
      unit: UNIT_OF[draft.kind] ?? draft.unit,
      around: around >= 1 ? around : 10,
      scope: [...scope],
      version: 1,
    }
  );
}

/** The recipe a code is learned by, whatever threshold is chosen. */
export function lessonOf(draft: Draft, scope: NonNullable<Recipe["scope"]>): Recipe | null {
  return draft.codes.length ? recipeOf({ ...draft, threshold: 0.5 }, scope) : null;
}

function finderOf(draft: Draft): Recipe["finder"] | null {
  const { kind, dictionary, query, field, pattern, by } = draft;
  switch (kind) {
    case "dictionary":
      return dictionary === null ? null : { kind, dictionary, categories: [...draft.categories] };
    case "search":
      return query ? { kind, query } : null;
    case "values":
      return field ? { kind, field, values: [] } : null;
    case "example":
      return byExample(draft);
    case "themes":
      return byThemes(draft);
    case "tone":
      return {
        kind,
        words: draft.tones,
        bands: draft.neutral
          ? ["strongly negative", "negative", "neutral", "positive", "strongly positive"]
          : ["strongly negative", "negative", "positive", "strongly positive"],
      };
    default: {
      const names = Object.entries(draft.names ?? {});
      if (!names.length) return null;
      return kind === "speakers"
        ? { kind, pattern, names: names.map(([name, called]) => ({ name, called })) }
        : { kind, by, level: by === "heading" ? draft.level : 0, labels: names.map(([name]) => name) };
    }
  }
}

function byExample(draft: Draft): Recipe["finder"] | null {
  if (!draft.codes.length || draft.threshold === null) return null;
  return {
    kind: "example",
    codes: [...draft.codes],
    threshold: draft.threshold,
    struck: [...draft.struck],
    added: draft.added.map((one) => ({ ...one })),
    also_read: draft.alsoRead,
    seed: 1,
  };
}

function byThemes(draft: Draft): Recipe["finder"] | null {
  const themes = new Map<string, string[]>();
  for (const [phrase, { called, forms }] of Object.entries(draft.themes)) {
    const name = called.trim() || phrase;
    themes.set(name, [...(themes.get(name) ?? []), ...forms]);
  }
  if (!themes.size) return null;
  return {
    kind: "themes",
    themes: [...themes].map(([name, phrases]) => ({ name, phrases })),
  };
}
