import { useEffect } from "react";

/** Where somebody reads: a text, and the paragraph at the top of the window. Corpus and Coding share it. */
export interface ReadPlace {
  text: number;
  paragraph: number;
}

const key = (project: number) => `winnower.reading.${project}`;
const AFTER_MS = 150;

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
  for (let y = box.top + 30; y < box.bottom; y += 30) {
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
    if (last?.text === text && !aimed && last.paragraph > 1)
      document.getElementById(`n${last.paragraph}`)?.scrollIntoView({ block: "start" });
    else keepReadPlace(project, { text, paragraph: 1 });
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
      clearTimeout(waiting);
      holder?.removeEventListener("scroll", onScroll);
    };
  }, [project, text, ready, aimed]);
}
