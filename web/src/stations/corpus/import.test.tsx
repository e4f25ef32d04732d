// @vitest-environment jsdom
import { screen, waitFor } from "@testing-library/react";
import { useState } from "react";
import { expect, test, vi } from "vitest";
import type { Schema } from "../../api/client";
import { askedFor, serve, show } from "../../testing/served";
import { Expected, KEEP, useExpected } from "./again";
import { CutChoice } from "./cut";
import type { Mapping } from "./mapping";
import { SourceOf } from "./sourceof";

const EXPECTED = "POST /imports/expected";
const NOTHING: Schema["ExpectedPublic"] = {
  new: 0,
  placeholders: 0,
  known: 0,
  other_values: 0,
  changed: 0,
  twice: 0,
  alike: 0,
  refused: 0,
  everything: true,
  share: 1,
  fields: [],
  examples: [],
  agreeing: [],
  conflicts: [],
  nearly: 0,
  perhaps: [],
};
const target = (column: string, role: Mapping["targets"][number]["role"]) => ({
  column,
  role,
  name: column,
  kind: "category" as const,
  separator: ";",
  also: false,
});
const mapping: Mapping = {
  targets: [target("text", "text"), target("paper", "variable"), target("url", "skip")],
  source_name: null,
  source_from: "",
  day_first: true,
  layout: "answers",
  question_name: "Question",
  placeholders: false,
  naming: "title",
  line: null,
  same: "",
};
const lot = {
  header: ["text", "paper", "url"],
  sources: [
    { way: "column:paper", examples: ["Hill Farmer"] },
    { way: "domain:url", examples: ["orrin.example", "lantern.example"] },
    { way: "file", examples: ["june", "july"] },
  ],
} as unknown as Schema["LotPreview"];

function Counted({ onAgain = () => {} }: { onAgain?: (again: typeof KEEP) => void }) {
  return <Expected found={useExpected(7, {}, true)} again={KEEP} onAgain={onAgain} />;
}

test("what an import would do is counted, and rows that agree are shown", async () => {
  const asked = serve({
    [EXPECTED]: () => ({
      ...NOTHING,
      new: 12,
      known: 1,
      twice: 1,
      agreeing: [
        {
          first: { file: "a.csv", row: 2 },
          second: { file: "b.csv", row: 5 },
          start: "The lynx",
          other: true,
        },
      ],
    }),
  });
  show(<Counted />);
  expect(await screen.findByTestId("expected")).toHaveProperty(
    "textContent",
    expect.stringContaining("12 new, 1 known already"),
  );
  expect(screen.getByText(/a.csv, row 2 and b.csv, row 5 have one key/).textContent).toContain("The lynx");
  expect(askedFor(asked, EXPECTED)[0]).toEqual({ upload_id: 7, lots: {} });
});

test("columns that do not fit are told", async () => {
  serve({ [EXPECTED]: () => ({ ...NOTHING, conflicts: ["The variable “age” is here as number."] }) });
  show(<Counted />);
  expect((await screen.findByRole("alert")).textContent).toContain("age");
});

test("what becomes of known texts is chosen for all and for one", async () => {
  const changed = vi.fn();
  serve({
    [EXPECTED]: () => ({
      ...NOTHING,
      changed: 1,
      fields: [{ name: "date", other: 1, empty: 0 }],
      examples: [
        {
          identity: "ab",
          name: "Nine pages",
          file: "a.csv",
          row: 3,
          corrected: false,
          words: [{ kind: "gone", text: "old" }],
          values: [{ name: "date", before: "2031-06-03", after: "2031-06-04" }],
        },
      ],
    }),
  });
  const { user } = show(<Counted onAgain={changed} />);
  await user.selectOptions(await screen.findByLabelText("Another text"), "take");
  expect(changed).toHaveBeenLastCalledWith({ ...KEEP, texts: "take" });
  await user.selectOptions(screen.getByLabelText("Other values"), "keep");
  expect(changed).toHaveBeenLastCalledWith({ ...KEEP, values: "keep" });
  await user.selectOptions(screen.getByLabelText("What to do with Nine pages"), "take");
  expect(changed).toHaveBeenLastCalledWith({ ...KEEP, each: { ab: "take" } });
});

function Source() {
  const [now, set] = useState(mapping);
  return (
    <>
      <SourceOf lot={lot} mapping={now} onChange={set} />
      <output data-testid="taken">{JSON.stringify(now)}</output>
    </>
  );
}
const taken = () => JSON.parse(screen.getByTestId("taken").textContent ?? "") as Mapping;

test("who texts are from is chosen from candidates, and taken back", async () => {
  const { user } = show(<Source />);
  const choice = screen.getByLabelText("Who are the texts from?");
  await user.selectOptions(choice, "domain:url");
  expect(taken().source_from).toBe("domain:url");
  await user.selectOptions(choice, "column:paper");
  expect(taken().targets[1]?.role).toBe("source");
  expect(taken().source_from).toBe("");
  await user.selectOptions(choice, "one");
  await user.type(screen.getByLabelText("Name of the source"), "Wire");
  await waitFor(() => expect(taken().source_name).toBe("Wire"));
  expect(taken().targets[1]?.role).toBe("skip");
  await user.selectOptions(choice, "");
  expect(taken().source_name).toBeNull();
});

test("a file is cut by pointing at a line", async () => {
  const changed = vi.fn();
  const lines = Array.from({ length: 40 }, (_, number) => ({
    number,
    text: number % 10 ? `words ${number}` : `Number ${number}`,
    begins: number % 10 === 0,
  }));
  const export_ = {
    cuts: ["file", "line", "begins"],
    choice: { cut: "begins", cut_line: "Number 0", speakers: true },
    cut: { texts: 4, files: 1, lines, speakers: ["Ann", "Bor"], levels: [], marks: [], head_fields: [] },
  } as unknown as Schema["LotPreview"];
  const { user } = show(<CutChoice lot={export_} onChange={changed} />);
  expect(screen.getByTestId("cut-texts").textContent).toBe("4 texts in the first file");
  await user.click(screen.getByText("Show where texts begin"));
  expect(screen.queryByText("words 15")).toBeNull();
  await user.click(screen.getByText("Show all 40 lines"));
  await user.click(screen.getByText("words 15"));
  expect(changed).toHaveBeenLastCalledWith({
    cut: "begins",
    cut_line: "words 15",
    cut_marks: {},
    mapping: null,
  });
  await user.selectOptions(screen.getByLabelText("What line 2 says"), "date");
  expect(changed).toHaveBeenLastCalledWith({ cut_marks: { date: 1 }, mapping: null });
  expect(screen.queryByLabelText("What line 16 says")).toBeNull();
  expect(screen.queryByLabelText("What line 1 says")).not.toBeNull();
  await user.click(screen.getByRole("checkbox"));
  expect(changed).toHaveBeenLastCalledWith({ speakers: false, mapping: null });
});

test("a separating line is no line of the text it begins", async () => {
  const changed = vi.fn();
  const lines = ["***", "Nine pages", "3 June 2031", "Words."].map((text, number) => ({
    number,
    text,
    begins: number === 0,
  }));
  const lot = {
    cuts: ["file", "line", "begins"],
    choice: { cut: "line", cut_line: "***", speakers: false },
    cut: { texts: 1, files: 1, lines, speakers: [], levels: [], marks: [], head_fields: [] },
  } as unknown as Schema["LotPreview"];
  const { user } = show(<CutChoice lot={lot} onChange={changed} />);
  await user.click(screen.getByText("Show where texts begin"));
  expect(screen.queryByLabelText("What line 1 says")).toBeNull();
  await user.selectOptions(screen.getByLabelText("What line 2 says"), "title");
  expect(changed).toHaveBeenLastCalledWith({ cut_marks: { title: 0 }, mapping: null });
});
