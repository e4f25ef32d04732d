import { useRateUnit } from "../../data/measures";
import { three, whole } from "../../lib/numbers";

const HEIGHT = 18;
const MOST = 12;

/** Small columns that show where a term falls; each opens its passages. */
export function Falls({
  groups,
  rates,
  hits,
  colour,
  top,
  onOpen,
}: {
  groups: readonly string[];
  rates: readonly (number | null)[];
  hits: readonly number[];
  colour: number;
  top: number;
  onOpen?: (group: string) => void;
}) {
  const unit = useRateUnit();
  const shown = groups.slice(0, MOST);
  return (
    <span className="inline-flex items-end gap-[5px]" style={{ height: HEIGHT }}>
      {shown.map((group, at) => {
        const rate = rates[at] ?? 0;
        const height = rate > 0 && top > 0 ? Math.max(2, Math.sqrt(rate / top) * HEIGHT) : 1;
        const label = `${group}: ${three(rates[at])} ${unit}, ${whole(hits[at] ?? 0)} hits`;
        return (
          <button
            key={group}
            type="button"
            title={label}
            aria-label={label}
            disabled={!onOpen || !hits[at]}
            onClick={() => onOpen?.(group)}
            className="flex h-full w-[20px] items-end"
          >
            <span
              className="w-full rounded-t-[1px]"
              style={{
                height,
                background: rate > 0 ? `var(--c${colour % 10})` : "var(--line2)",
                opacity: rate > 0 ? 0.85 : 1,
              }}
            />
          </button>
        );
      })}
      {groups.length > MOST && <span className="text-ink3">+{groups.length - MOST}</span>}
    </span>
  );
}
