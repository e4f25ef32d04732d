import { useMemo, useRef, useState } from "react";
import { type Network as Asked, type NetworkAnswer, useNetwork } from "../../data/answers";
import type { Split } from "../../data/comparison";
import { useAddress, useScope, useSummary } from "../../data/project";
import { percent, whole } from "../../lib/numbers";
import { divides } from "../../lib/split";
import { Empty, Failure, Waiting } from "../../parts/controls";
import { Told } from "../../parts/told";
import { Sentence, Word } from "../../parts/word";
import { About } from "../../shell/about";
import { Across } from "./across";
import { Enlarged } from "./enlarged";
import { Foot } from "./foot";
import { CompareHead } from "./head";
import { Picture } from "./networkpicture";
import { Topics } from "./networktopics";
import { Statements } from "./statements";
import { useGroups } from "./usegroups";

/** Words that stand together as a network, its topics and the gaps between them. */
export function NetworkView() {
  const texts = useSummary().data?.texts;
  if (texts === undefined) return <Waiting what="Opening" />;
  if (!texts)
    return <Empty title="No words yet">Import texts first; then their words are linked here.</Empty>;
  return <View />;
}

function View() {
  const { scope } = useScope();
  const [written, setWritten] = useAddress("network", "");
  const [split, setSplit] = useState<Split>({});
  const [one, setOne] = useState("");
  const [other, setOther] = useState("");
  const part = useMemo(() => parsed(written), [written]);
  const asked: Asked = {
    view: "network",
    scope: [...scope],
    most: part.most ?? 100,
    within: part.within ?? "sentence",
    merge: part.merge ?? "none",
    floor: part.floor ?? 0.1,
    least: part.least ?? 5,
    ties: part.ties ?? 5,
    resolution: part.resolution ?? 1,
    seed: part.seed ?? 1,
    leave: part.leave ?? [],
    kinds: part.kinds ?? ["word"],
  };
  const change = (next: Partial<Asked>) => {
    const { view: _, scope: __, ...kept } = { ...asked, ...next };
    setWritten(JSON.stringify(kept));
  };
  const groups = useGroups(split);
  const labels = groups.labels;
  const first = labels.includes(one) ? one : (labels[0] ?? "");
  const second = labels.includes(other) ? other : (labels.find((label) => label !== first) ?? "");
  const two = divides(split) && labels.length > 1;
  return (
    <div className="flex h-full flex-col">
      <CompareHead>
        <About topic="compare">
          Words are linked where they share a sentence more often than expected. Words linked to each other
          form topics; a topic opens the passages with two of its words. It is a map to read by, not a count
          to report.
        </About>
      </CompareHead>
      <div className="border-b border-line2 bg-sheet px-4 py-3">
        <Sentence label="Which words, linked how">
          The
          <Figure
            label="Words"
            value={asked.most ?? 100}
            low={10}
            high={300}
            onChange={(most) => change({ most })}
          />
          most frequent
          <Word
            label="Forms"
            value={asked.merge ?? "none"}
            choices={[
              { value: "none", label: "words" },
              { value: "lemma", label: "words, all forms together" },
            ]}
            onChange={(merge) => change({ merge: merge as "none" })}
          />
          linked by the same
          <Word
            label="Within"
            value={asked.within ?? "sentence"}
            choices={[
              { value: "sentence", label: "sentence" },
              { value: "paragraph", label: "paragraph" },
            ]}
            onChange={(within) => change({ within: within as "sentence" })}
          />
          at least
          <Figure
            label="Least together"
            value={asked.least ?? 5}
            low={1}
            high={100_000}
            onChange={(least) => change({ least })}
          />
          times, in
          <Word
            label="Topics"
            value={String(asked.resolution ?? 1)}
            choices={[
              { value: "0.5", label: "few large topics" },
              { value: "1", label: "topics" },
              { value: "1.6", label: "more, smaller topics" },
              { value: "2.5", label: "many small topics" },
            ]}
            onChange={(resolution) => change({ resolution: Number(resolution) })}
          />
          ; two groups of
          <Across split={split} onChange={setSplit} crossing={false} label="Two groups side by side" />
          {two && (
            <>
              :
              <Word
                label="First group"
                value={first}
                choices={labels.map((label) => ({ value: label, label }))}
                onChange={setOne}
              />
              beside
              <Word
                label="Second group"
                value={second}
                choices={labels.map((label) => ({ value: label, label }))}
                onChange={setOther}
              />
            </>
          )}
        </Sentence>
        {(asked.leave?.length ?? 0) > 0 && (
          <p className="mt-1.5 text-ink2">
            Without{" "}
            {asked.leave!.map((word) => (
              <button
                key={word}
                type="button"
                title={`Take “${word}” back`}
                onClick={() => change({ leave: asked.leave!.filter((one) => one !== word) })}
                className="mr-1.5 rounded bg-tint px-1.5"
              >
                {word} ×
              </button>
            ))}
          </p>
        )}
      </div>
      <div className="min-h-0 flex-1 overflow-auto px-4 py-3.5">
        {groups.error && <Failure error={groups.error} />}
        {two ? (
          <div className="grid grid-cols-2 gap-4">
            {[first, second].map((label) => (
              <div key={label}>
                <h2 className="mb-1.5 font-[650]">{label}</h2>
                <One
                  asked={{ ...asked, split, group: label }}
                  onLeave={(word) => change({ leave: [...(asked.leave ?? []), word] })}
                  small
                />
              </div>
            ))}
          </div>
        ) : (
          <One asked={asked} onLeave={(word) => change({ leave: [...(asked.leave ?? []), word] })} />
        )}
      </div>
    </div>
  );
}

function parsed(written: string): Partial<Asked> {
  try {
    const found: unknown = written ? JSON.parse(written) : {};
    return typeof found === "object" && found !== null ? (found as Partial<Asked>) : {};
  } catch {
    return {};
  }
}

function Figure({
  label,
  value,
  low,
  high,
  onChange,
}: {
  label: string;
  value: number;
  low: number;
  high: number;
  onChange: (value: number) => void;
}) {
  return (
    <input
      key={value}
      aria-label={label}
      inputMode="numeric"
      defaultValue={value}
      onBlur={(event) => {
        const typed = parseInt(event.target.value.replace(/\D/g, ""), 10);
        const next = Math.min(high, Math.max(low, typed || value));
        event.target.value = String(next);
        if (next !== value) onChange(next);
      }}
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      className="w-[44px] border-b-[1.5px] border-bottle bg-transparent text-center font-semibold text-bottle"
    />
  );
}

/** One network: its sentences, the drawing, its topics. */
function One({
  asked,
  onLeave,
  small = false,
}: {
  asked: Asked;
  onLeave: (word: string) => void;
  small?: boolean;
}) {
  const found = useNetwork(asked);
  const figure = useRef<HTMLDivElement>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const answer = found.data;
  if (found.error) return <Told error={found.error} />;
  if (!answer) return <Waiting what="Tying words together" />;
  const topic = chosen !== null && chosen < answer.topics.length ? chosen : null;
  const title = asked.group ? `Word network of ${asked.group}` : "Word network";
  return (
    <div className={found.isPlaceholderData ? "opacity-60" : ""}>
      <Statements statements={answer.statements} />
      <Enlarged>
        <div ref={figure}>
          <Picture answer={answer} chosen={topic} onChoose={setChosen} onLeave={onLeave} />
        </div>
      </Enlarged>
      <Topics answer={answer} asked={asked} chosen={topic} onChoose={setChosen} small={small} />
      {answer.gaps.length > 0 && <Gaps answer={answer} />}
      <Foot
        view={asked}
        title={title}
        method={answer.method}
        figure={figure}
        pictured={() => ({
          title,
          base: `${answer.words.length} words; ${whole(answer.units)} ${asked.within}s of ${whole(answer.texts)} texts; seed ${asked.seed}.`,
          method: "Lines are ties (normalised PMI), colours topics (Leiden), sizes the number of texts.",
        })}
      />
    </div>
  );
}

function Gaps({ answer }: { answer: NetworkAnswer }) {
  return (
    <div className="mt-3">
      <h2 className="mb-1 font-[650]">Least connected topics</h2>
      <ul className="grid gap-1">
        {answer.gaps.map((gap) => (
          <li key={`${gap.first}.${gap.second}`}>
            <b>{answer.topics[gap.first]!.name}</b> and <b>{answer.topics[gap.second]!.name}</b>:{" "}
            {gap.ratio ? `${percent(gap.ratio)} of the links expected from their size` : "no link at all"}
            {gap.bridges.length > 0 && (
              <span className="text-ink2">; connected to both: {gap.bridges.join(", ")}</span>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
