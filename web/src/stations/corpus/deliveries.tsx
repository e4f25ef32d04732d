import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, ProblemError, type Schema, saveFile } from "../../api/client";
import { keys } from "../../data/keys";
import { useChange, useProjectId, useSummary } from "../../data/project";
import { date, plural, whole } from "../../lib/numbers";
import { Button, Empty, Failure, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { JobProgress, useJob } from "../../shell/jobs";
import { CorpusHead } from "./head";

/** What was imported, and imports that are at work or came to nothing. */
export function Deliveries() {
  const project_id = useProjectId();
  const writes = useSummary().data?.role !== "reader";
  const path = { params: { path: { project_id } } };
  const deliveries = useQuery({
    queryKey: keys.of(project_id, "deliveries"),
    queryFn: () => data(api.GET("/api/v1/projects/{project_id}/deliveries", path)),
  });
  const jobs = useQuery({
    queryKey: keys.of(project_id, "jobs"),
    queryFn: () => data(api.GET("/api/v1/projects/{project_id}/jobs", path)),
    refetchInterval: 4000,
  });
  const running = (jobs.data ?? []).filter((job) => job.state === "queued" || job.state === "running");
  const failed = (jobs.data ?? []).filter((job) => job.state === "failed" || job.state === "cancelled");
  return (
    <div className="flex h-full flex-col">
      <CorpusHead />
      <div className="min-h-0 flex-1 overflow-auto px-4 py-3">
        <div className="mx-auto max-w-[900px]">
          <h1 className="mb-3 text-[19px] font-[650]">Deliveries</h1>
          {running.map((job) => (
            <Running key={job.id} job={job} />
          ))}
          {deliveries.isPending && <Waiting what="Reading" />}
          {deliveries.error && <Failure error={deliveries.error} />}
          {deliveries.data?.length === 0 && !running.length && (
            <Empty title="Nothing was imported yet">
              Each import leaves its report here: what was new, known, changed and refused.
            </Empty>
          )}
          {deliveries.data?.map((one) => (
            <section key={one.id} className="mb-3 rounded-md border border-line bg-sheet px-4 py-3">
              <div className="mb-2 flex items-baseline gap-3">
                <b className="text-[14px]">{one.name}</b>
                <span className="text-ink2">
                  {date(one.made_at.slice(0, 10))}, {one.made_by}
                </span>
                {one.state === "undone" ? (
                  <span className="ml-auto text-rust">
                    undone; undo or redo in the header bring it back or take it away
                  </span>
                ) : (
                  writes && <UndoDelivery id={one.id} name={one.name} />
                )}
              </div>
              <Report report={one.report as unknown as ReportValues} deliveryId={one.id} />
            </section>
          ))}
          {failed.length > 0 && <h2 className="mt-5 mb-2 text-[14px] font-[650]">Failed</h2>}
          {failed.map((job) => (
            <div key={job.id} className="mb-2 rounded-md border border-line bg-sheet px-4 py-2">
              <b>{job.name}</b> <span className="text-ink2">{job.message}</span>
            </div>
          ))}
        </div>
      </div>
    </div>
  );
}

/** A whole delivery out of the project, after it was said what goes and what stays; undo brings it back. */
function UndoDelivery({ id, name }: { id: number; name: string }) {
  const project_id = useProjectId();
  const { tell } = useToast();
  const [asking, setAsking] = useState(false);
  const path = { params: { path: { project_id, delivery_id: id } } };
  const leaving = useQuery({
    queryKey: keys.of(project_id, "deliveries", "leaving", id),
    queryFn: () => data(api.GET("/api/v1/projects/{project_id}/deliveries/{delivery_id}/leaving", path)),
    enabled: asking,
  });
  const undo = useChange(
    (others: "refuse" | "keep" | "take") =>
      data(
        api.POST("/api/v1/projects/{project_id}/deliveries/{delivery_id}/undo", {
          params: { ...path.params, query: { others } },
        }),
      ),
    () => tell(`“${name}” is out of the project. Undo brings it back, until the next import.`),
  );
  if (!asking)
    return (
      <Button className="ml-auto" onClick={() => setAsking(true)}>
        Undo this delivery
      </Button>
    );
  return (
    <div className="ml-auto flex max-w-[430px] flex-col items-end gap-1.5 text-right" role="status">
      {leaving.error && <Failure error={leaving.error} />}
      <span>{leaving.data ? leavingWords(leaving.data) : "Checking what would be removed…"}</span>
      <span className="flex gap-2">
        <Button onClick={() => setAsking(false)}>Keep it</Button>
        {undo.error instanceof ProblemError && undo.error.others ? (
          <>
            <Button onClick={() => undo.mutate("take")}>Remove theirs, too</Button>
            <Button look="main" onClick={() => undo.mutate("keep")}>
              Keep their texts
            </Button>
          </>
        ) : (
          <Button
            look="main"
            disabled={!leaving.data || undo.isPending}
            onClick={() => undo.mutate("refuse")}
          >
            {undo.isPending ? "Removing it…" : "Remove it"}
          </Button>
        )}
      </span>
    </div>
  );
}

/** What goes when a delivery is undone, and what stays, in words. */
export function leavingWords(found: Schema["LeavingPublic"]): string {
  const hanging = [
    ...(found.notes ? [plural(found.notes, "note")] : []),
    ...(found.passages ? [plural(found.passages, "coded passage")] : []),
    ...(found.verdicts ? [plural(found.verdicts, "judgement")] : []),
  ];
  return [
    `${plural(found.texts, "text")} will go${hanging.length ? ` with ${hanging.join(" and ")}` : ""}.`,
    ...(found.stay ? [`${plural(found.stay, "text")} stay, as later deliveries brought them too.`] : []),
    ...(found.earlier_words ? [`${plural(found.earlier_words, "text")} get their earlier words back.`] : []),
    ...(found.sources.length ? [`Without a text then: ${found.sources.slice(0, 8).join(", ")}.`] : []),
    ...(found.variables.length ? [`Variables that go: ${found.variables.join(", ")}.`] : []),
  ].join(" ");
}

function Running({ job }: { job: Schema["JobPublic"] }) {
  const now = useJob(job.id) ?? job;
  return (
    <section className="mb-3 rounded-md border border-line bg-sheet px-4 py-3">
      <b className="mb-2 block">{now.name}</b>
      <JobProgress job={now} />
    </section>
  );
}

interface PlaceValues {
  file: string;
  row: number;
  reason: string;
}
export interface ReportValues {
  new: number;
  known: number;
  changed: number;
  other_values?: number;
  taken?: number;
  refused: number;
  alike: number;
  words: number;
  remarks_total: number;
  refusals: PlaceValues[];
  changes: PlaceValues[];
  remarks: PlaceValues[];
  notices: string[];
}

export function Report({ report, deliveryId }: { report: ReportValues; deliveryId?: number }) {
  const project = useProjectId();
  const { fail } = useToast();
  const numbers: [string, number, string][] = [
    ["new", report.new, "stored now"],
    ["known", report.known, "were in the project already"],
    ...(report.other_values
      ? [["other values", report.other_values, "known with other values"] as [string, number, string]]
      : []),
    ["changed", report.changed, "known with another text"],
    ...(report.taken
      ? [["renewed", report.taken, "were given newer words or values"] as [string, number, string]]
      : []),
    ["refused", report.refused, "rows or files not taken"],
  ];
  const places = [...report.refusals, ...report.changes, ...report.remarks];
  return (
    <div>
      <dl className="flex flex-wrap gap-x-7 gap-y-1">
        {numbers.map(([name, value, what]) => (
          <div key={name} title={what}>
            <dt className="text-[11.5px] text-ink2">{name}</dt>
            <dd
              className={`text-[17px] font-[650] ${name === "refused" && value ? "text-rust" : ""}`}
              data-testid={`report-${name}`}
            >
              {whole(value)}
            </dd>
          </div>
        ))}
      </dl>
      {report.alike > 0 && (
        <p className="mt-2 text-ink2">
          {plural(report.alike, "text")} without a key agree with another of this delivery in all that tells
          them apart; all were kept.
        </p>
      )}
      {report.notices.map((notice) => (
        <p key={notice} className="mt-2 text-rust">
          {notice}
        </p>
      ))}
      {places.length > 0 && (
        <details className="mt-2">
          <summary className="cursor-pointer font-semibold text-bottle">
            What was not taken as it was (
            {whole(report.refused + report.changed + (report.other_values ?? 0) + report.remarks_total)})
          </summary>
          <PlaceList places={places.slice(0, 200)} />
          {deliveryId !== undefined && (
            <Button
              className="mt-2"
              onClick={() =>
                void saveFile(`/api/v1/projects/${project}/deliveries/${deliveryId}/report`).catch(fail)
              }
            >
              Export the list
            </Button>
          )}
        </details>
      )}
    </div>
  );
}

export function PlaceList({ places }: { places: readonly (PlaceValues & { kept?: boolean })[] }) {
  return (
    <ul className="mt-1.5 max-h-[210px] overflow-auto rounded border border-line">
      {places.map((place, at) => (
        <li
          key={at}
          className="grid grid-cols-[minmax(110px,190px)_1fr] gap-3 border-b border-line px-2.5 py-1 last:border-0"
        >
          <span className="truncate text-ink2" title={place.file}>
            {place.file}
            {place.row ? `, row ${whole(place.row)}` : ""}
          </span>
          <span className={place.kept ? "" : "text-rust"}>{place.reason}</span>
        </li>
      ))}
    </ul>
  );
}
