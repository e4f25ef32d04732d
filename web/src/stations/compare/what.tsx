import { useState } from "react";
import type { Schema } from "../../api/client";
import { ofDictionary, type Target } from "../../data/comparison";
import { useFields, useSummary } from "../../data/project";
import { useRuns } from "../../data/runs";
import { term } from "../../lib/terms";
import { Word } from "../../parts/word";
import { andNumber, choiceOf, numberChoices, type OfNumbers, ofNumbers } from "./numbers";

type Dictionaries = readonly Schema["DictionaryPublic"][];

/** What is usually asked of a target. */
export function usualMeasure(target: Target): string {
  if (target.kind === "numbers") return "mean";
  return ["codes", "run", "values", "length"].includes(target.kind) ? "share_of_texts" : "rate";
}

function ofCodes(): Target {
  return { kind: "codes", coders: [], counted: "passages", revision: null };
}

/** What a target is called among the choices. */
function named(target: Target): string {
  if (target.kind === "dictionary") return String(target.dictionary);
  if (target.kind === "run") return `run.${target.run}`;
  if (target.kind === "values") return `values.${target.field}`;
  if (target.kind === "numbers" && target.numbers.length === 1)
    return `numbers.${choiceOf(target.numbers[0]!)}`;
  return target.kind;
}

/** What is counted: a word of the sentence, and a line to type in where words are. */
export function What({
  target,
  dictionaries,
  onChange,
  label = "What is compared",
  none,
  means = false,
}: {
  target: Target | null;
  dictionaries: Dictionaries;
  onChange: (target: Target | null) => void;
  label?: string;
  /** What stands there where nothing is chosen; without it something is. */
  none?: string;
  /** Whether means of numbers can be asked for. */
  means?: boolean;
}) {
  const runs = useRuns().data ?? [];
  const fields = useFields();
  const codes = useSummary().data?.codes ?? 0;
  const choose = (value: string) => {
    const [kind, ...rest] = value.split(".");
    const name = rest.join(".");
    if (value === "") onChange(null);
    else if (kind === "run")
      onChange({ kind: "run", run: Number(name), counted: "passages", revision: null });
    else if (kind === "values") {
      const dated = fields.find((field) => field.key === name)?.kind === "date";
      onChange({ kind: "values", field: name, period: dated ? "month" : null });
    } else if (kind === "numbers" && name) onChange(ofNumbers(name));
    else if (kind === "codes") onChange(ofCodes());
    else if (kind === "length") onChange({ kind: "length", cuts: [50, 200, 1000] });
    else if (kind === "terms") onChange({ kind: "terms", terms: [term("word")] });
    else if (/^\d+$/.test(value)) onChange(ofDictionary(Number(value), []).target);
  };
  const numbers = means ? numberChoices(fields, runs) : [];
  const one = target?.kind === "numbers" && target.numbers.length === 1;
  const known =
    one || !target || ["dictionary", "run", "values", "codes", "length", "terms"].includes(target.kind);
  return (
    <>
      <Word
        label={label}
        value={target ? named(target) : ""}
        onChange={choose}
        choices={[
          ...(none !== undefined ? [{ value: "", label: none }] : []),
          ...(target && !known ? [{ value: named(target), label: OTHER[target.kind] ?? target.kind }] : []),
        ]}
        groups={[
          {
            label: "Dictionaries",
            choices: dictionaries.map((one) => ({ value: String(one.id), label: one.name })),
          },
          {
            label: "Coding",
            choices: [
              ...(codes ? [{ value: "codes", label: "Codes" }] : []),
              ...runs.map((run) => ({ value: `run.${run.id}`, label: `Run “${run.name}”` })),
            ],
          },
          { label: "Words", choices: [{ value: "terms", label: "Words and phrases" }] },
          {
            label: "Texts",
            choices: [
              { value: "length", label: "Texts by their length" },
              ...fields
                .filter((field) => field.can_split && !["codes", "coders"].includes(field.key))
                .map((field) => ({ value: `values.${field.key}`, label: `Values of ${field.name}` })),
            ],
          },
          {
            label: "Means of numbers",
            choices: numbers.map((one) => ({ value: `numbers.${one.value}`, label: one.label })),
          },
        ]}
      />
      {target?.kind === "numbers" && <AndNumber target={target} numbers={numbers} onChange={onChange} />}
      {target?.kind === "terms" && <Terms target={target} onChange={onChange} />}
    </>
  );
}

const OTHER: Record<string, string> = {
  words: "Words of a list",
  given: "Topics and categories",
  search: "A search",
  numbers: "Several numbers",
};

/** Another number beside those that are compared. */
function AndNumber({
  target,
  numbers,
  onChange,
}: {
  target: OfNumbers;
  numbers: readonly { value: string; label: string }[];
  onChange: (target: Target) => void;
}) {
  const taken = new Set(target.numbers.map(choiceOf));
  const left = numbers.filter((one) => !taken.has(one.value));
  if (!left.length) return null;
  return (
    <Word
      label="Another number beside it"
      value=""
      choices={[{ value: "", label: "and …" }, ...left]}
      onChange={(value) => value && onChange(andNumber(target, value))}
    />
  );
}

/** Words and phrases, with commas between them, in the grammar of terms. */
function Terms({
  target,
  onChange,
}: {
  target: Extract<Target, { kind: "terms" }>;
  onChange: (target: Target) => void;
}) {
  const stored = target.terms.map((one) => one.source).join(", ");
  const [written, setWritten] = useState<string | null>(null);
  const keep = () => {
    if (written === null) return;
    const sources = [...new Set(written.split(",").map((one) => one.trim()))].filter(Boolean);
    if (sources.length) onChange({ kind: "terms", terms: sources.map((source) => term(source)) });
    setWritten(null);
  };
  return (
    <input
      aria-label="Words and phrases, with commas between them"
      value={written ?? stored}
      placeholder="wolf, lamb*, public safety"
      spellCheck={false}
      onChange={(event) => setWritten(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => event.key === "Enter" && keep()}
      className="min-w-[190px] border-b-[1.5px] border-bottle bg-transparent font-semibold text-bottle"
      style={{ width: `${Math.min(Math.max((written ?? stored).length, 18), 60)}ch` }}
    />
  );
}
