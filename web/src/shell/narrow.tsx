import { useState } from "react";
import type { Condition, Schema } from "../api/client";
import { whole } from "../lib/numbers";
import { Button, Field, Input, Select } from "../parts/controls";
import { LongField, TextField } from "../parts/fields";

type FieldInfo = Schema["FieldInfo"];
const WORDS_IN_TEXT = "(text)";

/** Choose one condition; the form follows the kind of the field. */
export function NarrowForm({
  fields,
  onAdd,
}: {
  fields: readonly FieldInfo[];
  onAdd: (condition: Condition) => void;
}) {
  const [key, setKey] = useState("source");
  const [exclude, setExclude] = useState(false);
  const field = fields.find((one) => one.key === key);
  const choices = [
    ...fields.map((one) => ({ value: one.key, label: one.key === "words" ? "Number of words" : one.name })),
    { value: WORDS_IN_TEXT, label: "Words in the text" },
  ];
  const add = (condition: Condition) => onAdd({ ...condition, exclude: exclude || condition.exclude });
  return (
    <div>
      <Field label="Narrow by">
        {(id) => <Select id={id} value={key} choices={choices} onChange={setKey} />}
      </Field>
      {key === WORDS_IN_TEXT && <Terms onAdd={add} />}
      {field && (field.kind === "category" || field.kind === "several") && (
        <Values key={key} field={field} onAdd={add} />
      )}
      {field?.kind === "date" && <Dates key={key} field={field} onAdd={add} />}
      {field?.kind === "number" && <Numbers key={key} field={field} onAdd={add} />}
      {field?.kind === "text" && <Contains key={key} field={field} onAdd={add} />}
      <label className="mt-2 flex items-center gap-2 text-ink2">
        <input type="checkbox" checked={exclude} onChange={(event) => setExclude(event.target.checked)} />{" "}
        Leave these out instead
      </label>
    </div>
  );
}

type Part<K> = { field: FieldInfo; onAdd: (condition: K) => void };

/** What a code in the scope does: it chooses texts, or the words that are counted. */
const COUNTED = [
  { value: "texts", label: "the whole texts" },
  { value: "inside", label: "only the passages under it" },
  { value: "outside", label: "all but the passages under it" },
];

function Values({ field, onAdd }: Part<Condition>) {
  const [counted, setCounted] = useState("texts");
  const [chosen, setChosen] = useState<readonly (string | null)[]>([]);
  const [find, setFind] = useState("");
  const all = [...field.values, ...(field.missing ? [{ label: null, texts: field.missing }] : [])];
  const shown = all
    .filter((value) => (value.label ?? "no value").toLowerCase().includes(find.toLowerCase()))
    .slice(0, 200);
  // no code at all has no passages to count
  const codes =
    counted === "texts" ? chosen.map(String) : chosen.filter((label): label is string => label !== null);
  const toggle = (label: string | null) =>
    setChosen((now) => (now.includes(label) ? now.filter((one) => one !== label) : [...now, label]));
  return (
    <div>
      {all.length > 8 && (
        <Input
          aria-label="Find a value"
          placeholder="Find a value"
          value={find}
          onChange={(event) => setFind(event.target.value)}
          className="mb-2"
        />
      )}
      <div className="mb-2 max-h-[220px] overflow-auto rounded border border-line">
        {shown.map((value) => (
          <label
            key={value.label ?? " "}
            className="flex cursor-pointer items-center gap-2 px-2 py-1 hover:bg-tint"
          >
            <input
              type="checkbox"
              checked={chosen.includes(value.label)}
              onChange={() => toggle(value.label)}
            />
            <span className={`truncate ${value.label === null ? "text-ink3 italic" : ""}`}>
              {value.label ?? "no value"}
            </span>
            <span className="ml-auto text-ink2">{whole(value.texts)}</span>
          </label>
        ))}
        {!shown.length && <div className="px-2 py-2 text-ink2">No such value.</div>}
      </div>
      {field.key === "codes" && (
        <Field label="Counted are">
          {(id) => <Select id={id} value={counted} choices={COUNTED} onChange={setCounted} />}
        </Field>
      )}
      <Button
        look="main"
        disabled={!codes.length}
        onClick={() =>
          onAdd(
            counted === "texts"
              ? { kind: "values", field: field.key, values: [...chosen], exclude: false }
              : { kind: "inside", field: "codes", codes, exclude: counted === "outside" },
          )
        }
      >
        Narrow
      </Button>
    </div>
  );
}

function Dates({ field, onAdd }: Part<Condition>) {
  const [low, setLow] = useState(field.low ?? "");
  const [high, setHigh] = useState(field.high ?? "");
  return (
    <div>
      <div className="grid grid-cols-2 gap-2">
        <TextField label="From" type="date" value={low} onChange={setLow} />
        <TextField label="To, included" type="date" value={high} onChange={setHigh} />
      </div>
      <Button
        look="main"
        disabled={!low && !high}
        onClick={() =>
          onAdd({ kind: "dates", field: field.key, low: low || null, high: high || null, exclude: false })
        }
      >
        Narrow
      </Button>
    </div>
  );
}

function Numbers({ field, onAdd }: Part<Condition>) {
  const [low, setLow] = useState(field.low ?? "");
  const [high, setHigh] = useState(field.high ?? "");
  const number = (written: string) => (written.trim() === "" ? null : Number(written));
  const bad = [low, high].some((written) => Number.isNaN(number(written)));
  return (
    <div>
      <div className="grid grid-cols-2 gap-2">
        <TextField label="From" inputMode="decimal" value={low} onChange={setLow} />
        <TextField label="To, included" inputMode="decimal" value={high} onChange={setHigh} />
      </div>
      <Button
        look="main"
        disabled={bad || (!low && !high)}
        onClick={() =>
          onAdd({ kind: "numbers", field: field.key, low: number(low), high: number(high), exclude: false })
        }
      >
        Narrow
      </Button>
    </div>
  );
}

function Contains({ field, onAdd }: Part<Condition>) {
  const [words, setWords] = useState("");
  return (
    <div>
      <Field label={`${field.name} contains`}>
        {(id) => <Input id={id} value={words} onChange={(event) => setWords(event.target.value)} />}
      </Field>
      <Button
        look="main"
        disabled={!words.trim()}
        onClick={() => onAdd({ kind: "title", field: field.key, contains: words.trim(), exclude: false })}
      >
        Narrow
      </Button>
    </div>
  );
}

function Terms({ onAdd }: { onAdd: (condition: Condition) => void }) {
  const [written, setWritten] = useState("");
  const terms = written
    .split("\n")
    .map((line) => line.trim())
    .filter(Boolean);
  return (
    <div>
      <LongField
        label="Texts with any of these terms, one a line"
        hint="As in the dictionary: lamb*, market price, #night*."
        rows={3}
        value={written}
        onChange={setWritten}
      />
      <Button
        look="main"
        disabled={!terms.length}
        onClick={() => onAdd({ kind: "terms", terms, exclude: false })}
      >
        Narrow
      </Button>
    </div>
  );
}
