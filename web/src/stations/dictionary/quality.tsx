import type { Schema } from "../../api/client";
import { percent, plural, three, whole } from "../../lib/numbers";
import { Button } from "../../parts/controls";

/** How good the category is by what was judged: precision, what is missed, recall. */
export function Quality({
  quality,
  writes,
  onJudge,
  onMissed,
  onVerdicts,
}: {
  quality: Schema["ReviewQuality"];
  writes: boolean;
  onJudge: () => void;
  onMissed: () => void;
  onVerdicts: (kind: "hit" | "text", shows: "all" | "differ") => void;
}) {
  const { whole: category, missed } = quality;
  return (
    <section aria-label="Quality" className="mt-4 rounded-md border border-line bg-sheet px-3.5 py-2.5">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1.5">
        <b>How good it is</b>
        <span data-testid="category-precision">
          {category.judged ? (
            <>
              Precision <b>{three(category.share)}</b>{" "}
              <span className="text-ink2">
                ({three(category.low)} to {three(category.high)}),{" "}
                <button
                  type="button"
                  onClick={() => onVerdicts("hit", "all")}
                  className="text-bottle hover:underline"
                >
                  {whole(category.right)} of {whole(category.judged)} judged hits right
                </button>
                {Math.abs((category.share ?? 0) - category.right / category.judged) > 0.0005 && (
                  <span title="Samples take as many hits from each source; here each verdict stands for the hits its source has">
                    , weighted by source
                  </span>
                )}
                {category.unseen > 0.005 &&
                  `; none judged in sources with ${percent(category.unseen)} of the hits`}
              </span>
            </>
          ) : (
            <span className="text-ink2">No current hit of the category was judged yet.</span>
          )}
        </span>
        {missed.share.judged > 0 && (
          <span data-testid="category-missed">
            Missed <b>{percent(missed.share.share)}</b>{" "}
            <span className="text-ink2">
              ({percent(missed.share.low)} to {percent(missed.share.high)}) of{" "}
              {plural(missed.without_hit, "text")} without a hit, about {whole(missed.texts[0] ?? 0)} texts;{" "}
              <button
                type="button"
                onClick={() => onVerdicts("text", "all")}
                className="text-bottle hover:underline"
              >
                {whole(missed.share.judged)} judged
              </button>
            </span>
          </span>
        )}
        {missed.recall[0] !== null && (
          <span>
            Recall <b>{three(missed.recall[0])}</b>{" "}
            <span className="text-ink2">
              ({three(missed.recall[1])} to {three(missed.recall[2])})
            </span>
          </span>
        )}
        {quality.disagreements > 0 && (
          <button
            type="button"
            onClick={() => onVerdicts("hit", "differ")}
            className="text-rust hover:underline"
          >
            {plural(quality.disagreements, "hit")} judged differently by {quality.judges.join(" and ")}
          </button>
        )}
        {writes && (
          <span className="ml-auto flex gap-2">
            <Button onClick={onJudge}>Judge hits</Button>
            <Button onClick={onMissed} disabled={!missed.without_hit}>
              Look for what is missed
            </Button>
          </span>
        )}
      </div>
    </section>
  );
}
