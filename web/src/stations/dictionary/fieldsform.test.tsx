// @vitest-environment jsdom
import { fireEvent, screen, waitFor } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { term } from "../../lib/terms";
import { askedFor, Refused, serve, show } from "../../testing/served";
import { FieldsForm } from "./fieldsform";

const READ = "POST /terms/fields";
const WRITE = "POST /terms/text";
const cell = (text: string, more = {}) => ({ text, kind: "words", least: 0, most: 0, ...more });
const fieldsOf = (...rows: unknown[][]) => ({
  rows,
  conditions: [],
  match_case: false,
  ignore_accents: false,
  forms_of: "",
});
const plain = { match_case: false, ignore_accents: false, forms_of: "" };
const first = () => screen.getByLabelText<HTMLInputElement>("Find, row 1, part 1");

test("a typed term fills the fields", async () => {
  serve({ [READ]: () => fieldsOf([cell("market"), cell("price", { most: 2 })], [cell("cost*")]) });
  show(
    <FieldsForm source="market [0-2] price | cost*" options={term("")} language="en" onChange={() => {}} />,
  );
  await waitFor(() => expect(first().value).toBe("market"));
  expect(screen.getByLabelText<HTMLInputElement>("Find, row 1, part 2").value).toBe("price");
  expect(screen.getByLabelText<HTMLInputElement>("Words between, at most").value).toBe("2");
  expect(screen.getByLabelText<HTMLInputElement>("Find, row 2, part 1").value).toBe("cost*");
});

test("fields are written as text, with their options", async () => {
  const asked = serve({ [WRITE]: (body) => ({ source: "lamb*", ...plain, match_case: body.match_case }) });
  const changed = vi.fn();
  const { user } = show(<FieldsForm source="" options={term("")} language="en" onChange={changed} />);
  fireEvent.change(first(), { target: { value: "lamb*" } });
  await waitFor(() => expect(changed).toHaveBeenLastCalledWith("lamb*", term("lamb*")));
  await user.click(screen.getByLabelText("exact case"));
  await waitFor(() => expect(changed).toHaveBeenLastCalledWith("lamb*", term("lamb*", { match_case: true })));
  expect(askedFor(asked, WRITE)).toHaveLength(2);
});

test("all forms of a word and exact case cannot both be wanted", async () => {
  const asked = serve({
    [WRITE]: (body) => ({ source: "lamb", ...plain, match_case: body.match_case, forms_of: body.forms_of }),
  });
  const { user } = show(<FieldsForm source="" options={term("")} language="en" onChange={() => {}} />);
  fireEvent.change(first(), { target: { value: "lamb" } });
  await user.click(screen.getByLabelText("exact case"));
  await user.click(screen.getByLabelText("all forms of each word (English)"));
  await waitFor(() =>
    expect(askedFor(asked, WRITE).at(-1)).toMatchObject({ match_case: false, forms_of: "en" }),
  );
  await user.click(screen.getByLabelText("exact case"));
  await waitFor(() =>
    expect(askedFor(asked, WRITE).at(-1)).toMatchObject({ match_case: true, forms_of: "" }),
  );
});

test("an answer that comes late does not undo what was typed since", async () => {
  serve({
    [WRITE]: async (body) => {
      const source = body.rows[0][0].text;
      await new Promise((done) => setTimeout(done, source === "lam" ? 60 : 1));
      return { source, ...plain };
    },
  });
  const changed = vi.fn();
  show(<FieldsForm source="" options={term("")} language="en" onChange={changed} />);
  fireEvent.change(first(), { target: { value: "lam" } });
  fireEvent.change(first(), { target: { value: "lamb" } });
  await waitFor(() => expect(changed).toHaveBeenCalledWith("lamb", term("lamb")));
  await new Promise((done) => setTimeout(done, 90));
  expect(changed).toHaveBeenCalledTimes(1);
});

test("what cannot be a term is told beside the fields, which keep it", async () => {
  serve({ [WRITE]: () => new Refused(422, "The expression has no end.", 4) });
  const changed = vi.fn();
  show(<FieldsForm source="" options={term("")} language="en" onChange={changed} />);
  fireEvent.change(first(), { target: { value: "sub(" } });
  expect((await screen.findByRole("alert")).textContent).toBe("The expression has no end.");
  expect(first().value).toBe("sub(");
  expect(changed).not.toHaveBeenCalled();
});

test("conditions are added, changed and removed", async () => {
  const asked = serve({ [WRITE]: () => ({ source: "stock near:5 market", ...plain }) });
  const { user } = show(<FieldsForm source="" options={term("")} language="en" onChange={() => {}} />);
  fireEvent.change(first(), { target: { value: "stock" } });
  await user.click(screen.getByText("+ Condition"));
  await user.selectOptions(screen.getByLabelText("Condition"), "unless near");
  await user.selectOptions(screen.getByLabelText("How near"), "in the same sentence");
  fireEvent.change(screen.getByLabelText("Words of the condition, row 1, part 1"), {
    target: { value: "market" },
  });
  await waitFor(() =>
    expect(askedFor(asked, WRITE).at(-1).conditions).toEqual([
      { relation: "near", unless: true, within: null, rows: [[cell("market")]] },
    ]),
  );
  await user.click(screen.getByText("Remove"));
  await waitFor(() => expect(askedFor(asked, WRITE).at(-1).conditions).toEqual([]));
});

test("rows and parts are added and removed", async () => {
  const asked = serve({ [WRITE]: () => ({ source: "market price", ...plain }) });
  const { user } = show(<FieldsForm source="" options={term("")} language="en" onChange={() => {}} />);
  fireEvent.change(first(), { target: { value: "market" } });
  await user.click(screen.getByText("+ then"));
  fireEvent.change(screen.getByLabelText("Find, row 1, part 2"), { target: { value: "price" } });
  fireEvent.change(screen.getByLabelText("Words between, at least"), { target: { value: "3" } });
  await waitFor(() =>
    expect(askedFor(asked, WRITE).at(-1).rows).toEqual([
      [cell("market"), cell("price", { least: 3, most: 3 })],
    ]),
  );
  await user.click(screen.getByText("+ or"));
  await user.click(screen.getAllByLabelText("Remove this part")[0]!);
  await waitFor(() =>
    expect(askedFor(asked, WRITE).at(-1).rows).toEqual([[cell("price", { least: 3, most: 3 })], [cell("")]]),
  );
});
