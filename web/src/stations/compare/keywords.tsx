import { useRef, useState } from "react";
import { type Keywords as Asked, useKeywords } from "../../data/answers";
import type { Split } from "../../data/comparison";
import { useAddress, useScope, useSummary, useUsualSplit } from "../../data/project";
import { whole } from "../../lib/numbers";
import { divides } from "../../lib/split";
import { Button, Empty, Failure, Input, Segments, Waiting } from "../../parts/controls";
import { Told } from "../../parts/told";
import { Sentence, Word } from "../../parts/word";
import { About } from "../../shell/about";
import { Across } from "./across";
import { Foot } from "./foot";
import { CompareHead } from "./head";
import { KeywordScatter } from "./keyscatter";
import { KeyTable, short } from "./keytable";
import { Statements } from "./statements";
import { useGroups } from "./usegroups";

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
          Words that occur more often in a group of texts than in the texts compared with it. p respects
          texts: a word that one text repeats is not taken for typical. A click on a number reads its
          passages.
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
          <Empty title="Nothing to compare">
            No field divides these texts. Give them a source, a variable or a date, or make subcorpora.
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
                only significant
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
            <KeyTable
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
                  "Log ratio by frequency; filled where the difference is significant (p over texts, adjusted).",
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
