import { useState } from "react";
import { useAddress } from "../../data/project";
import { type Run, type RunLine, STATES, said, useRun, useRunChanges } from "../../data/runs";
import { percent, plural, three, whole } from "../../lib/numbers";
import { Button, Failure, MoreMenu, Segments, Waiting } from "../../parts/controls";
import { Renamed } from "./renamed";
import { RunBeside } from "./runbeside";
import { RunCodes, RunTexts } from "./runresults";
import { RunReview } from "./runreview";
import { RunStep } from "./runstep";

const TABS = [
  { value: "review", label: "Review" },
  { value: "codes", label: "By code" },
  { value: "texts", label: "By text" },
  { value: "beside", label: "Beside hand coding" },
];

/** One run: what counts of it, what was judged of it, and what it found. */
export function OneRun({ line, writes, onGone }: { line: RunLine; writes: boolean; onGone: () => void }) {
  const found = useRun(line.id);
  const [tab, setTab] = useAddress("tab", "review");
  const run = found.data;
  if (found.error)
    return (
      <div className="p-4">
        <Failure error={found.error} />
      </div>
    );
  if (!run || line.state === "making") return <Waiting what="Opening the run" />;
  return (
    <>
      <div className="border-b border-line2 bg-sheet px-4 pt-2.5 pb-2" data-testid="run-head">
        <Acts run={run} writes={writes} onGone={onGone} />
        <Told run={run} />
        <Learned run={run} />
        <div className="mt-2">
          <Segments label="View of the run" value={tab} onChange={setTab} choices={TABS} />
        </div>
      </div>
      {tab === "codes" ? (
        <RunCodes run={run} />
      ) : tab === "beside" ? (
        <RunBeside run={run} />
      ) : tab === "texts" ? (
        <RunTexts run={run} />
      ) : (
        <RunReview run={run} writes={writes && run.state !== "taken back"} />
      )}
    </>
  );
}

/** Its name, and what can be done with it. */
function Acts({ run, writes, onGone }: { run: Run; writes: boolean; onGone: () => void }) {
  const { change, remove } = useRunChanges(run.id);
  const [stepping, setStepping] = useState(false);
  const [renaming, setRenaming] = useState(false);
  const { revision } = run;
  const back = run.state === "taken back";
  const turn = (state: "proposals" | "applied" | "taken back") => change.mutate({ state, revision });
  return (
    <div className="flex items-center gap-3">
      {renaming ? (
        <Renamed
          of={`run ${run.id}`}
          name={run.name}
          onDone={(name) => {
            setRenaming(false);
            if (name && name !== run.name) change.mutate({ name, revision });
          }}
        />
      ) : (
        <h2 className="min-w-0 truncate font-serif text-[19px]">{run.name}</h2>
      )}
      <span className="shrink-0 text-ink2">{STATES[run.state]}</span>
      {writes && (
        <span className="ml-auto flex shrink-0 items-center gap-2">
          {!back && run.outdated && <Button onClick={() => setStepping(true)}>What changed?</Button>}
          {run.state !== "applied" && (
            <Button
              look="main"
              title="Counts all passages except rejected ones"
              onClick={() => turn("applied")}
            >
              {back ? "Apply again" : "Apply"}
            </Button>
          )}
          {run.state !== "proposals" && (
            <Button title="Counts only accepted passages" onClick={() => turn("proposals")}>
              {back ? "Put back as proposals" : "Keep as proposals"}
            </Button>
          )}
          {!back && <Button onClick={() => turn("taken back")}>Take back</Button>}
          <MoreMenu
            label={`More for ${run.name}`}
            items={[
              { label: "Rename", onSelect: () => setRenaming(true) },
              { label: "Look for changes", onSelect: () => setStepping(true), disabled: back },
              {
                label: "Delete permanently",
                onSelect: () => remove.mutate(revision, { onSuccess: onGone }),
                disabled: !back,
              },
            ]}
          />
        </span>
      )}
      {stepping && <RunStep run={run} onClose={() => setStepping(false)} />}
    </div>
  );
}

/** What a learned code was worth when it was learned. */
function Learned({ run }: { run: Run }) {
  const learned = run.learned;
  if (!learned) return null;
  const words = (list: typeof learned.speaks_for) =>
    list
      .slice(0, 8)
      .map((one) => one.words)
      .join(", ");
  return (
    <p className="mt-0.5 text-ink2">
      Learned from {plural(learned.right, "example")} and {whole(learned.wrong)} others in{" "}
      {plural(learned.texts, "text")}; on texts it had not learned from: precision{" "}
      <b className="text-ink">{percent(learned.precision.value)}</b>, recall{" "}
      <b className="text-ink">{percent(learned.recall.value)}</b>, F1 {percent(learned.f1.value)}. Speaks for
      it: {words(learned.speaks_for)}.
    </p>
  );
}

/** What it codes, how much it found, and how good that is. */
function Told({ run }: { run: Run }) {
  const { whole: all } = run;
  const { precision } = all;
  return (
    <p className="mt-0.5 text-ink2">
      Codes {said(run.recipe, run.instrument)}
      {run.version ? `, version ${run.version}` : ""}. {plural(all.places, "passage")} in{" "}
      {plural(all.texts, "text")}: {whole(all.right)} right, {whole(all.wrong)} wrong, {whole(all.open)} open.
      {precision.share !== null && (
        <b
          className="text-ink"
          title="Share of its passages that are right, each verdict weighted by the passages its source has"
        >
          {" "}
          Precision {percent(precision.share)}, {percent(precision.low)} to {percent(precision.high)}
        </b>
      )}
      {run.recipe.finder.kind === "tone" && all.right + all.wrong > 0 && (
        <>
          {" "}
          Of {plural(all.right + all.wrong, "passage")} reviewed{" "}
          {percent(all.wrong / (all.right + all.wrong))} were corrected
        </>
      )}
      {run.judges.length > 0 && `, judged by ${run.judges.join(", ")}`}
      {run.several > 0 && (
        <span title="Krippendorff’s alpha for right and wrong, over passages that two or more judged">
          ; of {plural(run.several, "passage")} that two or more judged {whole(run.alike)} alike
          {run.alpha !== null && `, alpha ${three(run.alpha)}`}
        </span>
      )}
    </p>
  );
}
