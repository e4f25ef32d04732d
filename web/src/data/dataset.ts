import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, type Condition, data, type Schema } from "../api/client";
import { keys } from "./keys";
import { useProjectId } from "./project";

export type DataRequest = Schema["DataRequest"];
export type DataPreview = Schema["DataPreview"];
export type RowsOf = DataRequest["rows"];

/** What a table for statistics is to hold, as it stands in the address. */
export interface Wanted {
  rows: RowsOf;
  /** Keys of fields; all where null. */
  fields: readonly string[] | null;
  dictionaries: readonly number[];
  runs: readonly number[];
  codes: boolean;
  /** A word list for tone, 0 the one that ships; none where null. */
  tone: number | null;
  words: boolean;
  /** What stands in a column of counts. */
  counted: DataRequest["counted"];
  /** Fields of several values also as columns of 0 and 1. */
  spread: boolean;
  /** The field whose values are rows, and the one whose values stand side by side, where a row is a unit. */
  unit: string | null;
  across: string | null;
}

export const USUAL: Wanted = {
  rows: "text",
  fields: null,
  dictionaries: [],
  runs: [],
  codes: false,
  tone: null,
  words: false,
  counted: "hits",
  spread: false,
  unit: null,
  across: null,
};

/** What the address says; the usual table where it says nothing that can be read. */
export function wantedFrom(written: string): Wanted {
  try {
    const read: unknown = JSON.parse(written);
    return typeof read === "object" && read ? { ...USUAL, ...read } : USUAL;
  } catch {
    return USUAL;
  }
}

export function requestOf(wanted: Wanted, scope: readonly Condition[]): DataRequest {
  return {
    rows: wanted.rows,
    fields: wanted.fields ? [...wanted.fields] : null,
    targets: [
      ...wanted.dictionaries.map((dictionary) => ({
        kind: "dictionary" as const,
        dictionary,
        version: null,
        fingerprint: null,
      })),
      ...wanted.runs.map((run) => ({
        kind: "run" as const,
        run,
        counted: "passages" as const,
        revision: null,
      })),
      ...(wanted.codes
        ? [{ kind: "codes" as const, coders: [], counted: "passages" as const, revision: null }]
        : []),
    ],
    words: wanted.words,
    counted: wanted.counted,
    spread: wanted.rows !== "unit" && wanted.spread,
    unit: wanted.rows === "unit" ? wanted.unit : null,
    across: wanted.rows === "unit" ? wanted.across : null,
    tone: wanted.rows === "unit" ? null : wanted.tone,
    scope: [...scope],
    version: 1,
  };
}

/** The columns of a table and its first rows. */
export function useDataPreview(request: DataRequest, revisions: unknown) {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "data preview", request, revisions),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/data/preview", {
          params: { path: { project_id } },
          body: request,
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
}
