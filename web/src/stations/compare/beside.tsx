import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { api, data } from "../../api/client";
import { type Comparison, ofCodes, ofDictionary, type Table, type Target } from "../../data/comparison";
import { useDictionaries } from "../../data/dictionaries";
import { keys } from "../../data/keys";
import { written } from "../../data/measures";
import { useAddress, useProjectId, useScope, useSummary } from "../../data/project";
import { plural, three, whole } from "../../lib/numbers";
import { divides } from "../../lib/split";
import { Button, Empty, Failure, Kbd, Swatch, Waiting } from "../../parts/controls";
import { Sentence, Word } from "../../parts/word";
import { About } from "../../shell/about";
import { PassageItem } from "../../shell/evidence";
import { Across } from "./across";
import { Foot } from "./foot";
import { CompareHead } from "./head";
import { useSplit } from "./keywords";
import { pText } from "./scale";
import { usualMeasure, What } from "./what";

const MOST = 4;

/** Two to four groups beside each other: their numbers above, their passages below, stepping together. */
export function BesideView() {
  const summary = useSummary().data;
  const all = useDictionaries();
  if (!summary || all.isPending) return <Waiting what="Opening" />;
  if (all.error) return <Failure error={all.error} />;
  if (!summary.texts) return <Empty title="Nothing to read side by side yet">Import texts first.</Empty>;
  const first = all.data[0];
  const usual: Target = summary.terms && first ? ofDictionary(first.id, []).target : ofCodes([]).target;
  if (!summary.terms && !summary.passages)
    return (
      <Empty title="Nothing to read side by side yet">
        Make a dictionary with a few terms, or code some texts; then what two groups say of the same is read
        here.
      </Empty>
    );
  return <View usual={usual} dictionaries={all.data} />;
}

function View({
  usual,
  dictionaries,
}: {
  usual: Target;
  dictionaries: NonNullable<ReturnType<typeof useDictionaries>["data"]>;
}) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const [split, setSplit] = useSplit();
  const [writtenTarget, setTarget] = useAddress("target", "");
  const [row, setRow] = useAddress("row", "");
  const [chosen, setChosen] = useAddress("groups", "");
  const target = useMemo(() => parsed(writtenTarget) ?? usual, [writtenTarget, usual]);
  const comparison: Comparison = useMemo(
    () => ({
      target,
      scope: [...scope],
      split,
      measure: usualMeasure(target),
      level: 0.95,
      seed: 1,
      unit: null,
      adjust: [],
      form: 1,
    }),
    [target, scope, split],
  );
  const revision = useSummary().data?.revision;
  const found = useQuery({
    queryKey: keys.of(project_id, "compare", revision, comparison),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/compare", {
          params: { path: { project_id } },
          body: comparison,
        }),
      ),
    enabled: divides(split),
    placeholderData: (before) => before,
    retry: false,
  });
  const table = found.data;
  const labels = table?.groups.map((group) => group.label) ?? [];
  const asked = chosen.split("\n").filter((label) => labels.includes(label));
  const groups = asked.length ? asked : labels.slice(0, Math.min(3, labels.length));
  const shown = table?.rows.find((one) => one.key === row) ?? table?.rows[0];
  const set = (next: readonly string[]) => setChosen(next.join("\n"));
  return (
    <div className="flex h-full flex-col">
      <CompareHead>
        <About topic="compare">
          The same row in two to four groups: the numbers above, the passages below. The keys j and k step all
          of them together.
        </About>
      </CompareHead>
      <div className="border-b border-line2 bg-sheet px-4 py-3">
        <Sentence label="What is read side by side">
          What is said of
          <What
            target={target}
            dictionaries={dictionaries}
            onChange={(next) => next && setTarget(JSON.stringify(next))}
            label="What is read"
          />
          {table && (
            <Word
              label="Row"
              value={shown?.key ?? ""}
              choices={table.rows.map((one) => ({
                value: one.key,
                label: `${"\u2007".repeat(one.depth)}${one.name}`,
              }))}
              onChange={setRow}
            />
          )}
          by
          <Across
            split={split}
            onChange={(next) => {
              setSplit(next);
              setChosen("");
            }}
            crossing={false}
            nothing={false}
            label="By"
          />
          :{" "}
          {groups.map((group, at) => (
            <span key={group} className="inline-flex items-baseline gap-1">
              {at > 0 && "beside"}
              <Word
                label={`Group ${at + 1}`}
                value={group}
                choices={labels
                  .filter((label) => label === group || !groups.includes(label))
                  .map((label) => ({ value: label, label }))}
                onChange={(label) => set(groups.map((one, place) => (place === at ? label : one)))}
              />
              {groups.length > 2 && (
                <button
                  type="button"
                  aria-label={`Without ${group}`}
                  className="text-ink2 hover:text-ink"
                  onClick={() => set(groups.filter((one) => one !== group))}
                >
                  ×
                </button>
              )}
            </span>
          ))}
          {groups.length < MOST && labels.length > groups.length && (
            <Button
              look="ghost"
              onClick={() => set([...groups, labels.find((label) => !groups.includes(label))!])}
            >
              one more
            </Button>
          )}
        </Sentence>
      </div>
      <div className="flex min-h-0 flex-1 flex-col px-4 pt-3">
        {found.error && <Failure error={found.error} />}
        {!divides(split) && <Empty title="Only one group">Choose a field that divides the texts.</Empty>}
        {found.isPending && divides(split) && !found.error && <Waiting what="Counting" />}
        {table && shown && !found.error && (
          <Columns
            key={`${shown.key}.${groups.join()}`}
            table={table}
            row={shown}
            groups={groups}
            comparison={comparison}
          />
        )}
      </div>
    </div>
  );
}

function parsed(written: string): Target | null {
  try {
    const found: unknown = written ? JSON.parse(written) : null;
    return typeof found === "object" && found !== null ? (found as Target) : null;
  } catch {
    return null;
  }
}

function Columns({
  table,
  row,
  groups,
  comparison,
}: {
  table: Table;
  row: Table["rows"][number];
  groups: readonly string[];
  comparison: Comparison;
}) {
  const [at, setAt] = useState(0);
  const step = (by: number) => setAt((now) => Math.max(0, now + by));
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLElement && event.target.closest("input, textarea, select");
      if (typing || event.ctrlKey || event.metaKey || document.querySelector("[role=dialog]")) return;
      if (event.key === "j") setAt((now) => now + 1);
      else if (event.key === "k") setAt((now) => Math.max(0, now - 1));
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  const title = `${row.label}, side by side: ${groups.join(", ")}`;
  return (
    <>
      <div className="mb-2 flex items-center gap-2 text-ink2">
        <Button onClick={() => step(-1)} disabled={at === 0}>
          Before <Kbd>k</Kbd>
        </Button>
        <Button onClick={() => step(1)}>
          Next <Kbd>j</Kbd>
        </Button>
        passage {at + 1} of each
        <span className="ml-auto">
          {row.p !== null &&
            `The rate of ${row.name} ${row.p <= 1 - (comparison.level ?? 0.95) ? "differs" : "does not differ"} significantly between all groups: p ${row.p < 0.001 ? "" : "= "}${pText(row.p)}, adjusted.`}
        </span>
      </div>
      <div
        className="grid min-h-0 flex-1 gap-3"
        style={{ gridTemplateColumns: `repeat(${groups.length}, minmax(0, 1fr))` }}
      >
        {groups.map((group) => (
          <Column key={group} table={table} row={row} group={group} at={at} comparison={comparison} />
        ))}
      </div>
      <Foot
        view={{ view: "comparison", comparison: { ...comparison, split: only(comparison, table, groups) } }}
        title={title}
        drawn={{ draw: "table" }}
        method={table.method}
      />
    </>
  );
}

/** The split with the other groups left out: what is kept is what is seen. */
function only(comparison: Comparison, table: Table, groups: readonly string[]): Comparison["split"] {
  const without = table.groups.map((group) => group.label).filter((label) => !groups.includes(label));
  return { ...comparison.split, without: [...(comparison.split.without ?? []), ...without] };
}

function Column({
  table,
  row,
  group,
  at,
  comparison,
}: {
  table: Table;
  row: Table["rows"][number];
  group: string;
  at: number;
  comparison: Comparison;
}) {
  const project_id = useProjectId();
  const place = table.groups.findIndex((one) => one.label === group);
  const cell = row.cells[place];
  const asked = { comparison, cell: { row: row.key, group }, company: null };
  const found = useInfiniteQuery({
    queryKey: keys.of(project_id, "evidence", asked, "beside"),
    initialPageParam: 0,
    queryFn: ({ pageParam }) =>
      data(
        api.POST("/api/v1/projects/{project_id}/evidence", {
          params: { path: { project_id } },
          body: { ...asked, form: "context", order: "date", start: pageParam, most: 20 },
        }),
      ),
    getNextPageParam: (page) => page.next ?? undefined,
    enabled: place >= 0,
  });
  const passages = found.data?.pages.flatMap((page) => page.passages) ?? [];
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = found;
  useEffect(() => {
    if (at >= passages.length - 4 && hasNextPage && !isFetchingNextPage) void fetchNextPage();
  }, [at, passages.length, hasNextPage, isFetchingNextPage, fetchNextPage]);
  const shown = passages.slice(at, at + 5);
  if (!cell) return null;
  const base = table.groups[place]!;
  return (
    <section aria-label={group} className="flex min-h-0 flex-col rounded-md border border-line bg-sheet">
      <div className="border-b border-line px-3 py-2">
        <h2 className="truncate font-[650]" title={group}>
          {group}
        </h2>
        <div className="mt-0.5 flex items-baseline gap-2">
          <span className="text-[19px] font-[650]">{written(cell.value, table.measure.form)}</span>
          <span className="text-ink2">
            {cell.low !== null && cell.high !== null
              ? `${written(cell.low, table.measure.form)} to ${written(cell.high, table.measure.form)} `
              : ""}
            {table.measure.form === "percent" ? table.measure.axis.replace(/^% /, "") : table.measure.axis}
          </span>
        </div>
        <div className="text-ink2">
          <Swatch colour={row.colour} />
          {plural(cell.hits, "hit")} in {plural(cell.texts, "text")} of {whole(base.texts)}
          {cell.distance !== null &&
            `; ${three(Math.abs(cell.distance))} errors ${cell.distance < 0 ? "below" : "above"} the others`}
        </div>
      </div>
      <div className="min-h-0 flex-1 overflow-auto">
        {found.isPending && <Waiting what="Finding the passages" />}
        {found.error && <Failure error={found.error} />}
        {shown.map((passage, n) => (
          <PassageItem key={`${at}.${n}`} passage={passage} form="context" />
        ))}
        {found.data && !shown.length && (
          <p className="px-3 py-5 text-ink2">
            {passages.length ? "No further passages here." : "No passages: this count is zero."}
          </p>
        )}
      </div>
    </section>
  );
}
