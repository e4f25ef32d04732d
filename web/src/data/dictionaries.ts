import { useQuery } from "@tanstack/react-query";
import { api, data, ProblemError, type Schema } from "../api/client";
import { plural } from "../lib/numbers";
import type { TermOptions } from "../lib/terms";
import { keyed, useAdding } from "./adding";
import { keys } from "./keys";
import { useProjectId } from "./project";

/** All dictionaries of the project. */
export function useDictionaries() {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "dictionaries"),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/dictionaries", { params: { path: { project_id } } })),
  });
}

/** A dictionary with its categories and terms. */
export function useDictionary(dictionary_id: number | undefined) {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "dictionary", dictionary_id),
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}", {
          params: { path: { project_id, dictionary_id: dictionary_id ?? 0 } },
        }),
      ),
    enabled: Boolean(dictionary_id),
  });
}

/** Make an empty dictionary. */
export function useMakeDictionary(onMade: (id: number) => void) {
  const project_id = useProjectId();
  return useAdding({
    line: "dictionaries",
    label: (name: string) => name,
    send: (name, key) =>
      data(
        api.POST("/api/v1/projects/{project_id}/dictionaries", {
          params: { path: { project_id } },
          body: { name },
          ...keyed(key),
        }),
      ),
    done: (made) => onMade(made.id),
    change: "terms",
  });
}

/** Add terms to a category; a single one that cannot be read is refused with its reason. */
export function useAddTerms(
  dictionary_id: number,
  category_id: number,
  done: (out: Schema["TermsAdded"], terms: readonly TermOptions[]) => void,
) {
  const project_id = useProjectId();
  return useAdding({
    line: `terms of ${category_id}`,
    label: (terms: readonly TermOptions[]) =>
      terms.length === 1 ? terms[0]!.source : `${plural(terms.length, "term")}: ${terms[0]!.source}, …`,
    send: async (terms, key) => {
      const out = await data(
        api.POST(
          "/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories/{category_id}/terms",
          {
            params: { path: { project_id, dictionary_id, category_id } },
            body: { terms: [...terms] },
            ...keyed(key),
          },
        ),
      );
      if (terms.length === 1 && out.refused.length) throw new ProblemError(out.refused[0]!.reason, 422);
      return out;
    },
    done,
    change: "terms",
  });
}
