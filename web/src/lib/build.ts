/** The file the interface begins with; its name changes with every build. Null where there is none, as in development. */
export function entryOf(html: string): string | null {
  return /<script[^>]*\ssrc="([^"]*\/assets\/index-[^"]+\.js)"/.exec(html)?.[1] ?? null;
}

const LOOK_EVERY_MS = 10 * 60_000;
/** Two reloads in a row are further apart than this: a server that answers with old and new by turns ends in no loop. */
const APART_MS = 60_000;
const LAST = "winnower.reloaded";

/**
 * Watches for another build on the server: when somebody comes back to the page, from time to time, and when a part of
 * this one is no longer there. Then the page is loaded anew, as soon as nothing is unsaved.
 */
export function watchBuild(isBusy: () => boolean): () => void {
  const own = entryOf(document.documentElement.outerHTML);
  if (own === null) return () => {};
  const look = async () => {
    if (isBusy() || Date.now() - Number(sessionStorage.getItem(LAST) ?? 0) < APART_MS) return;
    const answer = await fetch("/", { cache: "no-store" }).catch(() => null);
    const now = answer?.ok ? entryOf(await answer.text()) : null;
    if (now === null || now === own || isBusy()) return;
    sessionStorage.setItem(LAST, String(Date.now()));
    window.location.reload();
  };
  const soon = () => void look();
  const timer = window.setInterval(soon, LOOK_EVERY_MS);
  window.addEventListener("focus", soon);
  window.addEventListener("vite:preloadError", soon);
  return () => {
    window.clearInterval(timer);
    window.removeEventListener("focus", soon);
    window.removeEventListener("vite:preloadError", soon);
  };
}

/** Whether somebody has words in a field that is in use. */
export function isTyping(): boolean {
  const field = document.activeElement;
  return (
    (field instanceof HTMLInputElement || field instanceof HTMLTextAreaElement) && field.value.trim() !== ""
  );
}
