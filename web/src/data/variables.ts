import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schema } from "../api/client";
import { plural } from "../lib/numbers";
import { useToast } from "../parts/toast";
import { keyed, useAdding } from "./adding";
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

/** A value as the table holds it, of what somebody wrote for it. */
function shownAs(value: string | null, before: unknown): unknown {
  if (value === null || !Array.isArray(before)) return value;
  return value
    .split(";")
    .map((one) => one.trim())
    .filter(Boolean);
}

/** A line of the table with what was typed into it. */
export function withValue(line: Schema["TextLine"], field: string, value: string | null): Schema["TextLine"] {
  if (field === "title" || field === "source" || field === "date") return { ...line, [field]: value };
  return {
    ...line,
    values: { ...line.values, [field]: shownAs(value, line.values[field]) as string | null },
  };
}

/** Give one value to many texts. What is typed into one text of the table stands there at once. */
export function useSetValues() {
  const project_id = useProjectId();
  const client = useQueryClient();
  const { tell } = useToast();
  const change = useChange(
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
  const show = ({ ids, field, value, mode }: Schema["SetValues"]) => {
    const id = ids?.length === 1 && mode === "replace" ? ids[0] : null;
    if (id === null) return;
    client.setQueriesData<Schema["TextPage"]>(
      { queryKey: keys.of(project_id, "page") },
      (now) =>
        now && {
          ...now,
          rows: now.rows.map((line) => (line.id === id ? withValue(line, field, value ?? null) : line)),
        },
    );
  };
  return {
    ...change,
    mutate: (body: Schema["SetValues"], options?: Parameters<typeof change.mutate>[1]) => {
      show(body);
      change.mutate(body, options);
    },
  };
}

/** Make a set: by hand, of chosen texts, or by a rule. */
export function useMakeSet() {
  const project_id = useProjectId();
  const { tell } = useToast();
  return useAdding({
    line: "sets",
    label: (given: Schema["SetCreate"]) => given.name,
    send: (body, key) =>
      data(
        api.POST("/api/v1/projects/{project_id}/sets", {
          params: { path: { project_id } },
          body,
          ...keyed(key),
        }),
      ),
    done: (out, { name, rule, ids }) =>
      tell(
        rule
          ? `Set “${name}” made; it stays current as texts come and change.`
          : ids?.length === 0
            ? `Set “${name}” made. Drag texts onto it, or choose them and add them.`
            : `Set “${name}” made of ${plural(out.texts, "text")}.`,
      ),
    change: "values",
  });
}

/** Make a variable with a kind and no values yet. */
export function useMakeVariable() {
  const project_id = useProjectId();
  return useAdding({
    line: "variables",
    label: (given: Schema["VariableCreate"]) => given.name,
    send: (body, key) =>
      data(
        api.POST("/api/v1/projects/{project_id}/variables", {
          params: { path: { project_id } },
          body,
          ...keyed(key),
        }),
      ),
    change: "values",
  });
}
