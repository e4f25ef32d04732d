import { type Schema, saveFile } from "../../api/client";
import { useProjectId } from "../../data/project";
import { percent, whole } from "../../lib/numbers";
import { Button } from "../../parts/controls";
import { useToast } from "../../parts/toast";

/** Hits of two dictionaries or versions, category by category and group by group. */
export function Sides({ sides, request }: { sides: Schema["SidesPublic"]; request: Schema["SidesRequest"] }) {
  const project_id = useProjectId();
  const { fail } = useToast();
  const sum = (numbers: readonly number[]) => numbers.reduce((a, b) => a + b, 0);
  const sign = (change: number) =>
    change > 0 ? `+${whole(change)}` : change < 0 ? `−${whole(-change)}` : "0";
  return (
    <div>
      <div className="mb-1.5 flex items-center gap-3">
        <span className="text-ink2">
          Each cell: hits of <b className="text-ink">{sides.first}</b>, below what{" "}
          <b className="text-ink">{sides.second}</b> has more or less.
        </span>
        <Button
          className="ml-auto"
          onClick={() =>
            void saveFile(`/api/v1/projects/${project_id}/dictionaries/side-by-side/export`, request).catch(
              fail,
            )
          }
        >
          Numbers as .csv
        </Button>
      </div>
      <div className="overflow-auto rounded-md border border-line bg-sheet">
        <table className="w-full" aria-label="Side by side">
          <thead className="text-ink2">
            <tr>
              <th className="border-b border-line2 px-2.5 py-1.5 text-left font-semibold">Category</th>
              <th className="border-b border-line2 px-2.5 py-1.5 text-right font-semibold">All</th>
              <th
                className="border-b border-line2 px-2.5 py-1.5 text-right font-semibold whitespace-nowrap"
                title="Hits of the first that share a word with a hit of the second"
              >
                In both
              </th>
              {sides.groups.map((group) => (
                <th key={group} className="border-b border-line2 px-2.5 py-1.5 text-right font-semibold">
                  {group}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {sides.rows.map((row) => {
              const [first, second] = [row.hits[0]!, row.hits[1]!];
              const cell = (a: number, b: number) => (
                <>
                  <div>{row.in_first ? whole(a) : "–"}</div>
                  <div
                    className={`text-[11.5px] ${b === a ? "text-ink3" : b > a ? "text-bottle" : "text-rust"}`}
                  >
                    {!row.in_first ? whole(b) : row.in_second ? sign(b - a) : "gone"}
                  </div>
                </>
              );
              return (
                <tr key={row.label} className="border-b border-line last:border-0">
                  <td className="px-2.5 py-1 font-semibold" style={{ paddingLeft: 10 + row.depth * 14 }}>
                    {row.label.split(" > ").at(-1)}
                    {!row.in_first && (
                      <span className="ml-2 font-normal text-bottle">only in the second</span>
                    )}
                    {!row.in_second && <span className="ml-2 font-normal text-rust">only in the first</span>}
                  </td>
                  <td className="px-2.5 text-right">{cell(sum(first), sum(second))}</td>
                  <td className="px-2.5 text-right">
                    {row.in_first && row.in_second ? (
                      <>
                        <div>{whole(row.both)}</div>
                        <div className="text-[11.5px] text-ink2">
                          {sum(first) ? percent(row.both / sum(first)) : "–"}
                        </div>
                      </>
                    ) : (
                      "–"
                    )}
                  </td>
                  {sides.groups.map((group, at) => (
                    <td key={group} className="px-2.5 text-right">
                      {cell(first[at] ?? 0, second[at] ?? 0)}
                    </td>
                  ))}
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </div>
  );
}
