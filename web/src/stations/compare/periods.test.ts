import { expect, test } from "vitest";
import { daysOf, groupText, placeOf } from "./periods";

const day = (date: Date | undefined) => date?.toISOString().slice(0, 10);

test.each([
  ["2031-04-07", "2031-04-07", "2031-04-08"],
  ["2031-W01", "2030-12-30", "2031-01-06"],
  ["2032-W53", "2032-12-27", "2033-01-03"],
  ["2031-04", "2031-04-01", "2031-05-01"],
  ["2031-12", "2031-12-01", "2032-01-01"],
  ["2031-Q4", "2031-10-01", "2032-01-01"],
  ["2031", "2031-01-01", "2032-01-01"],
])("%s begins on %s and ends before %s", (label, first, next) => {
  const days = daysOf(label);
  expect([day(days?.[0]), day(days?.[1])]).toEqual([first, next]);
});

test.each([
  ["2031-04-07", "7 Apr 2031"],
  ["2031-W45", "week of 3 Nov 2031"],
  ["2031-10", "Oct 2031"],
  ["2031-Q2", "Q2 2031"],
  ["2031", "2031"],
  ["Hill Farmer · 2031-10", "Hill Farmer · Oct 2031"],
  ["2031-10 issue", "2031-10 issue"],
])("%s is read as %s", (label, text) => expect(groupText(label)).toBe(text));

test("a label that is no period has no days, an event outside of all no place", () => {
  expect(daysOf("Hill Farmer")).toBeNull();
  expect(placeOf("2030-01-01", ["2031-01", "2031-02"])).toBeNull();
});

test("an event lies where its day does within its period", () => {
  expect(placeOf("2031-02-01", ["2031-01", "2031-02"])).toBeCloseTo(0.5);
  expect(placeOf("2031-02-15", ["2031-01", "2031-02"])).toBeCloseTo(1);
});
