import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef } from "react";
import { Link, useLocation } from "react-router";
import { api, data, type Schema } from "../api/client";
import { stale } from "../data/keys";
import { useProjectId } from "../data/project";
import { date } from "../lib/numbers";
import { Button } from "../parts/controls";
import { Marked } from "../parts/marked";
import { useToast } from "../parts/toast";

/** What is judged, by its kind and id, and how to name it. */
export interface Judged {
  subject: "category";
  subject_id: number;
  title: string;
  colour: number;
}

export type Item = Schema["SampleItem"];
export type Verdict = 0 | 1 | null;
export const namesOf = (kind: string) =>
  kind === "hit" ? ["fits", "does not"] : ["missed", "correctly without"];
export const keyOf = (item: Item) => `${item.text_id}.${item.start}.${item.end}`;
export const mine = (item: Item) => item.verdicts.find((one) => one.mine)?.verdict ?? null;

/** Give a verdict: shown at once through ``change``, sent in the order of the keys; what fails is told and read again. */
export function useJudge(
  what: Judged,
  kind: "hit" | "text",
  term: string,
  show: (change: (item: Item) => Item) => void,
  again: () => Promise<unknown>,
) {
  const project_id = useProjectId();
  const client = useQueryClient();
  const { fail } = useToast();
  const sent = useRef<Promise<void>>(Promise.resolve());
  return (item: Item, verdict: Verdict) => {
    const verdicts = [
      ...item.verdicts.filter((one) => !one.mine),
      ...(verdict === null
        ? []
        : [{ by: "", mine: true, verdict, version: 0, made_at: new Date().toISOString() }]),
    ];
    show((one) => (keyOf(one) === keyOf(item) ? { ...one, verdicts } : one));
    const path = { project_id, subject: what.subject, subject_id: what.subject_id };
    const body = { kind, text_id: item.text_id, start: item.start, end: item.end, verdict, found_by: term };
    const send = async () => {
      try {
        await data(
          api.POST("/api/v1/projects/{project_id}/review/{subject}/{subject_id}/judge", {
            params: { path },
            body,
          }),
        );
        // what a verdict changes, and nothing else: judging must keep up with the keys
        for (const queryKey of stale(project_id, "verdicts")) void client.invalidateQueries({ queryKey });
      } catch (error) {
        fail(error);
        await again();
      }
    };
    sent.current = sent.current.then(send);
  };
}

/** F, X and U judge, arrows or J and K go to and fro; not while something is typed or a dialog is open. */
export function useJudgeKeys(decide: (verdict: Verdict) => void, move: (by: number) => void) {
  const onKey = useCallback(
    (event: KeyboardEvent) => {
      const typing =
        event.target instanceof HTMLElement &&
        event.target.closest("input, textarea, select, [contenteditable]");
      if (typing || event.ctrlKey || event.metaKey || event.altKey || document.querySelector("[role=dialog]"))
        return;
      const key = event.key.toLowerCase();
      if (key === "f") decide(1);
      else if (key === "x") decide(0);
      else if (key === "u") decide(null);
      else if (event.key === "ArrowDown" || key === "j") move(1);
      else if (event.key === "ArrowUp" || key === "k") move(-1);
      else return;
      event.preventDefault();
    },
    [decide, move],
  );
  useEffect(() => {
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [onKey]);
}

/** One hit or text, with what was said of it (of the chosen one, or ``always``); the chosen one can be judged. */
export function SampleRow({
  item,
  kind,
  here,
  verdict,
  always = false,
  onHere,
  onJudge,
}: {
  item: Item;
  kind: string;
  here: boolean;
  verdict: number | null;
  always?: boolean;
  onHere: () => void;
  onJudge: ((verdict: Verdict) => void) | null;
}) {
  const project_id = useProjectId();
  const { search } = useLocation();
  const row = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (here) row.current?.scrollIntoView({ block: "nearest" });
  }, [here]);
  const passage = item.passage;
  if (!passage)
    return (
      <div className="border-b border-line px-3.5 py-2 text-ink3">These words are no longer in the text.</div>
    );
  const kept = item.verdicts.filter((one) => one.version > 0); // those just given have none yet
  const [yes, no] = namesOf(kind);
  const said =
    verdict === null ? "?" : kind === "hit" ? (verdict ? "fits" : "no") : verdict ? "missed" : "none";
  const look =
    verdict === null ? "text-ink3" : (verdict === 1) === (kind === "hit") ? "text-bottle" : "text-rust";
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: what lies in it is reached by keys; it hears what comes up from there
    // biome-ignore lint/a11y/useKeyWithClickEvents: its keys are those of the list that holds it
    <div
      ref={row}
      aria-current={here}
      onClick={onHere}
      className={`border-b border-line px-3.5 py-2 ${here ? "border-l-[3px] border-l-bottle bg-tint pl-[11px]" : "cursor-pointer hover:bg-wash"}`}
    >
      <div className="mb-0.5 flex justify-between gap-3 text-[11.5px] text-ink2">
        <span className="truncate">
          {[passage.source ?? "No source", date(passage.date)].filter(Boolean).join(", ")}
        </span>
        <b className={look}>{said}</b>
      </div>
      {kind === "text" && <div className="mb-0.5 font-semibold">{passage.title}</div>}
      <div className="font-serif text-[14px] leading-[1.42]">
        <Marked text={passage.text} marks={passage.marks} />
        {kind === "text" && passage.after && "…"}
      </div>
      {(here || always) && kept.length > 0 && (
        <div className="mt-1 text-[11.5px] text-ink2">
          {kept
            .map(
              (one) =>
                `${one.mine ? "You" : one.by}: ${one.verdict ? yes : no}, ${date(one.made_at.slice(0, 10))}, version ${one.version}`,
            )
            .join("; ")}
        </div>
      )}
      {here && (
        <div className="mt-1.5 flex flex-wrap gap-1.5">
          {onJudge && (
            <>
              <Button look={verdict === 1 ? "main" : "plain"} onClick={() => onJudge(1)}>
                {kind === "hit" ? "Fits" : "Missed"}
              </Button>
              <Button look={verdict === 0 ? "main" : "plain"} onClick={() => onJudge(0)}>
                {kind === "hit" ? "Does not" : "Correctly without"}
              </Button>
              {verdict !== null && (
                <Button look="ghost" onClick={() => onJudge(null)}>
                  Take back
                </Button>
              )}
            </>
          )}
          <Link
            to={{
              pathname: `/projects/${project_id}/corpus/${item.text_id}`,
              search: readAt(search, passage.paragraph),
            }}
            className="ml-auto self-center font-semibold text-bottle hover:underline"
          >
            Read on
          </Link>
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
