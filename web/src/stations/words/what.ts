import { useQuery } from "@tanstack/react-query";
import { api, data, type Schema } from "../../api/client";
import { useAddress, useProjectId } from "../../shell/project";

/** The category that a view shows the hits of, from the address. */
export function useCategoryShown() {
  const project_id = useProjectId();
  const [written, setCategory] = useAddress("hits-of", "");
  const [dictionary_id, category_id] = written.split(".").map(Number);
  const tree = useQuery({
    queryKey: ["project", project_id, "dictionary", dictionary_id],
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}", {
          params: { path: { project_id, dictionary_id: dictionary_id! } },
        }),
      ),
    enabled: Boolean(dictionary_id),
  });
  const category = tree.data?.categories.find((one) => one.id === category_id);
  return { dictionary_id, category, setCategory, asked: Boolean(written) };
}

/** What a concordance or its company is asked for: a category, else a search. */
export type Asked = Pick<Schema["EvidenceRequest"], "dictionary_id" | "category_id" | "query" | "terms">;

export function askedFor(
  query: string,
  dictionary_id: number | undefined,
  category_id: number | undefined,
): Asked | null {
  if (dictionary_id && category_id) return { dictionary_id, category_id, terms: [] };
  return query.trim() ? { query: query.trim(), terms: [] } : null;
}
