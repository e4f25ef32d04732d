/** The search service for articles and studies. */
import { useQuery } from "@tanstack/react-query";
import { api, data, type Schema } from "../api/client";
import { keys } from "./keys";
import { useChange, useProjectId } from "./project";

export type ArticlesAsked = Schema["ArticlesAsked"];
export type ArticleLine = Schema["ArticleLine"];
export const ARTICLES_AT_ONCE = 50;

export function useArticles(asked: ArticlesAsked) {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "articles", asked),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/articles/search", {
          params: { path: { project_id } },
          body: asked,
        }),
      ),
    placeholderData: (before) => before,
  });
}

export function useArticle(record_id: string | null) {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "articles", "record", record_id),
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/articles/records/{record_id}", {
          params: { path: { project_id, record_id: record_id ?? "" } },
        }),
      ),
    enabled: record_id !== null,
  });
}

/** Records received like a file; the import shows what is new of them. */
export function useTakeArticles(done: (upload: Schema["UploadPublic"]) => void) {
  const project_id = useProjectId();
  return useChange(
    (ids: string[]) =>
      data(
        api.POST("/api/v1/projects/{project_id}/articles/take", {
          params: { path: { project_id } },
          body: { ids },
        }),
      ),
    done,
    "jobs",
  );
}
