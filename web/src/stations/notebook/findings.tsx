import { useState } from "react";
import { saveFile } from "../../api/client";
import { type Finding, useFindingChanges, useFindings } from "../../data/answers";
import { useAddress, useProjectId, useSummary } from "../../data/project";
import { plural } from "../../lib/numbers";
import { useDraft } from "../../lib/usedraft";
import { Button, Empty, Failure, Input, Menu, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { WaitingRows } from "../../parts/waitingrows";
import { About } from "../../shell/about";
import { FindingPage } from "./finding";
import { KINDS } from "./findingkinds";
import { NotebookHead } from "./head";
import { NotesOnIt } from "./notesonit";

/** Views that were kept, under their questions, and what each said and says now. */
export function Findings() {
  const found = useFindings();
  const writes = useSummary().data?.role !== "reader";
  const project = useProjectId();
  const { fail } = useToast();
  const [at, setAt] = useAddress("finding", "");
  const [question, setQuestion] = useState("");
  const { order, ask, forget, reword, keep } = useFindingChanges();
  if (found.isPending) return <Waiting what="Opening the findings" />;
  if (found.error) return <Failure error={found.error} />;
  const { questions, findings } = found.data;
  const chosen = findings.find((one) => String(one.id) === at) ?? findings[0];
  const under = (id: number | null) => findings.filter((one) => one.question_id === id);
  const inOrder = [...questions.flatMap((one) => under(one.id)), ...under(null)];
  const all = (form: "xlsx" | "csv" | "txt" | "json" | "svg" | "png") =>
    void saveFile(`/api/v1/projects/${project}/findings/export?form=${form}`, {
      findings: inOrder.map((one) => one.id),
    }).catch(fail);
  const move = (finding: Finding, by: -1 | 1) => {
    const group = under(finding.question_id);
    const place = group.indexOf(finding) + by;
    if (place < 0 || place >= group.length) return;
    const next = group.filter((one) => one !== finding);
    next.splice(place, 0, finding);
    const whole = [
      ...questions.flatMap((one) => (one.id === finding.question_id ? next : under(one.id))),
      ...(finding.question_id === null ? next : under(null)),
    ];
    const places = (list: readonly Finding[]) => list.map(({ id, question_id }) => ({ id, question_id }));
    order.mutate({ findings: places(whole), seen: places(findings) });
  };
  const add = () => {
    const words = question.trim();
    if (!words) return;
    setQuestion("");
    ask.add(words);
  };
  return (
    <div className="flex h-full flex-col">
      <NotebookHead>
        {findings.length > 0 && (
          <Menu
            trigger={<Button>Export all ▾</Button>}
            items={[
              { label: "Pictures as .svg", onSelect: () => all("svg") },
              { label: "Pictures as .png", onSelect: () => all("png") },
              { label: "Numbers as one Excel workbook", onSelect: () => all("xlsx") },
              { label: "Numbers as .csv, one file each", onSelect: () => all("csv") },
              { label: "How they were counted as .txt", onSelect: () => all("txt") },
              { label: "The requests as .json", onSelect: () => all("json") },
            ]}
          />
        )}
        <About topic="notebook">
          A finding is a view that was kept with its numbers of that day. Opened later it says what changed
          since. Frozen ones stay as they were; the others show what their view says now.
        </About>
      </NotebookHead>
      {!findings.length && !questions.length ? (
        <Empty title="No findings yet">
          Open a view in Compare that says something worth keeping, and press “Keep as a finding”. It comes
          here with its numbers, its picture and how it was counted.
        </Empty>
      ) : (
        <div className="flex min-h-0 flex-1">
          <nav
            aria-label="Findings"
            className="w-[316px] shrink-0 overflow-auto border-r border-line2 bg-sheet py-2"
          >
            {questions.map((one) => (
              <section key={one.id} aria-label={one.words}>
                <div className="flex items-baseline gap-1 px-4 pt-2 pb-1">
                  <QuestionField question={one} writes={writes} reword={reword} />
                  <NotesOnIt on={{ question_id: one.id }} title={one.words} writes={writes} />
                  {writes && (
                    <button
                      type="button"
                      aria-label={`Delete the question ${one.words}; its findings stay`}
                      title="Delete the question; its findings stay"
                      onClick={() => forget.mutate(one)}
                      className="px-1 text-ink3 hover:text-ink"
                    >
                      ×
                    </button>
                  )}
                </div>
                {under(one.id).map((finding) => (
                  <Line
                    key={finding.id}
                    finding={finding}
                    chosen={finding === chosen}
                    onOpen={setAt}
                    onMove={move}
                    writes={writes}
                  />
                ))}
                {!under(one.id).length && <p className="px-4 pb-1 text-ink3">no finding yet</p>}
              </section>
            ))}
            {questions.length > 0 && under(null).length > 0 && (
              <div className="px-4 pt-3 pb-1 font-[650] text-ink2">Under no question</div>
            )}
            {under(null).map((finding) => (
              <Line
                key={finding.id}
                finding={finding}
                chosen={finding === chosen}
                onOpen={setAt}
                onMove={move}
                writes={writes}
              />
            ))}
            <WaitingRows of={keep} className="px-4" />
            <WaitingRows of={ask} onEdit={setQuestion} className="px-4" />
            {writes && (
              <form
                className="mt-3 flex gap-2 border-t border-line px-4 pt-3"
                onSubmit={(event) => {
                  event.preventDefault();
                  add();
                }}
              >
                <Input
                  aria-label="A new question"
                  placeholder="A question to group findings under"
                  value={question}
                  maxLength={500}
                  onChange={(event) => setQuestion(event.target.value)}
                />
                <Button type="submit" disabled={!question.trim()}>
                  Ask
                </Button>
              </form>
            )}
            <p className="px-4 pt-2 text-ink3">{plural(findings.length, "finding")}</p>
          </nav>
          <div className="min-w-0 flex-1 overflow-auto">
            {chosen ? (
              <FindingPage
                key={chosen.id}
                finding={chosen}
                questions={questions}
                writes={writes}
                onGone={() => setAt("")}
              />
            ) : (
              <Empty title="No findings yet">
                Keep a view in Compare; it comes under your questions here.
              </Empty>
            )}
          </div>
        </div>
      )}
    </div>
  );
}

function Line({
  finding,
  chosen,
  onOpen,
  onMove,
  writes,
}: {
  finding: Finding;
  chosen: boolean;
  onOpen: (id: string) => void;
  onMove: (finding: Finding, by: -1 | 1) => void;
  writes: boolean;
}) {
  return (
    <button
      type="button"
      aria-current={chosen}
      title={writes ? "Alt with the arrow up or down moves it" : undefined}
      onClick={() => onOpen(String(finding.id))}
      onKeyDown={(event) => {
        if (!writes || !event.altKey || !["ArrowUp", "ArrowDown"].includes(event.key)) return;
        event.preventDefault();
        onMove(finding, event.key === "ArrowUp" ? -1 : 1);
      }}
      className={`block w-full border-l-[3px] px-[13px] py-1.5 text-left ${chosen ? "border-bottle bg-tint" : "border-transparent hover:bg-wash"}`}
    >
      <span className="block truncate font-semibold">{finding.title}</span>
      <span className="block truncate text-[11.5px] text-ink2">
        {KINDS[finding.view] ?? finding.view}
        {finding.frozen && ", frozen"}
        {finding.changed.length > 0 && (
          <span className="text-rust"> · {finding.changed.join(", ")} changed since</span>
        )}
      </span>
    </button>
  );
}

/** The words of a question, stored when the field is left. */
function QuestionField({
  question,
  writes,
  reword,
}: {
  question: { id: number; words: string; revision: number };
  writes: boolean;
  reword: ReturnType<typeof useFindingChanges>["reword"];
}) {
  const { field, refused } = useDraft({
    of: `question ${question.id}`,
    stored: question.words,
    revision: question.revision,
    save: (words, revision) => reword.mutateAsync({ id: question.id, words, revision }),
    empty: false,
  });
  return (
    <input
      {...field}
      aria-label="Question"
      maxLength={500}
      disabled={!writes}
      className={`min-w-0 flex-1 truncate border-b bg-transparent font-[650] focus:border-line2 ${refused ? "border-rust" : "border-transparent"}`}
    />
  );
}
