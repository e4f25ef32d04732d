import { useState } from "react";
import type { Condition, Schema } from "../../api/client";
import { useFields, useProjectId } from "../../data/project";
import { useSetValues, useVariables } from "../../data/variables";
import { plural } from "../../lib/numbers";
import { asked, countChosen, NOTHING, type Selection } from "../../lib/selection";
import { MOST_TABS, useTabs } from "../../lib/tabs";
import { Button, Dialog, Field, Select } from "../../parts/controls";
import { ValueInput } from "./editvalue";

type Line = Schema["TextLine"];

/** What can be done with the chosen texts. */
export function BulkBar({
  selection,
  total,
  scope,
  find,
  lines,
  onSelection,
}: {
  selection: Selection;
  total: number;
  scope: readonly Condition[];
  find: string;
  lines: ReadonlyMap<number, Line>;
  onSelection: (selection: Selection) => void;
}) {
  const project = useProjectId();
  const [doing, setDoing] = useState<"value" | "set" | "group" | null>(null);
  const set = useSetValues();
  const tabs = useTabs(project);
  const count = countChosen(selection, total);
  const request = asked(selection, scope, find) as Pick<Schema["SetValues"], "ids" | "scope" | "find">;
  const aside = useVariables().some((one) => one.role === "aside" && one.texts > 0);
  const openAll = () => {
    const titles = new Map([...lines.values()].map((line) => [line.id, line.title]));
    for (const id of selection.ids.slice(0, MOST_TABS))
      tabs.open({ id, title: titles.get(id) ?? `Text ${id}` });
  };
  return (
    <div
      role="toolbar"
      aria-label="Chosen texts"
      className="mx-4 mb-2 flex flex-wrap items-center gap-2 rounded-md border border-bottle bg-tint px-3 py-1.5"
    >
      <b data-testid="chosen">{plural(count, "text")} chosen</b>
      <Button onClick={() => setDoing("value")}>Set a value</Button>
      <Button onClick={() => setDoing("group")}>Put in a group</Button>
      <Button onClick={() => setDoing("set")}>Add to a set</Button>
      <Button
        onClick={() => set.mutate({ ...request, field: "aside", value: "excluded", mode: "replace" })}
        title="Leave out of every count until they are brought back"
      >
        Exclude
      </Button>
      {aside && (
        <Button onClick={() => set.mutate({ ...request, field: "aside", value: null, mode: "replace" })}>
          Bring back
        </Button>
      )}
      {!selection.all && <Button onClick={openAll}>Open in tabs</Button>}
      <Button look="ghost" className="ml-auto" onClick={() => onSelection(NOTHING)}>
        Choose none
      </Button>
      <Dialog
        open={doing === "value"}
        title={`A value for ${plural(count, "text")}`}
        onClose={() => setDoing(null)}
      >
        <ValueForm
          onSet={(field, value, mode) =>
            set.mutate({ ...request, field, value, mode }, { onSuccess: () => setDoing(null) })
          }
        />
      </Dialog>
      <Dialog
        open={doing === "group"}
        title={`The group of ${plural(count, "text")}`}
        onClose={() => setDoing(null)}
      >
        <LabelForm
          field="group"
          what="Each text has one main group; the new one replaces it."
          onSet={(value) =>
            set.mutate(
              { ...request, field: "group", value: value || null, mode: "replace" },
              { onSuccess: () => setDoing(null) },
            )
          }
        />
      </Dialog>
      <Dialog
        open={doing === "set"}
        title={`A set for ${plural(count, "text")}`}
        onClose={() => setDoing(null)}
      >
        <LabelForm
          field="sets"
          what="A text may be in any number of sets."
          onSet={(value) =>
            set.mutate({ ...request, field: "sets", value, mode: "add" }, { onSuccess: () => setDoing(null) })
          }
        />
      </Dialog>
    </div>
  );
}

function LabelForm({ field, what, onSet }: { field: string; what: string; onSet: (value: string) => void }) {
  const [value, setValue] = useState("");
  return (
    <div>
      <Field label="Name" hint={what}>
        {(id) => (
          <ValueInput
            id={id}
            field={field}
            kind="category"
            value={value}
            onChange={setValue}
            onKeep={() => onSet(value.trim())}
            autoFocus
          />
        )}
      </Field>
      <Button look="main" disabled={!value.trim() && field !== "group"} onClick={() => onSet(value.trim())}>
        {value.trim() || field !== "group" ? "Keep" : "Remove the group"}
      </Button>
    </div>
  );
}

function ValueForm({
  onSet,
}: {
  onSet: (field: string, value: string | null, mode: "replace" | "add" | "remove") => void;
}) {
  const variables = useVariables().filter((one) => !one.rule && one.role === "");
  const fields = useFields();
  const choices = [
    { key: "source", name: "Source", kind: "category" },
    { key: "date", name: "Date", kind: "date" },
    ...variables,
  ].filter((one) => fields.some((field) => field.key === one.key));
  const [field, setField] = useState(choices[0]?.key ?? "source");
  const [mode, setMode] = useState<"replace" | "add" | "remove">("replace");
  const [value, setValue] = useState("");
  const kind = choices.find((one) => one.key === field)?.kind ?? "category";
  const keep = () => onSet(field, value.trim() || null, kind === "several" ? mode : "replace");
  return (
    <div>
      <Field label="Variable">
        {(id) => (
          <Select
            id={id}
            value={field}
            onChange={(next) => {
              setField(next);
              setValue("");
            }}
            choices={choices.map((one) => ({ value: one.key, label: one.name }))}
          />
        )}
      </Field>
      {kind === "several" && (
        <Field label="The values">
          {(id) => (
            <Select
              id={id}
              value={mode}
              onChange={(next) => setMode(next as typeof mode)}
              choices={[
                { value: "replace", label: "replace what is there" },
                { value: "add", label: "are added to what is there" },
                { value: "remove", label: "are removed" },
              ]}
            />
          )}
        </Field>
      )}
      <Field label="Value" hint="Leave it empty to remove the value.">
        {(id) => (
          <ValueInput
            key={field}
            id={id}
            field={field}
            kind={kind}
            value={value}
            onChange={setValue}
            onKeep={keep}
          />
        )}
      </Field>
      <Button look="main" onClick={keep}>
        {value.trim() ? "Set" : "Remove the value"}
      </Button>
    </div>
  );
}
