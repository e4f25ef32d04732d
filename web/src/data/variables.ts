import { useQuery } from "@tanstack/react-query";
import { api, data, type Schema } from "../api/client";
import { plural } from "../lib/numbers";
import { useToast } from "../parts/toast";
import { keys } from "./keys";
import { useChange, useProjectId, useSummary } from "./project";

type Variable = Schema["VariablePublic"];

/** What is dragged from the table of texts: a request that names them. */
export const DRAGGED_TEXTS = "application/x-winnower-texts";

/** All variables with their values, the group and the sets among them. */
export function useVariables(): readonly Variable[] {
  const project_id = useProjectId();
  const revision = useSummary().data?.revision;
  const found = useQuery({
    queryKey: keys.of(project_id, "variables", revision),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/variables", { params: { path: { project_id } } })),
    enabled: revision !== undefined,
    placeholderData: (before) => before,
  });
  return found.data ?? [];
}

/** Give one value to many texts. */
export function useSetValues() {
  const project_id = useProjectId();
  const { tell } = useToast();
  return useChange(
    (body: Schema["SetValues"]) =>
      data(
        api.POST("/api/v1/projects/{project_id}/texts/values", { params: { path: { project_id } }, body }),
      ),
    (out) =>
      tell(
        out.texts
          ? `${out.label}: ${plural(out.texts, "text")} changed.`
          : "Nothing to change: the texts have this value already.",
      ),
    "values",
  );
}
