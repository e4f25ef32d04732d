/** Answers beside comparisons: keywords, co-occurrence, networks, maps, changes; findings and events. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schema } from "../api/client";
import { date } from "../lib/numbers";
import { useToast } from "../parts/toast";
import { keyed, useAdding } from "./adding";
import type { Comparison } from "./comparison";
import { keys } from "./keys";
import { useChange, useProjectId, useRefresh, useSummary } from "./project";

export type Keywords = Schema["Keywords"];
export type KeywordsPage = Schema["KeywordsPage"];
export type KeywordsRequest = Schema["KeywordsRequest"];
export type Together = Schema["Together"];
export type Matrix = Schema["MatrixPublic"];
export type Network = Schema["Network"];
export type NetworkAnswer = Schema["NetworkPublic"];
export type MapAnswer = Schema["MapPublic"];
export type Changes = Schema["ChangesPublic"];
export type EventInTime = Schema["EventPublic"];
export type Finding = Schema["FindingPublic"];
export type FindingAnswer = Schema["FindingAnswer"];
export type AnyView = Schema["FindingGiven"]["view"];
export type Sheet = Schema["SheetPublic"];

/** The state of texts, values and coding that an answer is asked of. */
export function useAskedOf() {
  const summary = useSummary().data;
  return [summary?.revision, summary?.coding] as const;
}

export function useKeywords(request: KeywordsRequest | null) {
  const project_id = useProjectId();
  const state = useAskedOf();
  return useQuery({
    queryKey: keys.of(project_id, "answers", ...state, "keywords", request),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/keywords", {
          params: { path: { project_id } },
          body: request!,
        }),
      ),
    enabled: request !== null,
    placeholderData: (before) => before,
    retry: false,
  });
}

export function useTogether(asked: Together | null) {
  const project_id = useProjectId();
  const state = useAskedOf();
  return useQuery({
    queryKey: keys.of(project_id, "answers", ...state, "together", asked),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/together", {
          params: { path: { project_id } },
          body: asked!,
        }),
      ),
    enabled: asked !== null,
    placeholderData: (before) => before,
    retry: false,
  });
}

export function useNetwork(asked: Network) {
  const project_id = useProjectId();
  const state = useAskedOf();
  return useQuery({
    queryKey: keys.of(project_id, "answers", ...state, "network", asked),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/network", { params: { path: { project_id } }, body: asked }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
}

export function useMap(comparison: Comparison) {
  const project_id = useProjectId();
  const state = useAskedOf();
  return useQuery({
    queryKey: keys.of(project_id, "answers", ...state, "map", comparison),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/compare/map", {
          params: { path: { project_id } },
          body: comparison,
        }),
      ),
    retry: false,
  });
}

export function useChangesOver(comparison: Comparison, window: number, enabled: boolean) {
  const project_id = useProjectId();
  const state = useAskedOf();
  return useQuery({
    queryKey: keys.of(project_id, "answers", ...state, "changes", comparison, window),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/compare/changes", {
          params: { path: { project_id } },
          body: { view: "changes", comparison, window },
        }),
      ),
    enabled,
    placeholderData: (before) => before,
    retry: false,
  });
}

export function useEvents() {
  const project_id = useProjectId();
  const found = useQuery({
    queryKey: keys.of(project_id, "events in time"),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/events-in-time", { params: { path: { project_id } } })),
  });
  return found.data ?? [];
}

export function useEventChanges() {
  const project_id = useProjectId();
  const make = useAdding({
    line: "events",
    label: (body: Schema["EventGiven"]) => `${date(body.day)} ${body.name}`,
    send: (body, key) =>
      data(
        api.POST("/api/v1/projects/{project_id}/events-in-time", {
          params: { path: { project_id } },
          body,
          ...keyed(key),
        }),
      ),
    change: "events in time",
  });
  const change = useChange(
    ({ id, ...body }: Schema["EventChange"] & { id: number }) =>
      data(
        api.PATCH("/api/v1/projects/{project_id}/events-in-time/{event_id}", {
          params: { path: { project_id, event_id: id } },
          body,
        }),
      ),
    undefined,
    "events in time",
  );
  const remove = useChange(
    (event: EventInTime) =>
      data(
        api.DELETE("/api/v1/projects/{project_id}/events-in-time/{event_id}", {
          params: { path: { project_id, event_id: event.id }, query: { revision: event.revision } },
        }),
      ),
    undefined,
    "events in time",
  );
  return { make, change, remove };
}

export function useFindings() {
  const project_id = useProjectId();
  const state = useAskedOf();
  return useQuery({
    queryKey: keys.of(project_id, "findings", ...state),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/findings", { params: { path: { project_id } } })),
    placeholderData: (before) => before,
  });
}

export function useFinding(finding_id: number) {
  const project_id = useProjectId();
  const state = useAskedOf();
  return useQuery({
    queryKey: keys.of(project_id, "findings", ...state, finding_id),
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/findings/{finding_id}", {
          params: { path: { project_id, finding_id } },
        }),
      ),
    placeholderData: (before) => (before?.finding.id === finding_id ? before : undefined),
    retry: false,
  });
}

/** Whether an answer is the list of findings, not one of them. */
function isList(answer: unknown): boolean {
  return typeof answer === "object" && answer !== null && "findings" in answer;
}

export function useFindingChanges() {
  const project_id = useProjectId();
  const path = (finding_id: number) => ({ params: { path: { project_id, finding_id } } });
  const keep = useAdding({
    line: "findings",
    label: (body: Schema["FindingGiven"]) => body.title,
    send: (body, key) =>
      data(
        api.POST("/api/v1/projects/{project_id}/findings", {
          params: { path: { project_id } },
          body,
          ...keyed(key),
        }),
      ),
    change: "findings",
  });
  const change = useChange(
    ({ id, ...body }: Schema["FindingChange"] & { id: number }) =>
      data(api.PATCH("/api/v1/projects/{project_id}/findings/{finding_id}", { ...path(id), body })),
    undefined,
    "findings",
  );
  const remove = useChange(
    (finding: Finding) =>
      data(
        api.DELETE("/api/v1/projects/{project_id}/findings/{finding_id}", {
          params: { path: { project_id, finding_id: finding.id }, query: { revision: finding.revision } },
        }),
      ),
    undefined,
    "findings",
  );
  const say = useChange(
    (id: number) => data(api.POST("/api/v1/projects/{project_id}/findings/{finding_id}/say", path(id))),
    undefined,
    "findings",
  );
  const client = useQueryClient();
  const refresh = useRefresh("findings");
  const { fail } = useToast();
  const order = useMutation({
    mutationFn: (body: Schema["FindingOrder"]) =>
      data(
        api.PUT("/api/v1/projects/{project_id}/findings/order", { params: { path: { project_id } }, body }),
      ),
    // the new order stands at once: the next move is made on it, and sent behind this one
    onMutate: ({ findings }) => {
      const place = new Map(findings.map((one, at) => [one.id, at]));
      client.setQueriesData<Schema["FindingsPublic"]>(
        { queryKey: keys.of(project_id, "findings"), predicate: ({ state }) => isList(state.data) },
        (now) =>
          now && {
            ...now,
            findings: [...now.findings].sort((a, b) => (place.get(a.id) ?? 0) - (place.get(b.id) ?? 0)),
          },
      );
    },
    onError: (error) => fail(error),
    onSettled: () => refresh(),
    scope: { id: `order of findings ${project_id}` },
  });
  const ask = useAdding({
    line: "questions of findings",
    label: (words: string) => words,
    send: (words, key) =>
      data(
        api.POST("/api/v1/projects/{project_id}/finding-questions", {
          params: { path: { project_id } },
          body: { words },
          ...keyed(key),
        }),
      ),
    change: "findings",
  });
  const forget = useChange(
    ({ id, revision }: Schema["FindingQuestionPublic"]) =>
      data(
        api.DELETE("/api/v1/projects/{project_id}/finding-questions/{question_id}", {
          params: { path: { project_id, question_id: id }, query: { revision } },
        }),
      ),
    undefined,
    "findings",
  );
  const reword = useChange(
    ({ id, words, revision }: { id: number; words: string; revision: number }) =>
      data(
        api.PATCH("/api/v1/projects/{project_id}/finding-questions/{question_id}", {
          params: { path: { project_id, question_id: id } },
          body: { words, revision },
        }),
      ),
    undefined,
    "findings",
  );
  return { keep, change, remove, say, order, ask, forget, reword };
}
