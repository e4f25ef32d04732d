import { describe, expect, it } from "vitest";
import { written } from "./value";

describe("a value as one types it", () => {
  it("joins several values and leaves nothing empty", () => {
    expect(written(["north", "coast"])).toBe("north; coast");
    expect(written(null)).toBe("");
    expect(written(7.5)).toBe("7.5");
    expect(written("x")).toBe("x");
  });
});
