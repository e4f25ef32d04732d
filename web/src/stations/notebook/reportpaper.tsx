import { useEffect, useRef, useState } from "react";
import { type Part, type Report, usePieceChanges, useReportChanges } from "../../data/reports";
import { Button } from "../../parts/controls";
import { Blocks } from "./reportblocks";
import { EditPiece } from "./reportedit";
import { nameOf } from "./reportpieces";

/** The report as it reads; the chosen part can be changed where it stands. */
export function ReportPaper({
  report,
  writes,
  chosen,
  onChoose,
}: {
  report: Report;
  writes: boolean;
  chosen: number | null;
  onChoose: (id: number | null) => void;
}) {
  const { change } = useReportChanges();
  const [title, setTitle] = useState<string | null>(null);
  const keep = () => {
    const given = title?.trim();
    setTitle(null);
    if (given && given !== report.title)
      change.mutate(
        { id: report.id, title: given, frozen: null, revision: report.revision },
        { onError: () => setTitle(given) },
      );
  };
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
    <section className="min-w-0 flex-1 overflow-auto bg-wash px-6 py-6" tabIndex={0} aria-label="The report">
      <article className="mx-auto min-h-full max-w-[760px] rounded border border-line bg-sheet px-12 py-10">
        <input
          aria-label="Title of the report"
          value={title ?? report.title}
          maxLength={300}
          disabled={!writes}
          onChange={(event) => setTitle(event.target.value)}
          onBlur={keep}
          onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
          className="w-full border-b border-transparent bg-transparent text-[25px] font-[680] focus:border-line2"
        />
        <div className="mb-6 text-ink2">
          {report.lines.map((line) => (
            <div key={line}>{line}</div>
          ))}
        </div>
        {!report.parts.length && (
          <p className="text-ink2">Nothing in it yet. Add a heading, text, findings or quotes at the left.</p>
        )}
        {report.parts.map((part) => (
          <OnePart
            key={part.id}
            report={report.id}
            part={part}
            chosen={part.id === chosen}
            writes={writes}
            onChoose={onChoose}
          />
        ))}
      </article>
    </section>
  );
}

function OnePart({
  report,
  part,
  chosen,
  writes,
  onChoose,
}: {
  report: number;
  part: Part;
  chosen: boolean;
  writes: boolean;
  onChoose: (id: number | null) => void;
}) {
  const { remove } = usePieceChanges(report);
  const here = useRef<HTMLElement>(null);
  useEffect(() => {
    if (chosen) here.current?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
  const empty = !part.blocks.length && !chosen;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: its keys are those of the list that holds it
    <section
      ref={here}
      aria-label={nameOf(part)}
      onClick={() => writes && !chosen && onChoose(part.id)}
      className={`-mx-5 rounded px-5 py-1 ${chosen ? "outline outline-1 outline-bottle" : writes ? "hover:outline hover:outline-1 hover:outline-line2" : ""}`}
    >
      {chosen && writes && part.piece && part.id > 0 && (
        <div className="mb-2 flex flex-wrap items-center gap-3 border-b border-line py-1.5">
          <EditPiece report={report} part={part} piece={part.piece} />
          <Button look="ghost" className="ml-auto" onClick={() => remove.mutate(part)}>
            Take it out
          </Button>
          <Button look="ghost" onClick={() => onChoose(null)}>
            Done
          </Button>
        </div>
      )}
      {empty ? <p className="text-ink3">Empty text</p> : <Blocks report={report} part={part} />}
    </section>
  );
}
