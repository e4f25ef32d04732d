import { useQuery } from "@tanstack/react-query";
import { Link, useLocation } from "react-router";
import { api, data, type Schema } from "../../api/client";
import type { Code } from "../../data/coding";
import { keys } from "../../data/keys";
import { useProjectId, useScope, useSummary } from "../../data/project";
import { date } from "../../lib/numbers";
import { Sign } from "./panel";

export type Question = Pick<Schema["PassagesRequest"], "codes" | "coders" | "strength" | "beside">;
export type Found = Schema["FoundPassage"];
export const PAGE = 60;

/** A page of the passages a question asks for in the scope. */
export function useFound(question: Question, start: number) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const revision = useSummary().data?.revision;
  return useQuery({
    queryKey: keys.of(project_id, "found passages", scope, revision, question, start),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/passages/find", {
          params: { path: { project_id } },
          body: { ...question, scope: [...scope], start, most: PAGE } as Schema["PassagesRequest"],
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
  onTick,
}: {
  one: Found;
  code: Code | undefined;
  ticked?: boolean;
  onTick?: () => void;
}) {
  const project_id = useProjectId();
  const { search } = useLocation();
  const to = new URLSearchParams(search);
  to.set("paragraph", String(one.paragraph));
  return (
    <li
      className={`grid ${onTick ? "grid-cols-[16px_150px_1fr_170px]" : "grid-cols-[150px_1fr_170px]"} items-start gap-3 border-b border-line px-3 py-2`}
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
      <p className="min-w-0 font-serif text-[15px] leading-[1.5]">
        <span className="text-ink3">{wordsBefore(one.before)}</span>
        <mark className="whitespace-pre-line">{one.text}</mark>
        <span className="text-ink3">{wordsAfter(one.after)}</span>
      </p>
      <Link
        to={`/projects/${project_id}/coding/read/${one.text_id}?${to}`}
        className="min-w-0 hover:underline"
        title="Read it where it stands"
      >
        <span className="block truncate font-semibold text-bottle">{one.title}</span>
        <span className="block truncate text-[11.5px] text-ink2">
          {[one.source, date(one.date), `¶${one.paragraph}`].filter(Boolean).join(", ")}
        </span>
      </Link>
    </li>
  );
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
