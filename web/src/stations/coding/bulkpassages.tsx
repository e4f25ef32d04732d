import { useState } from "react";
import { api, data } from "../../api/client";
import { useCodes } from "../../data/coding";
import { useNoteChanges } from "../../data/notes";
import { useChange, useProjectId, useScope } from "../../data/project";
import { plural } from "../../lib/numbers";
import { originWords } from "../../lib/origin";
import { Button, Input, Menu } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { type Chosen, CodeChoice } from "./codechoice";
import type { Found } from "./found";
import { type Question, sent } from "./question";

/** What can be done with chosen passages: another code, off, a code of their own, a quote in a note, a copy. */
export function ChosenBar({
  page,
  ticked,
  onNone,
}: {
  page: readonly Found[];
  ticked: ReadonlySet<number>;
  onNone: () => void;
}) {
  const project_id = useProjectId();
  const { split } = useCodes();
  const { quote } = useNoteChanges();
  const { tell, fail } = useToast();
  const [fresh, setFresh] = useState("");
  const change = useChange(
    (to: Chosen) =>
      data(
        api.POST("/api/v1/projects/{project_id}/passages/change", {
          params: { path: { project_id } },
          body: { passages: [...ticked], ...to },
        }),
      ),
    (done) => {
      onNone();
      tell(`${done.label}: ${plural(done.texts, "passage")}. Undo brings it back.`);
    },
    "coding",
  );
  const here = [...new Map(page.filter((one) => ticked.has(one.id)).map((one) => [one.id, one])).values()];
  // what is chosen on this page alone, and is under one code, can become a code of its own
  const of = new Set(here.map((one) => one.code_id));
  const single = here.length === ticked.size && of.size === 1 ? [...of][0]! : null;
  const copy = () =>
    navigator.clipboard
      .writeText(here.map(withOrigin).join("\n\n"))
      .then(() => tell(`${plural(here.length, "passage")} copied with their origin.`), fail);
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-line bg-tint px-4 py-1.5">
      <b>{plural(ticked.size, "passage")} chosen</b>
      <CodeChoice
        label="Move to"
        onChoose={(to) => change.mutateAsync(to)}
        className="w-auto! max-w-[190px]"
      />
      <Button onClick={() => change.mutate({ code_id: null, new: "" })}>Remove code</Button>
      {single !== null && (
        <form
          className="flex items-center gap-1.5"
          onSubmit={(event) => {
            event.preventDefault();
            if (!fresh.trim()) return;
            split.mutate({ code_id: single, name: fresh.trim(), passages: [...ticked] });
            setFresh("");
            onNone();
          }}
        >
          <Input
            aria-label="Name of a new code for these"
            placeholder="A new code beside"
            value={fresh}
            maxLength={120}
            onChange={(event) => setFresh(event.target.value)}
            className="w-[150px]!"
          />
          <Button type="submit" disabled={!fresh.trim()}>
            Split off
          </Button>
        </form>
      )}
      <Button disabled={!here.length} onClick={() => void copy()}>
        Copy
      </Button>
      <Button
        disabled={!here.length}
        onClick={() => {
          quote.mutate({
            note_id: null,
            title: "Quotes",
            places: here.map(({ text_id, start, end }) => ({ text_id, start, end })),
          });
          onNone();
        }}
      >
        Quote in a new note
      </Button>
      <Button look="ghost" onClick={onNone}>
        Choose none
      </Button>
    </div>
  );
}

/** A passage as it is pasted elsewhere: its words, and where they are from. */
export function withOrigin(one: Found): string {
  return `“${one.text}” (${originWords(one)})`;
}

/** What becomes of all passages a question finds, as one step. */
export function AllMenu({ question, total }: { question: Question; total: number }) {
  const project_id = useProjectId();
  const { scope } = useScope();
  const { tell } = useToast();
  const [way, setWay] = useState<"add" | "move" | null>(null);
  const all = useChange(
    (given: { way: "add" | "move" | "take off" } & Chosen) =>
      data(
        api.POST("/api/v1/projects/{project_id}/passages/all/change", {
          params: { path: { project_id } },
          body: { ...sent(question), scope: [...scope], start: 0, most: 1, ...given },
        }),
      ),
    (done) => tell(`${done.label}. Undo takes it back as one step.`),
    "coding",
  );
  if (way)
    return (
      <span className="flex items-center gap-1.5">
        <CodeChoice
          label={way === "add" ? "Code all as" : "Move all to"}
          onChoose={(to) => all.mutateAsync({ way, ...to }).then(() => setWay(null))}
          className="w-auto! max-w-[180px]"
        />
        <Button look="ghost" onClick={() => setWay(null)}>
          Leave it
        </Button>
      </span>
    );
  return (
    <Menu
      trigger={<Button disabled={!total}>All {plural(total, "passage")} ▾</Button>}
      items={[
        { label: "Code all as well as…", onSelect: () => setWay("add") },
        { label: "Move all to…", onSelect: () => setWay("move") },
        {
          label: "Remove the code from all",
          onSelect: () => all.mutate({ way: "take off", code_id: null, new: "" }),
          danger: true,
        },
      ]}
    />
  );
}
