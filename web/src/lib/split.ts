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
  const called = (key: string) => fields.find((field) => field.key === key)?.name.toLowerCase() ?? key;
  const by = (period?: string | null) => (period ? ` by ${period}` : "");
  const crossed = split.crossed ? ` and ${called(split.crossed.field)}${by(split.crossed.period)}` : "";
  if (split.parts?.length) return `parts of the corpus${crossed}`;
  if (split.codes?.length) return `code${crossed}`;
  if (!split.field) return "all texts together";
  return `${called(split.field)}${by(split.period)}${crossed}`;
}

/** Whether there are groups to compare. */
export function divides(split: Split | undefined): boolean {
  return Boolean(split?.field || split?.parts?.length || split?.codes?.length);
}
