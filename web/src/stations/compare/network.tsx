import { useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { type Network as Asked, type NetworkAnswer, useNetwork } from "../../data/answers";
import { ofTerms, type Split } from "../../data/comparison";
import { useAddress, useProjectId, useScope, useSummary } from "../../data/project";
import { percent, plural, three, whole } from "../../lib/numbers";
import { searchWithScope } from "../../lib/scope";
import { divides } from "../../lib/split";
import { term } from "../../lib/terms";
import { Button, Empty, Failure, Waiting } from "../../parts/controls";
import { Told } from "../../parts/told";
import { About } from "../../shell/about";
import { useEvidence } from "../../shell/evidence";
import { Across } from "./across";
import { useWidth } from "./dots";
import { Enlarged } from "./enlarged";
import { Foot } from "./foot";
import { CompareHead } from "./head";
import { apartFrom, type Box } from "./labels";
import { Statements } from "./statements";
import { CodeTopic } from "./topiccode";
import { useGroups } from "./usegroups";
import { Sentence, Word } from "./word";

const HEIGHT = 520;

/** Words that stand together as a network, its topics and the gaps between them. */
export function NetworkView() {
  const texts = useSummary().data?.texts;
  if (texts === undefined) return <Waiting what="Opening" />;
  if (!texts)
    return <Empty title="No words yet">Import texts first; then their words are tied together here.</Empty>;
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
          Words are tied where they stand in the same sentence more often than by chance. Words tied to each
          other form topics; a topic opens the passages with two of its words. It is a map to read by, not a
          count to report.
        </About>
      </CompareHead>
      <div className="border-b border-line2 bg-sheet px-4 py-3">
        <Sentence label="Which words, tied how">
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
          tied by the same
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
  const title = asked.group ? `Words and topics of ${asked.group}` : "Words and topics";
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

function Picture({
  answer,
  chosen,
  onChoose,
  onLeave,
}: {
  answer: NetworkAnswer;
  chosen: number | null;
  onChoose: (topic: number | null) => void;
  onLeave: (word: string) => void;
}) {
  const [holder, width] = useWidth();
  const pad = 46;
  const x = (at: number) => pad + answer.words[at]!.x * (width - 2 * pad);
  const y = (at: number) => 24 + answer.words[at]!.y * (HEIGHT - 48);
  const most = Math.max(...answer.words.map((word) => word.texts), 1);
  const size = (at: number) => 10.5 + Math.sqrt(answer.words[at]!.texts / most) * 7.5;
  const heavy = Math.max(...answer.ties.map((tie) => tie.weight), 1e-9);
  const faint = (topic: number) => (chosen !== null && topic !== chosen ? 0.25 : 1);
  const named = useMemo(() => apart(answer, width), [answer, width]);
  const show = useTopic(answer);
  return (
    <div ref={holder}>
      <svg
        data-figure
        width={width}
        height={HEIGHT}
        role="group"
        aria-label="Network of words"
        className="block rounded-md border border-line bg-sheet"
        fontFamily="var(--font-sans)"
      >
        {answer.ties.map((tie) => {
          const [a, b] = [answer.words[tie.first]!, answer.words[tie.second]!];
          const same = a.topic === b.topic && a.topic >= 0;
          return (
            <line
              key={`${tie.first}.${tie.second}`}
              x1={x(tie.first)}
              y1={y(tie.first)}
              x2={x(tie.second)}
              y2={y(tie.second)}
              stroke={same ? `var(--c${a.topic % 10})` : "var(--line2)"}
              strokeWidth={0.6 + (tie.weight / heavy) * 2}
              opacity={0.5 * Math.min(faint(a.topic), faint(b.topic))}
            />
          );
        })}
        {answer.words.map((word, at) => {
          const said = `${word.name}: ${plural(word.texts, "text")}${word.topic >= 0 ? `, topic ${answer.topics[word.topic]!.name}` : ""}`;
          const colour = word.topic >= 0 ? `var(--c${word.topic % 10})` : "var(--ink3)";
          const act = () => onChoose(word.topic >= 0 && word.topic !== chosen ? word.topic : null);
          return (
            <g
              key={word.name}
              role="button"
              tabIndex={0}
              aria-label={said}
              opacity={faint(word.topic)}
              className="cursor-pointer outline-none focus-visible:underline"
              onClick={act}
              onDoubleClick={() => word.topic >= 0 && show(word.topic)}
              onKeyDown={(event) => {
                if (event.key === "Enter" || event.key === " ") {
                  event.preventDefault();
                  act();
                } else if (event.key === "Delete") onLeave(word.name);
              }}
              onContextMenu={(event) => {
                event.preventDefault();
                onLeave(word.name);
              }}
            >
              <title>{`${said}. Right click or Delete leaves it out.`}</title>
              <circle cx={x(at)} cy={y(at)} r={2.5 + Math.sqrt(word.texts / most) * 5} fill={colour} />
              {(named.has(at) || (chosen !== null && word.topic === chosen)) && (
                <text
                  x={x(at)}
                  y={y(at) - 6 - Math.sqrt(word.texts / most) * 4}
                  textAnchor="middle"
                  fontSize={size(at)}
                  fontWeight={word.betweenness > 0.1 ? 700 : 500}
                  fill="var(--ink)"
                  stroke="var(--sheet)"
                  strokeWidth={3}
                  paintOrder="stroke"
                >
                  {word.name}
                </text>
              )}
            </g>
          );
        })}
      </svg>
      <p className="mt-1.5 text-ink2">
        The larger, the more texts. A click shows one topic; a right click (or Delete) leaves a word out and
        computes again. Words in bold lie on most ways from word to word.
      </p>
    </div>
  );
}

/** Words whose names do not lie over a more frequent one. */
function apart(answer: NetworkAnswer, width: number): Set<number> {
  const order = answer.words
    .map((_, at) => at)
    .sort((a, b) => answer.words[b]!.texts - answer.words[a]!.texts);
  const boxes: Box[] = [];
  const out = new Set<number>();
  for (const at of order) {
    const word = answer.words[at]!;
    const [cx, cy] = [word.x * (width - 92), word.y * (HEIGHT - 48)];
    const half = word.name.length * 3.9;
    const box: Box = [cx - half, cy - 19, cx + half, cy - 3];
    if (!apartFrom(box, boxes)) continue;
    boxes.push(box);
    out.add(at);
  }
  return out;
}

function wordsOf(answer: NetworkAnswer, topic: number): string[] {
  return answer.topics[topic]!.words.map((at) => answer.words[at]!.name);
}

/** Opens the passages with two words of a topic. */
function useTopic(answer: NetworkAnswer) {
  const { show } = useEvidence();
  return (topic: number) => {
    const words = wordsOf(answer, topic);
    show({
      title: `Topic ${answer.topics[topic]!.name}`,
      colour: topic,
      comparison: ofTerms(
        words.map((word) => term(word)),
        answer.asked.scope ?? [],
      ),
      topic: { asked: answer.asked, words },
    });
  };
}

function Topics({
  answer,
  asked,
  chosen,
  onChoose,
  small,
}: {
  answer: NetworkAnswer;
  asked: Asked;
  chosen: number | null;
  onChoose: (topic: number | null) => void;
  small: boolean;
}) {
  const show = useTopic(answer);
  const project = useProjectId();
  const navigate = useNavigate();
  const { scope } = useScope();
  const writes = useSummary().data?.role !== "reader";
  const [coding, setCoding] = useState<number | null>(null);
  if (!answer.topics.length) return null;
  const narrow = (topic: number) => {
    const terms = wordsOf(answer, topic).slice(0, 200);
    const next = searchWithScope(new URLSearchParams(window.location.search), [
      ...scope,
      { kind: "terms", terms, exclude: false },
    ]);
    void navigate({ search: `?${next}` });
  };
  const compare = () => {
    const categories = answer.topics.map((topic, at) => ({
      path: [topic.name],
      terms: wordsOf(answer, at).map((word) => term(word)),
      description: "",
      colour: at % 10,
    }));
    const target = { kind: "given", name: "Topics", categories };
    void navigate(
      `/projects/${project}/compare?compare=${encodeURIComponent(JSON.stringify({ target, measure: "rate" }))}`,
    );
  };
  const head = "border-b border-line2 px-2 py-1.5 text-right font-semibold text-ink2";
  return (
    <div className="mt-3">
      <div className="mb-1 flex items-baseline gap-3">
        <h2 className="font-[650]">Topics</h2>
        <Button look="ghost" onClick={compare}>
          Compare them across groups
        </Button>
      </div>
      <div
        className="overflow-auto rounded-md border border-line bg-sheet"
        role="region"
        tabIndex={0}
        aria-label="Topics"
      >
        <table className="w-full">
          <thead>
            <tr>
              <th className={`${head} text-left!`}>Topic</th>
              {!small && <th className={`${head} text-left!`}>Words</th>}
              <th className={head}>{asked.within === "paragraph" ? "Paragraphs" : "Sentences"}</th>
              <th className={head}>Texts</th>
              <th className={head} title="The part of its ties that stays inside">
                Inside
              </th>
              <th className={head} />
            </tr>
          </thead>
          <tbody>
            {answer.topics.map((topic, at) => (
              <tr
                key={topic.name}
                className={`h-[30px] border-b border-line last:border-0 ${chosen === at ? "bg-tint" : ""}`}
              >
                <td className="px-2 whitespace-nowrap">
                  <button
                    type="button"
                    className="font-semibold hover:underline"
                    onClick={() => onChoose(chosen === at ? null : at)}
                  >
                    <span
                      aria-hidden
                      className="mr-[7px] inline-block h-[9px] w-[9px] rounded-[2px]"
                      style={{ background: `var(--c${at % 10})` }}
                    />
                    {topic.name}
                  </button>
                </td>
                {!small && (
                  <td
                    className="max-w-[340px] truncate px-2 text-ink2"
                    title={wordsOf(answer, at).join(", ")}
                  >
                    {wordsOf(answer, at).slice(3).join(", ")}
                  </td>
                )}
                <td className="px-2 text-right">
                  <button
                    type="button"
                    aria-label={`Passages of topic ${topic.name}: ${whole(topic.units)}`}
                    onClick={() => show(at)}
                    className="hover:underline"
                  >
                    {whole(topic.units)}
                  </button>
                </td>
                <td className="px-2 text-right">{whole(topic.texts)}</td>
                <td className="px-2 text-right">{percent(topic.inside)}</td>
                <td className="px-2 text-right whitespace-nowrap">
                  <Button
                    look="ghost"
                    onClick={() => narrow(at)}
                    title="Look only at texts with one of its words"
                  >
                    Narrow
                  </Button>
                  {writes && (
                    <Button look="ghost" onClick={() => setCoding(at)}>
                      Name and code
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {coding !== null && answer.topics[coding] && (
        <CodeTopic
          name={answer.topics[coding]!.name}
          words={wordsOf(answer, coding)}
          within={asked.within ?? "sentence"}
          onClose={() => setCoding(null)}
        />
      )}
    </div>
  );
}

function Gaps({ answer }: { answer: NetworkAnswer }) {
  return (
    <div className="mt-3">
      <h2 className="mb-1 font-[650]">Gaps between topics</h2>
      <ul className="grid gap-1">
        {answer.gaps.map((gap) => (
          <li key={`${gap.first}.${gap.second}`}>
            <b>{answer.topics[gap.first]!.name}</b> and <b>{answer.topics[gap.second]!.name}</b>:{" "}
            {gap.ratio ? `${three(gap.ratio)} of the tie their sizes would give` : "no tie at all"}
            {gap.bridges.length > 0 && (
              <span className="text-ink2">; with both goes {gap.bridges.join(", ")}</span>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
