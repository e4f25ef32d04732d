import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo } from "react";
import { useLocation, useParams, useSearchParams } from "react-router";
import { api, type Condition, data, ProblemError, type Schema } from "../api/client";
import { scopeFromSearch, searchWithScope } from "../lib/scope";
import { usualSplit } from "../lib/split";
import { useToast } from "../parts/toast";
import { asksForCodes, type Change, keys, stale } from "./keys";

export function useProjectId(): number {
  return Number(useParams().projectId);
}

export function useSummary() {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "summary"),
    queryFn: () => data(api.GET("/api/v1/projects/{project_id}", { params: { path: { project_id } } })),
  });
}

export function useFields(): readonly Schema["FieldInfo"][] {
  const project_id = useProjectId();
  const summary = useSummary();
  const found = useQuery({
    // how many texts have a code is read again now and then, not after every act of coding
    queryKey: keys.of(project_id, "fields", summary.data?.revision, Boolean(summary.data?.coding)),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/fields", { params: { path: { project_id } } })),
    enabled: summary.data !== undefined,
    staleTime: 60_000,
  });
  return found.data ?? [];
}

/** The split a view opens on, as long as nothing else is chosen. */
export function useUsualSplit(): Schema["Split"] {
  const texts = useSummary().data?.texts ?? 0;
  const fields = useFields();
  return useMemo(() => usualSplit(fields, texts), [fields, texts]);
}

/** The address as it is at this very moment: two changes in one step must not undo each other. */
export function addressNow(): URLSearchParams {
  return new URLSearchParams(window.location.search);
}

/** The scope all stations look at, kept in the address. */
export function useScope() {
  const [search, setSearch] = useSearchParams();
  const written = search.get("scope") ?? "";
  const scope = useMemo(() => scopeFromSearch(new URLSearchParams({ scope: written })), [written]);
  const setScope = useCallback(
    (next: readonly Condition[]) => setSearch(searchWithScope(addressNow(), next)),
    [setSearch],
  );
  return { scope, setScope };
}

/** A part of the address besides the scope; setting it keeps the rest. */
export function useAddress(name: string, fallback: string): [string, (value: string) => void] {
  const [search, setSearch] = useSearchParams();
  const { pathname } = useLocation();
  // biome-ignore lint/correctness/useExhaustiveDependencies: where the browser was when this view came up
  const here = useMemo(() => window.location.pathname, [pathname]);
  const set = useCallback(
    (value: string) => {
      // a slow answer must not take back a view that somebody is on the way to
      if (window.location.pathname !== here) return;
      const next = addressNow();
      if (value === fallback) next.delete(name);
      else next.set(name, value);
      setSearch(next, { replace: true });
    },
    [setSearch, name, fallback, here],
  );
  return [search.get(name) ?? fallback, set];
}

/** Read again what a change has made stale. */
export function useRefresh(change: Change = "anything") {
  const client = useQueryClient();
  const project = useProjectId();
  return useCallback(
    () =>
      Promise.all([
        ...stale(project, change).map((queryKey) => client.invalidateQueries({ queryKey })),
        ...(change === "coding"
          ? [
              client.invalidateQueries({
                queryKey: keys.project(project),
                predicate: ({ queryKey }) => asksForCodes(queryKey),
              }),
            ]
          : []),
      ]),
    [client, project, change],
  );
}

/** A change to the project: on success what it makes stale is read again, on failure it is told. */
export function useChange<In, Out>(
  act: (given: In) => Promise<Out>,
  done?: (out: Out, given: In) => void,
  change: Change = "anything",
) {
  const refresh = useRefresh(change);
  const { fail } = useToast();
  return useMutation({
    mutationFn: act,
    onSuccess: async (out, given) => {
      done?.(out, given);
      await refresh();
    },
    onError: async (error) => {
      fail(error);
      await refresh();
    },
  });
}

export function useHistorySteps() {
  const project_id = useProjectId();
  const refresh = useRefresh();
  const { tell, fail } = useToast();
  const path = { params: { path: { project_id } } };
  const passOver = useChange(
    (command_id: number) =>
      data(
        api.POST("/api/v1/projects/{project_id}/changes/{command_id}/pass-over", {
          params: { path: { project_id, command_id } },
        }),
      ),
    (out) => tell(`Left as it is: ${out.label}. The change beside it comes next.`),
  );
  // what stands in the way of one change must not block those before it
  const stuck = async (error: unknown) => {
    const problem = error instanceof ProblemError ? error : null;
    const command = problem?.command ?? null;
    fail(error, [
      ...(problem?.others
        ? [
            { label: "Keep their texts", onSelect: () => undo.mutate("keep") },
            { label: "Undo theirs, too", onSelect: () => undo.mutate("take") },
          ]
        : []),
      ...(command === null ? [] : [{ label: "Pass over it", onSelect: () => passOver.mutate(command) }]),
    ]);
    await refresh();
  };
  const client = useQueryClient();
  const step = <Given>(
    act: (given: Given) => Promise<{ label: string }>,
    said: string,
    back: "undo" | "redo",
  ) => ({
    mutationFn: act,
    onSuccess: async (out: { label: string }) => {
      // the way back is open at once, not only when all has been read again
      client.setQueryData<Schema["ProjectSummary"]>(
        keys.of(project_id, "summary"),
        (now) => now && { ...now, [back]: out.label },
      );
      tell(`${said}: ${out.label}`);
      // whoever takes a verdict back looks for it among what is judged
      await Promise.all([refresh(), client.invalidateQueries({ queryKey: keys.review(project_id) })]);
    },
    onError: stuck,
  });
  const undo = useMutation(
    step(
      (others: "refuse" | "keep" | "take") =>
        data(
          api.POST("/api/v1/projects/{project_id}/undo", {
            params: { ...path.params, query: { others } },
          }),
        ),
      "Undone",
      "redo",
    ),
  );
  const redo = useMutation(
    step((_: undefined) => data(api.POST("/api/v1/projects/{project_id}/redo", path)), "Done again", "undo"),
  );
  return { undo: () => undo.mutate("refuse"), redo: () => redo.mutate(undefined) };
}
