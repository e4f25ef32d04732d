import { expect, test } from "vitest";
import { sameNames } from "./fill";

test("columns that are called like a variable fill it, whatever their case and the key apart", () => {
  const variables = [
    { key: "v3", name: "Age band", kind: "category" },
    { key: "v4", name: "id", kind: "text" },
  ];
  expect(sameNames(["ID", "age_band", "other"], "ID", variables)).toEqual([
    { column: "age_band", field: "v3", name: "Age band", kind: "category" },
  ]);
  expect(sameNames([], "", variables)).toEqual([]);
});
