import { useMutation } from "@tanstack/react-query";
import { api, data } from "../../api/client";
import type { Finding } from "../../data/answers";
import { written } from "../../data/measures";
import { useProjectId, useScope } from "../../data/project";
import { three, whole } from "../../lib/numbers";
import { Button, Failure } from "../../parts/controls";
import { pText } from "../compare/scale";
import { Statements } from "../compare/statements";

/** The same finding over other texts: those of the scope, or those that came since it was kept. */
export function Beside({ finding }: { finding: Finding }) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const found = useMutation({
    mutationFn: (since: boolean) =>
      data(
        api.POST("/api/v1/projects/{project_id}/findings/{finding_id}/beside", {
          params: { path: { project_id, finding_id: finding.id } },
          body: since ? { since, scope: [] } : { since, scope: [...scope] },
        }),
      ),
  });
  const answer = found.data;
  return (
    <section aria-label="Over other texts" className="mb-3">
      <div className="flex flex-wrap items-center gap-2">
        <h2 className="font-[650]">Over other texts</h2>
        <Button onClick={() => found.mutate(false)} disabled={found.isPending || !scope.length}>
          Compare with the present scope
        </Button>
        <Button onClick={() => found.mutate(true)} disabled={found.isPending}>
          Compare with what came since
        </Button>
        {!scope.length && (
          <span className="text-ink2">Narrow the scope above to compare it with other texts.</span>
        )}
      </div>
      {found.error && (
        <div className="mt-2">
          <Failure error={found.error} />
        </div>
      )}
      {answer && (
        <div className="mt-2">
          <Statements statements={answer.statements} testid="beside-statements" />
          <section
            className="max-h-[320px] overflow-auto rounded-md border border-line bg-sheet"
            // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
            tabIndex={0}
            aria-label="Both, cell by cell"
          >
            <table className="w-full">
              <thead>
                <tr className="text-ink2">
                  {[
                    "Row",
                    "Group",
                    `Its texts (${whole(answer.first_texts)})`,
                    `The others (${whole(answer.second_texts)})`,
                    "Times",
                    "Interval",
                    "p",
                  ].map((head, at) => (
                    <th
                      key={head}
                      className={`border-b border-line2 px-2 py-1.5 font-semibold ${at < 2 ? "text-left" : "text-right"}`}
                    >
                      {head}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {answer.cells.map((one) => (
                  <tr key={`${one.row}.${one.group}`} className="h-[28px] border-b border-line last:border-0">
                    <td className="px-2 font-semibold">{one.row}</td>
                    <td className="px-2">{one.group}</td>
                    <td className="px-2 text-right">{written(one.first, answer.form)}</td>
                    <td className="px-2 text-right">{written(one.second, answer.form)}</td>
                    <td className="px-2 text-right">{three(one.ratio)}</td>
                    <td className="px-2 text-right text-ink2">
                      {one.low === null ? "–" : `${three(one.low)} to ${three(one.high)}`}
                    </td>
                    <td className="px-2 text-right">{pText(one.p)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
          <p className="mt-1 text-ink2">{answer.unit}</p>
        </div>
      )}
    </section>
  );
}
