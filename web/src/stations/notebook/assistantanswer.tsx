import { useRef, useState } from "react";
import { Link, useLocation } from "react-router";
import { useFindings } from "../../data/answers";
import type { Cited, Reply, Task } from "../../data/assistant";
import { useTaking } from "../../data/assistant";
import { useProjectId } from "../../data/project";
import { plural } from "../../lib/numbers";
import { along } from "../../lib/scope";
import { Button, Menu } from "../../parts/controls";
import { Proposals } from "./assistantproposals";

/** What an answer is called when it is kept. */
export function titleOf(task: Task): string {
  if (task.task === "question") return task.words;
  if (task.task === "codings") return task.question;
  if (task.task === "viewpoints") return `${task.first} and ${task.second}`;
  return {
    summary: "Summary",
    themes: "Themes",
    "topic name": "Names",
    wordings: "Wordings",
    groups: "Groups",
  }[task.task];
}

/** Statements with the numbers of their passages, proposals to take, and the passages. */
export function Answer({ task, reply, writes }: { task: Task; reply: Reply; writes: boolean }) {
  const [shown, setShown] = useState<number | null>(null);
  const list = useRef<HTMLOListElement>(null);
  const show = (number: number) => {
    setShown(number);
    list.current
      ?.querySelector<HTMLElement>(`[data-passage="${number}"]`)
      ?.scrollIntoView({ block: "nearest" });
  };
  return (
    <div className="grid min-h-full grid-cols-[minmax(0,1fr)_minmax(280px,38%)]">
      <div className="min-w-0 px-7 py-5">
        <h1 className="text-[19px] font-[650]">{titleOf(task)}</h1>
        {!reply.tells && (
          <p className="mt-2 font-serif text-[16px]" role="status">
            The texts do not tell.
          </p>
        )}
        {reply.statements.length > 0 && (
          <ol className="mt-3" aria-label="Statements">
            {reply.statements.map((one, at) => (
              <li key={at} className="mb-3 font-serif text-[15.5px] leading-[1.5]">
                {one.words} <Numbers numbers={one.passages} shown={shown} onShow={show} />
              </li>
            ))}
          </ol>
        )}
        <Proposals
          task={task}
          reply={reply}
          writes={writes}
          numbers={(numbers) => <Numbers numbers={numbers} shown={shown} onShow={show} />}
        />
        {writes && reply.tells && <Keep task={task} reply={reply} />}
        {reply.refused.length > 0 && (
          <section className="mt-4" aria-label="Refused">
            <p className="font-semibold text-rust">
              {plural(reply.refused.length, "statement")} of {reply.by} did not hold and{" "}
              {reply.refused.length > 1 ? "are" : "is"} left out:
            </p>
            <ul className="text-ink2">
              {reply.refused.map((one, at) => (
                <li key={at} className="mt-1">
                  <s>{one.words}</s> {one.reason}
                </li>
              ))}
            </ul>
          </section>
        )}
        <p className="mt-5 border-t border-line pt-3 text-ink2">
          Answered by {reply.by}. {reply.how}
        </p>
      </div>
      <aside aria-label="Passages" className="border-l border-line2 bg-sheet px-4 py-4">
        <h2 className="mb-2 font-[650]">{plural(reply.passages.length, "passage")}</h2>
        <ol ref={list}>
          {reply.passages.map((one) => (
            <OnePassage key={one.number} one={one} shown={one.number === shown} />
          ))}
        </ol>
      </aside>
    </div>
  );
}

function Numbers({
  numbers,
  shown,
  onShow,
}: {
  numbers: readonly number[];
  shown: number | null;
  onShow: (number: number) => void;
}) {
  return (
    <span className="font-sans text-[12px]">
      {numbers.map((number) => (
        <button
          key={number}
          type="button"
          aria-label={`Passage ${number}`}
          onClick={() => onShow(number)}
          className={`mr-1 rounded px-1 font-semibold text-bottle hover:underline ${number === shown ? "bg-tint" : ""}`}
        >
          {number}
        </button>
      ))}
    </span>
  );
}

function OnePassage({ one, shown }: { one: Cited; shown: boolean }) {
  const project = useProjectId();
  const { search } = useLocation();
  return (
    <li
      data-passage={one.number}
      aria-current={shown}
      className={`mb-2.5 border-l-[3px] pl-2.5 ${shown ? "border-bottle bg-tint" : "border-straw"}`}
    >
      <p className="font-serif text-[14.5px] leading-[1.45]">
        <b className="mr-1 font-sans text-[12px]">{one.number}</b>
        {one.words}
      </p>
      <Link
        to={`/projects/${project}/coding/read/${one.text_id}${along(search, { paragraph: one.paragraph })}`}
        className="text-[11.5px] text-ink2 hover:underline"
      >
        {one.origin}
      </Link>
    </li>
  );
}

/** What of an answer is kept: statements, and proposals with what they rest on. */
const said = (reply: Reply) => [
  ...reply.statements,
  ...reply.proposals.map((one) => ({ words: `${one.words}: ${one.why}`, passages: one.passages })),
];

/** An answer as a note, on the project or on one of its questions. */
function Keep({ task, reply }: { task: Task; reply: Reply }) {
  const { keep } = useTaking();
  const questions = useFindings().data?.questions ?? [];
  const by = new Map(reply.passages.map((one) => [one.number, one]));
  const put = (question_id: number | null) =>
    keep.mutate({
      title: titleOf(task).slice(0, 200),
      statements: said(reply).map((one) => ({
        words: one.words,
        places: one.passages.flatMap((number) => {
          const place = by.get(number);
          return place ? [{ text_id: place.text_id, start: place.start, end: place.end }] : [];
        }),
      })),
      how: `Answered by ${reply.by}. ${reply.how}`,
      question_id,
    });
  if (keep.isSuccess) return <p role="status">Kept in the notes, with its passages.</p>;
  return questions.length ? (
    <Menu
      trigger={<Button disabled={keep.isPending}>Keep as a note ▾</Button>}
      items={[
        { label: "On the project", onSelect: () => put(null) },
        ...questions.map((one) => ({ label: `On “${one.words}”`, onSelect: () => put(one.id) })),
      ]}
    />
  ) : (
    <Button disabled={keep.isPending} onClick={() => put(null)}>
      Keep as a note
    </Button>
  );
}
