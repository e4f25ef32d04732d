import { useQuery } from "@tanstack/react-query";
import { api, data } from "../../api/client";
import type { Split } from "../../data/comparison";
import { keys } from "../../data/keys";
import { useProjectId, useScope, useSummary } from "../../data/project";
import { divides } from "../../lib/split";

/** The labels of the groups of a split in the scope, with their texts and words; the larger first. */
export function useGroups(split: Split) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const summary = useSummary().data;
  const found = useQuery({
    queryKey: keys.of(project_id, "answers", summary?.revision, summary?.coding, "groups", scope, split),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/groups", {
          params: { path: { project_id } },
          body: { scope: [...scope], split },
        }),
      ),
    enabled: divides(split),
    retry: false,
  });
  const groups = found.data?.groups ?? [];
  return { ...found, groups, labels: groups.map((group) => group.label) };
}
