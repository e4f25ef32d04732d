import type { Schema } from "../api/client";

export type TermOptions = Schema["TermOptions"];

/** A term as the server takes it. */
export function term(source: string, options: Partial<TermOptions> = {}): TermOptions {
  return { source, match_case: false, ignore_accents: false, forms_of: "", note: "", ...options };
}

/** A stored term as it is asked for. */
export function termOf(
  row: Pick<TermOptions, "source" | "match_case" | "ignore_accents" | "forms_of">,
): TermOptions {
  return term(row.source, {
    match_case: row.match_case,
    ignore_accents: row.ignore_accents,
    forms_of: row.forms_of,
  });
}

/** What the options of a term say, in words. */
export function optionWords(one: Pick<TermOptions, "match_case" | "ignore_accents" | "forms_of">): string {
  return [
    one.match_case ? "exact case" : "",
    one.ignore_accents ? "accents ignored" : "",
    one.forms_of ? "all forms" : "",
  ]
    .filter(Boolean)
    .join(", ");
}

const LANGUAGES = new Intl.DisplayNames(["en"], { type: "language" });

/** A language code as people call the language. */
export function languageName(code: string): string {
  if (code === "none") return "No language";
  try {
    return LANGUAGES.of(code) ?? code;
  } catch {
    return code;
  }
}
