import { useQuery } from "@tanstack/react-query";
import { api, data, type Schema } from "../../api/client";
import { useCodebook } from "../../data/coding";
import type { Split } from "../../data/comparison";
import { keys } from "../../data/keys";
import { useFields, useProjectId } from "../../data/project";
import { Word } from "../../parts/word";
import { PERIODS } from "./settings";

export const BY_CODER = "coders";
const EACH_TEXT = "title";

/** Across what texts are parted: a field, the subcorpora, the codes under one, crossed with another field. */
export function Across({
  split,
  onChange,
  crossing = true,
  nothing = true,
  label = "Across",
  coders = false,
}: {
  split: Split;
  onChange: (split: Split) => void;
  crossing?: boolean;
  nothing?: boolean;
  label?: string;
  /** Whether people who code can be groups. */
  coders?: boolean;
}) {
  const project_id = useProjectId();
  const fields = useFields();
  const { codes } = useCodebook();
  const subcorpora = useQuery({
    queryKey: keys.of(project_id, "subcorpora"),
    queryFn: () =>
      data(api.GET("/api/v1/projects/{project_id}/subcorpora", { params: { path: { project_id } } })),
  }).data;
  const parents = codes.filter((code) => codes.some((one) => one.parent_id === code.id));
  const dated = (key: string | null | undefined) =>
    fields.find((field) => field.key === key)?.kind === "date";
  const choose = (value: string) => {
    if (value === "") return onChange({});
    if (value === "parts") return onChange({ parts: partsOf(subcorpora ?? []) });
    if (value.startsWith("codes.")) {
      const parent = parents.find((one) => one.id === Number(value.slice(6)));
      const below = codes.filter((one) => one.parent_id === parent?.id);
      return onChange({ codes: below.map((one) => pathOf(one, codes)) });
    }
    const period = dated(value) ? (split.period ?? "month") : null;
    const crossed = split.crossed?.field === value ? null : (split.crossed ?? null);
    onChange({ field: value, period, crossed });
  };
  const value = split.codes?.length ? "chosen codes" : split.parts?.length ? "parts" : (split.field ?? "");
  const under = split.codes?.[0]?.split(" > ").slice(0, -1).join(" > ");
  const usable = fields.filter(
    (field) => (field.can_split || field.key === EACH_TEXT) && (coders || field.key !== BY_CODER),
  );
  return (
    <>
      <Word
        label={label}
        value={value}
        onChange={choose}
        choices={[
          ...usable.map((field) => ({
            value: field.key,
            label: field.key === EACH_TEXT ? "each text by itself" : field.name,
          })),
          ...(value === "chosen codes"
            ? [{ value, label: under ? `what stands under ${under}` : "what stands under codes" }]
            : []),
          ...(value === "parts" && !subcorpora?.length
            ? [{ value: "parts", label: "parts of the corpus" }]
            : []),
          ...(nothing ? [{ value: "", label: "nothing: all texts together" }] : []),
        ]}
        groups={[
          {
            label: "Parts",
            choices: subcorpora?.length
              ? [{ value: "parts", label: value === "parts" ? "parts of the corpus" : "named subcorpora" }]
              : [],
          },
          {
            label: "The words under codes, such as speakers",
            choices: parents.map((code) => ({ value: `codes.${code.id}`, label: `under ${code.name}` })),
          },
        ]}
      />
      {dated(split.field) && (
        <>
          by
          <Word
            label="By"
            value={split.period ?? "month"}
            choices={PERIODS.map((one) => ({ value: one, label: one }))}
            onChange={(period) => onChange({ ...split, period: period as "month" })}
          />
        </>
      )}
      {crossing && value !== "" && (
        <>
          and
          <Word
            label="Crossed with"
            value={split.crossed?.field ?? ""}
            choices={[
              { value: "", label: "nothing else" },
              ...fields
                .filter((field) => field.can_split && field.key !== split.field)
                .map((field) => ({ value: field.key, label: field.name })),
            ]}
            onChange={(field) =>
              onChange({
                ...split,
                crossed: field ? { field, period: dated(field) ? "month" : null } : null,
              })
            }
          />
          {dated(split.crossed?.field) && (
            <Word
              label="Period it is crossed with"
              value={split.crossed?.period ?? "month"}
              choices={PERIODS.map((one) => ({ value: one, label: `by ${one}` }))}
              onChange={(period) =>
                onChange({
                  ...split,
                  crossed: { field: split.crossed!.field, period: period as "month" },
                })
              }
            />
          )}
        </>
      )}
      {Boolean(split.codes?.length) && (
        <label className="flex items-center gap-1 text-[12.5px] text-ink2">
          <input
            type="checkbox"
            checked={split.rest ?? false}
            onChange={(event) => onChange({ ...split, rest: event.target.checked })}
          />
          and all other words
        </label>
      )}
    </>
  );
}

type Code = ReturnType<typeof useCodebook>["codes"][number];

function pathOf(code: Code, codes: readonly Code[]): string {
  const parent = codes.find((one) => one.id === code.parent_id);
  return parent ? `${pathOf(parent, codes)} > ${code.name}` : code.name;
}

function partsOf(subcorpora: readonly Schema["SubcorpusPublic"][]): NonNullable<Split["parts"]> {
  return subcorpora.slice(0, 50).map((one) => ({ name: one.name, conditions: one.scope }));
}
