// @vitest-environment jsdom
import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { askedFor, serve, show } from "../../testing/served";
import { Cloud } from "./cloud";

const row = (name: string, hits: number, ...group_rates: number[]) => ({
  name,
  hits,
  texts: hits,
  group_rates,
  group_hits: group_rates,
});
const ROWS = [row("flock", 60, 9, 1), row("market", 40, 1, 8), row("birch", 12, 2, 1)];
const REQUEST = { scope: [], split: { field: "source" }, unit: "word", stop: true } as never;

function cloud(rows: readonly unknown[] = ROWS) {
  const asked = serve({ "POST /words": () => ({ rows, texts_in_scope: 40 }) });
  const opened = vi.fn();
  return {
    asked,
    opened,
    ...show(<Cloud request={REQUEST} groups={["Hill Farmer", "Orrin Courier"]} onOpen={opened} />),
  };
}
const picture = () => within(screen.getByLabelText("Cloud of words"));
const words = () =>
  picture()
    .getAllByRole("button")
    .map((one) => one.getAttribute("aria-label"));

test("the most frequent words stand in it, larger where they are more", async () => {
  const { opened, user } = cloud();
  await screen.findByLabelText("Cloud of words");
  expect(words()).toEqual(["flock, 60 hits", "market, 40 hits", "birch, 12 hits"]);
  const sizes = picture()
    .getAllByRole("button")
    .map((one) => Number(one.getAttribute("font-size")));
  expect(sizes).toEqual([...sizes].sort((a, b) => b - a));
  await user.click(picture().getByLabelText("market, 40 hits"));
  expect(opened).toHaveBeenCalledWith(expect.objectContaining({ name: "market" }));
});

test("a word is taken out by key or pointer, and put back", async () => {
  const { user } = cloud();
  const flock = await screen.findByLabelText("flock, 60 hits");
  fireEvent.keyDown(flock, { key: "Delete" });
  expect(words()).toEqual(["market, 40 hits", "birch, 12 hits"]);
  fireEvent.contextMenu(picture().getByLabelText("birch, 12 hits"));
  expect(words()).toEqual(["market, 40 hits"]);
  await user.click(screen.getByText("flock ↩"));
  expect(words()).toEqual(["flock, 60 hits", "market, 40 hits"]);
});

test("words are asked for by hits, with some to spare for those taken out", async () => {
  const { asked, user } = cloud();
  await screen.findByLabelText("Cloud of words");
  expect(askedFor(asked, "POST /words")[0]).toMatchObject({
    sort: "hits",
    descending: true,
    most: 180,
    stop: true,
  });
  await user.selectOptions(screen.getByLabelText("Words"), "30");
  await waitFor(() => expect(askedFor(asked, "POST /words").at(-1).most).toBe(130));
});

test("colours tell the group with the highest rate, and are named", async () => {
  const { user } = cloud();
  await screen.findByLabelText("Cloud of words");
  expect(screen.queryByRole("listitem")).toBeNull();
  await user.click(screen.getByLabelText(/Colour by the group/));
  expect(screen.getAllByRole("listitem").map((one) => one.textContent)).toEqual([
    "Hill Farmer",
    "Orrin Courier",
  ]);
  expect(picture().getByLabelText("market, 40 hits").getAttribute("fill")).toBe("var(--c1)");
});

test("words without room are told, not hidden", async () => {
  const { user } = cloud([
    ...ROWS,
    ...Array.from({ length: 3 }, (_, n) => row(`a-word-that-is-far-too-long-to-stand-anywhere-${n}`, 60)),
  ]);
  expect((await screen.findByText(/found no room/)).textContent).toBe(
    "3 words found no room; make the largest word smaller.",
  );
  expect(words()).toHaveLength(3);
  await user.click(screen.getByText("Rows"));
  expect(screen.getByText("Rows").getAttribute("aria-checked")).toBe("true");
});
