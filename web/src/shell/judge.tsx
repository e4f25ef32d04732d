import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import { api, data, type Schema } from "../api/client";
import { keys } from "../data/keys";
import { useProjectId } from "../data/project";
import { date, plural } from "../lib/numbers";
import { Failure, Kbd, Swatch, Waiting } from "../parts/controls";
import { SidePanel } from "../parts/side";
import {
  type Judged,
  keyOf,
  mine,
  namesOf,
  SampleRow,
  useJudge,
  useJudgeKeys,
  type Verdict,
} from "./judging";

/** A sample to be judged: of what, and how to name it. */
export interface JudgingOf extends Judged {
  sample_id: number;
}

/** Judge one hit after the other: F fits, X does not, U takes a verdict back, arrows go to and fro. */
export function JudgePanel({ what, onClose }: { what: JudgingOf; onClose: () => void }) {
  const project_id = useProjectId();
  const client = useQueryClient();
  const queryKey = useMemo(
    () => keys.review(project_id, "sample", what.sample_id),
    [project_id, what.sample_id],
  );
  const found = useQuery({
    queryKey,
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/review/samples/{sample_id}", {
          params: { path: { project_id, sample_id: what.sample_id } },
        }),
      ),
    staleTime: 0,
  });
  const [at, setAt] = useState<number | null>(null);
  const items = useMemo(() => found.data?.items ?? [], [found.data]);
  const kind = found.data?.sample.kind ?? "hit";
  const open = items.findIndex((item) => item.passage !== null && mine(item) === null);
  const here = at ?? Math.max(open, 0);
  const current = items[here];
  const term = found.data?.sample.part ?? "";
  const judge = useJudge(
    what,
    kind,
    term,
    (change) =>
      client.setQueryData<Schema["SampleItems"]>(
        queryKey,
        (now) => now && { ...now, items: now.items.map(change) },
      ),
    () => client.invalidateQueries({ queryKey }),
  );
  const decide = useCallback(
    (verdict: Verdict) => {
      if (!current?.passage) return;
      judge(current, verdict);
      if (verdict !== null) setAt(Math.min(here + 1, items.length - 1));
    },
    [current, judge, here, items.length],
  );
  useJudgeKeys(decide, (by) => setAt(Math.max(0, Math.min(here + by, items.length - 1))));
  const judged = items.filter((item) => mine(item) !== null).length;
  const right = items.filter((item) => mine(item) === 1).length;
  const [yes, no] = namesOf(kind);
  return (
    <SidePanel
      label="Judging"
      title={kind === "hit" ? "Judge hits" : "Look for what is missed"}
      close="Close judging"
      onClose={onClose}
      wide
      head={
        <>
          <div className="mb-1.5 text-ink2">
            <Swatch colour={what.colour} />
            {what.title}
          </div>
          <div className="flex flex-wrap items-center gap-x-2 text-ink2">
            <Kbd>F</Kbd> {yes} <Kbd>X</Kbd> {no} <Kbd>U</Kbd> take back <Kbd>↑</Kbd>
            <Kbd>↓</Kbd> go
          </div>
          {found.data && (
            <div className="mt-1 text-[11.5px] text-ink3">
              {plural(items.length, kind === "hit" ? "hit" : "text")} drawn{" "}
              {date(found.data.sample.made_at.slice(0, 10))} with seed {found.data.sample.seed}
              {kind === "hit" ? ", in equal numbers from each source" : ", each text equally likely"}; version{" "}
              {found.data.sample.version}
            </div>
          )}
        </>
      }
    >
      <div className="min-h-0 flex-1 overflow-auto">
        {found.isPending && <Waiting what="Opening the sample" />}
        {found.error && (
          <div className="p-3">
            <Failure error={found.error} />
          </div>
        )}
        {items.map((item, n) => (
          <SampleRow
            key={`${n}.${keyOf(item)}`}
            item={item}
            kind={kind}
            here={n === here}
            verdict={mine(item)}
            onHere={() => setAt(n)}
            onJudge={(verdict) => {
              setAt(n);
              judge(item, verdict);
            }}
          />
        ))}
      </div>
      <div className="border-t border-line2 bg-wash px-3.5 py-2" data-testid="judged">
        {judged} of {items.length} judged
        {judged > 0 &&
          (kind === "hit" ? (
            <>
              : <b>{right}</b> right of this sample; the precision weighs each by the hits its source has
            </>
          ) : (
            <>: {right} should have had a hit</>
          ))}
        {judged === items.length && items.length > 0 && (
          <span className="text-ink2">. All done; the numbers are in the table.</span>
        )}
      </div>
    </SidePanel>
  );
}
