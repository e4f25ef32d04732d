import { useRef, useState } from "react";
import { saveBlob, saveFile, sendJson } from "../../api/client";
import type { Comparison, Table, TableRow } from "../../data/comparison";
import { levelText } from "../../data/measures";
import { useProjectId, useRefresh } from "../../data/project";
import { splitName } from "../../lib/split";
import { Button, Empty, Menu, Popover } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { HelpDialog } from "../../shell/about";
import { useEvidence } from "../../shell/evidence";
import { DotPlot } from "./dots";
import { RateModel } from "./model";
import { NumberTable } from "./numbertable";
import { picturePng, pictureSvg } from "./picture";
import type { Compared } from "./settings";
import { SingleTerms, useSingleTerms } from "./singleterms";
import { Statements } from "./statements";
import { TrendPlot } from "./trend";

/** The instrument and its state: "Dictionary “Frames”, version 3", or as it is now. */
function instrument(table: Table): string {
  if (table.comparison.target.kind !== "dictionary") return table.target;
  return table.version === null
    ? `${table.target} as it is now, not kept as a version`
    : `${table.target}, version ${table.version}`;
}

/** The answer to a comparison: sentences, the drawing, exports and how it was counted. */
export function Result({ table, compared, faint }: { table: Table; compared: Compared; faint: boolean }) {
  const project = useProjectId();
  const { show } = useEvidence();
  const { fail } = useToast();
  const refresh = useRefresh("versions");
  const figure = useRef<HTMLDivElement>(null);
  const [methods, setMethods] = useState(false);
  const terms = useSingleTerms(table);
  const counted = instrument(table);
  const open = (row: TableRow, group: string) =>
    show({
      title: compared.comparison.split?.field ? `${row.label} in ${group}` : row.label,
      colour: row.colour,
      comparison: table.comparison,
      cell: { row: row.key, group },
    });
  const where = `/api/v1/projects/${project}/compare/export?form=`;
  const numbers = (form: "csv" | "xlsx" | "txt" | "json") =>
    void saveFile(where + form, table.comparison).then(refresh, fail);
  const picture = async (kind: "svg" | "png") => {
    const svg = figure.current?.querySelector("svg[data-figure]");
    if (!(svg instanceof SVGSVGElement)) return;
    // what leaves the project names the state it was counted with: the server keeps that as a version
    const kept = await sendJson<Comparison>(`${where}json`, table.comparison);
    const version = kept.target.kind === "dictionary" ? (kept.target.version ?? null) : null;
    const caption = `${instrument({ ...table, version })}; ${table.measure.unit}; ${levelText(table.comparison.level)} intervals, ${table.unit} as the unit.`;
    const name = `${table.target} by ${splitName(compared.comparison.split ?? {}, compared.fields)}`;
    if (kind === "svg")
      saveBlob(new Blob([pictureSvg(svg, caption)], { type: "image/svg+xml" }), `${name}.svg`);
    else saveBlob(await picturePng(svg, caption), `${name}.png`);
    await refresh();
  };
  if (!table.groups.length)
    return (
      <Empty title="No group has texts here">
        No text of the scope has a value in this field. Choose another one, or widen the scope.
      </Empty>
    );
  return (
    <div className={faint ? "opacity-60" : ""}>
      <p className="mb-2.5 text-ink2">
        {counted}. Every {compared.draw === "table" ? "number" : "dot"} opens its passages.
      </p>
      <Statements statements={[...table.statements, ...(terms.data?.statements ?? [])]} />
      <div ref={figure}>
        {compared.draw === "table" && <NumberTable table={table} onOpen={open} />}
        {compared.draw === "dots" && <DotPlot table={table} onOpen={open} />}
        {compared.draw === "trend" && <TrendPlot table={table} onOpen={open} />}
      </div>
      {!!table.comparison.adjust?.length && <RateModel table={table} />}
      <div className="mt-3 flex gap-2 pb-4">
        <Menu
          trigger={<Button>Export ▾</Button>}
          items={[
            { label: "Numbers as Excel", onSelect: () => numbers("xlsx") },
            { label: "Numbers as .csv", onSelect: () => numbers("csv") },
            { label: "How it was counted as .txt", onSelect: () => numbers("txt") },
            { label: "The comparison as .json, to be asked again", onSelect: () => numbers("json") },
            {
              label: "Picture as SVG",
              onSelect: () => void picture("svg").catch(fail),
              disabled: compared.draw === "table",
            },
            {
              label: "Picture as PNG",
              onSelect: () => void picture("png").catch(fail),
              disabled: compared.draw === "table",
            },
          ]}
        />
        <Popover width={480} trigger={<Button>How this was counted</Button>}>
          {table.method.map((part) => (
            <div key={part.heading} className="mb-2.5">
              <b>{part.heading}</b>
              <div>{part.words}</div>
              {part.source && <div className="text-ink2">{part.source}</div>}
            </div>
          ))}
          <Button look="ghost" onClick={() => setMethods(true)}>
            Methods, and how well they hold
          </Button>
        </Popover>
        <SingleTerms table={table} />
        <HelpDialog topic="methods" open={methods} onClose={() => setMethods(false)} />
      </div>
    </div>
  );
}
