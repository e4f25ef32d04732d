import { describe, expect, it } from "vitest";
import { type Mapping, targetOf, textColumns, withTarget } from "./mapping";

const header = ["id", "text", "more", "tags"];
const target = (column: string, role: Mapping["targets"][number]["role"]): Mapping["targets"][number] => ({
  column,
  role,
  name: column,
  kind: "category",
  separator: ";",
  also: false,
});
const mapping: Mapping = {
  targets: [target("id", "key"), target("text", "text"), target("more", "skip")],
  source_name: null,
  day_first: true,
  layout: "answers",
  question_name: "Question",
  placeholders: false,
  naming: "title",
  same: "",
  source_from: "",
};

describe("a mapping", () => {
  it("leaves out columns nobody spoke of", () => {
    expect(targetOf(mapping, "tags").role).toBe("skip");
  });
  it("gives a part that only one column can have to the new one", () => {
    const next = withTarget(mapping, header, "more", { role: "key" });
    expect(next.targets.map((one) => one.role)).toEqual(["skip", "text", "key", "skip"]);
  });
  it("lets several columns be texts, variables and notes", () => {
    const next = withTarget(withTarget(mapping, header, "more", { role: "text" }), header, "tags", {
      role: "variable",
    });
    expect(textColumns(next).map((one) => one.column)).toEqual(["text", "more"]);
    expect(next.targets.at(-1)!.role).toBe("variable");
  });
  it("keeps what else was said of a column", () => {
    const next = withTarget(mapping, header, "text", { name: "Body" });
    expect(targetOf(next, "text")).toMatchObject({ role: "text", name: "Body" });
    expect(next.source_name).toBeNull();
  });
});
