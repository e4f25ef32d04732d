import { useQuery } from "@tanstack/react-query";
import { api, data, type Schema } from "../../api/client";
import { ofDictionary, type Target } from "../../data/comparison";
import { keys } from "../../data/keys";
import { useMeasures } from "../../data/measures";
import { useProjectId } from "../../data/project";
import { Field, Segments, Select } from "../../parts/controls";
import { Coded } from "./coded";
import { HeldEqual } from "./held";
import { type Compared, PERIODS } from "./settings";
import { Uncertainty } from "./uncertainty";

type Dictionaries = readonly Schema["DictionaryPublic"][];

/** Targets that are chosen by name; the others come with an address and are called what they are. */
const NAMED: readonly { label: string; target: Target; measure: string }[] = [
  {
    label: "Codes",
    target: { kind: "codes", coders: [], counted: "passages", revision: null },
    measure: "share_of_texts",
  },
  {
    label: "Texts by their length",
    target: { kind: "length", cuts: [50, 200, 1000] },
    measure: "share_of_texts",
  },
];

/** What is compared, across what, in which unit. */
export function Choices({ compared, dictionaries }: { compared: Compared; dictionaries: Dictionaries }) {
  const { comparison, change, fields, dated } = compared;
  const measures = useMeasures();
  const split = comparison.split ?? {};
  const across = [
    ...fields.filter((field) => field.can_split).map((field) => ({ value: field.key, label: field.name })),
    { value: "none", label: "Nothing: all texts together" },
  ];
  const choose = (by: string) => {
    const kind = fields.find((field) => field.key === by)?.kind;
    const adjust = by === "none" ? [] : (comparison.adjust ?? []).filter((one) => one.field !== by);
    change({
      split: by === "none" ? {} : { field: by, period: kind === "date" ? (split.period ?? "month") : null },
      adjust,
      measure: comparison.measure === "adjusted" && !adjust.length ? "rate" : comparison.measure,
    });
  };
  return (
    <section
      aria-label="What to compare"
      className="w-[196px] shrink-0 overflow-auto border-r border-line2 px-4 py-3.5"
    >
      <What compared={compared} dictionaries={dictionaries} />
      <Coded compared={compared} />
      <Against compared={compared} dictionaries={dictionaries} />
      <Field label="Across">
        {(id) => <Select id={id} value={split.field ?? "none"} choices={across} onChange={choose} />}
      </Field>
      {dated && (
        <Field label="By">
          {(id) => (
            <Select
              id={id}
              value={split.period ?? "month"}
              choices={PERIODS.map((one) => ({ value: one, label: one }))}
              onChange={(period) => change({ split: { ...split, period: period as "month" } })}
            />
          )}
        </Field>
      )}
      <Field label="Measure">
        {(id) => (
          <Select
            id={id}
            value={comparison.measure ?? "rate"}
            choices={measures
              .filter((one) => one.needs !== "held" || comparison.adjust?.length)
              .filter((one) => one.needs !== "judged" || comparison.target.kind === "dictionary")
              .map((one) => ({ value: one.name, label: one.label }))}
            onChange={(measure) => change({ measure })}
          />
        )}
      </Field>
      <HeldEqual compared={compared} />
      <div className="mb-3.5">
        <div className="mb-1 text-[12px] font-bold text-ink2">Draw as</div>
        <Segments
          label="Draw as"
          value={compared.draw}
          onChange={compared.setDraw}
          choices={[
            { value: "dots", label: "Dots" },
            { value: "table", label: "Table" },
            { value: "trend", label: "Trend", disabled: !dated },
          ]}
        />
      </div>
      <Uncertainty compared={compared} />
    </section>
  );
}

function What({ compared, dictionaries }: { compared: Compared; dictionaries: Dictionaries }) {
  const { target, scope, split } = compared.comparison;
  const named = NAMED.find((one) => one.target.kind === target.kind);
  const choices = [
    ...dictionaries.map((one) => ({ value: String(one.id), label: one.name })),
    ...NAMED.map((one) => ({ value: one.target.kind, label: one.label })),
  ];
  const known = target.kind === "dictionary" || named;
  if (!known) choices.unshift({ value: "other", label: `${target.kind} in the address` });
  const choose = (value: string) => {
    const chosen = NAMED.find((one) => one.target.kind === value);
    if (chosen) compared.change({ target: chosen.target, measure: chosen.measure });
    else if (value !== "other")
      compared.change({ target: ofDictionary(Number(value), scope ?? [], split).target });
  };
  return (
    <Field label="Compare">
      {(id) => (
        <Select
          id={id}
          value={target.kind === "dictionary" ? String(target.dictionary) : named ? target.kind : "other"}
          choices={choices}
          onChange={choose}
        />
      )}
    </Field>
  );
}

/** Another dictionary, or an earlier version of this one, on the same texts. */
function Against({ compared, dictionaries }: { compared: Compared; dictionaries: Dictionaries }) {
  const project_id = useProjectId();
  const { target } = compared.comparison;
  const dictionary_id = target.kind === "dictionary" ? target.dictionary : 0;
  const versions = useQuery({
    queryKey: keys.of(project_id, "versions", dictionary_id),
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/versions", {
          params: { path: { project_id, dictionary_id } },
        }),
      ),
    enabled: dictionary_id > 0,
  });
  const choices = [
    { value: "", label: "nothing" },
    ...dictionaries
      .filter((one) => one.id !== dictionary_id)
      .map((one) => ({ value: `${one.id}.`, label: one.name })),
    ...(versions.data ?? [])
      .filter((one) => !one.now)
      .map((one) => ({
        value: `${dictionary_id}.${one.number}`,
        label: `its version ${one.number}${one.name ? ` “${one.name}”` : ""}`,
      })),
  ];
  if (choices.length === 1 || !dictionary_id) return null;
  const known = choices.some((one) => one.value === compared.against);
  return (
    <Field label="Against">
      {(id) => (
        <Select
          id={id}
          value={known ? compared.against : ""}
          choices={choices}
          onChange={compared.setAgainst}
        />
      )}
    </Field>
  );
}
