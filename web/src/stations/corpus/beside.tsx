import { useState } from "react";
import { api, data, type Schema } from "../../api/client";
import { useNoteChanges } from "../../data/notes";
import { useChange, useProjectId, useSummary } from "../../data/project";
import { useSetValues, useVariables } from "../../data/variables";
import type { Stretch } from "../../lib/chosen";
import { date, plural } from "../../lib/numbers";
import { Button } from "../../parts/controls";
import { Textarea } from "../../parts/fields";
import { useToast } from "../../parts/toast";
import { WaitingRows } from "../../parts/waitingrows";
import { ValueInput } from "./editvalue";
import { ReferencePart } from "./reference";
import { Value, written } from "./value";

type Text = Schema["TextPublic"];
type Around = Schema["Aside"];

/** What is known of a text: variables to change, notes, reference, corrections. */
export function Beside({
  text,
  beside,
  chosen,
  onNoted,
}: {
  text: Text;
  beside: Around | null;
  chosen: Stretch | null;
  onNoted: () => void;
}) {
  const writes = useSummary().data?.role !== "reader";
  return (
    <aside
      aria-label="About this text"
      className="w-[264px] shrink-0 overflow-auto border-l border-line2 bg-wash px-4 py-3"
    >
      <Known text={text} writes={writes} />
      {beside && <Notes text={text} notes={beside.notes} chosen={chosen} writes={writes} onNoted={onNoted} />}
      {beside && <ReferencePart text={text} reference={beside.reference} writes={writes} />}
      {beside && beside.edits.length > 0 && <Edits edits={beside.edits} />}
    </aside>
  );
}

const HEAD = "mb-1.5 text-[12px] font-bold text-ink2";

function Known({ text, writes }: { text: Text; writes: boolean }) {
  const variables = useVariables();
  const [all, setAll] = useState(false);
  const values = new Map(text.values.map((one) => [one.name, one.value]));
  const fixed = [
    { key: "title", name: "Title", kind: "text", value: text.title, fixed: false },
    { key: "source", name: "Source", kind: "category", value: text.source, fixed: false },
    { key: "date", name: "Date", kind: "date", value: text.date, fixed: false },
  ];
  const own = variables.map((one) => ({
    key: one.role || one.key,
    name: one.name,
    kind: one.kind,
    value: values.get(one.name) ?? null,
    fixed: one.rule !== null,
  }));
  const filled = (value: unknown) => value !== null && !(Array.isArray(value) && !value.length);
  const shown = own.filter((one) => all || filled(one.value));
  return (
    <section className="mb-5">
      <h2 className={HEAD}>About this text</h2>
      <dl>
        {[...fixed.slice(1), ...shown, ...(all ? fixed.slice(0, 1) : [])].map((one) => (
          <Known1 key={`${text.id} ${one.key}`} text={text} one={one} writes={writes && !one.fixed} />
        ))}
        <div className="mb-2">
          <dt className="text-[11.5px] text-ink2">Came from</dt>
          <dd className="break-words">{text.origin}</dd>
        </div>
      </dl>
      {(shown.length < own.length || all) && (
        <Button look="ghost" className="-ml-1" onClick={() => setAll(!all)}>
          {all ? "Only what has a value" : `${plural(own.length - shown.length, "variable")} without a value`}
        </Button>
      )}
    </section>
  );
}

interface One {
  key: string;
  name: string;
  kind: string;
  value: string | number | string[] | null;
}

function Known1({ text, one, writes }: { text: Text; one: One; writes: boolean }) {
  const [editing, setEditing] = useState(false);
  const [now, setNow] = useState("");
  const set = useSetValues();
  const keep = () => {
    if (now.trim() !== written(one.value))
      set.mutate({
        ids: [text.id],
        scope: [],
        find: "",
        field: one.key,
        value: now.trim() || null,
        mode: "replace",
      });
    setEditing(false);
  };
  return (
    <div className="mb-2">
      <dt className="text-[11.5px] text-ink2">{one.name}</dt>
      <dd>
        {editing ? (
          <ValueInput
            field={one.key}
            kind={one.kind}
            value={now}
            onChange={setNow}
            onKeep={keep}
            onLeave={() => setEditing(false)}
            autoFocus
          />
        ) : writes ? (
          <button
            type="button"
            title="Change"
            aria-label={`Change ${one.name}`}
            onClick={() => {
              setNow(written(one.value));
              setEditing(true);
            }}
            className="-mx-1 w-full rounded px-1 text-left break-words hover:bg-tint"
          >
            <Value value={one.value} kind={one.kind} />
          </button>
        ) : (
          <Value value={one.value} kind={one.kind} />
        )}
      </dd>
    </div>
  );
}

function Notes({
  text,
  notes,
  chosen,
  writes,
  onNoted,
}: {
  text: Text;
  notes: readonly Schema["NotePublic"][];
  chosen: Stretch | null;
  writes: boolean;
  onNoted: () => void;
}) {
  const [body, setBody] = useState("");
  const { make } = useNoteChanges();
  const keep = () => {
    if (!body.trim()) return;
    make.add({ body, text_id: text.id, start: chosen?.start ?? null, end: chosen?.end ?? null });
    setBody("");
    onNoted();
  };
  return (
    <section className="mb-5">
      <h2 className={HEAD}>Notes</h2>
      {!notes.length && !writes && <p className="text-ink2">None.</p>}
      {notes.map((note) => (
        <Note key={note.id} note={note} text={text} writes={writes} />
      ))}
      <WaitingRows of={make} onEdit={(given) => setBody(given.body ?? "")} />
      {writes && (
        <div>
          <Textarea
            aria-label="A new note"
            rows={body || chosen ? 3 : 1}
            value={body}
            placeholder={chosen ? "A note on the chosen words" : "A note on this text"}
            onChange={(event) => setBody(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) keep();
            }}
          />
          {body.trim() && (
            <Button look="main" onClick={keep}>
              Keep the note
            </Button>
          )}
        </div>
      )}
    </section>
  );
}

function Note({ note, text, writes }: { note: Schema["NotePublic"]; text: Text; writes: boolean }) {
  const project_id = useProjectId();
  const { tell } = useToast();
  const [editing, setEditing] = useState(false);
  const [long, setLong] = useState(false);
  const [body, setBody] = useState(note.body);
  const path = { params: { path: { project_id, note_id: note.id } } };
  const change = useChange(
    () =>
      data(
        api.PATCH("/api/v1/projects/{project_id}/notes/{note_id}", {
          ...path,
          body: { body, revision: note.revision },
        }),
      ),
    () => setEditing(false),
    "notes",
  );
  const drop = useChange(
    () =>
      data(
        api.DELETE("/api/v1/projects/{project_id}/notes/{note_id}", {
          params: { ...path.params, query: { revision: note.revision } },
        }),
      ),
    () => tell("Note deleted. Undo brings it back."),
    "notes",
  );
  const words =
    note.start !== null && note.end !== null ? [...text.body].slice(note.start, note.end).join("") : null;
  return (
    <div className="mb-2.5 rounded border border-line bg-sheet px-2.5 py-1.5" data-testid="note">
      {words && (
        <div className="mb-0.5 line-clamp-2 border-l-2 border-straw pl-1.5 font-serif text-[13px] text-ink2">
          {words}
        </div>
      )}
      {editing ? (
        <>
          <Textarea
            aria-label="The note"
            autoFocus
            rows={4}
            value={body}
            onChange={(event) => setBody(event.target.value)}
          />
          <div className="flex gap-1">
            <Button look="main" disabled={!body.trim()} onClick={() => change.mutate(undefined)}>
              Keep
            </Button>
            <Button onClick={() => setEditing(false)}>Leave</Button>
          </div>
        </>
      ) : (
        <div className={`whitespace-pre-line ${long ? "" : "line-clamp-6"}`}>{note.body}</div>
      )}
      <div className="mt-0.5 flex items-center gap-2 text-[11.5px] text-ink3">
        <span className="min-w-0 truncate">{note.author}</span>
        {note.body.length > 260 && !editing && (
          <button type="button" onClick={() => setLong(!long)} className="hover:text-ink">
            {long ? "less" : "more"}
          </button>
        )}
        {writes && !editing && (
          <span className="ml-auto flex gap-2">
            <button
              type="button"
              onClick={() => {
                setBody(note.body);
                setEditing(true);
              }}
              className="hover:text-ink"
            >
              change
            </button>
            <button type="button" onClick={() => drop.mutate(undefined)} className="hover:text-rust">
              delete
            </button>
          </span>
        )}
      </div>
    </div>
  );
}

function Edits({ edits }: { edits: readonly Schema["EditPublic"][] }) {
  return (
    <section>
      <h2 className={HEAD}>Corrections</h2>
      {edits.map((edit) => (
        <div key={edit.id} className="mb-2">
          <div className="text-ink2">
            {edit.what}, {date(edit.made_at.slice(0, 10))}, {edit.made_by}
          </div>
          <div className="line-clamp-3 font-serif text-[13px]">
            {edit.removed && <del className="text-rust">{edit.removed.trim()}</del>}{" "}
            {edit.added && <ins className="bg-straw text-onstraw no-underline">{edit.added.trim()}</ins>}
          </div>
        </div>
      ))}
    </section>
  );
}
