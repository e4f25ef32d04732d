import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { api, type Condition, data, type Schema } from "../../api/client";
import { useChange, useFields, useProjectId, useScope, useSummary } from "../../data/project";
import { useMakeVariable, useVariables } from "../../data/variables";
import { plural, whole } from "../../lib/numbers";
import { Button, Dialog, Empty, Field, Input, Select } from "../../parts/controls";
import { TextField } from "../../parts/fields";
import { useToast } from "../../parts/toast";
import { WaitingRows } from "../../parts/waitingrows";
import { About } from "../../shell/about";
import { DeriveForm } from "./derive";
import { FillDialog } from "./fill";
import { CorpusHead } from "./head";
import { KINDS } from "./mapping";
import { ruleWords } from "./rulewords";
import { ValueMenu } from "./valuemenu";

type Variable = Schema["VariablePublic"];

const ROLE_WORDS: Record<string, string> = { group: "main group", sets: "sets", aside: "excluded" };
const HOLDS: Record<string, string> = {
  category: "One category for each text",
  several: "Any number of categories for each text",
  sets: "Any number of sets for each text",
  number: "A number for each text",
  date: "A date for each text",
  text: "Free words for each text",
};
const kindWord = (one: Variable) => KINDS.find((kind) => kind.value === one.kind)?.label ?? one.kind;

/** Definitions of the variables: values to rename, merge and order, rules, values from a table. */
export function VariablesView() {
  const variables = useVariables();
  const summary = useSummary().data;
  const writes = summary?.role !== "reader";
  const [chosen, setChosen] = useState<number | null>(null);
  const [doing, setDoing] = useState<"new" | "derive" | "fill" | null>(null);
  const made = useMakeVariable();
  const one = variables.find((variable) => variable.id === chosen) ?? variables[0];
  return (
    <div className="flex h-full flex-col">
      <CorpusHead>
        <About topic="corpus">
          A variable says something about each text: one category, several, a number, a date, words. Derived
          variables follow from a rule and are computed anew whenever texts or terms change. Sets and the main
          group are variables too.
        </About>
      </CorpusHead>
      <div className="flex items-center gap-2 px-4 py-2.5">
        <h1 className="mr-2 text-[17px] font-[650]">Variables and sets</h1>
        {writes && (
          <>
            <Button onClick={() => setDoing("new")}>New variable</Button>
            <Button onClick={() => setDoing("derive")}>Derive a variable</Button>
            <Button onClick={() => setDoing("fill")} disabled={!summary?.texts}>
              Fill from a table
            </Button>
          </>
        )}
      </div>
      <WaitingRows of={made} className="mx-4 mb-2" />
      {!variables.length && (
        <Empty title="No variables yet">
          Columns of a table become variables when they are imported. You can also make one and fill it by
          hand or from a table.
        </Empty>
      )}
      {one && (
        <div className="mx-4 mb-4 grid min-h-0 flex-1 grid-cols-[340px_1fr] overflow-hidden rounded-md border border-line bg-sheet">
          <ul className="overflow-auto border-r border-line2">
            {variables.map((variable) => (
              <li key={variable.id}>
                <button
                  type="button"
                  onClick={() => setChosen(variable.id)}
                  aria-current={variable.id === one.id}
                  className={`flex w-full items-baseline gap-2 border-b border-line px-3 py-1.5 text-left ${variable.id === one.id ? "bg-tint" : "hover:bg-wash"}`}
                >
                  <span className={`truncate font-medium ${variable.broken ? "text-rust" : ""}`}>
                    {variable.name}
                  </span>
                  <span className="shrink-0 text-ink2">
                    {ROLE_WORDS[variable.role] ?? (variable.rule ? "derived" : kindWord(variable))}
                  </span>
                  <span className="ml-auto shrink-0 text-ink2">{plural(variable.texts, "text")}</span>
                </button>
              </li>
            ))}
          </ul>
          <Definition key={one.id} one={one} writes={writes} />
        </div>
      )}
      <Dialog open={doing === "new"} title="New variable" onClose={() => setDoing(null)}>
        <NewForm onDone={() => setDoing(null)} />
      </Dialog>
      <Dialog open={doing === "derive"} title="Derive a variable" onClose={() => setDoing(null)}>
        <DeriveForm onDone={() => setDoing(null)} />
      </Dialog>
      <Dialog open={doing === "fill"} title="Fill variables from a table" onClose={() => setDoing(null)} wide>
        <FillDialog onDone={() => setDoing(null)} />
      </Dialog>
    </div>
  );
}

function NewForm({ onDone }: { onDone: () => void }) {
  const [name, setName] = useState("");
  const [kind, setKind] = useState("category");
  const make = useMakeVariable();
  return (
    <div>
      <TextField label="Name" autoFocus value={name} onChange={setName} maxLength={200} />
      <Field label="Holds">
        {(id) => <Select id={id} value={kind} onChange={setKind} choices={KINDS} />}
      </Field>
      <Button
        look="main"
        disabled={!name.trim()}
        onClick={() => {
          make.add({ name: name.trim(), kind: kind as Variable["kind"], description: "", rule: null });
          onDone();
        }}
      >
        Make the variable
      </Button>
    </div>
  );
}

function Definition({ one, writes }: { one: Variable; writes: boolean }) {
  const project_id = useProjectId();
  const { tell } = useToast();
  const fields = useFields();
  const [name, setName] = useState(one.name);
  const [about, setAbout] = useState(one.description);
  const path = { params: { path: { project_id, variable_id: one.id } } };
  const change = useChange(
    (body: { name?: string; description?: string }) =>
      data(
        api.PATCH("/api/v1/projects/{project_id}/variables/{variable_id}", {
          ...path,
          body: { revision: one.revision, ...body },
        }),
      ),
    undefined,
    "values",
  );
  const [lost, setLost] = useState("");
  const convert = useChange(
    (kind: Variable["kind"]) =>
      data(
        api.POST("/api/v1/projects/{project_id}/variables/{variable_id}/kind", {
          ...path,
          body: { kind, revision: one.revision },
        }),
      ),
    (out) => {
      tell(
        `${out.label}: ${plural(out.texts, "text")} ${out.texts === 1 ? "keeps" : "keep"} a value. Undo takes it back.`,
      );
      setLost(
        out.lost_total
          ? `Not readable so: ${out.lost.slice(0, 4).join(", ")}${out.lost_total > 4 ? ` and ${whole(out.lost_total - 4)} more` : ""}. Undo brings them back.`
          : "",
      );
    },
    "values",
  );
  const drop = useChange(
    () =>
      data(
        api.DELETE("/api/v1/projects/{project_id}/variables/{variable_id}", {
          params: { ...path.params, query: { revision: one.revision } },
        }),
      ),
    (out) => tell(`${out.label}: ${plural(out.texts, "text")} had a value. Undo brings them back.`),
    "values",
  );
  return (
    <section className="overflow-auto px-5 py-4">
      <div className="grid grid-cols-[1fr_1fr_auto] items-end gap-4">
        <TextField
          label="Name"
          disabled={!writes}
          value={name}
          onChange={setName}
          onBlur={() => name.trim() && name !== one.name && change.mutate({ name })}
        />
        <TextField
          label="What it says"
          disabled={!writes}
          value={about}
          placeholder="a note for those who work with it"
          onChange={setAbout}
          onBlur={() => about !== one.description && change.mutate({ description: about })}
        />
        {writes && (
          <div className="mb-3.5">
            <Button look="rust" onClick={() => drop.mutate(undefined)}>
              Delete
            </Button>
          </div>
        )}
      </div>
      {writes && !one.rule && !one.role && (
        <label className="mb-2 flex items-center gap-2 text-ink2">
          Holds
          <Select
            value={one.kind}
            onChange={(kind) => convert.mutate(kind as Variable["kind"])}
            disabled={convert.isPending}
            choices={KINDS}
            className="w-auto!"
          />
          {lost && (
            <span role="alert" className="text-rust">
              {lost}
            </span>
          )}
        </label>
      )}
      <p className="mb-3 text-ink2">
        {one.rule
          ? `Derived: ${ruleWords(one.rule, fields)}`
          : HOLDS[one.role === "sets" ? "sets" : one.kind]}
        . {plural(one.texts, "text")} {one.texts === 1 ? "has" : "have"} a value.
      </p>
      {one.broken && (
        <p role="alert" className="mb-3 text-rust">
          {one.broken} The variable is empty until its rule fits again.
        </p>
      )}
      {(one.kind === "category" || one.kind === "several") && (
        <Values one={one} writes={writes && !one.rule} />
      )}
    </section>
  );
}

/** Values with their texts: narrow to one, rename, delete, order, tick some to merge them. */
function Values({ one, writes }: { one: Variable; writes: boolean }) {
  const project_id = useProjectId();
  const { scope, setScope } = useScope();
  const navigate = useNavigate();
  const { search } = useLocation();
  const [ticked, setTicked] = useState<readonly number[]>([]);
  const [find, setFind] = useState("");
  const path = { params: { path: { project_id, variable_id: one.id } } };
  const merge = useChange(
    (into: number) =>
      data(
        api.POST("/api/v1/projects/{project_id}/variables/{variable_id}/merge", {
          ...path,
          body: { ids: [...ticked], into },
        }),
      ),
    () => setTicked([]),
    "values",
  );
  const order = useChange(
    (ids: number[]) =>
      data(
        api.POST("/api/v1/projects/{project_id}/variables/{variable_id}/order", { ...path, body: { ids } }),
      ),
    undefined,
    "values",
  );
  const move = (at: number, by: number) => {
    const ids = one.values.map((value) => value.id);
    const [moved] = ids.splice(at, 1);
    ids.splice(at + by, 0, moved!);
    order.mutate(ids);
  };
  const open = (label: string) => {
    setScope([...scope, { kind: "values", field: one.key, values: [label], exclude: false } as Condition]);
    setTimeout(() => navigate(`/projects/${project_id}/corpus${window.location.search || search}`));
  };
  const shown = one.values
    .map((value, at) => ({ value, at }))
    .filter(({ value }) => value.label.toLowerCase().includes(find.toLowerCase()));
  const most = Math.max(1, ...one.values.map((value) => value.texts));
  const into = one.values.filter((value) => ticked.includes(value.id)).sort((a, b) => b.texts - a.texts)[0];
  return (
    <div>
      <div className="mb-1.5 flex items-center gap-2">
        <h2 className="text-[13px] font-[650]">
          {plural(one.different, one.role === "sets" ? "set" : "value")}
          {one.different > one.values.length ? `, the ${whole(one.values.length)} most frequent` : ""}
        </h2>
        {one.values.length > 12 && (
          <Input
            type="search"
            aria-label="Find a value"
            placeholder="Find a value"
            value={find}
            onChange={(event) => setFind(event.target.value)}
            className="max-w-[180px]"
          />
        )}
        {ticked.length > 1 && into && (
          <Button look="main" disabled={merge.isPending} onClick={() => merge.mutate(into.id)}>
            Merge {ticked.length} into “{into.label}”
          </Button>
        )}
        {ticked.length === 1 && <span className="text-ink2">Tick another to merge them.</span>}
      </div>
      <ul className="max-w-[620px] rounded border border-line">
        {shown.slice(0, 500).map(({ value, at }) => (
          <li
            key={value.id}
            className="group flex h-[30px] items-center gap-2 border-b border-line px-2 last:border-0 hover:bg-wash"
          >
            {writes && !value.rule && (
              <input
                type="checkbox"
                aria-label={`Tick ${value.label}`}
                checked={ticked.includes(value.id)}
                onChange={() =>
                  setTicked(
                    ticked.includes(value.id)
                      ? ticked.filter((id) => id !== value.id)
                      : [...ticked, value.id],
                  )
                }
              />
            )}
            <button
              type="button"
              onClick={() => open(value.label)}
              title={value.broken ?? "Open its texts"}
              className={`min-w-0 flex-1 truncate text-left hover:underline ${value.broken ? "text-rust" : ""}`}
            >
              {value.label}
              {value.rule && <span className="ml-2 text-ink3">by rule</span>}
            </button>
            <span aria-hidden className="h-[7px] w-[120px] shrink-0">
              <span
                className="block h-full rounded-[2px] bg-line2"
                style={{ width: `${(value.texts / most) * 100}%` }}
              />
            </span>
            <span className="w-[62px] shrink-0 text-right">{whole(value.texts)}</span>
            {writes && (
              <span className="flex shrink-0">
                <button
                  type="button"
                  aria-label={`Move ${value.label} up`}
                  disabled={at === 0}
                  onClick={() => move(at, -1)}
                  className="px-1 text-ink3 hover:text-ink disabled:opacity-30"
                >
                  ↑
                </button>
                <button
                  type="button"
                  aria-label={`Move ${value.label} down`}
                  disabled={at === one.values.length - 1}
                  onClick={() => move(at, 1)}
                  className="px-1 text-ink3 hover:text-ink disabled:opacity-30"
                >
                  ↓
                </button>
                <ValueMenu value={value} />
              </span>
            )}
          </li>
        ))}
        {!shown.length && (
          <li className="px-2 py-2 text-ink2">{one.values.length ? "No such value." : "No values yet."}</li>
        )}
      </ul>
      {shown.length > 500 && (
        <p className="mt-1 text-ink2">The first 500 are shown; find the others by name.</p>
      )}
    </div>
  );
}
