import { useMutation, useMutationState, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { api, data, ProblemError, type Schema } from "../api/client";
import type { Stretch } from "../lib/chosen";
import { useToast } from "../parts/toast";
import { keyed, useAdding } from "./adding";
import { asksForCodes, keys } from "./keys";
import { known, noteStored } from "./passageids";
import { useChange, useProjectId, useScope, useSummary } from "./project";

export type Code = Schema["CodePublic"];
export type Passage = Schema["CodedPassage"];
const LOOK_EVERY_MS = 4_000;
export const AGAIN_AFTER_MS = 2_000;
/** What is not stored is sent again for about ten minutes. */
export const TRIES = 300;
const RECENT = 9;

/** The codebook, with each code by its id. */
export function useCodebook() {
  const project_id = useProjectId();
  const found = useQuery({
    queryKey: keys.of(project_id, "codebook"),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/codebook", { params: { path: { project_id } } })),
  });
  const codes = found.data?.codes;
  const byId = useMemo(() => new Map((codes ?? []).map((one) => [one.id, one])), [codes]);
  return { ...found, codes: codes ?? [], byId };
}

/** Passages and texts of each code in the scope. */
export function useCodeCounts() {
  const project_id = useProjectId();
  const { scope } = useScope();
  const revision = useSummary().data?.revision;
  const found = useQuery({
    queryKey: keys.of(project_id, "code counts", scope, revision),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/codebook/counts", {
          params: { path: { project_id } },
          body: { scope: [...scope] },
        }),
      ),
    placeholderData: (before) => before,
  });
  return useMemo(() => new Map((found.data?.codes ?? []).map((one) => [one.id, one])), [found.data]);
}

/** Words of the scope that lie in passages of each code. */
export function useCodeWords() {
  const project_id = useProjectId();
  const { scope } = useScope();
  const revision = useSummary().data?.revision;
  const found = useQuery({
    queryKey: keys.of(project_id, "code counts", "words", scope, revision),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/codebook/words", {
          params: { path: { project_id } },
          body: { scope: [...scope] },
        }),
      ),
    placeholderData: (before) => before,
  });
  return useMemo(() => new Map((found.data ?? []).map((one) => [one.id, one.words])), [found.data]);
}

/** What is coded in a text. */
export function usePassages(text_id: number) {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "passages", text_id),
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/texts/{text_id}/passages", {
          params: { path: { project_id, text_id } },
        }),
      ),
    structuralSharing: (before, now) =>
      sharing(before as Schema["TextPassages"] | undefined, now as Schema["TextPassages"]),
  });
}

/** Passages that are as they were stay the very same, wherever they stand in the list: what is drawn of them need not
 * be drawn again. */
export function sharing(
  before: Schema["TextPassages"] | undefined,
  now: Schema["TextPassages"],
): Schema["TextPassages"] {
  if (!before || before === now) return now;
  const known = new Map(before.passages.map((one) => [one.id, one]));
  const passages = now.passages.map((one) => {
    const old = known.get(one.id);
    return old && (old === one || same(old, one)) ? old : one;
  });
  return { ...now, passages };
}

function same(a: Passage, b: Passage): boolean {
  const keys = Object.keys(b) as (keyof Passage)[];
  return keys.length === Object.keys(a).length && keys.every((key) => a[key] === b[key]);
}

/** Looks every few seconds whether somebody else has coded, and reads what they did. */
export function useOthersWork() {
  const project_id = useProjectId();
  const client = useQueryClient();
  const seen = useQuery({
    queryKey: keys.of(project_id, "summary"),
    queryFn: () => data(api.GET("/api/v1/projects/{project_id}", { params: { path: { project_id } } })),
    refetchInterval: LOOK_EVERY_MS,
  }).data?.coding;
  useEffect(() => {
    if (seen === undefined) return;
    for (const resource of ["codebook", "code counts", "passages", "found passages", "paraphrases"] as const)
      void client.invalidateQueries({
        queryKey: keys.of(project_id, resource),
        predicate: ({ state }) => {
          const revision = (state.data as { revision?: number } | undefined)?.revision;
          return revision === undefined || revision < seen;
        },
      });
    void client.invalidateQueries({
      queryKey: keys.project(project_id),
      predicate: ({ queryKey, state }) => asksForCodes(queryKey) && state.dataUpdateCount > 0,
    });
  }, [client, project_id, seen]);
}

export interface Given {
  stretch: Stretch;
  codes: readonly number[];
  /** A code to make and give. */
  fresh?: { name: string; colour: number | null; symbol: string; description: string };
}

/** Whether the server could not be reached, or is busy for a moment: it can be tried again. */
export const away = (error: unknown) =>
  error instanceof ProblemError && (error.status === 0 || error.status === 502 || error.status === 503);

/** What is stored in place of what was shown at once; the last answer leaves nothing that is only shown. */
export function settled(
  now: Schema["TextPassages"],
  stored: Schema["PassagesChanged"],
  last: boolean,
): Schema["TextPassages"] {
  const out = new Set([...stored.gone, ...stored.passages.map((one) => one.id)]);
  const shown = (one: Passage) =>
    one.id < 0 &&
    !one.run_id &&
    (last ||
      stored.passages.some(
        (other) => other.code_id === one.code_id && other.start === one.start && other.end === one.end,
      ));
  const rest = now.passages.filter((one) => !out.has(one.id) && !shown(one));
  const passages = [...rest, ...stored.passages].sort(
    (a, b) => a.start - b.start || a.end - b.end || a.id - b.id,
  );
  return { passages, revision: stored.revision };
}

/** Changes of a text's passages: on the screen at once, stored behind; sent again while the server is away. */
export function usePassageChange<In>(
  text_id: number,
  send: (given: In) => Promise<Schema["PassagesChanged"]>,
  atOnce: (now: readonly Passage[], given: In) => Passage[],
) {
  const project_id = useProjectId();
  const client = useQueryClient();
  const { fail } = useToast();
  const key = keys.of(project_id, "passages", text_id);
  const others = () =>
    Promise.all(
      (["summary", "codebook", "code counts", "found passages"] as const).map((resource) =>
        client.invalidateQueries({ queryKey: keys.of(project_id, resource) }),
      ),
    );
  const show = (given: In) =>
    client.setQueryData<Schema["TextPassages"]>(
      key,
      (now) => now && { ...now, passages: atOnce(now.passages, given) },
    );
  const change = useMutation({
    mutationKey: ["coding", project_id],
    scope: { id: `coding ${project_id}` },
    mutationFn: send,
    retry: (tried, error) => away(error) && tried < TRIES,
    retryDelay: AGAIN_AFTER_MS,
    networkMode: "always",
    onSuccess: (stored) => {
      const last = client.isMutating({ mutationKey: ["coding", project_id] }) <= 1;
      const before = client.getQueryData<Schema["TextPassages"]>(key);
      if (before) noteStored(before.passages, stored.passages);
      client.setQueryData<Schema["TextPassages"]>(key, (now) => now && settled(now, stored, last));
      // somebody else coded in between
      if (before && stored.revision > before.revision + 1) void client.invalidateQueries({ queryKey: key });
      void others();
    },
    onError: (error) => {
      fail(error);
      void client.invalidateQueries({ queryKey: key });
      void others();
    },
  });
  // shown in the same moment, before anything is sent; an answer that is under way would not have it yet
  const atOnceShown = (given: In) => {
    if (client.isFetching({ queryKey: key }))
      void client.cancelQueries({ queryKey: key }).then(() => show(given));
    else show(given);
  };
  const { mutate, mutateAsync } = change;
  return {
    ...change,
    mutate: (given: In, options?: Parameters<typeof mutate>[1]) => {
      atOnceShown(given);
      mutate(given, options);
    },
    mutateAsync: (given: In) => {
      atOnceShown(given);
      return mutateAsync(given);
    },
  };
}

/** Put words under codes. */
export function useCode(text_id: number, me: string) {
  const project_id = useProjectId();
  return usePassageChange<Given>(
    text_id,
    ({ stretch, codes, fresh }) =>
      data(
        api.POST("/api/v1/projects/{project_id}/texts/{text_id}/passages", {
          params: { path: { project_id, text_id } },
          body: {
            ...stretch,
            codes: [...codes],
            new: fresh ?? null,
          },
        }),
      ),
    (now, { stretch: { start, end }, codes }) => {
      const mine = now.filter((one) => one.mine && one.start === start && one.end === end);
      const fresh = codes
        .filter((code) => !mine.some((one) => one.code_id === code))
        .map((code_id, at) => ({
          id: -Date.now() - at,
          code_id,
          start,
          end,
          strength: null,
          comment: "",
          coder: me,
          mine: true,
          made_at: new Date().toISOString(),
          revision: 0,
          reason: "",
        }));
      return [...now, ...fresh].sort((a, b) => a.start - b.start || a.end - b.end);
    },
  );
}

/** What is changed of a passage; what is not named stays. */
export type PassageValues = Omit<Schema["PassageUpdate"], "revision">;

/** Lengthen, shorten, move to another code, comment, weigh. */
export function useChangePassage(text_id: number) {
  const project_id = useProjectId();
  return usePassageChange<{ passage: Passage; values: PassageValues }>(
    text_id,
    ({ passage, values }) =>
      data(
        api.PATCH("/api/v1/projects/{project_id}/passages/{passage_id}", {
          params: { path: { project_id, passage_id: known(passage).id } },
          body: { ...values, revision: known(passage).revision },
        }),
      ),
    (now, { passage, values }) =>
      now
        .map((one) =>
          one.id === passage.id
            ? {
                ...one,
                ...(Object.fromEntries(Object.entries(values).filter(([, v]) => v !== null)) as object),
              }
            : one,
        )
        .sort((a, b) => a.start - b.start || a.end - b.end),
  );
}

export function useTakeOff(text_id: number) {
  const project_id = useProjectId();
  return usePassageChange<Passage>(
    text_id,
    (passage) =>
      data(
        api.DELETE("/api/v1/projects/{project_id}/passages/{passage_id}", {
          params: {
            path: { project_id, passage_id: known(passage).id },
            query: { revision: known(passage).revision },
          },
        }),
      ),
    (now, passage) => now.filter((one) => one.id !== passage.id),
  );
}

/** How many acts of coding are not stored yet, and whether the server was away for one. */
export function useUnstored(): { count: number; away: boolean } {
  const project = useProjectId();
  const waiting = useMutationState({
    filters: { mutationKey: ["coding", project], status: "pending" },
    select: (mutation) => mutation.state.failureCount,
  });
  return { count: waiting.length, away: waiting.some((failures) => failures > 0) };
}

/** The codes given last in this browser, the latest first, each with a number key. */
export function useRecent() {
  const project = useProjectId();
  const place = `winnower.recent codes.${project}`;
  const [ids, setIds] = useState<readonly number[]>(() => {
    try {
      const kept: unknown = JSON.parse(localStorage.getItem(place) ?? "[]");
      return Array.isArray(kept) ? kept.filter((one) => typeof one === "number") : [];
    } catch {
      return [];
    }
  });
  const note = useCallback(
    (codes: readonly number[]) =>
      setIds((now) => {
        // a code keeps its key as long as it is among them
        const fresh = codes.filter((code) => !now.includes(code));
        const next = [...now, ...fresh].slice(-RECENT);
        localStorage.setItem(place, JSON.stringify(next));
        return next;
      }),
    [place],
  );
  return { ids, note };
}

/** Changes of the codebook. */
export function useCodes() {
  const project_id = useProjectId();
  const path = (code_id: number) => ({ params: { path: { project_id, code_id } } });
  const { tell } = useToast();
  const said = (done: { label: string }) => tell(`${done.label}. Undo brings it back.`);
  return {
    make: useAdding({
      line: "codes",
      label: (body: Schema["CodeCreate"]) => body.name,
      send: (body, key) =>
        data(
          api.POST("/api/v1/projects/{project_id}/codes", {
            params: { path: { project_id } },
            body,
            ...keyed(key),
          }),
        ),
      change: "coding",
    }),
    change: useChange(
      ({ code, ...values }: { code: Code } & Omit<Schema["CodeUpdate"], "revision">) =>
        data(
          api.PATCH("/api/v1/projects/{project_id}/codes/{code_id}", {
            ...path(code.id),
            body: { revision: code.revision, ...values },
          }),
        ),
      undefined,
      "coding",
    ),
    move: useChange(
      ({ code, ...body }: { code: Code } & Omit<Schema["CodeMove"], "revision">) =>
        data(
          api.POST("/api/v1/projects/{project_id}/codes/{code_id}/move", {
            ...path(code.id),
            body: { ...body, revision: code.revision },
          }),
        ),
      undefined,
      "coding",
    ),
    merge: useChange(
      ({ code, into_id }: { code: Code; into_id: number }) =>
        data(
          api.POST("/api/v1/projects/{project_id}/codes/{code_id}/merge", {
            ...path(code.id),
            body: { into_id },
          }),
        ),
      said,
      "coding",
    ),
    split: useChange(
      ({ code_id, ...body }: { code_id: number } & Schema["CodeSplit"]) =>
        data(api.POST("/api/v1/projects/{project_id}/codes/{code_id}/split", { ...path(code_id), body })),
      said,
      "coding",
    ),
    remove: useChange(
      (code: Code) =>
        data(
          api.DELETE("/api/v1/projects/{project_id}/codes/{code_id}", {
            params: { path: { project_id, code_id: code.id }, query: { revision: code.revision } },
          }),
        ),
      said,
      "coding",
    ),
  };
}
