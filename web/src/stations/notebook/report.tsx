import { useState } from "react";
import { type Schema, saveFile } from "../../api/client";
import { useAddress, useProjectId, useSummary } from "../../data/project";
import { type Report, useNewReports, useReport, useReportChanges, useReports } from "../../data/reports";
import { date } from "../../lib/numbers";
import { Button, Empty, Failure, Menu, Select, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { WaitingRows } from "../../parts/waitingrows";
import { About } from "../../shell/about";
import { NotebookHead } from "./head";
import { NewReport } from "./newreport";
import { ReportList } from "./reportlist";
import { ReportPaper } from "./reportpaper";

type Form = "docx" | "html" | "pdf" | "md";

/** Reports of the project: what one is put together from at the left, how it reads at the right. */
export function Reports() {
  const found = useReports();
  const writes = useSummary().data?.role !== "reader";
  const [at, setAt] = useAddress("report", "");
  const [asked, setAsked] = useState(false);
  const reports = found.data ?? [];
  const chosen = reports.find((one) => String(one.id) === at) ?? reports[0];
  const [again, setAgain] = useState<Schema["ReportGiven"]>();
  const making = useNewReports((id) => setAt(String(id)));
  const begin = () => {
    setAgain(undefined);
    setAsked(true);
  };
  return (
    <div className="flex h-full flex-col">
      <NotebookHead>
        {reports.length > 0 && (
          <Select
            aria-label="Report"
            value={String(chosen?.id ?? "")}
            choices={reports.map((one) => ({ value: String(one.id), label: one.title }))}
            onChange={setAt}
            className="w-auto! max-w-[260px]"
          />
        )}
        {writes && reports.length > 0 && <Button onClick={begin}>New report</Button>}
        {chosen && <Take id={chosen.id} />}
        <About topic="report">
          A report is put together from findings, quotes, notes and text between. It updates with the project
          until it is frozen, and leaves as Word, PDF, HTML or Markdown.
        </About>
      </NotebookHead>
      <WaitingRows
        of={making}
        onEdit={(given) => {
          setAgain(given);
          setAsked(true);
        }}
        className="mx-6 max-w-[560px]"
      />
      {found.isPending && <Waiting what="Opening the reports" />}
      {found.error && <Failure error={found.error} />}
      {found.data && !chosen && (
        <Empty title="No report yet">
          A report brings findings, quotes and notes together with an overview of the texts and how everything
          was made, written from the settings.
          {writes && (
            <div className="mt-4">
              <Button look="main" onClick={begin}>
                Begin a report
              </Button>
            </div>
          )}
        </Empty>
      )}
      {chosen && <Opened key={chosen.id} id={chosen.id} writes={writes} onGone={() => setAt("")} />}
      <NewReport
        key={again?.title ?? ""}
        begun={again}
        open={asked}
        onClose={() => setAsked(false)}
        onBegin={(given) => making.add(given)}
      />
    </div>
  );
}

/** The files a report leaves as; writing one takes some seconds, and it says so. */
function Take({ id }: { id: number }) {
  const project = useProjectId();
  const { fail } = useToast();
  const [writing, setWriting] = useState("");
  const take = (form: Form, name: string) => {
    setWriting(name);
    saveFile(`/api/v1/projects/${project}/reports/${id}/export?form=${form}`)
      .catch(fail)
      .finally(() => setWriting(""));
  };
  return (
    <>
      {writing && (
        <span role="status" className="text-ink2">
          Writing {writing}
        </span>
      )}
      <Menu
        trigger={<Button disabled={writing !== ""}>Download ▾</Button>}
        items={[
          { label: "Word (.docx)", onSelect: () => take("docx", "the Word file") },
          { label: "PDF", onSelect: () => take("pdf", "the PDF") },
          { label: "One HTML file", onSelect: () => take("html", "the HTML file") },
          { label: "Markdown with pictures (.zip)", onSelect: () => take("md", "the Markdown") },
        ]}
      />
    </>
  );
}

function Opened({ id, writes, onGone }: { id: number; writes: boolean; onGone: () => void }) {
  const found = useReport(id);
  const [part, setPart] = useState<number | null>(null);
  if (found.isPending) return <Waiting what="Putting the report together" />;
  if (found.error) return <Failure error={found.error} />;
  const report = found.data;
  const live = writes && report.frozen_at === null;
  return (
    <div className="flex min-h-0 flex-1">
      <div className="flex w-[316px] shrink-0 flex-col border-r border-line2 bg-sheet">
        <ReportList report={report} writes={live} chosen={part} onChoose={setPart} />
        <Foot report={report} writes={writes} onGone={onGone} />
      </div>
      <ReportPaper report={report} writes={live} chosen={part} onChoose={setPart} />
    </div>
  );
}

function Foot({ report, writes, onGone }: { report: Report; writes: boolean; onGone: () => void }) {
  const { change, remove } = useReportChanges();
  const frozen = report.frozen_at !== null;
  return (
    <div className="border-t border-line2 px-4 py-2.5 text-ink2">
      <p className="mb-1.5">
        {frozen
          ? `Frozen on ${date(report.frozen_at)}: nothing in it changes.`
          : "Live: numbers and quotes update with the project."}
      </p>
      {writes && (
        <div className="flex items-center gap-2">
          <Button
            disabled={change.isPending}
            onClick={() =>
              change.mutate({ id: report.id, frozen: !frozen, revision: report.revision, title: null })
            }
          >
            {change.isPending
              ? "One moment"
              : frozen
                ? "Update with the project again"
                : "Freeze this version"}
          </Button>
          <Button
            look="ghost"
            className="ml-auto"
            onClick={() => {
              remove.mutate(report);
              onGone();
            }}
          >
            Delete the report
          </Button>
        </div>
      )}
    </div>
  );
}
