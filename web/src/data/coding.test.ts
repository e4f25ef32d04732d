import { describe, expect, it } from "vitest";
import type { Schema } from "../api/client";
import { type Passage, settled, sharing } from "./coding";

function passage(id: number, start: number, code_id = 1): Passage {
  return {
    id,
    code_id,
    start,
    end: start + 5,
    strength: null,
    comment: "",
    coder: "Ada",
    mine: true,
    made_at: "2031-06-03T00:00:00Z",
    revision: 1,
    reason: "",
  } as Passage;
}

describe("Passages of a text that is read again", () => {
  it("stay the very same where nothing of them changed, wherever they stand", () => {
    const before: Schema["TextPassages"] = { passages: [passage(1, 0), passage(2, 10)], revision: 1 };
    const now = sharing(before, {
      passages: [passage(3, 4), passage(1, 0), { ...passage(2, 10), comment: "look again" }],
      revision: 2,
    });
    expect(now.revision).toBe(2);
    expect(now.passages[1]).toBe(before.passages[0]);
    expect(now.passages[2]).not.toBe(before.passages[1]);
    expect(now.passages[2]!.comment).toBe("look again");
    expect(sharing(undefined, before)).toBe(before);
  });

  it("take the place of what was only shown", () => {
    const now = settled(
      { passages: [passage(-5, 0), passage(2, 10)], revision: 1 },
      { passages: [passage(7, 0)], gone: [2], revision: 2 } as Schema["PassagesChanged"],
      false,
    );
    expect(now.passages.map((one) => one.id)).toEqual([7]);
  });
});
