import type { Schema } from "../../api/client";
import { initials } from "../../lib/names";
import { date, whole } from "../../lib/numbers";
import { EditCell } from "./editcell";
import { None, Value, written } from "./value";

type Line = Schema["TextLine"];

interface Head {
  key: string;
  name: string;
  right: boolean;
  kind: string;
}

const shownValue = (line: Line, key: string) =>
  key === "title"
    ? line.title
    : key === "source"
      ? line.source
      : key === "date"
        ? line.date
        : key === "words"
          ? line.words
          : (line.values[key] ?? null);

/** A value of a text in the table. */
export function Cell({
  line,
  progress,
  head,
  focused,
  editable,
  editing,
  onFocus,
  onEdit,
  onDone,
}: {
  line: Line;
  progress: Schema["TextProgress"] | undefined;
  head: Head;
  focused: boolean;
  editable: boolean;
  editing: boolean;
  onFocus: () => void;
  onEdit: () => void;
  onDone: () => void;
}) {
  const value = shownValue(line, head.key);
  const look = `truncate px-2.5 ${head.right ? "text-right" : ""} ${head.key === "title" ? "font-medium" : ""} ${focused ? "rounded outline outline-1 -outline-offset-1 outline-line2" : ""}`;
  if (editing) return <EditCell line={line} head={head} value={written(value)} onDone={onDone} />;
  const change =
    editable && head.key !== "title"
      ? {
          onDoubleClick: (event: React.MouseEvent) => {
            event.stopPropagation();
            onEdit();
          },
          onClick: (event: React.MouseEvent) => {
            event.stopPropagation();
            onFocus();
          },
          title: "Double click to change",
        }
      : {};
  return (
    <div
      role="cell"
      className={`${look} ${editable && head.key !== "title" ? "h-full cursor-text content-center hover:bg-tint/60" : ""}`}
      {...change}
    >
      {progress ? (
        <Progress of={progress} />
      ) : head.key === "words" ? (
        line.words ? (
          whole(line.words)
        ) : (
          <span className="text-rust" title="No text yet: a placeholder to fill">
            none
          </span>
        )
      ) : head.key === "date" ? (
        line.date ? (
          date(line.date)
        ) : (
          <None />
        )
      ) : (
        <Value value={value} kind={head.kind} />
      )}
    </div>
  );
}

/** How far coding of a text is: its passages, and who is through with it. */
function Progress({ of }: { of: Schema["TextProgress"] }) {
  const done = of.mine
    ? ["you", ...(of.done.length > 1 ? [`+${of.done.length - 1}`] : [])]
    : of.done.map(initials);
  return (
    <span title={of.done.length ? `Done: ${of.done.join(", ")}` : undefined}>
      {of.passages ? whole(of.passages) : ""}
      {done.length > 0 && <span className="text-bottle"> ✓ {done.join(", ")}</span>}
    </span>
  );
}
