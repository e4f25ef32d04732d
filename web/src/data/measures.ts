import { useQuery } from "@tanstack/react-query";
import { api, data } from "../api/client";
import { percent, three, whole } from "../lib/numbers";
import type { Measure } from "./comparison";
import { keys } from "./keys";

/** All measures, as the server knows them: what they are called, their units, how they are written. */
export function useMeasures(): readonly Measure[] {
  const found = useQuery({
    queryKey: keys.measures,
    queryFn: () => data(api.GET("/api/v1/measures")),
    staleTime: Infinity,
  });
  return found.data ?? [];
}

/** The unit of a rate, as it stands behind a number: "per 1,000 words". */
export function useRateUnit(): string {
  return useMeasures().find((one) => one.name === "rate")?.axis ?? "";
}

/** The level of an interval as it is written: "95%". */
export function levelText(level: number | undefined): string {
  return `${Math.round((level ?? 0.95) * 1e4) / 100}%`;
}

/** A value as it is shown in the form of its measure; a dash where it is not defined. */
export function written(value: number | null, form: Measure["form"]): string {
  if (form === "percent") return percent(value);
  if (form === "count") return value === null ? "–" : whole(value);
  return three(value);
}
