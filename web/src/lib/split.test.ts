import { expect, test } from "vitest";
import type { Schema } from "../api/client";
import { splitName, usualSplit } from "./split";

type Field = Schema["FieldInfo"];
const field = (key: string, kind: Field["kind"], missing: number, can_split = true): Field => ({
  key,
  name: key[0]!.toUpperCase() + key.slice(1),
  kind,
  can_split,
  missing,
  different: 1,
  values: [],
  low: null,
  high: null,
});

test("a view opens on the source where texts have one", () => {
  expect(usualSplit([field("date", "date", 0), field("source", "category", 3)], 10)).toEqual({
    field: "source",
  });
});

test("without sources it opens on the first field with values, dates by month", () => {
  const fields = [
    field("source", "category", 10),
    field("title", "text", 0, false),
    field("date", "date", 2),
  ];
  expect(usualSplit(fields, 10)).toEqual({ field: "date", period: "month" });
});

test("a table with nothing but texts has no split", () => {
  expect(usualSplit([field("source", "category", 10), field("date", "date", 10)], 10)).toEqual({});
  expect(splitName({}, [])).toBe("all texts together");
});

test("splits are named as people call them", () => {
  expect(splitName({ field: "date", period: "month" }, [field("date", "date", 0)])).toBe("date by month");
  expect(splitName({ field: "v9" }, [])).toBe("v9");
});
