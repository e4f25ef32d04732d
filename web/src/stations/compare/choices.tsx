import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schema } from "../../api/client";
import type { Comparison, Table } from "../../data/comparison";
import { keys } from "../../data/keys";
import { useMeasures } from "../../data/measures";
import { useProjectId } from "../../data/project";
import { divides } from "../../lib/split";
import { Button, Field, Segments, Select } from "../../parts/controls";
import { Word } from "../../parts/word";
import { Across } from "./across";
import { Arrange } from "./arrange";
import { Coded } from "./coded";
import { HeldEqual } from "./held";
import { byHand, movedByHand, ordered } from "./order";
import { type Compared, DRAWINGS, type Drawing, fitsNumbers, ORDERS } from "./settings";
import { Uncertainty } from "./uncertainty";
import { usualMeasure, What } from "./what";

type Dictionaries = readonly Schema["DictionaryPublic"][];
const COUNTED = [
  { value: "hits", label: "hits" },
  { value: "sentences", label: "sentences with a hit" },
  { value: "paragraphs", label: "paragraphs with a hit" },
  { value: "words", label: "words covered" },
];

/** What is compared, across what, in which unit: a sentence whose words are chosen. */
export function Choices({
  compared,
  dictionaries,
  table,
}: {
  compared: Compared;
  dictionaries: Dictionaries;
  table: Table | undefined;
}) {
  const { comparison, change } = compared;
  const [more, setMore] = useState(() => hasMore(comparison, compared.against));
  const split = comparison.split ?? {};
  const means = comparison.target.kind === "numbers";
  const across = (next: typeof split) => {
    const adjust = divides(next) ? (comparison.adjust ?? []).filter((one) => one.field !== next.field) : [];
    const only = next.field && !next.crossed ? adjust : [];
    const measure = comparison.measure === "adjusted" && !only.length ? "rate" : comparison.measure;
    change({ split: next, adjust: only, measure, reference: null });
  };
  return (
    <section aria-label="What to compare" className="border-b border-line2 bg-sheet px-4 pt-3 pb-2.5">
      <div className="flex flex-wrap items-baseline gap-x-1.5 gap-y-1.5 text-[14px]">
        <MeasureWord compared={compared} table={table} />
        of
        <What
          target={comparison.target}
          dictionaries={dictionaries}
          means
          onChange={(target) => {
            if (!target) return;
            if (target.kind === "numbers") compared.setAgainst("");
            change({
              target,
              measure: usualMeasure(target),
              joined: [],
              leave: [],
              adjust: target.kind === "numbers" ? [] : (comparison.adjust ?? []),
              counting: ["values", "length", "search", "numbers"].includes(target.kind)
                ? "hits"
                : (comparison.counting ?? "hits"),
            });
          }}
        />
        across
        <Across split={split} onChange={across} coders={comparison.target.kind === "codes"} />
        {!means && <Counting compared={compared} />}
        <span className="ml-auto flex items-center gap-2 text-[12.5px]">
          <Button look="ghost" aria-expanded={more} onClick={() => setMore(!more)}>
            {more ? "Fewer settings" : "More settings"}
          </Button>
        </span>
      </div>
      {more && <More compared={compared} dictionaries={dictionaries} table={table} />}
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <Segments
          label="Draw as"
          value={compared.draw}
          onChange={compared.setDraw}
          choices={DRAWINGS.map((one) => ({
            ...one,
            disabled: !possible(one.value, compared, table),
          }))}
        />
        <span className="ml-auto flex flex-wrap items-center gap-2">
          {table && <Rows compared={compared} table={table} />}
          {table && divides(split) && <Groups compared={compared} table={table} />}
          <label className="flex items-center gap-1.5 text-ink2">
            Order
            <Select
              aria-label="Order"
              className="w-auto!"
              value={compared.order}
              choices={
                byHand(compared.order) ? [...ORDERS, { value: compared.order, label: "by hand" }] : ORDERS
              }
              onChange={compared.setOrder}
            />
          </label>
        </span>
      </div>
    </section>
  );
}

function Counting({ compared }: { compared: Compared }) {
  const { comparison, change } = compared;
  return (
    <>
      , counting
      <Word
        label="Counting"
        value={comparison.counting ?? "hits"}
        choices={COUNTED}
        onChange={(counting) => {
          const judged = ["corrected", "corrected_texts", "precision", "missed"].includes(comparison.measure);
          change({ counting: counting as "hits", measure: judged ? "rate" : comparison.measure });
        }}
      />
    </>
  );
}

function hasMore(comparison: Comparison, against: string): boolean {
  const { adjust, unit, level, seed, per, reference } = comparison;
  return Boolean(
    adjust?.length ||
      unit ||
      reference ||
      against ||
      (level ?? 0.95) !== 0.95 ||
      (seed ?? 1) !== 1 ||
      (per ?? 1000) !== 1000,
  ); // prettier-ignore
}

function possible(drawing: Drawing, compared: Compared, table: Table | undefined): boolean {
  const groups = table?.groups.length ?? 2;
  const rows = table?.rows.length ?? 2;
  const { target } = compared.comparison;
  if (target.kind === "numbers" && !fitsNumbers(drawing, target)) return false;
  if (drawing === "trend") return compared.dated || Boolean(compared.crossedDate);
  if (drawing === "map") return groups > 1 && rows > 1;
  if (drawing === "flow") return groups > 1;
  return true;
}

function MeasureWord({ compared, table }: { compared: Compared; table: Table | undefined }) {
  const { comparison, change } = compared;
  const measures = useMeasures();
  const { counting = "hits" } = comparison;
  const shown = table?.measure.name === comparison.measure ? table.measure.label : null;
  return (
    <Word
      label="Measure"
      value={comparison.measure ?? "rate"}
      choices={measures
        .filter((one) => (one.needs === "numbers") === (comparison.target.kind === "numbers"))
        .filter((one) => one.needs !== "held" || comparison.adjust?.length)
        .filter(
          (one) => one.needs !== "judged" || (comparison.target.kind === "dictionary" && counting === "hits"),
        )
        .map((one) => ({
          value: one.name,
          label: one.name === comparison.measure && shown ? shown : one.label,
        }))}
      onChange={(measure) => change({ measure })}
    />
  );
}

/** What is seldom changed. */
function More({
  compared,
  dictionaries,
  table,
}: {
  compared: Compared;
  dictionaries: Dictionaries;
  table: Table | undefined;
}) {
  const { comparison, change } = compared;
  const labels = table?.groups.map((group) => group.label) ?? [];
  const means = comparison.target.kind === "numbers";
  return (
    <div className="mt-2.5 grid grid-cols-[repeat(auto-fill,minmax(168px,1fr))] gap-x-4 border-t border-line pt-2.5">
      <Coded compared={compared} />
      {!comparison.split?.crossed && !means && <HeldEqual compared={compared} />}
      {!means && <Against compared={compared} dictionaries={dictionaries} />}
      {!means && (
        <Field label="Rate per">
          {(id) => (
            <Select
              id={id}
              value={String(comparison.per ?? 1000)}
              choices={[
                { value: "1000", label: "1,000 words" },
                { value: "10000", label: "10,000 words" },
                { value: "1000000", label: "1,000,000 words" },
              ]}
              onChange={(per) => change({ per: Number(per) as 1000 })}
            />
          )}
        </Field>
      )}
      {["ratio", "difference", "mean_difference"].includes(comparison.measure) && (
        <Field label="Compare with">
          {(id) => (
            <Select
              id={id}
              value={comparison.reference ?? ""}
              choices={[
                { value: "", label: "all other groups" },
                ...labels.map((label) => ({ value: label, label })),
              ]}
              onChange={(reference) => change({ reference: reference || null })}
            />
          )}
        </Field>
      )}
      <Uncertainty compared={compared} />
    </div>
  );
}

function Rows({ compared, table }: { compared: Compared; table: Table }) {
  const { joined = [], leave = [] } = compared.comparison;
  const rows = ordered(table, compared.order, compared.dated).rows;
  if (rows.length < 2 && !joined.length && !leave.length) return null;
  return (
    <Arrange
      label="Rows"
      together={compared.comparison.target.kind !== "numbers"}
      nouns={table.nouns}
      items={rows.map((row) => ({ key: row.key, label: row.label }))}
      onMove={
        rows.some((row) => row.depth > 0)
          ? undefined
          : (key, by) =>
              compared.setOrder(
                movedByHand(
                  compared.order,
                  "rows",
                  rows.map((row) => row.key),
                  key,
                  by,
                ),
              )
      }
      arranged={{ merged: joined.map((one) => ({ name: one.name, members: one.rows })), without: leave }}
      onChange={({ merged, without }) =>
        compared.change({
          joined: merged.map((one) => ({ name: one.name, rows: [...one.members] })),
          leave: [...without],
        })
      }
    />
  );
}

function Groups({ compared, table }: { compared: Compared; table: Table }) {
  const split = compared.comparison.split ?? {};
  if (split.crossed) return null;
  const groups = ordered(table, compared.order, compared.dated).groups.map((group) => group.label);
  return (
    <Arrange
      label="Groups"
      nouns="groups"
      items={groups.map((label) => ({ key: label, label }))}
      onMove={
        compared.dated
          ? undefined
          : (key, by) => compared.setOrder(movedByHand(compared.order, "groups", groups, key, by))
      }
      arranged={{
        merged: (split.merged ?? []).map((one) => ({ name: one.name, members: one.groups })),
        without: split.without ?? [],
      }}
      onChange={({ merged, without }) =>
        compared.change({
          split: {
            ...split,
            merged: merged.map((one) => ({ name: one.name, groups: [...one.members] })),
            without: [...without],
          },
        })
      }
    />
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
