import { useEffect, useRef, useState } from "react";
import { type By, type Task, useAboutAssistant, useAsk } from "../../data/assistant";
import { useAddress, useScope, useSummary } from "../../data/project";
import { Button, Dialog, Empty, Failure, Waiting } from "../../parts/controls";
import { About } from "../../shell/about";
import { Answer } from "./assistantanswer";
import { TASKS, TaskForm, type TaskName } from "./assistanttasks";
import { NotebookHead } from "./head";

/** What can be asked of the texts in scope, and what is said to it; taken piece by piece, or not. */
export function Assistant() {
  const [named, setNamed] = useAddress("task", "summary");
  const name: TaskName = named in TASKS ? (named as TaskName) : "summary";
  const writes = useSummary().data?.role !== "reader";
  const { scope } = useScope();
  const about = useAboutAssistant().data;
  const [chosen, setChosen] = useState<By>("rules");
  // a model that was chosen for another task does not do this one
  const by = TASKS[name].byModel ? chosen : "rules";
  const { ask, sends } = useAsk();
  const [task, setTask] = useState<Task | null>(null);
  const [asked, setAsked] = useState<Task | null>(null);
  const now = useRef<Task | null>(null);
  const put = (task: Task) => {
    setAsked(task);
    ask.mutate({ task, by });
  };
  // an answer is to one task in one scope
  // biome-ignore lint/correctness/useExhaustiveDependencies: begins anew with another task or scope
  useEffect(() => {
    ask.reset();
  }, [name, JSON.stringify(scope)]);
  const choose = () => {
    const task = now.current;
    if (task && by === "model") sends.mutate(task);
    else if (task) put(task);
  };
  return (
    <div className="flex h-full flex-col">
      <NotebookHead>
        <About topic="assistant">
          The assistant draws on the texts in scope by rule: whatever it says rests on numbered passages, and
          nothing of it is in the project until you take it.
        </About>
      </NotebookHead>
      <div className="flex min-h-0 flex-1">
        <form
          aria-label="What to ask"
          className="flex w-[316px] shrink-0 flex-col gap-3 overflow-auto border-r border-line2 bg-sheet p-4"
          onSubmit={(event) => {
            event.preventDefault();
            choose();
          }}
        >
          <div role="radiogroup" aria-label="Task">
            {Object.entries(TASKS).map(([key, one]) => (
              <button
                key={key}
                type="button"
                role="radio"
                aria-checked={key === name}
                onClick={() => setNamed(key)}
                className={`block w-full rounded border-l-[3px] px-2.5 py-1 text-left ${key === name ? "border-bottle bg-tint font-semibold" : "border-transparent hover:bg-wash"}`}
              >
                {one.label}
              </button>
            ))}
          </div>
          <p className="text-ink2">{TASKS[name].says}</p>
          <TaskForm key={name} name={name} onTask={setTask} now={now} />
          {about?.model && TASKS[name].byModel && (
            <fieldset>
              <legend className="mb-1 font-semibold">Who answers</legend>
              {(["rules", "model"] as const).map((one) => (
                <label key={one} className="flex items-start gap-2 py-0.5">
                  <input
                    type="radio"
                    name="by"
                    checked={chosen === one}
                    onChange={() => setChosen(one)}
                    className="mt-0.5"
                  />
                  {one === "rules" ? "the rules that ship" : `the model ${about.model}, at ${about.address}`}
                </label>
              ))}
            </fieldset>
          )}
          <Button
            type="submit"
            look="main"
            className="justify-center"
            disabled={!task || ask.isPending || sends.isPending}
          >
            {ask.isPending ? "Looking" : by === "model" ? "Show what would be sent" : "Ask"}
          </Button>
        </form>
        <section
          className="min-w-0 flex-1 overflow-auto"
          // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
          tabIndex={0}
          aria-label="What the assistant says"
          aria-live="polite"
        >
          {ask.isPending && <Waiting what="Looking through the texts" />}
          {ask.error && <Failure error={ask.error} />}
          {sends.error && <Failure error={sends.error} />}
          {ask.data && asked && (
            <Answer key={ask.submittedAt} task={asked} reply={ask.data} writes={writes} />
          )}
          {ask.isIdle && !sends.error && (
            <Empty title="Nothing asked yet">
              Choose at the left what you want to know of the texts in scope. An answer quotes the passages it
              rests on; where nothing is found, it says so.
            </Empty>
          )}
        </section>
      </div>
      <Dialog title="This would be sent" open={sends.isSuccess} onClose={() => sends.reset()} wide>
        {sends.data && (
          <>
            <p className="mb-2">
              To {sends.data.address}: {sends.data.passages} passages of your texts, exactly as shown here.
              Nothing was sent yet.
            </p>
            <pre
              className="max-h-[46vh] overflow-auto rounded border border-line bg-wash p-3 text-[12px] whitespace-pre-wrap"
              role="region"
              aria-label="What would be sent"
              // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
              tabIndex={0}
            >
              {sends.data.words}
            </pre>
            <div className="mt-4 flex justify-end gap-2">
              <Button onClick={() => sends.reset()}>Send nothing</Button>
              <Button
                look="main"
                onClick={() => {
                  sends.reset();
                  if (now.current) put(now.current);
                }}
              >
                Send it
              </Button>
            </div>
          </>
        )}
      </Dialog>
    </div>
  );
}
