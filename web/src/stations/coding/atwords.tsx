import { type ReactNode, type RefObject, useCallback, useEffect, useState } from "react";
import { useKeptWords } from "../../lib/drafts";
import { useRemeasured } from "../../lib/useremeasured";
import { Button } from "../../parts/controls";
import { toEnd } from "./notecards";

/** Something that floats under the end of the chosen words, or of a passage. */
export function AtWords({
  page,
  place,
  passage,
  children,
}: {
  page: RefObject<HTMLDivElement | null>;
  place: number | null;
  passage: number | null;
  children: ReactNode;
}) {
  const [at, setAt] = useState({ top: 0, left: 0 });
  // biome-ignore lint/correctness/useExhaustiveDependencies: other words are chosen
  const measure = useCallback(() => {
    const holder = page.current;
    const all = holder?.querySelectorAll<HTMLElement>(
      passage === null ? "[data-chosen]" : `[data-passages~="${passage}"]`,
    );
    const last = all?.[all.length - 1];
    if (!holder || !last) return;
    const box = holder.getBoundingClientRect();
    const rect = [...last.getClientRects()].at(-1) ?? last.getBoundingClientRect();
    setAt({
      top: rect.bottom - box.top + 6,
      left: Math.max(0, Math.min(rect.right - box.left - 170, box.width - 340)),
    });
  }, [page, place, passage]);
  useRemeasured(page, measure);
  return (
    <div className="absolute z-20" style={at}>
      {children}
    </div>
  );
}

/** Something to write on the chosen words; Enter keeps it where it is short, Ctrl Enter anywhere. */
export function WordsBox({
  of,
  label,
  keep,
  rows,
  enter = false,
  onKeep: keepIt,
  onClose,
}: {
  /** What the words are for: what was typed and not kept is there when it opens again. */
  of: string;
  label: string;
  keep: string;
  rows: number;
  enter?: boolean;
  onKeep: (body: string) => void;
  onClose: () => void;
}) {
  const [written, setWritten, done] = useKeptWords(of);
  const onKeep = (body: string) => {
    done();
    keepIt(body);
  };
  return (
    <div className="w-[340px] rounded-md border border-line2 bg-sheet p-2 font-sans text-[13px] shadow-[0_6px_20px_rgba(0,0,0,0.18)]">
      <textarea
        // biome-ignore lint/a11y/noAutofocus: it opened because somebody asked for it
        autoFocus
        aria-label={label}
        placeholder={label}
        rows={rows}
        value={written}
        onFocus={toEnd}
        onChange={(event) => setWritten(event.target.value)}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Escape") onClose();
          const ends = enter ? !event.shiftKey : event.ctrlKey || event.metaKey;
          if (event.key !== "Enter" || !ends || event.nativeEvent.isComposing) return;
          event.preventDefault();
          if (written.trim()) onKeep(written.trim());
        }}
        className="w-full rounded-[5px] border border-line2 bg-sheet px-2 py-1"
      />
      <div className="mt-1 flex gap-2">
        <Button look="main" disabled={!written.trim()} onClick={() => onKeep(written.trim())}>
          {keep}
        </Button>
        <Button onClick={onClose}>{written.trim() ? "Keep as a draft" : "Close"}</Button>
      </div>
    </div>
  );
}

/** Brings a paragraph into view once. */
export function Aim({
  paragraph,
  page,
}: {
  paragraph: number | null;
  page: RefObject<HTMLDivElement | null>;
}) {
  useEffect(() => {
    if (paragraph)
      page.current?.querySelector(`[data-paragraph="${paragraph}"]`)?.scrollIntoView({ block: "center" });
  }, [paragraph, page]);
  return null;
}
