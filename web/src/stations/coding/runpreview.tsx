import type { Schema } from "../../api/client";
import type { Code } from "../../data/coding";
import type { RunItem } from "../../data/runs";
import { plural, whole } from "../../lib/numbers";
import { shortOrigin } from "../../lib/origin";
import { Button, Select } from "../../parts/controls";
import { RunWords } from "./runwords";
import { toneOf } from "./tonetext";

const MOST_GROUPS = 5;
const HEAD = "max-w-[92px] truncate py-1 pl-3 font-normal";

/** What a recipe would find: how much under each code and in each group, and a sample with reasons. */
export function RunPreview({
  found,
  stale,
  codes,
  book,
  onCode,
  onOthers,
}: {
  found: Schema["RunPreview"];
  /** It is of the recipe before. */
  stale: boolean;
  codes: Readonly<Record<string, number>>;
  book: readonly Code[];
  onCode: (key: string, code: number | null) => void;
  onOthers: () => void;
}) {
  const groups = found.labels.slice(0, MOST_GROUPS);
  const rest = found.labels.length - groups.length;
  const others = (piece: Schema["RunPiece"]) =>
    piece.groups.slice(MOST_GROUPS).reduce((sum, one) => sum + one, 0);
  return (
    <div className={`px-4 py-3 ${stale ? "opacity-60" : ""}`} aria-busy={stale} data-testid="run-preview">
      <p className="mb-2">
        <b>
          {plural(found.places, "passage")} in {plural(found.texts, "text")}
        </b>{" "}
        <span className="text-ink2">
          of {whole(found.of_texts)}
          {found.looked != null &&
            `, counted in ${plural(found.looked, "text")} spread evenly; the run looks at all`}
          . Nothing is stored yet.
        </span>
      </p>
      <table className="w-full border-collapse">
        <thead>
          <tr className="border-b border-line2 text-right text-[11.5px] text-ink2">
            <th className="py-1 text-left font-normal">What is found</th>
            <th className="py-1 text-left font-normal">comes under</th>
            <th className={HEAD}>passages</th>
            <th className={HEAD}>texts</th>
            {groups.map((label) => (
              <th key={label} title={label} className={HEAD}>
                {label}
              </th>
            ))}
            {rest > 0 && <th className={HEAD}>{rest} more</th>}
          </tr>
        </thead>
        <tbody>
          {found.pieces.map((piece) => (
            <tr key={piece.key} className="border-b border-line text-right">
              <th scope="row" className="max-w-[180px] truncate py-1 text-left font-semibold">
                {piece.name}
              </th>
              <td className="py-0.5 text-left">
                <Select
                  aria-label={`Code for ${piece.name}`}
                  value={String(codes[piece.key] ?? "")}
                  choices={[
                    { value: "", label: `the code ${piece.name}` },
                    ...book.map((one) => ({
                      value: String(one.id),
                      label: `${"\u2007".repeat(one.depth * 2)}${one.name}`,
                    })),
                  ]}
                  onChange={(value) => onCode(piece.key, value ? Number(value) : null)}
                  className="w-[180px]!"
                />
              </td>
              <td className="pl-3">{whole(piece.places)}</td>
              <td className="pl-3">{whole(piece.texts)}</td>
              {groups.map((label, at) => (
                <td key={label} className="pl-3 text-ink2">
                  {whole(piece.groups[at] ?? 0)}
                </td>
              ))}
              {rest > 0 && <td className="pl-3 text-ink2">{whole(others(piece))}</td>}
            </tr>
          ))}
        </tbody>
      </table>
      {found.sample.length > 0 && (
        <section aria-label="A sample" className="mt-4">
          <div className="mb-1 flex items-center gap-3">
            <b className="text-ink2">A sample, in equal numbers of each</b>
            <Button look="ghost" onClick={onOthers}>
              Draw others
            </Button>
          </div>
          <ul>
            {found.sample.map((one, at) => (
              <li key={at} className="grid grid-cols-[150px_1fr_180px] gap-4 border-t border-line py-2">
                <Why one={one} />
                <RunWords one={one} />
                <Origin one={one} />
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

/** What a passage comes under, and why. */
export function Why({ one }: { one: RunItem }) {
  return (
    <div className="min-w-0">
      <b className="block truncate font-semibold">{one.name}</b>
      <span className="block truncate text-[11.5px] text-ink2" title={one.reason}>
        {one.score != null && <b>{one.words.length ? toneOf(one.score) : one.score.toFixed(2)} </b>}
        {one.reason}
        {one.hits > 1 ? ` and ${one.hits - 1} more` : ""}
      </span>
    </div>
  );
}

/** Where a passage is from. */
export function Origin({ one }: { one: RunItem }) {
  return (
    <span className="block min-w-0 text-[11.5px]">
      <span className="block truncate font-semibold">{one.title || "untitled"}</span>
      <span className="block truncate text-ink2">{shortOrigin(one)}</span>
    </span>
  );
}
