import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Schema } from "../../api/client";
import type { Comparison, Table } from "../../data/comparison";
import { keys } from "../../data/keys";
import { levelText } from "../../data/measures";
import { useProjectId, useSummary } from "../../data/project";
import { three, whole } from "../../lib/numbers";
import { Failure, Segments, Swatch, Waiting } from "../../parts/controls";
import { useEvidence } from "../../shell/evidence";
import { pText } from "./scale";
import { Statements } from "./statements";

type Model = Schema["ModelPublic"];
type ModelField = Model["fields"][number];

/** The rate model of a comparison: each field with the others held equal, in ratios. */
export function RateModel({ table }: { table: Table }) {
  const project_id = useProjectId();
  const revision = useSummary().data?.revision;
  const { measure: _, ...asked } = table.comparison;
  const body: Comparison = { ...asked, measure: "rate" };
  const found = useQuery({
    queryKey: keys.of(project_id, "compare", revision, "model", body),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/compare/model", { params: { path: { project_id } }, body }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
  const [shown, setShown] = useState("");
  return (
    <section aria-label="Rate model" className="mt-5">
      <h2 className="mb-1 text-[15px] font-[650]">Controlling for the others</h2>
      {found.isPending && <Waiting what="Fitting the model" />}
      {found.error && <Failure error={found.error} />}
      {found.data && (
        <div className={found.isPlaceholderData ? "opacity-60" : ""}>
          <Statements statements={found.data.statements} testid="model-statements" />
          <Ratios model={found.data} shown={shown} onShow={setShown} table={table} />
        </div>
      )}
    </section>
  );
}

function Ratios({
  model,
  shown,
  onShow,
  table,
}: {
  model: Model;
  shown: string;
  onShow: (name: string) => void;
  table: Table;
}) {
  const field = model.fields.find((one) => one.name === shown) ?? model.fields[0];
  if (!field) return null;
  const reference = field.levels[field.reference];
  return (
    <>
      <div className="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1">
        <Segments
          label="Ratios by"
          value={field.name}
          onChange={onShow}
          choices={model.fields.map((one) => ({ value: one.name, label: one.name }))}
        />
        <span className="text-ink2">
          How many times as often as in {reference?.label}, with its {levelText(table.comparison.level)}{" "}
          interval
        </span>
      </div>
      <RatioTable field={field} table={table} />
    </>
  );
}

function RatioTable({ field, table }: { field: ModelField; table: Table }) {
  const { show } = useEvidence();
  const open = (row: ModelField["rows"][number], at: number) => {
    const { label, condition } = field.levels[at]!;
    const { comparison } = table;
    show({
      title: `${row.label} in ${label}`,
      colour: row.colour,
      comparison: condition ? { ...comparison, scope: [...(comparison.scope ?? []), condition] } : comparison,
      cell: condition ? { row: row.key } : { row: row.key, group: label },
    });
  };
  const head = "border-b border-line2 px-2.5 py-1.5 text-right font-semibold text-ink2 align-bottom";
  return (
    <section
      className="overflow-auto rounded-md border border-line bg-sheet"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
      tabIndex={0}
      aria-label="Ratios"
    >
      <table className="w-full">
        <thead>
          <tr>
            <th className={`${head} sticky left-0 bg-sheet !text-left`}>
              {table.noun[0]!.toUpperCase() + table.noun.slice(1)}
            </th>
            {field.levels.map((level, at) => (
              <th key={level.label} className={head} title={`${whole(level.words)} words`}>
                {level.label}
                {at === field.reference && <span className="block text-[11px] font-normal">= 1</span>}
              </th>
            ))}
            <th
              className={head}
              title="Whether the field explains anything while the others are controlled for"
            >
              p
            </th>
          </tr>
        </thead>
        <tbody>
          {field.rows.map((row) => (
            <tr key={row.key} className="border-b border-line last:border-0">
              <td className="sticky left-0 bg-sheet px-2.5 py-1 whitespace-nowrap">
                <Swatch colour={row.colour} />
                {row.label}
              </td>
              {row.reason && (
                <td className="px-2.5 text-ink2" colSpan={field.levels.length}>
                  no model: {row.reason}
                </td>
              )}
              {row.cells.map((cell, at) => (
                <td key={field.levels[at]!.label} className="px-1 text-right">
                  <button
                    type="button"
                    aria-label={ratioLabel(row.label, field, at)}
                    onClick={() => open(row, at)}
                    className="w-full px-1.5 py-0.5 text-right hover:underline"
                  >
                    <span className="block whitespace-nowrap">
                      {at === field.reference ? "1" : three(cell.ratio)}
                    </span>
                    <span className="block text-[11px] whitespace-nowrap text-ink2">
                      {cell.low === null ? "" : `${three(cell.low)} to ${three(cell.high)}`}
                    </span>
                  </button>
                </td>
              ))}
              <td className="px-2.5 text-right whitespace-nowrap">{pText(row.p)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** A ratio as a sentence, for those who do not see the table. */
export function ratioLabel(row: string, field: ModelField, at: number): string {
  const level = field.levels[at]!.label;
  const cell = field.rows.find((one) => one.label === row)?.cells[at];
  if (at === field.reference) return `${row} in ${level}: the reference level`;
  if (!cell || cell.ratio === null) return `${row} in ${level}: no estimate`;
  const interval = cell.low === null ? "" : `, ${three(cell.low)} to ${three(cell.high)}`;
  return `${row} in ${level}: ${three(cell.ratio)} times as often as in ${field.levels[field.reference]!.label}${interval}`;
}
