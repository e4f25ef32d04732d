import { useState } from "react";
import { type Schema, saveFile } from "../../api/client";
import { useCodebook } from "../../data/coding";
import {
  type DataPreview,
  type RowsOf,
  requestOf,
  USUAL,
  useDataPreview,
  type Wanted,
  wantedFrom,
} from "../../data/dataset";
import { useDictionaries } from "../../data/dictionaries";
import { useAddress, useFields, useProjectId, useScope, useSummary } from "../../data/project";
import { useRuns } from "../../data/runs";
import { useToneLists } from "../../data/tones";
import { plural, whole } from "../../lib/numbers";
import { useSettled } from "../../lib/settled";
import { Button, Empty, Failure, Menu, Popover, Segments, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { Word } from "../../parts/word";
import { About } from "../../shell/about";
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
      <div
        role="region"
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
      </div>
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

type FieldOf = Schema["FieldInfo"];

/** The field that most likely tells respondents apart: the one with that name, else with the most values. */
function usualUnit(fields: readonly FieldOf[]): string | null {
  const can = fields.filter((one) => UNIT_KINDS.has(one.kind) && one.key.startsWith("v"));
  const named = can.find((one) => /respond|participant|author|person|speaker|name/i.test(one.name));
  return (named ?? can[0])?.key ?? "source";
}

const UNIT_KINDS = new Set(["category", "text", "number"]);

/** Whose rows they are, and what stands side by side. */
function UnitWords({
  wanted,
  fields,
  onChange,
}: {
  wanted: Wanted;
  fields: readonly FieldOf[];
  onChange: (part: Partial<Wanted>) => void;
}) {
  const can = fields.filter(
    (one) => UNIT_KINDS.has(one.kind) && !["codes", "passages", "title"].includes(one.key),
  );
  const side = can.filter((one) => one.kind === "category" && one.key !== wanted.unit);
  return (
    <>
      (values of{" "}
      <Word
        label="Unit"
        value={wanted.unit ?? ""}
        choices={can.map((one) => ({ value: one.key, label: one.name }))}
        onChange={(unit) => onChange({ unit, across: wanted.across === unit ? null : wanted.across })}
      />
      ,{" "}
      <Word
        label="Side by side"
        value={wanted.across ?? ""}
        choices={[
          { value: "", label: "all texts together" },
          ...side.map((one) => ({ value: one.key, label: `side by side by ${one.name}` })),
        ]}
        onChange={(across) => onChange({ across: across || null })}
      />
      ){" "}
    </>
  );
}

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

interface Item {
  key: string;
  label: string;
  on: boolean;
}

/** Words of the sentence that open a list to tick. */
function Ticked({
  label,
  said,
  groups,
  onTick,
  onAll,
}: {
  label: string;
  said: string;
  groups: readonly { label: string; items: readonly Item[] }[];
  onTick: (key: string, on: boolean) => void;
  onAll?: (on: boolean) => void;
}) {
  const there = groups.filter((group) => group.items.length);
  return (
    <Popover
      width={320}
      trigger={
        <button
          type="button"
          aria-label={`${label}: ${said}`}
          className="border-b-[1.5px] border-bottle leading-tight font-semibold text-bottle hover:bg-tint"
        >
          {said}
        </button>
      }
    >
      {!there.length && (
        <p className="text-ink2">There is nothing to count yet: no dictionary, code or run.</p>
      )}
      {there.map((group) => (
        <fieldset key={group.label} className="mb-2 last:mb-0">
          <legend className="mb-1 font-bold text-ink2">{group.label}</legend>
          {onAll && (
            <div className="mb-1 flex gap-3">
              <Button look="ghost" onClick={() => onAll(true)}>
                All
              </Button>
              <Button look="ghost" onClick={() => onAll(false)}>
                None
              </Button>
            </div>
          )}
          {group.items.map((item) => (
            <label key={item.key} className="flex items-center gap-2 py-0.5">
              <input
                type="checkbox"
                checked={item.on}
                onChange={(event) => onTick(item.key, event.target.checked)}
              />
              <span className="truncate">{item.label}</span>
            </label>
          ))}
        </fieldset>
      ))}
    </Popover>
  );
}

const NUMBERS = new Set(["whole number", "number"]);

function FirstRows({ page }: { page: DataPreview }) {
  return (
    <table className="min-w-full border-collapse" data-testid="data-rows">
      <thead className="sticky top-0 z-10 bg-sheet">
        <tr>
          {page.columns.map((column) => (
            <th
              key={column.name}
              scope="col"
              title={`${column.label}: ${column.how}`}
              className={`border-b border-line2 px-3 py-1.5 font-semibold whitespace-nowrap text-ink2 ${NUMBERS.has(column.kind) ? "text-right" : "text-left"}`}
            >
              {column.name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {page.cells.map((row, at) => (
          <tr key={at} className="border-b border-line">
            {row.map((cell, place) => {
              const column = page.columns[place]!;
              return (
                <td
                  key={column.name}
                  className={`h-[28px] max-w-[260px] truncate px-3 ${NUMBERS.has(column.kind) ? "text-right tabular-nums" : ""}`}
                >
                  {cell === null ? <span className="text-ink3">–</span> : cell}
                </td>
              );
            })}
          </tr>
        ))}
        {page.rows > page.cells.length && (
          <tr>
            <td colSpan={page.columns.length} className="px-3 py-2 text-ink2">
              and {whole(page.rows - page.cells.length)} more {page.noun} in the file
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

function Columns({ page }: { page: DataPreview }) {
  return (
    <table className="w-full table-fixed border-collapse" data-testid="data-columns">
      <colgroup>
        <col className="w-[22%]" />
        <col className="w-[20%]" />
        <col className="w-[130px]" />
        <col />
        <col className="w-[32%]" />
      </colgroup>
      <thead className="sticky top-0 z-10 bg-sheet">
        <tr className="text-left text-ink2">
          {["Name in the file", "Called here", "Kind", "Values", "How it was made"].map((head) => (
            <th key={head} scope="col" className="border-b border-line2 px-4 py-1.5 font-semibold">
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {page.columns.map((column) => (
          <tr key={column.name} className="border-b border-line align-top">
            <td className="px-4 py-1.5 font-semibold break-words">{column.name}</td>
            <td className="px-4 py-1.5 break-words">{column.label}</td>
            <td className="px-4 py-1.5">{column.kind}</td>
            <td className="px-4 py-1.5">
              <span className="line-clamp-2 break-words" title={column.values}>
                {column.values || "–"}
              </span>
            </td>
            <td className="px-4 py-1.5 text-ink2">{column.how}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
