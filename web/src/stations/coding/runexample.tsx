import { useEffect, useState } from "react";
import type { Schema } from "../../api/client";
import { type Learned, useAnswer, useLearned } from "../../data/learning";
import type { Recipe, RunItem } from "../../data/runs";
import { percent, plural, whole } from "../../lib/numbers";
import { useSettled } from "../../lib/settled";
import { Button, Empty, Failure, Input, Select, Waiting } from "../../parts/controls";
import { RunCurve } from "./runcurve";
import { type Draft, lessonOf } from "./rundraft";
import { Origin } from "./runpreview";
import { RunWords } from "./runwords";

const MOST_SHOWN = 18;

/** A code that is learned from what was coded by hand: how good it is, what tells it, and what to look at next. */
export function RunExample({
  draft,
  scope,
  onChange,
}: {
  draft: Draft;
  scope: NonNullable<Recipe["scope"]>;
  onChange: (part: Partial<Draft>) => void;
}) {
  const [seed, setSeed] = useState(1);
  const wanted = useSettled(draft, 400);
  const lesson = lessonOf(wanted, scope);
  const found = useLearned(lesson, seed);
  const learned = found.data;
  const best = learned && !found.isPlaceholderData ? (learned.curve[learned.best]?.threshold ?? null) : null;
  const chosen = draft.threshold;
  // as long as nobody chose one, the best
  useEffect(() => {
    if (best !== null && chosen === null) onChange({ threshold: best });
  }, [best, chosen, onChange]);
  if (!draft.codes.length)
    return (
      <Empty title="What is it to learn?">
        Choose above the code whose passages are the examples. It learns from texts that people went through:
        what they coded, and what they did not.
      </Empty>
    );
  if (found.error)
    return (
      <div className="p-4">
        <Failure error={found.error} />
      </div>
    );
  if (!learned || !lesson) return <Waiting what="Learning from the examples" />;
  const at = learned.curve.findIndex((one) => one.threshold === chosen);
  const point = learned.curve[at < 0 ? learned.best : at];
  return (
    <section
      aria-label="What was learned"
      aria-busy={found.isFetching}
      className={`border-b border-line px-4 py-3 ${found.isPlaceholderData ? "opacity-60" : ""}`}
      data-testid="learned"
    >
      <div className="grid grid-cols-[minmax(300px,1fr)_minmax(260px,1fr)] gap-6">
        <RunCurve
          curve={learned.curve}
          at={at < 0 ? learned.best : at}
          onMove={(to) => onChange({ threshold: learned.curve[to]?.threshold ?? null })}
        />
        {point && <Figures learned={learned} point={point} onBest={() => onChange({ threshold: best })} />}
      </div>
      <TellingWords learned={learned} draft={draft} onChange={onChange} />
      <LookNext
        key={`${draft.codes.join()} ${seed}`}
        learned={learned}
        code={draft.codes[0]!}
        busy={found.isFetching}
        onAgain={() => (learned.next.length ? setSeed(seed + 1) : void found.refetch())}
      />
      <label className="mt-3 flex items-center gap-2">
        <input
          type="checkbox"
          checked={draft.alsoRead}
          onChange={() => onChange({ alsoRead: !draft.alsoRead })}
        />
        Code the texts that people went through as well, beside what they coded
      </label>
    </section>
  );
}

function Figures({
  learned,
  point,
  onBest,
}: {
  learned: Learned;
  point: Schema["CurvePoint"];
  onBest: () => void;
}) {
  const isBest = learned.curve[learned.best]?.threshold === point.threshold;
  // a threshold that was picked is told by texts that had no part in picking it
  const [precision, recall, f1] = isBest ? learned.chosen : [point.precision, point.recall, point.f1];
  const figure = (label: string, of: Schema["Measured"], told: string) => (
    <tr title={told}>
      <th scope="row" className="py-0.5 pr-4 text-left font-normal text-ink2">
        {label}
      </th>
      {!learned.few && <td className="pr-3 text-right font-semibold">{percent(of.value)}</td>}
      <td className={learned.few ? "font-semibold" : "text-ink2"}>
        {of.low === null ? "too few examples" : `${percent(of.low)} to ${percent(of.high)}`}
      </td>
    </tr>
  );
  // of a handful a share says nothing
  const sure = learned.bins.filter((one) => one.units >= 15);
  return (
    <div>
      <p>
        From <b>{point.threshold.toFixed(2)}</b> on: <b>{plural(point.found, "passage")}</b>
        {learned.scored < learned.of_units && ", about"}, in texts nobody went through.{" "}
        {!isBest && (
          <Button look="ghost" onClick={onBest}>
            Best threshold
          </Button>
        )}
      </p>
      <table className="mt-1" data-testid="learned-figures">
        <tbody>
          {figure("precision", precision!, "Of the passages it proposes, the share that is right")}
          {figure("recall", recall!, "Of the passages that belong to the code, the share it finds")}
          {figure("F1", f1!, "The harmonic mean of both")}
        </tbody>
      </table>
      <p className="mt-1.5 text-ink2">
        Learned from {plural(learned.right, "example")} and {whole(learned.wrong)} that people left, in{" "}
        {plural(learned.texts, "text")}
        {learned.used < learned.read && `, drawn from ${whole(learned.read)}`}; tested in {learned.folds}{" "}
        parts on texts it had not learned from
        {isBest && ", by thresholds chosen on other texts than they are tested on"}.
      </p>
      {learned.few && (
        <p className="mt-1 text-rust">
          Fewer than 50 examples, so only ranges are shown. Code more by hand to narrow them.
        </p>
      )}
      {sure.length > 1 && (
        <p className="mt-1 text-ink2" title="Can its probabilities be relied on?">
          Can its probabilities be believed? Where it said{" "}
          {sure
            .map((one) => `${Math.round(one.probability * 100)}%, ${Math.round(one.right * 100)}% were right`)
            .join("; where ")}
          .
        </p>
      )}
    </div>
  );
}

/** Words that speak for the code and against it; struck out and added by the analyst. */
function TellingWords({
  learned,
  draft,
  onChange,
}: {
  learned: Learned;
  draft: Draft;
  onChange: (part: Partial<Draft>) => void;
}) {
  const [word, setWord] = useState("");
  const [speaks, setSpeaks] = useState("for");
  const strike = (words: string) => {
    if (draft.added.some((one) => one.word === words))
      onChange({ added: draft.added.filter((one) => one.word !== words) });
    else if (!draft.struck.includes(words)) onChange({ struck: [...draft.struck, words] });
  };
  const add = () => {
    const plain = word.trim().toLowerCase();
    if (!plain) return;
    setWord("");
    onChange({
      added: [...draft.added.filter((one) => one.word !== plain), { word: plain, speaks: speaks === "for" }],
      struck: draft.struck.filter((one) => one !== plain),
    });
  };
  return (
    <div className="mt-3 grid grid-cols-2 gap-6">
      <Words title="Speaks for it" list={learned.speaks_for} gone={draft.struck} onStrike={strike} />
      <Words
        title="Speaks against it"
        list={learned.speaks_against}
        gone={draft.struck}
        onStrike={strike}
        against
      />
      <form
        className="col-span-2 flex flex-wrap items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          add();
        }}
      >
        <Input
          aria-label="A word to add"
          placeholder="a word to add"
          value={word}
          maxLength={120}
          onChange={(event) => setWord(event.target.value)}
          className="w-[150px]!"
        />
        <Select
          aria-label="What it speaks"
          value={speaks}
          choices={[
            { value: "for", label: "speaks for it" },
            { value: "against", label: "speaks against it" },
          ]}
          onChange={setSpeaks}
          className="w-auto!"
        />
        <Button type="submit" disabled={!word.trim()}>
          Add
        </Button>
        {draft.added.map((one) => (
          <Button
            key={one.word}
            look="ghost"
            title="Remove it"
            onClick={() => onChange({ added: draft.added.filter((other) => other.word !== one.word) })}
          >
            {one.word} {one.speaks ? "added for" : "added against"} ×
          </Button>
        ))}
        {draft.struck.map((one) => (
          <Button
            key={one}
            look="ghost"
            title="Count it again"
            onClick={() => onChange({ struck: draft.struck.filter((other) => other !== one) })}
          >
            <s>{one}</s> put back
          </Button>
        ))}
      </form>
    </div>
  );
}

function Words({
  title,
  list,
  gone,
  against = false,
  onStrike,
}: {
  title: string;
  list: readonly Schema["TellingWords"][];
  gone: readonly string[];
  against?: boolean;
  onStrike: (words: string) => void;
}) {
  const [all, setAll] = useState(false);
  const there = list.filter((one) => !gone.includes(one.words));
  const top = Math.max(...list.map((one) => Math.abs(one.weight)), 0.01);
  return (
    <fieldset aria-label={title}>
      <b className="text-ink2">{title}</b>
      <ul className="mt-1 flex flex-wrap gap-x-1.5 gap-y-1">
        {there.slice(0, all ? there.length : MOST_SHOWN).map((one) => (
          <li key={one.words}>
            <button
              type="button"
              title={`Strike out; weight ${one.weight.toFixed(2)}, in ${whole(one.right)} examples and ${whole(one.wrong)} others`}
              onClick={() => onStrike(one.words)}
              className="group relative overflow-hidden rounded-[4px] border border-line2 px-1.5 py-0.5 hover:line-through"
            >
              <span
                className={`absolute inset-y-0 left-0 ${against ? "bg-rust" : "bg-bottle"} opacity-15`}
                style={{ width: `${(Math.abs(one.weight) / top) * 100}%` }}
              />
              <span className="relative">{one.words}</span>
            </button>
          </li>
        ))}
      </ul>
      {there.length > MOST_SHOWN && (
        <Button look="ghost" className="mt-1" onClick={() => setAll(!all)}>
          {all ? "Fewer" : `${there.length - MOST_SHOWN} more`}
        </Button>
      )}
      {!there.length && <p className="mt-1 text-ink2">Nothing does.</p>}
    </fieldset>
  );
}

/** The passages whose answer would teach it most. */
function LookNext({
  learned,
  code,
  busy,
  onAgain,
}: {
  learned: Learned;
  code: number;
  busy: boolean;
  onAgain: () => void;
}) {
  const answer = useAnswer();
  const [said, setSaid] = useState<Readonly<Record<string, boolean>>>({});
  const keyOf = (one: RunItem) => `${one.text_id} ${one.mark_start} ${one.text}`;
  const say = (one: RunItem, right: boolean | null) => {
    const { [keyOf(one)]: _, ...others } = said;
    setSaid(right === null ? others : { ...others, [keyOf(one)]: right });
    answer.mutate(
      { code_id: code, text_id: one.text_id, start: one.start, end: one.end, right },
      { onError: () => setSaid(others) },
    );
  };
  const given = Object.keys(said).length;
  if (!learned.next.length) return null;
  return (
    <section aria-label="Look at these next" className="mt-4">
      <div className="mb-1 flex items-center gap-3">
        <b className="text-ink2">Look at these next: the least certain ones</b>
        <Button look={given ? "main" : "ghost"} disabled={busy} onClick={onAgain}>
          {given ? `Learn again, with ${plural(given, "answer")}` : "Others"}
        </Button>
      </div>
      <ul>
        {learned.next.map((one) => {
          const mine = said[keyOf(one)];
          return (
            <li
              key={keyOf(one)}
              className="grid grid-cols-[44px_1fr_150px_150px] items-start gap-3 border-t border-line py-1.5"
            >
              <span className="text-right text-ink2">{percent(one.score)}</span>
              <RunWords one={one} />
              <Origin one={one} />
              <span className="flex flex-wrap justify-end gap-1.5">
                {mine === undefined ? (
                  <>
                    <Button onClick={() => say(one, true)}>Fits</Button>
                    <Button onClick={() => say(one, false)}>Not</Button>
                  </>
                ) : (
                  <span className={mine ? "text-bottle" : "text-rust"}>
                    {mine ? "coded by hand" : "does not fit"}
                    {!mine && (
                      <Button look="ghost" onClick={() => say(one, null)}>
                        Undo
                      </Button>
                    )}
                  </span>
                )}
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
