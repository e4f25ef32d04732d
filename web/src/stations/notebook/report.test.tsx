// @vitest-environment jsdom
import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { type Answers, askedFor, Refused, SUMMARY, serve, show } from "../../testing/served";
import { Reports } from "./report";

const heading = (id: number, words: string, level = 1) => ({
  id,
  revision: 1,
  piece: { kind: "heading", words, level },
  blocks: [{ kind: "heading", words, level }],
  labels: [""],
  more: 0,
});
const text = (id: number, body: string) => ({
  id,
  revision: 1,
  piece: { kind: "words", body },
  blocks: [{ kind: "prose", body, html: `<p>${body}</p>` }],
  labels: [""],
  more: 0,
});
const DONE = { revision: 9, label: "Done", id: 1 };

/** A report whose parts the test can change as the server would. */
function reports(more: Answers = {}) {
  const now = {
    id: 3,
    title: "Lambs and deer",
    revision: 1,
    frozen_at: null as string | null,
    lines: ["Lynx"],
    parts: [heading(1, "First"), text(2, "Old words"), heading(4, "Last")],
  };
  const all = serve({
    "GET /reports": () => [{ id: 3, title: now.title, frozen: now.frozen_at !== null }],
    "GET /reports/3": () => now,
    "GET /findings": () => ({ findings: [], questions: [] }),
    "GET /codebook": () => ({ codes: [], groups: [], versions: [] }),
    "GET /dictionaries": () => [],
    "POST /notes/search": () => ({ notes: [], total: 0 }),
    "GET /fields": () => [],
    ...more,
  });
  return { all, now, ...show(<Reports />) };
}

const listed = () =>
  [...screen.getByRole("navigation", { name: "Parts of the report" }).querySelectorAll("[data-piece]")].map(
    (one) => one.getAttribute("data-piece"),
  );

beforeEach(() => localStorage.clear());

test("parts are put in another order with the keys, at once, and the order is sent whole", async () => {
  const { all, now, user } = reports({
    "PUT /reports/3/order": (body) => {
      now.parts = body.pieces.map((id: number) => now.parts.find((one) => one.id === id));
      return DONE;
    },
  });
  const list = await screen.findByRole("navigation", { name: "Parts of the report" });
  within(list).getByText("Last").closest("button")?.focus();
  await user.keyboard("{Alt>}{ArrowUp}{/Alt}");
  await waitFor(() => expect(listed()).toEqual(["1", "4", "2"]));
  await waitFor(() =>
    expect(askedFor(all, "PUT /reports/3/order")).toEqual([{ pieces: [1, 4, 2], seen: [1, 2, 4] }]),
  );
});

test("words are stored a moment after the last letter, and an undo is not written over", async () => {
  const where = "PATCH /reports/3/pieces/2";
  const { all, now, user } = reports({
    "PUT /reports/3/order": () => DONE,
    [where]: (body) => {
      now.parts = [heading(1, "First"), text(2, body.piece.body), heading(4, "Last")];
      return DONE;
    },
  });
  await user.click((await screen.findAllByText("Old words"))[0] as HTMLElement);
  await user.type(await screen.findByLabelText("Text"), " and new");
  await waitFor(() => expect(askedFor(all, where)).toHaveLength(1), { timeout: 4000 });
  expect(askedFor(all, where)[0].piece.body).toBe("Old words and new");
  await waitFor(() => expect(localStorage.getItem("winnower.report.2")).toBeNull());
  // what stands there goes back, as by an undo, and is read again while the field is open
  now.parts = [heading(1, "First"), text(2, "Old words"), heading(4, "Last")];
  const list = screen.getByRole("navigation", { name: "Parts of the report" });
  within(list).getByText("Last").closest("button")?.focus();
  await user.keyboard("{Alt>}{ArrowDown}{/Alt}");
  await waitFor(() => expect((screen.getByLabelText("Text") as HTMLTextAreaElement).value).toBe("Old words"));
  await new Promise((later) => setTimeout(later, 1_100));
  expect(askedFor(all, where)).toHaveLength(1);
});

test("words the server refused stay in the field and in the browser, and are not sent over and over", async () => {
  const where = "PATCH /reports/3/pieces/2";
  const { all, user } = reports({ [where]: () => new Refused(503, "The database is away.") });
  await user.click((await screen.findAllByText("Old words"))[0] as HTMLElement);
  await user.type(await screen.findByLabelText("Text"), "!");
  await screen.findByText(/The database is away/, {}, { timeout: 4000 });
  await new Promise((later) => setTimeout(later, 1_200));
  expect(askedFor(all, where)).toHaveLength(1);
  expect((screen.getByLabelText("Text") as HTMLTextAreaElement).value).toBe("Old words!");
  expect(localStorage.getItem("winnower.report.2")).toBe("Old words!");
  fireEvent.blur(screen.getByLabelText("Text"));
  await waitFor(() => expect(askedFor(all, where)).toHaveLength(2));
});

test("what is added stands behind the chosen part before the server has made it, and is then chosen", async () => {
  let made: (value: unknown) => void = () => undefined;
  const { all, now, user } = reports({
    "POST /reports/3/pieces": () =>
      new Promise((done) => {
        made = done;
      }),
  });
  const list = await screen.findByRole("navigation", { name: "Parts of the report" });
  await user.click(within(list).getByText("First"));
  await user.click(within(list).getByRole("button", { name: /Add/ }));
  await user.type(await screen.findByLabelText("What to add"), "heading{Enter}");
  await waitFor(() => expect(listed()).toHaveLength(4));
  expect(within(list).getAllByRole("button")[1]?.textContent).toBe("New chapter");
  expect(askedFor(all, "POST /reports/3/pieces")[0]).toMatchObject({ after: 1 });
  now.parts = [heading(1, "First"), heading(9, "New chapter"), text(2, "Old words"), heading(4, "Last")];
  made({ pieces: [9], ...DONE });
  await screen.findByLabelText("Heading");
  expect((screen.getByLabelText("Heading") as HTMLInputElement).value).toBe("New chapter");
});

test("a frozen report and a reader can change nothing", async () => {
  const { now, again } = reports();
  now.frozen_at = "2031-12-28T12:00:00Z";
  await screen.findByText(/Frozen on/);
  const list = screen.getByRole("navigation", { name: "Parts of the report" });
  expect(within(list).queryByRole("button", { name: /Add/ })).toBeNull();
  expect(screen.getByLabelText("Title of the report")).toHaveProperty("disabled", true);
  expect(screen.getByRole("button", { name: "Update with the project again" })).toBeTruthy();
  again(<div />);
  reports({ "GET /": () => ({ ...SUMMARY, role: "reader" }) });
  await screen.findAllByText("Old words");
  await waitFor(() => expect(screen.queryByRole("button", { name: "Freeze this version" })).toBeNull());
});

test("where there is no report, one is begun by what the work has", async () => {
  const { all, user } = reports({ "GET /reports": () => [], "POST /reports": () => DONE });
  await user.click(await screen.findByRole("button", { name: "Begin a report" }));
  const dialog = await screen.findByRole("dialog");
  const title = within(dialog).getByLabelText("Title") as HTMLInputElement;
  await waitFor(() => expect(title.value).toBe("Lynx"));
  await user.click(within(dialog).getByRole("radio", { name: /By theme/ }));
  await user.clear(title);
  expect(within(dialog).getByRole("button", { name: "Begin the report" })).toHaveProperty("disabled", true);
  await user.type(title, "  Who pays?{Enter}");
  await waitFor(() => expect(askedFor(all, "POST /reports")).toEqual([{ title: "Who pays?", by: "theme" }]));
});
