import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { type Keywords as Asked, type KeywordsPage, useKeywords } from "../../data/answers";
import type { Comparison, Split } from "../../data/comparison";
import { useAddress, useFields, useProjectId, useScope, useSummary, useUsualSplit } from "../../data/project";
import { three, whole } from "../../lib/numbers";
import { divides } from "../../lib/split";
import { Button, Empty, Failure, Input, MoreMenu, Segments, Waiting } from "../../parts/controls";
import { Told } from "../../parts/told";
import { About } from "../../shell/about";
import { useEvidence } from "../../shell/evidence";
import { AddTerm } from "../words/addterm";
import { Across } from "./across";
import { Foot } from "./foot";
import { CompareHead } from "./head";
import { KeywordScatter } from "./keyscatter";
import { useListed } from "./listed";
import { pText } from "./scale";
import { Statements } from "./statements";
import { useGroups } from "./usegroups";
import { Sentence, Word } from "./word";

type Row = KeywordsPage["rows"][number];
const PAGE = 60;
const UNITS = [
  { value: "word", label: "words" },
  { value: "lemma", label: "words, all forms together" },
  { value: "phrase2", label: "phrases of 2 words" },
  { value: "phrase3", label: "phrases of 3 words" },
  { value: "phrase4", label: "phrases of 4 words" },
  { value: "hashtag", label: "hashtags" },
  { value: "mention", label: "mentions" },
  { value: "emoji", label: "emoji" },
];
const COLUMNS = [
  { order: "hits", label: "Hits", title: "Hits in the group" },
  { order: "texts", label: "Texts", title: "Texts of the group with it" },
  { order: "ratio", label: "Log ratio", title: "1 is twice as often, 2 four times, 3 eight times" },
  { order: "g2", label: "G2", title: "The customary measure to order by" },
  { order: "odds", label: "Log-odds", title: "Weighted log-odds: favours neither rare nor frequent words" },
  { order: "p", label: "p", title: "p over texts, adjusted for all that were tested" },
  {
    order: "evenness",
    label: "Evenness",
    title: "DP over the texts of the group: 0 even, 1 all in one text",
  },
] as const;

/** Words typical of a group of texts. */
export function Keywords() {
  const texts = useSummary().data?.texts;
  if (texts === undefined) return <Waiting what="Opening" />;
  if (!texts)
    return (
      <Empty title="No words yet">Import texts first; then words typical of a group are found here.</Empty>
    );
  return <View />;
}

/** The split of the page, in the address; as long as none is chosen the usual one. */
export function useSplit(): [Split, (split: Split) => void] {
  const usual = useUsualSplit();
  const [written, set] = useAddress("split", "");
  let found: Split | null = null;
  try {
    found = written ? (JSON.parse(written) as Split) : null;
  } catch {
    found = null;
  }
  return [found ?? usual, (split) => set(JSON.stringify(split))];
}

function View() {
  const { scope } = useScope();
  const [split, setSplit] = useSplit();
  const [group, setGroup] = useAddress("group", "");
  const [against, setAgainst] = useAddress("against", "");
  const [unit, setUnit] = useAddress("unit", "word");
  const [order, setOrder] = useAddress("order", "g2");
  const [least, setLeast] = useAddress("least", "5");
  const [side, setSide] = useState("over");
  const [sure, setSure] = useState(false);
  const [find, setFind] = useState("");
  const [start, setStart] = useState(0);
  const figure = useRef<HTMLDivElement>(null);
  const groups = useGroups(split);
  const labels = groups.labels;
  const chosen = labels.includes(group) ? group : (labels[0] ?? "");
  const other = labels.includes(against) && against !== chosen ? against : "";
  const asked: Asked | null = chosen
    ? {
        view: "keywords",
        split,
        group: chosen,
        against: other || null,
        scope: [...scope],
        ...unitOf(unit),
        least_hits: Math.max(1, Number(least) || 5),
      }
    : null;
  const found = useKeywords(
    asked && {
      asked,
      order: order as "g2",
      descending: order !== "evenness",
      rare: side === "rare",
      sure,
      find,
      start,
      most: PAGE,
    },
  );
  const first = () => setStart(0);
  const answer = found.data;
  return (
    <div className="flex h-full flex-col">
      <CompareHead>
        <About topic="compare">
          Words that stand more often in a group of texts than in what it is set against. p respects texts: a
          word that one text repeats is not taken for typical. A click on a number reads its passages.
        </About>
      </CompareHead>
      <div className="border-b border-line2 bg-sheet px-4 py-3">
        <Sentence label="Which words of which group">
          Which
          <Word
            label="What is looked at"
            value={unit}
            choices={UNITS}
            onChange={(next) => {
              setUnit(next);
              first();
            }}
          />
          are typical of
          <Word
            label="Group"
            value={chosen}
            choices={labels.map((label) => ({ value: label, label }))}
            onChange={(next) => {
              setGroup(next);
              first();
            }}
          />
          of
          <Across
            split={split}
            onChange={(next) => {
              setSplit(next);
              setGroup("");
              setAgainst("");
              first();
            }}
            crossing={false}
            nothing={false}
            label="Group of"
          />
          against
          <Word
            label="Against"
            value={other}
            choices={[
              { value: "", label: "all other groups" },
              ...labels.filter((label) => label !== chosen).map((label) => ({ value: label, label })),
            ]}
            onChange={(next) => {
              setAgainst(next);
              first();
            }}
          />
        </Sentence>
      </div>
      <div className="min-h-0 flex-1 overflow-auto px-4 py-3.5">
        {groups.error && <Failure error={groups.error} />}
        {groups.labels.length === 1 && (
          <Empty title="Only one group">
            Words are typical of one group against another. Choose a field with several values.
          </Empty>
        )}
        {found.error && <Told error={found.error} />}
        {!divides(split) && (
          <Empty title="Nothing to set against each other">
            No field parts these texts. Give them a source, a variable or a date, or make subcorpora.
          </Empty>
        )}
        {found.isPending && asked && !found.error && <Waiting what="Counting words" />}
        {answer && !found.error && asked && (
          <div className={found.isPlaceholderData ? "opacity-60" : ""}>
            <Statements statements={answer.statements} />
            <div ref={figure}>
              <KeywordScatter page={answer} onOpen={(name) => setFind(name)} />
            </div>
            <div className="mt-3 mb-2 flex flex-wrap items-center gap-3">
              <Segments
                label="Direction"
                value={side}
                onChange={(next) => {
                  setSide(next);
                  first();
                }}
                choices={[
                  { value: "over", label: `More in ${short(answer.sides[0]!.label)}` },
                  { value: "rare", label: `More in ${short(answer.sides[1]!.label)}` },
                ]}
              />
              <label className="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={sure}
                  onChange={(event) => {
                    setSure(event.target.checked);
                    first();
                  }}
                />
                only beyond chance
              </label>
              <label className="flex items-center gap-1.5 text-ink2">
                at least
                <Input
                  aria-label="Least hits"
                  inputMode="numeric"
                  defaultValue={least}
                  className="w-[54px]!"
                  onBlur={(event) => {
                    setLeast(event.target.value.replace(/\D/g, "") || "5");
                    first();
                  }}
                  onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
                />
                hits
              </label>
              <Input
                aria-label="Find a word"
                placeholder="Find; * and ? as in terms"
                value={find}
                className="ml-auto w-[190px]!"
                onChange={(event) => {
                  setFind(event.target.value);
                  first();
                }}
              />
            </div>
            <Table
              answer={answer}
              order={order}
              onOrder={(next) => {
                setOrder(next);
                first();
              }}
              split={split}
              labels={labels}
            />
            <Pages total={answer.total} start={start} shown={answer.rows.length} onStart={setStart} />
            <Foot
              view={asked}
              title={`${label(unit)} typical of ${chosen}`}
              method={answer.method}
              figure={figure}
              pictured={() => ({
                title: `${label(unit)} typical of ${chosen}`,
                base: answer.sides
                  .map((one) => `${one.label}: ${whole(one.texts)} texts, ${whole(one.words)} words`)
                  .join("; "),
                method:
                  "Log ratio by frequency; filled where it differs beyond chance (p over texts, adjusted).",
              })}
            />
          </div>
        )}
      </div>
    </div>
  );
}

function unitOf(unit: string): Partial<Asked> {
  if (unit.startsWith("phrase")) return { unit: "phrase", length: Number(unit.slice(6)) };
  if (unit === "lemma") return { unit: "word", merge: "lemma" };
  if (unit === "word") return { unit: "word" };
  return { unit: "word", kinds: [unit as "hashtag"] };
}

function label(unit: string): string {
  const found = UNITS.find((one) => one.value === unit)?.label ?? "words";
  return found[0]!.toUpperCase() + found.slice(1);
}

function short(text: string): string {
  return text.length > 24 ? `${text.slice(0, 23)}…` : text;
}

function Table({
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
    const target = {
      kind: "words" as const,
      words: [row.name],
      unit: unit ?? "word",
      merge: merge ?? "none",
      language: answer.language,
    };
    return {
      target,
      scope: [...scope],
      split,
      measure: "rate",
      level: 0.95,
      seed: 1,
      unit: null,
      adjust: [],
      form: 1,
    }; // prettier-ignore
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
    <div
      className="overflow-auto rounded-md border border-line bg-sheet"
      role="region"
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
                    title="Most of its hits in the group stand in one text"
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
    </div>
  );
}

export function Pages({
  total,
  start,
  shown,
  onStart,
}: {
  total: number;
  start: number;
  shown: number;
  onStart: (start: number) => void;
}) {
  if (total <= PAGE) return <p className="mt-1.5 text-ink2">{whole(total)} in all</p>;
  return (
    <div className="mt-2 flex items-center gap-2 text-ink2">
      <Button disabled={start === 0} onClick={() => onStart(Math.max(0, start - PAGE))}>
        Before
      </Button>
      <Button disabled={start + shown >= total} onClick={() => onStart(start + PAGE)}>
        After
      </Button>
      {whole(start + 1)}–{whole(start + shown)} of {whole(total)}
    </div>
  );
}
