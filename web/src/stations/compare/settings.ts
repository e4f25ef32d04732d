import { useCallback, useMemo } from "react";
import { useSearchParams } from "react-router";
import {
  type Comparison,
  comparisonFromSearch,
  ofCodes,
  ofDictionary,
  searchWithComparison,
} from "../../data/comparison";
import { addressNow, useAddress, useFields, useScope, useUsualSplit } from "../../data/project";

export const PERIODS = ["year", "quarter", "month", "week", "day"] as const;
export type Drawing = "dots" | "table" | "trend";

/** The comparison of the page, all of it in the address, and how it is drawn. */
export function useCompared(dictionary: number | null) {
  const { scope } = useScope();
  const fields = useFields();
  const split = useUsualSplit();
  const [search, setSearch] = useSearchParams();
  const [draw, setDraw] = useAddress("draw", "");
  const [against, setAgainst] = useAddress("against", "");
  const written = search.get("compare") ?? "";
  const comparison = useMemo(
    () =>
      comparisonFromSearch(
        new URLSearchParams({ compare: written }),
        scope,
        dictionary === null ? ofCodes(scope, split) : ofDictionary(dictionary, scope, split),
      ),
    [written, scope, dictionary, split],
  );
  const change = useCallback(
    (part: Partial<Comparison>) =>
      setSearch(searchWithComparison(addressNow(), { ...comparison, ...part }), { replace: true }),
    [comparison, setSearch],
  );
  const field = fields.find((one) => one.key === comparison.split?.field);
  const dated = field?.kind === "date";
  const drawing = (draw || (dated ? "trend" : "dots")) as Drawing;
  return { comparison, change, fields, field, dated, draw: drawing, setDraw, against, setAgainst };
}

export type Compared = ReturnType<typeof useCompared>;
