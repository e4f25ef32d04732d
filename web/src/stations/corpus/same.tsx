import { Field, Select } from "../../parts/controls";
import type { Mapping, MappingProps } from "./mapping";

const OWN = "these columns alone";
const WHOLE = "the whole project";

/** When a row is a text that is there already: by which rule, and among which rows. */
export function Sameness({ lot, mapping, onChange }: MappingProps) {
  const key = mapping.targets.find((target) => target.role === "key")?.column;
  const told = ["text", "title", "source", "date", ...lot.identifying];
  const rules = [
    ...(key
      ? [
          { value: "key", label: `their key (${key})` },
          { value: "key-file", label: `their key (${key}), in a file of this name` },
        ]
      : []),
    { value: "row", label: `${told.slice(0, -1).join(", ")} and ${told.at(-1)}` },
    { value: "place", label: "their text, in a file of this name" },
  ];
  const lines = lot.lines.filter((line) => line.token && line.token !== lot.key);
  return (
    <>
      <div className="w-[290px]">
        <Field label="Recognise known texts by">
          {(id) => (
            <Select
              id={id}
              value={lot.rule}
              choices={rules}
              onChange={(rule) => onChange({ ...mapping, same: rule as NonNullable<Mapping["same"]> })}
            />
          )}
        </Field>
      </div>
      {key && lot.rule === "key" && (
        <div className="w-[230px]">
          <Field label={`${key} counts the rows of`}>
            {(id) => (
              <Select
                id={id}
                value={mapping.line ?? lot.key}
                choices={[
                  { value: lot.key, label: OWN },
                  ...lines.map((line) => ({ value: line.token, label: `deliveries like ${line.name}` })),
                  { value: "", label: WHOLE },
                ]}
                onChange={(line) => onChange({ ...mapping, line })}
              />
            )}
          </Field>
        </div>
      )}
    </>
  );
}
