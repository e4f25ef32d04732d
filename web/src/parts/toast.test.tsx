// @vitest-environment jsdom
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, expect, test, vi } from "vitest";
import { KeptTheirs, ProblemError } from "../api/client";
import { ToastProvider, useToast } from "./toast";

afterEach(cleanup);

function Failing({ error, onSelect }: { error: unknown; onSelect?: () => void }) {
  const { fail } = useToast();
  return (
    <button type="button" onClick={() => fail(error, onSelect && [{ label: "Pass over it", onSelect }])}>
      Try
    </button>
  );
}

async function afterTrying(error: unknown, onSelect?: () => void) {
  render(
    <ToastProvider>
      <Failing error={error} onSelect={onSelect} />
    </ToastProvider>,
  );
  await userEvent.click(screen.getByRole("button", { name: "Try" }));
}

test("a failure is an alert that stays", async () => {
  await afterTrying(new ProblemError("The database does not answer.", 503));
  expect(screen.getByRole("alert").textContent).toContain("The database does not answer.");
});

test("having kept the other's version is told, not as a failure", async () => {
  await afterTrying(new KeptTheirs());
  expect(screen.queryByRole("alert")).toBeNull();
  expect(screen.getByRole("status").textContent).toContain("Left as somebody else changed it.");
});

test("what can be done about a failure is done, and the message goes", async () => {
  const done = vi.fn();
  await afterTrying(new Error("Stuck."), done);
  await userEvent.click(screen.getByRole("button", { name: "Pass over it" }));
  expect(done).toHaveBeenCalledOnce();
  expect(screen.queryByRole("alert")).toBeNull();
});
