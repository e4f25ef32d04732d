import { useState } from "react";
import { type EventInTime, useEventChanges, useEvents } from "../../data/answers";
import type { Comparison } from "../../data/comparison";
import { useSummary } from "../../data/project";
import { date } from "../../lib/numbers";
import { useDraft } from "../../lib/usedraft";
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
        <div key={event.id} className="flex items-center gap-2 py-1">
          <EventField event={event} name="day" writes={writes} change={change} />
          <EventField event={event} name="name" writes={writes} change={change} />
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

/** The day or the name of an event, stored when the field is left. */
function EventField({
  event,
  name,
  writes,
  change,
}: {
  event: EventInTime;
  name: "day" | "name";
  writes: boolean;
  change: ReturnType<typeof useEventChanges>["change"];
}) {
  const { field, refused } = useDraft({
    of: `event ${event.id} ${name}`,
    stored: event[name],
    revision: event.revision,
    save: (written, revision) => change.mutateAsync({ ...event, [name]: written, revision }),
    empty: false,
  });
  return (
    <input
      {...field}
      type={name === "day" ? "date" : "text"}
      aria-label={name === "day" ? `Day of ${event.name}` : `Name of the event of ${date(event.day)}`}
      maxLength={200}
      disabled={!writes}
      className={`rounded border bg-sheet px-1 ${name === "name" ? "min-w-0 flex-1" : ""} ${refused ? "border-rust" : "border-line"}`}
    />
  );
}

function dayBefore(day: string): string {
  const found = new Date(`${day}T00:00:00Z`);
  found.setUTCDate(found.getUTCDate() - 1);
  return found.toISOString().slice(0, 10);
}
