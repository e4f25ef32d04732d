import { useMemo } from "react";
import type { Matrix } from "../../data/answers";
import { percent, three, whole } from "../../lib/numbers";
import { Swatch } from "../../parts/controls";
import { useEvidence } from "../../shell/evidence";
import { pText } from "./scale";

export type Shown = "together" | "of_row" | "jaccard" | "lift";

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
  const lift = cell.lift === null ? "" : `, ${three(cell.lift)} times as often as expected`;
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

/** The matrix, cell by cell. */
export function Grid({
  matrix,
  shown,
  onAround,
}: {
  matrix: Matrix;
  shown: Shown;
  onAround: (key: string) => void;
}) {
  const open = useOpen(matrix);
  const largest = useMemo(
    () =>
      Math.max(0, ...matrix.cells.flatMap((row) => row.map((cell) => (cell.kin ? 0 : (cell.jaccard ?? 0))))),
    [matrix],
  );
  const head = "border-b border-line2 px-1.5 py-1.5 font-semibold text-ink2 align-bottom";
  return (
    <section
      className="max-h-[66vh] overflow-auto rounded-md border border-line bg-sheet"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
      tabIndex={0}
      aria-label="Co-occurrence"
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
                  title={`${row.label}: show what it occurs with`}
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
          ? "+ significantly more often together than expected, − less often; a dot is a row with itself or with what it is part of."
          : "Read along a row: how many of its places have one of the column. The darker, the larger their part."}
      </div>
    </section>
  );
}

/** Everything that goes with one row, the most first. */
export function Around({ matrix, at }: { matrix: Matrix; at: number }) {
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
    <section
      className="overflow-auto rounded-md border border-line bg-sheet"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
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
    </section>
  );
}
