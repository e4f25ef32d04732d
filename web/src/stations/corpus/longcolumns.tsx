import { Button } from "../../parts/controls";
import { type MappingProps, targetOf, textColumns } from "./mapping";

/** Cells of so many characters on average are long. */
const LONG = 80;

/** Columns with long texts that are not taken as such: offered, since they may be what is to be counted. */
export function LongColumns({ lot, mapping, onChange }: MappingProps) {
  const long = lot.header.filter((column, at) => {
    const cells = lot.rows.map((row) => row[at] ?? "").filter(Boolean);
    const mean = cells.reduce((sum, cell) => sum + cell.length, 0) / Math.max(cells.length, 1);
    return mean >= LONG && ["variable", "skip"].includes(targetOf(mapping, column).role);
  });
  if (!long.length || !textColumns(mapping).length) return null;
  const take = () =>
    onChange({
      ...mapping,
      targets: lot.header.map((column) => {
        const target = targetOf(mapping, column);
        const text = long.includes(column) || target.role === "text";
        return text ? { ...target, role: "text" as const, name: target.name || column } : target;
      }),
    });
  return (
    <p className="mb-3 flex items-center gap-2 text-ink2">
      Long texts stand in {long.join(", ")} as well.
      <Button onClick={take}>Take {long.length === 1 ? "it as text" : "them as texts"} too</Button>
    </p>
  );
}
