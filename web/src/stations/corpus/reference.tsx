import { useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { useChange, useProjectId } from "../../data/project";
import { Button, Dialog, Field, Input } from "../../parts/controls";
import { useToast } from "../../parts/toast";

type Text = Schema["TextPublic"];
const HEAD = "mb-1.5 text-[12px] font-bold text-ink2";

const FIELDS: [keyof Schema["ReferenceFields"], string][] = [
  ["authors", "Authors, separated by ;"],
  ["year", "Year"],
  ["title", "Title"],
  ["container", "Published in"],
  ["volume", "Volume"],
  ["issue", "Issue"],
  ["pages", "Pages"],
  ["publisher", "Publisher"],
  ["place", "Place"],
  ["doi", "DOI"],
  ["url", "Address"],
  ["type", "Type of work"],
];

export function ReferencePart({
  text,
  reference,
  writes,
}: {
  text: Text;
  reference: Schema["ReferencePublic"];
  writes: boolean;
}) {
  const { tell, fail } = useToast();
  const [editing, setEditing] = useState(false);
  const copy = (words: string) =>
    navigator.clipboard.writeText(words).then(
      () => tell("Copied."),
      () => fail(new Error("The browser did not allow copying; select the words and copy them.")),
    );
  return (
    <section className="mb-5">
      <div className="flex items-baseline justify-between">
        <h2 className={HEAD}>Reference</h2>
        {writes && (
          <Button look="ghost" onClick={() => setEditing(true)}>
            Change
          </Button>
        )}
      </div>
      {(
        [
          ["Author and date", reference.author_date],
          ["Notes and bibliography", reference.notes],
        ] as const
      ).map(([style, words]) => (
        <div key={style} className="mb-2">
          <div className="flex items-baseline justify-between text-[11.5px] text-ink2">
            {style}
            <button
              type="button"
              aria-label={`Copy the reference, ${style}`}
              onClick={() => void copy(words)}
              className="font-semibold text-bottle hover:underline"
            >
              Copy
            </button>
          </div>
          <div className="font-serif text-[13.5px] leading-[1.4] break-words">{words}</div>
        </div>
      ))}
      {!reference.own && <p className="text-[11.5px] text-ink3">Made from title, source and date.</p>}
      <Dialog open={editing} title="Reference" onClose={() => setEditing(false)}>
        {editing && <ReferenceForm text={text} fields={reference.fields} onDone={() => setEditing(false)} />}
      </Dialog>
    </section>
  );
}

function ReferenceForm({
  text,
  fields,
  onDone,
}: {
  text: Text;
  fields: Schema["ReferenceFields"];
  onDone: () => void;
}) {
  const project_id = useProjectId();
  const [now, setNow] = useState(fields);
  const keep = useChange(
    () =>
      data(
        api.PUT("/api/v1/projects/{project_id}/texts/{text_id}/reference", {
          params: { path: { project_id, text_id: text.id } },
          body: { ...now, revision: text.revision },
        }),
      ),
    onDone,
    "notes",
  );
  return (
    <div>
      <div className="grid grid-cols-2 gap-x-3">
        {FIELDS.map(([name, label]) => (
          <Field key={name} label={label}>
            {(id) => (
              <Input
                id={id}
                value={now[name] ?? ""}
                onChange={(event) => setNow({ ...now, [name]: event.target.value })}
              />
            )}
          </Field>
        ))}
      </div>
      <Button look="main" disabled={keep.isPending} onClick={() => keep.mutate(undefined)}>
        Keep
      </Button>
    </div>
  );
}
