import { useAddress, useSummary } from "../../data/project";
import { type RunLine, STATES, said, useRuns } from "../../data/runs";
import { date, plural, whole } from "../../lib/numbers";
import { Button, Empty, Failure, Waiting } from "../../parts/controls";
import { About } from "../../shell/about";
import { CodingHead } from "./head";
import { NewRun } from "./newrun";
import { OneRun } from "./onerun";

const NEW = "new";

/** Automatic coding: all runs, and one of them, or one that is to be made. */
export function Runs() {
  const runs = useRuns();
  const writes = useSummary().data?.role !== "reader";
  const [at, setAt] = useAddress("run", "");
  const all = runs.data ?? [];
  const chosen = all.find((one) => String(one.id) === at) ?? (at === "" ? all[0] : undefined);
  return (
    <div className="flex h-full flex-col">
      <CodingHead>
        <About topic="coding">
          A run looks through the texts of the scope and proposes passages, each with its reason. Proposals
          count when somebody calls them right; an applied run counts all but what was rejected. What people
          coded by hand is never touched, and a run is taken back whole.
        </About>
      </CodingHead>
      <div className="flex min-h-0 flex-1">
        <nav aria-label="Runs" className="flex w-[248px] shrink-0 flex-col border-r border-line2 bg-sheet">
          {writes && (
            <div className="border-b border-line px-3 py-2.5">
              <Button
                look={at === NEW ? "main" : "plain"}
                aria-pressed={at === NEW}
                onClick={() => setAt(NEW)}
              >
                New run
              </Button>
            </div>
          )}
          <ul className="min-h-0 flex-1 overflow-auto">
            {all.map((one) => (
              <Line
                key={one.id}
                one={one}
                chosen={at !== NEW && one.id === chosen?.id}
                onChoose={() => setAt(String(one.id))}
              />
            ))}
          </ul>
        </nav>
        <div className="flex min-h-0 min-w-0 flex-1 flex-col">
          {runs.error && <Failure error={runs.error} />}
          {runs.isPending && <Waiting what="Opening the runs" />}
          {at === NEW && writes ? (
            <NewRun onMade={(id) => setAt(String(id))} />
          ) : chosen ? (
            <OneRun key={chosen.id} line={chosen} writes={writes} onGone={() => setAt("")} />
          ) : (
            runs.data && (
              <Empty title={all.length ? "This run is gone" : "No run yet"}>
                <p className="mb-3">
                  Let a dictionary, a search or the values of a variable code the texts of the scope. You see
                  what it would find and why before anything is stored, go through it, and can take it back
                  whole.
                </p>
                {writes && (
                  <Button look="main" onClick={() => setAt(NEW)}>
                    Make a run
                  </Button>
                )}
              </Empty>
            )
          )}
        </div>
      </div>
    </div>
  );
}

function Line({ one, chosen, onChoose }: { one: RunLine; chosen: boolean; onChoose: () => void }) {
  return (
    <li>
      <button
        type="button"
        aria-current={chosen}
        onClick={onChoose}
        className={`block w-full border-b border-line px-3 py-2 text-left ${chosen ? "bg-tint" : "hover:bg-wash"} ${one.state === "taken back" ? "text-ink2" : ""}`}
      >
        <span className="flex items-baseline gap-2">
          <b className="min-w-0 flex-1 truncate font-semibold">{one.name}</b>
          <span className="shrink-0 text-[11.5px] text-ink2">{STATES[one.state]}</span>
        </span>
        <span className="block truncate text-[11.5px] text-ink2">{said(one.recipe, one.instrument)}</span>
        {one.state !== "making" && (
          <span className="block truncate text-[11.5px] text-ink2">
            {plural(one.places, "passage")}, {whole(one.judged)} judged
          </span>
        )}
        <span className="block truncate text-[11.5px] text-ink2">
          {one.by}, {date(one.made_at)}
        </span>
        {one.outdated && one.state !== "taken back" && (
          <span className="block text-[11.5px] text-rust">terms or texts changed since</span>
        )}
      </button>
    </li>
  );
}
