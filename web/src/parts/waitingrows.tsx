import type { Entry } from "../lib/outbox";

/** What was added and is not stored yet, row by row; what was refused can be changed or discarded. */
export function WaitingRows<Given>({
  of: { entries, drop },
  onEdit,
  className = "",
}: {
  of: { entries: readonly Entry<Given>[]; drop: (key: string) => void };
  /** Puts one back into the field it came from. */
  onEdit?: (given: Given) => void;
  className?: string;
}) {
  if (!entries.length) return null;
  return (
    <ul aria-label="Not saved yet" className={`text-left ${className}`}>
      {entries.map((one) => (
        <li
          key={one.key}
          data-waiting={one.state}
          className="flex min-w-0 flex-wrap items-baseline gap-x-2 border-b border-line px-2 py-1"
        >
          <span className="min-w-0 truncate font-semibold" title={one.label}>
            {one.label}
          </span>
          {one.state !== "refused" ? (
            <span className="text-ink2">{one.state === "saved" ? "saved" : "saving…"}</span>
          ) : (
            <span role="alert" className="flex min-w-0 flex-wrap items-baseline gap-x-2 text-rust">
              {one.reason}
              <span className="flex shrink-0 gap-2 whitespace-nowrap">
                {onEdit && (
                  <button
                    type="button"
                    className="font-semibold underline"
                    onClick={() => {
                      drop(one.key);
                      onEdit(one.given);
                    }}
                  >
                    Edit
                  </button>
                )}
                <button type="button" className="underline" onClick={() => drop(one.key)}>
                  Discard
                </button>
              </span>
            </span>
          )}
        </li>
      ))}
    </ul>
  );
}
