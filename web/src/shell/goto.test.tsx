// @vitest-environment jsdom
import { screen, waitFor } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { serve, show } from "../testing/served";
import { GoTo } from "./goto";

const HITS = [
  { kind: "category", id: 4, parent_id: 2, label: "Livelihood", detail: "Frames" },
  { kind: "source", id: 0, parent_id: null, label: "Hill Farmer", detail: "20 texts" },
  { kind: "subcorpus", id: 9, parent_id: null, label: "Summer", detail: "" },
  { kind: "text", id: 31, parent_id: null, label: "Nine pages", detail: "Hill Farmer" },
];
const SUMMER = [{ kind: "dates", field: "date", low: "2031-06-01", high: "2031-08-31", exclude: false }];

function goTo(hits: unknown[] = HITS, search = "?q=old&scope=[]") {
  const asked = serve({
    "GET /go-to": () => hits,
    "GET /subcorpora": () => [{ id: 9, name: "Summer", scope: SUMMER }],
  });
  const closed = vi.fn();
  return { asked, closed, ...show(<GoTo open onClose={closed} />, search) };
}
const address = () => screen.getByTestId("address").textContent!;

test("Enter opens the first that is found", async () => {
  const { user, closed } = goTo();
  await user.type(screen.getByPlaceholderText(/Go to a text/), "live");
  await screen.findByText("Livelihood");
  await user.keyboard("{Enter}");
  expect(address()).toBe("/projects/7/dictionary?scope=[]&dictionary=2&category=4");
  expect(closed).toHaveBeenCalled();
});

test("where nothing is called so, Enter searches the texts", async () => {
  const { user } = goTo([]);
  await user.type(screen.getByPlaceholderText(/Go to a text/), "market price");
  await screen.findByText("No match.");
  await user.keyboard("{Enter}");
  expect(address()).toContain("/corpus/search?");
  expect(address()).toContain("q=market price");
});

test("a source and a subcorpus become the scope", async () => {
  const { user } = goTo(HITS, "");
  await user.type(screen.getByPlaceholderText(/Go to a text/), "h");
  await user.click(await screen.findByText("Hill Farmer", { selector: ".truncate" }));
  expect(address()).toContain('"field":"source","values":["Hill Farmer"]');
  await user.type(screen.getByPlaceholderText(/Go to a text/), "s");
  await user.click(await screen.findByText("Summer"));
  await waitFor(() => expect(address()).toContain('"low":"2031-06-01"'));
  expect(address()).not.toContain("Hill Farmer");
});

test("views are found by their names", async () => {
  const { user } = goTo([]);
  await user.type(screen.getByPlaceholderText(/Go to a text/), "deliv");
  await waitFor(() => expect(screen.queryByText("Compare")).toBeNull());
  await user.click(screen.getByText("Deliveries"));
  expect(address()).toContain("/projects/7/corpus/deliveries");
});
