import { Field, Select } from "../../parts/controls";
import { type Compared, PERIODS } from "./settings";

const MOST = 3;

/** Fields that are held equal while the groups are compared. */
export function HeldEqual({ compared }: { compared: Compared }) {
  const { comparison, fields, change } = compared;
  const held = comparison.adjust ?? [];
  const across = comparison.split?.field;
  if (!across) return null;
  const taken = new Set([across, ...held.map((one) => one.field)]);
  const left = fields.filter(
    (field) => field.kind !== "several" && field.kind !== "text" && !taken.has(field.key),
  );
  const set = (adjust: typeof held) => {
    const measure = comparison.measure ?? "rate";
    const usual = adjust.length ? "adjusted" : "rate";
    change({ adjust, measure: measure === "rate" || measure === "adjusted" ? usual : measure });
  };
  const add = (key: string) => {
    const dated = fields.find((field) => field.key === key)?.kind === "date";
    if (key) set([...held, { field: key, period: dated ? "month" : null }]);
  };
  return (
    <Field label="Control for">
      {(id) => (
        <div className="grid gap-1.5">
          {held.map((one) => {
            const field = fields.find((known) => known.key === one.field);
            const name = field?.name ?? one.field ?? "";
            return (
              <div key={one.field} className="flex items-center gap-1 rounded-[5px] bg-tint px-2 py-0.5">
                <span className="min-w-0 flex-1 truncate" title={name}>
                  {name}
                </span>
                {field?.kind === "date" && (
                  <select
                    aria-label={`Period of ${name}`}
                    value={one.period ?? "month"}
                    onChange={(event) =>
                      set(
                        held.map((each) =>
                          each.field === one.field
                            ? { ...each, period: event.target.value as "month" }
                            : each,
                        ),
                      )
                    }
                    className="bg-transparent text-ink2"
                  >
                    {PERIODS.map((period) => (
                      <option key={period} value={period}>
                        {period}
                      </option>
                    ))}
                  </select>
                )}
                <button
                  type="button"
                  aria-label={`No longer control for ${name}`}
                  onClick={() => set(held.filter((each) => each.field !== one.field))}
                  className="px-0.5 text-ink2 hover:text-ink"
                >
                  ×
                </button>
              </div>
            );
          })}
          {held.length < MOST && left.length > 0 && (
            <Select
              id={id}
              value=""
              choices={[
                { value: "", label: held.length ? "and…" : "nothing" },
                ...left.map((field) => ({ value: field.key, label: field.name })),
              ]}
              onChange={add}
            />
          )}
        </div>
      )}
    </Field>
  );
}
