// @vitest-environment jsdom
import { screen, waitFor } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import type { Note } from "../../data/notes";
import { type Answers, askedFor, Refused, serve, show } from "../../testing/served";
import { NotePage } from "./page";

const NOTE = {
  id: 5,
  title: "Lambs",
  kind: "",
  body: "Old words",
  revision: 1,
  author: "Mira",
  made_at: "2031-01-01T00:00:00Z",
  text_id: null,
  finding_id: null,
  finding_title: null,
  question_id: null,
  question_words: null,
  code_id: null,
  words: null,
  quotes: [],
} as unknown as Note;
const WHERE = "PATCH /notes/5";

function noted(answers: Answers) {
  const all = serve({ "GET /codebook": () => ({ codes: [], groups: [], versions: [] }), ...answers });
  return { all, ...show(<NotePage note={NOTE} kinds={[]} writes onGone={() => {}} />) };
}

beforeEach(() => localStorage.clear());

test("a note the server refuses is sent once, stays where it is, and goes again when it is changed or asked for", async () => {
  let allowed = false;
  const { all, user } = noted({
    [WHERE]: (body) => {
      if (!allowed) return new Refused(422, "A title has at most 200 signs.");
      return { ...NOTE, ...body, revision: 2 };
    },
  });
  const title = screen.getByLabelText("Title");
  await user.type(title, " and deer");
  await waitFor(() => expect(askedFor(all, WHERE)).toHaveLength(1), { timeout: 3000 });
  expect(await screen.findByText("Not stored yet; it is kept in this browser.")).toBeTruthy();
  await new Promise((later) => setTimeout(later, 1_500));
  expect(askedFor(all, WHERE)).toHaveLength(1);
  expect((title as HTMLInputElement).value).toBe("Lambs and deer");
  expect(localStorage.getItem("winnower.note.5")).toContain("Lambs and deer");
  await user.type(title, "!");
  await waitFor(() => expect(askedFor(all, WHERE)).toHaveLength(2), { timeout: 3000 });
  allowed = true;
  await user.click(await screen.findByText("Store it now"));
  await waitFor(() => expect(askedFor(all, WHERE)).toHaveLength(3));
  expect(await screen.findByText("Stored")).toBeTruthy();
  expect(localStorage.getItem("winnower.note.5")).toBeNull();
}, 15_000);
