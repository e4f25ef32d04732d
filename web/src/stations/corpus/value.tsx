import { date } from "../../lib/numbers";

export const None = () => <span className="text-ink3">–</span>;

/** A value of any kind, several of them parted by semicolons. */
export function Value({ value, kind }: { value: string | number | string[] | null; kind?: string }) {
  if (value === null || (Array.isArray(value) && !value.length)) return <None />;
  if (Array.isArray(value)) return <>{value.join("; ")}</>;
  if (typeof value === "number")
    return (
      <>
        {value.toLocaleString("en-GB", { maximumFractionDigits: 6, useGrouping: Math.abs(value) >= 10_000 })}
      </>
    );
  return <>{kind === "date" ? date(value) : value}</>;
}

/** A value as one types it. */
export function written(value: string | number | string[] | null): string {
  if (value === null) return "";
  return Array.isArray(value) ? value.join("; ") : String(value);
}
