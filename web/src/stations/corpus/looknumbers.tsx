import type { Schema } from "../../api/client";
import { date, plural, whole } from "../../lib/numbers";

type Numbers = Schema["LookNumbers"];

/** The texts of a look in a sentence: how many, of when, from whom. */
export function LookInNumbers({ numbers, everything }: { numbers: Numbers; everything: boolean }) {
  if (!numbers.texts) return null;
  return (
    <p className="mb-2.5" data-testid="look-numbers">
      {everything ? "" : "So far "}
      <b>{plural(numbers.texts, "text")}</b>
      {numbers.first ? (
        <>
          {" "}
          from <b>{date(numbers.first)}</b> to <b>{date(numbers.last)}</b>
          {numbers.undated > 0 && ` (${whole(numbers.undated)} without a date)`}
        </>
      ) : (
        ", none with a date"
      )}
      {numbers.n_sources > 0 && (
        <>
          {"; "}
          {numbers.sources.map((one) => `${one.name} ${whole(one.texts)}`).join(", ")}
          {numbers.n_sources > numbers.sources.length &&
            `, ${whole(numbers.n_sources - numbers.sources.length)} more sources`}
          {numbers.unsourced > 0 && `, ${whole(numbers.unsourced)} without a source`}
        </>
      )}
      .
    </p>
  );
}

/** Texts unlike the others, where a wrong reading shows first. */
export function OddTexts({ odd }: { odd: Numbers["odd"] }) {
  if (!odd.length) return null;
  return (
    <div className="mb-3">
      <h3 className="mb-1.5 text-[12px] font-bold text-ink2">Unlike the others</h3>
      <div className="grid grid-cols-3 gap-2.5">
        {odd.map((one) => (
          <div key={one.reason} className="min-w-0 rounded-md border border-line px-3 py-2">
            <div className="truncate font-semibold" title={one.title}>
              {one.title}
            </div>
            <div className="text-rust">{one.reason}</div>
            <div className="truncate text-ink2" title={one.file}>
              {one.row ? `${one.file}, row ${whole(one.row)}` : one.file}
            </div>
            <p className="mt-1 line-clamp-3 font-serif">{one.start}</p>
          </div>
        ))}
      </div>
    </div>
  );
}
