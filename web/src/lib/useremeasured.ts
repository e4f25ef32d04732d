import { type RefObject, useEffect, useLayoutEffect } from "react";

/**
 * Measures at once, and again whenever what was measured may have moved: the element has another size, fonts have
 * come, the window is another. ``measure`` is a new function where something else it hangs on has changed.
 */
export function useRemeasured(element: RefObject<HTMLElement | null>, measure: () => void) {
  useLayoutEffect(() => {
    measure();
  }, [measure]);
  useEffect(() => {
    let waiting = 0;
    const soon = () => {
      cancelAnimationFrame(waiting);
      waiting = requestAnimationFrame(measure);
    };
    const fonts = document.fonts as FontFaceSet | undefined;
    const sized = typeof ResizeObserver === "undefined" ? null : new ResizeObserver(soon);
    if (element.current) sized?.observe(element.current);
    fonts?.addEventListener?.("loadingdone", soon);
    window.addEventListener("resize", soon);
    return () => {
      cancelAnimationFrame(waiting);
      sized?.disconnect();
      fonts?.removeEventListener?.("loadingdone", soon);
      window.removeEventListener("resize", soon);
    };
  }, [element, measure]);
}
