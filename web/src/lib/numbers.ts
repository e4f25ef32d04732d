/** Whole numbers with thousands parted. */
export function whole(value: number): string {
  return value.toLocaleString("en-GB", { maximumFractionDigits: 0 });
}

/** At most three significant places; a dash where it is not defined. */
export function three(value: number | null | undefined): string {
  if (value === null || value === undefined || !Number.isFinite(value)) return "–";
  if (value === 0) return "0";
  if (Math.abs(value) >= 100) return whole(value);
  const places =
    Math.abs(value) >= 10
      ? 1
      : Math.abs(value) >= 1
        ? 2
        : Math.min(6, 2 - Math.floor(Math.log10(Math.abs(value))));
  const written = value.toFixed(places);
  return Number(written) ? written : "0";
}

/** A share as a percentage with one place. */
export function percent(value: number | null | undefined): string {
  return value === null || value === undefined ? "–" : `${(value * 100).toFixed(1)}%`;
}

const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

/** 2031-06-03 as 3 Jun 2031. */
export function date(iso: string | null | undefined): string {
  if (!iso) return "";
  const [year, month, day] = iso.slice(0, 10).split("-").map(Number);
  return `${day} ${MONTHS[(month ?? 1) - 1]} ${year}`;
}

export function plural(count: number, one: string, many = `${one}s`): string {
  return `${whole(count)} ${count === 1 ? one : many}`;
}

/** Round steps from ``low`` to ``high``, about ``count`` of them. */
export function ticks(high: number, count = 6, low = 0): number[] {
  if (!(high > low)) return [low];
  const raw = (high - low) / count;
  const unit = 10 ** Math.floor(Math.log10(raw));
  const step = [1, 2, 2.5, 5, 10].map((m) => m * unit).find((s) => s >= raw)!;
  const out: number[] = [];
  const near = step * 1e-4;
  for (let n = Math.ceil((low - near) / step); n * step <= high + near; n += 1)
    out.push(Number((n * step).toPrecision(12)));
  return out;
}
