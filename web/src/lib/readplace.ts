import { useEffect } from "react";

/** Where somebody reads: a text, and the paragraph at the top of the window. Corpus and Coding share it. */
export interface ReadPlace {
  text: number;
  paragraph: number;
}

const key = (project: number) => `winnower.reading.${project}`;
const AFTER_MS = 150;
const SETTLE_MS = 60;
const SETTLE_TIMES = 8;
/** Whoever does one of these reads on their own. */
const ACTS = ["wheel", "keydown", "pointerdown", "touchstart"] as const;

export function readPlace(project: number): ReadPlace | null {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(key(project)) ?? "null");
    return found && typeof (found as ReadPlace).text === "number" ? (found as ReadPlace) : null;
  } catch {
    return null;
  }
}

export function keepReadPlace(project: number, place: ReadPlace) {
  localStorage.setItem(key(project), JSON.stringify(place));
}

export function forgetReadPlace(project: number) {
  localStorage.removeItem(key(project));
}

/** The number of the paragraph at the top of what holds the text (paragraphs have the ids n1, n2, ...). */
function atTop(holder: Element): number {
  const box = holder.getBoundingClientRect();
  for (let y = box.top + 12; y < box.bottom; y += 24) {
    const found = document.elementFromPoint(box.left + box.width / 2, y)?.closest("p[id^=n]");
    if (found) return Number(found.id.slice(1)) || 1;
  }
  return 1;
}

/** Opens a text where it was read last, in whichever station, and remembers where it is read now. */
export function useReadPlace(project: number, text: number, ready: boolean, aimed: boolean) {
  useEffect(() => {
    if (!ready) return;
    const holder = document.getElementById("n1")?.closest("[data-scroller]");
    const last = readPlace(project);
    let settling: ReturnType<typeof setInterval> | undefined;
    const settled = () => clearInterval(settling);
    if (last?.text === text && !aimed && last.paragraph > 1) {
      const aim = () => document.getElementById(`n${last.paragraph}`)?.scrollIntoView({ block: "start" });
      aim();
      // what stands above takes its true height only when it is drawn
      let times = 0;
      settling = setInterval(() => (++times > SETTLE_TIMES ? settled() : aim()), SETTLE_MS);
      for (const act of ACTS) holder?.addEventListener(act, settled, { passive: true });
    } else keepReadPlace(project, { text, paragraph: 1 });
    let waiting: ReturnType<typeof setTimeout>;
    const onScroll = () => {
      clearTimeout(waiting);
      waiting = setTimeout(
        () => holder && keepReadPlace(project, { text, paragraph: atTop(holder) }),
        AFTER_MS,
      );
    };
    holder?.addEventListener("scroll", onScroll, { passive: true });
    return () => {
      settled();
      for (const act of ACTS) holder?.removeEventListener(act, settled);
      clearTimeout(waiting);
      holder?.removeEventListener("scroll", onScroll);
    };
  }, [project, text, ready, aimed]);
}
