import { useState } from "react";
import { saveFile } from "../../api/client";
import { useCodebook } from "../../data/coding";
import { KINDS, NOTES_AT_ONCE, type Note, noteTitle, useNoteChanges, useNotes } from "../../data/notes";
import { useAddress, useProjectId, useSummary } from "../../data/project";
import { date, plural, whole } from "../../lib/numbers";
import { useSettled } from "../../lib/settled";
import { Button, Empty, Failure, Input, Menu, Select, Waiting } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { WaitingRows } from "../../parts/waitingrows";
import { About } from "../../shell/about";
import { NotebookHead } from "./head";
import { NotePage } from "./page";

const ON = [
  { value: "", label: "on anything" },
  { value: "project", label: "on the project" },
  { value: "text", label: "on texts" },
  { value: "passage", label: "on words" },
  { value: "code", label: "on codes" },
  { value: "finding", label: "on findings" },
  { value: "question", label: "on questions" },
];
const SORTS = [
  { value: "newest", label: "newest first" },
  { value: "oldest", label: "oldest first" },
  { value: "kind", label: "by type" },
  { value: "author", label: "by author" },
  { value: "on", label: "by what they hang on" },
];

/** All notes of the project: found, sorted, grouped at the left, one to write on at the right. */
export function Notes() {
  const project_id = useProjectId();
  const writes = useSummary().data?.role !== "reader";
  const [find, setFind] = useState("");
  const [kind, setKind] = useAddress("type", "");
  const [author, setAuthor] = useAddress("author", "");
  const [on, setOn] = useAddress("on", "");
  const [code, setCode] = useAddress("code", "");
  const [sort, setSort] = useAddress("sort", "newest");
  const [open, setOpen] = useAddress("note", "");
  const [start, setStart] = useState(0);
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const looked = useSettled(find, 200);
  const { byId } = useCodebook();
  const { fail } = useToast();
  const { make } = useNoteChanges();
  const asked = {
    find: looked,
    kind: kind === "" ? null : kind === NO_KIND ? "" : kind,
    author: author ? Number(author) : null,
    on: (on || null) as "text" | null,
    code_id: code ? Number(code) : null,
    sort: sort as "newest",
  };
  const found = useNotes({ ...asked, start });
  const page = found.data;
  const one = useNotes({ ids: [Number(open)] }, open !== "");
  const shown = page?.notes.find((note) => note.id === Number(open)) ?? one.data?.notes[0];
  const filtered = find || kind || author || on || code;
  const begin = () =>
    make.add({ kind: asked.kind ?? "", code_id: asked.code_id }, (note) => setOpen(String(note.id)));
  const ask = (set: (value: string) => void) => (value: string) => {
    set(value);
    setStart(0);
  };
  const save = (form: string) =>
    void saveFile(`/api/v1/projects/${project_id}/notes/export?form=${form}`, {
      ...asked,
      ...(chosen.size ? { ids: [...chosen] } : {}),
    }).catch(fail);
  const kinds = page?.kinds ?? [];
  return (
    <div className="flex h-full flex-col">
      <NotebookHead>
        <Menu
          trigger={<Button>{chosen.size ? `Export ${plural(chosen.size, "note")}` : "Export"}</Button>}
          items={[
            { label: "As Word (.docx)", onSelect: () => save("docx") },
            { label: "As Markdown (.md)", onSelect: () => save("md") },
          ]}
        />
        <About topic="notebook">
          Notes hang on the project, a text, words of it, or a code. A quote in a note stays the words of its
          text: when the text is corrected, so is the quote.
        </About>
      </NotebookHead>
      <div className="flex min-h-0 flex-1">
        <section aria-label="Notes" className="flex w-[340px] shrink-0 flex-col border-r border-line2">
          <div className="border-b border-line px-3 pt-3 pb-2">
            <div className="flex gap-2">
              <Input
                type="search"
                aria-label="Find in notes"
                placeholder="Find in notes"
                value={find}
                onChange={(event) => ask(setFind)(event.target.value)}
              />
              {writes && (
                <Button
                  look="main"
                  disabled={make.entries.some((one) => one.state === "waiting")}
                  onClick={begin}
                >
                  New note
                </Button>
              )}
            </div>
            <WaitingRows of={make} />
            <div className="mt-2 grid grid-cols-2 gap-1.5">
              <Select
                aria-label="Type of notes"
                value={kind}
                choices={[
                  { value: "", label: "any type" },
                  ...[...new Set([...kinds.map((one) => one.kind), ...KINDS])].map((one) => ({
                    value: one || NO_KIND,
                    label: `${one || "without type"}${counted(kinds, one)}`,
                  })),
                ]}
                onChange={ask(setKind)}
              />
              <Select
                aria-label="Author of notes"
                value={author}
                choices={[
                  { value: "", label: "by anybody" },
                  ...(page?.authors ?? []).map((one) => ({
                    value: String(one.id),
                    label: `${one.name} (${whole(one.notes)})`,
                  })),
                ]}
                onChange={ask(setAuthor)}
              />
              <Select aria-label="What notes hang on" value={on} choices={ON} onChange={ask(setOn)} />
              <Select aria-label="Order of notes" value={sort} choices={SORTS} onChange={ask(setSort)} />
            </div>
            {code && (
              <div className="mt-1.5 flex items-center gap-1.5 text-ink2">
                on the code <b className="text-ink">{byId.get(Number(code))?.name ?? "that is gone"}</b>
                <Button look="ghost" onClick={() => ask(setCode)("")}>
                  any code
                </Button>
              </div>
            )}
          </div>
          <div className="min-h-0 flex-1 overflow-auto bg-sheet">
            {found.error && <Failure error={found.error} />}
            {found.isPending && <Waiting what="Reading the notes" />}
            {page && !page.total && (
              <p className="px-4 py-4 text-ink2">
                {filtered
                  ? "No note fits. Look for other words, or take a choice away."
                  : "No notes yet. Begin one here, or while reading: choose words and take “Note on it”."}
              </p>
            )}
            <ul>
              {page?.notes.map((note, at) => (
                <Row
                  key={note.id}
                  note={note}
                  group={groupOf(note, sort)}
                  first={at === 0 || groupOf(page.notes[at - 1]!, sort) !== groupOf(note, sort)}
                  open={note.id === Number(open)}
                  chosen={chosen.has(note.id)}
                  onOpen={() => setOpen(String(note.id))}
                  onChoose={() => {
                    const next = new Set(chosen);
                    if (!next.delete(note.id)) next.add(note.id);
                    setChosen(next);
                  }}
                />
              ))}
            </ul>
            {page && page.total > NOTES_AT_ONCE && (
              <div className="flex items-center gap-2 px-3 py-2 text-ink2">
                <Button disabled={start === 0} onClick={() => setStart(start - NOTES_AT_ONCE)}>
                  ‹
                </Button>
                {whole(start + 1)} to {whole(Math.min(start + NOTES_AT_ONCE, page.total))} of{" "}
                {whole(page.total)}
                <Button
                  disabled={start + NOTES_AT_ONCE >= page.total}
                  onClick={() => setStart(start + NOTES_AT_ONCE)}
                >
                  ›
                </Button>
              </div>
            )}
          </div>
        </section>
        <div className="min-w-0 flex-1 overflow-auto bg-sheet">
          {shown ? (
            <NotePage
              key={shown.id}
              note={shown}
              kinds={kinds.map((one) => one.kind)}
              writes={writes}
              onGone={() => setOpen("")}
            />
          ) : (
            <Empty title={page?.total ? "Open a note at the left" : "The notebook"}>
              Questions, ideas, decisions of method, the diary of the study: write them here, with quotes that
              stay linked to their texts.
            </Empty>
          )}
        </div>
      </div>
    </div>
  );
}

const NO_KIND = "(none)";

function counted(kinds: readonly { kind: string; notes: number }[], kind: string): string {
  const found = kinds.find((one) => one.kind === kind)?.notes;
  return found ? ` (${whole(found)})` : "";
}

function hangsOn(note: Note): string {
  if (note.text_title !== null) return note.text_title;
  if (note.finding_title !== null) return `finding ${note.finding_title}`;
  if (note.question_words !== null) return `question ${note.question_words}`;
  return note.code_name ? `code ${note.code_name}` : "";
}

function groupOf(note: Note, sort: string): string {
  if (sort === "kind") return note.kind || "without type";
  if (sort === "author") return note.author;
  if (sort === "on") return hangsOn(note) || "the project";
  // the month and the year
  return date(note.made_at).split(" ").slice(1).join(" ");
}

function Row({
  note,
  group,
  first,
  open,
  chosen,
  onOpen,
  onChoose,
}: {
  note: Note;
  group: string;
  first: boolean;
  open: boolean;
  chosen: boolean;
  onOpen: () => void;
  onChoose: () => void;
}) {
  const title = noteTitle(note);
  return (
    <li>
      {group && first && (
        <div className="truncate border-b border-line bg-page px-3 py-1 text-[11.5px] font-bold text-ink2">
          {group}
        </div>
      )}
      <div
        className={`flex items-start gap-2 border-b border-line px-3 py-1.5 ${open ? "bg-tint" : "hover:bg-wash"}`}
      >
        <input
          type="checkbox"
          aria-label={`Choose note “${title}”`}
          checked={chosen}
          onChange={onChoose}
          className="mt-1"
        />
        <button type="button" aria-current={open} onClick={onOpen} className="min-w-0 flex-1 text-left">
          <span className="block truncate font-semibold">{title}</span>
          <span className="block truncate text-[11.5px] text-ink2">
            {[note.kind, hangsOn(note), note.author, date(note.made_at)].filter(Boolean).join(", ")}
          </span>
        </button>
      </div>
    </li>
  );
}
