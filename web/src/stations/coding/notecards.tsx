import { type FocusEvent, useState } from "react";
import { Link, useLocation } from "react-router";
import { type Note, noteTitle, type Paraphrase, useParaphraseChanges } from "../../data/notes";
import { useProjectId } from "../../data/project";
import { initials } from "../../lib/names";
import { useDraft } from "../../lib/usedraft";

/** A note beside its words; it opens in the Notebook. */
export function NoteCard({ note, short }: { note: Note; short: boolean }) {
  const project = useProjectId();
  const { search } = useLocation();
  const to = new URLSearchParams(search);
  to.set("note", String(note.id));
  return (
    <Link
      to={`/projects/${project}/notebook/notes?${to}`}
      title="Open it in the Notebook"
      className="block border-l-[3px] border-ink3 px-2 py-1 hover:bg-wash"
    >
      <span className="flex justify-between gap-2 text-ink2">
        <b className="truncate text-ink">
          {note.kind || "Note"}
          {short ? `: ${note.title || noteTitle(note)}` : note.code_name ? ` on ${note.code_name}` : ""}
        </b>
        <span className="shrink-0 text-[11px]">{note.mine ? "you" : initials(note.author)}</span>
      </span>
      {!short && <span className="line-clamp-2">{note.title || noteTitle(note)}</span>}
    </Link>
  );
}

/** The caret behind what is there already. */
export function toEnd({ currentTarget }: FocusEvent<HTMLTextAreaElement>) {
  currentTarget.setSelectionRange(currentTarget.value.length, currentTarget.value.length);
}

/** Other words for a stretch; a click changes them. */
export function ParaphraseCard({ one, writes, short }: { one: Paraphrase; writes: boolean; short: boolean }) {
  const { change, remove } = useParaphraseChanges();
  const [open, setOpen] = useState(false);
  const draft = useDraft({
    of: `paraphrase ${one.id}`,
    stored: one.body,
    revision: one.revision,
    save: (body, revision) => change.mutateAsync({ paraphrase: { ...one, revision }, body }),
    empty: false,
  });
  return (
    <div className="border-l-[3px] border-dotted border-ink3 px-2 py-1">
      <div className="flex justify-between gap-2 text-ink2">
        {short ? (
          <span className="truncate text-ink italic">{one.body}</span>
        ) : (
          <b className="text-ink">Paraphrase</b>
        )}
        <span className="shrink-0 text-[11px]">
          {writes && (
            <button
              type="button"
              aria-label={`Delete the paraphrase ${one.body.slice(0, 40)}`}
              onClick={() => remove.mutate(one)}
              className="mr-1.5 hover:text-rust"
            >
              ×
            </button>
          )}
          {one.mine ? "you" : initials(one.author)}
        </span>
      </div>
      {short ? null : !open && !draft.typing ? (
        <button
          type="button"
          disabled={!writes}
          onClick={() => setOpen(true)}
          className="line-clamp-2 w-full text-left"
        >
          {one.body}
        </button>
      ) : (
        <textarea
          // biome-ignore lint/a11y/noAutofocus: it opened because somebody asked for it
          autoFocus
          aria-label="Paraphrase"
          rows={2}
          maxLength={5000}
          {...draft.field}
          onFocus={toEnd}
          onBlur={() => {
            draft.keep();
            setOpen(false);
          }}
          onKeyDown={(event) => {
            event.stopPropagation();
            draft.field.onKeyDown(event);
            if (event.key === "Escape") setOpen(false);
            if (event.key === "Enter" && !event.shiftKey) {
              event.preventDefault();
              draft.keep();
              setOpen(false);
            }
          }}
          className="w-full rounded border border-line2 bg-sheet px-1"
        />
      )}
    </div>
  );
}
