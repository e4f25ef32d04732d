import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data } from "../../api/client";
import { keys } from "../../data/keys";
import { useProjectId } from "../../data/project";
import { type Run, type RunItem, useRunChanges } from "../../data/runs";
import { plural, whole } from "../../lib/numbers";
import { Button, Dialog, Failure, Waiting } from "../../parts/controls";
import { JobProgress, useJob } from "../../shell/jobs";
import { RunWords } from "./runwords";

/** What bringing a run in step with today's dictionary and texts would change, and doing it. */
export function RunStep({ run, onClose }: { run: Run; onClose: () => void }) {
  const project_id = useProjectId();
  const { step, again } = useRunChanges(run.id);
  const [jobId, setJobId] = useState<number | null>(null);
  const job = useJob(jobId);
  const found = useQuery({
    queryKey: keys.of(project_id, "runs", run.id, "step", run.revision),
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/runs/{run_id}/step", {
          params: { path: { project_id, run_id: run.id } },
        }),
      ),
    retry: false,
    staleTime: 0,
    enabled: jobId === null,
  });
  const told = found.data;
  const ended = job !== null && job.state !== "queued" && job.state !== "running";
  const nothing = told !== undefined && !told.added && !told.removed;
  const close = () => {
    void again();
    onClose();
  };
  return (
    <Dialog title={`${run.name}, and what changed since`} open onClose={close} wide>
      {found.error && <Failure error={found.error} />}
      {found.isPending && jobId === null && <Waiting what="Looking through the texts again" />}
      {jobId !== null &&
        !ended &&
        (job ? <JobProgress job={job} counted={false} /> : <Waiting what="Beginning" />)}
      {ended && (
        <p role="status" className="my-2">
          {job.state === "done" && job.result
            ? `${plural(Number(job.result.added), "passage")} came, ${whole(Number(job.result.removed))} went. Undo takes it back.`
            : job.message}
        </p>
      )}
      {told && jobId === null && (
        <>
          <p className="mb-2" data-testid="step">
            {nothing ? (
              "The run would find the same passages today."
            ) : (
              <>
                <b>
                  {plural(told.added, "passage")} would come, {whole(told.removed)} would go
                </b>
                ; {whole(told.same)} stay as they are.
              </>
            )}
            {told.held > 0 &&
              ` ${plural(told.held, "passage")} would not be found again and stay${told.held === 1 ? "s" : ""}, since somebody judged ${told.held === 1 ? "it" : "them"}.`}
            {told.new_codes.length > 0 && ` New codes: ${told.new_codes.join(", ")}.`}
          </p>
          <Some title="Some that would come" items={told.sample_added} />
          <Some title="Some that would go" items={told.sample_removed} />
        </>
      )}
      <div className="mt-3 flex justify-end gap-2">
        <Button onClick={close}>{ended || nothing ? "Close" : "Leave it as it is"}</Button>
        {jobId === null && told && !(nothing && !run.outdated) && (
          <Button
            look="main"
            disabled={step.isPending}
            onClick={() => step.mutate(undefined, { onSuccess: (made) => setJobId(made.id) })}
          >
            {nothing ? "Mark as up to date" : "Update the run"}
          </Button>
        )}
      </div>
    </Dialog>
  );
}

function Some({ title, items }: { title: string; items: readonly RunItem[] }) {
  if (!items.length) return null;
  return (
    <section aria-label={title} className="mb-2">
      <b className="text-ink2">{title}</b>
      <ul className="max-h-[190px] overflow-auto">
        {items.map((one, at) => (
          <li key={at} className="grid grid-cols-[130px_1fr] gap-3 border-t border-line py-1.5">
            <span className="truncate font-semibold">{one.name}</span>
            <RunWords one={one} />
          </li>
        ))}
      </ul>
    </section>
  );
}
