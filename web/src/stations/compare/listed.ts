import { api, data } from "../../api/client";
import { useChange, useProjectId } from "../../data/project";
import { useToast } from "../../parts/toast";

/** Put a word on the stop list of the project. */
export function useListed(): (word: string) => void {
  const project_id = useProjectId();
  const { tell } = useToast();
  const change = useChange(
    (word: string) =>
      data(
        api.POST("/api/v1/projects/{project_id}/words/stop-list", {
          params: { path: { project_id } },
          body: { forms: [word], listed: true },
        }),
      ),
    (_, word) => tell(`“${word}” is on the stop list now; undo takes it back.`),
    "word lists",
  );
  return (word) => change.mutate(word);
}
