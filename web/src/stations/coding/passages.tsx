import { useMemo, useState } from "react";
import { saveFile } from "../../api/client";
import { useCodebook } from "../../data/coding";
import { useAddress, useProjectId, useScope, useSummary } from "../../data/project";
import { plural } from "../../lib/numbers";
import { Button, Empty, Failure, Menu, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { About } from "../../shell/about";
import { AllMenu, ChosenBar } from "./bulkpassages";
import { useFound } from "./found";
import { FoundList } from "./foundlist";
import { CodingHead } from "./head";
import { LostPassages } from "./lost";
import { CodebookPanel } from "./panel";
import { ANY, type Question, QuestionLine, sent } from "./question";
import { KeptQuestions } from "./questions";
import { SideBySide } from "./sides";

const NO_CODES: readonly number[] = [];
const NONE_HIDDEN: ReadonlySet<number> = new Set();

/** The question of the page, in its address. */
function useQuestion(): [Question, (question: Question) => void] {
  const [written, setWritten] = useAddress("asked", "");
  const question = useMemo(() => {
    try {
      return { ...ANY, ...(JSON.parse(written || "{}") as Partial<Question>) };
    } catch {
      return ANY;
    }
  }, [written]);
  const ask = (next: Question) => {
    const said = Object.entries(next).filter(
      ([name, value]) => JSON.stringify(value) !== JSON.stringify(ANY[name as keyof Question]),
    );
    setWritten(said.length ? JSON.stringify(Object.fromEntries(said)) : "");
  };
  return [question, ask];
}

/** Passages across texts: a question built as a sentence, what it finds, and what can be done with it. */
export function Passages() {
  const project_id = useProjectId();
  const { scope } = useScope();
  const book = useCodebook();
  const { fail } = useToast();
  const writes = useSummary().data?.role !== "reader";
  const [question, setQuestion] = useQuestion();
  const [sides, setSides] = useAddress("sides", "");
  const [start, setStart] = useState(0);
  const [ticked, setTicked] = useState<ReadonlySet<number>>(new Set());
  const found = useFound(sent(question), start);
  const ask = (next: Question) => {
    setQuestion(next);
    setStart(0);
    setTicked(new Set());
  };
  const save = (form: string) =>
    void saveFile(`/api/v1/projects/${project_id}/passages/export?form=${form}`, {
      ...sent(question),
      scope: [...scope],
    }).catch(fail);
  const saveTexts = (each: boolean) =>
    void saveFile(`/api/v1/projects/${project_id}/passages/commented?each=${each}`, {
      ...sent(question),
      scope: [...scope],
    }).catch(fail);
  const tick = (ids: readonly number[], on: boolean) => {
    const next = new Set(ticked);
    for (const id of ids)
      if (on) next.add(id);
      else next.delete(id);
    setTicked(next);
  };
  const page = found.data;
  const all = page?.passages ?? [];
  const { codes } = question;
  return (
    <div className="flex h-full flex-col">
      <CodingHead>
        <LostPassages writes={writes} />
        <KeptQuestions question={question} writes={writes} onAsk={(kept) => ask({ ...ANY, ...kept })} />
        <Button
          look="ghost"
          aria-pressed={sides !== ""}
          disabled={!book.codes.length}
          onClick={() => setSides(sides ? "" : "1")}
        >
          {sides ? "One list" : "Side by side"}
        </Button>
        <About topic="coding">
          Passages of the scope that a question asks for. A code is asked for with all codes below it.
          Passages overlap where they share a letter; one lies within another also on the same words; near
          counts the words or paragraphs between them.
        </About>
      </CodingHead>
      <div className="flex min-h-0 flex-1">
        <CodebookPanel
          here={null}
          recent={NO_CODES}
          chosen={codes.length === 1 ? codes[0]! : null}
          hidden={NONE_HIDDEN}
          onCode={(one) =>
            ask({
              ...question,
              codes: codes.includes(one.id) ? codes.filter((id) => id !== one.id) : [one.id],
            })
          }
        />
        <div className="flex min-w-0 flex-1 flex-col">
          <QuestionLine question={question} onAsk={ask}>
            {!sides && (
              <span className="ml-auto flex items-center gap-2">
                <b data-testid="found-count">
                  {page ? `${plural(page.total, "passage")} in ${plural(page.texts, "text")}` : ""}
                </b>
                {writes && page && <AllMenu question={question} total={page.total} />}
                <Menu
                  trigger={<Button>Export</Button>}
                  items={[
                    { label: "Passages as Word (.docx)", onSelect: () => save("docx") },
                    { label: "Passages as .xlsx", onSelect: () => save("xlsx") },
                    { label: "Passages as .csv", onSelect: () => save("csv") },
                    {
                      label: "Whole texts as Word, codings as comments",
                      onSelect: () => saveTexts(false),
                      disabled: !page?.total,
                    },
                    {
                      label: "The same, a file for each text (.zip)",
                      onSelect: () => saveTexts(true),
                      disabled: !page?.total,
                    },
                  ]}
                />
              </span>
            )}
          </QuestionLine>
          {sides ? (
            <SideBySide question={question} />
          ) : (
            <>
              {ticked.size > 0 && writes && (
                <ChosenBar page={all} ticked={ticked} onNone={() => setTicked(new Set())} />
              )}
              <div className="min-h-0 flex-1 overflow-auto bg-sheet">
                {found.error && <Failure error={found.error} />}
                {found.isPending && <Waiting what="Looking for passages" />}
                {page && !all.length && (
                  <Empty title="No passages">
                    {book.codes.length
                      ? "No passages of the scope match. Change the question above, or read and code."
                      : "Read a text, choose words and put them under a code; what is coded is gathered here."}
                  </Empty>
                )}
                {page && all.length > 0 && (
                  <>
                    <label className="flex items-center gap-2 border-b border-line px-3 py-1 text-ink2">
                      <input
                        type="checkbox"
                        checked={all.every((one) => ticked.has(one.id))}
                        onChange={(event) =>
                          tick(
                            all.map((one) => one.id),
                            event.target.checked,
                          )
                        }
                      />
                      all of this page
                    </label>
                    <FoundList
                      page={page}
                      codes={book.byId}
                      ticked={ticked}
                      start={start}
                      onTick={tick}
                      onStart={setStart}
                    />
                  </>
                )}
              </div>
            </>
          )}
        </div>
      </div>
    </div>
  );
}
