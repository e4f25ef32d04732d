import type { RunItem } from "../../data/runs";
import { toUtf16 } from "../../lib/offsets";
import { wordsAfter, wordsBefore } from "./found";
import { ToneText } from "./tonetext";

const MOST_SHOWN = 420;

/** The words of a passage, what was hit in straw, with some words around; a long one around its hit alone. */
export function RunWords({ one }: { one: RunItem }) {
  const { text } = one;
  if (one.words.length)
    return (
      <p className="min-w-0 break-words font-serif text-[15px] leading-[1.5]">
        <span className="text-ink2">{wordsBefore(one.before)}</span>
        <ToneText text={text} words={one.words} />
        <span className="text-ink2">{wordsAfter(one.after)}</span>
      </p>
    );
  const units = toUtf16(text, [one.mark_start, one.mark_end]);
  const start = Number(units[0]);
  const end = Number(units[1]);
  const low = text.length > MOST_SHOWN ? Math.max(0, start - MOST_SHOWN / 2) : 0;
  const high = text.length > MOST_SHOWN ? Math.min(text.length, low + MOST_SHOWN) : text.length;
  return (
    <p className="min-w-0 break-words font-serif text-[15px] leading-[1.5]">
      <span className="text-ink2">{wordsBefore(one.before)}</span>
      <span className="whitespace-pre-line underline decoration-1 decoration-bottle underline-offset-4">
        {low > 0 && "… "}
        {text.slice(low, start)}
        {end > start && <mark>{text.slice(start, end)}</mark>}
        {text.slice(Math.max(end, low), Math.max(high, end))}
        {high < text.length && " …"}
      </span>
      <span className="text-ink2">{wordsAfter(one.after)}</span>
    </p>
  );
}
