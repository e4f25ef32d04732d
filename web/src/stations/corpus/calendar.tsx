import { useQuery } from "@tanstack/react-query";
import { api, type Condition, data } from "../../api/client";
import { keys } from "../../data/keys";
import { useProjectId, useScope, useSummary } from "../../data/project";
import { plural, whole } from "../../lib/numbers";
import { Failure, Waiting } from "../../parts/controls";

const MONTHS = ["J", "F", "M", "A", "M", "J", "J", "A", "S", "O", "N", "D"];

/** Texts per source and month as shades; a click narrows the scope. */
export function Calendar() {
  const project_id = useProjectId();
  const revision = useSummary().data?.revision;
  const { scope, setScope } = useScope();
  const found = useQuery({
    queryKey: keys.of(project_id, "calendar", revision, scope),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/check/calendar", {
          params: { path: { project_id } },
          body: { scope: [...scope] },
        }),
      ),
    enabled: revision !== undefined,
    placeholderData: (before) => before,
  });
  if (found.error) return <Failure error={found.error} />;
  if (!found.data) return <Waiting what="Counting" />;
  const { labels, sources, counts, first_days, last_days, period } = found.data;
  if (!labels.length) return <p className="text-ink2">No text in scope has a date.</p>;
  const most = Math.max(1, ...counts.flat());
  const narrow = (source: string | null, at: number) =>
    setScope([
      ...scope.filter(
        (one) =>
          !(one.kind === "dates" && one.field === "date") &&
          !(one.kind === "values" && one.field === "source"),
      ),
      { kind: "values", field: "source", values: [source], exclude: false } as Condition,
      {
        kind: "dates",
        field: "date",
        low: first_days[at]!,
        high: last_days[at]!,
        exclude: false,
      } as Condition,
    ]);
  const short = (label: string) => (period === "month" ? MONTHS[Number(label.slice(5)) - 1] : label.slice(2));
  return (
    <div className="overflow-x-auto">
      <table className="border-separate border-spacing-[2px]">
        <thead>
          <tr>
            <th />
            {labels.map((label) => (
              <th
                key={label}
                title={label}
                className="min-w-[22px] text-center text-[11px] font-normal text-ink2"
              >
                {short(label)}
              </th>
            ))}
            <th className="pl-2 text-right text-[11px] font-normal text-ink2">texts</th>
          </tr>
        </thead>
        <tbody>
          {sources.map((source, row) => (
            <tr key={source ?? ""}>
              <th className="max-w-[170px] truncate pr-2 text-left font-normal">{source ?? "no source"}</th>
              {labels.map((label, at) => {
                const texts = counts[row]![at]!;
                return (
                  <td key={label} className="p-0">
                    <button
                      type="button"
                      disabled={!texts}
                      onClick={() => narrow(source, at)}
                      aria-label={`${source ?? "no source"}, ${label}: ${plural(texts, "text")}`}
                      title={`${label}: ${plural(texts, "text")}`}
                      className="block h-[20px] w-full min-w-[22px] rounded-[2px] border border-line disabled:cursor-default"
                      style={
                        texts
                          ? {
                              background: `rgb(from var(--bottle) r g b / ${0.12 + 0.88 * Math.sqrt(texts / most)})`,
                            }
                          : {}
                      }
                    />
                  </td>
                );
              })}
              <td className="pl-2 text-right">
                {whole(counts[row]!.reduce((sum, texts) => sum + texts, 0))}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
