import { expect, test } from "vitest";
import { type Entry, Outbox, type Outcome } from "./outbox";

const DONE: Outcome = { kind: "done" };

/** Answers that come when they are told to. */
function answers() {
  const open: { entry: Entry; answer: (outcome: Outcome) => void }[] = [];
  const send = (entry: Entry) => new Promise<Outcome>((resolve) => open.push({ entry, answer: resolve }));
  return { open, send };
}

const turn = () => new Promise((resolve) => setTimeout(resolve));

test("entries of a line are sent one after another, in the order they were added", async () => {
  const box = new Outbox();
  const { open, send } = answers();
  for (const word of ["lamb", "ewe", "flock"]) box.add("terms", word, word, send);
  expect(box.of("terms").map((one) => one.label)).toEqual(["lamb", "ewe", "flock"]);
  const sent: unknown[] = [];
  while (box.of("terms").length) {
    await turn();
    const { entry, answer } = open.pop()!;
    sent.push(entry.given);
    expect(open).toEqual([]);
    answer(DONE);
    await turn();
  }
  expect(sent).toEqual(["lamb", "ewe", "flock"]);
});

test("lines do not wait for each other", async () => {
  const box = new Outbox();
  const { open, send } = answers();
  box.add("terms", 1, "1", send);
  box.add("codes", 2, "2", send);
  await turn();
  expect(open.map((one) => one.entry.given)).toEqual([1, 2]);
});

test("a refused entry stays with its reason and holds up nobody", async () => {
  const box = new Outbox();
  const key = box.add("terms", "*", "*", async () => ({ kind: "refused", reason: "It matches everything." }));
  box.add("terms", "lamb", "lamb", async () => DONE);
  await turn();
  await turn();
  expect(box.of("terms")).toMatchObject([{ key, state: "refused", reason: "It matches everything." }]);
  expect(box.waiting).toBe(0);
  box.drop("terms", key);
  expect(box.of("terms")).toEqual([]);
});

test("a row stays until its list shows it, and the next one is sent meanwhile", async () => {
  const box = new Outbox();
  const sent: unknown[] = [];
  let shown = () => {};
  const send = async (entry: Entry): Promise<Outcome> => {
    sent.push(entry.given);
    return entry.given === 1 ? { kind: "done", shown: new Promise<void>((done) => (shown = done)) } : DONE;
  };
  box.add("terms", 1, "1", send);
  box.add("terms", 2, "2", send);
  await turn();
  await turn();
  expect(sent).toEqual([1, 2]);
  expect(box.of("terms")).toMatchObject([{ given: 1, state: "saved" }]);
  expect(box.waiting).toBe(0);
  shown();
  await turn();
  expect(box.of("terms")).toEqual([]);
});

test("what found no server is sent again with the same key, before what came later", async () => {
  const pauses: number[] = [];
  const box = new Outbox(async (ms) => {
    pauses.push(ms);
  });
  const sent: string[] = [];
  let away = 3;
  const send = async (entry: Entry): Promise<Outcome> => {
    sent.push(entry.key);
    return away-- > 0 ? { kind: "again" } : DONE;
  };
  const first = box.add("terms", 1, "1", send);
  const second = box.add("terms", 2, "2", send);
  for (let step = 0; step < 10; step++) await turn();
  expect(sent).toEqual([first, first, first, first, second]);
  expect(pauses).toEqual([1_000, 2_000, 4_000]);
});

test("listeners hear of each change, and the list is the same until then", async () => {
  const box = new Outbox();
  let heard = 0;
  const stop = box.subscribe(() => {
    heard += 1;
  });
  const before = box.of("terms");
  expect(box.of("terms")).toBe(before);
  const { send } = answers();
  const key = box.add("terms", 1, "1", send);
  expect(heard).toBe(1);
  expect(box.of("terms")).toBe(box.of("terms"));
  box.drop("terms", key);
  stop();
  box.clear();
  expect(heard).toBe(2);
});
