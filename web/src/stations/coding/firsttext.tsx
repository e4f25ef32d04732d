import { useQuery } from "@tanstack/react-query";
import { Navigate, useLocation } from "react-router";
import { api, data } from "../../api/client";
import { keys } from "../../data/keys";
import { useProjectId, useScope } from "../../data/project";
import { readPlace } from "../../lib/readplace";
import { Empty, Failure, Waiting } from "../../parts/controls";
import { CodingHead } from "./head";

/** The text that was read last, else the first of the scope. */
export function FirstText() {
  const project_id = useProjectId();
  const { search } = useLocation();
  const { scope } = useScope();
  const last = readPlace(project_id)?.text ?? null;
  // what was read last counts where it is of the scope
  const around = useQuery({
    queryKey: keys.of(project_id, "around", last, scope, "date", ""),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/texts/{text_id}/around", {
          params: { path: { project_id, text_id: last ?? 0 } },
          body: { scope: [...scope], sort: "date", descending: false },
        }),
      ),
    enabled: last !== null && scope.length > 0,
    retry: false,
  });
  const within = scope.length === 0 || (around.data?.position ?? 0) > 0;
  const asking = last !== null && scope.length > 0 && around.isPending;
  const first = useQuery({
    queryKey: keys.of(project_id, "page", "first to read", scope),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/texts/page", {
          params: { path: { project_id } },
          body: { scope: [...scope], find: "", sort: "date", descending: false, start: 0, most: 1 },
        }),
      ),
    enabled: last === null || (!asking && !within),
  });
  const id = (within ? last : null) ?? first.data?.rows[0]?.id;
  if (id !== undefined) return <Navigate to={`/projects/${project_id}/coding/read/${id}${search}`} replace />;
  return (
    <div className="flex h-full flex-col">
      <CodingHead />
      {first.error ? (
        <Failure error={first.error} />
      ) : first.data ? (
        <Empty title="There is nothing to read here">
          The scope holds no texts. Import some in the Corpus, or widen the scope above.
        </Empty>
      ) : (
        <Waiting what="Looking for a text" />
      )}
    </div>
  );
}
