import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Link, useLocation } from "react-router";
import { api, data, type Schema } from "../api/client";
import { date, percent, plural } from "../lib/numbers";
import { stretches } from "../lib/offsets";
import { Button, Failure, Kbd, Swatch, Waiting } from "../parts/controls";
import { useToast } from "../parts/toast";
import { useProjectId } from "./project";

/** A sample to be judged: of which category, and how to name it. */
export interface JudgingOf {
  dictionary_id: number;
  category_id: number;
  sample_id: number;
  title: string;
  colour: number;
}

type Item = Schema["SampleItem"];
const namesOf = (kind: string) => (kind === "hit" ? ["fits", "does not"] : ["missed", "rightly none"]);
const keyOf = (item: Item) => `${item.text_id}.${item.start}.${item.end}`;

/** Judge one hit after the other: F fits, X does not, U takes a verdict back, arrows go to and fro. */
export function JudgePanel({ what, onClose }: { what: JudgingOf; onClose: () => void }) {
  const project_id = useProjectId();
  const client = useQueryClient();
  const { fail } = useToast();
  const path = { project_id, dictionary_id: what.dictionary_id };
  const queryKey = useMemo(() => ["judging", project_id, what.sample_id], [project_id, what.sample_id]);
  const found = useQuery({ queryKey, queryFn: () => data(api.GET("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/samples/{sample_id}", { params: { path: { ...path, sample_id: what.sample_id } } })), staleTime: 0 });
  const [at, setAt] = useState<number | null>(null);
  const items = useMemo(() => found.data?.items ?? [], [found.data]);
  const kind = found.data?.sample.kind ?? "hit";
  const mine = (item: Item) => item.verdicts.find((one) => one.mine)?.verdict ?? null;
  const open = items.findIndex((item) => item.passage !== null && mine(item) === null);
  const here = at ?? (open >= 0 ? open : 0);
  const current = items[here];
  const term = found.data?.sample.term ?? "";
  const sent = useRef<Promise<void>>(Promise.resolve());
  const judge = useCallback(
    (item: Item, verdict: 0 | 1 | null) => {
      const verdicts = [...item.verdicts.filter((one) => !one.mine), ...(verdict === null ? [] : [{ by: "", mine: true, verdict, version: 0, made_at: new Date().toISOString() }])];
      client.setQueryData<Schema["SampleItems"]>(queryKey, (now) => now && { ...now, items: now.items.map((one) => (keyOf(one) === keyOf(item) ? { ...one, verdicts } : one)) });
      // shown at once, sent in the order of the keys
      const path = { project_id, dictionary_id: what.dictionary_id, category_id: what.category_id };
      const body = { kind, text_id: item.text_id, start: item.start, end: item.end, verdict, term };
      const send = async () => {
        try {
          await data(api.POST("/api/v1/projects/{project_id}/dictionaries/{dictionary_id}/categories/{category_id}/judge", { params: { path }, body }));
          // what a verdict changes, and nothing else: judging must keep up with the keys
          for (const part of ["quality", "samples", "summary"]) void client.invalidateQueries({ queryKey: ["project", project_id, part] });
        } catch (error) {
          fail(error);
          await client.invalidateQueries({ queryKey });
        }
      };
      sent.current = sent.current.then(send);
    },
    [client, queryKey, what.dictionary_id, what.category_id, project_id, kind, term, fail],
  );
  const decide = useCallback(
    (verdict: 0 | 1 | null) => {
      if (!current?.passage) return;
      judge(current, verdict);
      if (verdict !== null) setAt(Math.min(here + 1, items.length - 1));
    },
    [current, judge, here, items.length],
  );
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLElement && event.target.closest("input, textarea, select, [contenteditable]");
      if (typing || event.ctrlKey || event.metaKey || event.altKey || document.querySelector("[role=dialog]")) return;
      const key = event.key.toLowerCase();
      if (key === "f") decide(1);
      else if (key === "x") decide(0);
      else if (key === "u") decide(null);
      else if (event.key === "ArrowDown" || key === "j") setAt(Math.min(here + 1, items.length - 1));
      else if (event.key === "ArrowUp" || key === "k") setAt(Math.max(here - 1, 0));
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [decide, here, items.length]);
  const judged = items.filter((item) => mine(item) !== null).length;
  const right = items.filter((item) => mine(item) === 1).length;
  const [yes, no] = namesOf(kind);
  return (
    <aside aria-label="Judging" className="fade-in flex min-h-0 w-[372px] shrink-0 flex-col border-l border-line2 bg-sheet">
      <div className="border-b border-line px-3.5 py-3">
        <div className="flex items-baseline justify-between">
          <b className="text-[14px]">{kind === "hit" ? "Judge hits" : "Look for what is missed"}</b>
          <button type="button" aria-label="Close judging" onClick={onClose} className="px-1 text-[15px] leading-none text-ink2 hover:text-ink">×</button>
        </div>
        <div className="mb-1.5 text-ink2"><Swatch colour={what.colour} />{what.title}</div>
        <div className="flex flex-wrap items-center gap-x-2 text-ink2"><Kbd>F</Kbd> {yes} <Kbd>X</Kbd> {no} <Kbd>U</Kbd> take back <Kbd>↑</Kbd><Kbd>↓</Kbd> go</div>
        {found.data && <div className="mt-1 text-[11.5px] text-ink3">{plural(items.length, kind === "hit" ? "hit" : "text")} drawn {date(found.data.sample.made_at.slice(0, 10))} with seed {found.data.sample.seed}{kind === "hit" ? ", in equal numbers from each source" : ", each text equally likely"}; version {found.data.sample.version}</div>}
      </div>
      <div className="min-h-0 flex-1 overflow-auto">
        {found.isPending && <Waiting what="Opening the sample" />}
        {found.error && <div className="p-3"><Failure error={found.error} /></div>}
        {items.map((item, n) => <SampleRow key={`${n}.${keyOf(item)}`} item={item} kind={kind} here={n === here} verdict={mine(item)} onHere={() => setAt(n)} onJudge={(verdict) => { setAt(n); judge(item, verdict); }} />)}
      </div>
      <div className="border-t border-line2 bg-wash px-3.5 py-2" data-testid="judged">
        {judged} of {items.length} judged{judged > 0 && (kind === "hit" ? <>: {right} right, <b>{percent(right / judged)}</b></> : <>: {right} should have had a hit</>)}
        {judged === items.length && items.length > 0 && <span className="text-ink2">. All done; the numbers stand in the table.</span>}
      </div>
    </aside>
  );
}

function SampleRow({ item, kind, here, verdict, onHere, onJudge }: { item: Item; kind: string; here: boolean; verdict: number | null; onHere: () => void; onJudge: (verdict: 0 | 1 | null) => void }) {
  const project_id = useProjectId();
  const { search } = useLocation();
  const row = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (here) row.current?.scrollIntoView({ block: "nearest" });
  }, [here]);
  const passage = item.passage;
  if (!passage) return <div className="border-b border-line px-3.5 py-2 text-ink3">These words are no longer in the text.</div>;
  const kept = item.verdicts.filter((one) => one.version > 0); // those just given have none yet
  const [yes, no] = namesOf(kind);
  const said = verdict === null ? "?" : kind === "hit" ? (verdict ? "fits" : "no") : verdict ? "missed" : "none";
  const look = verdict === null ? "text-ink3" : (verdict === 1) === (kind === "hit") ? "text-bottle" : "text-rust";
  return (
    <div ref={row} aria-current={here} onClick={onHere} className={`border-b border-line px-3.5 py-2 ${here ? "border-l-[3px] border-l-bottle bg-tint pl-[11px]" : "cursor-pointer hover:bg-wash"}`}>
      <div className="mb-0.5 flex justify-between gap-3 text-[11.5px] text-ink2">
        <span className="truncate">{[passage.source ?? "No source", date(passage.date)].filter(Boolean).join(", ")}</span>
        <b className={look}>{said}</b>
      </div>
      {kind === "text" && <div className="mb-0.5 font-semibold">{passage.title}</div>}
      <div className="font-serif text-[14px] leading-[1.42]">
        {stretches(passage.text, passage.marks).map((part, at) => (part.marked ? <mark key={at}>{part.text}</mark> : <span key={at}>{part.text}</span>))}
        {kind === "text" && passage.after && "…"}
      </div>
      {here && kept.length > 0 && <div className="mt-1 text-[11.5px] text-ink2">{kept.map((one) => `${one.mine ? "You" : one.by}: ${one.verdict ? yes : no}, ${date(one.made_at.slice(0, 10))}, version ${one.version}`).join("; ")}</div>}
      {here && (
        <div className="mt-1.5 flex flex-wrap gap-1.5">
          <Button look={verdict === 1 ? "main" : "plain"} onClick={() => onJudge(1)}>{kind === "hit" ? "Fits" : "Missed"}</Button>
          <Button look={verdict === 0 ? "main" : "plain"} onClick={() => onJudge(0)}>{kind === "hit" ? "Does not" : "Rightly none"}</Button>
          {verdict !== null && <Button look="ghost" onClick={() => onJudge(null)}>Take back</Button>}
          <Link to={{ pathname: `/projects/${project_id}/corpus/${item.text_id}`, search: readAt(search, passage.paragraph) }} className="ml-auto self-center font-semibold text-bottle hover:underline">Read on</Link>
        </div>
      )}
    </div>
  );
}

function readAt(search: string, paragraph: number): string {
  const next = new URLSearchParams(search);
  next.set("paragraph", String(paragraph));
  return `?${next}`;
}
