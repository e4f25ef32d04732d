import { useState } from "react";
import type { Condition } from "../../api/client";
import { useCodebook } from "../../data/coding";
import { useFields } from "../../data/project";
import { plural } from "../../lib/numbers";
import { Failure, Select, Waiting } from "../../parts/controls";
import { useFound } from "./found";
import { FoundList } from "./foundlist";
import { type Question, sent } from "./question";

const CODE = "code";

/** Two codes, or two groups of texts, under one question beside each other. */
export function SideBySide({ question }: { question: Question }) {
  const fields = useFields().filter((one) => one.kind === "category" && one.values.length > 1);
  const [by, setBy] = useState(CODE);
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex items-center gap-2 border-b border-line bg-sheet px-4 py-1.5 text-ink2">
        Beside each other stand two
        <Select
          aria-label="What stands beside each other"
          value={by}
          choices={[
            { value: CODE, label: "codes" },
            ...fields.map((one) => ({ value: one.key, label: `values of ${one.name}` })),
          ]}
          onChange={setBy}
          className="w-auto!"
        />
      </div>
      <div className="grid min-h-0 flex-1 grid-cols-2">
        <Side key={`${by} 1`} question={question} by={by} which={0} />
        <Side key={`${by} 2`} question={question} by={by} which={1} />
      </div>
    </div>
  );
}

function Side({ question, by, which }: { question: Question; by: string; which: 0 | 1 }) {
  const book = useCodebook();
  const field = useFields().find((one) => one.key === by);
  // until something is chosen: what is asked for, else codes that lie in others, which say more
  const usual =
    by === CODE ? [...book.codes].sort((a, b) => Math.min(b.depth, 1) - Math.min(a.depth, 1)) : [];
  const first =
    by === CODE ? (question.codes[which] ?? usual[which]?.id ?? "") : (field?.values[which]?.label ?? "");
  const [chosen, setChosen] = useState<string | null>(null);
  const value = chosen ?? String(first);
  const [start, setStart] = useState(0);
  const asked = by === CODE ? { ...question, codes: value ? [Number(value)] : [] } : question;
  const more: Condition[] =
    by === CODE || !value ? [] : [{ kind: "values", field: by, values: [value], exclude: false }];
  const found = useFound(sent(asked), start, more);
  const page = found.data;
  const choices =
    by === CODE
      ? book.codes.map((one) => ({
          value: String(one.id),
          label: `${"\u2007".repeat(one.depth * 2)}${one.name}`,
        }))
      : (field?.values ?? []).flatMap(({ label }) => (label === null ? [] : [{ value: label, label }]));
  return (
    <section
      aria-label={which ? "The right side" : "The left side"}
      className={`flex min-h-0 min-w-0 flex-col ${which ? "" : "border-r border-line2"}`}
    >
      <div className="flex items-center gap-2 border-b border-line px-3 py-1.5">
        <Select
          aria-label={which ? "On the right" : "On the left"}
          value={value}
          choices={choices}
          onChange={(next) => {
            setChosen(next);
            setStart(0);
          }}
          className="w-auto! max-w-[220px]"
        />
        <b className="ml-auto">
          {page ? `${plural(page.total, "passage")} in ${plural(page.texts, "text")}` : ""}
        </b>
      </div>
      <div className="min-h-0 flex-1 overflow-auto bg-sheet">
        {found.error && <Failure error={found.error} />}
        {found.isPending && <Waiting what="Looking for passages" />}
        {page && !page.total && <p className="px-4 py-3 text-ink2">No passages of the scope match.</p>}
        {page && page.total > 0 && (
          <FoundList page={page} codes={book.byId} start={start} narrow onStart={setStart} />
        )}
      </div>
    </section>
  );
}
