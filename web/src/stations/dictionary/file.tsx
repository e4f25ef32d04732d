import { useMutation } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { type Schema, sendFile } from "../../api/client";
import { useProjectId, useRefresh } from "../../data/project";
import { plural, whole } from "../../lib/numbers";
import { Button, Dialog, Failure, Field, Select } from "../../parts/controls";
import { useToast } from "../../parts/toast";

export interface FileUse {
  as: "new" | "merge";
}

/** Take in a file: as a dictionary of its own, or merged into the one that is open, conflicts shown first. */
export function DictionaryFile({
  use,
  tree,
  onMade,
  onClose,
}: {
  use: FileUse | null;
  tree: Schema["DictionaryTree"] | null;
  onMade: (id: number) => void;
  onClose: () => void;
}) {
  return (
    <Dialog
      title={use?.as === "merge" ? `Merge a file into ${tree?.name}` : "Import a dictionary"}
      open={use !== null}
      onClose={onClose}
      wide
    >
      {use && <Taking use={use} tree={tree} onMade={onMade} onClose={onClose} />}
    </Dialog>
  );
}

function Taking({
  use,
  tree,
  onMade,
  onClose,
}: {
  use: FileUse;
  tree: Schema["DictionaryTree"] | null;
  onMade: (id: number) => void;
  onClose: () => void;
}) {
  const project_id = useProjectId();
  const refresh = useRefresh();
  const { tell } = useToast();
  const input = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<File | null>(null);
  const [into, setInto] = useState("");
  const [theirs, setTheirs] = useState<readonly string[]>([]);
  const [made, setMade] = useState<Schema["DictionaryImported"] | null>(null);
  const base = `/api/v1/projects/${project_id}/dictionaries`;
  const form = (given: File, more: Record<string, string> = {}) => {
    const out = new FormData();
    out.append("file", given);
    if (into) out.append("into", into);
    for (const [name, value] of Object.entries(more)) out.append(name, value);
    return out;
  };
  const look = useMutation({
    mutationFn: (given: File) =>
      sendFile<Schema["MergePreview"]>(`${base}/${tree!.id}/merge/preview`, form(given)),
    onSuccess: () => setTheirs([]),
  });
  const take = useMutation({
    mutationFn: (given: File) => sendFile<Schema["DictionaryImported"]>(`${base}/import`, form(given)),
    onSuccess: async (out) => {
      await refresh();
      onMade(out.dictionary.id);
      tell(`${plural(out.added, "term")} imported${out.doubles ? `, ${out.doubles} doubles left out` : ""}.`);
      if (out.refused.length) setMade(out);
      else onClose();
    },
  });
  const merge = useMutation({
    mutationFn: (given: File) =>
      sendFile<Schema["TermsAdded"]>(
        `${base}/${tree!.id}/merge`,
        form(given, { take_theirs: JSON.stringify(theirs) }),
      ),
    onSuccess: async (out) => {
      await refresh();
      tell(
        `${plural(out.added, "term")} added${theirs.length ? `, ${plural(theirs.length, "conflict")} settled their way` : ""}. Undo takes all of it back.`,
      );
      onClose();
    },
  });
  const choose = (given: File) => {
    setFile(given);
    if (use.as === "merge") look.mutate(given);
    else take.mutate(given);
  };
  const error = look.error ?? take.error ?? merge.error;
  const plan = look.data;
  if (made)
    return (
      <>
        <p className="mb-2">{plural(made.added, "term")} imported. Not taken:</p>
        <Refusals refused={made.refused} />
        <div className="mt-3 text-right">
          <Button look="main" onClick={onClose}>
            Go on
          </Button>
        </div>
      </>
    );
  return (
    <div>
      <p className="mb-3 max-w-[76ch] text-ink2">
        A table (.csv, .xlsx, .ods) with the columns category and term, and if you like case, accents, forms,
        note, description; levels of a category are separated by “ &gt; ”. Or .json as it is exported here. Or
        a plain list (.txt), one term a line.
      </p>
      {use.as === "merge" && tree && (
        <Field
          label="Put the terms into"
          hint="Right for a plain list of words: all of it goes into one category."
        >
          {(id) => (
            <Select
              id={id}
              value={into}
              choices={[
                { value: "", label: "the categories the file names" },
                ...tree.categories.map((one) => ({
                  value: String(one.id),
                  label: `${"\u2003".repeat(one.depth)}${one.name}`,
                })),
              ]}
              onChange={(value) => {
                setInto(value);
                look.reset();
              }}
              className="!w-[300px]"
            />
          )}
        </Field>
      )}
      <div className="mb-3 flex items-center gap-3">
        <Button
          look={plan ? "plain" : "main"}
          onClick={() => input.current?.click()}
          disabled={look.isPending || take.isPending}
        >
          {look.isPending || take.isPending ? "Reading…" : "Choose a file"}
        </Button>
        {file && <span className="text-ink2">{file.name}</span>}
        {file && use.as === "merge" && !plan && !look.isPending && (
          <Button onClick={() => look.mutate(file)}>Look again</Button>
        )}
        <input
          ref={input}
          type="file"
          accept=".csv,.tsv,.txt,.json,.xlsx,.xls,.ods"
          hidden
          data-testid="dictionary-file"
          onChange={(event) => {
            const given = event.target.files?.[0];
            if (given) choose(given);
            event.target.value = "";
          }}
        />
      </div>
      {error && (
        <div className="mb-3">
          <Failure error={error} />
        </div>
      )}
      {plan && (
        <>
          <p className="mb-2">
            <b>{plural(plan.terms, "new term")}</b>,{" "}
            {plural(plan.categories.length, "new category", "new categories")}
            {plan.categories.length
              ? ` (${plan.categories.slice(0, 6).join(", ")}${plan.categories.length > 6 ? "…" : ""})`
              : ""}
            ; {whole(plan.same)} there already
            {plan.doubles ? `, ${whole(plan.doubles)} twice in the file` : ""}.
          </p>
          {plan.conflicts.length > 0 && (
            <Conflicts conflicts={plan.conflicts} theirs={theirs} onTheirs={setTheirs} />
          )}
          {plan.refused.length > 0 && <Refusals refused={plan.refused} />}
          <div className="mt-3 flex justify-end gap-2">
            <Button onClick={onClose}>Leave it</Button>
            <Button
              look="main"
              disabled={
                merge.isPending || (plan.terms === 0 && plan.categories.length === 0 && theirs.length === 0)
              }
              onClick={() => file && merge.mutate(file)}
            >
              Merge
            </Button>
          </div>
        </>
      )}
    </div>
  );
}

const WHAT = {
  options: "options differ",
  note: "note differs",
  description: "description differs",
  category: "stands elsewhere",
} as const;

function Conflicts({
  conflicts,
  theirs,
  onTheirs,
}: {
  conflicts: readonly Schema["ConflictPublic"][];
  theirs: readonly string[];
  onTheirs: (keys: readonly string[]) => void;
}) {
  return (
    <div className="mb-3">
      <div className="mb-1 flex items-center gap-3">
        <b>{plural(conflicts.length, "conflict")}</b>
        <Button look="ghost" onClick={() => onTheirs(conflicts.map((one) => one.key))}>
          All as in the file
        </Button>
        <Button look="ghost" onClick={() => onTheirs([])}>
          Keep all of mine
        </Button>
      </div>
      <div className="max-h-[280px] overflow-auto rounded-md border border-line">
        <table className="w-full" aria-label="Conflicts">
          <thead className="text-ink2">
            <tr>
              <th className="px-2.5 py-1 text-left font-semibold">What</th>
              <th className="px-2.5 py-1 text-left font-semibold">Keep mine</th>
              <th className="px-2.5 py-1 text-left font-semibold">As in the file</th>
            </tr>
          </thead>
          <tbody>
            {conflicts.map((one) => {
              const taken = theirs.includes(one.key);
              const pick = (file: boolean) =>
                onTheirs(
                  file
                    ? [...theirs.filter((key) => key !== one.key), one.key]
                    : theirs.filter((key) => key !== one.key),
                );
              return (
                <tr key={one.key} className="border-t border-line align-top">
                  <td className="px-2.5 py-1">
                    <b>{one.source || one.category}</b>{" "}
                    <span className="text-ink2">
                      {one.source ? `in ${one.category}, ` : ""}
                      {WHAT[one.kind]}
                    </span>
                  </td>
                  <td className="px-2.5 py-1">
                    <label className="flex gap-1.5">
                      <input type="radio" name={one.key} checked={!taken} onChange={() => pick(false)} />{" "}
                      {one.mine || "nothing"}
                    </label>
                  </td>
                  <td className="px-2.5 py-1">
                    <label className="flex gap-1.5">
                      <input type="radio" name={one.key} checked={taken} onChange={() => pick(true)} />{" "}
                      {one.theirs || "nothing"}
                    </label>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </div>
  );
}

function Refusals({ refused }: { refused: readonly Schema["Refusal"][] }) {
  return (
    <div className="max-h-[200px] overflow-auto rounded-md border border-line">
      <table className="w-full" aria-label="Not taken">
        <tbody>
          {refused.map((one, at) => (
            <tr key={at} className="border-b border-line last:border-0">
              <td className="px-2.5 py-1 font-semibold whitespace-nowrap">{one.what}</td>
              <td className="px-2.5 py-1 text-rust">{one.reason}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
