import { Field, Input, Select } from "../../parts/controls";
import type { Compared } from "./settings";

const LEVELS = [0.9, 0.95, 0.99];
const MOST_SEED = 2 ** 31 - 1;

/** What is drawn at random, how sure intervals and tests are to be, and where chance begins. */
export function Uncertainty({ compared }: { compared: Compared }) {
  const { comparison, fields, change } = compared;
  const level = comparison.level ?? 0.95;
  const units = fields.filter((field) => field.kind !== "several" && field.key !== "title");
  const weights = fields.filter((field) => field.kind === "number" && field.key.startsWith("v"));
  const levels = LEVELS.includes(level) ? LEVELS : [...LEVELS, level].sort((a, b) => a - b);
  return (
    <section aria-label="Uncertainty">
      <Field label="Sampling unit">
        {(id) => (
          <Select
            id={id}
            value={comparison.unit ?? ""}
            choices={[
              { value: "", label: "the text" },
              { value: "story", label: "the story: near-duplicate texts" },
              ...units.map((field) => ({ value: field.key, label: field.name })),
            ]}
            onChange={(unit) => change({ unit: unit || null })}
          />
        )}
      </Field>
      {(weights.length > 0 || comparison.weight) && (
        <Field label="Weights" hint={comparison.weight ? "Texts without one are left out." : undefined}>
          {(id) => (
            <Select
              id={id}
              value={comparison.weight ?? ""}
              choices={[
                { value: "", label: "all texts count alike" },
                ...weights.map((field) => ({ value: field.key, label: field.name })),
              ]}
              onChange={(weight) => change({ weight: weight || null })}
            />
          )}
        </Field>
      )}
      <div className="grid grid-cols-2 gap-2">
        <Field label="Level">
          {(id) => (
            <Select
              id={id}
              value={String(level)}
              choices={levels.map((one) => ({ value: String(one), label: `${+(one * 100).toFixed(4)}%` }))}
              onChange={(chosen) => change({ level: Number(chosen) })}
            />
          )}
        </Field>
        <Field label="Seed">
          {(id) => (
            <Input
              id={id}
              key={comparison.seed}
              defaultValue={comparison.seed ?? 1}
              inputMode="numeric"
              title="Where chance begins: the same seed gives the same numbers"
              onBlur={(event) => {
                const typed = event.target.value.trim();
                if (/^\d{1,10}$/.test(typed) && Number(typed) <= MOST_SEED) change({ seed: Number(typed) });
                else event.target.value = String(comparison.seed ?? 1);
              }}
              onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
            />
          )}
        </Field>
      </div>
    </section>
  );
}
