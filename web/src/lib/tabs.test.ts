import { describe, expect, it } from "vitest";
import { MOST_TABS, withTab } from "./tabs";

describe("tabs", () => {
  it("opens a text once and takes over its new title", () => {
    expect(withTab([{ id: 1, title: "a" }], { id: 1, title: "b" })).toEqual([{ id: 1, title: "b" }]);
  });
  it("lets the oldest give way", () => {
    const many = Array.from({ length: MOST_TABS }, (_, id) => ({ id, title: `${id}` }));
    const next = withTab(many, { id: 99, title: "new" });
    expect(next).toHaveLength(MOST_TABS);
    expect(next[0]!.id).toBe(1);
    expect(next.at(-1)!.id).toBe(99);
  });
});
