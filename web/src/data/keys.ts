/** The names under which answers of the server are kept, and what each change makes stale. */
import type { QueryKey } from "@tanstack/react-query";

/** Everything that is asked of a project. A new kind of answer is a name here. */
export type Resource =
  | "all categories"
  | "answers"
  | "around"
  | "articles"
  | "assistant"
  | "beside"
  | "calendar"
  | "care"
  | "code counts"
  | "groups of codes"
  | "code versions"
  | "codebook"
  | "check"
  | "company"
  | "compare"
  | "data preview"
  | "counts"
  | "deliveries"
  | "dictionaries"
  | "dictionary"
  | "differences"
  | "events in time"
  | "evidence"
  | "expected"
  | "fields"
  | "fill"
  | "findings"
  | "found passages"
  | "goto"
  | "jobs"
  | "lines"
  | "lost passages"
  | "neighbours"
  | "notes"
  | "offers"
  | "page"
  | "paraphrases"
  | "passages"
  | "preference"
  | "preview"
  | "profile"
  | "progress"
  | "quality"
  | "reports"
  | "questions"
  | "run names"
  | "run preview"
  | "runs"
  | "samples"
  | "scope"
  | "search"
  | "sides"
  | "subcorpora"
  | "suggestions"
  | "summary"
  | "term fields"
  | "text"
  | "themes"
  | "tone lists"
  | "try"
  | "try rule"
  | "values"
  | "variables"
  | "versions"
  | "widen"
  | "words";

export const keys = {
  sessions: ["sessions"] as const,
  me: ["me"] as const,
  start: ["start"] as const,
  projects: ["projects"] as const,
  measures: ["measures"] as const,
  help: (topic: string) => ["help", topic] as const,
  /** Samples and verdicts under judgement: not among what a change of the project reads again, since places
   * must not move under the keys of who judges. */
  review: (project: number, ...asked: readonly unknown[]): QueryKey => ["review", project, ...asked],
  project: (project: number) => ["project", project] as const,
  of: (project: number, resource: Resource, ...asked: readonly unknown[]): QueryKey => [
    "project",
    project,
    resource,
    ...asked,
  ],
};

const DICTIONARY: readonly Resource[] = [
  "all categories",
  "data preview",
  "answers",
  "findings",
  "reports",
  "care",
  "compare",
  "counts",
  "dictionaries",
  "dictionary",
  "evidence",
  "fields",
  "goto",
  "lines",
  "neighbours",
  "company",
  "profile",
  "quality",
  "sides",
  "suggestions",
  "variables",
  "versions",
];

/**
 * What a change makes stale, beside the summary, which tells the header and whether texts or values are
 * others now. Answers that carry the revision of texts and values in their key need not be named for those.
 */
const STALE = {
  terms: DICTIONARY,
  versions: ["dictionaries", "dictionary", "versions", "compare", "sides", "findings", "reports"],
  findings: ["findings", "goto", "reports"],
  reports: ["reports"],
  "events in time": ["events in time"],
  verdicts: ["quality", "samples", "reports"],
  coding: [
    "codebook",
    "code counts",
    "passages",
    "found passages",
    "data preview",
    "fields",
    "paraphrases",
    "progress",
    "code versions",
    "groups of codes",
    "runs",
    "themes",
    "findings",
    "reports",
  ],
  "groups of codes": ["groups of codes", "code versions", "codebook"],
  "lost passages": ["lost passages", "passages", "found passages", "codebook", "code counts"],
  paraphrases: ["paraphrases"],
  progress: ["progress"],
  questions: ["questions"],
  "word lists": ["words", "company", "suggestions", "offers", "answers", "findings", "reports"],
  notes: ["notes", "beside", "reports"],
  values: [
    "variables",
    "fields",
    "values",
    "page",
    "text",
    "beside",
    "around",
    "check",
    "goto",
    "subcorpora",
  ],
  subcorpora: ["subcorpora", "fields", "variables", "goto", "scope"],
  jobs: ["jobs", "deliveries", "check", "care", "runs"],
  preferences: ["preference"],
  "tone lists": ["tone lists", "run preview", "runs", "data preview"],
} satisfies Record<string, readonly Resource[]>;

/** Whether an answer was asked for by codes, in its scope, its split or as what is counted. */
export function asksForCodes(key: QueryKey): boolean {
  return /"(codes|coders|passages|inside|run)"/.test(JSON.stringify(key.slice(3)));
}

/** A kind of change; "anything" reads the whole project again: deliveries, corrections, undo and redo. */
export type Change = keyof typeof STALE | "anything";

/** The keys that a change makes stale. */
export function stale(project: number, change: Change): readonly QueryKey[] {
  if (change === "anything") return [keys.project(project)];
  const resources: readonly Resource[] = STALE[change];
  return ["summary" as const, ...resources].map((resource) => keys.of(project, resource));
}
