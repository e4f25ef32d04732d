import type { Schema } from "../../api/client";
import { date, plural, whole } from "../../lib/numbers";

type Numbers = Schema["LookNumbers"];

/** The texts of a look: how many, of when, from whom, and the oddest of them. */
export function LookInNumbers({ numbers, everything }: { numbers: Numbers; everything: boolean }) {
  if (!numbers.texts) return null;
  return (
    <div className="mb-3" data-testid="look-numbers">
      <p>
        {everything ? "" : "So far "}
        <b>{plural(numbers.texts, "text")}</b>
        {numbers.first && (
          <>
            {" "}
            from <b>{date(numbers.first)}</b> to <b>{date(numbers.last)}</b>
            {numbers.undated > 0 && ` (${whole(numbers.undated)} without a date)`}
          </>
        )}
        {!numbers.first && ", none with a date"}
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
      {numbers.odd.length > 0 && (
        <>
          <h3 className="mt-2 mb-1.5 text-[12px] font-bold text-ink2">Unlike the others</h3>
          <div className="grid grid-cols-3 gap-2.5">
            {numbers.odd.map((odd) => (
              <div key={odd.reason} className="min-w-0 rounded-md border border-line px-3 py-2">
                <div className="truncate font-semibold" title={odd.title}>
                  {odd.title}
                </div>
                <div className="text-rust">{odd.reason}</div>
                <div className="truncate text-ink2" title={odd.file}>
                  {odd.row ? `${odd.file}, row ${whole(odd.row)}` : odd.file}
                </div>
                <p className="mt-1 line-clamp-3 font-serif">{odd.start}</p>
              </div>
            ))}
          </div>
        </>
      )}
    </div>
  );
}
