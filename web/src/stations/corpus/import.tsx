import { useMutation, useQuery } from "@tanstack/react-query";
import { type DragEvent, useRef, useState } from "react";
import { Link, useLocation } from "react-router";
import { api, data, ProblemError, type Schema } from "../../api/client";
import { date, plural, whole } from "../../lib/numbers";
import { Button, Failure, Field, Input, Select, Waiting } from "../../parts/controls";
import { JobProgress, useJob } from "../../shell/jobs";
import { useProjectId } from "../../shell/project";
import { PlaceList, Report, type ReportValues } from "./deliveries";
import { Value } from "./table";

type Mapping = Schema["MappingModel"];
type Target = Schema["TargetModel"];
const ROLES = [
  { value: "skip", label: "Leave out" },
  { value: "text", label: "Text" },
  { value: "title", label: "Title" },
  { value: "source", label: "Source" },
  { value: "date", label: "Date" },
  { value: "key", label: "Key" },
  { value: "variable", label: "Variable" },
];
const KINDS = [
  { value: "category", label: "category" },
  { value: "several", label: "several categories" },
  { value: "number", label: "number" },
  { value: "date", label: "date" },
  { value: "text", label: "text" },
];
const ENCODINGS = ["", "utf-8", "cp1252", "utf-16", "iso-8859-15", "cp1250", "cp1251", "mac-roman"];
const DELIMITERS = [
  { value: "", label: "as found" },
  { value: ",", label: "comma" },
  { value: ";", label: "semicolon" },
  { value: "\t", label: "tab" },
  { value: "|", label: "bar" },
];

/** Drop, look, map, check, import: nothing is stored before the last step. */
export function ImportFlow() {
  const project_id = useProjectId();
  const { search } = useLocation();
  const [uploaded, setUploaded] = useState<Schema["UploadPublic"] | null>(null);
  const [jobId, setJobId] = useState<number | null>(null);
  const upload = useMutation({ mutationFn: (files: readonly Dropped[]) => send(project_id, files), onSuccess: setUploaded });
  const again = () => {
    setUploaded(null);
    setJobId(null);
    upload.reset();
  };
  return (
    <div className="h-full overflow-auto px-4 py-3">
      <div className="mx-auto max-w-[1040px]">
        <Link to={`/projects/${project_id}/corpus${search}`} className="font-semibold text-bottle hover:underline">All texts</Link>
        <h1 className="mt-2 mb-3 text-[19px] font-[650]">Import texts</h1>
        {upload.error && <div className="mb-3"><Failure error={upload.error} /></div>}
        {!uploaded && <DropZone busy={upload.isPending} onFiles={(files) => upload.mutate(files)} />}
        {uploaded && jobId === null && <Look upload={uploaded} onStart={setJobId} onAgain={again} />}
        {jobId !== null && <Running jobId={jobId} onAgain={again} />}
      </div>
    </div>
  );
}

interface Dropped { file: File; path: string }

async function send(project: number, files: readonly Dropped[]): Promise<Schema["UploadPublic"]> {
  const form = new FormData();
  for (const { file, path } of files) {
    form.append("files", file);
    form.append("paths", path);
  }
  const answer = await fetch(`/api/v1/projects/${project}/uploads`, { method: "POST", body: form }).catch(() => {
    throw new ProblemError("The files could not be sent; the server does not answer.", 0);
  });
  const body = await answer.json();
  if (!answer.ok) throw new ProblemError(body.detail ?? "The files could not be sent.", answer.status);
  return body as Schema["UploadPublic"];
}

async function fromEntry(entry: FileSystemEntry, prefix: string): Promise<Dropped[]> {
  if (entry.isFile) {
    const file = await new Promise<File>((take, fail) => (entry as FileSystemFileEntry).file(take, fail));
    return [{ file, path: prefix + entry.name }];
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const found: FileSystemEntry[] = [];
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((take, fail) => reader.readEntries(take, fail));
    if (!some.length) break;
    found.push(...some);
  }
  const nested = await Promise.all(found.map((inner) => fromEntry(inner, `${prefix}${entry.name}/`)));
  return nested.flat();
}

function DropZone({ busy, onFiles }: { busy: boolean; onFiles: (files: Dropped[]) => void }) {
  const [over, setOver] = useState(false);
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const onDrop = async (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    const entries = [...event.dataTransfer.items].map((item) => item.webkitGetAsEntry()).filter((entry) => entry !== null);
    onFiles((await Promise.all(entries.map((entry) => fromEntry(entry, "")))).flat());
  };
  const take = (list: FileList | null) => list?.length && onFiles([...list].map((file) => ({ file, path: file.webkitRelativePath || file.name })));
  return (
    <div
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => void onDrop(event)}
      className={`rounded-lg border-2 border-dashed px-6 py-14 text-center ${over ? "border-bottle bg-tint" : "border-line2 bg-sheet"}`}
    >
      <div className="mb-1 text-[15px] font-[650]">{busy ? "Receiving the files…" : "Drop files or a folder here"}</div>
      <div className="mb-4 text-ink2">Tables (.csv, .tsv) with one text a row; plain text files (.txt, .md), one text each; .zip archives of these.<br />Nothing is stored before you have seen how it will be read.</div>
      <div className="flex justify-center gap-2">
        <Button look="main" disabled={busy} onClick={() => files.current?.click()}>Choose files</Button>
        <Button disabled={busy} onClick={() => folder.current?.click()}>Choose a folder</Button>
      </div>
      <input ref={files} type="file" multiple hidden data-testid="file-input" onChange={(event) => take(event.target.files)} />
      <input ref={folder} type="file" hidden {...({ webkitdirectory: "" } as object)} onChange={(event) => take(event.target.files)} />
    </div>
  );
}

function Look({ upload, onStart, onAgain }: { upload: Schema["UploadPublic"]; onStart: (jobId: number) => void; onAgain: () => void }) {
  const project_id = useProjectId();
  const [mapping, setMapping] = useState<Mapping | null>(null);
  const [textMapping, setTextMapping] = useState<Mapping | null>(null);
  const [encoding, setEncoding] = useState("");
  const [delimiter, setDelimiter] = useState("");
  const request = { mapping, text_mapping: textMapping, encoding: encoding || null, delimiter: delimiter || null };
  const look = useQuery({
    queryKey: ["project", project_id, "preview", upload.id, request],
    queryFn: () => data(api.POST("/api/v1/projects/{project_id}/uploads/{upload_id}/preview", { params: { path: { project_id, upload_id: upload.id } }, body: request })),
    placeholderData: (before) => before,
  });
  const start = useMutation({
    mutationFn: () =>
      data(api.POST("/api/v1/projects/{project_id}/imports", { params: { path: { project_id } }, body: { upload_id: upload.id, ...request, mapping: mapping ?? look.data?.table?.mapping ?? null, text_mapping: textMapping ?? look.data?.text_mapping ?? null } })),
    onSuccess: (job) => onStart(job.id),
  });
  const reread = (set: (value: string) => void) => (value: string) => {
    set(value);
    setMapping(null);
  };
  if (look.isPending) return <Waiting what="Looking at the files" />;
  if (look.error) return <><Failure error={look.error} /><Button className="mt-3" onClick={onAgain}>Choose other files</Button></>;
  const found = look.data;
  const now = mapping ?? found.table?.mapping ?? null;
  const hasText = now?.targets.some((target) => target.role === "text");
  const ready = (found.table !== null && hasText) || (found.table === null && found.text_files > 0);
  return (
    <div>
      <p className="mb-3 text-ink2">
        {plural(upload.files.length, "file")}: {upload.files.slice(0, 3).join(", ")}{upload.files.length > 3 ? ` and ${upload.files.length - 3} more` : ""}.
        {found.table && found.other_tables.length > 0 && ` ${plural(found.other_tables.length, "more table")} will be read with the same columns.`}
      </p>
      {found.table && now && (
        <section className="mb-4 rounded-md border border-line bg-sheet p-3.5">
          <div className="mb-2.5 flex flex-wrap items-center gap-3">
            <h2 className="text-[14px] font-[650]">Columns of {found.table.file}</h2>
            <label className="ml-auto flex items-center gap-1.5 text-ink2">Encoding <Select value={encoding} onChange={reread(setEncoding)} choices={ENCODINGS.map((value) => ({ value, label: value || `as found (${found.table!.encoding})` }))} className="w-auto!" /></label>
            <label className="flex items-center gap-1.5 text-ink2">Cells parted by <Select value={delimiter} onChange={reread(setDelimiter)} choices={DELIMITERS} className="w-auto!" /></label>
            <label className="flex items-center gap-1.5 text-ink2">03/06 is <Select value={now.day_first ? "day" : "month"} onChange={(v) => setMapping({ ...now, day_first: v === "day" })} choices={[{ value: "day", label: "3 June" }, { value: "month", label: "6 March" }]} className="w-auto!" /></label>
          </div>
          <Columns header={found.table.header} rows={found.table.rows} mapping={now} onChange={setMapping} />
          {!now.targets.some((target) => target.role === "source") && (
            <div className="mt-3 max-w-[320px]">
              <Field label="One source for all of them">{(id) => <Input id={id} value={now.source_name ?? ""} onChange={(event) => setMapping({ ...now, source_name: event.target.value || null })} placeholder="none" />}</Field>
            </div>
          )}
          {!hasText && <p role="alert" className="mt-2 text-rust">Say which column holds the text.</p>}
        </section>
      )}
      {found.text_files > 0 && (
        <section className="mb-4 rounded-md border border-line bg-sheet p-3.5">
          <h2 className="mb-2 text-[14px] font-[650]">{plural(found.text_files, "text file")}, one text each</h2>
          <TextFileMapping mapping={textMapping ?? found.text_mapping} onChange={setTextMapping} />
        </section>
      )}
      <Samples samples={found.samples} />
      <section className="mb-4">
        <h2 className="mb-1 text-[14px] font-[650]">{found.problems_total ? `${plural(found.problems_total, "remark")} before anything is stored` : "Nothing to remark"}</h2>
        <p className="text-ink2">{found.everything ? `All ${plural(found.checked, "row")} were looked over.` : `The first ${plural(found.checked, "row")} were looked over; the rest is checked while it is read.`}</p>
        {found.notices.map((notice) => <p key={notice} className="text-rust">{notice}</p>)}
        {found.problems.length > 0 && <PlaceList places={found.problems} />}
      </section>
      {start.error && <div className="mb-3"><Failure error={start.error} /></div>}
      <div className="flex gap-2 pb-6">
        <Button look="main" disabled={!ready || start.isPending} onClick={() => start.mutate()}>Import</Button>
        <Button onClick={onAgain}>Choose other files</Button>
      </div>
    </div>
  );
}

function Columns({ header, rows, mapping, onChange }: { header: readonly string[]; rows: readonly (readonly string[])[]; mapping: Mapping; onChange: (mapping: Mapping) => void }) {
  const targetOf = (column: string): Target => mapping.targets.find((target) => target.column === column) ?? { column, role: "skip", name: "", kind: "category", separator: ";" };
  const change = (column: string, values: Partial<Target>) => {
    const single = values.role !== undefined && values.role !== "variable" && values.role !== "skip";
    onChange({
      ...mapping,
      targets: header.map((name) => {
        const target = targetOf(name);
        if (name === column) return { ...target, ...values };
        return single && target.role === values.role ? { ...target, role: "skip" as const } : target;
      }),
    });
  };
  return (
    <div className="overflow-auto rounded border border-line" tabIndex={0} aria-label="Columns and first rows">
      <table className="w-full">
        <thead>
          <tr>
            {header.map((column) => {
              const target = targetOf(column);
              return (
                <th key={column} className="min-w-[130px] border-r border-b border-line2 px-2 py-1.5 text-left align-top font-normal last:border-r-0">
                  <div className="mb-1 truncate font-semibold" title={column}>{column}</div>
                  <Select aria-label={`What is ${column}`} value={target.role} choices={ROLES} onChange={(role) => change(column, { role: role as Target["role"], name: target.name || column })} className={target.role === "text" ? "border-bottle! font-semibold" : ""} />
                  {target.role === "variable" && (
                    <div className="mt-1 flex gap-1">
                      <Select aria-label={`Kind of ${column}`} value={target.kind ?? "category"} choices={KINDS} onChange={(kind) => change(column, { kind: kind as NonNullable<Target["kind"]> })} />
                      {target.kind === "several" && <Input aria-label={`Sign between values of ${column}`} title="Sign between the values" value={target.separator ?? ";"} maxLength={5} onChange={(event) => change(column, { separator: event.target.value || ";" })} className="w-[34px]! text-center" />}
                    </div>
                  )}
                </th>
              );
            })}
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, 4).map((row, at) => (
            <tr key={at} className="border-b border-line last:border-0">
              {row.map((cell, i) => (
                <td key={i} className={`max-w-[260px] truncate border-r border-line px-2 py-1 last:border-r-0 ${targetOf(header[i] ?? "").role === "skip" ? "text-ink3" : ""}`}>{cell}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function TextFileMapping({ mapping, onChange }: { mapping: Mapping; onChange: (mapping: Mapping) => void }) {
  const title = mapping.targets.find((target) => target.role === "title")?.column ?? "File";
  const folders = mapping.targets.some((target) => target.role === "source");
  const make = (titleColumn: string, fromFolder: boolean, name: string | null): Mapping => ({
    targets: [
      { column: titleColumn, role: "title", name: "", kind: "category", separator: ";" },
      { column: "Text", role: "text", name: "", kind: "category", separator: ";" },
      ...(fromFolder ? [{ column: "Folder", role: "source" as const, name: "", kind: "category" as const, separator: ";" }] : []),
    ],
    source_name: fromFolder ? null : name,
    day_first: true,
  });
  return (
    <div className="grid max-w-[640px] grid-cols-3 gap-4">
      <Field label="Named by">{(id) => <Select id={id} value={title} choices={[{ value: "File", label: "file name" }, { value: "First line", label: "first line" }]} onChange={(value) => onChange(make(value, folders, mapping.source_name ?? null))} />}</Field>
      <Field label="Source">{(id) => <Select id={id} value={folders ? "folder" : "one"} choices={[{ value: "one", label: "one for all" }, { value: "folder", label: "name of the folder" }]} onChange={(value) => onChange(make(title, value === "folder", mapping.source_name ?? null))} />}</Field>
      {!folders && <Field label="Name of the source">{(id) => <Input id={id} value={mapping.source_name ?? ""} placeholder="none" onChange={(event) => onChange(make(title, false, event.target.value || null))} />}</Field>}
    </div>
  );
}

function Samples({ samples }: { samples: readonly Schema["TextSample"][] }) {
  if (!samples.length) return null;
  return (
    <section className="mb-4">
      <h2 className="mb-1.5 text-[14px] font-[650]">The first texts will be</h2>
      <div className="grid grid-cols-2 gap-2.5">
        {samples.slice(0, 4).map((sample, at) => (
          <div key={at} className="min-w-0 rounded-md border border-line bg-sheet px-3 py-2">
            <div className="truncate font-semibold">{sample.title}</div>
            <div className="truncate text-ink2">{[sample.source ?? "no source", date(sample.date) || "no date"].join(", ")}</div>
            <div className="line-clamp-2 font-serif text-[13.5px]">{sample.start}</div>
            <div className="mt-1 flex flex-wrap gap-x-3 text-[11.5px] text-ink2">
              {Object.entries(sample.values).map(([name, value]) => <span key={name}>{name}: <Value value={value} /></span>)}
            </div>
          </div>
        ))}
      </div>
    </section>
  );
}

function Running({ jobId, onAgain }: { jobId: number; onAgain: () => void }) {
  const project = useProjectId();
  const { search } = useLocation();
  const job = useJob(jobId);
  if (!job) return <Waiting what="Beginning" />;
  if (job.state === "queued" || job.state === "running") return <section className="rounded-md border border-line bg-sheet p-4"><JobProgress job={job} /></section>;
  if (job.state !== "done") return <><Failure error={new Error(job.message ?? "The import ended.")} /><Button className="mt-3" onClick={onAgain}>Choose files again</Button></>;
  const report = job.result as unknown as ReportValues & { delivery_id: number };
  return (
    <section className="rounded-md border border-line bg-sheet p-4">
      <h2 className="mb-3 text-[14px] font-[650]" data-testid="import-done">Imported {plural(report.new, "text")}, {whole(report.words)} words</h2>
      <Report report={report} deliveryId={report.delivery_id} />
      <div className="mt-4 flex gap-2">
        <Link to={`/projects/${project}/corpus${search}`}><Button look="main">See the texts</Button></Link>
        <Button onClick={onAgain}>Import more</Button>
      </div>
    </section>
  );
}
