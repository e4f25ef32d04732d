import { useQuery } from "@tanstack/react-query";
import { api, data, type Schema } from "../api/client";
import { keyed, useAdding } from "./adding";
import { keys } from "./keys";
import { useChange, useProjectId } from "./project";

export type ToneList = Schema["ToneListPublic"];
export type ToneWord = Schema["ToneWord"];
export const WORDS_AT_ONCE = 100;

/** Word lists for tone: the one that ships first. */
export function useToneLists() {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "tone lists"),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/tone-lists", { params: { path: { project_id } } })),
  });
}

/** Words of a list (0 for the one that ships), a page of them. */
export function useToneWords(list_id: number, find: string, show: "all" | "own" | "used", start: number) {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "tone lists", list_id, find, show, start),
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/tone-lists/{list_id}/words", {
          params: { path: { project_id, list_id }, query: { find, show, start, most: WORDS_AT_ONCE } },
        }),
      ),
    placeholderData: (before) => before,
  });
}

/** The tone of a sentence somebody types. */
export function useToneOf(list_id: number, sentence: string) {
  const project_id = useProjectId();
  return useQuery({
    queryKey: keys.of(project_id, "tone lists", list_id, "try", sentence),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/tone-lists/{list_id}/try", {
          params: { path: { project_id, list_id } },
          body: { sentence },
        }),
      ),
    enabled: sentence.trim() !== "",
    placeholderData: (before) => before,
  });
}

/** Changes of a list. */
export function useToneChanges(list_id: number) {
  const project_id = useProjectId();
  const path = { params: { path: { project_id, list_id } } };
  return {
    add: useAdding({
      line: `tone words of ${list_id}`,
      label: (word: Schema["ToneWordGiven"]) => word.word,
      send: (word, key) =>
        data(
          api.POST("/api/v1/projects/{project_id}/tone-lists/{list_id}/words", {
            ...path,
            body: { words: [word] },
            ...keyed(key),
          }),
        ),
      change: "tone lists",
    }),
    set: useChange(
      (words: Schema["ToneWordGiven"][]) =>
        data(
          api.POST("/api/v1/projects/{project_id}/tone-lists/{list_id}/words", { ...path, body: { words } }),
        ),
      undefined,
      "tone lists",
    ),
    rename: useChange(
      (body: Schema["ToneListUpdate"]) =>
        data(api.PATCH("/api/v1/projects/{project_id}/tone-lists/{list_id}", { ...path, body })),
      undefined,
      "tone lists",
    ),
    remove: useChange(
      (revision: number) =>
        data(
          api.DELETE("/api/v1/projects/{project_id}/tone-lists/{list_id}", {
            params: { path: { project_id, list_id }, query: { revision } },
          }),
        ),
      undefined,
      "tone lists",
    ),
    take: useChange(
      ({ file, replace }: { file: File; replace: boolean }) =>
        data(
          api.POST("/api/v1/projects/{project_id}/tone-lists/{list_id}/import", {
            params: { path: { project_id, list_id }, query: { replace } },
            body: { file: file as unknown as string },
            bodySerializer: () => {
              const form = new FormData();
              form.append("file", file);
              return form;
            },
          }),
        ),
      undefined,
      "tone lists",
    ),
  };
}

/** Makes a list of the project. */
export function useMakeToneList(done: (made: ToneList) => void) {
  const project_id = useProjectId();
  return useChange(
    (body: Schema["ToneListNew"]) =>
      data(api.POST("/api/v1/projects/{project_id}/tone-lists", { params: { path: { project_id } }, body })),
    done,
    "tone lists",
  );
}
