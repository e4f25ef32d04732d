import { Link } from "react-router";
import { saveFile } from "../../api/client";
import {
  type AnyView,
  type Finding,
  type FindingAnswer,
  type Sheet,
  useFinding,
  useFindingChanges,
} from "../../data/answers";
import type { Comparison } from "../../data/comparison";
import { compact } from "../../data/comparison";
import { useProjectId } from "../../data/project";
import { date, plural, whole } from "../../lib/numbers";
import { useDraft } from "../../lib/usedraft";
import { Button, Failure, Menu, Popover, Select, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { Statements } from "../compare/statements";
import { Beside } from "./findingbeside";
import { KINDS } from "./findingkinds";
import { NotesOnIt } from "./notesonit";
import { cell, SheetTable } from "./sheet";

/** One finding: what it says, and what of that changed since it was kept. */
export function FindingPage({
  finding,
  questions,
  writes,
  onGone,
}: {
  finding: Finding;
  questions: readonly { id: number; words: string }[];
  writes: boolean;
  onGone: () => void;
}) {
  const project = useProjectId();
  const { fail } = useToast();
  const { change, remove, say } = useFindingChanges();
  const found = useFinding(finding.id);
  const title = useDraft({
    of: `finding ${finding.id} title`,
    stored: finding.title,
    revision: finding.revision,
    save: (written, revision) => change.mutateAsync({ id: finding.id, title: written, revision }),
    empty: false,
  });
  const remark = useDraft({
    of: `finding ${finding.id} remark`,
    stored: finding.remark,
    revision: finding.revision,
    save: (written, revision) => change.mutateAsync({ id: finding.id, remark: written, revision }),
  });
  const answer = found.data;
  const of = { id: finding.id, revision: finding.revision };
  const numbers = (form: "xlsx" | "csv" | "txt" | "json" | "svg" | "png") =>
    void saveFile(`/api/v1/projects/${project}/findings/export?form=${form}`, {
      findings: [finding.id],
    }).catch(fail);
  return (
    <article aria-label={`Finding ${finding.title}`} className="max-w-[1060px] px-7 py-5">
      <input
        aria-label="Title of the finding"
        {...title.field}
        maxLength={300}
        disabled={!writes}
        className="w-full border-b border-transparent bg-transparent text-[19px] font-[650] focus:border-line2"
      />
      <div className="mt-1 mb-3 flex flex-wrap items-center gap-x-3 gap-y-1 text-ink2">
        <span>
          {KINDS[finding.view] ?? finding.view}, kept {date(finding.said_at)} by {finding.author}
        </span>
        <label className="flex items-center gap-1.5">
          under
          <Select
            aria-label="Question it is under"
            className="w-auto! max-w-[260px]"
            disabled={!writes}
            value={String(finding.question_id ?? 0)}
            choices={[
              { value: "0", label: "no question" },
              ...questions.map((one) => ({ value: String(one.id), label: one.words })),
            ]}
            onChange={(id) => change.mutate({ ...of, question_id: Number(id) })}
          />
        </label>
        <label
          className="flex items-center gap-1.5"
          title="A frozen finding shows what it said when it was kept"
        >
          <input
            type="checkbox"
            checked={finding.frozen}
            disabled={!writes}
            onChange={(event) => change.mutate({ ...of, frozen: event.target.checked })}
          />
          frozen
        </label>
        <span className="ml-auto">
          <NotesOnIt on={{ finding_id: finding.id }} title={finding.title} writes={writes} />
        </span>
        <Link to={viewOf(finding, project)} className="font-semibold text-bottle hover:underline">
          Open the view
        </Link>
      </div>
      <textarea
        aria-label="Remark"
        {...remark.field}
        placeholder={writes ? "What it means, what to look at again" : ""}
        rows={linesOf(remark.value)}
        maxLength={100_000}
        disabled={!writes}
        className="mb-2 w-full resize-y rounded-[5px] border border-line bg-sheet px-2.5 py-1.5 font-serif text-[15px] leading-[1.45]"
      />
      {(title.refused || remark.refused) && (
        <p role="alert" className="-mt-1 mb-2 text-rust">
          Not saved: {title.refused || remark.refused}
        </p>
      )}
      {found.isPending && <Waiting what="Counting it anew" />}
      {found.error && <Failure error={found.error} />}
      {answer && (
        <>
          <Since answer={answer} finding={finding} writes={writes} onSay={() => say.mutate(finding.id)} />
          <Statements statements={answer.statements} />
          <p className="mb-2 text-ink2">{finding.base}</p>
          {answer.sheets.map((sheet) => (
            <SheetTable key={sheet.name} sheet={sheet as Sheet} />
          ))}
          {finding.view === "comparison" && <Beside finding={finding} />}
          <div className="mt-3 flex flex-wrap gap-2 pb-6">
            <Menu
              trigger={<Button>Export ▾</Button>}
              items={[
                { label: "Picture as .svg", onSelect: () => numbers("svg") },
                { label: "Picture as .png", onSelect: () => numbers("png") },
                { label: "Numbers as Excel", onSelect: () => numbers("xlsx") },
                { label: "Numbers as .csv", onSelect: () => numbers("csv") },
                { label: "How it was counted as .txt", onSelect: () => numbers("txt") },
                { label: "The request as .json, for the command line", onSelect: () => numbers("json") },
              ]}
            />
            <Popover width={480} trigger={<Button>How this was counted</Button>}>
              {answer.method.map((part) => (
                <div key={part.heading} className="mb-2.5">
                  <b>{part.heading}</b>
                  <div>{part.words}</div>
                  {part.source && <div className="text-ink2">{part.source}</div>}
                </div>
              ))}
            </Popover>
            {writes && (
              <Button
                look="ghost"
                className="ml-auto"
                onClick={() => {
                  remove.mutate(finding);
                  onGone();
                }}
              >
                Delete the finding
              </Button>
            )}
          </div>
        </>
      )}
    </article>
  );
}

/** What changed since it was kept, and which numbers are others now. */
function Since({
  answer,
  finding,
  writes,
  onSay,
}: {
  answer: FindingAnswer;
  finding: Finding;
  writes: boolean;
  onSay: () => void;
}) {
  const { changed } = finding;
  if (answer.failed)
    return (
      <div role="status" className="mb-3 rounded-r-[5px] border-l-[3px] border-rust bg-sheet px-3 py-2">
        <b>Its view cannot be counted any more.</b> {answer.failed} Below is what it said when it was kept.
      </div>
    );
  if (answer.same)
    return (
      <p role="status" className="mb-2 text-ink2">
        {changed.length
          ? `Since it was kept ${changed.join(" and ")} changed; all ${whole(answer.compared)} numbers are the same.`
          : `Nothing it was counted from changed since it was kept; all ${whole(answer.compared)} numbers are the same.`}
      </p>
    );
  return (
    <div role="status" className="mb-3 rounded-r-[5px] border-l-[3px] border-rust bg-sheet px-3 py-2">
      <div className="flex items-start gap-3">
        <div className="flex-1">
          <b>
            {plural(answer.changed, "number")} of {whole(answer.compared)}{" "}
            {answer.changed === 1 ? "is another" : "are others"} now
          </b>
          {changed.length > 0 && `, since ${changed.join(" and ")} changed`}.
          {answer.gone.length > 0 && ` Gone: ${few(answer.gone)}.`}
          {answer.new.length > 0 && ` New: ${few(answer.new)}.`}{" "}
          {finding.frozen ? "Shown is what it said then." : "Shown is what its view says now."}
        </div>
        {writes && <Button onClick={onSay}>Keep the numbers of now</Button>}
      </div>
      {answer.cells.length > 0 && (
        <details className="mt-1.5">
          <summary className="cursor-pointer text-bottle">Then and now, cell by cell</summary>
          <section
            className="mt-1.5 max-h-[280px] overflow-auto"
            // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
            tabIndex={0}
            aria-label="Then and now"
          >
            <table className="w-full">
              <thead>
                <tr className="text-left text-ink2">
                  <th className="pr-3 font-semibold">Row</th>
                  <th className="pr-3 font-semibold">Number</th>
                  <th className="pr-3 text-right font-semibold">Then</th>
                  <th className="text-right font-semibold">Now</th>
                </tr>
              </thead>
              <tbody>
                {answer.cells.map((one, at) => (
                  <tr key={at} className="border-t border-line">
                    <td className="pr-3">{one.row.join(", ")}</td>
                    <td className="pr-3 text-ink2">{one.column}</td>
                    <td className="pr-3 text-right">{cell(one.was, one.form)}</td>
                    <td className="text-right">{cell(one.now, one.form)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
            {answer.changed > answer.cells.length && (
              <p className="text-ink2">and {whole(answer.changed - answer.cells.length)} more</p>
            )}
          </section>
        </details>
      )}
    </div>
  );
}

/** About as many lines as a remark takes. */
function linesOf(text: string): number {
  const lines = text.split("\n").reduce((sum, line) => sum + Math.max(1, Math.ceil(line.length / 115)), 0);
  return Math.min(10, lines);
}

function few(names: readonly string[]): string {
  return names.length > 3 ? `${names.slice(0, 3).join("; ")} and ${names.length - 3} more` : names.join("; ");
}

/** The address of the view as it was kept, in the scope it was kept in. */
export function viewOf(finding: Finding, project: number): string {
  const view = finding.request as unknown as AnyView;
  const next = new URLSearchParams();
  const base = `/projects/${project}/compare`;
  const request = "comparison" in view ? view.comparison : view;
  if (request.scope?.length) next.set("scope", JSON.stringify(compact(request.scope)));
  for (const [name, value] of Object.entries(finding.drawn)) next.set(name, String(value));
  const short = (value: unknown) => JSON.stringify(compact(value));
  if ("comparison" in view) {
    const { scope: _, ...rest } = view.comparison as Comparison;
    next.set("compare", short(rest));
    if (view.view === "map") next.set("draw", "map");
    if (view.view === "changes") {
      next.set("draw", "trend");
      if ((view.window ?? 1) > 1) next.set("smooth", String(view.window));
    }
    return `${base}?${next}`;
  }
  if (view.view === "keywords") {
    next.set("split", short(view.split));
    next.set("group", view.group);
    if (view.against) next.set("against", view.against);
    const unit =
      view.unit === "phrase"
        ? `phrase${view.length ?? 2}`
        : view.merge === "lemma"
          ? "lemma"
          : (view.kinds?.[0] ?? "word");
    next.set("unit", unit);
    next.set("least", String(view.least_hits ?? 5));
    return `${base}/keywords?${next}`;
  }
  const { view: kind, scope: _, ...rest } = view;
  next.set(kind, JSON.stringify(rest));
  return `${base}/${kind}?${next}`;
}
