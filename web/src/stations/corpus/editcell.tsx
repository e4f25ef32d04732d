import { useState } from "react";
import type { Schema } from "../../api/client";
import { useSetValues } from "../../data/variables";
import { ValueInput } from "./editvalue";

/** The value of one text, changed in its place in the table. */
export function EditCell({
  line,
  head,
  value,
  onDone,
}: {
  line: Schema["TextLine"];
  head: { key: string; kind: string };
  value: string;
  onDone: () => void;
}) {
  const [now, setNow] = useState(value);
  const set = useSetValues();
  const keep = () => {
    if (now.trim() !== value)
      set.mutate({
        ids: [line.id],
        scope: [],
        find: "",
        field: head.key,
        value: now.trim() || null,
        mode: "replace",
        seen: value,
      });
    onDone();
  };
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: its keys are those of the list that holds it
    <div role="cell" className="px-1" onClick={(event) => event.stopPropagation()}>
      <ValueInput
        field={head.key}
        kind={head.kind}
        value={now}
        onChange={setNow}
        onKeep={keep}
        onLeave={onDone}
        autoFocus
      />
    </div>
  );
}
