import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useLocation } from "react-router";
import { api, type Condition, data, type Schema } from "../../api/client";
import type { Code } from "../../data/coding";
import { keys } from "../../data/keys";
import { useProjectId, useScope, useSummary } from "../../data/project";
import { shortOrigin } from "../../lib/origin";
import { Sign } from "./panel";
import type { Question } from "./question";

export type Found = Schema["FoundPassage"];
export const PAGE = 60;

/** A page of the passages a question asks for in the scope. */
export function useFound(question: Question, start: number, more: readonly Condition[] = []) {
  const project_id = useProjectId();
  const { scope: wide } = useScope();
  const scope = [...wide, ...more];
  const revision = useSummary().data?.revision;
  return useQuery({
    queryKey: keys.of(project_id, "found passages", scope, revision, question, start),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/passages/find", {
          params: { path: { project_id } },
          body: { ...question, scope, start, most: PAGE },
        }),
      ),
    placeholderData: (before) => before,
  });
}

/** A passage with its words around it and where it is from; its place in the text is one click away. */
export function FoundRow({
  one,
  code,
  ticked,
  narrow = false,
  onTick,
}: {
  one: Found;
  code: Code | undefined;
  ticked?: boolean;
  /** Where two lists share the width: where it is from stands under the words. */
  narrow?: boolean;
  onTick?: () => void;
}) {
  const project_id = useProjectId();
  const { search } = useLocation();
  const to = new URLSearchParams(search);
  to.set("paragraph", String(one.paragraph));
  return (
    <li
      className={`group grid ${narrow ? "grid-cols-1" : onTick ? "grid-cols-[16px_150px_1fr_170px]" : "grid-cols-[150px_1fr_170px]"} items-start gap-3 border-b border-line px-3 py-2`}
      data-testid="found"
    >
      {onTick && (
        <input
          type="checkbox"
          aria-label={`Choose “${one.text.slice(0, 40)}”`}
          checked={ticked ?? false}
          onChange={onTick}
          className="mt-1"
        />
      )}
      <div className="min-w-0">
        <div className="flex items-baseline">
          {code && <Sign code={code} />}
          <b className="truncate font-semibold">{code?.name}</b>
        </div>
        <div className="truncate text-[11.5px] text-ink2">
          {one.mine ? "you" : one.coder}
          {one.strength ? `, strength ${one.strength}` : ""}
        </div>
        {one.comment && <div className="text-[11.5px] text-ink2">{one.comment}</div>}
      </div>
      <Words one={one} />
      <Link
        to={`/projects/${project_id}/coding/read/${one.text_id}?${to}`}
        className="min-w-0 hover:underline"
        title="Read it in its text"
      >
        <span className="block truncate font-semibold text-bottle">{one.title}</span>
        <span className="block truncate text-[11.5px] text-ink2">{shortOrigin(one)}</span>
      </Link>
    </li>
  );
}

type Width = Schema["WidenRequest"]["to"];
const WIDER: readonly { from: Width | ""; to: Width; label: string }[] = [
  { from: "", to: "sentence", label: "whole sentence" },
  { from: "sentence", to: "paragraph", label: "whole paragraph" },
  { from: "paragraph", to: "text", label: "whole text" },
];

/** The words of a passage with some around it; wider where it is asked for, in place. */
function Words({ one }: { one: Found }) {
  const project_id = useProjectId();
  const [to, setTo] = useState<Width | "">("");
  const wide = useQuery({
    queryKey: keys.of(project_id, "widen", "passage", one.id, one.start, one.end, to),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/widen", {
          params: { path: { project_id } },
          body: { text_id: one.text_id, start: one.start, end: one.end, to: to || "sentence" },
        }),
      ),
    enabled: to !== "",
    placeholderData: (before) => before,
  });
  const next = WIDER.find((step) => step.from === to);
  const found = to && wide.data ? parts(wide.data, [...one.text].length) : null;
  return (
    <div className="min-w-0">
      <p className="font-serif text-[15px] leading-[1.5]">
        <span className={found ? "whitespace-pre-line" : "text-ink3"}>
          {found ? found[0] : wordsBefore(one.before)}
        </span>
        <mark className="whitespace-pre-line">{found ? found[1] : one.text}</mark>
        <span className={found ? "whitespace-pre-line" : "text-ink3"}>
          {found ? found[2] : wordsAfter(one.after)}
        </span>
      </p>
      <span
        className={`flex gap-3 text-[11.5px] text-ink2 ${to ? "" : "opacity-0 focus-within:opacity-100 group-hover:opacity-100"}`}
      >
        {next && !(found && wide.data?.whole) && (
          <button type="button" onClick={() => setTo(next.to)} className="hover:text-bottle">
            {next.label}
          </button>
        )}
        {to && (
          <button type="button" onClick={() => setTo("")} className="hover:text-bottle">
            only the passage
          </button>
        )}
      </span>
    </div>
  );
}

/** What stands before, in and after the passage; a passage may be longer than what it was widened to. */
function parts(wide: Schema["Widened"], length: number): [string, string, string] {
  const signs = [...wide.text];
  const start = Math.max(0, wide.mark_start);
  const end = Math.min(signs.length, start + length);
  return [signs.slice(0, start).join(""), signs.slice(start, end).join(""), signs.slice(end).join("")];
}

const AROUND = 70;

/** Whole words up to a passage. */
export function wordsBefore(before: string): string {
  const some = before.slice(-AROUND);
  return some.length < before.length ? `… ${some.replace(/^\S*\s+/, "")}` : some;
}

/** Whole words from a passage on. */
export function wordsAfter(after: string): string {
  const some = after.slice(0, AROUND);
  return some.length < after.length ? `${some.replace(/\s+\S*$/, "")} …` : some;
}
