import { type DragEvent, useRef, useState } from "react";
import { api, data, ProblemError, type Schema } from "../../api/client";
import { Button } from "../../parts/controls";

export interface Dropped {
  file: File;
  path: string;
}

/** Files to the server, with their places in a dropped folder. */
export async function send(url: string, files: readonly Dropped[]): Promise<Response> {
  const form = new FormData();
  for (const { file, path } of files) {
    form.append("files", file);
    form.append("paths", path);
  }
  const answer = await fetch(url, { method: "POST", body: form }).catch(() => {
    throw new ProblemError(
      "The files could not be sent; the server does not answer, or a file was changed meanwhile.",
      0,
    );
  });
  if (!answer.ok) {
    const body = (await answer.json().catch(() => ({}))) as { detail?: string };
    throw new ProblemError(body.detail ?? "The files could not be sent.", answer.status);
  }
  return answer;
}

export async function sendUpload(
  project: number,
  files: readonly Dropped[],
): Promise<Schema["UploadPublic"]> {
  const size = files.reduce((sum, { file }) => sum + file.size, 0);
  // asked before anything is sent: who is refused in the middle of sending does not hear why
  await data(
    api.GET("/api/v1/projects/{project_id}/uploads/room", {
      params: { path: { project_id: project }, query: { size } },
    }),
  );
  return (await (await send(`/api/v1/projects/${project}/uploads`, files)).json()) as Schema["UploadPublic"];
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

export function DropZone({
  busy,
  onFiles,
  onType,
}: {
  busy: boolean;
  onFiles: (files: Dropped[]) => void;
  onType: () => void;
}) {
  const [over, setOver] = useState(false);
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const onDrop = async (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    const entries = [...event.dataTransfer.items]
      .map((item) => item.webkitGetAsEntry())
      .filter((entry) => entry !== null);
    onFiles((await Promise.all(entries.map((entry) => fromEntry(entry, "")))).flat());
  };
  const take = (list: FileList | null) =>
    list?.length && onFiles([...list].map((file) => ({ file, path: file.webkitRelativePath || file.name })));
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: what lies in it is reached by keys; it hears what comes up from there
    <div
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => void onDrop(event)}
      className={`rounded-lg border-2 border-dashed px-6 py-12 text-center ${over ? "border-bottle bg-tint" : "border-line2 bg-sheet"}`}
    >
      <div className="mb-1 text-[15px] font-[650]">
        {busy ? "Receiving the files…" : "Drop files, folders or archives here"}
      </div>
      <div className="mx-auto mb-4 max-w-[560px] text-ink2">
        Tables and workbooks, JSON, feeds and reference lists; Word, OpenDocument, PDF, web pages, rich text,
        e-books, plain text; .zip and .tar of these. Nothing is stored before you have seen how it will be
        read.
      </div>
      <div className="flex justify-center gap-2">
        <Button look="main" disabled={busy} onClick={() => files.current?.click()}>
          Choose files
        </Button>
        <Button disabled={busy} onClick={() => folder.current?.click()}>
          Choose a folder
        </Button>
        <Button disabled={busy} onClick={onType}>
          Type or paste a text
        </Button>
      </div>
      <input
        ref={files}
        type="file"
        multiple
        hidden
        data-testid="file-input"
        onChange={(event) => take(event.target.files)}
      />
      <input
        ref={folder}
        type="file"
        hidden
        {...({ webkitdirectory: "" } as object)}
        onChange={(event) => take(event.target.files)}
      />
    </div>
  );
}
