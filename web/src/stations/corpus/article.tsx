import { useArticle } from "../../data/articles";
import { Button, Failure, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";

/** One record, whole, and how two styles cite it. */
export function Article({ id, onClose }: { id: string; onClose: () => void }) {
  const found = useArticle(id);
  const { tell, fail } = useToast();
  const copy = (words: string) => void navigator.clipboard.writeText(words).then(() => tell("Copied."), fail);
  const one = found.data;
  return (
    <aside
      aria-label="Record"
      className="w-[360px] shrink-0 overflow-auto border-l border-line2 bg-sheet px-4 py-3"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls takes the keys that scroll it
      tabIndex={0}
      onKeyDown={(event) => event.key === "Escape" && onClose()}
    >
      <div className="flex items-center">
        <span className="text-ink2">{id}</span>
        <Button look="ghost" className="ml-auto" onClick={onClose}>
          Close
        </Button>
      </div>
      {found.isPending && <Waiting what="Opening the record" />}
      {found.error && <Failure error={found.error} />}
      {one && (
        <>
          <h2 className="mt-1 text-[17px] font-[650]">{one.line.title}</h2>
          <p className="mt-1">{one.line.authors.join("; ")}</p>
          <p className="text-ink2">
            {[one.line.outlet, one.volume && `volume ${one.volume}`, one.pages, one.line.year, one.publisher]
              .filter(Boolean)
              .join(", ")}
          </p>
          <p className="mt-3 font-serif text-[15px] leading-[1.5]">{one.line.words}</p>
          <p className="mt-2 text-ink2">{one.line.subjects.join(", ")}</p>
          {one.line.there && (
            <p className="mt-2 font-semibold">A text with this reference is in the corpus.</p>
          )}
          {(
            [
              ["Author and date", one.author_date],
              ["Notes and bibliography", one.notes],
            ] as const
          ).map(([label, words]) => (
            <section key={label} className="mt-4 border-t border-line pt-2" aria-label={label}>
              <div className="flex items-center font-semibold">
                {label}
                <Button look="ghost" className="ml-auto" onClick={() => copy(words)}>
                  Copy
                </Button>
              </div>
              <p>{words}</p>
            </section>
          ))}
        </>
      )}
    </aside>
  );
}
