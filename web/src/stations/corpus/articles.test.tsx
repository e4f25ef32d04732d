// @vitest-environment jsdom
import { screen, waitFor, within } from "@testing-library/react";
import { expect, test } from "vitest";
import { type Answers, askedFor, Refused, SUMMARY, serve, show } from "../../testing/served";
import { Articles } from "./articles";

const line = (number: number, there = false) => ({
  id: `VR-000${number}`,
  kind: "study",
  title: `Lambs, part ${number}`,
  authors: ["Pell, Tomas"],
  year: 2030 + number,
  outlet: "Valley Review",
  subjects: ["lambs"],
  words: "An abstract.",
  there,
});
const PAGE = {
  service: "Valley records, made up",
  total: 120,
  start: 0,
  records: [line(1), line(2, true), line(3)],
  kinds: [{ name: "study", records: 120 }],
  outlets: [{ name: "Valley Review", records: 120 }],
  years: [2031, 2032, 2033],
  summary: [{ words: "Lambs were counted.", passages: [3] }],
};
const SEARCH = "POST /articles/search";

function articles(more: Answers = {}, search = "") {
  localStorage.clear();
  const all = serve({ [SEARCH]: () => PAGE, ...more });
  return { all, ...show(<Articles />, search) };
}

test("words are looked for when they are sent, kept in the address, and begin at the first page", async () => {
  const { all, user } = articles();
  await screen.findByText("Lambs, part 1");
  await user.click(screen.getByRole("button", { name: "After" }));
  await waitFor(() => expect(askedFor(all, SEARCH).at(-1).start).toBe(50));
  await user.type(screen.getByLabelText("Find articles"), " lost lambs {Enter}");
  await waitFor(() => expect(askedFor(all, SEARCH).at(-1)).toMatchObject({ words: "lost lambs", start: 0 }));
  expect(screen.getByTestId("address").textContent).toContain("find=lost lambs");
});

test("filters say how many there are, and all that stand in the address are asked for together", async () => {
  const { all, user } = articles({}, "?kind=study&from=2032&to=2033");
  await screen.findByText("Lambs, part 1");
  expect(askedFor(all, SEARCH)[0]).toMatchObject({
    kinds: ["study"],
    first: 2032,
    last: 2033,
    newest: false,
  });
  await user.selectOptions(screen.getByLabelText("Outlet"), "Valley Review (120)");
  await waitFor(() => expect(askedFor(all, SEARCH).at(-1)).toMatchObject({ outlets: ["Valley Review"] }));
});

test("what is in the corpus cannot be taken again; the rest is taken in the order of the list", async () => {
  const { all, user } = articles({
    "POST /articles/take": () => ({ id: 9, files: ["articles.ris"], problems: [] }),
  });
  await screen.findByText("Lambs, part 1");
  const there = screen.getByLabelText("Choose Lambs, part 2, VR-0002");
  expect(there).toHaveProperty("disabled", true);
  await user.click(screen.getByLabelText("Choose all on this page"));
  expect(there).toHaveProperty("checked", false);
  await user.click(screen.getByRole("button", { name: "Take 2 records into the corpus" }));
  await waitFor(() =>
    expect(askedFor(all, "POST /articles/take")).toEqual([{ ids: ["VR-0001", "VR-0003"] }]),
  );
  await waitFor(() => expect(screen.getByTestId("address").textContent).toContain("/corpus/import"));
});

test("a sentence of the summary opens the record it is from", async () => {
  const { user } = articles({
    "GET /articles/records/VR-0003": () => ({
      line: line(3),
      volume: "7",
      pages: "1-9",
      publisher: "",
      author_date: "Pell, T. (2033). Lambs, part 3.",
      notes: "Pell, Tomas. “Lambs, part 3.”",
    }),
  });
  const short = await screen.findByTestId("first-five");
  await user.click(within(short).getByRole("button", { name: "VR-0003" }));
  await screen.findByText("Pell, T. (2033). Lambs, part 3.");
  expect(screen.getByText("Pell, Tomas. “Lambs, part 3.”")).toBeTruthy();
});

test("columns are chosen and kept", async () => {
  const { user } = articles();
  await screen.findByText("Lambs, part 1");
  expect(screen.queryByText("An abstract.")).toBeNull();
  await user.click(screen.getByRole("button", { name: /Columns/ }));
  await user.click(await screen.findByLabelText("Abstract"));
  expect(screen.getAllByText("An abstract.")).toHaveLength(3);
  expect(localStorage.getItem("winnower.articles.columns")).toContain("words");
});

test("nothing found, a service that fails and a reader are told apart", async () => {
  let answer: unknown = { ...PAGE, total: 0, records: [], summary: [] };
  const { user } = articles({ [SEARCH]: () => answer, "GET /": () => ({ ...SUMMARY, role: "reader" }) });
  await screen.findByText("Nothing is found");
  answer = new Refused(503, "The service is away.");
  await user.type(screen.getByLabelText("Find articles"), "x{Enter}");
  await screen.findByText(/The service is away/);
  answer = PAGE;
  await user.type(screen.getByLabelText("Find articles"), "y{Enter}");
  await screen.findByText("Lambs, part 1");
  expect(screen.queryByRole("button", { name: /into the corpus/ })).toBeNull();
});
