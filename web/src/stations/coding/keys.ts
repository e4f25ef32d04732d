import { type KeyboardEvent, useMemo, useRef } from "react";
import type { Code, Passage } from "../../data/coding";
import type { Stretch } from "../../lib/chosen";
import type { Interval } from "../../lib/marks";
import { toUtf16 } from "../../lib/offsets";
import { beside as next, resized, segments, type Unit } from "../../lib/segments";

interface KeysOf {
  body: string;
  chosen: Stretch | null;
  active: Passage | null;
  passages: readonly Passage[];
  lit: number | null;
  writes: boolean;
  codes: readonly Code[];
  recent: readonly number[];
  choose: (stretch: Interval | null) => void;
  onActive: (id: number | null) => void;
  onAsk: (first: string) => void;
  onGive: (code: Code) => void;
  onTakeOff: (passage: Passage) => void;
  onResize: (passage: Passage, to: Interval) => void;
}

/** The keys of reading and coding; `?` lists them (shell/about.tsx). */
export function useKeys(at: KeysOf) {
  const cut = useMemo(() => {
    const made = new Map<Unit, Interval[]>();
    return (unit: Unit) => {
      const known = made.get(unit) ?? segments(at.body, unit);
      made.set(unit, known);
      return known;
    };
  }, [at.body]);
  const last = useRef<Interval | null>(null);
  const units = (of: Interval): Interval => {
    const [start, end] = toUtf16(at.body, [of.start, of.end]);
    return { start: start!, end: end! };
  };
  const reveal = (css: string) =>
    requestAnimationFrame(() => document.querySelector(css)?.scrollIntoView({ block: "nearest" }));
  const step = (unit: Unit, by: 1 | -1, event: KeyboardEvent) => {
    const all = cut(unit);
    const held = at.active ? units(at.active) : at.chosen ? units(at.chosen) : null;
    if (event.shiftKey) {
      if (!held) return;
      const edge = event.altKey ? "start" : "end";
      const longer = edge === "end" ? by : (-by as 1 | -1);
      const to = resized(all, held, longer, edge);
      if (!to) return;
      if (at.active && at.writes) at.onResize(at.active, to);
      else at.choose(to);
    } else {
      // after words were coded one goes on from there
      const to = next(all, held ?? last.current, by);
      if (!to) return;
      last.current = to;
      at.onActive(null);
      at.choose(to);
      reveal("[data-chosen]");
    }
  };
  const passageBy = (by: 1 | -1) => {
    const those = at.passages.filter((one) => at.lit === null || one.code_id === at.lit);
    const now = those.findIndex((one) => one.id === at.active?.id);
    const to = those[now < 0 ? (by === 1 ? 0 : those.length - 1) : now + by];
    if (!to) return;
    at.choose(null);
    at.onActive(to.id);
    reveal(`[data-passages~="${to.id}"]`);
  };
  const nextFreeParagraph = () => {
    const from = at.chosen?.end ?? at.active?.end ?? 0;
    const all = cut("paragraph");
    const spans = at.passages.map(units);
    const start = toUtf16(at.body, [from])[0]!;
    const to = all.find(
      (one) => one.start >= start && !spans.some((span) => span.start < one.end && span.end > one.start),
    );
    if (!to) return;
    at.choose(to);
    reveal("[data-chosen]");
  };
  return (event: KeyboardEvent) => {
    if ((event.target as HTMLElement).closest("input, textarea, select")) return;
    const plain = !event.ctrlKey && !event.metaKey;
    const arrow = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 1, ArrowUp: -1 }[event.key] as
      | 1
      | -1
      | undefined;
    if (arrow) {
      const across = event.key === "ArrowRight" || event.key === "ArrowLeft";
      step(across ? "word" : event.ctrlKey ? "paragraph" : "sentence", arrow, event);
    } else if (event.key === "Escape") {
      at.choose(null);
      at.onActive(null);
    } else if ((event.key === "Delete" || event.key === "Backspace") && at.active && at.writes) {
      at.onTakeOff(at.active);
    } else if (event.key === "Enter" && at.chosen && at.writes) {
      at.onAsk("");
    } else if (plain && /^[1-9]$/.test(event.key) && at.chosen && at.writes) {
      const code = at.codes.find((one) => one.id === at.recent[Number(event.key) - 1]);
      if (!code) return;
      at.onGive(code);
    } else if (plain && !at.chosen && (event.key === "n" || event.key === "p")) {
      passageBy(event.key === "n" ? 1 : -1);
    } else if (plain && !at.chosen && event.key === "u") {
      nextFreeParagraph();
    } else if (plain && at.chosen && at.writes && event.key.length === 1 && /\p{L}/u.test(event.key)) {
      at.onAsk(event.key);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
}
