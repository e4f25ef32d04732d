import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schema } from "../api/client";
import { keys } from "./keys";
import { useChange, useProjectId, useSummary } from "./project";

export type RunLine = Schema["RunLine"];
export type Run = Schema["RunPublic"];
export type RunItem = Schema["RunItem"];
export type Recipe = Schema["Recipe"];
export type RunAsked = Omit<Schema["RunItemsRequest"], "start" | "most">;
export const PAGE = 40;

/** All runs, the newest first. */
export function useRuns() {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "runs"),
    queryFn: () => data(api.GET("/api/v1/projects/{project_id}/runs", { params: { path: { project_id } } })),
  });
}

/** One run with what came of it. */
export function useRun(run_id: number) {
  const project_id = useProjectId();
  const coding = useSummary().data?.coding;
  return useQuery({
    queryKey: keys.of(project_id, "runs", run_id, coding),
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/runs/{run_id}", { params: { path: { project_id, run_id } } }),
      ),
    placeholderData: (before) => (before?.id === run_id ? before : undefined),
  });
}

/** What a recipe would find. */
export function useRunPreview(recipe: Recipe | null, split: Schema["Split"], seed: number) {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "run preview", recipe, split, seed),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/runs/preview", {
          params: { path: { project_id } },
          body: { recipe: recipe!, split, seed, sample: 12 },
        }),
      ),
    enabled: recipe !== null,
    placeholderData: (before) => before,
    retry: false,
  });
}

/** Who speaks in the texts of the scope, or what their parts are called. */
export function useRunNames(
  by: Schema["RunNamesRequest"]["by"] & string,
  pattern: string,
  scope: NonNullable<Recipe["scope"]>,
  wanted: boolean,
  level = 0,
) {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "run names", by, level, pattern, scope),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/runs/names", {
          params: { path: { project_id } },
          body: { by, level, pattern, scope: [...scope] },
        }),
      ),
    enabled: wanted,
    placeholderData: (before) => before,
    retry: false,
  });
}

/** Passages of a run to look at. They are not read again under the keys of who judges them. */
export function useRunItems(run_id: number, asked: RunAsked, start: number) {
  const project_id = useProjectId();
  const key = keys.review(project_id, "run", run_id, asked, start);
  const found = useQuery({
    queryKey: key,
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/runs/{run_id}/passages", {
          params: { path: { project_id, run_id } },
          body: { ...asked, start, most: PAGE },
        }),
      ),
    staleTime: 0,
  });
  return { ...found, key };
}

/** Changes of runs. */
export function useRunChanges(run_id: number) {
  const project_id = useProjectId();
  const client = useQueryClient();
  const path = { params: { path: { project_id, run_id } } };
  const again = () => client.invalidateQueries({ queryKey: keys.review(project_id, "run", run_id) });
  return {
    judge: useChange(
      (body: Schema["RunJudge"]) =>
        data(api.POST("/api/v1/projects/{project_id}/runs/{run_id}/judge", { ...path, body })),
      undefined,
      "coding",
    ),
    judgeAll: useChange(
      (body: Schema["RunJudgeAll"]) =>
        data(api.POST("/api/v1/projects/{project_id}/runs/{run_id}/judge-all", { ...path, body })),
      again,
      "coding",
    ),
    change: useChange(
      (body: Schema["RunUpdate"]) =>
        data(api.PATCH("/api/v1/projects/{project_id}/runs/{run_id}", { ...path, body })),
      undefined,
      "coding",
    ),
    remove: useChange(
      (revision: number) =>
        data(
          api.DELETE("/api/v1/projects/{project_id}/runs/{run_id}", {
            params: { path: { project_id, run_id }, query: { revision } },
          }),
        ),
      undefined,
      "coding",
    ),
    step: useChange(
      () => data(api.POST("/api/v1/projects/{project_id}/runs/{run_id}/step", path)),
      undefined,
      "jobs",
    ),
    again,
  };
}

export const UNITS: readonly { value: NonNullable<Recipe["unit"]>; label: string }[] = [
  { value: "sentence", label: "the sentence" },
  { value: "paragraph", label: "the paragraph" },
  { value: "text", label: "the whole text" },
  { value: "hit", label: "the hit alone" },
  { value: "words", label: "some words" },
];

/** A recipe as a sentence. */
export function said(recipe: Recipe, instrument: string): string {
  const { finder } = recipe;
  if (finder.kind === "tone") return `sentences by their tone, by ${instrument}`;
  if (finder.kind === "themes")
    return finder.themes.length === 1
      ? "one theme of the texts"
      : `${finder.themes.length} themes of the texts`;
  if (finder.kind === "example")
    return `${UNITS.find((one) => one.value === recipe.unit)?.label ?? recipe.unit} like ${instrument}, from ${finder.threshold.toFixed(2)} on`;
  if (finder.kind === "speakers") return "turns by who speaks";
  if (finder.kind === "structure")
    return finder.by === "item"
      ? "items of lists by their marks"
      : `${finder.by}s${finder.level ? ` of level ${finder.level}` : ""} by what they are called`;
  if (finder.kind === "values") return `whole texts by their values of ${instrument}`;
  const unit = UNITS.find((one) => one.value === recipe.unit)?.label ?? recipe.unit;
  const around =
    recipe.unit === "words"
      ? `${recipe.around} words on each side of`
      : recipe.unit === "hit"
        ? "just the"
        : `${unit} around`;
  return `${around} hits of ${finder.kind === "search" ? finder.query : instrument}`;
}

/** Whether what a run found has a score: a tone, or a probability. */
export function isScored(recipe: Recipe): boolean {
  return recipe.finder.kind === "tone" || recipe.finder.kind === "example";
}

export const STATES: Record<RunLine["state"], string> = {
  making: "being made",
  proposals: "proposals",
  applied: "applied",
  "taken back": "taken back",
};
