import { useState } from "react";
import type { Schema } from "../../api/client";
import { plural, whole } from "../../lib/numbers";
import { Button, Input, Select } from "../../parts/controls";

type Lot = Schema["LotPreview"];
type Choice = Schema["LotChoiceModel"];
const CUTS: Record<string, string> = {
  file: "one text a file",
  heading: "a text for each heading",
  page: "a text for each page",
  bold: "a text for each bold line",
  fields: "a text for each block of field lines",
  origin: "a text for each line with outlet and date",
  counter: "a text for each “3 of 12” line",
  messages: "a text for each message",
  line: "a text from one separating line to the next",
  begins: "a text at each line like this one",
};
const SHOWN = 12;
/** What a line of a text can say of it; of so many of its first lines. */
const SAYS = [
  { value: "", label: "words" },
  { value: "title", label: "headline" },
  { value: "source", label: "source" },
  { value: "date", label: "date" },
  { value: "skip", label: "left out" },
];
const ROLE_NAMES: Record<string, string> = { title: "headline", source: "source", date: "date" };
const LINES_WITH_ROLE = 5;
const LINES_LEFT_OUT = new Set(["line", "counter"]);
const CUT_BY_LINES = new Set(["line", "begins", "counter", "heading", "bold"]);

/** How files are cut into texts, shown on the lines of one file and corrected by pointing at a line. */
export function CutChoice({ lot, onChange }: { lot: Lot; onChange: (values: Partial<Choice>) => void }) {
  const [open, setOpen] = useState(false);
  const { cut, choice } = lot;
  const kind = choice.cut ?? "file";
  const kinds = lot.cuts.includes(kind) ? lot.cuts : [...lot.cuts, kind];
  return (
    <div className="mb-2.5">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1.5 text-ink2">
        <label className="flex items-center gap-1.5">
          Cut into{" "}
          <Select
            value={kind}
            onChange={(v) =>
              onChange({ cut: v as NonNullable<Choice["cut"]>, cut_line: "", cut_marks: {}, mapping: null })
            }
            choices={kinds.map((value) => ({ value, label: CUTS[value] ?? value }))}
            className="w-auto!"
          />
        </label>
        {kind === "heading" && cut.levels.length > 1 && (
          <label className="flex items-center gap-1.5">
            Headings{" "}
            <Select
              value={choice.cut_line ?? ""}
              onChange={(v) => onChange({ cut_line: v, mapping: null })}
              choices={levelChoices(cut.levels)}
              className="w-auto!"
            />
          </label>
        )}
        {(kind === "line" || kind === "begins") && (
          <Input
            aria-label={kind === "line" ? "The separating line" : "A line at which a text begins"}
            placeholder={
              kind === "line" ? "the separating line, such as ***" : "a line at which a text begins"
            }
            value={choice.cut_line ?? ""}
            onChange={(event) => onChange({ cut_line: event.target.value, mapping: null })}
            className="max-w-[220px]"
          />
        )}
        <b className="font-semibold text-ink" data-testid="cut-texts">
          {plural(cut.texts, "text")} in{" "}
          {cut.files === 1 ? "the first file" : `the first ${whole(cut.files)} files`}
        </b>
        {cut.marks
          .filter((mark) => mark.role in ROLE_NAMES)
          .map((mark) => (
            <span key={mark.role} className={mark.found < mark.texts ? "text-rust" : ""}>
              {ROLE_NAMES[mark.role]} in {whole(mark.found)} of {plural(mark.texts, "text")}
            </span>
          ))}
        {cut.lines.length > 0 && (
          <Button onClick={() => setOpen(!open)} aria-expanded={open}>
            {open ? "Hide the lines" : "Show where texts begin"}
          </Button>
        )}
        {cut.speakers.length > 0 && (
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={choice.speakers ?? false}
              onChange={(event) => onChange({ speakers: event.target.checked, mapping: null })}
            />
            <span>
              {whole(cut.speakers.length)} speakers ({cut.speakers.slice(0, 3).join(", ")}
              {cut.speakers.length > 3 ? " and more" : ""}) as turns, their names not counted as words
            </span>
          </label>
        )}
      </div>
      {cut.head_fields.length > 0 && (
        <fieldset className="mt-1.5 flex flex-wrap items-center gap-x-3 gap-y-1 text-ink2">
          <legend className="float-left mr-3">Lines at the top taken as fields</legend>
          {cut.head_fields.map((field) => (
            <label key={field.name} className="flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={choice.head_fields ? choice.head_fields.includes(field.name) : true}
                onChange={(event) =>
                  onChange({
                    head_fields: cut.head_fields
                      .map((one) => one.name)
                      .filter((name) =>
                        name === field.name
                          ? event.target.checked
                          : (choice.head_fields?.includes(name) ?? true),
                      ),
                    mapping: null,
                  })
                }
              />
              {field.name} ({whole(field.texts)})
            </label>
          ))}
        </fieldset>
      )}
      {cut.wrapped > 0 && (
        <label className="mt-1.5 flex items-center gap-1.5 text-ink2">
          <input
            type="checkbox"
            checked={!choice.keep_lines}
            onChange={(event) => onChange({ keep_lines: !event.target.checked })}
          />
          Join lines to paragraphs:{" "}
          {cut.wrapped === 1 ? "the lines of a file end" : `the lines of ${whole(cut.wrapped)} files end`} at
          one width, in the middle of sentences
        </label>
      )}
      {open && <Lines lot={lot} onChange={onChange} />}
    </div>
  );
}

/** Down to which level headings begin a text, with how many texts that would be. */
function levelChoices(levels: Lot["cut"]["levels"]) {
  let sum = 0;
  return levels.map(({ level, headings }, at) => {
    sum += headings;
    const last = at === levels.length - 1;
    const name = last ? "of all levels" : at === 0 ? `of level ${level} only` : `down to level ${level}`;
    return { value: last ? "" : `${level}`, label: `${name} (${whole(sum)})` };
  });
}

function Lines({ lot, onChange }: { lot: Lot; onChange: (values: Partial<Choice>) => void }) {
  const [all, setAll] = useState(false);
  const marks = lot.choice.cut_marks ?? {};
  const kind = lot.choice.cut ?? "file";
  const places = placesInText(lot.cut.lines, kind);
  const lines = all ? lot.cut.lines : near(lot.cut.lines);
  return (
    <div className="mt-2 rounded border border-line">
      <p className="border-b border-line px-2.5 py-1 text-ink2">
        Lines of one file. Choose a line at which a text begins; all lines like it begin one.
        {CUT_BY_LINES.has(kind) && " Then say which of its first lines hold headline, source and date."}
      </p>
      <ol className="max-h-[260px] overflow-auto" aria-label="Lines of one file">
        {lines.map((line) => (
          <li
            key={line.number}
            className={`flex items-center ${line.begins ? "border-t-2 border-bottle first:border-t-0" : ""}`}
          >
            <button
              type="button"
              onClick={() => onChange({ cut: "begins", cut_line: line.text, cut_marks: {}, mapping: null })}
              title="A text begins at this line"
              className="grid min-w-0 flex-1 grid-cols-[52px_1fr_auto] gap-2 px-2.5 py-0.5 text-left hover:bg-tint"
            >
              <span className="text-right text-ink3">{whole(line.number + 1)}</span>
              <span className={`truncate font-serif ${line.begins ? "font-semibold" : ""}`}>{line.text}</span>
              <span className="text-bottle">{line.begins ? "begins a text" : ""}</span>
            </button>
            {CUT_BY_LINES.has(kind) && places.has(line.number) && (
              <Select
                aria-label={`What line ${line.number + 1} says`}
                value={roleAt(marks, places.get(line.number)!)}
                onChange={(role) =>
                  onChange({ cut_marks: marked(marks, role, places.get(line.number)!), mapping: null })
                }
                choices={SAYS}
                className="h-6! w-[104px]! border-transparent! bg-transparent! py-0!"
              />
            )}
          </li>
        ))}
      </ol>
      {!all && lines.length < lot.cut.lines.length && (
        <div className="border-t border-line px-2.5 py-1">
          <Button onClick={() => setAll(true)}>Show all {whole(lot.cut.lines.length)} lines</Button>
        </div>
      )}
    </div>
  );
}

/** Where the numbers of lines that were pointed at hold: counted among the lines of the text they are in. */
function placesInText(lines: Lot["cut"]["lines"], kind: string): Map<number, number> {
  const places = new Map<number, number>();
  // a separating line and a counter are no line of the text they begin
  const first = LINES_LEFT_OUT.has(kind) ? -1 : 0;
  let at: number | null = null;
  for (const line of lines) {
    if (line.begins) at = first;
    else if (at !== null) at += 1;
    if (at !== null && at >= 0 && at < LINES_WITH_ROLE) places.set(line.number, at);
  }
  return places;
}

type Marks = NonNullable<Choice["cut_marks"]>;
type Role = keyof Marks;

function roleAt(marks: Marks, place: number): string {
  return (Object.keys(marks) as Role[]).find((role) => marks[role] === place)?.toString() ?? "";
}

/** The marks with one line given a role, or none; a role has one line, and a line one role. */
function marked(marks: Marks, role: string, place: number): Marks {
  const others = Object.entries(marks).filter(([name, at]) => name !== role && at !== place);
  return Object.fromEntries(role ? [...others, [role, place]] : others) as Marks;
}

/** The lines around each beginning, and the first ones. */
function near(lines: Lot["cut"]["lines"]) {
  const begins = lines.flatMap((line, at) => (line.begins ? [at] : []));
  return lines.filter((_, at) => at < SHOWN || begins.some((start) => at >= start - 1 && at <= start + 2));
}
