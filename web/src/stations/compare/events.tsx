import { useState } from "react";
import { type EventInTime, useEventChanges, useEvents } from "../../data/answers";
import type { Comparison } from "../../data/comparison";
import { useSummary } from "../../data/project";
import { date } from "../../lib/numbers";
import { Button, Input, Popover } from "../../parts/controls";
import { WaitingRows } from "../../parts/waitingrows";

/** Events of the project: marked, changed, removed; what lies before one and after it is set side by side. */
export function Events({
  comparison,
  onSplit,
}: {
  comparison: Comparison;
  onSplit: (split: Comparison["split"]) => void;
}) {
  const events = useEvents();
  const { make, change, remove } = useEventChanges();
  const writes = useSummary().data?.role !== "reader";
  const [day, setDay] = useState("");
  const [name, setName] = useState("");
  const field = comparison.split?.field ?? "date";
  const around = (event: EventInTime) =>
    onSplit({
      parts: [
        {
          name: `before ${event.name}`,
          conditions: [{ kind: "dates", field, low: null, high: dayBefore(event.day), exclude: false }],
        },
        {
          name: `from ${event.name} on`,
          conditions: [{ kind: "dates", field, low: event.day, high: null, exclude: false }],
        },
      ],
    });
  const add = () => {
    const given = { day, name: name.trim() };
    setDay("");
    setName("");
    make.add(given);
  };
  return (
    <Popover
      width={430}
      trigger={
        <Button>
          Events <span className="text-ink2">({events.length})</span>
        </Button>
      }
    >
      {events.map((event) => (
        <div key={`${event.id}.${event.revision}`} className="flex items-center gap-2 py-1">
          <input
            type="date"
            aria-label={`Day of ${event.name}`}
            defaultValue={event.day}
            disabled={!writes}
            onBlur={(entered) =>
              entered.target.value &&
              entered.target.value !== event.day &&
              change.mutate({ ...event, day: entered.target.value })
            }
            className="rounded border border-line bg-sheet px-1"
          />
          <input
            aria-label={`Name of the event of ${date(event.day)}`}
            defaultValue={event.name}
            maxLength={200}
            disabled={!writes}
            onBlur={(entered) =>
              entered.target.value.trim() &&
              entered.target.value !== event.name &&
              change.mutate({ ...event, name: entered.target.value })
            }
            className="min-w-0 flex-1 rounded border border-transparent bg-transparent px-1 hover:border-line"
          />
          <Button look="ghost" onClick={() => around(event)}>
            Before and after
          </Button>
          {writes && (
            <button
              type="button"
              aria-label={`Remove ${event.name}`}
              onClick={() => remove.mutate(event)}
              className="px-1 text-ink2 hover:text-ink"
            >
              ×
            </button>
          )}
        </div>
      ))}
      <WaitingRows
        of={make}
        onEdit={(given) => {
          setDay(given.day);
          setName(given.name);
        }}
      />
      {!events.length && (
        <p className="mb-2 text-ink2">Nothing is marked yet. Events are drawn wherever time is.</p>
      )}
      {writes && (
        <form
          className="mt-2 flex items-center gap-2 border-t border-line pt-2.5"
          onSubmit={(event) => {
            event.preventDefault();
            add();
          }}
        >
          <Input
            type="date"
            aria-label="Day of a new event"
            value={day}
            onChange={(event) => setDay(event.target.value)}
            className="w-auto!"
          />
          <Input
            aria-label="Name of a new event"
            placeholder="What happened"
            value={name}
            maxLength={200}
            onChange={(event) => setName(event.target.value)}
          />
          <Button type="submit" disabled={!day || !name.trim()}>
            Mark
          </Button>
        </form>
      )}
    </Popover>
  );
}

function dayBefore(day: string): string {
  const found = new Date(`${day}T00:00:00Z`);
  found.setUTCDate(found.getUTCDate() - 1);
  return found.toISOString().slice(0, 10);
}
