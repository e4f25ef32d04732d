import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef } from "react";
import { useLocation, useNavigate } from "react-router";
import { useRateUnit } from "../../data/measures";
import { useProjectId } from "../../data/project";
import { three, whole } from "../../lib/numbers";
import { MoreMenu, Select } from "../../parts/controls";
import { Falls } from "../dictionary/falls";
import type { WordRow } from "./words";

const ROW = 30;
const COLUMNS = "52px minmax(170px,1fr) 92px 92px 84px 330px 92px 40px";

interface Props {
  rows: readonly WordRow[];
  groups: readonly string[];
  total: number;
  sort: string;
  phrase: boolean;
  faint: boolean;
  onSort: (sort: string) => void;
  onOpen: (row: WordRow, group?: string) => void;
  onAdd: ((row: WordRow) => void) | null;
  onStop: ((row: WordRow) => void) | null;
  more: () => void;
}

/** A word list that reads on as it is scrolled. */
export function WordTable({
  rows,
  groups,
  total,
  sort,
  phrase,
  faint,
  onSort,
  onOpen,
  onAdd,
  onStop,
  more,
}: Props) {
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const items = virtual.getVirtualItems();
  const last = items.at(-1)?.index ?? 0;
  useEffect(() => {
    if (last >= rows.length - 20 && rows.length < total) more();
  }, [last, rows.length, total, more]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another order begins at its top
  useEffect(() => {
    box.current?.scrollTo({ top: 0 });
  }, [sort]);
  const top = Math.max(
    0,
    ...items.flatMap((item) => rows[item.index]?.group_rates.map((rate) => rate ?? 0) ?? []),
  );
  const head = (key: string, label: string, left = false) => {
    const now = sort.replace(/^-/, "") === key;
    const sorted = now ? (sort.startsWith("-") ? "ascending" : "descending") : "none";
    return (
      // biome-ignore lint/a11y/useFocusableInteractive: one focus moves over the rows of the table, by keys
      <div role="columnheader" aria-sort={sorted} className={`px-2 ${left ? "" : "text-right"}`}>
        <button
          type="button"
          onClick={() => onSort(now && !sort.startsWith("-") ? `-${key}` : key)}
          className="font-semibold whitespace-nowrap hover:text-ink"
        >
          {label}
          {now ? (sort.startsWith("-") ? " ↑" : " ↓") : ""}
        </button>
      </div>
    );
  };
  return (
    <div
      role="table"
      aria-label="Words"
      aria-rowcount={total}
      className={`mx-4 mb-3 flex min-h-0 flex-1 flex-col overflow-hidden rounded-md border border-line bg-sheet ${faint ? "opacity-60" : ""}`}
    >
      <div ref={box} className="min-h-0 flex-1 overflow-y-auto">
        {/** biome-ignore lint/a11y/useFocusableInteractive: one focus moves over the rows of the table, by keys */}
        <div
          role="row"
          className="sticky top-0 z-10 grid items-center border-b border-line2 bg-sheet py-1.5 text-ink2"
          style={{ gridTemplateColumns: COLUMNS }}
        >
          {/** biome-ignore lint/a11y/useFocusableInteractive: one focus moves over the rows of the table, by keys */}
          <div role="columnheader" className="px-2 text-right font-semibold">
            Rank
          </div>
          {head("name", phrase ? "Phrase" : "Word", true)}
          {head("hits", "Hits")}
          {/** biome-ignore lint/a11y/useFocusableInteractive: one focus moves over the rows of the table, by keys */}
          <div role="columnheader" className="px-2 text-right font-semibold whitespace-nowrap">
            {useRateUnit()}
          </div>
          {head("texts", "Texts")}
          {/** biome-ignore lint/a11y/useFocusableInteractive: one focus moves over the rows of the table, by keys */}
          <div role="columnheader" className="flex items-center gap-2 px-2 font-semibold whitespace-nowrap">
            Where it falls
            {groups.length > 1 && (
              <Select
                aria-label="Sort by the rate in"
                value={sort.replace(/^-/, "").startsWith("in:") ? sort.replace(/^-/, "") : ""}
                choices={[
                  { value: "", label: "sort by…" },
                  ...groups.map((group) => ({ value: `in:${group}`, label: `rate in ${group}` })),
                ]}
                onChange={(value) => onSort(value || "hits")}
                className="!w-[104px] !py-0 font-normal"
              />
            )}
          </div>
          {head("evenness", "Evenness")}
          {/** biome-ignore lint/a11y/useFocusableInteractive: one focus moves over the rows of the table, by keys */}
          <div role="columnheader">
            <span className="sr-only">Actions</span>
          </div>
        </div>
        <div style={{ height: virtual.getTotalSize() }} className="relative">
          {items.map((item) => {
            const row = rows[item.index]!;
            const forms =
              row.forms.length > 1
                ? row.forms.map((one) => `${one.form} ${whole(one.hits)}`).join(", ")
                : undefined;
            return (
              // biome-ignore lint/a11y/useFocusableInteractive: one focus moves over the rows of the table, by keys
              <div
                role="row"
                key={item.index}
                className="absolute right-0 left-0 grid items-center border-b border-line hover:bg-wash"
                style={{ gridTemplateColumns: COLUMNS, height: ROW, top: item.start }}
              >
                <div role="cell" className="px-2 text-right text-ink3">
                  {whole(item.index + 1)}
                </div>
                <div role="cell" className="flex min-w-0 items-baseline gap-2 px-2">
                  <button
                    type="button"
                    onClick={() => onOpen(row)}
                    title={forms}
                    className="max-w-full truncate text-left font-semibold hover:underline"
                  >
                    {row.name}
                  </button>
                  {forms && (
                    <span className="truncate text-[11.5px] text-ink3">
                      {row.forms
                        .slice(0, 4)
                        .map((one) => one.form)
                        .filter((form) => form !== row.name)
                        .join(", ")}
                    </span>
                  )}
                </div>
                <div role="cell" className="px-2 text-right">
                  {whole(row.hits)}
                </div>
                <div role="cell" className="px-2 text-right">
                  {three(row.rate)}
                </div>
                <div role="cell" className="px-2 text-right">
                  {whole(row.texts)}
                </div>
                <div role="cell" className="px-2">
                  <Falls
                    groups={groups}
                    rates={row.group_rates}
                    hits={row.group_hits}
                    colour={1}
                    top={top}
                    onOpen={(group) => onOpen(row, group)}
                  />
                </div>
                <div role="cell" className="px-2 text-right">
                  {three(row.evenness)}
                </div>
                <div role="cell" className="text-right">
                  <RowMenu row={row} onOpen={onOpen} onAdd={onAdd} onStop={phrase ? null : onStop} />
                </div>
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}

function RowMenu({
  row,
  onOpen,
  onAdd,
  onStop,
}: { row: WordRow } & Pick<Props, "onOpen" | "onAdd" | "onStop">) {
  const project = useProjectId();
  const navigate = useNavigate();
  const { search } = useLocation();
  const context = () => {
    const next = new URLSearchParams(search);
    for (const key of ["of", "order", "unit"]) next.delete(key);
    next.set("q", row.term);
    void navigate(`/projects/${project}/corpus/context?${next}`);
  };
  return (
    <MoreMenu
      label={`Menu of ${row.name}`}
      items={[
        { label: "Show its passages", onSelect: () => onOpen(row) },
        { label: "Read it in context", onSelect: context },
        ...(onAdd ? [{ label: "New term in a dictionary", onSelect: () => onAdd(row) }] : []),
        ...(onStop ? [{ label: "Put on the stop list", onSelect: () => onStop(row) }] : []),
      ]}
    />
  );
}
