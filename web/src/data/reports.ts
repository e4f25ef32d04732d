/** Reports: read, put together, ordered; what is changed is shown at once, the server follows. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schema } from "../api/client";
import { useToast } from "../parts/toast";
import { keyed, useAdding } from "./adding";
import { useAskedOf } from "./answers";
import { keys } from "./keys";
import { useChange, useProjectId, useRefresh } from "./project";

export type Report = Schema["ReportPublic"];
export type Part = Schema["PartPublic"];
export type Piece = NonNullable<Part["piece"]>;
export type Block = Part["blocks"][number];
export type QuotesPiece = Extract<Piece, { kind: "quotes" }>;
export type By = Schema["ReportGiven"]["by"];

export function useReports() {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "reports"),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/reports", { params: { path: { project_id } } })),
  });
}

export function useReport(report_id: number) {
  const project_id = useProjectId();
  const state = useAskedOf();
  return useQuery({
    queryKey: [...reportKey(project_id, report_id), ...state],
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/reports/{report_id}", {
          params: { path: { project_id, report_id } },
        }),
      ),
    placeholderData: (before) => (before?.id === report_id ? before : undefined),
    retry: false,
  });
}

const reportKey = (project_id: number, report_id: number) => keys.of(project_id, "reports", report_id);

/** Reports to be put together, one after another; ``onMade`` hears of each when it is there. */
export function useNewReports(onMade: (id: number) => void) {
  const project_id = useProjectId();
  return useAdding({
    line: "reports",
    label: (given: Schema["ReportGiven"]) => given.title,
    send: (body, key) =>
      data(
        api.POST("/api/v1/projects/{project_id}/reports", {
          params: { path: { project_id } },
          body,
          ...keyed(key),
        }),
      ),
    change: "reports",
    done: (made) => onMade(made.id),
  });
}

export function useReportChanges() {
  const project_id = useProjectId();
  const { tell } = useToast();
  const path = (report_id: number) => ({ params: { path: { project_id, report_id } } });
  return {
    change: useChange(
      ({ id, ...body }: { id: number } & Schema["ReportChange"]) =>
        data(api.PATCH("/api/v1/projects/{project_id}/reports/{report_id}", { ...path(id), body })),
      undefined,
      "reports",
    ),
    remove: useChange(
      ({ id, revision }: { id: number; revision: number }) =>
        data(
          api.DELETE("/api/v1/projects/{project_id}/reports/{report_id}", {
            params: { path: { project_id, report_id: id }, query: { revision } },
          }),
        ),
      () => tell("Report deleted. Undo brings it back."),
      "reports",
    ),
  };
}

/** What stands of a piece until the server has made it. */
function expected(id: number, piece: Piece, before?: Part): Part {
  const shown: Block[] =
    piece.kind === "heading"
      ? [{ kind: "heading", words: piece.words, level: piece.level }]
      : (before?.blocks ?? []);
  return {
    id,
    revision: before?.revision ?? 0,
    piece,
    blocks: shown,
    labels: before?.labels ?? shown.map(() => ""),
    more: before?.more ?? 0,
  };
}

let unmade = -1;
/** Ids of pieces by those that stood for them until the server made them. */
const madeAs = new Map<number, number>();
const made = (id: number) => madeAs.get(id) ?? id;

/** Pieces of one report: added, changed, taken out, ordered. */
export function usePieceChanges(report_id: number) {
  const project_id = useProjectId();
  const client = useQueryClient();
  const refresh = useRefresh("reports");
  const { tell, fail } = useToast();
  const queryKey = reportKey(project_id, report_id);
  const path = { params: { path: { project_id, report_id } } };
  // changes of a report are sent in order: what is changed has been made by then
  const at = (id: number) => ({ params: { path: { project_id, report_id, piece_id: made(id) } } });
  const show = async (change: (parts: Part[]) => Part[]) => {
    await client.cancelQueries({ queryKey });
    client.setQueriesData<Report>({ queryKey }, (now) => (now ? { ...now, parts: change(now.parts) } : now));
  };
  const rest = {
    onError: (error: unknown) => fail(error),
    onSettled: () => refresh(),
    scope: { id: `report ${report_id}` },
  };
  return {
    add: useMutation({
      // "onPlaced" hears the ids of what was added: at once those that stand for them, then their own
      mutationFn: ({
        pieces,
        after,
      }: {
        pieces: Piece[];
        after: number | null;
        onPlaced?: (ids: number[], before: number[]) => void;
      }) =>
        data(
          api.POST("/api/v1/projects/{project_id}/reports/{report_id}/pieces", {
            ...path,
            body: { pieces, after: after === null ? null : made(after) },
          }),
        ),
      onMutate: async ({ pieces, after, onPlaced }) => {
        const shown = pieces.map((piece) => expected(unmade--, piece));
        const ids = shown.map((one) => one.id);
        await show((parts) => {
          const place = after === 0 ? 0 : parts.findIndex((one) => one.id === after) + 1 || parts.length;
          return [...parts.slice(0, place), ...shown, ...parts.slice(place)];
        });
        onPlaced?.(ids, []);
        return ids;
      },
      onSuccess: async (out, { onPlaced }, ids) => {
        for (const [at, id] of ids.entries()) madeAs.set(id, out.pieces[at] ?? id);
        await show((parts) =>
          parts.map((one) => ({ ...one, id: made(one.id), revision: one.revision || 1 })),
        );
        onPlaced?.(out.pieces, ids);
      },
      ...rest,
    }),
    change: useMutation({
      mutationFn: ({ part, piece }: { part: Part; piece: Piece }) =>
        data(
          api.PATCH("/api/v1/projects/{project_id}/reports/{report_id}/pieces/{piece_id}", {
            ...at(part.id),
            body: { piece, revision: part.revision || 1 },
          }),
        ),
      onMutate: ({ part, piece }) =>
        show((parts) => parts.map((one) => (one.id === part.id ? expected(one.id, piece, one) : one))),
      ...rest,
    }),
    remove: useMutation({
      mutationFn: (part: Part) =>
        data(
          api.DELETE("/api/v1/projects/{project_id}/reports/{report_id}/pieces/{piece_id}", {
            params: { ...at(part.id).params, query: { revision: part.revision || 1 } },
          }),
        ),
      onMutate: (part) => show((parts) => parts.filter((one) => one.id !== part.id)),
      onSuccess: () => tell("Taken out. Undo brings it back."),
      ...rest,
    }),
    order: useMutation({
      mutationFn: ({ pieces, seen }: Schema["PieceOrder"]) =>
        data(
          api.PUT("/api/v1/projects/{project_id}/reports/{report_id}/order", {
            ...path,
            body: { pieces: pieces.map(made), seen: seen.map(made) },
          }),
        ),
      onMutate: ({ pieces: ids }) =>
        show((parts) => {
          const by = new Map(parts.map((one) => [one.id, one]));
          return ids.flatMap((id) => by.get(id) ?? []);
        }),
      ...rest,
    }),
  };
}

/** Ids with one of them moved by so many places, or before another one (null: to the end). */
export function moved(ids: readonly number[], id: number, to: { by: number } | { before: number | null }) {
  const rest = ids.filter((one) => one !== id);
  const place =
    "by" in to
      ? Math.min(Math.max(ids.indexOf(id) + to.by, 0), rest.length)
      : to.before === null
        ? rest.length
        : rest.indexOf(to.before);
  if (place < 0 || !ids.includes(id)) return [...ids];
  return [...rest.slice(0, place), id, ...rest.slice(place)];
}
