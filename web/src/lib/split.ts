import type { Schema } from "../api/client";

type Field = Schema["FieldInfo"];
type Split = Schema["Split"];

/** Whether a field can part the texts: it can split, and some text has a value. */
function parts(field: Field, texts: number): boolean {
  return field.can_split && field.missing < texts;
}

/** The field a view opens on: the source where texts have one, else the first that parts them, else none. */
export function usualSplit(fields: readonly Field[], texts: number): Split {
  const possible = fields.filter((field) => parts(field, texts));
  const field = possible.find((one) => one.key === "source") ?? possible[0];
  if (!field) return {};
  return field.kind === "date" ? { field: field.key, period: "month" } : { field: field.key };
}

/** What a split is called: "source", "date by month", "all texts together". */
export function splitName(split: Split, fields: readonly Field[]): string {
  if (!split.field) return "all texts together";
  const name = fields.find((field) => field.key === split.field)?.name.toLowerCase() ?? split.field;
  return split.period ? `${name} by ${split.period}` : name;
}
