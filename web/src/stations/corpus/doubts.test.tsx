// @vitest-environment jsdom
import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, test, vi } from "vitest";
import { Doubts, otherwise } from "./doubts";
import type { Mapping } from "./mapping";

const MAPPING = {
  targets: [
    { column: "text", role: "text" },
    { column: "sold", role: "variable", kind: "number", separator: "," },
  ],
  day_first: true,
} as unknown as Mapping;
const NUMBER = {
  column: "sold",
  kind: "number",
  example: "1.250",
  read: "1,250",
  otherwise: "1.25",
} as const;
const DATE = {
  column: "date",
  kind: "date",
  example: "05/06/2031",
  read: "5 June 2031",
  otherwise: "6 May 2031",
} as const;

test("each doubt names both readings and offers the other one", async () => {
  const onChange = vi.fn();
  render(<Doubts doubts={[NUMBER, DATE]} mapping={MAPPING} onChange={onChange} />);
  expect(screen.getByTestId("doubts").textContent).toContain("could be two numbers");
  await userEvent.click(screen.getByRole("button", { name: "Read as 1.25" }));
  expect(onChange.mock.calls[0]?.[0].targets[1].separator).toBe(".");
  await userEvent.click(screen.getByRole("button", { name: "Read as 6 May 2031" }));
  expect(onChange.mock.calls[1]?.[0].day_first).toBe(false);
});

test("the other reading of the other reading is the first one", () => {
  for (const doubt of [NUMBER, DATE]) expect(otherwise(otherwise(MAPPING, doubt), doubt)).toEqual(MAPPING);
});

test("nothing is shown where nothing is unclear", () => {
  const { container } = render(<Doubts doubts={[]} mapping={MAPPING} onChange={() => {}} />);
  expect(container.innerHTML).toBe("");
});
