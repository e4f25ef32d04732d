import { useCodebook } from "../../data/coding";
import { Field, Select } from "../../parts/controls";
import type { Compared } from "./settings";

/** Of codes: what is counted of their passages, and whose. */
export function Coded({ compared }: { compared: Compared }) {
  const { target } = compared.comparison;
  const coders = useCodebook().data?.coders ?? [];
  if (target.kind !== "codes") return null;
  // an answer names the state of the coding that was counted; another question counts what is there now
  const change = (part: Partial<typeof target>) =>
    compared.change({ target: { ...target, ...part, revision: null } });
  const chosen = target.coders ?? [];
  return (
    <>
      <Field label="Of the passages">
        {(id) => (
          <Select
            id={id}
            value={target.counted ?? "passages"}
            choices={[
              { value: "passages", label: "their number" },
              { value: "words", label: "words they cover" },
            ]}
            onChange={(counted) => change({ counted: counted as "words" })}
          />
        )}
      </Field>
      {(coders.length > 1 || chosen.length > 0) && (
        <Field label="Coded by">
          {(id) => (
            <Select
              id={id}
              value={chosen.length > 1 ? "several" : String(chosen[0] ?? "")}
              choices={[
                { value: "", label: "everybody" },
                ...(chosen.length > 1 ? [{ value: "several", label: "some of them" }] : []),
                ...coders.map((one) => ({
                  value: String(one.id),
                  label: one.me ? `${one.name} (you)` : one.name,
                })),
              ]}
              onChange={(id) => id !== "several" && change({ coders: id ? [Number(id)] : [] })}
            />
          )}
        </Field>
      )}
    </>
  );
}
