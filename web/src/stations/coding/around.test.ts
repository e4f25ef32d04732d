// @vitest-environment jsdom
import { beforeEach, describe, expect, it } from "vitest";
import type { Passage } from "../../data/coding";
import { forgetReadPlace, keepReadPlace, readPlace } from "../../lib/readplace";
import { withOrigin } from "./bulkpassages";
import type { Found } from "./found";
import { snapped } from "./handles";
import { ALL_SHOWN, isShown } from "./marks";
import { ANY, sent } from "./question";

describe("a grip of a passage", () => {
  const body = "Red deer eat birch.\nWolves ate them.";
  const of = (words: string) => ({ start: body.indexOf(words), end: body.indexOf(words) + words.length });
  it("takes the word under it, at either end", () => {
    expect(snapped(body, of("deer"), "end", body.indexOf("irch"))).toEqual(of("deer eat birch"));
    expect(snapped(body, of("deer"), "start", 1)).toEqual(of("Red deer"));
    expect(snapped(body, of("Red deer eat"), "end", 6)).toEqual(of("Red deer"));
  });
  it("goes over line ends", () => {
    expect(snapped(body, of("birch"), "end", body.indexOf("ate"))).toEqual(of("birch.\nWolves ate"));
  });
  it("leaves a word at least", () => {
    expect(snapped(body, of("birch"), "end", 2)).toBeNull();
    expect(snapped(body, of("Red"), "start", body.length - 1)).toBeNull();
  });
});

describe("marks that are shown", () => {
  const passage = { code_id: 3, coder: "Orla Venn", mine: false } as Passage;
  const code = { colour: 2, technical: false } as Parameters<typeof isShown>[1];
  it("are chosen by coder, code, colour, and whether the code is technical", () => {
    expect(isShown(passage, code, ALL_SHOWN)).toBe(true);
    expect(isShown(passage, code, { ...ALL_SHOWN, whose: "mine" })).toBe(false);
    expect(isShown(passage, code, { ...ALL_SHOWN, whose: "Orla Venn" })).toBe(true);
    expect(isShown(passage, code, { ...ALL_SHOWN, codes: new Set([3]) })).toBe(false);
    expect(isShown(passage, code, { ...ALL_SHOWN, colours: new Set([2]) })).toBe(false);
    const technical = { ...code!, technical: true };
    expect(isShown(passage, technical, ALL_SHOWN)).toBe(false);
    expect(isShown(passage, technical, { ...ALL_SHOWN, technical: true })).toBe(true);
  });
});

describe("a question", () => {
  it("is sent without conditions that name no code yet", () => {
    const open = { relation: "near", codes: [], without: false, within: 5, unit: "words" } as const;
    expect(
      sent({
        ...ANY,
        beside: [
          { ...open, codes: [] },
          { ...open, codes: [4] },
        ],
      }).beside,
    ).toHaveLength(1);
  });
});

describe("a copied passage", () => {
  it("says where it is from, without what nobody knows", () => {
    const standing = { speaker: "", page: "", time: "" };
    const one = {
      text: "forty lambs",
      source: null,
      date: "2031-04-02",
      title: "Losses",
      paragraph: 4,
      standing,
    };
    expect(withOrigin(one as Found)).toBe("“forty lambs” (2 Apr 2031, Losses, paragraph 4)");
    const spoken = { ...one, standing: { speaker: "Una", page: "3", time: "" } } as Found;
    expect(withOrigin(spoken)).toBe("“forty lambs” (Una, in: 2 Apr 2031, Losses, p. 3, paragraph 4)");
  });
});

describe("where somebody reads", () => {
  beforeEach(() => localStorage.clear());
  it("is kept by project and forgotten", () => {
    expect(readPlace(1)).toBeNull();
    keepReadPlace(1, { text: 7, paragraph: 3 });
    expect(readPlace(1)).toEqual({ text: 7, paragraph: 3 });
    expect(readPlace(2)).toBeNull();
    forgetReadPlace(1);
    expect(readPlace(1)).toBeNull();
    localStorage.setItem("winnower.reading.1", "no JSON");
    expect(readPlace(1)).toBeNull();
  });
});
