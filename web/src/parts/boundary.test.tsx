// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { useEffect } from "react";
import { afterEach, expect, test, vi } from "vitest";
import { Boundary } from "./boundary";

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

const broken = { now: true };

function Fragile() {
  if (broken.now) throw new Error("no such row");
  return <p>Rows</p>;
}

/** An effect that hands React what is no function fails only when its view is left. */
function FailsWhenLeft() {
  useEffect(() => {
    return (() => {
      throw new Error("l is not a function");
    }) as () => void;
  }, []);
  return <p>Text</p>;
}

test("an error stays in its view: what stands beside it keeps what was typed, and it can be tried again", () => {
  vi.spyOn(console, "error").mockImplementation(() => {});
  broken.now = true;
  render(
    <>
      <input aria-label="beside" />
      <Boundary what="This view">
        <Fragile />
      </Boundary>
    </>,
  );
  fireEvent.change(screen.getByLabelText("beside"), { target: { value: "typed" } });
  expect(screen.getByRole("alert").textContent).toContain("This view stopped");
  expect(screen.getByRole("alert").textContent).toContain("no such row");
  broken.now = false;
  fireEvent.click(screen.getByText("Try again"));
  expect(screen.getByText("Rows")).toBeTruthy();
  expect((screen.getByLabelText("beside") as HTMLInputElement).value).toBe("typed");
});

test("going to another view leaves the error behind", () => {
  vi.spyOn(console, "error").mockImplementation(() => {});
  broken.now = true;
  const view = (shown: string, inside: React.ReactNode) => (
    <Boundary what="This view" shown={shown}>
      {inside}
    </Boundary>
  );
  const { rerender } = render(view("/a", <Fragile />));
  expect(screen.queryByRole("alert")).toBeTruthy();
  rerender(view("/a", <p>Other</p>));
  expect(screen.queryByRole("alert")).toBeTruthy();
  rerender(view("/b", <p>Other</p>));
  expect(screen.queryByRole("alert")).toBeNull();
  expect(screen.getByText("Other")).toBeTruthy();
});

test("a view that fails while it is left takes only itself", () => {
  vi.spyOn(console, "error").mockImplementation(() => {});
  const view = (shown: string, inside: React.ReactNode) => (
    <>
      <nav>Stations</nav>
      <Boundary what="This view" shown={shown}>
        {inside}
      </Boundary>
    </>
  );
  const { rerender } = render(view("/a", <FailsWhenLeft />));
  rerender(view("/b", <p>Other</p>));
  expect(screen.getByText("Stations")).toBeTruthy();
});
