import { useMutation, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { keys } from "../../data/keys";
import { useChange, useFields, useProjectId } from "../../data/project";
import { useVariables } from "../../data/variables";
import { plural, whole } from "../../lib/numbers";
import { useSettled } from "../../lib/settled";
import { Button, Failure, Field, Select, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { KINDS } from "./mapping";
import { type Dropped, sendUpload } from "./upload";

type Column = Schema["FillColumn"];

/** Values from a table: which column names the text, what the others fill, what would match; then fill. */
export function FillDialog({ onDone }: { onDone: () => void }) {
  const project_id = useProjectId();
  const picker = useRef<HTMLInputElement>(null);
  const upload = useMutation({ mutationFn: (files: readonly Dropped[]) => sendUpload(project_id, files) });
  if (upload.data) return <Fill upload={upload.data} onDone={onDone} />;
  return (
    <div>
      <p className="mb-3 text-ink2">
        A table with one row for each text: a column that names the text (its key, or the value of a
        variable), and columns with values. You see what would match before anything changes.
      </p>
      {upload.error && (
        <div className="mb-3">
          <Failure error={upload.error} />
        </div>
      )}
      <Button look="main" disabled={upload.isPending} onClick={() => picker.current?.click()}>
        Choose a table
      </Button>
      <input
        ref={picker}
        type="file"
        hidden
        accept=".csv,.tsv,.tab,.xlsx,.xls,.ods,.json,.jsonl"
        data-testid="fill-input"
        onChange={(event) =>
          event.target.files?.[0] &&
          upload.mutate([{ file: event.target.files[0], path: event.target.files[0].name }])
        }
      />
    </div>
  );
}

/** What every text has. */
const OWN = [
  { key: "source", name: "Source", kind: "category" },
  { key: "date", name: "Date", kind: "date" },
];

/** Columns with the name of a variable, each with that variable. */
export function sameNames(
  header: readonly string[],
  key: string,
  variables: readonly { key: string; name: string; kind: string }[],
): Column[] {
  const plain = (name: string) =>
    name
      .trim()
      .toLocaleLowerCase()
      .replace(/[\s_]+/g, " ");
  return header.flatMap((column) => {
    const same = variables.find((one) => plain(one.name) === plain(column));
    return same && column !== key
      ? [{ column, field: same.key, name: same.name, kind: same.kind as Column["kind"] }]
      : [];
  });
}

function Fill({ upload, onDone }: { upload: Schema["UploadPublic"]; onDone: () => void }) {
  const project_id = useProjectId();
  const { tell } = useToast();
  const fields = useFields();
  const variables = useVariables().filter((one) => !one.rule);
  const [key, setKey] = useState<string | null>(null);
  const [by, setBy] = useState("key");
  const [chosen, setColumns] = useState<readonly Column[] | null>(null);
  const look = useQuery({
    queryKey: keys.of(project_id, "preview", upload.id),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/uploads/{upload_id}/preview", {
          params: { path: { project_id, upload_id: upload.id } },
          body: { lots: {} },
        }),
      ),
  });
  const table = look.data?.lots.find((lot) => lot.is_table);
  const keyColumn =
    key ??
    table?.choice.mapping?.targets.find((target) => target.role === "key")?.column ??
    table?.header[0] ??
    "";
  // what is called like a variable fills it, until somebody chooses otherwise
  const usual = sameNames(table?.header ?? [], keyColumn, [...OWN, ...variables]);
  const columns = chosen ?? usual;
  const body = { upload_id: upload.id, key_column: keyColumn, by, columns: [...columns] };
  const asked = useSettled(body, 300);
  const tried = useQuery({
    queryKey: keys.of(project_id, "fill", asked),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/fill", {
          params: { path: { project_id } },
          body: { ...asked, try_only: true },
        }),
      ),
    enabled: asked.columns.length > 0,
    placeholderData: (before) => before,
  });
  const fill = useChange(
    () =>
      data(
        api.POST("/api/v1/projects/{project_id}/fill", {
          params: { path: { project_id } },
          body: { ...body, try_only: false },
        }),
      ),
    (out) => {
      tell(`${plural(out.changed, "value")} filled in ${plural(out.texts, "text")}. Undo takes them back.`);
      onDone();
    },
  );
  if (look.isPending) return <Waiting what="Looking at the table" />;
  if (look.error) return <Failure error={look.error} />;
  if (!table) return <Failure error={new Error(look.data.problems[0]?.reason ?? "This is not a table.")} />;
  const set = (column: string, values: Partial<Column> | null) => {
    const others = columns.filter((one) => one.column !== column);
    const before = columns.find((one) => one.column === column) ?? {
      column,
      field: null,
      name: column,
      kind: "category" as const,
    };
    setColumns(values === null ? others : [...others, { ...before, ...values }]);
  };
  const named = fields.filter(
    (field) => field.kind === "category" || field.kind === "text" || field.kind === "number",
  );
  return (
    <div>
      <div className="grid grid-cols-2 gap-3">
        <Field label="The column that names the text">
          {(id) => (
            <Select
              id={id}
              value={keyColumn}
              onChange={setKey}
              choices={table.header.map((name) => ({ value: name, label: name }))}
            />
          )}
        </Field>
        <Field label="It holds">
          {(id) => (
            <Select
              id={id}
              value={by}
              onChange={setBy}
              choices={[
                { value: "key", label: "the key the text was imported with" },
                ...named.map((field) => ({ value: field.key, label: field.name })),
              ]}
            />
          )}
        </Field>
      </div>
      <table className="mb-3 w-full rounded border border-line">
        <thead>
          <tr className="border-b border-line text-left text-ink2">
            <th className="px-2 py-1 font-semibold">Column</th>
            <th className="px-2 py-1 font-semibold">First values</th>
            <th className="px-2 py-1 font-semibold">Fills</th>
          </tr>
        </thead>
        <tbody>
          {table.header
            .filter((name) => name !== keyColumn)
            .map((name) => {
              const one = columns.find((column) => column.column === name);
              const at = table.header.indexOf(name);
              return (
                <tr key={name} className="border-b border-line last:border-0">
                  <td className="px-2 py-1 font-medium">{name}</td>
                  <td className="max-w-[220px] truncate px-2 py-1 text-ink2">
                    {table.rows
                      .slice(0, 4)
                      .map((row) => row[at])
                      .filter(Boolean)
                      .join(", ")}
                  </td>
                  <td className="flex gap-1.5 px-2 py-1">
                    <Select
                      aria-label={`What ${name} fills`}
                      value={one ? (one.field ?? "new") : ""}
                      onChange={(value) =>
                        set(
                          name,
                          value === "" ? null : value === "new" ? { field: null, name } : { field: value },
                        )
                      }
                      choices={[
                        { value: "", label: "nothing" },
                        { value: "new", label: `a new variable “${name}”` },
                        { value: "source", label: "Source" },
                        { value: "date", label: "Date" },
                        ...variables.map((variable) => ({ value: variable.key, label: variable.name })),
                      ]}
                    />
                    {one && !one.field && (
                      <Select
                        aria-label={`Kind of ${name}`}
                        value={one.kind ?? "category"}
                        choices={KINDS}
                        onChange={(kind) => set(name, { kind: kind as NonNullable<Column["kind"]> })}
                        className="w-auto!"
                      />
                    )}
                  </td>
                </tr>
              );
            })}
        </tbody>
      </table>
      {tried.error && (
        <div className="mb-3">
          <Failure error={tried.error} />
        </div>
      )}
      {columns.length > 0 && tried.data && (
        <div className="mb-3 rounded border border-line bg-wash px-3 py-2" data-testid="fill-report">
          <b>
            {whole(tried.data.matched_rows)} of {plural(tried.data.rows, "row")} match
          </b>{" "}
          {plural(tried.data.texts, "text")}; {plural(tried.data.changed, "value")} would change.
          {tried.data.unmatched_total > 0 && (
            <p className="text-rust">
              Without a text: {tried.data.unmatched.slice(0, 8).join(", ")}
              {tried.data.unmatched_total > 8 ? ` and ${whole(tried.data.unmatched_total - 8)} more` : ""}.
            </p>
          )}
          {tried.data.bad_values.slice(0, 4).map((reason) => (
            <p key={reason} className="text-rust">
              {reason}
            </p>
          ))}
          {tried.data.bad_values_total > 4 && (
            <p className="text-rust">{whole(tried.data.bad_values_total - 4)} more values cannot be read.</p>
          )}
        </div>
      )}
      <Button
        look="main"
        disabled={!columns.length || !tried.data?.changed || fill.isPending}
        onClick={() => fill.mutate(undefined)}
      >
        Fill
      </Button>
    </div>
  );
}
