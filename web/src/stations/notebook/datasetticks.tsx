import { Button, Popover } from "../../parts/controls";

/** What can be ticked. */
export interface Item {
  key: string;
  label: string;
  on: boolean;
}

/** Words of the sentence that open a list to tick. */
export function Ticked({
  label,
  said,
  groups,
  onTick,
  onAll,
}: {
  label: string;
  said: string;
  groups: readonly { label: string; items: readonly Item[] }[];
  onTick: (key: string, on: boolean) => void;
  onAll?: (on: boolean) => void;
}) {
  const there = groups.filter((group) => group.items.length);
  return (
    <Popover
      width={320}
      trigger={
        <button
          type="button"
          aria-label={`${label}: ${said}`}
          className="border-b-[1.5px] border-bottle leading-tight font-semibold text-bottle hover:bg-tint"
        >
          {said}
        </button>
      }
    >
      {!there.length && (
        <p className="text-ink2">There is nothing to count yet: no dictionary, code or run.</p>
      )}
      {there.map((group) => (
        <fieldset key={group.label} className="mb-2 last:mb-0">
          <legend className="mb-1 font-bold text-ink2">{group.label}</legend>
          {onAll && (
            <div className="mb-1 flex gap-3">
              <Button look="ghost" onClick={() => onAll(true)}>
                All
              </Button>
              <Button look="ghost" onClick={() => onAll(false)}>
                None
              </Button>
            </div>
          )}
          {group.items.map((item) => (
            <label key={item.key} className="flex items-center gap-2 py-0.5">
              <input
                type="checkbox"
                checked={item.on}
                onChange={(event) => onTick(item.key, event.target.checked)}
              />
              <span className="truncate">{item.label}</span>
            </label>
          ))}
        </fieldset>
      ))}
    </Popover>
  );
}
