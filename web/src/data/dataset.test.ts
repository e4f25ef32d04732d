import { describe, expect, it } from "vitest";
import { requestOf, USUAL, wantedFrom } from "./dataset";

describe("A table for statistics", () => {
  it("is read from the address, the usual one where that says nothing", () => {
    expect(wantedFrom("")).toEqual(USUAL);
    expect(wantedFrom("[")).toEqual(USUAL);
    expect(wantedFrom('{"rows":"sentence","tone":0}')).toEqual({ ...USUAL, rows: "sentence", tone: 0 });
  });

  it("asks for a target for each dictionary and run, and one for the codes", () => {
    const request = requestOf({ ...USUAL, dictionaries: [3], runs: [4], codes: true, fields: ["date"] }, []);
    expect(request.targets.map((one) => one.kind)).toEqual(["dictionary", "run", "codes"]);
    expect(request.fields).toEqual(["date"]);
    expect(requestOf(USUAL, []).fields).toBeNull();
  });

  it("asks for no tone and no columns of 0 and 1 where a row is a unit", () => {
    const of = (rows: "text" | "unit") =>
      requestOf({ ...USUAL, rows, unit: "source", spread: true, tone: 0 }, []);
    expect(of("text")).toMatchObject({ spread: true, tone: 0, unit: null });
    expect(of("unit")).toMatchObject({ spread: false, tone: null, unit: "source" });
  });
});
