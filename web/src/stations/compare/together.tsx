import { useMemo, useRef, useState } from "react";
import { type Together as Asked, type Matrix, useTogether } from "../../data/answers";
import type { Target } from "../../data/comparison";
import { useDictionaries } from "../../data/dictionaries";
import { useAddress, useScope, useSummary } from "../../data/project";
import { percent, three, whole } from "../../lib/numbers";
import { Empty, Failure, Input, Segments, Swatch, Waiting } from "../../parts/controls";
import { Told } from "../../parts/told";
import { About } from "../../shell/about";
import { useEvidence } from "../../shell/evidence";
import { Foot } from "./foot";
import { CompareHead } from "./head";
import { pText } from "./scale";
import { Statements } from "./statements";
import { What } from "./what";
import { Sentence, Word } from "./word";

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
type Shown = "together" | "of_row" | "jaccard" | "lift";
const WHOLE_TEXTS = ["values", "length", "search"];

/** What goes with what: a matrix, or everything around one row. */
export function TogetherView() {
  const summary = useSummary().data;
  const all = useDictionaries();
  if (!summary || all.isPending) return <Waiting what="Opening" />;
  if (all.error) return <Failure error={all.error} />;
  if (!summary.texts)
    return (
      <Empty title="Nothing goes together yet">
        Import texts first, then code some or make a dictionary.
      </Empty>
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
          did not know of each other; p respects texts. A number opens the passages of both.
        </About>
      </CompareHead>
      <div className="border-b border-line2 bg-sheet px-4 py-3">
        <Sentence label="What goes with what">
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
              title={`What goes with what: ${answer.name}`}
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

function useOpen(matrix: Matrix) {
  const { show } = useEvidence();
  return (at: number, to: number) => {
    const [row, column] = [matrix.rows[at]!, matrix.columns[to]!];
    show({
      title: `${row.label} with ${column.label}`,
      colour: row.colour,
      comparison: {
        target: matrix.asked.rows,
        scope: matrix.asked.scope ?? [],
        split: {},
        measure: "rate",
        level: 0.95,
        seed: 1,
        unit: null,
        adjust: [],
        form: 1,
      },
      cell: { row: row.key, group: null },
      pair: { asked: matrix.asked, row: row.key, column: column.key },
    });
  };
}

type Cell = Matrix["cells"][number][number];

function figure(cell: Cell, shown: Shown, of: number): string {
  if (shown === "together") return whole(cell.together);
  if (shown === "of_row") return of ? percent(cell.together / of) : "–";
  return three(cell[shown]);
}

function said(matrix: Matrix, at: number, to: number): string {
  const cell = matrix.cells[at]![to]!;
  const [row, column] = [matrix.rows[at]!, matrix.columns[to]!];
  const lift = cell.lift === null ? "" : `, ${three(cell.lift)} times as often as by chance`;
  const p = cell.p === null ? "" : ` (p ${cell.p < 0.001 ? "< 0.001" : `= ${pText(cell.p)}`})`;
  const texts = cell.texts === null ? "" : ` in ${whole(cell.texts)} texts`;
  return `${row.label} with ${column.label}: ${whole(cell.together)}${texts}${lift}${p}`;
}

/** Blue for less than chance, ochre for more; a ring of neither where it is not clear. */
function tint(cell: Cell, most: number): string | undefined {
  if (cell.kin) return undefined;
  if (cell.sign) {
    const strength = Math.min(Math.abs(cell.z ?? 0) / 12, 1) * 0.4 + 0.08;
    return `rgba(var(${cell.sign > 0 ? "--more" : "--less"}), ${strength})`;
  }
  return cell.p === null && cell.jaccard && most
    ? `rgba(var(--more), ${(cell.jaccard / most) * 0.35})`
    : undefined;
}

function Grid({
  matrix,
  shown,
  onAround,
}: {
  matrix: Matrix;
  shown: Shown;
  onAround: (key: string) => void;
}) {
  const open = useOpen(matrix);
  const [most] = useState(0);
  const largest = useMemo(
    () =>
      Math.max(
        most,
        ...matrix.cells.flatMap((row) => row.map((cell) => (cell.kin ? 0 : (cell.jaccard ?? 0)))),
      ),
    [matrix, most],
  );
  const head = "border-b border-line2 px-1.5 py-1.5 font-semibold text-ink2 align-bottom";
  return (
    <div
      className="max-h-[66vh] overflow-auto rounded-md border border-line bg-sheet"
      role="region"
      tabIndex={0}
      aria-label="What goes with what"
    >
      <table className="border-separate border-spacing-0">
        <thead>
          <tr>
            <th className={`${head} sticky top-0 left-0 z-20 bg-sheet text-left`}>{matrix.nouns}</th>
            <th className={`${head} sticky top-0 z-10 bg-sheet text-right`} title={`All its ${matrix.unit}s`}>
              all
            </th>
            {matrix.columns.map((column) => (
              <th
                key={column.key}
                className={`${head} sticky top-0 z-10 bg-sheet text-left`}
                title={column.label}
              >
                <span className="inline-block max-h-[110px] max-w-[34px] overflow-hidden text-ellipsis whitespace-nowrap [writing-mode:vertical-rl]">
                  {column.name}
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {matrix.rows.map((row, at) => (
            <tr key={row.key} className="h-[28px]">
              <th
                className="sticky left-0 z-10 border-b border-line bg-sheet px-2 text-left font-semibold whitespace-nowrap"
                style={{ paddingLeft: 8 + row.depth * 12 }}
                scope="row"
              >
                <button
                  type="button"
                  className="max-w-[210px] truncate hover:underline"
                  title={`${row.label}: show what goes with it`}
                  onClick={() => onAround(row.key)}
                >
                  <Swatch colour={row.colour} />
                  {row.name}
                </button>
              </th>
              <td className="border-b border-line px-2 text-right text-ink2">{whole(row.units)}</td>
              {matrix.columns.map((column, to) => {
                const cell = matrix.cells[at]![to]!;
                return (
                  <td
                    key={column.key}
                    className="border-b border-line px-0.5 text-right"
                    style={{ background: tint(cell, largest) }}
                  >
                    {cell.kin ? (
                      <span className="px-1.5 text-ink3">·</span>
                    ) : (
                      <button
                        type="button"
                        disabled={!cell.together}
                        title={said(matrix, at, to)}
                        aria-label={said(matrix, at, to)}
                        onClick={() => open(at, to)}
                        className="min-w-[34px] px-1 text-right hover:underline disabled:text-ink3"
                      >
                        {figure(cell, shown, row.units)}
                        {cell.sign > 0 ? "+" : cell.sign < 0 ? "−" : ""}
                      </button>
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      <div className="border-t border-line px-2.5 py-1.5 text-ink2">
        {matrix.units
          ? "+ more, − less often together than chance would give; a dot is a row with itself or with what it is part of."
          : "Read along a row: how many of its places have one of the column. The darker, the larger their part."}
      </div>
    </div>
  );
}

/** Everything that goes with one row, the most first. */
function Around({ matrix, at }: { matrix: Matrix; at: number }) {
  const open = useOpen(matrix);
  const row = matrix.rows[at]!;
  const others = matrix.columns
    .map((column, to) => ({ column, to, cell: matrix.cells[at]![to]! }))
    .filter(({ cell }) => !cell.kin && cell.together > 0)
    .sort((a, b) => (b.cell.z ?? b.cell.jaccard ?? 0) - (a.cell.z ?? a.cell.jaccard ?? 0));
  const most = Math.max(1, ...others.map(({ cell }) => cell.together));
  const head = "border-b border-line2 px-2 py-1.5 text-right font-semibold text-ink2";
  if (!others.length) return <p className="py-4 text-ink2">Nothing goes with {row.label} here.</p>;
  return (
    <div
      className="overflow-auto rounded-md border border-line bg-sheet"
      role="region"
      tabIndex={0}
      aria-label={`Around ${row.label}`}
    >
      <table className="w-full">
        <thead>
          <tr>
            <th className={`${head} text-left!`}>With {row.label}</th>
            <th className={head} colSpan={2}>
              Together
            </th>
            <th className={head}>% of {row.name}</th>
            <th className={head}>Texts</th>
            <th className={head}>Jaccard</th>
            <th className={head}>Lift</th>
            <th className={head}>p</th>
          </tr>
        </thead>
        <tbody>
          {others.map(({ column, to, cell }) => (
            <tr key={column.key} className="h-[29px] border-b border-line last:border-0">
              <td className="px-2 font-semibold whitespace-nowrap">
                <Swatch colour={column.colour} />
                {column.label}
              </td>
              <td className="w-[140px]">
                <span
                  aria-hidden
                  className="block h-[9px] rounded-[2px]"
                  style={{
                    width: `${(cell.together / most) * 100}%`,
                    background: `var(--c${column.colour % 10})`,
                  }}
                />
              </td>
              <td className="px-2 text-right">
                <button
                  type="button"
                  aria-label={said(matrix, at, to)}
                  onClick={() => open(at, to)}
                  className="hover:underline"
                >
                  {whole(cell.together)}
                  {cell.sign > 0 ? " +" : cell.sign < 0 ? " −" : ""}
                </button>
              </td>
              <td className="px-2 text-right">{row.units ? percent(cell.together / row.units) : "–"}</td>
              <td className="px-2 text-right">{cell.texts === null ? "–" : whole(cell.texts)}</td>
              <td className="px-2 text-right">{three(cell.jaccard)}</td>
              <td className="px-2 text-right">{three(cell.lift)}</td>
              <td className="px-2 text-right whitespace-nowrap">{pText(cell.p)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
