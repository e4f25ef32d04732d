import type { DataPreview } from "../../data/dataset";
import { whole } from "../../lib/numbers";

const NUMBERS = new Set(["whole number", "number"]);

/** The first rows of the table, and how many more the file has. */
export function FirstRows({ page }: { page: DataPreview }) {
  return (
    <table className="min-w-full border-collapse" data-testid="data-rows">
      <thead className="sticky top-0 z-10 bg-sheet">
        <tr>
          {page.columns.map((column) => (
            <th
              key={column.name}
              scope="col"
              title={`${column.label}: ${column.how}`}
              className={`border-b border-line2 px-3 py-1.5 font-semibold whitespace-nowrap text-ink2 ${NUMBERS.has(column.kind) ? "text-right" : "text-left"}`}
            >
              {column.name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {page.cells.map((row, at) => (
          <tr key={at} className="border-b border-line">
            {row.map((cell, place) => {
              const column = page.columns[place]!;
              return (
                <td
                  key={column.name}
                  className={`h-[28px] max-w-[260px] truncate px-3 ${NUMBERS.has(column.kind) ? "text-right tabular-nums" : ""}`}
                >
                  {cell === null ? <span className="text-ink3">–</span> : cell}
                </td>
              );
            })}
          </tr>
        ))}
        {page.rows > page.cells.length && (
          <tr>
            <td colSpan={page.columns.length} className="px-3 py-2 text-ink2">
              and {whole(page.rows - page.cells.length)} more {page.noun} in the file
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

/** What each column is called, holds and how it was made. */
export function Columns({ page }: { page: DataPreview }) {
  return (
    <table className="w-full table-fixed border-collapse" data-testid="data-columns">
      <colgroup>
        <col className="w-[22%]" />
        <col className="w-[20%]" />
        <col className="w-[130px]" />
        <col />
        <col className="w-[32%]" />
      </colgroup>
      <thead className="sticky top-0 z-10 bg-sheet">
        <tr className="text-left text-ink2">
          {["Name in the file", "Called here", "Kind", "Values", "How it was made"].map((head) => (
            <th key={head} scope="col" className="border-b border-line2 px-4 py-1.5 font-semibold">
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {page.columns.map((column) => (
          <tr key={column.name} className="border-b border-line align-top">
            <td className="px-4 py-1.5 font-semibold break-words">{column.name}</td>
            <td className="px-4 py-1.5 break-words">{column.label}</td>
            <td className="px-4 py-1.5">{column.kind}</td>
            <td className="px-4 py-1.5">
              <span className="line-clamp-2 break-words" title={column.values}>
                {column.values || "–"}
              </span>
            </td>
            <td className="px-4 py-1.5 text-ink2">{column.how}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
