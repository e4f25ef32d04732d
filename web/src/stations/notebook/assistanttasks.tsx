import { type RefObject, useEffect, useState } from "react";
import type { Task } from "../../data/assistant";
import { useCodebook } from "../../data/coding";
import { useAddress, useFields } from "../../data/project";
import { Input, Segments, Select } from "../../parts/controls";
import { LongField } from "../../parts/fields";

export const TASKS = {
  summary: {
    label: "Sum up",
    says: "What the texts in scope say, in a few points or as prose.",
    byModel: true,
  },
  question: { label: "Answer a question", says: "From the passages that are found for it.", byModel: true },
  viewpoints: {
    label: "Compare two viewpoints",
    says: "What each of two groups writes more of, and what both speak of.",
    byModel: true,
  },
  themes: { label: "Find themes", says: "A set of themes, with quotes.", byModel: true },
  "topic name": {
    label: "Name a topic",
    says: "Names for what some words stand for together.",
    byModel: false,
  },
  wordings: {
    label: "Reword a code",
    says: "Other names for a code, from what stands under it.",
    byModel: false,
  },
  groups: { label: "Group codes", says: "Groups of codes that are alike or stand together.", byModel: false },
  codings: {
    label: "Propose codings",
    says: "A research question, divided into questions, each with passages to code.",
    byModel: false,
  },
} as const;
export type TaskName = keyof typeof TASKS;

/** ``now`` has the task as it is on the page, at any moment; ``onTask`` hears of it a moment later. */
type Props = { onTask: (task: Task | null) => void; now: RefObject<Task | null> };

/** What has to be said for a task. */
export function TaskForm({ name, ...told }: Props & { name: TaskName }) {
  if (name === "summary") return <SummaryForm {...told} />;
  if (name === "question" || name === "codings") return <QuestionForm name={name} {...told} />;
  if (name === "viewpoints") return <ViewpointsForm {...told} />;
  if (name === "themes") return <ThemesForm {...told} />;
  if (name === "topic name") return <TopicForm {...told} />;
  if (name === "wordings") return <WordingsForm {...told} />;
  return <GroupsForm {...told} />;
}

/** Tells a task each time it is another one. */
function useTask(task: Task | null, { onTask, now }: Props) {
  now.current = task;
  const plain = JSON.stringify(task);
  // biome-ignore lint/correctness/useExhaustiveDependencies: told by what it says
  useEffect(() => {
    onTask(task);
  }, [plain]);
}

function SummaryForm(told: Props) {
  const [form, setForm] = useState<"points" | "prose">("points");
  const [most, setMost] = useState("6");
  useTask({ task: "summary", form, most: Number(most) }, told);
  return (
    <>
      <Segments
        label="Form"
        value={form}
        choices={[
          { value: "points", label: "Points" },
          { value: "prose", label: "Prose" },
        ]}
        onChange={(value) => setForm(value as "points" | "prose")}
      />
      <Many label="How many" value={most} of={[3, 4, 6, 8, 10, 15, 20]} onChange={setMost} />
    </>
  );
}

function Many({
  label,
  value,
  of,
  onChange,
}: {
  label: string;
  value: string;
  of: readonly number[];
  onChange: (value: string) => void;
}) {
  return (
    <label className="flex items-center gap-2">
      {label}
      <Select
        value={value}
        choices={of.map((one) => ({ value: String(one), label: String(one) }))}
        onChange={onChange}
        className="w-auto!"
      />
    </label>
  );
}

function QuestionForm({ name, ...told }: Props & { name: "question" | "codings" }) {
  const [words, setWords] = useState("");
  const given = words.trim();
  const task: Task =
    name === "question" ? { task: "question", words: given, most: 6 } : { task: "codings", question: given };
  useTask(given ? task : null, told);
  return (
    <LongField
      label={name === "question" ? "Question" : "Research question"}
      value={words}
      onChange={setWords}
      rows={3}
      maxLength={500}
      autoFocus
      onKeyDown={(event) => {
        if (event.key !== "Enter" || event.shiftKey) return;
        event.preventDefault();
        event.currentTarget.form?.requestSubmit();
      }}
    />
  );
}

function ViewpointsForm(told: Props) {
  const fields = useFields().filter(
    (field) => field.can_split && field.values.filter((one) => one.label !== null).length > 1,
  );
  const [key, setKey] = useState("");
  const field = fields.find((one) => one.key === key) ?? fields[0];
  const labels = (field?.values ?? []).flatMap((one) => (one.label === null ? [] : [one.label]));
  const [first, setFirst] = useState("");
  const [second, setSecond] = useState("");
  const one = labels.includes(first) ? first : (labels[0] ?? "");
  const others = labels.filter((label) => label !== one);
  const other = others.includes(second) ? second : (others[0] ?? "");
  const task: Task | null =
    field && one && other
      ? { task: "viewpoints", split: { field: field.key }, first: one, second: other }
      : null;
  useTask(task, told);
  if (!field) return <p className="text-ink2">No field divides these texts into groups.</p>;
  const groups = (of: readonly string[]) => of.map((label) => ({ value: label, label }));
  return (
    <>
      <Select
        aria-label="Field"
        value={field.key}
        choices={fields.map((one) => ({ value: one.key, label: one.name }))}
        onChange={setKey}
      />
      <Select aria-label="First group" value={one} choices={groups(labels)} onChange={setFirst} />
      <Select aria-label="Second group" value={other} choices={groups(others)} onChange={setSecond} />
    </>
  );
}

function ThemesForm(told: Props) {
  const [most, setMost] = useState("6");
  useTask({ task: "themes", most: Number(most) }, told);
  return <Many label="How many" value={most} of={[2, 3, 4, 5, 6, 8, 10, 12, 15]} onChange={setMost} />;
}

function TopicForm(told: Props) {
  const [given] = useAddress("words", "");
  const [words, setWords] = useState(given);
  const list = [...new Set(words.split(/[,;\s]+/).filter(Boolean))].slice(0, 60);
  useTask(list.length > 1 ? { task: "topic name", words: list } : null, told);
  return (
    <LongField
      label="Words of the topic"
      hint="two or more, with commas or spaces between"
      value={words}
      onChange={setWords}
      rows={3}
    />
  );
}

function WordingsForm(told: Props) {
  const { codes } = useCodebook();
  const [given] = useAddress("code", "");
  const [chosen, setChosen] = useState(given);
  const code = codes.find((one) => String(one.id) === chosen) ?? codes[0];
  useTask(code ? { task: "wordings", code: code.id } : null, told);
  if (!code) return <p className="text-ink2">There is no code yet.</p>;
  return (
    <Select
      aria-label="Code"
      value={String(code.id)}
      choices={codes.map((one) => ({
        value: String(one.id),
        label: `${"\u2007".repeat(one.depth * 2)}${one.name}`,
      }))}
      onChange={setChosen}
    />
  );
}

function GroupsForm(told: Props) {
  const { codes } = useCodebook();
  const [find, setFind] = useState("");
  const [some, setSome] = useState<readonly number[]>([]);
  const [several, setSeveral] = useState(false);
  const words = find.trim().toLowerCase();
  const shown = codes.filter((one) => one.name.toLowerCase().includes(words));
  const task: Task | null =
    codes.length > 3 && (!some.length || some.length > 3)
      ? { task: "groups", codes: [...some], several }
      : null;
  useTask(task, told);
  return (
    <>
      <label className="flex items-center gap-1.5">
        <input type="checkbox" checked={several} onChange={(event) => setSeveral(event.target.checked)} />a
        code can be in several groups
      </label>
      <Input
        aria-label="Find a code"
        placeholder="Which codes: none chosen are all"
        value={find}
        onChange={(event) => setFind(event.target.value)}
      />
      <ul className="max-h-[30vh] overflow-auto" aria-label="Codes to group">
        {shown.map((one) => (
          <li key={one.id} style={{ paddingLeft: one.depth * 12 }}>
            <label className="flex items-center gap-1.5 py-0.5">
              <input
                type="checkbox"
                checked={some.includes(one.id)}
                onChange={(event) =>
                  setSome(event.target.checked ? [...some, one.id] : some.filter((id) => id !== one.id))
                }
              />
              <span className="truncate">{one.name}</span>
            </label>
          </li>
        ))}
      </ul>
      {!task && <p className="text-ink2">Four codes or more can be grouped.</p>}
    </>
  );
}
