// @vitest-environment jsdom
import { fireEvent, screen, waitFor } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import type { Schema } from "../api/client";
import { askedFor, Refused, SUMMARY, serve, show } from "../testing/served";
import { NarrowForm } from "./narrow";
import { ScopeBar } from "./scopebar";

const field = (key: string, name: string, kind: string, more = {}) =>
  ({
    key,
    name,
    kind,
    values: [],
    missing: 0,
    low: null,
    high: null,
    ...more,
  }) as unknown as Schema["FieldInfo"];
const SOURCES = field("source", "Source", "category", {
  values: [
    { label: "Hill Farmer", texts: 20 },
    { label: "Orrin Courier", texts: 15 },
  ],
  missing: 5,
});
const FIELDS = [
  SOURCES,
  field("date", "Date", "date", { low: "2031-01-01", high: "2031-12-31" }),
  field("words", "Words", "number", { low: "10", high: "900" }),
  field("title", "Title", "text"),
];

function form() {
  const added = vi.fn();
  return { added, ...show(<NarrowForm fields={FIELDS} onAdd={added} />) };
}

test("values are ticked, texts without one as well", async () => {
  serve({});
  const { added, user } = form();
  expect(screen.getByText<HTMLButtonElement>("Narrow").disabled).toBe(true);
  await user.click(screen.getByLabelText(/Orrin Courier/));
  await user.click(screen.getByLabelText(/no value/));
  await user.click(screen.getByText("Narrow"));
  expect(added).toHaveBeenCalledWith({
    kind: "values",
    field: "source",
    values: ["Orrin Courier", null],
    exclude: false,
  });
});

test("a condition can leave texts out", async () => {
  serve({});
  const { added, user } = form();
  await user.click(screen.getByLabelText(/Leave these out/));
  await user.click(screen.getByLabelText(/Hill Farmer/));
  await user.click(screen.getByText("Narrow"));
  expect(added.mock.calls[0]![0]).toMatchObject({ values: ["Hill Farmer"], exclude: true });
});

test("the form follows the kind of the field", async () => {
  serve({});
  const { added, user } = form();
  await user.selectOptions(screen.getByLabelText("Narrow by"), "Date");
  fireEvent.change(screen.getByLabelText("From"), { target: { value: "2031-06-01" } });
  await user.click(screen.getByText("Narrow"));
  expect(added).toHaveBeenLastCalledWith({
    kind: "dates",
    field: "date",
    low: "2031-06-01",
    high: "2031-12-31",
    exclude: false,
  });
  await user.selectOptions(screen.getByLabelText("Narrow by"), "Title");
  await user.type(screen.getByLabelText("Title contains"), "  lynx ");
  await user.click(screen.getByText("Narrow"));
  expect(added).toHaveBeenLastCalledWith({ kind: "title", field: "title", contains: "lynx", exclude: false });
  await user.selectOptions(screen.getByLabelText("Narrow by"), "Words in the text");
  await user.type(screen.getByLabelText(/Texts with any/), "lamb*{Enter}{Enter}market price");
  await user.click(screen.getByText("Narrow"));
  expect(added).toHaveBeenLastCalledWith({ kind: "terms", terms: ["lamb*", "market price"], exclude: false });
});

test("what is no number cannot narrow, and an open end stays open", async () => {
  serve({});
  const { added, user } = form();
  await user.selectOptions(screen.getByLabelText("Narrow by"), "Number of words");
  fireEvent.change(screen.getByLabelText("From"), { target: { value: "many" } });
  expect(screen.getByText<HTMLButtonElement>("Narrow").disabled).toBe(true);
  fireEvent.change(screen.getByLabelText("From"), { target: { value: "" } });
  await user.click(screen.getByText("Narrow"));
  expect(added).toHaveBeenLastCalledWith({
    kind: "numbers",
    field: "words",
    low: null,
    high: 900,
    exclude: false,
  });
});

const SIZE = { texts: 25, all_texts: 40, words: 1234, aside: 2 };
const TWO = `?scope=${encodeURIComponent(
  JSON.stringify([
    { kind: "values", field: "source", values: ["Hill Farmer"], exclude: false },
    { kind: "terms", terms: ["deer"], exclude: true },
  ]),
)}`;

function bar(more = {}, search = TWO) {
  const asked = serve({
    "GET /fields": () => FIELDS,
    "GET /subcorpora": () => [],
    "POST /scope": () => SIZE,
    ...more,
  });
  return { asked, ...show(<ScopeBar />, search) };
}

test("the scope says what it holds and how large it is", async () => {
  const { asked } = bar();
  expect((await screen.findByTestId("scope-size")).textContent).toBe(
    "25 of 40 texts, 1,234 words; 2 excluded",
  );
  expect(screen.getByText("without “deer”")).toBeTruthy();
  expect(askedFor(asked, "POST /scope")[0].scope).toHaveLength(2);
});

test("a condition is taken away, the others stay", async () => {
  const { user } = bar();
  await user.click(await screen.findByLabelText("Remove Hill Farmer"));
  expect(screen.queryByText("Hill Farmer")).toBeNull();
  expect(screen.getByText("without “deer”")).toBeTruthy();
  expect(screen.getByTestId("address").textContent).toContain('[{"kind":"terms"');
  await user.click(screen.getByLabelText("Remove without “deer”"));
  expect(screen.getByText("All texts")).toBeTruthy();
});

test("a scope that no longer holds says why", async () => {
  bar({ "POST /scope": () => new Refused(422, "There is no field “region” any more.") });
  expect((await screen.findByRole("alert")).textContent).toBe("There is no field “region” any more.");
});

test("a scope is kept as a subcorpus", async () => {
  const { asked, user } = bar({ "POST /subcorpora": () => ({ id: 1, name: "Farmers", scope: [] }) });
  await user.click(await screen.findByText("Keep as subcorpus"));
  await user.type(screen.getByLabelText("Name"), "Farmers{Enter}");
  await screen.findByText("Kept as “Farmers”.");
  expect(askedFor(asked, "POST /subcorpora")[0]).toMatchObject({ name: "Farmers" });
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
});

test("readers narrow but do not keep", async () => {
  bar({ "GET /": () => ({ ...SUMMARY, role: "reader" }) });
  await screen.findByTestId("scope-size");
  await waitFor(() => expect(screen.queryByText("Keep as subcorpus")).toBeNull());
  expect(screen.getByText("+ Narrow")).toBeTruthy();
});
