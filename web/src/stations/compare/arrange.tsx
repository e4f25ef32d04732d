import { useState } from "react";
import { Button, Input, Popover } from "../../parts/controls";

export interface Arranged {
  merged: readonly { name: string; members: readonly string[] }[];
  without: readonly string[];
}

/** Take rows or groups together, leave some out, take them back. */
export function Arrange({
  label,
  nouns,
  items,
  arranged,
  onChange,
  onMove,
  together = true,
}: {
  label: string;
  nouns: string;
  /** What is there now, by what it is known by and what it is called. */
  items: readonly { key: string; label: string }[];
  arranged: Arranged;
  onChange: (arranged: Arranged) => void;
  /** Moves one by a place; left out where their order is given. */
  onMove?: ((key: string, by: 1 | -1) => void) | undefined;
  /** Whether some can be taken together as one. */
  together?: boolean;
}) {
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [name, setName] = useState("");
  const { merged, without } = arranged;
  const free = items.filter((one) => !merged.some((group) => group.name === one.key));
  const here = chosen.filter((key) => free.some((one) => one.key === key));
  const touched = merged.length + without.length;
  const done = (next: Arranged) => {
    setChosen([]);
    setName("");
    onChange(next);
  };
  return (
    <Popover
      width={330}
      trigger={
        <Button>
          {label}
          {touched > 0 && <span className="text-ink2">({touched} changed)</span>}
        </Button>
      }
    >
      <fieldset
        className="max-h-[220px] overflow-auto"
        aria-label={`${nouns} to ${together ? "take together or " : ""}leave out`}
      >
        {free.map((one) => (
          <div key={one.key} className="flex items-center gap-1">
            <label className="flex min-w-0 flex-1 items-center gap-2 py-0.5">
              <input
                type="checkbox"
                checked={here.includes(one.key)}
                onChange={(event) =>
                  setChosen(event.target.checked ? [...here, one.key] : here.filter((key) => key !== one.key))
                }
              />
              <span className="min-w-0 truncate">{one.label}</span>
            </label>
            {onMove && <Moves label={one.label} onMove={(by) => onMove(one.key, by)} />}
          </div>
        ))}
      </fieldset>
      {together && (
        <div className="mt-2.5 flex items-center gap-2">
          <Input
            aria-label="Name of what is taken together"
            placeholder="Name, to take them together"
            value={name}
            maxLength={300}
            disabled={here.length < 2}
            onChange={(event) => setName(event.target.value)}
          />
          <Button
            disabled={here.length < 2 || !name.trim()}
            onClick={() => done({ merged: [...merged, { name: name.trim(), members: here }], without })}
          >
            Together
          </Button>
        </div>
      )}
      <Button
        className="mt-2"
        disabled={!here.length || here.length === items.length}
        onClick={() => done({ merged, without: [...without, ...here] })}
      >
        Leave {here.length || ""} out
      </Button>
      {touched > 0 && (
        <div className="mt-3 border-t border-line pt-2">
          {merged.map((group) => (
            <Back
              key={group.name}
              what={`${group.name}: ${group.members.join(", ")}`}
              does={`Part ${group.name} again`}
              onBack={() => done({ merged: merged.filter((one) => one !== group), without })}
            />
          ))}
          {without.map((key) => (
            <Back
              key={key}
              what={`without ${key}`}
              does={`Take ${key} back`}
              onBack={() => done({ merged, without: without.filter((one) => one !== key) })}
            />
          ))}
        </div>
      )}
    </Popover>
  );
}

function Moves({ label, onMove }: { label: string; onMove: (by: 1 | -1) => void }) {
  return ([-1, 1] as const).map((by) => (
    <button
      key={by}
      type="button"
      aria-label={`Move ${label} ${by < 0 ? "up" : "down"}`}
      onClick={() => onMove(by)}
      className="px-1 text-ink3 hover:text-ink"
    >
      {by < 0 ? "↑" : "↓"}
    </button>
  ));
}

function Back({ what, does, onBack }: { what: string; does: string; onBack: () => void }) {
  return (
    <div className="flex items-center gap-2 py-0.5">
      <span className="min-w-0 flex-1 truncate text-ink2" title={what}>
        {what}
      </span>
      <button type="button" aria-label={does} title={does} onClick={onBack} className="px-1 text-bottle">
        ×
      </button>
    </div>
  );
}
