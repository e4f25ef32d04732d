import { Field, Input, Select } from "../../parts/controls";
import { type MappingProps, withTarget } from "./mapping";

const NAMES: Record<string, string> = { file: "the file", folder: "the folder" };

/** Who the texts are from, where no column was found that says it: asked for, since sources are compared. */
export function SourceOf({ lot, mapping, onChange }: MappingProps) {
  const named = mapping.targets.find((target) => target.role === "source")?.column;
  const chosen = named
    ? `column:${named}`
    : mapping.source_from || (mapping.source_name !== null ? "one" : "");
  const choose = (way: string) => {
    const [kind, column] = [way.split(":")[0], way.slice(way.indexOf(":") + 1)];
    if (kind === "column")
      return onChange({
        ...withTarget(mapping, lot.header, column, { role: "source" }),
        source_from: "",
        source_name: null,
      });
    onChange({
      ...(named ? withTarget(mapping, lot.header, named, { role: "skip" }) : mapping),
      source_from: way === "one" ? "" : way,
      source_name: way === "one" ? (mapping.source_name ?? "") : null,
    });
  };
  return (
    <>
      <div className="w-[300px]">
        <Field label="Who are the texts from?">
          {(id) => (
            <Select
              id={id}
              value={chosen}
              choices={[
                { value: "", label: "not said; sources cannot be compared" },
                { value: "one", label: "one source for all of them" },
                ...(named && !lot.sources.some(({ way }) => way === chosen)
                  ? [{ value: chosen, label: named }]
                  : []),
                ...lot.sources.map(({ way, examples }) => ({
                  value: way,
                  label: `${wayWords(way)} (${examples.join(", ")})`.slice(0, 90),
                })),
              ]}
              onChange={choose}
              className={chosen ? "" : "border-rust!"}
            />
          )}
        </Field>
      </div>
      {chosen === "one" && (
        <div className="w-[200px]">
          <Field label="Name of the source">
            {(id) => (
              <Input
                id={id}
                value={mapping.source_name ?? ""}
                onChange={(event) => onChange({ ...mapping, source_name: event.target.value })}
              />
            )}
          </Field>
        </div>
      )}
    </>
  );
}

function wayWords(way: string) {
  const [kind, column] = [way.split(":")[0]!, way.slice(way.indexOf(":") + 1)];
  if (kind === "column") return column;
  return kind === "domain" ? `the domain in ${column}` : (NAMES[kind] ?? way);
}
