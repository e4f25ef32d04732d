import {
  type CSSProperties,
  memo,
  type ReactNode,
  type RefObject,
  useEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import type { Schema } from "../../api/client";
import type { Code, Passage } from "../../data/coding";
import type { Paraphrase } from "../../data/notes";
import type { Stretch } from "../../lib/chosen";
import { LANES, lanes } from "../../lib/lanes";
import { type Interval, type Piece, piecesWithin, touching } from "../../lib/marks";
import { toCodePoint, toUtf16 } from "../../lib/offsets";
import { dragWords } from "./drag";
import { Speaker } from "./speaker";

interface Mark extends Interval {
  /** UTF-16 place at which it begins. */
  at: number;
  passage?: Passage;
  note?: string;
  colour: number;
  lane: number;
}
const LAYERS = ["code", "note", "chosen", "hit"] as const;
type Layer = (typeof LAYERS)[number];
const LINE = 2;
/** So many lines have room under usual lines of text; for each one more these are further apart, in parts of a letter. */
const LEVEL_LANES = 3;
const LANE_EM = 0.18;

/** The paragraphs of a text with its passages underlined in their colours. */
export function CodedPage({
  page,
  text,
  beside,
  passages,
  codes,
  chosen,
  active,
  paraphrases,
  paragraph,
}: {
  /** What holds the paragraphs. */
  page: RefObject<HTMLElement | null>;
  text: Schema["TextPublic"];
  beside: Schema["Aside"] | null;
  passages: readonly Passage[];
  codes: ReadonlyMap<number, Code>;
  chosen: Stretch | null;
  active: number | null;
  paraphrases: readonly Paraphrase[];
  paragraph: number | null;
}) {
  const starts = text.paragraphs;
  const notes = beside?.notes;
  const noted = useMemo(() => {
    const anchored = [
      ...(notes ?? []).map(({ id, end, start }) => ({ note: `n${id}`, start, end })),
      ...paraphrases.map(({ id, end, start }) => ({ note: `w${id}`, start, end })),
    ];
    const on = anchored.flatMap(({ note, start, end }) =>
      start === null || end === null ? [] : [{ note, start, end, colour: 7, lane: 0 }],
    );
    const at = toUtf16(
      text.body,
      on.map(({ start }) => start),
    );
    return on.map((one, place): Mark => ({ ...one, at: at[place]! }));
  }, [notes, paraphrases, text.body]);
  const kept = useRef(new WeakMap<Passage, Mark>());
  const hits = useMemo(
    () => text.marks.map((one): Mark => ({ ...one, at: 0, colour: 0, lane: 0 })),
    [text.marks],
  );
  const marks = useMemo(() => {
    const lane = lanes(passages);
    const units = toUtf16(
      text.body,
      passages.map(({ start }) => start),
    );
    return passages.map((passage, at): Mark => {
      const colour = codes.get(passage.code_id)?.colour ?? 7;
      const known = kept.current.get(passage);
      // a mark that is as before is the very same, so that its paragraph need not be drawn again
      if (known?.colour === colour && known.lane === lane[at] && known.at === units[at]) return known;
      const { start, end } = passage;
      const made: Mark = { at: units[at]!, start, end, passage, colour, lane: lane[at]! };
      kept.current.set(passage, made);
      return made;
    });
  }, [passages, codes, text.body]);
  const stretches = useMemo(() => {
    const whole = toCodePoint(text.body, text.body.length);
    return starts.map((start, at) => ({ start: at ? start : 0, end: starts[at + 1] ?? whole }));
  }, [starts, text.body]);
  const before = useRef<readonly Drawn[]>([]);
  const cut = useMemo(() => {
    const plain = (one: Interval): Mark => ({ ...one, at: 0, colour: 0, lane: 0 });
    const layers = {
      code: touching(stretches, marks),
      note: touching(stretches, noted),
      chosen: touching(stretches, chosen ? [plain(chosen)] : []),
      hit: touching(stretches, hits),
    };
    before.current = stretches.map((stretch, at) => {
      const under: Under = {
        code: layers.code[at]!,
        note: layers.note[at]!,
        chosen: layers.chosen[at]!,
        hit: layers.hit[at]!,
      };
      const last = before.current[at];
      if (last?.body === text.body && last.start === stretch.start && sameMarks(last.under, under))
        return last;
      const parts = piecesWithin<Layer, Mark>(text.body, stretch, under);
      return { body: text.body, start: stretch.start, under, parts };
    });
    return before.current;
  }, [text.body, marks, noted, hits, chosen, stretches]);
  const near = useNear(page, starts);
  const places = beside?.places;
  const { headings, turns } = useMemo(() => {
    const of = (...kinds: string[]) => (places ?? []).filter(({ kind }) => kinds.includes(kind));
    return {
      headings: new Set(of("heading", "section").map(({ start }) => start)),
      turns: new Map(of("turn").map(({ start, label }) => [start, label])),
    };
  }, [places]);
  return (
    <>
      {starts.map((start, at) => (
        <Paragraph
          key={start}
          number={at + 1}
          heading={headings.has(start)}
          speaker={turns.get(start)}
          aimed={paragraph === at + 1}
          last={at === starts.length - 1}
          parts={cut[at]?.parts ?? NONE}
          near={near === null || near.has(at + 1) || (cut[at]?.under.chosen.length ?? 0) > 0}
          active={active !== null && marksOf(cut[at]?.parts ?? NONE, active) ? active : null}
        />
      ))}
      {!starts.length && <p className="text-ink2">{text.body || "This text has no words yet."}</p>}
    </>
  );
}

const NONE: readonly Piece<Layer, Mark>[] = [];
type Under = Record<Layer, readonly Mark[]>;
/** A paragraph as it was cut last. */
interface Drawn {
  body: string;
  start: number;
  under: Under;
  parts: readonly Piece<Layer, Mark>[];
}

function sameMarks(a: Under, b: Under): boolean {
  return LAYERS.every((layer) => {
    const [left, right] = [a[layer], b[layer]];
    return left.length === right.length && left.every((mark, at) => mark === right[at]);
  });
}

function marksOf(parts: readonly Piece<Layer, Mark>[], passage: number) {
  return parts.some((part) => part.under.code?.some((mark) => mark.passage?.id === passage));
}

const Paragraph = memo(
  function Paragraph({
    number,
    heading,
    speaker,
    aimed,
    last,
    parts,
    near,
    active,
  }: {
    number: number;
    heading: boolean;
    speaker: string | undefined;
    aimed: boolean;
    last: boolean;
    parts: readonly Piece<Layer, Mark>[];
    /** Far from the window it is written without marks. */
    near: boolean;
    active: number | null;
  }) {
    const deep = useMemo(() => lanesIn(parts), [parts]);
    return (
      <p
        id={`n${number}`}
        data-paragraph={number}
        className={`relative mb-3 -ml-9 pl-9 whitespace-pre-line ${heading ? "font-semibold" : ""} ${aimed ? "rounded bg-tint" : ""}`}
        style={
          deep > LEVEL_LANES ? { ...SKIPPED, lineHeight: 1.75 + (deep - LEVEL_LANES) * LANE_EM } : SKIPPED
        }
      >
        <span
          aria-hidden
          className="absolute left-0 w-6 text-right font-sans text-[11px] text-ink3 select-none"
        >
          {number}
        </span>
        {speaker && <Speaker name={speaker} />}
        {!near && active === null && <Plain parts={parts} last={last} />}
        {(near || active !== null) &&
          parts.map((part) => <Marked key={part.at} part={part} last={last} active={active} />)}
      </p>
    );
  },
  (before, now) =>
    before.active === now.active &&
    before.near === now.near &&
    before.aimed === now.aimed &&
    before.heading === now.heading &&
    before.speaker === now.speaker &&
    before.last === now.last &&
    alike(before.parts, now.parts),
);

/** How many lines of codes there are under one another in a paragraph. */
function lanesIn(parts: readonly Piece<Layer, Mark>[]): number {
  const all = parts.flatMap((part) => (part.under.code ?? []).map((mark) => mark.lane + 1));
  return Math.min(LANES, Math.max(0, ...all));
}

/** A paragraph in one piece. */
function Plain({ parts, last }: { parts: readonly Piece<Layer, Mark>[]; last: boolean }) {
  const whole = parts.map((part) => part.text).join("");
  return <span data-at={parts[0]?.at ?? 0}>{last ? whole : whole.replace(/\n+$/, "")}</span>;
}

const NEAR_PX = 1_500;
const FIRST_DRAWN = 30;

/** Numbers of the paragraphs near the window; null where nothing tells, and for texts that are short. */
function useNear(page: RefObject<HTMLElement | null>, starts: readonly number[]): ReadonlySet<number> | null {
  const [near, setNear] = useState<ReadonlySet<number>>(
    () => new Set(Array.from({ length: FIRST_DRAWN }, (_, at) => at + 1)),
  );
  const long = starts.length > FIRST_DRAWN && typeof IntersectionObserver !== "undefined";
  // biome-ignore lint/correctness/useExhaustiveDependencies: other paragraphs are there
  useEffect(() => {
    const holder = page.current;
    if (!long || !holder) return;
    const seen = new IntersectionObserver(
      (entries) =>
        setNear((now) => {
          const next = new Set(now);
          for (const entry of entries) {
            const number = Number((entry.target as HTMLElement).dataset.paragraph);
            if (entry.isIntersecting) next.add(number);
            else next.delete(number);
          }
          return next;
        }),
      { root: holder.closest("[data-scroller]"), rootMargin: `${NEAR_PX}px 0px` },
    );
    for (const paragraph of holder.querySelectorAll("[data-paragraph]")) seen.observe(paragraph);
    return () => seen.disconnect();
  }, [page, long, starts]);
  return long ? near : null;
}

/** Paragraphs far from the window are not drawn; their room is kept. */
const SKIPPED: CSSProperties = {
  contentVisibility: "auto",
  containIntrinsicSize: "auto 90px",
  overflow: "visible",
};

function alike(a: readonly Piece<Layer, Mark>[], b: readonly Piece<Layer, Mark>[]): boolean {
  return a === b || (a.length === b.length && a.every((part, at) => samePiece(part, b[at]!)));
}

function samePiece(a: Piece<Layer, Mark>, b: Piece<Layer, Mark>): boolean {
  if (a.at !== b.at || a.text !== b.text) return false;
  return LAYERS.every((layer) => {
    const [left, right] = [a.under[layer] ?? [], b.under[layer] ?? []];
    return (
      left.length === right.length &&
      left.every((mark, at) => {
        const other = right[at]!;
        return (
          mark.colour === other.colour &&
          mark.lane === other.lane &&
          mark.passage?.id === other.passage?.id &&
          mark.note === other.note
        );
      })
    );
  });
}

function Marked({
  part,
  last,
  active,
}: {
  part: Piece<Layer, Mark>;
  last: boolean;
  active: number | null;
}): ReactNode {
  const shown = last ? part.text : part.text.replace(/\n+$/, "");
  const codes = part.under.code ?? [];
  const notes = part.under.note ?? [];
  const begins = [...codes, ...notes]
    .filter((mark) => mark.at === part.at)
    .map((mark) => (mark.passage ? `p${mark.passage.id}` : mark.note!));
  const isChosen = part.under.chosen !== undefined;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: what lies in it is reached by keys; it hears what comes up from there
    <span
      data-at={part.at}
      data-passages={codes.length ? codes.map((mark) => mark.passage?.id).join(" ") : undefined}
      data-begins={begins.length ? begins.join(" ") : undefined}
      data-chosen={isChosen || undefined}
      draggable={isChosen || undefined}
      onDragStart={isChosen ? (event) => dragWords(event, part.text) : undefined}
      style={codes.length || isChosen ? under(codes, isChosen, active) : undefined}
      className={`${part.under.hit ? "bg-straw" : ""} ${notes.length ? "border-b border-dotted border-ink2" : ""}`}
    >
      {shown}
    </span>
  );
}

/** Lines under words: one for each of the first passages, a thick one where there are more. */
function under(codes: readonly Mark[], chosen: boolean, active: number | null): CSSProperties {
  const used = Math.max(LEVEL_LANES, Math.min(LANES, Math.max(0, ...codes.map((mark) => mark.lane + 1))));
  const images: string[] = [];
  const places: string[] = [];
  const sizes: string[] = [];
  const line = (colour: string, lane: number, thick: number) => {
    images.push(`linear-gradient(${colour}, ${colour})`);
    places.push(`0 calc(100% - ${(used - 1 - lane) * (LINE + 1)}px)`);
    sizes.push(`100% ${thick}px`);
  };
  for (const mark of codes) if (mark.lane < LANES - 1) line(`var(--c${mark.colour % 10})`, mark.lane, LINE);
  const deep = codes.filter((mark) => mark.lane >= LANES - 1);
  if (deep.length === 1) line(`var(--c${deep[0]!.colour % 10})`, LANES - 1, LINE);
  else if (deep.length > 1) line("var(--color-ink)", LANES - 1, LINE + 1);
  const lit = codes.find((mark) => mark.passage?.id === active);
  const ground = chosen
    ? "color-mix(in srgb, var(--c1) 26%, transparent)"
    : lit && `color-mix(in srgb, var(--c${lit.colour % 10}) 22%, transparent)`;
  return {
    backgroundImage: images.join(", ") || undefined,
    backgroundPosition: places.join(", ") || undefined,
    backgroundSize: sizes.join(", ") || undefined,
    backgroundRepeat: "no-repeat",
    backgroundColor: ground || undefined,
    boxDecorationBreak: "clone",
    WebkitBoxDecorationBreak: "clone",
    paddingBottom: used * (LINE + 1),
  };
}
