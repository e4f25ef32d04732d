import { type RefObject, useEffect, useMemo, useRef, useState } from "react";
import { type Match, MOST_MATCHES, matchesOf, paragraphAsked, rangesOf } from "../lib/findintext";
import { whole } from "../lib/numbers";
import { Button, Kbd } from "./controls";

/** Words of one text and its paragraphs by number: `/` opens it, Enter goes on, Escape closes it. */
export function FindInText({
  page,
  body,
  paragraphs,
}: {
  page: RefObject<HTMLElement | null>;
  body: string;
  paragraphs: number;
}) {
  const [open, setOpen] = useState(false);
  const [words, setWords] = useState("");
  const [at, setAt] = useState(0);
  const field = useRef<HTMLInputElement>(null);
  const paragraph = paragraphAsked(words, paragraphs);
  const matches = useMemo(() => (open && words ? matchesOf(body, words) : []), [open, body, words]);
  useHighlights(page, matches, open ? at : -1);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing =
        event.target instanceof HTMLElement && event.target.closest("input, textarea, select, [role=dialog]");
      if (event.key !== "/" || typing || event.ctrlKey || event.metaKey || event.altKey) return;
      event.preventDefault();
      setOpen(true);
      field.current?.select();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  const go = (by: number) => {
    if (paragraph !== null) {
      page.current?.querySelector(`[id="n${paragraph}"]`)?.scrollIntoView({ block: "start" });
      return;
    }
    if (!matches.length) return;
    setAt((at + by + matches.length) % matches.length);
  };
  if (!open)
    return (
      <Button
        look="ghost"
        title="Find words, or go to a paragraph by its number"
        onClick={() => setOpen(true)}
      >
        Find <Kbd>/</Kbd>
      </Button>
    );
  return (
    <search className="flex items-center gap-1.5 rounded-md border border-line2 bg-sheet px-1.5 py-1 shadow-[0_4px_14px_rgba(0,0,0,0.14)]">
      <input
        ref={field}
        // biome-ignore lint/a11y/noAutofocus: it opened because somebody asked for it
        autoFocus
        aria-label="Find in this text"
        placeholder="Words, or a paragraph number"
        value={words}
        onChange={(event) => {
          setWords(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.nativeEvent.isComposing) return;
          if (event.key === "Enter") go(event.shiftKey ? -1 : 1);
          else if (event.key === "Escape") {
            setOpen(false);
            page.current?.focus({ preventScroll: true });
          } else return;
          event.preventDefault();
        }}
        className="w-[210px] rounded border border-line2 bg-sheet px-1.5 py-0.5"
      />
      <span role="status" className="min-w-[88px] text-ink2" data-testid="found-in-text">
        {paragraph !== null
          ? `Enter: paragraph ${whole(paragraph)}`
          : !words.trim()
            ? ""
            : matches.length
              ? `${whole(at + 1)} of ${whole(matches.length)}${matches.length >= MOST_MATCHES ? "+" : ""}`
              : "Not in this text"}
      </span>
      <Button aria-label="Previous place" onClick={() => go(-1)} disabled={!matches.length}>
        ‹
      </Button>
      <Button aria-label="Next place" onClick={() => go(1)} disabled={!matches.length}>
        ›
      </Button>
      <Button look="ghost" aria-label="Close" onClick={() => setOpen(false)}>
        ×
      </Button>
    </search>
  );
}

/** Marks all matches without drawing the page anew, and brings the one that is looked at into view. */
function useHighlights(page: RefObject<HTMLElement | null>, matches: readonly Match[], at: number) {
  const now = matches[at] ?? null;
  useEffect(() => {
    const holder = page.current;
    if (!holder || !now) return;
    const [range] = rangesOf(holder, [now]);
    range?.startContainer.parentElement?.closest("p")?.scrollIntoView({ block: "center" });
  }, [page, now]);
  useEffect(() => {
    const holder = page.current;
    const marks = typeof CSS === "undefined" ? undefined : CSS.highlights;
    if (!holder || !marks || !matches.length) return;
    const paint = () => {
      const ranges = rangesOf(holder, matches);
      marks.set("found", new Highlight(...ranges.filter((one) => one !== null)));
      const current = ranges[at];
      marks.set("found-now", new Highlight(...(current ? [current] : [])));
    };
    let waiting = 0;
    const soon = () => {
      cancelAnimationFrame(waiting);
      waiting = requestAnimationFrame(paint);
    };
    paint();
    // paragraphs get and lose their marks as they come near, and with them the nodes the ranges hold
    const drawn = new MutationObserver(soon);
    drawn.observe(holder, { childList: true, subtree: true });
    return () => {
      cancelAnimationFrame(waiting);
      drawn.disconnect();
      marks.delete("found");
      marks.delete("found-now");
    };
  }, [page, matches, at]);
}
