import { useQuery } from "@tanstack/react-query";
import { api, data, type Schema } from "../../api/client";
import { ofTerms, type Table } from "../../data/comparison";
import { keys } from "../../data/keys";
import { useProjectId, useSummary } from "../../data/project";
import { percent } from "../../lib/numbers";
import { termOf } from "../../lib/terms";
import { Button, Failure, Popover, Swatch, Waiting } from "../../parts/controls";
import { useEvidence } from "../../shell/evidence";
import { pText } from "./scale";

type Term = Schema["SingleTerm"];

/** What single terms do to the result; asked for once the comparison itself is there. */
export function useSingleTerms(table: Table) {
  const project_id = useProjectId();
  const revision = useSummary().data?.revision;
  const { measure: _, adjust: __, ...asked } = table.comparison;
  const body = { ...asked, measure: "rate", adjust: [] };
  return useQuery({
    queryKey: keys.of(project_id, "compare", revision, "terms", body),
    queryFn: () =>
      data(
        api.POST("/api/v1/projects/{project_id}/compare/terms", { params: { path: { project_id } }, body }),
      ),
    enabled: table.comparison.target.kind === "dictionary" && table.test.reason === null,
    retry: false,
  });
}

/** Each category without each of its terms that has much of its hits. */
export function SingleTerms({ table }: { table: Table }) {
  const found = useSingleTerms(table);
  if (!found.isEnabled) return null;
  return (
    <Popover width={580} trigger={<Button>Single terms</Button>}>
      <p className="mb-2 text-ink2">
        The test of a category without each term that has a fifth or more of its hits; all else stays as it
        is.
      </p>
      {found.isPending && <Waiting what="Leaving out one term at a time" />}
      {found.error && <Failure error={found.error} />}
      {found.data && !found.data.terms.length && <p>{found.data.statements[0]?.headline}</p>}
      {!!found.data?.terms.length && <TermTable terms={found.data.terms} table={table} />}
    </Popover>
  );
}

function TermTable({ terms, table }: { terms: readonly Term[]; table: Table }) {
  const { show } = useEvidence();
  const head = "border-b border-line2 px-1.5 py-1 text-right font-semibold text-ink2 align-bottom";
  const scope = table.comparison.scope ?? [];
  return (
    <table className="w-full">
      <thead>
        <tr>
          <th className={`${head} !text-left`}>Without</th>
          <th className={`${head} !text-left`}>Category</th>
          <th className={head}>of its hits</th>
          <th className={head}>p with</th>
          <th className={head}>without</th>
          <th
            className={head}
            title="Spread of the rates between the groups beyond chance, relative to the rate"
          >
            spread with
          </th>
          <th className={head}>without</th>
        </tr>
      </thead>
      <tbody>
        {terms.map((one) => (
          <tr key={`${one.row} ${one.term.source}`} className={one.turns ? "text-rust" : ""}>
            <td className="px-1.5 py-0.5">
              <button
                type="button"
                className="font-semibold hover:underline"
                onClick={() =>
                  show({
                    title: one.term.source,
                    colour: one.colour,
                    comparison: ofTerms([termOf(one.term)], scope, table.comparison.split),
                  })
                }
              >
                {one.term.source}
              </button>
            </td>
            <td className="px-1.5 whitespace-nowrap">
              <Swatch colour={one.colour} />
              {one.label}
            </td>
            <td className="px-1.5 text-right">{percent(one.share)}</td>
            <td className="px-1.5 text-right">{pText(one.p)}</td>
            <td className="px-1.5 text-right">{pText(one.p_without)}</td>
            <td className="px-1.5 text-right">{percent(one.between)}</td>
            <td className="px-1.5 text-right">{percent(one.between_without)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
