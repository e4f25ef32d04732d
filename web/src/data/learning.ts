import { useQuery } from "@tanstack/react-query";
import { api, data, type Schema } from "../api/client";
import { keys } from "./keys";
import { useChange, useProjectId } from "./project";
import type { Recipe } from "./runs";

export type Learned = Schema["LearnedPublic"];
export type ThemeHead = Schema["ThemeHead"];
export type ThemePhrase = Schema["ThemePhrase"];

/** What is learned for a recipe. It is learned again when asked to, not under the keys of who answers. */
export function useLearned(recipe: Recipe | null, seed: number) {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.review(project_id, "learned", recipe, seed),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/runs/learn", {
          params: { path: { project_id } },
          body: { recipe: recipe!, next: 8, seed },
        }),
      ),
    enabled: recipe !== null,
    placeholderData: (before) => before,
    staleTime: 0,
    retry: false,
  });
}

/** Says whether words come under a code. */
export function useAnswer() {
  const project_id = useProjectId();
  return useChange(
    (body: Schema["AnswerGiven"]) =>
      data(
        api.POST("/api/v1/projects/{project_id}/runs/answers", { params: { path: { project_id } }, body }),
      ),
    undefined,
    "coding",
  );
}

/** Noun phrases of the texts of a scope. */
export function useThemes(scope: NonNullable<Recipe["scope"]>, split: Schema["Split"]) {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "themes", scope, split),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/runs/themes", {
          params: { path: { project_id } },
          body: { scope: [...scope], split },
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
}
