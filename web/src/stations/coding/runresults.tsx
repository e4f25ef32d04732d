import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useLocation } from "react-router";
import { api, data } from "../../api/client";
import { useCodebook } from "../../data/coding";
import { keys } from "../../data/keys";
import { useProjectId } from "../../data/project";
import type { Run } from "../../data/runs";
import { date, percent, whole } from "../../lib/numbers";
import { Button, Failure, Waiting } from "../../parts/controls";
import { Sign } from "./panel";

const PAGE = 50;
const HEAD = "py-1 pl-3 font-normal";

/** How much is under each code, and how good it is. */
export function RunCodes({ run }: { run: Run }) {
  const book = useCodebook();
  return (
    <div className="min-h-0 flex-1 overflow-auto bg-sheet px-4 py-2">
      <table className="w-full border-collapse" data-testid="run-codes">
        <thead>
          <tr className="border-b border-line2 text-right text-[11.5px] text-ink2">
            <th className="py-1 text-left font-normal">What was found</th>
            <th className="py-1 text-left font-normal">code</th>
            {["passages", "texts", "right", "wrong", "open", "precision", "from, to"].map((head) => (
              <th key={head} className={HEAD}>
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {run.targets.map((one) => {
            const code = one.code_id === null ? undefined : book.byId.get(one.code_id);
            const { share, low, high } = one.precision;
            return (
              <tr key={one.number} className="border-b border-line text-right">
                <th scope="row" className="max-w-[240px] truncate py-1 text-left font-semibold">
                  {one.name}
                </th>
                <td className="max-w-[200px] truncate py-1 text-left">
                  {code && <Sign code={code} />}
                  {code ? code.name : <span className="text-rust">its code is gone; it counts nowhere</span>}
                </td>
                {[one.places, one.texts, one.right, one.wrong, one.open].map((count, at) => (
                  <td key={at} className="pl-3">
                    {whole(count)}
                  </td>
                ))}
                <td className="pl-3">{share === null ? "–" : percent(share)}</td>
                <td className="pl-3 text-ink2">
                  {share === null ? "" : `${percent(low)}, ${percent(high)}`}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

/** Texts with what the run found in each. */
export function RunTexts({ run }: { run: Run }) {
  const project_id = useProjectId();
  const { search } = useLocation();
  const [start, setStart] = useState(0);
  const found = useQuery({
    queryKey: keys.of(project_id, "runs", run.id, "texts", run.revision, start),
    queryFn: () =>
      data(
        api.GET("/api/v1/projects/{project_id}/runs/{run_id}/texts", {
          params: { path: { project_id, run_id: run.id }, query: { start, most: PAGE } },
        }),
      ),
    placeholderData: (before) => before,
  });
  const page = found.data;
  return (
    <div className="min-h-0 flex-1 overflow-auto bg-sheet px-4 py-2">
      {found.error && <Failure error={found.error} />}
      {found.isPending && <Waiting what="Gathering the texts" />}
      {page && (
        <>
          <table className="w-full border-collapse" data-testid="run-texts">
            <thead>
              <tr className="border-b border-line2 text-right text-[11.5px] text-ink2">
                <th className="py-1 text-left font-normal">Text</th>
                <th className="py-1 text-left font-normal">source</th>
                <th className="py-1 text-left font-normal">date</th>
                <th className={HEAD}>passages</th>
                <th className={HEAD}>codes</th>
              </tr>
            </thead>
            <tbody>
              {page.texts.map((one) => (
                <tr key={one.text_id} className="border-b border-line text-right">
                  <th scope="row" className="max-w-[360px] truncate py-1 text-left font-semibold">
                    <Link
                      to={`/projects/${project_id}/coding/read/${one.text_id}${search}`}
                      className="text-bottle hover:underline"
                    >
                      {one.title || "untitled"}
                    </Link>
                  </th>
                  <td className="max-w-[180px] truncate text-left">{one.source}</td>
                  <td className="whitespace-nowrap text-left">{date(one.date)}</td>
                  <td className="pl-3">{whole(one.places)}</td>
                  <td className="pl-3">{whole(one.codes)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <Pages start={start} most={PAGE} total={page.total} onStart={setStart} />
        </>
      )}
    </div>
  );
}

/** To and fro in a long list. */
export function Pages({
  start,
  most,
  total,
  onStart,
}: {
  start: number;
  most: number;
  total: number;
  onStart: (start: number) => void;
}) {
  if (total <= most) return null;
  return (
    <div className="flex items-center gap-3 py-2">
      <Button disabled={start === 0} onClick={() => onStart(Math.max(0, start - most))}>
        ‹ Before
      </Button>
      <span className="text-ink2">
        {whole(start + 1)} to {whole(Math.min(start + most, total))} of {whole(total)}
      </span>
      <Button disabled={start + most >= total} onClick={() => onStart(start + most)}>
        After ›
      </Button>
    </div>
  );
}
