import { type DragEvent, useState } from "react";
import type { Condition, Schema } from "../../api/client";
import { useScope, useSummary } from "../../data/project";
import { DRAGGED_TEXTS, useMakeSet, useSetValues, useVariables } from "../../data/variables";
import { whole } from "../../lib/numbers";
import { Button, Dialog } from "../../parts/controls";
import { Lines, TextField } from "../../parts/fields";
import { WaitingRows } from "../../parts/waitingrows";
import { ValueMenu } from "./valuemenu";

type Variable = Schema["VariablePublic"];
type Dragged = Pick<Schema["SetValues"], "ids" | "scope" | "find">;

/** Groups and sets beside the table: a click narrows the scope, texts can be dropped on them. */
export function Rail() {
  const variables = useVariables();
  const { scope } = useScope();
  const writes = useSummary().data?.role !== "reader";
  const [making, setMaking] = useState<"set" | "group" | null>(null);
  const [name, setName] = useState("");
  const [byRule, setByRule] = useState(false);
  const group = variables.find((one) => one.role === "group");
  const sets = variables.find((one) => one.role === "sets");
  const make = useMakeSet();
  return (
    <aside
      aria-label="Groups and sets"
      className="flex w-[188px] shrink-0 flex-col gap-4 overflow-auto border-r border-line2 bg-wash px-3 py-3"
    >
      <section>
        <h2 className="mb-1 text-[12px] font-bold text-ink2">Groups</h2>
        {group?.values.length ? (
          <List variable={group} role="group" />
        ) : (
          <p className="text-ink3">One for each text. Choose texts and put them in a group.</p>
        )}
      </section>
      <section>
        <div className="mb-1 flex items-baseline justify-between">
          <h2 className="text-[12px] font-bold text-ink2">Sets</h2>
          {writes && (
            <Button look="ghost" onClick={() => setMaking("set")}>
              New set
            </Button>
          )}
        </div>
        {sets?.values.length ? (
          <List variable={sets} role="sets" />
        ) : (
          <p className="text-ink3">Any number for each text, by hand or by rule.</p>
        )}
        <WaitingRows
          of={make}
          onEdit={(given) => {
            setName(given.name);
            setMaking("set");
          }}
        />
      </section>
      <Dialog open={making === "set"} title="New set" onClose={() => setMaking(null)}>
        <form
          onSubmit={(event) => {
            event.preventDefault();
            if (!name.trim()) return;
            make.add({ name: name.trim(), scope: [], find: "", ids: [], rule: byRule ? [...scope] : null });
            setMaking(null);
            setName("");
          }}
        >
          <TextField label="Name" autoFocus value={name} onChange={setName} maxLength={300} />
          <Lines
            label="How texts come into the set"
            value={byRule ? "rule" : "hand"}
            onChange={(how) => setByRule(how === "rule")}
            choices={[
              { value: "hand", says: "By hand: texts are dragged or added to it" },
              {
                value: "rule",
                disabled: !scope.length,
                says: `By rule: all texts that fit the present scope, now and later${scope.length ? "" : " (narrow the scope first)"}`,
              },
            ]}
          />
          <Button look="main" type="submit" disabled={!name.trim()}>
            Make the set
          </Button>
        </form>
      </Dialog>
    </aside>
  );
}

function List({ variable, role }: { variable: Variable; role: "group" | "sets" }) {
  const { scope, setScope } = useScope();
  const set = useSetValues();
  const [over, setOver] = useState<number | null>(null);
  const narrow = (label: string) =>
    setScope([
      ...scope,
      { kind: "values", field: variable.key, values: [label], exclude: false } as Condition,
    ]);
  const drop = (event: DragEvent, label: string) => {
    event.preventDefault();
    setOver(null);
    const texts = event.dataTransfer.getData(DRAGGED_TEXTS);
    if (texts)
      set.mutate({
        ...(JSON.parse(texts) as Dragged),
        field: role,
        value: label,
        mode: role === "sets" ? "add" : "replace",
      });
  };
  return (
    <ul className="-mx-1.5">
      {variable.values.map((value) => (
        <li
          key={value.id}
          onDragOver={(event) => {
            if (value.rule || !event.dataTransfer.types.includes(DRAGGED_TEXTS)) return;
            event.preventDefault();
            setOver(value.id);
          }}
          onDragLeave={() => setOver(null)}
          onDrop={(event) => drop(event, value.label)}
          className={`group flex items-center rounded ${over === value.id ? "bg-tint outline outline-bottle" : "hover:bg-line/50"}`}
        >
          <button
            type="button"
            onClick={() => narrow(value.label)}
            title={value.broken ?? (value.rule ? "Follows from a rule" : value.label)}
            className="flex min-w-0 flex-1 items-baseline gap-1.5 px-1.5 py-1 text-left"
          >
            <span className={`truncate ${value.broken ? "text-rust" : ""}`}>{value.label}</span>
            {value.rule && <span className="shrink-0 text-[11px] text-ink3">rule</span>}
            <span className="ml-auto shrink-0 text-ink2">{whole(value.texts)}</span>
          </button>
          <ValueMenu value={value} />
        </li>
      ))}
    </ul>
  );
}
