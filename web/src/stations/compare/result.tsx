import { useMemo, useRef, useState } from "react";
import { sendJson } from "../../api/client";
import { type AnyView, useChangesOver } from "../../data/answers";
import type { Comparison, Table, TableRow } from "../../data/comparison";
import { levelText } from "../../data/measures";
import { useProjectId } from "../../data/project";
import { divides, splitName } from "../../lib/split";
import { Button, Empty, Segments, Select } from "../../parts/controls";
import { useEvidence } from "../../shell/evidence";
import { CloudPlot } from "./cloudplot";
import { DotPlot } from "./dots";
import { Drawn } from "./drawings";
import { Enlarged } from "./enlarged";
import { Events } from "./events";
import { Foot } from "./foot";
import { MapPlot } from "./mapplot";
import { RateModel } from "./model";
import { NumberTable } from "./numbertable";
import { ordered } from "./order";
import { groupText } from "./periods";
import type { Compared } from "./settings";
import { SingleTerms, useSingleTerms } from "./singleterms";
import { Statements } from "./statements";
import { TrendPlot } from "./trend";

/** The instrument and its state: "Dictionary “Frames”, version 3", or as it is now. */
export function instrument(table: Table): string {
  if (table.comparison.target.kind !== "dictionary") return table.target;
  return table.version === null
    ? `${table.target}, current state, not kept as a version`
    : `${table.target}, version ${table.version}`;
}

const SMOOTH = [1, 3, 5, 7, 13, 31];

/** The answer to a comparison: sentences, the drawing, exports and how it was counted. */
export function Result({ table, compared, faint }: { table: Table; compared: Compared; faint: boolean }) {
  const project = useProjectId();
  const { show } = useEvidence();
  const figure = useRef<HTMLDivElement>(null);
  const [scale, setScale] = useState("own");
  const terms = useSingleTerms(table);
  const { draw, dated, smooth } = compared;
  const over = draw === "trend" && dated;
  const changes = useChangesOver(compared.comparison, smooth, over);
  const arranged = useMemo(() => ordered(table, compared.order, dated), [table, compared.order, dated]);
  const split = compared.comparison.split ?? {};
  const open = (row: TableRow, group: string) =>
    show({
      title: divides(split) ? `${row.label} in ${groupText(group)}` : row.label,
      colour: row.colour,
      comparison: table.comparison,
      cell: { row: row.key, group },
    });
  const openGroup = (group: string) =>
    show({
      title: `All ${table.nouns} in ${groupText(group)}`,
      comparison: table.comparison,
      cell: { row: null, group },
    });
  const where = `/api/v1/projects/${project}/compare/export`;
  const title = `${table.target.replace(/^Dictionary /, "")} by ${splitName(split, compared.fields)}`;
  const pictured = async () => {
    // what leaves the project names the state it was counted with: the server keeps that as a version
    const kept = await sendJson<Comparison>(`${where}?form=json`, table.comparison);
    const version = kept.target.kind === "dictionary" ? (kept.target.version ?? null) : null;
    const texts = table.groups.reduce((sum, group) => sum + group.texts, 0);
    return {
      title,
      base: `${instrument({ ...table, version })}; ${table.measure.unit}; ${texts.toLocaleString("en-GB")} texts.`,
      method: `${levelText(table.comparison.level)} intervals, ${table.unit} as the unit${table.comparison.weight ? ", texts weighted" : ""}.`,
    };
  };
  if (!table.groups.length)
    return (
      <Empty title="No group has texts here">
        No text of the scope has a value in this field. Choose another one, or widen the scope.
      </Empty>
    );
  const view = viewOf(compared, table);
  const said = [
    ...(over ? (changes.data?.statements ?? []) : []),
    ...table.statements,
    ...(terms.data?.statements ?? []),
  ];
  return (
    <div className={faint ? "opacity-60" : ""}>
      {draw !== "map" && <Statements statements={said} />}
      <Gather table={table} compared={compared} />
      {draw === "trend" && (
        <div className="mb-2 flex flex-wrap items-center gap-3">
          <Segments
            label="Scale of the panels"
            value={scale}
            onChange={setScale}
            choices={[
              { value: "own", label: "Own scales" },
              { value: "one", label: "One scale" },
            ]}
          />
          {dated && (
            <label className="flex items-center gap-1.5 text-ink2">
              Moving average
              <Select
                aria-label="Moving average"
                className="w-auto!"
                value={String(smooth)}
                choices={SMOOTH.map((periods) => ({
                  value: String(periods),
                  label: periods === 1 ? "none" : `over ${periods} ${split.period ?? "month"}s`,
                }))}
                onChange={(periods) => compared.setSmooth(Number(periods))}
              />
            </label>
          )}
          <Events
            comparison={compared.comparison}
            onSplit={(next) => {
              compared.setDraw("dots");
              compared.change({ split: next, adjust: [] });
            }}
          />
        </div>
      )}
      <Enlarged
        lead={
          <p className="text-ink2">
            {instrument(table)}. Every {draw === "table" ? "number" : "mark"} opens its passages.
          </p>
        }
      >
        <div ref={figure}>
          {draw === "table" && <NumberTable table={arranged} onOpen={open} />}
          {draw === "dots" && <DotPlot table={arranged} onOpen={open} />}
          {draw === "trend" && (
            <TrendPlot
              table={arranged}
              onOpen={open}
              changes={over ? changes.data : undefined}
              together={scale === "one"}
              // what is shown while the next answer is counted may not be crossed yet
              crossed={table.groups.every((group) => group.pair.length === 2) ? compared.crossedDate : null}
            />
          )}
          {draw === "cloud" && <CloudPlot table={arranged} onOpen={open} />}
          {draw === "map" && <MapPlot table={arranged} onOpen={open} onGroup={openGroup} />}
          {["bars", "heat", "area", "flow"].includes(draw) && (
            <Drawn draw={draw} table={arranged} onOpen={open} onGroup={openGroup} />
          )}
        </div>
      </Enlarged>
      {!!table.comparison.adjust?.length && <RateModel table={table} />}
      <Foot
        view={view}
        title={title}
        drawn={{ draw, ...(compared.order ? { order: compared.order } : {}) }}
        method={[...(over ? (changes.data?.method ?? []) : []), ...table.method]}
        figure={figure}
        {...(draw === "table" ? {} : { pictured })}
        {...(view.view === "comparison" ? { request: { where, body: table.comparison } } : {})}
      >
        <SingleTerms table={table} />
      </Foot>
    </div>
  );
}

const MANY = 12;

/** With many groups: the largest of them, and the rest as one. */
function Gather({ table, compared }: { table: Table; compared: Compared }) {
  const split = compared.comparison.split ?? {};
  if (table.groups.length <= MANY || compared.dated || split.crossed) return null;
  const byWords = [...table.groups].sort((a, b) => b.words - a.words);
  const rest = byWords.slice(MANY - 1).map((group) => group.label);
  const name = `${rest.length} smaller groups`;
  return (
    <p className="mb-2 text-ink2">
      {table.groups.length} groups are many to read.{" "}
      <Button
        look="ghost"
        onClick={() =>
          compared.change({ split: { ...split, merged: [...(split.merged ?? []), { name, groups: rest }] } })
        }
      >
        Take the {rest.length} smaller ones together
      </Button>
    </p>
  );
}

/** What of the view is kept: the comparison as it is asked, with what its drawing adds. */
function viewOf(compared: Compared, table: Table): AnyView {
  const comparison = { ...table.comparison, target: compared.comparison.target };
  if (compared.draw === "map") return { view: "map", comparison };
  if (compared.draw === "trend" && compared.dated)
    return { view: "changes", comparison, window: compared.smooth };
  return { view: "comparison", comparison };
}
