// @vitest-environment jsdom
import { cleanup, render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, expect, test, vi } from "vitest";
import { useKeptWords } from "./drafts";
import { useDraft } from "./usedraft";

afterEach(() => {
  cleanup();
  sessionStorage.clear();
});

interface Props {
  stored: string;
  revision: number;
  save: (written: string, revision: number) => Promise<unknown>;
}

function Field(props: Props) {
  const draft = useDraft({ of: "code 1 name", ...props, empty: false });
  return (
    <>
      <input aria-label="Name" {...draft.field} />
      {draft.refused && <p role="alert">{draft.refused}</p>}
    </>
  );
}

const field = () => screen.getByLabelText("Name") as HTMLInputElement;

test("an answer that arrives does not write into what is typed, which is stored on what was seen", async () => {
  const save = vi.fn(() => Promise.resolve());
  const user = userEvent.setup();
  const { rerender } = render(<Field stored="Losses" revision={3} save={save} />);
  await user.type(field(), " of lambs");
  rerender(<Field stored="Damage" revision={4} save={save} />);
  expect(field().value).toBe("Losses of lambs");
  await user.tab();
  expect(save).toHaveBeenCalledWith("Losses of lambs", 3);
  rerender(<Field stored="Losses of lambs" revision={5} save={save} />);
  await waitFor(() => expect(field().value).toBe("Losses of lambs"));
});

test("what is typed while the first words are on their way stays", async () => {
  let answer = () => {};
  const save = vi.fn(() => new Promise<void>((resolve) => (answer = resolve)));
  const user = userEvent.setup();
  render(<Field stored="A" revision={1} save={save} />);
  await user.type(field(), "B{Enter}");
  await user.type(field(), "C");
  answer();
  await waitFor(() => expect(field().value).toBe("ABC"));
  await user.tab();
  expect(save).toHaveBeenLastCalledWith("ABC", 1);
});

test("a refusal leaves the words with the reason, and Escape takes them back", async () => {
  const save = () => Promise.reject(new Error("There is a code of this name."));
  const user = userEvent.setup();
  render(<Field stored="Losses" revision={1} save={save} />);
  await user.clear(field());
  await user.type(field(), "Voice{Enter}");
  expect((await screen.findByRole("alert")).textContent).toBe("There is a code of this name.");
  expect(field().value).toBe("Voice");
  expect(field().getAttribute("aria-invalid")).toBe("true");
  await user.type(field(), "{Escape}");
  expect(field().value).toBe("Losses");
  expect(screen.queryByRole("alert")).toBeNull();
});

test("a name that must not be empty comes back, and nothing is sent where nothing changed", async () => {
  const save = vi.fn(() => Promise.resolve());
  const user = userEvent.setup();
  render(<Field stored="Losses" revision={1} save={save} />);
  await user.clear(field());
  await user.tab();
  expect(field().value).toBe("Losses");
  await user.type(field(), "x{Backspace}");
  await user.tab();
  expect(save).not.toHaveBeenCalled();
});

test("what Escape set aside comes back with Ctrl Z", async () => {
  const user = userEvent.setup();
  render(<Field stored="Losses" revision={1} save={() => Promise.resolve()} />);
  await user.type(field(), " of lambs{Escape}");
  expect(field().value).toBe("Losses");
  await user.keyboard("{Control>}z{/Control}");
  expect(field().value).toBe("Losses of lambs");
});

test("a field that goes stores what it has, and what a reload interrupted is there again", async () => {
  const save = vi.fn(() => new Promise(() => {}));
  const user = userEvent.setup();
  const { unmount } = render(<Field stored="Losses" revision={1} save={save} />);
  await user.type(field(), " of lambs");
  unmount();
  expect(save).toHaveBeenCalledWith("Losses of lambs", 1);
  render(<Field stored="Losses" revision={2} save={save} />);
  expect(field().value).toBe("Losses of lambs");
  await user.click(field());
  await user.tab();
  expect(save).toHaveBeenLastCalledWith("Losses of lambs", 1);
});

function New() {
  const [words, write, done] = useKeptWords("note on words of 7");
  return <input aria-label="Name" value={words} onChange={(e) => write(e.target.value)} onBlur={done} />;
}

test("words for something new are there when their field opens again, until they are kept", async () => {
  const user = userEvent.setup();
  const { unmount } = render(<New />);
  await user.type(field(), "Half a th");
  unmount();
  render(<New />);
  expect(field().value).toBe("Half a th");
  await user.click(field());
  await user.tab();
  cleanup();
  render(<New />);
  expect(field().value).toBe("");
});
