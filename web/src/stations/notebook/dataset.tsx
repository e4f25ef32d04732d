import { useState } from "react";
import { saveFile } from "../../api/client";
import { useCodebook } from "../../data/coding";
import { type RowsOf, requestOf, USUAL, useDataPreview, type Wanted, wantedFrom } from "../../data/dataset";
import { useDictionaries } from "../../data/dictionaries";
import { useAddress, useFields, useProjectId, useScope, useSummary } from "../../data/project";
import { useRuns } from "../../data/runs";
import { useToneLists } from "../../data/tones";
import { plural, whole } from "../../lib/numbers";
import { useSettled } from "../../lib/settled";
import { Button, Empty, Failure, Menu, Segments, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { Word } from "../../parts/word";
import { About } from "../../shell/about";
import { Columns, FirstRows } from "./datasettables";
import { Ticked } from "./datasetticks";
import { UnitWords, usualUnit } from "./datasetunits";
import { NotebookHead } from "./head";

const ROWS: { value: RowsOf; label: string }[] = [
  { value: "text", label: "text" },
  { value: "sentence", label: "sentence" },
  { value: "passage", label: "coded passage" },
  { value: "decision", label: "decision of a coder" },
  { value: "unit", label: "respondent or other unit" },
];
const FORMS = [
  { form: "csv", label: "As CSV, with its description (.zip)" },
  { form: "xlsx", label: "As Excel, with its description (.xlsx)" },
  { form: "parquet", label: "As Parquet, with its description (.zip)" },
  { form: "sav", label: "As .sav, with labels and its description (.zip)" },
  { form: "dta", label: "As .dta, with labels and its description (.zip)" },
];
/** Worksheets hold no more rows. */
const MOST_IN_EXCEL = 1_048_575;

/** Tables for statistics programs: what a row is, what stands in its columns, and what each column means. */
export function DataTables() {
  const project = useProjectId();
  const summary = useSummary().data;
  const { scope } = useScope();
  const [written, write] = useAddress("table", "");
  const coded = useCodebook().codes.length > 0;
  const read = wantedFrom(written);
  const wanted = { ...read, codes: read.codes && coded };
  const [shown, setShown] = useState<"rows" | "columns">("rows");
  const [saving, setSaving] = useState(false);
  const { fail } = useToast();
  const change = (part: Partial<Wanted>) => {
    const next = { ...wanted, ...part };
    write(JSON.stringify(next) === JSON.stringify(USUAL) ? "" : JSON.stringify(next));
  };
  const request = requestOf(useSettled(wanted, 150), scope);
  const found = useDataPreview(request, [summary?.revision, summary?.coding]);
  const save = (form: string) => {
    setSaving(true);
    void saveFile(`/api/v1/projects/${project}/data/export?form=${form}`, requestOf(wanted, scope))
      .catch(fail)
      .finally(() => setSaving(false));
  };
  const page = found.data;
  return (
    <div className="flex h-full flex-col">
      <NotebookHead>
        <Menu
          trigger={<Button disabled={saving || !page}>{saving ? "Writing the file" : "Export"}</Button>}
          items={FORMS.map((one) => ({
            label: one.label,
            onSelect: () => save(one.form),
            disabled: one.form === "xlsx" && (page?.rows ?? 0) > MOST_IN_EXCEL,
          }))}
        />
        <About topic="data">
          A table for a statistics program: a row for each text, sentence, passage or decision of a coder. The
          file says of every column what it is called here, what values it has and how it was made.
        </About>
      </NotebookHead>
      <Sentence wanted={wanted} onChange={change} />
      <div className="flex items-center gap-4 border-b border-line bg-sheet px-4 py-1.5">
        <Segments
          label="What is shown"
          value={shown}
          onChange={(value) => setShown(value as "rows" | "columns")}
          choices={[
            { value: "rows", label: "First rows" },
            { value: "columns", label: "Columns" },
          ]}
        />
        <b data-testid="data-size" aria-live="polite">
          {page ? `${whole(page.rows)} ${page.noun}, ${plural(page.columns.length, "column")}` : ""}
        </b>
        {(page?.rows ?? 0) > MOST_IN_EXCEL && (
          <span className="text-ink2">More rows than a worksheet holds: take CSV or Parquet.</span>
        )}
      </div>
      <section
        aria-label="What the table holds"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
        tabIndex={0}
        className={`min-h-0 flex-1 overflow-auto bg-sheet ${found.isPlaceholderData ? "opacity-60" : ""}`}
      >
        {found.error ? (
          <div className="p-4">
            <Failure error={found.error} />
          </div>
        ) : !page ? (
          <Waiting what="Looking at the first rows" />
        ) : shown === "columns" ? (
          <Columns page={page} />
        ) : page.rows ? (
          <FirstRows page={page} />
        ) : (
          <Empty title={`No ${page.noun} in the scope`}>{NOTHING[wanted.rows]}</Empty>
        )}
      </section>
    </div>
  );
}

const NOTHING: Record<RowsOf, string> = {
  text: "Import texts in the Corpus, or take a condition out of the scope.",
  sentence: "Import texts in the Corpus, or take a condition out of the scope.",
  passage: "Put words under a code in Coding, or apply a run; each passage is a row here.",
  decision: "Put words under a code in Coding: each code is then a decision in each text somebody coded.",
  unit: "No text of the scope has a value of this field.",
};

/** What the table holds, as a sentence whose words are chosen. */
function Sentence({ wanted, onChange }: { wanted: Wanted; onChange: (part: Partial<Wanted>) => void }) {
  const fields = useFields();
  const dictionaries = useDictionaries().data ?? [];
  const runs = (useRuns().data ?? []).filter((one) => one.state === "applied" || one.state === "proposals");
  const tones = useToneLists().data ?? [];
  const codes = useCodebook().codes.length > 0;
  const counted = [
    ...dictionaries.filter((one) => wanted.dictionaries.includes(one.id)).map((one) => one.name),
    ...runs.filter((one) => wanted.runs.includes(one.id)).map((one) => one.name),
    ...(wanted.codes ? ["the codebook"] : []),
  ];
  return (
    <div
      className="border-b border-line2 bg-sheet px-4 py-2 text-[14px] leading-8"
      data-testid="data-sentence"
    >
      One row for each{" "}
      <Word
        label="What a row is"
        value={wanted.rows}
        choices={ROWS}
        onChange={(rows) =>
          onChange({
            rows: rows as RowsOf,
            unit: wanted.unit ?? usualUnit(fields),
            tone: rows === "unit" ? null : wanted.tone,
          })
        }
      />{" "}
      {wanted.rows === "unit" && <UnitWords wanted={wanted} fields={fields} onChange={onChange} />}
      of the scope, with{" "}
      <Ticked
        label="Fields"
        said={
          wanted.fields === null
            ? "all fields of the text"
            : wanted.fields.length
              ? plural(wanted.fields.length, "field")
              : "no fields"
        }
        groups={[
          {
            label: "Fields of the text",
            items: fields.map((one) => ({
              key: one.key,
              label: one.name,
              on: wanted.fields?.includes(one.key) ?? true,
            })),
          },
        ]}
        onTick={(key, on) => {
          const all = fields.map((one) => one.key);
          const now = wanted.fields ?? all;
          const next = all.filter((one) => (one === key ? on : now.includes(one)));
          onChange({ fields: next.length === all.length ? null : next });
        }}
        onAll={(on) => onChange({ fields: on ? null : [] })}
      />
      {wanted.rows !== "unit" && fields.some((one) => one.kind === "several") && (
        <>
          {" "}
          (several values{" "}
          <Word
            label="Several values"
            value={wanted.spread ? "yes" : ""}
            choices={[
              { value: "", label: "in one column" },
              { value: "yes", label: "also as columns of 0 and 1" },
            ]}
            onChange={(value) => onChange({ spread: value === "yes" })}
          />
          )
        </>
      )}
      , counts of{" "}
      <Ticked
        label="Counts"
        said={counted.join(", ") || "nothing"}
        groups={[
          {
            label: "Dictionaries, a column for each category",
            items: dictionaries.map((one) => ({
              key: `d${one.id}`,
              label: one.name,
              on: wanted.dictionaries.includes(one.id),
            })),
          },
          {
            label: "Codes, a column for each",
            items: codes ? [{ key: "codes", label: "All codes, with those below", on: wanted.codes }] : [],
          },
          {
            label: "What runs found, without what was judged wrong",
            items: runs.map((one) => ({
              key: `r${one.id}`,
              label: one.name,
              on: wanted.runs.includes(one.id),
            })),
          },
        ]}
        onTick={(key, on) => {
          const id = Number(key.slice(1));
          const turned = (now: readonly number[]) => (on ? [...now, id] : now.filter((one) => one !== id));
          if (key === "codes") onChange({ codes: on });
          else if (key.startsWith("d")) onChange({ dictionaries: turned(wanted.dictionaries) });
          else onChange({ runs: turned(wanted.runs) });
        }}
      />
      {counted.length > 0 && (
        <>
          {" "}
          (
          <Word
            label="What is counted"
            value={wanted.counted}
            choices={[
              { value: "hits", label: "how many" },
              { value: "flags", label: "0 or 1, whether there is one" },
              { value: "words", label: "how many words they cover" },
            ]}
            onChange={(value) => onChange({ counted: value as Wanted["counted"] })}
          />
          )
        </>
      )}
      {wanted.rows !== "unit" && (
        <>
          ,{" "}
          <Word
            label="Tone"
            value={wanted.tone === null ? "" : String(wanted.tone)}
            choices={[
              { value: "", label: "without tone" },
              ...tones.map((one) => ({ value: String(one.id ?? 0), label: `mean tone by ${one.name}` })),
            ]}
            onChange={(tone) => onChange({ tone: tone === "" ? null : Number(tone) })}
          />{" "}
        </>
      )}{" "}
      and{" "}
      <Word
        label="The words"
        value={wanted.words ? "yes" : ""}
        choices={[
          { value: "", label: "without its words" },
          { value: "yes", label: "with its words" },
        ]}
        onChange={(words) => onChange({ words: words === "yes" })}
      />
      .
    </div>
  );
}
