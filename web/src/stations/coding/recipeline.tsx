import type { Schema } from "../../api/client";
import type { Code } from "../../data/coding";
import { useDictionary } from "../../data/dictionaries";
import { UNITS } from "../../data/runs";
import type { ToneList } from "../../data/tones";
import { plural } from "../../lib/numbers";
import { Button, Input, Popover, Select } from "../../parts/controls";
import type { Draft, Kind, Part } from "./rundraft";

const KINDS: { value: Kind; label: string }[] = [
  { value: "dictionary", label: "hits of the dictionary" },
  { value: "search", label: "hits of the search" },
  { value: "values", label: "values of the field" },
  { value: "speakers", label: "who speaks" },
  { value: "structure", label: "parts of the text" },
  { value: "example", label: "what is like my examples of" },
  { value: "themes", label: "themes of the texts" },
  { value: "tone", label: "their tone" },
];
/** The finder an address names, the usual one where it names none. */
export function kindOf(name: string): Kind {
  return KINDS.find((one) => one.value === name)?.value ?? "dictionary";
}

/** What can be learned from examples. */
const LEARNED = UNITS.filter((one) => one.value !== "hit" && one.value !== "words");
const PARTS: { value: Part; label: string }[] = [
  { value: "heading", label: "under headings" },
  { value: "section", label: "sections and questions" },
  { value: "page", label: "pages" },
  { value: "item", label: "items of lists" },
];
const WHOLE: Partial<Record<Kind, string>> = {
  values: "Code texts by",
  speakers: "Code turns by",
  structure: "Code",
  tone: "Code sentences by",
};

/** A recipe as a sentence whose words are what is chosen. */
export function RecipeLine({
  draft,
  dictionaries,
  lists,
  codes,
  tones,
  levels,
  onChange,
}: {
  draft: Draft;
  dictionaries: readonly Schema["DictionaryPublic"][];
  lists: readonly Schema["FieldInfo"][];
  codes: readonly Code[];
  tones: readonly ToneList[];
  levels: readonly Schema["HeadingLevel"][];
  onChange: (part: Partial<Draft>) => void;
}) {
  const { kind, unit } = draft;
  const of = draft.dictionary ?? dictionaries[0]?.id ?? null;
  return (
    <div
      className="flex flex-wrap items-center gap-x-2 gap-y-1.5 border-b border-line bg-sheet px-4 py-2.5"
      data-testid="recipe"
    >
      <span>{WHOLE[kind] ?? "Code"}</span>
      {!WHOLE[kind] && (
        <>
          <Select
            aria-label="What is coded"
            value={unit}
            choices={kind === "example" ? LEARNED : UNITS}
            onChange={(value) => onChange({ unit: value as Draft["unit"] })}
            className="w-auto!"
          />
          {unit === "words" && (
            <Input
              aria-label="Words on each side"
              inputMode="numeric"
              value={draft.around}
              onChange={(event) => onChange({ around: event.target.value.replace(/\D/g, "").slice(0, 3) })}
              className="w-[48px]!"
            />
          )}
          {kind !== "example" && (
            <span>{unit === "words" ? "on each side of" : unit === "hit" ? "for" : "around"}</span>
          )}
        </>
      )}
      <Select
        aria-label="What finds"
        value={kind}
        choices={KINDS}
        onChange={(value) => onChange({ kind: value as Kind })}
        className="w-auto!"
      />
      {kind === "dictionary" && of !== null && (
        <>
          <Select
            aria-label="Dictionary"
            value={String(of)}
            choices={dictionaries.map((one) => ({ value: String(one.id), label: one.name }))}
            onChange={(value) => onChange({ dictionary: Number(value), categories: [] })}
            className="w-auto! max-w-[180px]"
          />
          <Categories
            dictionary={of}
            chosen={draft.categories}
            onChoose={(categories) => onChange({ categories })}
          />
        </>
      )}
      {kind === "search" && (
        <Input
          aria-label="Search"
          placeholder="lamb* near:5 loss* OR compensation"
          value={draft.query}
          maxLength={2000}
          onChange={(event) => onChange({ query: event.target.value })}
          className="w-[300px]!"
        />
      )}
      {kind === "values" && lists.length > 0 && (
        <Select
          aria-label="Field"
          value={draft.field || lists[0]!.key}
          choices={lists.map((one) => ({ value: one.key, label: one.name }))}
          onChange={(field) => onChange({ field })}
          className="w-auto! max-w-[180px]"
        />
      )}
      {kind === "speakers" && (
        <label className="flex items-center gap-1.5">
          <span className="text-ink2">as a turn begins with</span>
          <Input
            value={draft.pattern}
            maxLength={300}
            placeholder="Name:"
            title="An expression with the name in round brackets, such as ^(\w+)> ; left empty, “Name:” and its like"
            onChange={(event) => onChange({ pattern: event.target.value, names: null })}
            className="w-[150px]!"
          />
        </label>
      )}
      {kind === "structure" && (
        <Select
          aria-label="Which parts"
          value={draft.by}
          choices={PARTS}
          onChange={(by) => onChange({ by: by as Part, level: 0, names: null })}
          className="w-auto!"
        />
      )}
      {kind === "structure" && draft.by === "heading" && levels.length > 0 && (
        <Select
          aria-label="Level of headings"
          title="A section runs from its heading to the next one of that level or a higher one."
          value={String(draft.level)}
          choices={[
            { value: "0", label: "of every level" },
            ...levels.map(({ level, headings }) => ({
              value: String(level),
              label: `of level ${level} (${headings.toLocaleString("en")})`,
            })),
          ]}
          onChange={(level) => onChange({ level: Number(level), names: null })}
          className="w-auto!"
        />
      )}
      {kind === "example" && (
        <ManyCodes codes={codes} chosen={draft.codes} onChoose={(chosen) => onChange({ codes: chosen })} />
      )}
      {kind === "tone" && (
        <>
          <span>by the words of</span>
          <Select
            aria-label="Word list"
            value={String(draft.tones ?? "")}
            choices={tones.map((one) => ({ value: String(one.id ?? ""), label: one.name }))}
            onChange={(value) => onChange({ tones: value ? Number(value) : null })}
            className="w-auto! max-w-[200px]"
          />
        </>
      )}
      <span>in the texts of the scope</span>
    </div>
  );
}

/** Of which codes the examples are: any of them, with all below. */
function ManyCodes({
  codes,
  chosen,
  onChoose,
}: {
  codes: readonly Code[];
  chosen: readonly number[];
  onChoose: (chosen: readonly number[]) => void;
}) {
  const names = codes.filter((one) => chosen.includes(one.id)).map((one) => one.name);
  return (
    <Popover
      width={280}
      trigger={
        <Button>
          <span className="inline-block max-w-[240px] truncate align-bottom">
            {names.length ? names.join(" or ") : "which code?"}
          </span>
        </Button>
      }
    >
      <p className="mb-2 text-ink2">Passages by hand under any of these, or under a code below them.</p>
      <Ticks all={codes} chosen={chosen} onChoose={onChoose} />
    </Popover>
  );
}

/** Rows of a tree to tick. */
function Ticks({
  all,
  chosen,
  onChoose,
}: {
  all: readonly { id: number; name: string; depth: number }[];
  chosen: readonly number[];
  onChoose: (chosen: readonly number[]) => void;
}) {
  return (
    <div className="max-h-[320px] overflow-auto">
      {all.map((one) => (
        <label
          key={one.id}
          className="flex items-center gap-2 py-0.5"
          style={{ paddingLeft: one.depth * 14 }}
        >
          <input
            type="checkbox"
            checked={chosen.includes(one.id)}
            onChange={() =>
              onChoose(chosen.includes(one.id) ? chosen.filter((id) => id !== one.id) : [...chosen, one.id])
            }
          />
          {one.name}
        </label>
      ))}
    </div>
  );
}

/** Which categories of a dictionary are looked for; none chosen are all. */
function Categories({
  dictionary,
  chosen,
  onChoose,
}: {
  dictionary: number;
  chosen: readonly number[];
  onChoose: (chosen: readonly number[]) => void;
}) {
  const all = useDictionary(dictionary).data?.categories ?? [];
  return (
    <Popover
      width={280}
      trigger={
        <Button>
          {chosen.length
            ? `${chosen.length} of ${plural(all.length, "category", "categories")}`
            : "all categories"}
        </Button>
      }
    >
      <p className="mb-2 text-ink2">
        A category that is not ticked is coded with the nearest one above it that is.
      </p>
      <Ticks all={all} chosen={chosen} onChoose={onChoose} />
      {chosen.length > 0 && (
        <Button className="mt-2" onClick={() => onChoose([])}>
          All categories
        </Button>
      )}
    </Popover>
  );
}
