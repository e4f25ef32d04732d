import { useState } from "react";
import type { Sheet } from "../../data/answers";
import { percent, three, whole } from "../../lib/numbers";
import { Button } from "../../parts/controls";
import { pText } from "../compare/scale";

type Form = Sheet["columns"][number]["form"];
type Cell = string | number | null;
const FIRST = 40;

/** A value of a sheet as people read it. */
export function cell(value: Cell, form: Form): string {
  if (value === null || typeof value === "string") return value ?? "–";
  if (form === "percent") return percent(value);
  if (form === "count") return whole(value);
  if (form === "p") return pText(value);
  return three(value);
}

/** Columns that say the most; the others come on a click, and are in every export. */
const QUIET =
  / low$| high$|^distance|^p of the distance|^words$|^texts$|^mean share|^mean rate|^share of the row|^difference|^ratio to|^t$|^z$/;

/** A sheet of numbers as a table. */
export function SheetTable({ sheet }: { sheet: Sheet }) {
  const [all, setAll] = useState(false);
  const [wide, setWide] = useState(false);
  const shown = sheet.columns
    .map((column, at) => ({ column, at }))
    .filter(({ column }) => wide || !QUIET.test(column.name));
  const hidden = sheet.columns.length - shown.length;
  const rows = all ? sheet.rows : sheet.rows.slice(0, FIRST);
  if (!sheet.rows.length) return null;
  return (
    <section aria-label={sheet.name} className="mb-4">
      <div className="mb-1 flex items-baseline gap-3">
        <h2 className="font-[650]">{sheet.name}</h2>
        {(hidden > 0 || wide) && (
          <Button look="ghost" onClick={() => setWide(!wide)}>
            {wide ? "Fewer columns" : `${hidden} more columns`}
          </Button>
        )}
      </div>
      <section
        className="max-h-[420px] overflow-auto rounded-md border border-line bg-sheet"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
        tabIndex={0}
        aria-label={`Numbers of ${sheet.name}`}
      >
        <table className="w-full">
          <thead>
            <tr>
              {shown.map(({ column }) => (
                <th
                  key={column.name}
                  className={`sticky top-0 border-b border-line2 bg-sheet px-2 py-1.5 align-bottom font-semibold text-ink2 ${column.form === "text" ? "text-left" : "text-right"}`}
                >
                  {column.name[0]!.toUpperCase() + column.name.slice(1)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row, at) => (
              <tr key={at} className="h-[28px] border-b border-line last:border-0">
                {shown.map(({ column, at: place }) => (
                  <td
                    key={column.name}
                    className={`px-2 ${column.form === "text" ? `max-w-[280px] truncate ${column.key ? "font-semibold" : ""}` : "text-right whitespace-nowrap"}`}
                    title={typeof row[place] === "string" ? (row[place] as string) : undefined}
                  >
                    {cell(row[place] ?? null, column.form)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      {sheet.rows.length > rows.length && (
        <Button look="ghost" onClick={() => setAll(true)}>
          Show all {whole(sheet.rows.length)} rows
        </Button>
      )}
    </section>
  );
}
