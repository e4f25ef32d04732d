/** The assistant: asked, and what is taken of what it says. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schema } from "../api/client";
import { useToast } from "../parts/toast";
import { keys } from "./keys";
import { useChange, useProjectId, useScope } from "./project";

export type Task = Schema["AssistantAsked"]["task"];
export type Reply = Schema["AssistantReply"];
export type Proposal = Reply["proposals"][number];
export type Cited = Reply["passages"][number];
export type By = "rules" | "model";

export function useAboutAssistant() {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "assistant"),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/assistant", { params: { path: { project_id } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** Ask it something of the texts in scope; nothing in the project changes by that. */
export function useAsk() {
  const project_id = useProjectId();
  const { scope } = useScope();
  const params = { path: { project_id } };
  return {
    ask: useMutation({
      mutationFn: ({ task, by }: { task: Task; by: By }) =>
        data(
          api.POST("/api/v1/projects/{project_id}/assistant/ask", {
            params,
            body: { task, by, scope: [...scope] },
          }),
        ),
    }),
    sends: useMutation({
      mutationFn: (task: Task) =>
        data(
          api.POST("/api/v1/projects/{project_id}/assistant/sends", {
            params,
            body: { task, by: "model", scope: [...scope] },
          }),
        ),
    }),
  };
}

/** What is taken: a note, a code, a group, passages; each a change of its own that can be undone. */
export function useTaking() {
  const project_id = useProjectId();
  const { tell } = useToast();
  const params = { path: { project_id } };
  return {
    keep: useChange(
      (body: Schema["AssistantKept"]) =>
        data(api.POST("/api/v1/projects/{project_id}/assistant/keep", { params, body })),
      () => tell("Kept as a note."),
      "notes",
    ),
    group: useChange(
      (body: Schema["GroupCreate"]) =>
        data(api.POST("/api/v1/projects/{project_id}/codebook/groups", { params, body })),
      (made) => tell(`${made.label}. Undo takes it back.`),
      "groups of codes",
    ),
    code: useChange(
      ({ passage, code, name }: { passage: Cited; code: number | null; name: string }) =>
        data(
          api.POST("/api/v1/projects/{project_id}/texts/{text_id}/passages", {
            params: { path: { project_id, text_id: passage.text_id } },
            body: {
              start: passage.start,
              end: passage.end,
              words: passage.words,
              codes: code === null ? [] : [code],
              new: code === null ? newCode(name) : null,
            },
          }),
        ),
      undefined,
      "coding",
    ),
  };
}

export const newCode = (name: string): Schema["CodeCreate"] => ({ name, symbol: "", description: "" });
