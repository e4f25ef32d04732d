import type { Schema } from "../../api/client";
import { Input, Select } from "../../parts/controls";

export type Mapping = Schema["MappingModel"];
export type Target = Schema["TargetModel"];
type Role = Target["role"];

const ROLES: { value: Role; label: string }[] = [
  { value: "skip", label: "Leave out" },
  { value: "text", label: "Text" },
  { value: "title", label: "Title" },
  { value: "source", label: "Source" },
  { value: "date", label: "Date" },
  { value: "key", label: "Key" },
  { value: "variable", label: "Variable" },
  { value: "group", label: "Group" },
  { value: "sets", label: "Sets" },
  { value: "note", label: "Note on the text" },
];
export const KINDS = [
  { value: "category", label: "category" },
  { value: "several", label: "several categories" },
  { value: "number", label: "number" },
  { value: "date", label: "date" },
  { value: "text", label: "text" },
];
/** What the parts of a lot are given: how it is taken, and how to change that. */
export interface MappingProps {
  lot: Schema["LotPreview"];
  mapping: Mapping;
  onChange: (mapping: Mapping) => void;
}

/** Roles that any number of columns may have. */
const MANY: readonly Role[] = ["text", "variable", "note", "skip"];

export function targetOf(mapping: Mapping, column: string): Target {
  return (
    mapping.targets.find((target) => target.column === column) ?? {
      column,
      role: "skip",
      name: "",
      kind: "category",
      separator: ";",
      also: false,
    }
  );
}

/** Give a column another part; a part only one column can have is taken from the one that had it. */
export function withTarget(
  mapping: Mapping,
  header: readonly string[],
  column: string,
  values: Partial<Target>,
): Mapping {
  const taken = values.role !== undefined && !MANY.includes(values.role) ? values.role : null;
  return {
    ...mapping,
    targets: header.map((name) => {
      const target = targetOf(mapping, name);
      if (name === column) return { ...target, ...values };
      return taken !== null && target.role === taken ? { ...target, role: "skip" as const } : target;
    }),
  };
}

export const textColumns = (mapping: Mapping) => mapping.targets.filter((target) => target.role === "text");

export function Columns({
  header,
  rows,
  mapping,
  onChange,
}: {
  header: readonly string[];
  rows: readonly (readonly string[])[];
  mapping: Mapping;
  onChange: (mapping: Mapping) => void;
}) {
  const change = (column: string, values: Partial<Target>) =>
    onChange(withTarget(mapping, header, column, values));
  const texts = textColumns(mapping).length;
  return (
    <section
      className="overflow-auto rounded border border-line"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
      tabIndex={0}
      aria-label="Columns and first rows"
    >
      <table className="w-full">
        <thead>
          <tr>
            {header.map((column) => {
              const target = targetOf(mapping, column);
              return (
                <th
                  key={column}
                  className="min-w-[132px] border-r border-b border-line2 px-2 py-1.5 text-left align-top font-normal last:border-r-0"
                >
                  <div className="mb-1 max-w-[220px] truncate font-semibold" title={column}>
                    {column}
                  </div>
                  <Select
                    aria-label={`What is ${column}`}
                    value={target.role}
                    choices={ROLES}
                    onChange={(role) => change(column, { role: role as Role, name: target.name || column })}
                    className={target.role === "text" ? "border-bottle! font-semibold" : ""}
                  />
                  {target.role === "variable" && (
                    <div className="mt-1 flex gap-1">
                      <Select
                        aria-label={`Kind of ${column}`}
                        value={target.kind ?? "category"}
                        choices={KINDS}
                        onChange={(kind) => change(column, { kind: kind as NonNullable<Target["kind"]> })}
                      />
                      {target.kind === "several" && <Sign column={column} target={target} change={change} />}
                    </div>
                  )}
                  {target.role === "key" && (
                    <label className="mt-1 flex items-center gap-1 text-ink2">
                      <input
                        type="checkbox"
                        checked={target.also ?? false}
                        onChange={(event) =>
                          change(column, { also: event.target.checked, kind: "text", name: column })
                        }
                      />{" "}
                      also a variable
                    </label>
                  )}
                  {(target.role === "date" || (target.role === "variable" && target.kind === "date")) && (
                    <label className="mt-1 flex items-center gap-1 text-ink2">
                      <input
                        type="checkbox"
                        checked={target.also ?? false}
                        onChange={(event) => change(column, { also: event.target.checked })}
                      />{" "}
                      time of day as a variable
                    </label>
                  )}
                  {target.role === "sets" && (
                    <div className="mt-1 flex items-center gap-1 text-ink2">
                      separated by <Sign column={column} target={target} change={change} />
                    </div>
                  )}
                  {(target.role === "variable" ||
                    target.role === "note" ||
                    (target.role === "text" && texts > 1)) && (
                    <Input
                      aria-label={`Name of ${column}`}
                      title={target.role === "text" ? "Name of the question or section" : "Name"}
                      value={target.name ?? ""}
                      placeholder={column}
                      onChange={(event) => change(column, { name: event.target.value })}
                      className="mt-1"
                    />
                  )}
                </th>
              );
            })}
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, 4).map((row, at) => (
            <tr key={at} className="border-b border-line last:border-0">
              {row.map((cell, i) => (
                <td
                  key={i}
                  className={`max-w-[240px] truncate border-r border-line px-2 py-1 last:border-r-0 ${targetOf(mapping, header[i] ?? "").role === "skip" ? "text-ink3" : ""}`}
                >
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

const SIGNS = [
  { value: ";", label: ";" },
  { value: ",", label: "," },
  { value: "|", label: "|" },
  { value: "/", label: "/" },
  { value: "\n", label: "line" },
  { value: " ", label: "space" },
  { value: "[]", label: "[ ]" },
];

function Sign({
  column,
  target,
  change,
}: {
  column: string;
  target: Target;
  change: (column: string, values: Partial<Target>) => void;
}) {
  const sign = target.separator ?? ";";
  return (
    <Select
      aria-label={`Sign between values of ${column}`}
      value={sign}
      choices={SIGNS.some((one) => one.value === sign) ? SIGNS : [...SIGNS, { value: sign, label: sign }]}
      onChange={(separator) => change(column, { separator })}
      className="w-[62px]!"
    />
  );
}
