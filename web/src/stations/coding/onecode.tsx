import { Link, useLocation } from "react-router";
import { type Code, useCodes } from "../../data/coding";
import { useNotes } from "../../data/notes";
import { useProjectId } from "../../data/project";
import { plural } from "../../lib/numbers";
import { along } from "../../lib/scope";
import { useDraft } from "../../lib/usedraft";
import { Colours } from "../../parts/colours";
import { Button, Field, Select } from "../../parts/controls";
import { LongField, TextField } from "../../parts/fields";
import { FoundRow, useFound } from "./found";
import { GroupsOf } from "./onegroups";
import { ANY } from "./question";

/** From this level on codes are found late and given seldom. */
const DEEP = 3;
type Words = "name" | "description" | "rule" | "example" | "counter_example" | "symbol";

/** A code with what it stands for, its groups, and its passages. */
export function One({
  code,
  codes,
  writes,
  onGone,
}: {
  code: Code;
  codes: readonly Code[];
  writes: boolean;
  onGone: () => void;
}) {
  const project = useProjectId();
  const { search } = useLocation();
  const { change, merge, remove } = useCodes();
  const of = (name: Words) => ({ code, name, writes, change });
  const below = new Set(under(codes, code.id));
  const found = useFound({ ...ANY, codes: [code.id] }, 0);
  return (
    <div className="max-w-[860px] px-7 py-5">
      <div className="flex items-start gap-4">
        <div className="min-w-0 flex-1">
          <CodeWords label="Name" {...of("name")} maxLength={2000} />
        </div>
        <div className="w-[90px]">
          <CodeWords label="Symbol" {...of("symbol")} maxLength={16} placeholder="none" />
        </div>
        <Field label="Colour">
          {(id) => (
            <Colours
              id={id}
              label="Colour"
              value={code.colour}
              disabled={!writes}
              onChange={(colour) => change.mutate({ code, colour })}
            />
          )}
        </Field>
      </div>
      {code.depth >= DEEP && (
        <p className="mb-3 text-ink2">
          This is level {code.depth + 1}. Codes deep down are found late and given seldom, and two coders
          rarely agree on them; a group or a second code often says the same.
        </p>
      )}
      <CodeWords label="Definition" rows={2} {...of("description")} />
      <CodeWords label="When to use, when not to use" rows={2} {...of("rule")} />
      <div className="grid grid-cols-2 gap-4">
        <CodeWords label="An example" rows={2} {...of("example")} />
        <CodeWords label="Close but not this code" rows={2} {...of("counter_example")} />
      </div>
      <GroupsOf code={code} writes={writes} />
      <NotesOn code={code} />
      {writes && (
        <div className="mb-5 flex flex-wrap items-center gap-3">
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={code.technical}
              onChange={(event) => change.mutate({ code, technical: event.target.checked })}
            />{" "}
            technical: for the work itself, not for findings
          </label>
          <Link
            to={`/projects/${project}/notebook/assistant${along(search, { task: "wordings", code: code.id })}`}
            title="Let the assistant propose other names, from its passages"
            className="font-semibold text-bottle hover:underline"
          >
            Other wordings
          </Link>
          <Select
            aria-label="Merge into"
            value=""
            choices={[
              { value: "", label: "Merge into…" },
              ...codes
                .filter((one) => !below.has(one.id))
                .map((one) => ({ value: String(one.id), label: one.name })),
            ]}
            onChange={(into) => {
              if (!into) return;
              merge.mutate({ code, into_id: Number(into) });
              onGone();
            }}
            className="w-auto! max-w-[180px]"
          />
          <Button
            onClick={() => {
              remove.mutate(code);
              onGone();
            }}
          >
            Delete
          </Button>
        </div>
      )}
      <h2 className="mb-1 text-[13px] font-bold">
        {found.data
          ? `${plural(found.data.total, "passage")} in ${plural(found.data.texts, "text")} of the scope`
          : " "}
      </h2>
      <ul className="rounded-md border border-line bg-sheet">
        {found.data?.passages.slice(0, 20).map((one) => (
          <FoundRow key={one.id} one={one} code={codes.find(({ id }) => id === one.code_id)} />
        ))}
      </ul>
      {(found.data?.total ?? 0) > 20 && <p className="mt-1 text-ink2">The others are under Passages.</p>}
    </div>
  );
}

function under(codes: readonly Code[], id: number): number[] {
  return [id, ...codes.filter((one) => one.parent_id === id).flatMap((one) => under(codes, one.id))];
}

/** Notes on the code itself: a long research question need not make its name long. */
function NotesOn({ code }: { code: Code }) {
  const project = useProjectId();
  const { search } = useLocation();
  const found = useNotes({ code_id: code.id, most: 1 }).data?.total ?? 0;
  const to = new URLSearchParams(search);
  to.set("code", String(code.id));
  return (
    <p className="mb-4">
      <Link to={`/projects/${project}/notebook/notes?${to}`} className="text-bottle hover:underline">
        {found ? `${plural(found, "note")} on it` : "Write a note on it"}
      </Link>
    </p>
  );
}

/** Words that say something about a code, stored when the field is left. */
function CodeWords({
  code,
  name,
  writes,
  change,
  rows,
  ...rest
}: {
  code: Code;
  name: Words;
  writes: boolean;
  change: ReturnType<typeof useCodes>["change"];
  label: string;
  rows?: number;
  maxLength?: number;
  placeholder?: string;
}) {
  const draft = useDraft({
    of: `code ${code.id} ${name}`,
    stored: code[name],
    revision: code.revision,
    save: (written, revision) => change.mutateAsync({ code: { ...code, revision }, [name]: written }),
    empty: name !== "name",
  });
  const field = {
    ...rest,
    ...draft.field,
    onChange: draft.onChange,
    disabled: !writes,
    hint: draft.refused && <span className="text-rust">{draft.refused}</span>,
  };
  return rows ? <LongField {...field} rows={rows} /> : <TextField {...field} />;
}
