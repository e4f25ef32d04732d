import type { Target } from "../../data/comparison";
import type { RunLine } from "../../data/runs";

export type OfNumbers = Extract<Target, { kind: "numbers" }>;
type One = OfNumbers["numbers"][number];
interface NumberChoice {
  value: string;
  label: string;
}

/** All numbers whose means can be compared: fields of numbers, and the tone that runs found. */
export function numberChoices(
  fields: readonly { key: string; name: string; kind: string }[],
  runs: readonly RunLine[],
): NumberChoice[] {
  return [
    ...fields
      .filter((field) => field.kind === "number")
      .map((field) => ({ value: `field.${field.key}`, label: field.name })),
    ...runs
      .filter((run) => run.recipe.finder.kind === "tone")
      .map((run) => ({ value: `tone.${run.id}`, label: `Tone (run “${run.name}”)` })),
  ];
}

function numberOf(value: string): One {
  const [kind, ...rest] = value.split(".");
  return kind === "tone" ? { kind: "tone", run: Number(rest[0]) } : { kind: "field", field: rest.join(".") };
}

/** As one of the choices. */
export function choiceOf(one: One): string {
  return one.kind === "tone" ? `tone.${one.run}` : `field.${one.field}`;
}

export function ofNumbers(...values: readonly string[]): OfNumbers {
  return { kind: "numbers", numbers: values.map(numberOf), revision: null };
}

/** The same with one number more. */
export function andNumber(target: OfNumbers, value: string): OfNumbers {
  return ofNumbers(...target.numbers.map(choiceOf), value);
}
