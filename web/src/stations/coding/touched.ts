import { type RefObject, useEffect, useRef } from "react";

/** Fingers move the ends of a choice for a while; words are taken as chosen when they rest for so long. */
const REST_MS = 350;

/** Calls ``onChosen`` when words inside ``page`` were chosen by touch, which ends with no release of a mouse. */
export function useTouchedWords(page: RefObject<HTMLElement | null>, onChosen: () => void) {
  const latest = useRef(onChosen);
  useEffect(() => {
    latest.current = onChosen;
  });
  useEffect(() => {
    let touch = false;
    let waiting = 0;
    const down = (event: PointerEvent) => {
      touch = event.pointerType === "touch";
    };
    const changed = () => {
      window.clearTimeout(waiting);
      const selection = window.getSelection();
      if (!touch || !selection || selection.isCollapsed) return;
      if (!page.current?.contains(selection.anchorNode)) return;
      waiting = window.setTimeout(() => latest.current(), REST_MS);
    };
    document.addEventListener("pointerdown", down, true);
    document.addEventListener("selectionchange", changed);
    return () => {
      window.clearTimeout(waiting);
      document.removeEventListener("pointerdown", down, true);
      document.removeEventListener("selectionchange", changed);
    };
  }, [page]);
}
