import { useMemo } from "react";
import type { Condition, Schema } from "../../api/client";
import { type Evidence, evidenceFromText, ofSearch } from "../../data/comparison";
import { useAddress } from "../../data/project";

/** What a view shows the hits of where that is no typed search: a category, terms; in the address. */
export const OF = "of";

export function useNamed() {
  const [written, keep] = useAddress(OF, "");
  const named = useMemo(() => evidenceFromText(written), [written]);
  return { named, drop: () => keep("") };
}

/** What a concordance or its company is asked for: the cell of a comparison. */
export type Asked = Pick<Schema["EvidenceRequest"], "comparison" | "cell">;

/** The hits of what is named, else of a search; none where neither is there. */
export function askedFor(query: string, named: Evidence | null, scope: readonly Condition[]): Asked | null {
  if (named)
    return { comparison: { ...named.comparison, scope: [...scope], split: {} }, cell: named.cell ?? {} };
  return query.trim() ? { comparison: ofSearch(query.trim(), scope), cell: {} } : null;
}

/** The search that was asked for, "" for anything else. */
export function queryOf(asked: Asked): string {
  return asked.comparison.target.kind === "search" ? asked.comparison.target.query : "";
}
