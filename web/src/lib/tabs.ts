import { useCallback, useSyncExternalStore } from "react";

/** Texts that are open in tabs, by project; kept in this browser. */
export interface Tab {
  id: number;
  title: string;
}

export const MOST_TABS = 12;
const listeners = new Set<() => void>();
const cache = new Map<string, readonly Tab[]>();
const NONE: readonly Tab[] = [];

function key(project: number): string {
  return `winnower-tabs-${project}`;
}

function read(project: number): readonly Tab[] {
  const name = key(project);
  const known = cache.get(name);
  if (known) return known;
  let found: readonly Tab[] = NONE;
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(name) ?? "[]");
    if (Array.isArray(kept)) found = kept as Tab[];
  } catch {
    localStorage.removeItem(name);
  }
  cache.set(name, found);
  return found;
}

function write(project: number, tabs: readonly Tab[]): void {
  cache.set(key(project), tabs);
  localStorage.setItem(key(project), JSON.stringify(tabs));
  for (const tell of listeners) tell();
}

/** Tabs with one more; the oldest gives way beyond MOST_TABS, a new title replaces the old one. */
export function withTab(tabs: readonly Tab[], tab: Tab): readonly Tab[] {
  if (tabs.some((one) => one.id === tab.id)) return tabs.map((one) => (one.id === tab.id ? tab : one));
  return [...tabs, tab].slice(-MOST_TABS);
}

export function useTabs(project: number) {
  const tabs = useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => read(project),
  );
  const open = useCallback((tab: Tab) => write(project, withTab(read(project), tab)), [project]);
  const close = useCallback(
    (id: number) =>
      write(
        project,
        read(project).filter((tab) => tab.id !== id),
      ),
    [project],
  );
  const closeAll = useCallback(() => write(project, []), [project]);
  return { tabs, open, close, closeAll };
}
