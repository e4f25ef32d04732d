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
import type { OfNumbers } from "./numbers";

export const PERIODS = ["year", "quarter", "month", "week", "day"] as const;
export type Drawing = "dots" | "table" | "bars" | "trend" | "heat" | "area" | "flow" | "cloud" | "map";
export const DRAWINGS: readonly { value: Drawing; label: string }[] = [
  { value: "dots", label: "Dots" },
  { value: "table", label: "Table" },
  { value: "bars", label: "Bars" },
  { value: "trend", label: "Over time" },
  { value: "heat", label: "Heat" },
  { value: "area", label: "Areas" },
  { value: "flow", label: "Flow" },
  { value: "cloud", label: "Cloud" },
  { value: "map", label: "Map" },
];
export const ORDERS = [
  { value: "", label: "original order" },
  { value: "rows", label: "rows by value" },
  { value: "groups", label: "groups by value" },
  { value: "both", label: "both by value" },
  { value: "names", label: "both by name" },
];

/** The comparison of the page, all of it in the address, and how it is drawn. */
export function useCompared(dictionary: number | null) {
  const { scope } = useScope();
  const fields = useFields();
  const split = useUsualSplit();
  const [search, setSearch] = useSearchParams();
  const [draw, setDraw] = useAddress("draw", "");
  const [against, setAgainst] = useAddress("against", "");
  const [order, setOrder] = useAddress("order", "");
  const [smooth, setSmooth] = useAddress("smooth", "1");
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
  const simple = !comparison.split?.crossed && !comparison.split?.merged?.length;
  const dated = field?.kind === "date" && simple && !comparison.split?.without?.length;
  const second = fields.find((one) => one.key === comparison.split?.crossed?.field);
  const crossedDate =
    (field?.kind === "date" && second) || (field && second?.kind === "date")
      ? field?.kind === "date"
        ? ("first" as const)
        : ("second" as const)
      : null;
  const usual = dated ? "trend" : "dots";
  const { target } = comparison;
  const fits =
    (draw !== "trend" || dated || crossedDate) && (target.kind !== "numbers" || fitsNumbers(draw, target));
  return {
    comparison,
    change,
    fields,
    field,
    dated,
    /** Which of two crossed fields is a date. */
    crossedDate,
    draw: ((fits && draw) || usual) as Drawing,
    setDraw,
    against,
    setAgainst,
    order,
    setOrder,
    /** Over how many periods a moving average runs; 1 for none. */
    smooth: Math.max(1, Number(smooth) || 1),
    setSmooth: (periods: number) => setSmooth(String(periods)),
  };
}

/** Means are no parts of a whole, and numbers of unlike kinds stand on scales of their own. */
export function fitsNumbers(draw: string, target: OfNumbers): boolean {
  if (["area", "flow", "cloud", "map"].includes(draw)) return false;
  return target.numbers.length === 1 || !["bars", "heat"].includes(draw);
}

export type Compared = ReturnType<typeof useCompared>;
