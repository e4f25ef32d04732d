// @vitest-environment jsdom
import { screen, waitFor, within } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { Refused, serve, show } from "../../testing/served";
import { DictionaryFile, type FileUse } from "./file";

const TREE = {
  id: 1,
  name: "Frames",
  categories: [
    { id: 2, name: "Livelihood", depth: 0 },
    { id: 3, name: "Market", depth: 1 },
  ],
} as never;
const CONFLICTS = [
  { key: "a", kind: "options", source: "lamb*", category: "Livelihood", mine: "", theirs: "exact case" },
  { key: "b", kind: "note", source: "flock", category: "Livelihood", mine: "sheep only", theirs: "any" },
];
const PLAN = {
  terms: 2,
  categories: ["Ecology"],
  same: 5,
  doubles: 1,
  conflicts: CONFLICTS,
  refused: [{ what: "(market", reason: "The bracket is not closed." }],
};
const LIST = new File(["lamb*\nflock"], "list.csv", { type: "text/csv" });

function taking(as: FileUse["as"], answers: Parameters<typeof serve>[0]) {
  const forms: FormData[] = [];
  const kept = Request.prototype.text;
  vi.spyOn(Request.prototype, "text").mockImplementation(async function (this: Request) {
    if (!this.headers.get("content-type")?.startsWith("multipart")) return kept.call(this);
    forms.push(await this.formData());
    return "";
  });
  const asked = serve(answers);
  const made = vi.fn();
  const closed = vi.fn();
  const page = show(<DictionaryFile use={{ as }} tree={TREE} onMade={made} onClose={closed} />);
  const give = () => page.user.upload(screen.getByTestId("dictionary-file"), LIST);
  return { asked, forms, made, closed, give, ...page };
}

test("a file is looked at before it is merged, and conflicts are settled one by one", async () => {
  const { forms, closed, give, user } = taking("merge", {
    "POST /dictionaries/1/merge/preview": () => PLAN,
    "POST /dictionaries/1/merge": () => ({ added: 2, doubles: 0, refused: [] }),
  });
  await give();
  expect((await screen.findByText("2 new terms")).parentElement?.textContent).toBe(
    "2 new terms, 1 new category (Ecology); 5 there already, 1 twice in the file.",
  );
  expect(within(screen.getByLabelText("Not taken")).getByText("The bracket is not closed.")).toBeTruthy();
  const conflicts = within(screen.getByLabelText("Conflicts"));
  await user.click(conflicts.getByLabelText("exact case"));
  await user.click(screen.getByText("Merge"));
  await waitFor(() => expect(closed).toHaveBeenCalled());
  expect(JSON.parse(String(forms.at(-1)!.get("take_theirs")))).toEqual(["a"]);
  expect(screen.getByText(/1 conflict settled their way. Undo takes all of it back/)).toBeTruthy();
});

test("all conflicts can be settled at once, either way", async () => {
  const { give, user } = taking("merge", { "POST /dictionaries/1/merge/preview": () => PLAN });
  await give();
  await user.click(await screen.findByText("All as in the file"));
  expect(screen.getAllByRole<HTMLInputElement>("radio").filter((one) => one.checked)).toHaveLength(2);
  expect(screen.getByLabelText<HTMLInputElement>("any").checked).toBe(true);
  await user.click(screen.getByText("Keep all of mine"));
  expect(screen.getByLabelText<HTMLInputElement>("sheep only").checked).toBe(true);
});

test("a plain list goes into one category", async () => {
  const { forms, give, user } = taking("merge", {
    "POST /dictionaries/1/merge/preview": () => ({ ...PLAN, conflicts: [] }),
  });
  await user.selectOptions(screen.getByLabelText("Put the terms into"), "3");
  await give();
  await screen.findByText("2 new terms");
  expect(forms[0]!.get("into")).toBe("3");
});

test("nothing new is nothing to merge", async () => {
  const { give } = taking("merge", {
    "POST /dictionaries/1/merge/preview": () => ({ ...PLAN, terms: 0, categories: [], conflicts: [] }),
  });
  await give();
  expect((await screen.findByText<HTMLButtonElement>("Merge")).disabled).toBe(true);
});

test("a file that cannot be read says so, and another can be chosen", async () => {
  const { give, made } = taking("new", {
    "POST /dictionaries/import": () => new Refused(422, "The file has no column “term”."),
  });
  await give();
  expect((await screen.findByRole("alert")).textContent).toBe("The file has no column “term”.");
  expect(screen.getByText<HTMLButtonElement>("Choose a file").disabled).toBe(false);
  expect(made).not.toHaveBeenCalled();
});

test("lines that were not taken are shown before going on", async () => {
  const { give, made, closed, user } = taking("new", {
    "POST /dictionaries/import": () => ({
      dictionary: { id: 9 },
      added: 3,
      doubles: 2,
      refused: PLAN.refused,
    }),
  });
  await give();
  await screen.findByText("3 terms imported. Not taken:");
  expect(made).toHaveBeenCalledWith(9);
  expect(closed).not.toHaveBeenCalled();
  await user.click(screen.getByText("Go on"));
  expect(closed).toHaveBeenCalled();
});
