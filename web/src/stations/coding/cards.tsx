import { type RefObject, useCallback, useEffect, useMemo, useState } from "react";
import type { Schema } from "../../api/client";
import type { Code, Passage, PassageValues } from "../../data/coding";
import type { Paraphrase } from "../../data/notes";
import { identityOf } from "../../data/passageids";
import { useRunChanges } from "../../data/runs";
import { placed } from "../../lib/lanes";
import { initials } from "../../lib/names";
import { date } from "../../lib/numbers";
import { useDraft } from "../../lib/usedraft";
import { useRemeasured } from "../../lib/useremeasured";
import { Button, Segments, Swatch } from "../../parts/controls";
import { Textarea } from "../../parts/fields";
import { NoteCard, ParaphraseCard } from "./notecards";
import { Sign } from "./panel";

/** What stands beside the words: passages of one stretch together, and notes. */
interface Item {
  key: string;
  /** What begins at its place, see page.tsx. */
  begins: string;
  passages: readonly Passage[];
  note?: Schema["NotePublic"];
  paraphrase?: Paraphrase;
}
const LINE = 27;
const REACH = 900;
const NO_CODES: readonly (Code | undefined)[] = [];
const MOST_SWATCHES = 6;

/** Cards level with their words, those near the window alone. */
export function Cards({
  page,
  passages,
  notes,
  paraphrases,
  codes,
  active,
  writes,
  onActive,
  onTakeOff,
  onRecode,
  onNote,
  onChange,
}: {
  page: RefObject<HTMLDivElement | null>;
  passages: readonly Passage[];
  notes: readonly Schema["NotePublic"][];
  paraphrases: readonly Paraphrase[];
  codes: ReadonlyMap<number, Code>;
  active: number | null;
  writes: boolean;
  onActive: (id: number | null) => void;
  onTakeOff: (passage: Passage) => void;
  onRecode: (passage: Passage) => void;
  onNote: (passage: Passage) => void;
  onChange: (passage: Passage, values: PassageValues) => Promise<unknown>;
}) {
  const items = useMemo(() => gathered(passages, notes, paraphrases), [passages, notes, paraphrases]);
  const [tops, setTops] = useState<ReadonlyMap<string, number>>(new Map());
  const measure = useCallback(() => {
    const holder = page.current;
    if (!holder) return;
    const box = holder.getBoundingClientRect();
    const near = new Map<string, number>();
    const paragraphs = holder.querySelectorAll<HTMLElement>("[data-paragraph]");
    for (let at = firstBelow(paragraphs, -REACH); at < paragraphs.length; at += 1) {
      const paragraph = paragraphs[at]!;
      if (paragraph.getBoundingClientRect().top > window.innerHeight + REACH) break;
      for (const piece of paragraph.querySelectorAll<HTMLElement>("[data-begins]")) {
        const top = piece.getClientRects()[0]?.top ?? piece.getBoundingClientRect().top;
        for (const id of piece.dataset.begins!.split(" ")) near.set(id, top - box.top);
      }
    }
    const next = new Map<string, number>();
    for (const item of items) {
      const top = near.get(item.begins);
      if (top !== undefined) next.set(item.key, top);
    }
    setTops((now) => (same(now, next) ? now : next));
  }, [page, items]);
  useRemeasured(page, measure);
  useEffect(() => {
    const scroller = page.current?.closest("[data-scroller]");
    let waiting = 0;
    const soon = () => {
      cancelAnimationFrame(waiting);
      waiting = requestAnimationFrame(measure);
    };
    scroller?.addEventListener("scroll", soon, { passive: true });
    // paragraphs get their marks when they come near
    const drawn = new MutationObserver(soon);
    if (page.current) drawn.observe(page.current, { childList: true, subtree: true });
    return () => {
      drawn.disconnect();
      cancelAnimationFrame(waiting);
      scroller?.removeEventListener("scroll", soon);
    };
  }, [page, measure]);
  const shown = items
    .filter((item) => tops.has(item.key))
    .sort((a, b) => tops.get(a.key)! - tops.get(b.key)!);
  const at = placed(
    shown.map((item) => {
      const open = item.passages.some((one) => one.id === active);
      const full = height(item, open, writes);
      return { top: tops.get(item.key)!, full, line: open ? full : LINE };
    }),
  );
  return (
    <fieldset
      className="relative w-[232px] shrink-0 font-sans text-[12.5px] leading-[1.35]"
      aria-label="Beside the text"
    >
      {shown.map((item, place) => (
        <div
          key={item.key}
          data-testid="card"
          className="absolute w-full overflow-hidden rounded-[5px] border border-line bg-sheet"
          style={{
            top: at[place]!.top,
            height: at[place]!.short && !isOpen(item, active) ? LINE : undefined,
          }}
        >
          {item.note ? (
            <NoteCard note={item.note} short={at[place]!.short} />
          ) : item.paraphrase ? (
            <ParaphraseCard one={item.paraphrase} writes={writes} short={at[place]!.short} />
          ) : (
            item.passages.map((passage) => (
              <PassageCard
                key={identityOf(passage)}
                passage={passage}
                code={codes.get(passage.code_id)}
                more={
                  at[place]!.short && !isOpen(item, active)
                    ? item.passages.filter((one) => one !== passage).map((one) => codes.get(one.code_id))
                    : NO_CODES
                }
                open={passage.id === active}
                writes={writes}
                onActive={onActive}
                onTakeOff={onTakeOff}
                onRecode={onRecode}
                onNote={onNote}
                onChange={onChange}
              />
            ))
          )}
        </div>
      ))}
    </fieldset>
  );
}

/** The first of some elements, one below the other, that reaches below a height of the window. */
function firstBelow(all: NodeListOf<HTMLElement>, height: number): number {
  let low = 0;
  let high = all.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (all[middle]!.getBoundingClientRect().bottom < height) low = middle + 1;
    else high = middle;
  }
  return low;
}

const isOpen = (item: Item, active: number | null) => item.passages.some((one) => one.id === active);

function gathered(
  passages: readonly Passage[],
  notes: readonly Schema["NotePublic"][],
  paraphrases: readonly Paraphrase[],
): Item[] {
  const by = new Map<string, Passage[]>();
  for (const one of passages) {
    const key = `${one.start}-${one.end}`;
    by.set(key, [...(by.get(key) ?? []), one]);
  }
  const out: Item[] = [...by].map(([key, of]) => ({ key, begins: `p${of[0]!.id}`, passages: of }));
  for (const note of notes)
    if (note.start !== null) out.push({ key: `note ${note.id}`, begins: `n${note.id}`, passages: [], note });
  for (const one of paraphrases)
    if (one.start !== null)
      out.push({ key: `words ${one.id}`, begins: `w${one.id}`, passages: [], paraphrase: one });
  return out;
}

function height(item: Item, open: boolean, writes: boolean): number {
  const lines = item.passages.reduce((sum, one) => sum + LINE + (one.comment ? 18 : 0), 0);
  return (
    (item.note || item.paraphrase ? 62 : lines) +
    (open ? (writes ? (item.passages.some((one) => one.run_id) ? 158 : 128) : 24) : 0)
  );
}

function same(a: ReadonlyMap<string, number>, b: ReadonlyMap<string, number>): boolean {
  return a.size === b.size && [...a].every(([key, top]) => b.get(key) === top);
}

/** What a run says of its passage, and that it is right; taken off, it is wrong. */
function OfRun({ passage, run_id }: { passage: Passage; run_id: number }) {
  const { judge } = useRunChanges(run_id);
  return (
    <p className="mb-1 flex items-center gap-2 text-[11.5px] text-ink2">
      <span className="min-w-0 flex-1 truncate" title={passage.reason}>
        {passage.coder}: {passage.reason}
      </span>
      <Button
        disabled={judge.isPending || judge.isSuccess}
        onClick={() => judge.mutate({ passages: [passage.id], verdict: 1, code_id: null, widen: null })}
      >
        {judge.isSuccess ? "right" : "Fits"}
      </Button>
    </p>
  );
}

const STRENGTHS = [
  { value: "0", label: "–" },
  ...[1, 2, 3, 4, 5].map((one) => ({ value: String(one), label: String(one) })),
];

function PassageCard({
  passage,
  code,
  more,
  open,
  writes,
  onActive,
  onTakeOff,
  onRecode,
  onNote,
  onChange,
}: {
  passage: Passage;
  code: Code | undefined;
  /** Codes of the other passages of the same words, where there is room for one line alone. */
  more: readonly (Code | undefined)[];
  open: boolean;
  writes: boolean;
  onActive: (id: number | null) => void;
  onTakeOff: (passage: Passage) => void;
  onRecode: (passage: Passage) => void;
  onNote: (passage: Passage) => void;
  onChange: (passage: Passage, values: PassageValues) => Promise<unknown>;
}) {
  const comment = useDraft({
    of: `passage ${identityOf(passage)} comment`,
    stored: passage.comment,
    revision: passage.revision,
    save: (written, revision) => onChange({ ...passage, revision }, { comment: written }),
  });
  const colour = `var(--c${(code?.colour ?? 7) % 10})`;
  return (
    <div className="border-l-[3px]" style={{ borderColor: colour }}>
      <button
        type="button"
        aria-expanded={open}
        onClick={() => onActive(open ? null : passage.id)}
        className={`block w-full px-2 py-[5px] text-left ${open ? "bg-tint" : "hover:bg-wash"}`}
      >
        <span className="flex items-baseline gap-1">
          {code?.symbol && <Sign code={code} />}
          <b className="min-w-0 flex-1 truncate font-semibold">{code?.name ?? "a deleted code"}</b>
          {more.slice(0, MOST_SWATCHES).map((one, place) => (
            <span key={one?.id ?? -place} title={one?.name}>
              <Swatch colour={one?.colour ?? 7} />
            </span>
          ))}
          {more.length > MOST_SWATCHES && <span className="text-ink2">+{more.length - MOST_SWATCHES}</span>}
          <span
            className="shrink-0 text-[11px] text-ink2"
            title={`${passage.coder}, ${date(passage.made_at)}${passage.reason ? `: ${passage.reason}` : ""}`}
          >
            {passage.strength ? `${passage.strength}/5, ` : ""}
            {passage.mine ? "you" : passage.run_id ? "run" : initials(passage.coder)}
          </span>
        </span>
        {passage.comment && !open && <span className="block truncate text-ink2">{passage.comment}</span>}
      </button>
      {open && !writes && <div className="px-2 py-1 text-ink2">{passage.comment || passage.coder}</div>}
      {open && writes && (
        <div className="px-2 pt-1 pb-2">
          {passage.run_id && <OfRun passage={passage} run_id={passage.run_id} />}
          <Textarea
            aria-label="Comment on the passage"
            rows={2}
            placeholder="A comment"
            maxLength={2000}
            {...comment.field}
          />
          {comment.refused && <p className="text-rust">{comment.refused}</p>}
          <div className="mt-1 flex items-center gap-1.5">
            <Segments
              label="Strength"
              value={String(passage.strength ?? 0)}
              onChange={(value) => void onChange(passage, { strength: Number(value) }).catch(() => {})}
              choices={STRENGTHS}
            />
          </div>
          <div className="mt-1.5 flex gap-1.5">
            <Button onClick={() => onRecode(passage)}>Other code</Button>
            <Button onClick={() => onNote(passage)}>Note</Button>
            <Button onClick={() => onTakeOff(passage)}>Remove code</Button>
          </div>
        </div>
      )}
    </div>
  );
}
