import { useMemo, useRef } from "react";
import { type Together as Asked, useTogether } from "../../data/answers";
import type { Target } from "../../data/comparison";
import { useDictionaries } from "../../data/dictionaries";
import { useAddress, useScope, useSummary } from "../../data/project";
import { Empty, Failure, Input, Segments, Waiting } from "../../parts/controls";
import { Told } from "../../parts/told";
import { Sentence, Word } from "../../parts/word";
import { About } from "../../shell/about";
import { Foot } from "./foot";
import { CompareHead } from "./head";
import { Around, Grid, type Shown } from "./matrix";
import { Statements } from "./statements";
import { What } from "./what";

const WITHIN = [
  { value: "passage", label: "on the very same words" },
  { value: "overlap", label: "overlapping" },
  { value: "near", label: "near each other" },
  { value: "sentence", label: "in the same sentence" },
  { value: "paragraph", label: "in the same paragraph" },
  { value: "text", label: "in the same text" },
];
const SHOWN = [
  { value: "together", label: "Number" },
  { value: "of_row", label: "% of row" },
  { value: "jaccard", label: "Jaccard" },
  { value: "lift", label: "Lift" },
];
const WHOLE_TEXTS = ["values", "length", "search"];

/** Co-occurrence: a matrix, or everything around one row. */
export function TogetherView() {
  const summary = useSummary().data;
  const all = useDictionaries();
  if (!summary || all.isPending) return <Waiting what="Opening" />;
  if (all.error) return <Failure error={all.error} />;
  if (!summary.texts)
    return (
      <Empty title="Nothing to count yet">Import texts first, then code some or make a dictionary.</Empty>
    );
  const first = summary.passages
    ? ({ kind: "codes", coders: [], counted: "passages", revision: null } as Target)
    : summary.terms && all.data[0]
      ? ({ kind: "dictionary", dictionary: all.data[0].id, version: null, fingerprint: null } as Target)
      : ({
          kind: "terms",
          terms: [{ source: "the", match_case: false, ignore_accents: false, note: "", forms_of: "" }],
        } as Target);
  return <View usual={first} dictionaries={all.data} />;
}

function View({
  usual,
  dictionaries,
}: {
  usual: Target;
  dictionaries: NonNullable<ReturnType<typeof useDictionaries>["data"]>;
}) {
  const { scope } = useScope();
  const [written, setWritten] = useAddress("together", "");
  const [shown, setShown] = useAddress("shown", "together");
  const [around, setAround] = useAddress("around", "");
  const figure = useRef<HTMLDivElement>(null);
  const part = useMemo(() => parsed(written), [written]);
  const rows = part.rows ?? usual;
  const columns = part.columns ?? null;
  const texts = [rows, ...(columns ? [columns] : [])].some((one) => WHOLE_TEXTS.includes(one.kind));
  const asked: Asked = {
    view: "together",
    rows,
    columns,
    within: texts ? "text" : (part.within ?? "sentence"),
    words: part.words ?? 10,
    scope: [...scope],
  };
  const change = (next: Partial<Asked>) => {
    const { view: _, scope: __, ...kept } = { ...asked, ...next };
    setWritten(JSON.stringify(kept));
  };
  const found = useTogether(asked);
  const answer = found.data;
  const row = answer?.rows.find((one) => one.key === around);
  return (
    <div className="flex h-full flex-col">
      <CompareHead>
        <About topic="compare">
          How often two codes, categories or words are together. Lift says how many times as often as if they
          were unrelated; p respects texts. A number opens the passages of both.
        </About>
      </CompareHead>
      <div className="border-b border-line2 bg-sheet px-4 py-3">
        <Sentence label="Co-occurrence">
          How
          <What
            label="Rows"
            target={rows}
            dictionaries={dictionaries}
            onChange={(next) => next && change({ rows: next })}
          />
          go with
          <What
            label="Columns"
            target={columns}
            none="one another"
            dictionaries={dictionaries}
            onChange={(next) => change({ columns: next })}
          />
          <Word
            label="Together"
            value={asked.within ?? "sentence"}
            choices={WITHIN.map((one) => ({ ...one, disabled: texts && one.value !== "text" }))}
            onChange={(within) => change({ within: within as "sentence" })}
          />
          {asked.within === "near" && (
            <>
              , at most
              <Input
                aria-label="Words between them at most"
                inputMode="numeric"
                key={asked.words}
                defaultValue={asked.words}
                className="w-[52px]!"
                onBlur={(event) =>
                  change({ words: Math.min(1000, Number(event.target.value.replace(/\D/g, "")) || 0) })
                }
                onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
              />
              words between them
            </>
          )}
        </Sentence>
      </div>
      <div className="min-h-0 flex-1 overflow-auto px-4 py-3.5">
        {found.error && <Told error={found.error} />}
        {found.isPending && <Waiting what="Counting pairs" />}
        {answer && !found.error && (
          <div className={found.isPlaceholderData ? "opacity-60" : ""}>
            <Statements statements={answer.statements} />
            <div className="mb-2 flex flex-wrap items-center gap-3">
              <Segments
                label="What a cell shows"
                value={shown}
                onChange={setShown}
                choices={SHOWN.map((one) => ({ ...one, disabled: one.value === "lift" && !answer.units }))}
              />
              <label className="flex items-center gap-1.5 text-ink2">
                Around
                <select
                  aria-label="Around one row"
                  value={row ? around : ""}
                  onChange={(event) => setAround(event.target.value)}
                  className="max-w-[220px] rounded-[5px] border border-line2 bg-sheet px-1.5 py-1 text-ink"
                >
                  <option value="">all rows: the matrix</option>
                  {answer.rows.map((one) => (
                    <option key={one.key} value={one.key}>
                      {one.label}
                    </option>
                  ))}
                </select>
              </label>
            </div>
            <div ref={figure}>
              {row ? (
                <Around matrix={answer} at={answer.rows.indexOf(row)} />
              ) : (
                <Grid matrix={answer} shown={shown as Shown} onAround={setAround} />
              )}
            </div>
            <Foot
              view={asked}
              title={`Co-occurrence: ${answer.name}`}
              drawn={{ shown, ...(row ? { around } : {}) }}
              method={answer.method}
            />
          </div>
        )}
      </div>
    </div>
  );
}

function parsed(written: string): Partial<Asked> {
  try {
    const found: unknown = written ? JSON.parse(written) : {};
    return typeof found === "object" && found !== null ? (found as Partial<Asked>) : {};
  } catch {
    return {};
  }
}
