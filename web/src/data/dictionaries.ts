import { useQuery } from "@tanstack/react-query";
import { api, data } from "../api/client";
import { keys } from "./keys";
import { useChange, useProjectId } from "./project";

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
  return useChange(
    (name: string) =>
      data(
        api.POST("/api/v1/projects/{project_id}/dictionaries", {
          params: { path: { project_id } },
          body: { name },
        }),
      ),
    (made) => onMade(made.id),
    "terms",
  );
}
