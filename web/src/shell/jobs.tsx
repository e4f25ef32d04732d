import { useEffect, useRef, useState } from "react";
import { api, data, type Schema } from "../api/client";
import { useChange, useProjectId, useRefresh } from "../data/project";
import { plural, whole } from "../lib/numbers";
import { leftInWords, type Moment, timeLeft, withMoment } from "../lib/timeleft";
import { Button } from "../parts/controls";

type Job = Schema["JobPublic"];

/** Follows a job by server-sent events until it has ended. */
export function useJob(jobId: number | null): Job | null {
  const project = useProjectId();
  const refresh = useRefresh();
  const [job, setJob] = useState<Job | null>(null);
  useEffect(() => {
    if (jobId === null) return;
    const events = new EventSource(`/api/v1/projects/${project}/jobs/${jobId}/events`);
    events.onmessage = (event) => {
      const now = JSON.parse(event.data as string) as Job;
      setJob(now);
      if (now.state !== "queued" && now.state !== "running") {
        events.close();
        void refresh();
      }
    };
    return () => events.close();
  }, [jobId, project, refresh]);
  return job?.id === jobId ? job : null;
}

/** The time left in words, empty while nothing true can be said. */
function useTimeLeft(seconds: number, share: number): string {
  const moments = useRef<Moment[]>([]);
  moments.current = withMoment(moments.current, { at: seconds, share });
  const left = timeLeft(moments.current, seconds);
  return left === null ? "" : leftInWords(left);
}

/** How far a job is; ``counted`` where it stores texts. */
export function JobProgress({ job, counted = true }: { job: Job; counted?: boolean }) {
  const project_id = useProjectId();
  const cancel = useChange(
    () =>
      data(
        api.POST("/api/v1/projects/{project_id}/jobs/{job_id}/cancel", {
          params: { path: { project_id, job_id: job.id } },
        }),
      ),
    undefined,
    "jobs",
  );
  const share = job.total ? Math.min(job.done / job.total, 1) : 0;
  const left = useTimeLeft(job.seconds, share);
  const rate = job.seconds > 1 && job.new ? job.new / job.seconds : null;
  return (
    <div>
      <div className="mb-1.5 flex justify-between">
        <span>{job.state === "queued" ? "Waiting to begin" : job.stage || "Beginning"}</span>
        <span className="text-ink2">{Math.round(share * 100)}%</span>
      </div>
      <div
        role="progressbar"
        aria-valuenow={Math.round(share * 100)}
        aria-valuemin={0}
        aria-valuemax={100}
        aria-label={job.stage}
        className="h-2 overflow-hidden rounded bg-line"
      >
        <div className="h-full bg-bottle transition-[width]" style={{ width: `${share * 100}%` }} />
      </div>
      <div className="mt-2 flex items-center gap-3 text-ink2">
        <span>
          {[
            counted && job.new
              ? `${plural(job.new, "text")} stored${rate ? `, ${whole(rate)} a second` : ""}`
              : "",
            left,
          ]
            .filter(Boolean)
            .join(", ")}
        </span>
        <Button
          look="rust"
          className="ml-auto"
          onClick={() => cancel.mutate(undefined)}
          disabled={cancel.isPending || cancel.isSuccess}
        >
          {cancel.isSuccess ? "Ending…" : "Cancel"}
        </Button>
      </div>
    </div>
  );
}
