/** What kinds of views are called. */
export const KINDS: Record<string, string> = {
  comparison: "Comparison",
  changes: "Over time",
  map: "Map",
  keywords: "Keywords",
  together: "Co-occurrence",
  network: "Word network",
};
