import { useState } from "react";
import { useNavigate } from "react-router";
import type { KeywordsPage } from "../../data/answers";
import type { Comparison, Split } from "../../data/comparison";
import { ofWords } from "../../data/comparison";
import { useFields, useProjectId, useScope, useSummary } from "../../data/project";
import { three, whole } from "../../lib/numbers";
import { MoreMenu } from "../../parts/controls";
import { useEvidence } from "../../shell/evidence";
import { AddTerm } from "../words/addterm";
import { useListed } from "./listed";
import { pText } from "./scale";

type Row = KeywordsPage["rows"][number];
const COLUMNS = [
  { order: "hits", label: "Hits", title: "Hits in the group" },
  { order: "texts", label: "Texts", title: "Texts of the group with it" },
  { order: "ratio", label: "Log ratio", title: "1 is twice as often, 2 four times, 3 eight times" },
  { order: "g2", label: "G2", title: "The usual measure to order by" },
  { order: "odds", label: "Log-odds", title: "Weighted log-odds: favours neither rare nor frequent words" },
  { order: "p", label: "p", title: "p over texts, adjusted for all that were tested" },
  {
    order: "evenness",
    label: "Evenness",
    title: "DP over the texts of the group: 0 even, 1 all in one text",
  },
] as const;

/** A name that fits a head. */
export function short(text: string): string {
  return text.length > 24 ? `${text.slice(0, 23)}…` : text;
}

/** Keywords with their numbers; each opens its passages. */
export function KeyTable({
  answer,
  order,
  onOrder,
  split,
  labels,
}: {
  answer: KeywordsPage;
  order: string;
  onOrder: (order: string) => void;
  split: Split;
  labels: readonly string[];
}) {
  const fields = useFields();
  const { scope } = useScope();
  const { show } = useEvidence();
  const project = useProjectId();
  const navigate = useNavigate();
  const writes = useSummary().data?.role !== "reader";
  const list = useListed();
  const [adding, setAdding] = useState<string | null>(null);
  const [group, other] = answer.sides.map((side) => side.label) as [string, string];
  const rest = answer.asked.against == null;
  const comparison = (row: Row): Comparison => {
    const { unit, merge } = answer.asked;
    const asked = {
      words: [row.name],
      unit: unit ?? "word",
      merge: merge ?? "none",
      language: answer.language,
    };
    return ofWords(asked, scope, split);
  };
  const open = (row: Row, side: 0 | 1) => {
    const asked = comparison(row);
    const title = `“${row.name}” in ${side ? other : group}`;
    if (!side || !rest) {
      show({ title, comparison: asked, cell: { row: row.name, group: side ? other : group } });
      return;
    }
    // all other groups are no group of the split: they are taken together, or the group is left out of the scope
    const several = fields.find((field) => field.key === split.field)?.kind === "several";
    if (several && split.field) {
      const without = { kind: "values" as const, field: split.field, values: [group], exclude: true };
      show({
        title,
        comparison: { ...asked, scope: [...scope, without], split: {} },
        cell: { row: row.name, group: null },
      });
      return;
    }
    const merged = [{ name: other, groups: labels.filter((label) => label !== group) }];
    show({
      title,
      comparison: { ...asked, split: { ...split, merged } },
      cell: { row: row.name, group: other },
    });
  };
  const head = "border-b border-line2 px-2 py-1.5 font-semibold text-ink2 align-bottom";
  if (!answer.rows.length) return <p className="py-4 text-ink2">No word fits these limits.</p>;
  return (
    <section
      className="overflow-auto rounded-md border border-line bg-sheet"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
      tabIndex={0}
      aria-label="Keywords"
    >
      <table className="w-full">
        <thead>
          <tr>
            <th className={`${head} text-left`} aria-sort={order === "name" ? "ascending" : "none"}>
              <button type="button" className="font-semibold" onClick={() => onOrder("name")}>
                Word
              </button>
            </th>
            {COLUMNS.map((column) => (
              <th
                key={column.order}
                className={`${head} text-right`}
                title={column.title}
                aria-sort={order === column.order ? "descending" : "none"}
              >
                <button
                  type="button"
                  className="font-semibold whitespace-nowrap"
                  onClick={() => onOrder(column.order)}
                >
                  {column.label}
                  {order === column.order ? " ↓" : ""}
                </button>
              </th>
            ))}
            <th className={`${head} text-right`} title={`Hits in ${other}`}>
              {short(other)}
            </th>
            <th className={head} />
          </tr>
        </thead>
        <tbody>
          {answer.rows.map((row) => (
            <tr key={row.name} className="h-[29px] border-b border-line last:border-0">
              <td className="px-2 font-semibold whitespace-nowrap">
                {row.name}
                {row.one_text > 0.5 && row.hits[0]! > 1 && (
                  <span
                    className="ml-1.5 font-normal text-rust"
                    title="Most of its hits in the group come from a single text"
                  >
                    one text
                  </span>
                )}
              </td>
              <td className="px-2 text-right">
                <button
                  type="button"
                  aria-label={`${row.name}: ${whole(row.hits[0]!)} hits in ${group}`}
                  onClick={() => open(row, 0)}
                  className="hover:underline"
                >
                  {whole(row.hits[0]!)}
                </button>
              </td>
              <td className="px-2 text-right">{whole(row.texts[0]!)}</td>
              <td className="px-2 text-right">{three(row.ratio)}</td>
              <td className="px-2 text-right">{three(Math.abs(row.g2))}</td>
              <td className="px-2 text-right">{three(row.odds)}</td>
              <td className="px-2 text-right whitespace-nowrap">{pText(row.adjusted)}</td>
              <td className="px-2 text-right">{three(row.evenness)}</td>
              <td className="px-2 text-right">
                <button
                  type="button"
                  aria-label={`${row.name}: ${whole(row.hits[1]!)} hits in ${other}`}
                  onClick={() => open(row, 1)}
                  className="hover:underline"
                >
                  {whole(row.hits[1]!)}
                </button>
              </td>
              <td className="px-1 text-right">
                <MoreMenu
                  label={`More about ${row.name}`}
                  items={[
                    {
                      label: "Compare it across groups",
                      onSelect: () =>
                        void navigate(
                          `/projects/${project}/compare?compare=${encodeURIComponent(JSON.stringify({ target: comparison(row).target, split, measure: "rate" }))}`,
                        ),
                    },
                    ...(writes
                      ? [
                          { label: "Make it a term", onSelect: () => setAdding(row.term) },
                          ...(answer.asked.unit === "phrase"
                            ? []
                            : [{ label: "Put it on the stop list", onSelect: () => list(row.name) }]),
                        ]
                      : []),
                  ]}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <AddTerm source={adding} onClose={() => setAdding(null)} />
    </section>
  );
}
