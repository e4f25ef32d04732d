import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, data, type Schema } from "../api/client";
import { useToast } from "../parts/toast";
import { keyed, useAdding } from "./adding";
import { AGAIN_AFTER_MS, away, TRIES } from "./coding";
import { keys } from "./keys";
import { useChange, useProjectId, useRefresh, useSummary } from "./project";

export type Note = Schema["NotePublic"];
export type NotesAsked = Partial<Schema["NotesRequest"]>;
export type Paraphrase = Schema["ParaphrasePublic"];
export const NOTES_AT_ONCE = 60;
export const PARAPHRASES_AT_ONCE = 100;
/** Types that are offered before anybody has made own ones. */
export const KINDS = ["question", "idea", "method", "diary"];

const LOOK_EVERY_MS = 4_000;

/** Looks every few seconds whether somebody else has written, and reads it. */
export function useOthersNotes() {
  const project_id = useProjectId();
  const client = useQueryClient();
  const noted = useQuery({
    queryKey: keys.of(project_id, "summary"),
    queryFn: () => data(api.GET("/api/v1/projects/{project_id}", { params: { path: { project_id } } })),
    refetchInterval: LOOK_EVERY_MS,
  }).data?.noted;
  useEffect(() => {
    if (noted === undefined) return;
    for (const resource of [
      "notes",
      "beside",
      "paraphrases",
      "lost passages",
      "groups of codes",
      "questions",
      "progress",
      "reports",
    ] as const)
      void client.invalidateQueries({ queryKey: keys.of(project_id, resource) });
  }, [client, project_id, noted]);
}

/** Notes by words, type, author and what they hang on, a page of them. */
export function useNotes(asked: NotesAsked, enabled = true) {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "notes", asked),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/notes/find", {
          params: { path: { project_id } },
          body: { find: "", sort: "newest", start: 0, most: NOTES_AT_ONCE, ...asked },
        }),
      ),
    placeholderData: (before) => before,
    enabled,
  });
}

/** Stores what is written in a note; sent again while the server is away. */
export function useNoteWriting() {
  const project_id = useProjectId();
  const refresh = useRefresh("notes");
  const { fail } = useToast();
  return useMutation({
    mutationFn: ({ note, ...values }: { note: Note } & Omit<Schema["NoteUpdate"], "revision">) =>
      data(
        api.PATCH("/api/v1/projects/{project_id}/notes/{note_id}", {
          params: { path: { project_id, note_id: note.id } },
          body: { revision: note.revision, ...values },
        }),
      ),
    retry: (tried, error) => away(error) && tried < TRIES,
    retryDelay: AGAIN_AFTER_MS,
    networkMode: "always",
    onSuccess: () => refresh(),
    onError: (error) => fail(error),
  });
}

/** Write, change, delete notes, and pull quotes into them. */
export function useNoteChanges() {
  const project_id = useProjectId();
  const { tell } = useToast();
  const one = (note_id: number) => ({ params: { path: { project_id, note_id } } });
  return {
    make: useAdding({
      line: "notes",
      label: (note: Partial<Schema["NoteCreate"]>) => note.body?.slice(0, 120) || note.title || "A new note",
      send: (note, key) =>
        data(
          api.POST("/api/v1/projects/{project_id}/notes", {
            params: { path: { project_id } },
            body: { kind: "", title: "", body: "", ...note },
            ...keyed(key),
          }),
        ),
      change: "notes",
    }),
    remove: useChange(
      (note: Note) =>
        data(
          api.DELETE("/api/v1/projects/{project_id}/notes/{note_id}", {
            params: { ...one(note.id).params, query: { revision: note.revision } },
          }),
        ),
      () => tell("Note deleted. Undo brings it back."),
      "notes",
    ),
    quote: useChange(
      (body: Schema["QuotesCreate"]) =>
        data(
          api.POST("/api/v1/projects/{project_id}/notes/quotes", { params: { path: { project_id } }, body }),
        ),
      (note) => tell(`Quoted in “${note.title || "a note"}”.`),
      "notes",
    ),
  };
}

/** How a note is called where it has no title. */
export function noteTitle(note: Pick<Note, "title" | "body">): string {
  if (note.title) return note.title;
  const line = note.body
    .replace(/\[[^\]]*\]\(quote:\d+\)/g, "")
    .split("\n")
    .map((one) => one.replace(/^[#>*\-\s\d.]+/, "").trim())
    .find(Boolean);
  return line ? line.slice(0, 80) : "Untitled";
}

export function useParaphrases(asked: Partial<Schema["ParaphrasesRequest"]>) {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "paraphrases", asked),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/paraphrases/find", {
          params: { path: { project_id } },
          body: { find: "", sort: "text", start: 0, most: PARAPHRASES_AT_ONCE, ...asked },
        }),
      ),
    placeholderData: (before) => before,
  });
}

export function useParaphraseChanges() {
  const project_id = useProjectId();
  const { tell } = useToast();
  const one = (paraphrase_id: number) => ({ params: { path: { project_id, paraphrase_id } } });
  const summary = useSummary().data;
  return {
    writes: summary?.role !== "reader",
    make: useAdding({
      line: "paraphrases",
      label: (given: { text_id: number } & Schema["ParaphraseCreate"]) => given.body,
      send: ({ text_id, ...body }, key) =>
        data(
          api.POST("/api/v1/projects/{project_id}/texts/{text_id}/paraphrases", {
            params: { path: { project_id, text_id } },
            body,
            ...keyed(key),
          }),
        ),
      change: "paraphrases",
    }),
    change: useChange(
      ({ paraphrase, body }: { paraphrase: Paraphrase; body: string }) =>
        data(
          api.PATCH("/api/v1/projects/{project_id}/paraphrases/{paraphrase_id}", {
            ...one(paraphrase.id),
            body: { revision: paraphrase.revision, body },
          }),
        ),
      undefined,
      "paraphrases",
    ),
    move: useChange(
      ({ paraphrase, start, end }: { paraphrase: Paraphrase; start: number; end: number }) =>
        data(
          api.PATCH("/api/v1/projects/{project_id}/paraphrases/{paraphrase_id}", {
            ...one(paraphrase.id),
            body: { revision: paraphrase.revision, start, end },
          }),
        ),
      undefined,
      "paraphrases",
    ),
    remove: useChange(
      (paraphrase: Paraphrase) =>
        data(
          api.DELETE("/api/v1/projects/{project_id}/paraphrases/{paraphrase_id}", {
            params: { ...one(paraphrase.id).params, query: { revision: paraphrase.revision } },
          }),
        ),
      () => tell("Paraphrase deleted. Undo brings it back."),
      "paraphrases",
    ),
    gather: useChange(
      (body: Schema["Gather"]) =>
        data(
          api.POST("/api/v1/projects/{project_id}/paraphrases/gather", {
            params: { path: { project_id } },
            body,
          }),
        ),
      (done) => tell(`${done.label}. Undo takes it back.`),
      "coding",
    ),
  };
}
