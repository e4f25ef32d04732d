import type { Schema } from "../../api/client";
import type { Wanted } from "../../data/dataset";
import { Word } from "../../parts/word";

type FieldOf = Schema["FieldInfo"];

/** The field that most likely tells respondents apart: a variable with such a name, else the first that can, else the source. */
export function usualUnit(fields: readonly FieldOf[]): string | null {
  const can = fields.filter((one) => UNIT_KINDS.has(one.kind) && one.key.startsWith("v"));
  const named = can.find((one) => /respond|participant|author|person|speaker|name/i.test(one.name));
  return (named ?? can[0])?.key ?? "source";
}

const UNIT_KINDS = new Set(["category", "text", "number"]);

/** Whose rows they are, and what stands side by side. */
export function UnitWords({
  wanted,
  fields,
  onChange,
}: {
  wanted: Wanted;
  fields: readonly FieldOf[];
  onChange: (part: Partial<Wanted>) => void;
}) {
  const can = fields.filter(
    (one) => UNIT_KINDS.has(one.kind) && !["codes", "passages", "title"].includes(one.key),
  );
  const side = can.filter((one) => one.kind === "category" && one.key !== wanted.unit);
  return (
    <>
      (values of{" "}
      <Word
        label="Unit"
        value={wanted.unit ?? ""}
        choices={can.map((one) => ({ value: one.key, label: one.name }))}
        onChange={(unit) => onChange({ unit, across: wanted.across === unit ? null : wanted.across })}
      />
      ,{" "}
      <Word
        label="Side by side"
        value={wanted.across ?? ""}
        choices={[
          { value: "", label: "all texts together" },
          ...side.map((one) => ({ value: one.key, label: `side by side by ${one.name}` })),
        ]}
        onChange={(across) => onChange({ across: across || null })}
      />
      ){" "}
    </>
  );
}
