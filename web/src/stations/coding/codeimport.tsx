import { useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { useChange, useProjectId } from "../../data/project";
import { plural } from "../../lib/numbers";
import { Button, Dialog, Failure, Select } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { Steps } from "./codesteps";

/** Codes from a table or the exchange format: what they would do first, then taken over. */
export function CodebookImport({ onClose }: { onClose: () => void }) {
  const project_id = useProjectId();
  const { tell } = useToast();
  const [file, setFile] = useState<File | null>(null);
  const [head, setHead] = useState("");
  const [groups, setGroups] = useState(true);
  const [told, setTold] = useState<Schema["CodebookTaken"] | null>(null);
  const send = ({ file, head, groups, try_only }: Asked) =>
    data(
      api.POST("/api/v1/projects/{project_id}/codebook/import", {
        params: {
          path: { project_id },
          query: { try_only, groups, ...(head ? { head: head === "names" } : {}) },
        },
        body: { file: file as unknown as string },
        bodySerializer: () => {
          const form = new FormData();
          form.append("file", file);
          return form;
        },
      }),
    );
  const look = useChange(send, setTold, "jobs");
  const take = useChange(
    send,
    (found) => {
      tell(
        found.label
          ? `${found.label}. Undo takes it back.`
          : "Nothing to import: all codes are in the codebook already.",
      );
      onClose();
    },
    "anything",
  );
  const ask = (part: { file?: File | null; head?: string; groups?: boolean }) => {
    const next = { file, head, groups, ...part };
    setTold(null);
    if (next.file) look.mutate({ ...next, file: next.file, try_only: true });
  };
  const some = told?.steps.filter((one) => one.state !== "known").length ?? 0;
  const taken = some + (told?.groups_new.length ?? 0);
  const table = file && !/\.qdc$/i.test(file.name);
  return (
    <Dialog title="Codes from a file" open onClose={onClose} wide>
      <p className="mb-2 text-ink2">
        A table (.csv, .xlsx, .ods) with a column “code”, its levels separated by “&gt;”, or “level 1”, “level
        2”…; with “description”, “rule”, “example”, “counter-example”; every other column is a group. Or a
        codebook of another program (.qdc).
      </p>
      <input
        type="file"
        aria-label="Codebook file"
        accept=".csv,.tsv,.txt,.xlsx,.xlsm,.xls,.ods,.qdc,.xml"
        onChange={(event) => {
          const chosen = event.target.files?.[0] ?? null;
          setFile(chosen);
          ask({ file: chosen });
        }}
        className="mb-2 block"
      />
      {table && (
        <div className="mb-2 flex items-center gap-4">
          <label className="flex items-center gap-1.5 text-ink2">
            The first row
            <Select
              value={head}
              choices={[
                { value: "", label: "is looked at" },
                { value: "names", label: "names the columns" },
                { value: "code", label: "is a code" },
              ]}
              onChange={(value) => {
                setHead(value);
                ask({ head: value });
              }}
              className="w-auto!"
            />
          </label>
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={groups}
              onChange={(event) => {
                setGroups(event.target.checked);
                ask({ groups: event.target.checked });
              }}
            />
            other columns are groups
          </label>
        </div>
      )}
      {look.isPending && <p role="status">Reading the file</p>}
      {look.error && !told && <Failure error={look.error} />}
      {told && <Steps told={told} />}
      <div className="mt-3 flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button
          look="main"
          disabled={!file || !taken || take.isPending}
          onClick={() => file && take.mutate({ file, head, groups, try_only: false })}
        >
          {told && !taken ? "All codes are there already" : `Import ${plural(some, "code")}`}
        </Button>
      </div>
    </Dialog>
  );
}

interface Asked {
  file: File;
  head: string;
  groups: boolean;
  try_only: boolean;
}
