import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { type Schema, saveFile } from "../../api/client";
import { useProjectId } from "../../data/project";
import {
  isScored,
  PAGE,
  type Run,
  type RunAsked,
  type RunItem,
  useRunChanges,
  useRunItems,
} from "../../data/runs";
import { plural, whole } from "../../lib/numbers";
import { Button, Empty, Failure, Input, Kbd, Menu, Select, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { Pages } from "./runresults";
import { RunRow } from "./runrow";

export type Given = Omit<Schema["RunJudge"], "passages">;

const SHOWS: { value: NonNullable<RunAsked["show"]>; label: string }[] = [
  { value: "open", label: "not judged yet" },
  { value: "all", label: "all" },
  { value: "right", label: "accepted" },
  { value: "wrong", label: "rejected" },
  { value: "differ", label: "judged differently" },
];
const ORDERS: { value: NonNullable<RunAsked["order"]>; label: string }[] = [
  { value: "text", label: "as the texts stand" },
  { value: "source", label: "source by source" },
  { value: "chance", label: "by chance, as a sample" },
  { value: "score", label: "strongest first" },
];
const FIRST: RunAsked = { show: "open", order: "text", target: null, text_id: null, seed: 1 };

/** Passages of a run one after the other, judged by keys. */
export function RunReview({ run, writes }: { run: Run; writes: boolean }) {
  const [asked, setAsked] = useState(FIRST);
  const [start, setStart] = useState(0);
  const [at, setAt] = useState(0);
  const [recoding, setRecoding] = useState(false);
  const [least, setLeast] = useState("1");
  const [leastScore, setLeastScore] = useState("0.5");
  const scored = isScored(run.recipe);
  const project_id = useProjectId();
  const { fail } = useToast();
  const found = useRunItems(run.id, asked, start);
  const client = useQueryClient();
  const { judge, judgeAll } = useRunChanges(run.id);
  const items = found.data?.items ?? [];
  const here = Math.min(at, Math.max(items.length - 1, 0));
  const list = useRef<HTMLUListElement>(null);
  const ask = (part: Partial<RunAsked>) => {
    setAsked({ ...asked, ...part });
    page(0);
  };
  const page = (to: number) => {
    setStart(Math.max(0, to));
    setAt(0);
  };
  const give = (one: RunItem, given: Given) => {
    setRecoding(false);
    // on the screen at once; it stays in its place until others are asked for
    client.setQueryData<Schema["RunItems"]>(found.key, (now) => now && withVerdict(now, one.id, given));
    judge.mutate(
      { verdict: null, code_id: null, widen: null, ...given, passages: [one.id] },
      { onError: () => void found.refetch() },
    );
  };
  const decide = (given: Given) => {
    const one = items[here];
    if (!one || !writes) return;
    give(one, given);
    if (given.verdict !== null || given.code_id || given.widen) setAt(Math.min(here + 1, items.length - 1));
  };
  useReviewKeys({
    decide,
    go: (by) => setAt(Math.max(0, Math.min(here + by, items.length - 1))),
    recode: () => items[here] && writes && setRecoding(true),
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: whenever another one is looked at
  useEffect(() => {
    list.current?.querySelector("[aria-current=true]")?.scrollIntoView({ block: "nearest" });
  }, [here, start]);
  const total = found.data?.total ?? 0;
  const left = items.filter((one) => (one.mine ?? null) === null).length;
  const all = (verdict: 0 | 1) =>
    judgeAll.mutate({
      ...asked,
      verdict,
      least_hits: scored ? 1 : Math.max(Number(least), 1),
      least_score: scored ? Math.min(Math.max(Number(leastScore.replace(",", ".")) || 0, 0), 1) : 0,
      start: 0,
      most: 1,
    });
  const save = (form: string) =>
    void saveFile(`/api/v1/projects/${project_id}/runs/${run.id}/export?form=${form}`, {
      ...asked,
      start: 0,
      most: 1,
    }).catch(fail);
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-2 gap-y-1.5 border-b border-line bg-sheet px-4 py-2">
        <Choices asked={asked} run={run} onAsk={ask} />
        <b data-testid="queue">{found.data ? plural(total, "passage") : ""}</b>
        <Menu
          trigger={<Button look="ghost">Export</Button>}
          items={[
            { label: "As .csv", onSelect: () => save("csv") },
            { label: "As .xlsx", onSelect: () => save("xlsx") },
          ]}
        />
        {writes && (
          <span className="ml-auto flex items-center gap-1.5 text-ink2">
            <Kbd>F</Kbd> fits <Kbd>X</Kbd> not <Kbd>O</Kbd> other <Kbd>S</Kbd>
            <Kbd>P</Kbd> wider <Kbd>U</Kbd> open
          </span>
        )}
      </div>
      <div className="min-h-0 flex-1 overflow-auto bg-sheet">
        {found.error && <Failure error={found.error} />}
        {found.isPending && <Waiting what="Opening the passages" />}
        {found.data && !items.length && (
          <Empty title={asked.show === "open" ? "Nothing left to judge" : "No such passage"}>
            {asked.show === "open"
              ? "Every passage of this run has a verdict; how good it is stands above."
              : "Choose others above."}
          </Empty>
        )}
        <ul ref={list} aria-label="Passages of the run">
          {items.map((one, n) => (
            <RunRow
              key={one.id}
              one={one}
              here={n === here}
              writes={writes}
              recoding={n === here && recoding}
              onHere={() => setAt(n)}
              onGive={(given) => give(one, given)}
              onRecoded={(code) =>
                code === null ? setRecoding(false) : decide({ verdict: null, code_id: code })
              }
            />
          ))}
        </ul>
        <div className="px-4">
          <Pages start={start} most={PAGE} total={total} onStart={page} />
        </div>
      </div>
      {writes && items.length > 0 && (
        <div className="flex items-center gap-3 border-t border-line2 bg-wash px-4 py-2 text-ink2">
          <span>{whole(left)} of this page not judged by you</span>
          {asked.show === "open" && left === 0 && (
            <Button look="main" onClick={() => void found.refetch().then(() => page(0))}>
              Next passages
            </Button>
          )}
          <span className="ml-auto flex items-center gap-2">
            All {whole(total)} asked for
            {asked.order === "score" && scored && (
              <>
                with a score of at least
                <Input
                  aria-label="With a score of at least"
                  inputMode="decimal"
                  title={
                    run.recipe.finder.kind === "tone"
                      ? "So far from 0 in either direction"
                      : "The probability it was given"
                  }
                  value={leastScore}
                  onChange={(event) => setLeastScore(event.target.value.replace(/[^\d.,]/g, "").slice(0, 5))}
                  className="w-[52px]!"
                />
              </>
            )}
            {asked.order === "score" && !scored && (
              <>
                with at least
                <Input
                  aria-label="Least number of hits"
                  inputMode="numeric"
                  value={least}
                  onChange={(event) => setLeast(event.target.value.replace(/\D/g, "").slice(0, 4))}
                  className="w-[44px]!"
                />
                hits
              </>
            )}
            <Button onClick={() => all(1)}>fit</Button>
            <Button onClick={() => all(0)}>do not</Button>
          </span>
        </div>
      )}
    </>
  );
}

/** Which passages are looked at, and in what order. */
function Choices({
  asked,
  run,
  onAsk,
}: {
  asked: RunAsked;
  run: Run;
  onAsk: (part: Partial<RunAsked>) => void;
}) {
  return (
    <>
      <Select
        aria-label="Which passages"
        value={asked.show ?? "open"}
        choices={SHOWS}
        onChange={(value) => onAsk({ show: value as NonNullable<RunAsked["show"]> })}
        className="w-auto!"
      />
      <Select
        aria-label="Of which code"
        value={String(asked.target ?? "")}
        choices={[
          { value: "", label: "of every code" },
          ...run.targets.map((one) => ({ value: String(one.number), label: one.name })),
        ]}
        onChange={(value) => onAsk({ target: value === "" ? null : Number(value) })}
        className="w-auto! max-w-[170px]"
      />
      <Select
        aria-label="Order"
        value={asked.order ?? "text"}
        choices={ORDERS}
        onChange={(value) => onAsk({ order: value as NonNullable<RunAsked["order"]> })}
        className="w-auto!"
      />
    </>
  );
}

/** A page of passages after a verdict on one of them. */
export function withVerdict(page: Schema["RunItems"], id: number, given: Given): Schema["RunItems"] {
  const verdict = given.code_id ? 0 : given.widen ? 1 : (given.verdict ?? null);
  const items = page.items.map((one) => (one.id === id ? { ...one, mine: verdict, verdict } : one));
  return { ...page, items };
}

/** Keys of judging: not while something is typed. */
function useReviewKeys(at: { decide: (given: Given) => void; go: (by: number) => void; recode: () => void }) {
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      const typing =
        event.target instanceof HTMLElement && event.target.closest("input, textarea, select, [role=menu]");
      if (typing || event.ctrlKey || event.metaKey || event.altKey || document.querySelector("[role=dialog]"))
        return;
      const acts: Record<string, () => void> = {
        f: () => at.decide({ verdict: 1 }),
        x: () => at.decide({ verdict: 0 }),
        u: () => at.decide({ verdict: null }),
        s: () => at.decide({ verdict: null, widen: "sentence" }),
        p: () => at.decide({ verdict: null, widen: "paragraph" }),
        o: at.recode,
        arrowdown: () => at.go(1),
        arrowup: () => at.go(-1),
      };
      const act = acts[event.key.toLowerCase()];
      if (!act) return;
      event.preventDefault();
      act();
    };
    window.addEventListener("keydown", down);
    return () => window.removeEventListener("keydown", down);
  });
}
