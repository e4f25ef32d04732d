import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useLocation } from "react-router";
import { api, data, type Schema } from "../../api/client";
import { keys } from "../../data/keys";
import { useProjectId } from "../../data/project";
import { plural } from "../../lib/numbers";
import { useSettled } from "../../lib/settled";
import { Button, Failure, Field, Input, Waiting } from "../../parts/controls";
import { JobProgress, useJob } from "../../shell/jobs";
import { type Again, Expected, KEEP, useExpected } from "./again";
import { PlaceList, Report, type ReportValues } from "./deliveries";
import { LotCard } from "./lot";
import { textColumns } from "./mapping";
import { type Dropped, DropZone, sendUpload } from "./upload";

type Choices = Record<string, Schema["LotChoiceModel"]>;

/** Drop, look, map, check, import: nothing is stored before the last step. */
export function ImportFlow() {
  const project_id = useProjectId();
  const { search, state } = useLocation();
  // records of the search for articles come as a file that was received already
  const given = (state as { upload?: Schema["UploadPublic"] } | null)?.upload ?? null;
  const [uploaded, setUploaded] = useState<Schema["UploadPublic"] | null>(given);
  const [jobId, setJobId] = useState<number | null>(null);
  const [typing, setTyping] = useState(false);
  const upload = useMutation({
    mutationFn: (files: readonly Dropped[]) => sendUpload(project_id, files),
    onSuccess: setUploaded,
  });
  const again = () => {
    setUploaded(null);
    setJobId(null);
    setTyping(false);
    upload.reset();
  };
  return (
    <div className="h-full overflow-auto px-4 py-3">
      <div className="mx-auto max-w-[1080px]">
        <Link
          to={`/projects/${project_id}/corpus${search}`}
          className="font-semibold text-bottle hover:underline"
        >
          All texts
        </Link>
        <h1 className="mt-2 mb-3 text-[19px] font-[650]">Import texts</h1>
        {upload.error && (
          <div className="mb-3">
            <Failure error={upload.error} />
          </div>
        )}
        {!uploaded && !typing && jobId === null && (
          <DropZone
            busy={upload.isPending}
            onFiles={(files) => upload.mutate(files)}
            onType={() => setTyping(true)}
          />
        )}
        {typing && jobId === null && <TypeText onStart={setJobId} onAgain={again} />}
        {uploaded && jobId === null && <Look upload={uploaded} onStart={setJobId} onAgain={again} />}
        {jobId !== null && <Running jobId={jobId} onAgain={again} />}
      </div>
    </div>
  );
}

function TypeText({ onStart, onAgain }: { onStart: (jobId: number) => void; onAgain: () => void }) {
  const project_id = useProjectId();
  const [text, setText] = useState({ title: "", source: "", date: "", body: "" });
  const set = (name: keyof typeof text) => (event: { target: { value: string } }) =>
    setText({ ...text, [name]: event.target.value });
  const start = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/texts", {
          params: { path: { project_id } },
          body: {
            title: text.title.trim(),
            body: text.body,
            source: text.source.trim() || null,
            date: text.date || null,
          },
        }),
      ),
    onSuccess: (job) => onStart(job.id),
  });
  return (
    <section className="max-w-[760px] rounded-md border border-line bg-sheet p-4">
      <div className="grid grid-cols-[2fr_1fr_150px] gap-3">
        <Field label="Title">
          {(id) => <Input id={id} autoFocus value={text.title} onChange={set("title")} maxLength={500} />}
        </Field>
        <Field label="Source">
          {(id) => <Input id={id} value={text.source} onChange={set("source")} placeholder="none" />}
        </Field>
        <Field label="Date">
          {(id) => <Input id={id} type="date" value={text.date} onChange={set("date")} />}
        </Field>
      </div>
      <Field label="Text" hint="A blank line parts paragraphs.">
        {(id) => (
          <textarea
            id={id}
            rows={14}
            value={text.body}
            onChange={set("body")}
            className="w-full rounded-[5px] border border-line2 bg-sheet px-3 py-2 font-serif text-[15px]"
          />
        )}
      </Field>
      {start.error && (
        <div className="mb-3">
          <Failure error={start.error} />
        </div>
      )}
      <div className="flex gap-2">
        <Button
          look="main"
          disabled={!text.title.trim() || !text.body.trim() || start.isPending}
          onClick={() => start.mutate()}
        >
          Add the text
        </Button>
        <Button onClick={onAgain}>Choose files instead</Button>
      </div>
    </section>
  );
}

function Look({
  upload,
  onStart,
  onAgain,
}: {
  upload: Schema["UploadPublic"];
  onStart: (jobId: number) => void;
  onAgain: () => void;
}) {
  const project_id = useProjectId();
  const [chosen, setChosen] = useState<Choices>({});
  const [again, setAgain] = useState<Again>(KEEP);
  const asked = useSettled(chosen, 250);
  const look = useQuery({
    queryKey: keys.of(project_id, "preview", upload.id, asked),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/uploads/{upload_id}/preview", {
          params: { path: { project_id, upload_id: upload.id } },
          body: { lots: asked },
        }),
      ),
    placeholderData: (before) => before,
  });
  const lots: Choices = Object.fromEntries(
    (look.data?.lots ?? []).map((lot) => [
      lot.key,
      chosen[lot.key]?.mapping
        ? chosen[lot.key]!
        : { ...lot.choice, ...(chosen[lot.key] ?? {}), mapping: lot.choice.mapping ?? null },
    ]),
  );
  const start = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/imports", {
          params: { path: { project_id } },
          body: { upload_id: upload.id, lots, again },
        }),
      ),
    onSuccess: (job) => onStart(job.id),
  });
  const taken = (look.data?.lots ?? []).filter((lot) => !lots[lot.key]?.leave_out);
  const ready =
    taken.length > 0 &&
    taken.every((lot) => {
      const mapping = lots[lot.key]?.mapping;
      return mapping && (textColumns(mapping).length > 0 || mapping.placeholders);
    });
  const expected = useExpected(upload.id, lots, ready);
  const conflict = ready && (expected.data?.conflicts.length ?? 0) > 0;
  if (look.isPending) return <Waiting what="Looking at the files" />;
  if (look.error)
    return (
      <>
        <Failure error={look.error} />
        <Button className="mt-3" onClick={onAgain}>
          Choose other files
        </Button>
      </>
    );
  const found = look.data;
  return (
    <div>
      <p className="mb-3 text-ink2">
        {plural(upload.files.length, "file")} dropped,{" "}
        {plural(
          taken.reduce((sum, lot) => sum + lot.files, 0),
          "file or sheet",
          "files and sheets",
        )}{" "}
        to read, gathered by what can be read alike.
      </p>
      {found.lots.map((lot) => (
        <LotCard
          key={lot.key}
          lot={{ ...lot, choice: lots[lot.key]! }}
          everything={found.everything}
          onChange={(choice) => setChosen({ ...chosen, [lot.key]: choice })}
        />
      ))}
      <section className="mb-4">
        <h2 className="mb-1 text-[14px] font-[650]">
          {found.problems_total
            ? `${plural(found.problems_total, "remark")} before anything is stored`
            : "No problems found"}
        </h2>
        <p className="text-ink2">
          {found.checked === 1 && found.everything
            ? "All of it was checked."
            : found.everything
              ? `All ${plural(found.checked, "row or file", "rows and files")} were checked.`
              : `The first ${plural(found.checked, "row or file", "rows and files")} were checked; the rest is checked while it is read.`}
        </p>
        {found.notices.map((notice) => (
          <p key={notice} className="text-rust">
            {notice}
          </p>
        ))}
        {found.problems.length > 0 && <PlaceList places={found.problems} />}
      </section>
      {ready && <Expected found={expected} again={again} onAgain={setAgain} />}
      {start.error && (
        <div className="mb-3">
          <Failure error={start.error} />
        </div>
      )}
      {/* it stays where it is while more comes above it */}
      <div className="sticky -bottom-3 z-10 flex items-center gap-2 bg-paper pt-3 pb-5">
        <Button look="main" disabled={!ready || conflict || start.isPending} onClick={() => start.mutate()}>
          Import
        </Button>
        <Button onClick={onAgain}>Choose other files</Button>
        {(!ready || conflict) && (
          <span className="text-rust" role="status">
            {conflict
              ? "A column does not fit the variable of its name; see above."
              : taken.length
                ? "Say which column holds the text, or leave these out above."
                : "There is nothing here to import; the reasons are above."}
          </span>
        )}
      </div>
    </div>
  );
}

function Running({ jobId, onAgain }: { jobId: number; onAgain: () => void }) {
  const project = useProjectId();
  const { search } = useLocation();
  const job = useJob(jobId);
  if (!job) return <Waiting what="Beginning" />;
  if (job.state === "queued" || job.state === "running")
    return (
      <section className="rounded-md border border-line bg-sheet p-4">
        <JobProgress job={job} />
      </section>
    );
  if (job.state !== "done")
    return (
      <>
        <Failure error={new Error(job.message ?? "The import ended.")} />
        <Button className="mt-3" onClick={onAgain}>
          Choose files again
        </Button>
      </>
    );
  const report = job.result as unknown as ReportValues & { delivery_id: number };
  return (
    <section className="rounded-md border border-line bg-sheet p-4">
      <h2 className="mb-3 text-[14px] font-[650]" data-testid="import-done">
        Imported {plural(report.new, "text")}, {plural(report.words, "word")}
      </h2>
      <Report report={report} deliveryId={report.delivery_id} />
      <div className="mt-4 flex gap-2">
        <Link to={`/projects/${project}/corpus${search}`}>
          <Button look="main">See the texts</Button>
        </Link>
        <Link to={`/projects/${project}/corpus/check${search}`}>
          <Button>Check the corpus</Button>
        </Link>
        <Button onClick={onAgain}>Import more</Button>
      </div>
    </section>
  );
}
