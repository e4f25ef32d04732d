import { useEffect, useRef, useState } from "react";
import { Link, useLocation } from "react-router";
import { useCodebook } from "../../data/coding";
import { KINDS, type Note, useNoteChanges, useNoteWriting } from "../../data/notes";
import { useProjectId } from "../../data/project";
import { date } from "../../lib/numbers";
import { along } from "../../lib/scope";
import { Button, Input, Select } from "../../parts/controls";
import { NoteEditor } from "./editor";

const KEPT_AFTER_MS = 900;
type Written = { title?: string; kind?: string; body?: string };

/** What was typed and is not stored yet stays in this browser until it is. */
const draftPlace = (id: number) => `winnower.note.${id}`;

/** One note to write on. */
export function NotePage({
  note,
  kinds,
  writes,
  onGone,
}: {
  note: Note;
  kinds: readonly string[];
  writes: boolean;
  onGone: () => void;
}) {
  const project = useProjectId();
  const { search } = useLocation();
  const { remove } = useNoteChanges();
  const change = useNoteWriting();
  const { codes } = useCodebook();
  const [draft, setDraft] = useState<Written>(() => kept(note.id));
  const waiting = useRef<ReturnType<typeof setTimeout>>(undefined);
  /** What the server refused: sent again only when it is another one, or asked for. */
  const refused = useRef<{ draft: Written; revision: number } | null>(null);
  /** A button takes the focus from a field: both would store. */
  const sending = useRef(false);
  const latest = useRef({ note, draft });
  latest.current = { note, draft };
  const store = () => {
    clearTimeout(waiting.current);
    const { note, draft } = latest.current;
    if (!Object.keys(draft).length || sending.current) return;
    sending.current = true;
    change.mutate(
      { note, ...draft },
      {
        onSettled: () => {
          sending.current = false;
        },
        onError: () => {
          refused.current = { draft, revision: note.revision };
        },
        onSuccess: (stored) => {
          // what was typed meanwhile stays, and is stored next
          setDraft((now) => {
            const next = Object.fromEntries(
              Object.entries(now).filter(([name, value]) => value !== draft[name as keyof Written]),
            ) as Written;
            remember(stored.id, next);
            return next;
          });
        },
      },
    );
  };
  const write = (part: Written) => {
    setDraft((now) => {
      const next = { ...now, ...part };
      remember(note.id, next);
      return next;
    });
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: stored a moment after the last letter
  useEffect(() => {
    const known = refused.current;
    if (!Object.keys(draft).length || (known?.draft === draft && known.revision === note.revision)) return;
    waiting.current = setTimeout(store, KEPT_AFTER_MS);
    return () => clearTimeout(waiting.current);
  }, [draft, change.isPending, note.revision]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is typed is stored when the note is left
  useEffect(() => {
    return () => {
      store();
    };
  }, []);
  const body = draft.body ?? note.body;
  const all = [...new Set([...KINDS, ...kinds])].filter(Boolean);
  const hangs = note.text_id !== null || note.finding_id !== null || note.question_id !== null;
  const carried = search ? search : "";
  return (
    <article className="mx-auto max-w-[720px] px-8 py-6" aria-label={`Note ${note.title}`}>
      <input
        aria-label="Title"
        value={draft.title ?? note.title}
        placeholder="Untitled"
        maxLength={200}
        disabled={!writes}
        onChange={(event) => write({ title: event.target.value })}
        onBlur={store}
        className="w-full border-b border-transparent bg-transparent text-[21px] font-[650] placeholder:text-ink3 focus:border-line2"
      />
      <div className="mt-1.5 mb-3 flex flex-wrap items-center gap-x-3 gap-y-1 text-ink2">
        <label className="flex items-center gap-1.5">
          Type
          <Input
            list="note-kinds"
            aria-label="Type"
            value={draft.kind ?? note.kind}
            placeholder="none"
            maxLength={40}
            disabled={!writes}
            onChange={(event) => write({ kind: event.target.value })}
            onBlur={store}
            className="w-[110px]!"
          />
        </label>
        <datalist id="note-kinds">
          {all.map((one) => (
            <option key={one} value={one} />
          ))}
        </datalist>
        {note.text_id !== null && (
          <span className="min-w-0 truncate">
            on{" "}
            <Link
              to={`/projects/${project}/coding/read/${note.text_id}${carried}`}
              className="text-bottle hover:underline"
            >
              {note.text_title}
            </Link>
          </span>
        )}
        {(note.finding_title ?? note.question_words) !== null && (
          <span className="min-w-0 truncate">
            on the {note.finding_title !== null ? "finding" : "question"}{" "}
            <Link
              to={`/projects/${project}/notebook/findings${along(search, note.finding_id ? { finding: note.finding_id } : {})}`}
              className="text-bottle hover:underline"
            >
              {note.finding_title ?? note.question_words}
            </Link>
          </span>
        )}
        <label className="flex items-center gap-1.5">
          {hangs ? "under" : "on"}
          <Select
            aria-label="Code it hangs on"
            value={String(note.code_id ?? 0)}
            choices={[
              { value: "0", label: hangs ? "no code" : "the project" },
              ...codes.map((one) => ({
                value: String(one.id),
                label: `${"\u2007".repeat(one.depth * 2)}${one.name}`,
              })),
            ]}
            onChange={(code) => change.mutate({ note, ...draft, code_id: Number(code) })}
            className="w-auto! max-w-[180px]"
          />
        </label>
        <span className="ml-auto">
          {note.author}, {date(note.made_at)}
        </span>
      </div>
      {note.words && (
        <p className="mb-3 border-l-[3px] border-straw pl-2.5 font-serif text-[15.5px] leading-[1.5]">
          {note.words}
        </p>
      )}
      <NoteEditor note={note} body={body} writes={writes} onWrite={(written) => write({ body: written })} />
      <div className="mt-5 flex items-center gap-3 text-ink2">
        <span role="status">
          {(change.isError || change.failureCount > 0) && Object.keys(draft).length
            ? "Not stored yet; it is kept in this browser."
            : Object.keys(draft).length
              ? "Being stored"
              : "Stored"}
        </span>
        {change.isError && Object.keys(draft).length > 0 && <Button onClick={store}>Store it now</Button>}
        {writes && (
          <Button
            look="ghost"
            className="ml-auto"
            onClick={() => {
              remember(note.id, {});
              latest.current = { note, draft: {} };
              setDraft({});
              remove.mutate(note);
              onGone();
            }}
          >
            Delete the note
          </Button>
        )}
      </div>
    </article>
  );
}

function kept(id: number): Written {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(draftPlace(id)) ?? "{}");
    return typeof found === "object" && found !== null ? (found as Written) : {};
  } catch {
    return {};
  }
}

function remember(id: number, draft: Written) {
  if (Object.keys(draft).length) localStorage.setItem(draftPlace(id), JSON.stringify(draft));
  else localStorage.removeItem(draftPlace(id));
}
