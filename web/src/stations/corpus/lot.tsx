import type { Schema } from "../../api/client";
import { date, plural } from "../../lib/numbers";
import { Field, Input, Select } from "../../parts/controls";
import { CutChoice } from "./cut";
import { Doubts } from "./doubts";
import { ENCODINGS } from "./encodings";
import { LongColumns } from "./longcolumns";
import { LookInNumbers, OddTexts } from "./looknumbers";
import { Columns, type Mapping, type MappingProps, targetOf, textColumns, withTarget } from "./mapping";
import { Sameness } from "./same";
import { SourceOf } from "./sourceof";
import { Value } from "./value";

type Lot = Schema["LotPreview"];
type Choice = Schema["LotChoiceModel"];
const DELIMITERS = [
  { value: "", label: "as found" },
  { value: ",", label: "comma" },
  { value: ";", label: "semicolon" },
  { value: "\t", label: "tab" },
  { value: "|", label: "bar" },
];
const UNITS: Record<string, string> = {
  Tables: "table",
  Workbooks: "sheet",
  JSON: "file",
  "JSON Lines": "file",
  Feeds: "feed",
  References: "list",
};

/** Files that are read alike: how they are cut, what their columns are, and the texts that come of it. */
export function LotCard({
  lot,
  everything,
  onChange,
}: {
  lot: Lot;
  everything: boolean;
  onChange: (choice: Choice) => void;
}) {
  const choice = lot.choice;
  const mapping = choice.mapping!;
  const set = (values: Partial<Choice>) => onChange({ ...choice, ...values });
  const setMapping = (next: Mapping) => set({ mapping: next });
  const unit = lot.is_table ? (UNITS[lot.label] ?? "file") : "file";
  return (
    <section
      className={`mb-4 rounded-md border border-line bg-sheet p-3.5 ${choice.leave_out ? "opacity-60" : ""}`}
      data-testid="lot"
    >
      <div className="mb-2.5 flex flex-wrap items-center gap-x-3 gap-y-1.5">
        <h2 className="text-[14px] font-[650]">{lot.label}</h2>
        <span className="truncate text-ink2" title={lot.names.join(", ")}>
          {lot.files === 1
            ? lot.names[0]
            : `${plural(lot.files, unit)}: ${lot.names.slice(0, 2).join(", ")}${lot.files > 2 ? " and more" : ""}`}
        </span>
        {lot.aside && choice.leave_out && <span className="text-rust">left out: {lot.aside}</span>}
        {lot.kept && <span className="rounded bg-tint px-1.5 text-bottle">taken as the last time</span>}
        <label className="ml-auto flex items-center gap-1.5 text-ink2">
          <input
            type="checkbox"
            checked={!choice.leave_out}
            onChange={(event) => set({ leave_out: !event.target.checked })}
          />{" "}
          import these
        </label>
      </div>
      {lot.reason && (
        <p role="alert" className="mb-2 text-rust">
          {lot.reason}
        </p>
      )}
      {!choice.leave_out && (
        <>
          <div className="mb-2.5 flex flex-wrap items-center gap-x-4 gap-y-1.5 text-ink2">
            {lot.has_encoding && (
              <label className="flex items-center gap-1.5">
                Encoding{" "}
                <Select
                  value={choice.encoding ?? ""}
                  onChange={(v) => set({ encoding: v || null, ...(lot.is_table ? { mapping: null } : {}) })}
                  choices={[
                    { value: "", label: `as found${lot.encoding ? ` (${lot.encoding})` : ""}` },
                    ...ENCODINGS,
                  ]}
                  className="w-auto!"
                />
              </label>
            )}
            {lot.kind === "table" && (
              <label className="flex items-center gap-1.5">
                Columns separated by{" "}
                <Select
                  value={choice.delimiter ?? ""}
                  onChange={(v) => set({ delimiter: v || null, mapping: null })}
                  choices={DELIMITERS}
                  className="w-auto!"
                />
              </label>
            )}
            {(lot.kind === "table" || lot.kind === "sheets") && (
              <label className="flex items-center gap-1.5">
                Header row{" "}
                <Select
                  value={choice.headings ?? ""}
                  onChange={(headings) => set({ headings, mapping: null })}
                  choices={headingChoices(lot.headings)}
                  className="w-auto!"
                />
              </label>
            )}
            {lot.lists.length > 0 && (
              <label className="flex items-center gap-1.5">
                A text is{" "}
                <Select
                  value={choice.records ?? ""}
                  onChange={(records) => set({ records, mapping: null })}
                  choices={[
                    { value: "", label: "each record" },
                    ...lot.lists.map((value) => ({ value, label: `each of ${value}` })),
                  ]}
                  className="w-auto!"
                />
              </label>
            )}
            {lot.is_table && lot.label !== "References" && (
              <label className="flex items-center gap-1.5">
                Read 03/06 as{" "}
                <Select
                  value={mapping.day_first ? "day" : "month"}
                  onChange={(v) => setMapping({ ...mapping, day_first: v === "day" })}
                  choices={[
                    { value: "day", label: "3 June" },
                    { value: "month", label: "6 March" },
                  ]}
                  className="w-auto!"
                />
              </label>
            )}
          </div>
          <LookInNumbers numbers={lot.numbers} everything={everything} />
          {lot.renumbered > 0 && (
            <p role="status" className="mb-2.5">
              {plural(lot.renumbered, "row")} looked at {lot.renumbered === 1 ? "has" : "have"} the key of a
              text that is here and nothing else of it: this table numbers its own rows. They are taken as
              new; below you can have them recognised by their key instead.
            </p>
          )}
          <Doubts doubts={lot.doubts} mapping={mapping} onChange={setMapping} />
          {lot.cuts.length > 1 && <CutChoice lot={lot} onChange={set} />}
          {lot.is_table ? (
            <Columns header={lot.header} rows={lot.rows} mapping={mapping} onChange={setMapping} />
          ) : (
            <DocumentMapping lot={lot} mapping={mapping} onChange={setMapping} />
          )}
          {lot.is_table && lot.label !== "References" && (
            <LongColumns lot={lot} mapping={mapping} onChange={setMapping} />
          )}
          <TableChoices lot={lot} mapping={mapping} onChange={setMapping} />
          <div className="flex flex-wrap items-end gap-x-5">
            <Sameness lot={lot} mapping={mapping} onChange={setMapping} />
          </div>
          <OddTexts odd={lot.numbers.odd} />
          <Samples samples={lot.samples} />
        </>
      )}
    </section>
  );
}

/** What several text columns become, rows without text, one source, names. */
function TableChoices({ lot, mapping, onChange }: MappingProps) {
  const texts = textColumns(mapping).length;
  const hasSource = mapping.targets.some((target) => target.role === "source");
  return (
    <div className="mt-3 flex flex-wrap items-end gap-x-5">
      {lot.is_table && !hasSource && <SourceOf lot={lot} mapping={mapping} onChange={onChange} />}
      {texts > 1 && (
        <>
          <div className="w-[270px]">
            <Field label={`${texts} text columns become`}>
              {(id) => (
                <Select
                  id={id}
                  value={mapping.layout ?? "answers"}
                  choices={[
                    { value: "answers", label: "one text for each answer" },
                    { value: "sections", label: "one text with a section for each" },
                  ]}
                  onChange={(v) => onChange({ ...mapping, layout: v as "answers" | "sections" })}
                />
              )}
            </Field>
          </div>
          {mapping.layout !== "sections" && (
            <div className="w-[190px]">
              <Field label="Variable of the question">
                {(id) => (
                  <Input
                    id={id}
                    value={mapping.question_name ?? "Question"}
                    onChange={(event) => onChange({ ...mapping, question_name: event.target.value })}
                  />
                )}
              </Field>
            </div>
          )}
        </>
      )}
      {lot.label === "References" && (
        <div className="w-[200px]">
          <Field label="Named by">
            {(id) => (
              <Select
                id={id}
                value={mapping.naming ?? "title"}
                choices={[
                  { value: "author-year", label: "author and year" },
                  { value: "title", label: "title" },
                ]}
                onChange={(v) => onChange({ ...mapping, naming: v as "title" | "author-year" })}
              />
            )}
          </Field>
        </div>
      )}
      <label className="mb-5 flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={mapping.placeholders ?? false}
          onChange={(event) => onChange({ ...mapping, placeholders: event.target.checked })}
        />
        {lot.is_table
          ? "Rows without text become placeholders to fill later"
          : "Files without text become placeholders to fill later"}
      </label>
      {!texts && !mapping.placeholders && (
        <p role="alert" className="mb-5 text-rust">
          Say which column holds the text.
        </p>
      )}
    </div>
  );
}

function headingChoices(found: string) {
  const told = found === "none" ? "none" : found.includes("-") ? `rows ${found}` : `row ${found}`;
  const rows = ["1", "2", "3", "4", "5", "6", "1-2", "2-3", "3-4"];
  return [
    { value: "", label: `as found (${told})` },
    { value: "none", label: "no row" },
    ...rows.map((value) => ({ value, label: value.includes("-") ? `rows ${value}` : `row ${value}` })),
  ];
}

function DocumentMapping({ lot, mapping, onChange }: MappingProps) {
  const header = lot.header;
  const title = mapping.targets.find((target) => target.role === "title")?.column ?? "Title";
  const folders = targetOf(mapping, "Folder").role;
  const author = targetOf(mapping, "Author").role === "variable";
  const setTitle = (column: string) => onChange(withTarget(mapping, header, column, { role: "title" }));
  const setFolder = (role: string) => {
    onChange(withTarget(mapping, header, "Folder", { role: role as "group" | "skip", name: "Folder" }));
  };
  return (
    <div className="flex flex-wrap items-end gap-x-5">
      <div className="w-[170px]">
        <Field label="Named by">
          {(id) => (
            <Select
              id={id}
              value={title}
              choices={[
                { value: "Title", label: "the file’s own title" },
                { value: "File", label: "file name" },
                { value: "First line", label: "first line" },
              ]}
              onChange={setTitle}
            />
          )}
        </Field>
      </div>
      <div className="w-[170px]">
        <Field label="The folder is">
          {(id) => (
            <Select
              id={id}
              value={folders}
              choices={[
                { value: "skip", label: "not used" },
                ...(folders === "source" ? [{ value: "source", label: "the source" }] : []),
                { value: "group", label: "the group" },
                { value: "variable", label: "a variable" },
              ]}
              onChange={setFolder}
            />
          )}
        </Field>
      </div>
      <SourceOf lot={lot} mapping={mapping} onChange={onChange} />
      <label className="mb-5 flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={author}
          onChange={(event) =>
            onChange(
              withTarget(mapping, header, "Author", {
                role: event.target.checked ? "variable" : "skip",
                name: "Author",
              }),
            )
          }
        />{" "}
        author as a variable
      </label>
      <label className="mb-5 flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={targetOf(mapping, "Date").role === "date"}
          onChange={(event) =>
            onChange(withTarget(mapping, header, "Date", { role: event.target.checked ? "date" : "skip" }))
          }
        />{" "}
        date named in the file
      </label>
      {targetOf(mapping, "Date").role === "date" && (
        <label className="mb-5 flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={targetOf(mapping, "Date").also ?? false}
            onChange={(event) =>
              onChange(withTarget(mapping, header, "Date", { also: event.target.checked }))
            }
          />{" "}
          its time of day as a variable
        </label>
      )}
    </div>
  );
}

function Samples({ samples }: { samples: readonly Schema["TextSample"][] }) {
  if (!samples.length) return null;
  return (
    <div>
      <h3 className="mb-1.5 text-[12px] font-bold text-ink2">The first texts will be</h3>
      <div className="grid grid-cols-3 gap-2.5">
        {samples.slice(0, 3).map((sample, at) => (
          <div
            key={at}
            className="min-w-0 rounded-md border border-line bg-wash px-3 py-2"
            data-testid="sample"
          >
            <div className="truncate font-semibold" title={sample.title}>
              {sample.title}
            </div>
            <div className="truncate text-ink2">
              {[
                sample.source ?? "no source",
                date(sample.date) || "no date",
                ...(sample.notes ? [plural(sample.notes, "note")] : []),
              ].join(", ")}
            </div>
            {sample.placeholder ? (
              <div className="text-rust">Placeholder: no text yet</div>
            ) : (
              <div className="line-clamp-2 font-serif text-[13.5px]">{sample.start}</div>
            )}
            <div className="mt-1 flex flex-wrap gap-x-3 text-[11.5px] text-ink2">
              {Object.entries(sample.values)
                .slice(0, 6)
                .map(([name, value]) => (
                  <span key={name} className="max-w-full truncate">
                    {name}: <Value value={value} />
                  </span>
                ))}
            </div>
          </div>
        ))}
      </div>
    </div>
  );
}
